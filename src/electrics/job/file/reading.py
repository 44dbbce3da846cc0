"""Reads the job file: one pass over its parts, every fault with its place."""

from __future__ import annotations

from collections import Counter
from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass
from difflib import get_close_matches
from typing import Any

from electrics.design.groups import FIXED_SPOTS
from electrics.design.routes import check_distance
from electrics.design.units import Unit
from electrics.design.units_of_facts import twice_instead, unit_of
from electrics.document.decisions import HookUpDecisions, Keeps, RunDecision
from electrics.document.job import JobFacts, Wish
from electrics.document.papers import PAPERS, Papers
from electrics.document.places import PlaceFacts
from electrics.document.units import UnitFacts
from electrics.errors import FactError, InputError
from electrics.formats.json_file import FileError, read_document
from electrics.formats.limits import MOST_ROWS
from electrics.job.file.as_found import read_as_found
from electrics.job.file.circuits import read_circuit
from electrics.job.file.decisions import Runs, read_choice, read_cure, read_run
from electrics.job.file.labels import read_label
from electrics.job.file.names import Names
from electrics.job.file.places import read_place, zone_stated
from electrics.job.file.units import read_unit
from electrics.job.file.vehicle import read_vehicle
from electrics.job.records import Records, records_of

__all__ = ["JobFile", "read_job_file", "read_whole"]


@dataclass(frozen=True)
class JobFile:
    """A job file, read whole.

    Attributes
    ----------
    facts : JobFacts
    records : Records
        What was done and seen.
    papers : mapping
        What the core plans without; see `electrics.document.papers`.
    """

    facts: JobFacts
    records: Records
    papers: Papers


def read_job_file(text: str) -> JobFacts:
    """Read a job.

    Parameters
    ----------
    text : str
        JSON.

    Returns
    -------
    JobFacts

    Raises
    ------
    FileError
        No JSON, not in the form of the schema, a name that nothing in the file has, a unit without a ground, two
        units in place of one lamp, a place without a way to it, a wish that cannot be; every fault with its place.
    """
    return _Reader(read_document(text, "job")).facts()


def read_whole(text: str) -> JobFile:
    """Read everything in a job file; FileError as for `read_job_file`, and for a step or line that can't be."""
    document = read_document(text, "job")
    held = {"job": document, "vehicle": document["vehicle"]}
    papers = {
        part: {name: held[part][name] for name in names if name in held[part]} for part, names in PAPERS.items()
    }
    facts = _Reader(document).facts()
    try:
        return JobFile(facts, records_of(document), papers)
    except FactError as error:
        raise FileError([str(error)]) from error


