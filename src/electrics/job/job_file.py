"""The job file, `hailstone-job`: facts and decisions by names that a person would know (docs/formats/job.md)."""

from __future__ import annotations

from collections import Counter
from collections.abc import Callable, Mapping, Sequence
from dataclasses import replace
from difflib import get_close_matches
from typing import Any

from electrics.design.forms import FORMS
from electrics.design.groups import FIXED_SPOTS
from electrics.design.inputs import assume
from electrics.design.joints import Keeps
from electrics.design.routes import check_distance
from electrics.design.units import Unit
from electrics.document.circuits import CircuitNotes, FedBy
from electrics.document.decisions import CureDecision, RunDecision
from electrics.document.vehicle import PRONGS, Computer, FlasherKind, Idle, VehicleFacts
from electrics.document.way import UNUSED, WayKey
from electrics.errors import FactError, InputError
from electrics.formats.colour import parse_colour
from electrics.formats.json_file import FileError, read_document
from electrics.formats.limits import MOST_ROWS
from electrics.formats.reading_text import parse_reading
from electrics.identify.facts import AccessPoint, Claim, Evidence, Setup, Wire
from electrics.identify.kinds import Side, access_kinds
from electrics.job.cures.registry import cure_of
from electrics.job.facts import HookUpDecisions, JobFacts, PlaceFacts, Wish
from electrics.job.records import Records, records_of
from electrics.job.unit_entries import instead_twice, unit_of
from electrics.reference.bulbs import bulbs
from electrics.reference.conductor import WireStandard, conductor, conductors
from electrics.reference.functions import Tap, kind_of
from electrics.reference.habits import stated_of
from electrics.reference.zones import zones
from electrics.signals import GROUND_SWITCHED, variants
from electrics.vocabulary import (
    DEFAULT_SUPPLY_V,
    Arrangement,
    BrakeWithHazard,
    Control,
    Function,
    Instrument,
    Load,
    parse_state,
)

__all__ = ["read_job_file", "read_records"]


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


def read_records(text: str) -> Records:
    """What a job file says was done and seen; FileError as for the rest of it."""
    try:
        return records_of(read_document(text, "job"))
    except FactError as error:
        raise FileError([str(error)]) from error