class _Reader:
    def __init__(self, document: Mapping[str, Any]) -> None:
        self.document, self.faults = document, list[str]()

    def facts(self) -> JobFacts:
        document, system_v = self.document, self.document["vehicle"].get("system_v", 12)
        found = self._each("places", lambda entry: _place(entry, system_v))
        self._once("places", [entry["name"].strip() for entry in document.get("places", ())])
        places = [each for each in found if isinstance(each, PlaceFacts)]
        stated = self._each("distances", _distance)
        self._agree("distances", [(" and ".join(sorted(pair)), f"{m:g} m") for pair, m in stated])
        rows = sum(len(place.point.evidence) for place in places)
        if rows > MOST_ROWS:
            self.faults.append(f"places: {rows} readings in all. Expected at most {MOST_ROWS}.")
        by_name = {place.point.name: place for place in places}

        def unit(entry: Mapping[str, Any]) -> tuple[UnitFacts, Unit]:
            said = read_unit(entry)
            return said, unit_of(said, by_name, system_v)

        fitted = self._each("units", unit)
        said, units = [each for each, _ in fitted], [made for _, made in fitted]
        self._once("units", [unit.name for unit in units])
        self.faults += twice_instead(said)
        self._reached(units, dict(stated))
        for part, keys in (("circuits", ("function",)), ("choices", ("unit", "lead")), ("runs", ("unit", "lead"))):
            self._once(part, [" ".join(str(e.get(key, "")).strip() for key in keys) for e in document.get(part, ())])
        if not units and not self.faults:
            self.faults.append("units: there is nothing to plan. List what is fitted or changed.")
        self._stop_at_faults()
        decided = self._decisions(Names(units, places), system_v)
        vehicle, faults = read_vehicle(document["vehicle"])
        self.faults += faults
        self._stop_at_faults()
        return JobFacts(
            vehicle,
            tuple(places),
            Wish(""),
            hookup=decided,
            units=tuple(said),
            distances=dict(stated),
            zones=dict(each for each in found if not isinstance(each, PlaceFacts)),
            complaint=document.get("complaint", ""),
            as_found=read_as_found(document.get("before", {})),
        )

    def _decisions(self, names: Names, system_v: int) -> HookUpDecisions:
        ways = dict(self._each("choices", lambda entry: read_choice(entry, names)))
        runs = Runs(self._run_of_all(), names, system_v)
        self._each("runs", runs.read)
        self._each("overrides", runs.override)
        return HookUpDecisions(
            ways,
            self.document.get("override", ""),
            Keeps(self.document.get("keeps", Keeps.FOR_GOOD)),
            runs.of_all,
            runs.by_lead,
            dict(self._each("circuits", lambda entry: read_circuit(entry, system_v))),
            tuple(self._each("cures", lambda entry: read_cure(entry, names))),
            tuple(self._each("labels", read_label)),
        )

    def _run_of_all(self) -> RunDecision:
        common: Mapping[str, Any] = next(
            (entry for entry in self.document.get("runs", ()) if "unit" not in entry), {}
        )
        try:
            return read_run(common, RunDecision())
        except FactError as error:
            self.faults.append(f"runs: {error}")
            return RunDecision()

    def _stop_at_faults(self) -> None:
        if self.faults:
            raise FileError(self.faults)

    def _each(self, part: str, make: Callable[[Mapping[str, Any]], Any]) -> list[Any]:
        found = []
        for n, entry in enumerate(self.document.get(part, ()), start=1):
            try:
                found.append(make(entry))
            except (InputError, ValueError) as error:
                name = entry.get("name") or entry.get("unit") or entry.get("function") or ""
                where = f"{part} {n}" + (f" (“{name}”)" if name else "")
                self.faults += [f"{where}: {line}" for line in str(error).splitlines()]
        return found

    def _once(self, part: str, names: Sequence[str]) -> None:
        for name in dict.fromkeys(name for name in names if names.count(name) > 1):
            self.faults.append(f"{part}: “{name.strip() or 'all leads'}” is listed twice. Keep one.")

    def _agree(self, part: str, said: Sequence[tuple[str, str]]) -> None:
        """What is said twice of one thing is refused, the more so where it is said otherwise."""
        for name in dict.fromkeys(name for name, _ in said):
            values = [value for each, value in said if each == name]
            if len(values) > 1:
                self.faults.append(f"{part}: {name} is listed twice, {' and '.join(values)}. Keep one.")

    def _reached(self, units: Sequence[Unit], distances: Mapping[frozenset[str], float]) -> None:
        """Every place that is named is somewhere: an access point, a unit, a fixed one, or a distance away."""
        zoned = {entry["name"].strip() for entry in self.document.get("places", ())}
        known = {*zoned, *FIXED_SPOTS, *(unit.name for unit in units)}
        said = set().union(*distances) if distances else set()
        for n, unit in enumerate(units, start=1):
            if unit.place and unit.place not in known | said:
                self.faults.append(
                    f"units {n} (“{unit.name}”), place: nothing says where “{unit.place}” is. State how far it is "
                    "from another place under distances, or its zone under places."
                )
        spots = known | {unit.place for unit in units if unit.place}
        ways = Counter(name for pair in distances for name in pair)
        for pair in distances:
            for name in sorted(pair - spots):
                if ways[name] < 2:  # a place on the way to another has two distances at least
                    like = get_close_matches(name.lower(), {each.lower(): each for each in spots}, 1)
                    meant = next((each for each in sorted(spots) if like and each.lower() == like[0]), "")
                    hint = f" Did you mean “{meant}”?" if meant else f" Places: {', '.join(sorted(spots))}."
                    self.faults.append(f"distances: “{name}” is no place of this job, and leads nowhere.{hint}")


def _place(entry: Mapping[str, Any], system_v: int) -> PlaceFacts | tuple[str, str]:
    """An access point; or, where nothing is said but where it is, a name and its zone."""
    if entry.keys() == {"name", "zone"}:
        return entry["name"].strip(), zone_stated(entry)
    return read_place(entry, system_v)


def _distance(entry: Mapping[str, Any]) -> tuple[frozenset[str], float]:
    first, second = (name.strip() for name in entry["between"])
    check_distance(first, second, entry["m"])
    return frozenset((first, second)), float(entry["m"])