class _Reader:
    def __init__(self, document: Mapping[str, Any]) -> None:
        self.document, self.faults = document, list[str]()

    def facts(self) -> JobFacts:
        document, vehicle = self.document, self.document["vehicle"]
        system_v = vehicle.get("system_v", 12)
        places = self._each("places", self._place)
        self._once("places", [place.key for place in places])
        stated = self._each("distances", self._distance)
        distances = dict(stated)
        self._agree("distances", [(" and ".join(sorted(pair)), f"{m:g} m") for pair, m in stated])
        rows = sum(len(place.point.evidence) for place in places)
        if rows > MOST_ROWS:
            self.faults.append(f"places: {rows} readings in all. Expected at most {MOST_ROWS}.")
        self.places = {place.key: place for place in places}
        units = self._each("units", lambda entry: unit_of(entry, self.places, system_v))
        self._once("units", [unit.name for unit in units])
        self.faults += instead_twice(units)
        self.units = {unit.name: unit for unit in units}
        self._reached(units, distances)
        for part, names in (("circuits", ("function",)), ("choices", ("unit", "lead")), ("runs", ("unit", "lead"))):
            said = [" ".join(str(entry.get(name, "")).strip() for name in names) for entry in document.get(part, ())]
            self._once(part, said)
        if not units and not self.faults:
            self.faults.append("units: there is nothing to plan. List what is fitted or changed.")
        if self.faults:
            raise FileError(self.faults)
        decided = HookUpDecisions(
            dict(self._each("choices", self._choice)),
            document.get("override", ""),
            Keeps(document.get("keeps", Keeps.FOR_GOOD)),
            self._run_of_all(),
            self._runs(system_v),
            dict(self._each("circuits", lambda entry: self._circuit(entry, system_v))),
            tuple(self._each("cures", self._cure)),
        )
        facts = JobFacts(
            self._vehicle(vehicle),
            tuple(places),
            Wish(""),
            hookup=decided,
            units=tuple(units),
            distances=distances,
            zones={entry["name"]: entry["zone"] for entry in document.get("places", ()) if "zone" in entry},
            complaint=document.get("complaint", ""),
        )
        if self.faults:
            raise FileError(self.faults)
        return facts

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

    def _vehicle(self, entry: Mapping[str, Any]) -> VehicleFacts:
        lacks = entry.get("not_fitted", ())
        for control in lacks:
            if control not in set(Control):
                self.faults.append(f"vehicle, not_fitted: “{control}” is no control. Known: {', '.join(Control)}.")
        who = entry.get("brake_with_hazard")
        found = VehicleFacts(
            entry.get("system_v", 12),
            Computer(entry.get("computer", Computer.UNKNOWN)),
            Arrangement(entry["arrangement"]) if "arrangement" in entry else None,
            frozenset(Control(control) for control in lacks if control in set(Control)),
            entry.get("body", "car"),
            BrakeWithHazard(who) if who else None,
            FlasherKind(entry["flasher"]["kind"]) if "kind" in entry.get("flasher", {}) else None,
            entry.get("pilot", ""),
            Idle(entry.get("idle", Idle.DARK)),
            self._habits(entry.get("habits", {})),
            _prongs(entry.get("flasher", {}).get("terminals", ())),
        )
        if found.contradicts_itself:
            self.faults.append(
                "vehicle: computer is “no”, but flasher says a computer flashes the turn lamps. Correct one."
            )
        return found

    def _habits(self, entry: Mapping[str, float]) -> tuple[tuple[str, float], ...]:
        try:
            return stated_of(entry)
        except FactError as error:
            self.faults.append(f"vehicle, habits: {error}")
            return ()

    # places

    def _place(self, entry: Mapping[str, Any]) -> PlaceFacts:
        name, kind = entry["name"].strip(), entry.get("kind", "connector")
        if kind not in access_kinds().rows:
            raise FactError("kind", f"there is no kind of place “{kind}”. Known: {', '.join(access_kinds().rows)}.")
        if entry.get("zone", "battery") not in zones().rows:
            raise FactError("zone", f"there is no zone “{entry['zone']}”. Known: {', '.join(zones().rows)}.")
        wires, said = [], []
        pins = [wire["pin"].strip() for wire in entry.get("wires", ())]
        twice = next((pin for pin in pins if pins.count(pin) > 1), None)
        if twice is not None:
            raise FactError("pin", f"pin {twice} stands twice.")
        for pin, wire in zip(pins, entry.get("wires", ()), strict=True):
            claims = (Claim(_function(wire["claim"]), who=wire.get("claim_from", "")),) if wire.get("claim") else ()
            wires.append(Wire(pin, parse_colour(wire.get("colour", "")).text, claims))
            if wire.get("function"):
                function = _function(wire["function"])
                said.append((pin, function, _variant(function, wire.get("variant", ""))))
        evidence = tuple(self._reading(reading, pins) for reading in entry.get("readings", ()))
        point = AccessPoint(name, tuple(wires), evidence, kind, Side(entry.get("side", "")), entry.get("all_wires"))
        return PlaceFacts(name, point, tuple(f"{name} / {pin}" for pin in pins), tuple(said))

    def _reading(self, entry: Mapping[str, Any], pins: Sequence[str]) -> Evidence:
        if entry["pin"].strip() not in pins:
            raise FactError("readings", f"there is no pin {entry['pin']} here. Pins: {', '.join(pins) or 'none'}.")
        instrument = Instrument(entry.get("instrument", Instrument.DMM))
        setup = Setup(parse_state(entry["state"]), instrument, Load(entry.get("load", Load.IN)))
        system_v = self.document["vehicle"].get("system_v", 12)
        supply = entry.get("supply", "")
        supply_v = parse_reading(supply, Instrument.DMM).low if supply else DEFAULT_SUPPLY_V.get(system_v, 12.6)
        reading = parse_reading(entry["reading"], instrument)
        return Evidence(entry["pin"].strip(), setup, reading, supply_v, entry.get("against", ""))

    def _distance(self, entry: Mapping[str, Any]) -> tuple[frozenset[str], float]:
        first, second = (name.strip() for name in entry["between"])
        check_distance(first, second, entry["m"])
        return frozenset((first, second)), float(entry["m"])

    def _reached(self, units: Sequence[Unit], distances: Mapping[frozenset[str], float]) -> None:
        """Every place that is named is somewhere: an access point, a unit, a fixed one, or a distance away."""
        zoned = {entry["name"].strip() for entry in self.document.get("places", ())}
        known = {*zoned, *FIXED_SPOTS, *(unit.name for unit in units)}
        said = set().union(*distances) if distances else set()
        for n, unit in enumerate(units, start=1):
            if unit.place and unit.place not in known | said:
                self.faults.append(
                    f"units {n} (“{unit.name}”), place: “{unit.place}” has no way to it. State how far it is from "
                    "another place under distances, or its zone under places."
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

    # decisions

    def _lead_id(self, entry: Mapping[str, Any]) -> str:
        unit = self.units.get(entry["unit"].strip())
        if unit is None:
            raise FactError("unit", f"there is no unit “{entry['unit']}”. Units: {', '.join(self.units) or 'none'}.")
        label = entry["lead"].strip()
        lead = next((lead for lead in unit.leads if lead.label == label), None)
        if lead is None:
            raise FactError(
                "lead", f"there is no lead “{label}” on it. Leads: {', '.join(lead.label for lead in unit.leads)}."
            )
        return str(lead.id)

    def _choice(self, entry: Mapping[str, Any]) -> tuple[str, str]:
        sources = []
        for each in entry["from"]:
            if "own" in each:
                sources.append(f"@{each['own']}")
                continue
            place = self.places.get(each.get("place", "").strip())
            if place is None:
                raise FactError("from", f"there is no place “{each.get('place', '')}” in this file.")
            pin = each.get("pin", "").strip()
            key = f"{place.key} / {pin}"
            if key not in place.wire_keys:
                raise FactError("from", f"there is no pin “{pin}” in {place.key}.")
            sources.append(key)
        key = str(WayKey(entry["way"], tuple(sources)))
        if key != UNUSED:
            self._check_way(entry["way"], entry["from"], sources)
        return self._lead_id(entry), key

    def _check_way(self, way: str, listed: Sequence[Mapping[str, str]], keys: Sequence[str]) -> None:
        """Refuse a hook-up that there is none of, one with too few sources, and a source that feeds nothing."""
        known = {form.id: len(form.takes) for form in FORMS}
        parts = [part for part in way.split("-") if not part.isdecimal()]
        if not all(part in known for part in parts):
            raise FactError("way", f"there is no hook-up “{way}”. Known: {', '.join(known)}, unused.")
        needs = sum(known[part] for part in parts) - (len(parts) - 1)
        if len(keys) != needs:
            raise FactError("from", f"“{way}” needs {needs} sources; the file lists {len(keys)}.")
        for each, key in zip(listed, keys, strict=True):
            place = self.places.get(each.get("place", "").strip())
            said = next((f for pin, f, _ in place.said if key.endswith(f" / {pin}")), None) if place else None
            if said is not None and kind_of(said).tap is Tap.NEVER:
                raise FactError(
                    "from", f"{each['place']} pin {each['pin']} is {said}: it feeds nothing. Use another."
                )

    def _cure(self, entry: Mapping[str, Any]) -> CureDecision:
        """A cure that was taken, with its values."""
        cure = cure_of(entry["cure"])
        leads = tuple(self._lead_id(each) for each in entry.get("leads", ())) if cure.at_leads else ()
        decision = CureDecision(
            cure.id,
            leads,
            float(entry.get("ohm", 0.0)),
            float(entry.get("case_w", 50 if cure.id.endswith("_resistor") and cure.id != "ghost_resistor" else 0)),
            entry.get("mount", "metal"),
            entry.get("part", ""),
            float(entry.get("microfarad", 0.0)),
            float(entry.get("series_ohm", 0.0)),
            float(entry.get("bleed_ohm", 0.0)),
        )
        cure.check(decision)
        return decision

    def _run_of_all(self) -> RunDecision:
        common = [entry for entry in self.document.get("runs", ()) if "unit" not in entry]
        try:
            return _run(common[0], RunDecision()) if common else RunDecision()
        except FactError as error:
            fault = f"runs: {error}"
            self.faults += [fault] if fault not in self.faults else []
            return RunDecision()

    def _runs(self, system_v: int) -> dict[str, RunDecision]:
        usual, found = self._run_of_all(), dict[str, RunDecision]()

        def one(entry: Mapping[str, Any]) -> None:
            if "unit" in entry:
                unit = self.units.get(entry["unit"].strip())
                ids = [self._lead_id(entry)] if "lead" in entry or unit is None else [lead.id for lead in unit.leads]
                for id in ids:
                    found[id] = _run(entry, usual)

        def number(entry: Mapping[str, Any]) -> None:
            id = self._lead_id(entry)
            run = found.get(id, replace(usual, out_m=None, back_m=None))
            overrides = {**run.overrides, entry["input"]: float(entry["value"])}
            assume(1.0, system_v, {entry["input"]: float(entry["value"])})
            found[id] = replace(run, overrides=overrides)

        self._each("runs", one)
        self._each("overrides", number)
        return found

    def _circuit(self, entry: Mapping[str, Any], system_v: int) -> tuple[str, CircuitNotes]:
        function = _function(entry["function"])
        bulb: Mapping[str, Any] = next(iter(entry.get("bulbs", ())), {})
        kinds = [each.name for each in bulbs() if each.system_v == system_v]
        if bulb and bulb["bulb"] not in kinds:
            raise FactError(
                "bulbs", f"there is no bulb “{bulb['bulb']}” for {system_v} V. Known: {', '.join(kinds)}."
            )
        wire = entry.get("wire", "20 AWG").removesuffix("AWG").strip()
        try:
            conductor(WireStandard.AWG, wire)
        except InputError:
            raise FactError(
                "wire", f"there is no wire “{entry['wire']}”. Expected an AWG size, like 18 AWG."
            ) from None
        return str(function), CircuitNotes(
            FedBy(entry.get("fed_by", FedBy.UNKNOWN)),
            bulb.get("bulb", ""),
            bulb.get("count"),
            entry.get("fuse_a"),
            wire,
            entry.get("measured_a"),
            entry.get("most_percent"),
        )


def _run(entry: Mapping[str, Any], usual: RunDecision) -> RunDecision:
    facts = {name: entry[name] for name in entry if name not in ("unit", "lead")}
    if "wire_standard" in facts:
        facts["wire_standard"] = WireStandard(facts["wire_standard"])
    if facts.get("wire_size"):
        standard = facts.get("wire_standard", usual.wire_standard)
        sold = [each.size for each in conductors(standard)]
        if facts["wire_size"] not in sold:
            raise FactError("wire_size", f"{facts['wire_size']} is not sold. Sizes: {', '.join(sold)}.")
    return replace(usual, **{"out_m": None, "back_m": None, "overrides": {}, **facts})


def _prongs(terminals: Sequence[str]) -> str:
    """How many prongs a flasher has, by the names of its terminals; empty for none named."""
    if {name.strip().upper() for name in terminals} & GROUND_NAMES:
        return "ground"
    return next((id for id, names in PRONGS.items() if len(names) == len(terminals)), "")


GROUND_NAMES = {"31", "E", "GND", "GROUND", "-"}


def _function(text: str) -> Function:
    try:
        return Function(text)
    except ValueError:
        raise FactError("function", f"“{text}” is no function of a wire. Known: {', '.join(Function)}.") from None


def _variant(function: Function, text: str) -> str:
    known = [variant for variant, _ in variants(function)]
    if text == "ground":
        text = GROUND_SWITCHED
    if text and text not in known:
        raise FactError("variant", f"{function} has no variant “{text}”. It has: {', '.join(known)}.")
    return text
