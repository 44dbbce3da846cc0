"""The hook-up job as a file: the circuits a vehicle has, and what is to be added (docs/formats/hookup-job.md)."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Any

from electrics.design.accessories import TABLE_V, accessories, check_wishes, on_system, own_lead
from electrics.design.load import check_load_a
from electrics.design.sources import Source, own_sources
from electrics.design.states import states_for
from electrics.design.units import Lead
from electrics.document.vehicle import Computer, VehicleFacts
from electrics.errors import FactError
from electrics.formats.json_file import FileError, parse_json, read_document
from electrics.job.file.reading import read_job_file
from electrics.job.plan import Plan, plan
from electrics.job.trials import judge_ways, try_way
from electrics.job.ways import Way, said_wire, source_of, ways_from
from electrics.reference.functions import Tap, kind_of
from electrics.signals import GROUND_SWITCHED, Scenario, variants
from electrics.vocabulary import Arrangement, BrakeWithHazard, Function, Polarity, State
from electrics.ways.ranking import Judged
from electrics.ways.search import Candidate, scenarios_of
from electrics.ways.trial import WayTrial
from electrics.ways.vehicles import KnownVehicle

__all__ = ["HookUpJob", "of_plan", "read_job"]


@dataclass(frozen=True)
class HookUpJob:
    """What is there and what is wanted.

    Attributes
    ----------
    functions : mapping of str to (Function, str)
        Of every source that may be tapped, by its name: what it does, in which variant.
    lamps : mapping of str to int
        Lamps on each lead [-].
    ways : mapping of str to tuple of Way
        By lead, best first by logic.
    bench : KnownVehicle
        The vehicle that ways are tried on.
    """

    functions: dict[str, tuple[Function, str]]
    sources: tuple[Source, ...]
    leads: tuple[Lead, ...]
    lamps: dict[str, int]
    states: tuple[State, ...]
    ways: dict[str, tuple[Way, ...]]
    bench: KnownVehicle

    @property
    def scenarios(self) -> tuple[Scenario, ...]:
        """The variants that the vehicle may be of."""
        return self.bench.scenarios

    def candidates(self, lead: Lead) -> tuple[Candidate, ...]:
        """Every way to feed a lead, best first by logic."""
        return tuple(way.candidate for way in self.ways[lead.id])

    def judged(self, lead: Lead, *, at_least: int = 0) -> tuple[Judged, ...]:
        """Every way to feed a lead, best first on the vehicle's circuit."""
        found = judge_ways(self.bench, lead, self.lamps[lead.id], lead.each_a, self.ways[lead.id], at_least=at_least)
        return tuple(judged for _, judged in found)

    def trial(self, lead: Lead, candidate: Candidate) -> WayTrial | None:
        """A way on the vehicle's circuit; None where a circuit it taps is not modelled."""
        way = next(way for way in self.ways[lead.id] if way.key == candidate.key)
        return try_way(self.bench, lead, self.lamps[lead.id], lead.each_a, way)


def of_plan(found: Plan) -> HookUpJob:
    """The ways of a planned job as the same: each lead of each unit, from the wires of its places."""
    hookup = found.hookup
    leads = tuple(lead.lead for lead in hookup.leads)
    lamps = {lead.lead.id: lead.lamps for lead in hookup.leads}
    ways = {lead.lead.id: lead.ways for lead in hookup.leads}
    return HookUpJob({}, (), leads, lamps, hookup.states, ways, hookup.bench)


def read_job(text: str) -> HookUpJob:
    """Read a hook-up job, or a job file.

    Parameters
    ----------
    text : str
        JSON, `hailstone-hookup` or `hailstone-job`.

    Returns
    -------
    HookUpJob

    Raises
    ------
    FileError
        No JSON, not in the form of the schema, an unknown function or accessory, a wish that cannot be read or is
        never true, too much current; every fault with its place.
    """
    given = parse_json(text)
    if isinstance(given, dict) and given.get("format") == "hailstone-job":
        return of_plan(plan(read_job_file(text)))
    document = read_document(text, "hookup-job")
    arrangement = Arrangement(document.get("arrangement", Arrangement.SEPARATE))
    who = BrakeWithHazard(document["brake_with_hazard"]) if document.get("brake_with_hazard") else None
    has_computer = document.get("computer", False)
    faults: list[str] = []
    leads, lamps = _wanted(document, faults)
    functions: dict[str, tuple[Function, str]] = {}
    for n, entry in enumerate(document["sources"], start=1):
        try:
            name, function, variant = _source(entry)
            if name in functions:
                raise FactError("sources", "stands twice. Give each source a name of its own.")
            functions[name] = function, variant
        except FactError as error:
            faults.append(f"sources {n} (“{entry['name']}”): {error}")
    if faults:
        raise FileError(faults)
    entries = {entry["name"].strip(): entry for entry in document["sources"]}
    states = states_for(lead.wanted for lead in leads)
    scenarios = scenarios_of(arrangement, who, functions.values())
    places = {
        name: said_wire(name, function, variant, is_at_fuse=entries[name].get("at_fuse", False))
        for name, (function, variant) in functions.items()
    }
    sources = [
        source_of(
            place,
            scenarios,
            states,
            is_computer_fed=entries[name].get("computer_fed", False),
        )
        for name, place in places.items()
        if kind_of(place.wire.function).tap is not Tap.NEVER
    ]
    if not sources:
        raise FileError(["sources: nothing here may be tapped, there are but grounds, spares and data lines."])
    sources += own_sources((lead.wanted for lead in leads), len(scenarios), states)
    ways = ways_from(sources, places, leads, scenarios, states)
    computer = Computer.YES if has_computer else Computer.NO
    vehicle = VehicleFacts(int(document.get("system_v", 12)), computer)
    bench = KnownVehicle(frozenset(functions.values()), scenarios, vehicle)
    return HookUpJob(functions, tuple(sources), leads, lamps, states, ways, bench)


def _wanted(document: dict[str, Any], faults: list[str]) -> tuple[tuple[Lead, ...], dict[str, int]]:
    """The leads and how many lamps each has; what is wrong with them is added to the faults, with its place."""
    if "accessory" in document:
        kind = document["accessory"]
        if kind not in accessories().rows:
            faults.append(f"accessory: there is no accessory “{kind}”. Known: {', '.join(accessories().rows)}.")
            return (), {}
        leads = on_system(accessories()[kind], int(document.get("system_v", TABLE_V))).leads
        if len(leads) == 1:
            return leads, {leads[0].id: accessories()[kind].count}
        return leads, {lead.id: lead.lamps for lead in leads}
    lamps: dict[str, int] = {}
    found: list[Lead] = []
    for n, entry in enumerate(document["leads"], start=1):
        try:
            lead = _lead(entry)
            if lead.id in lamps:
                raise FactError("leads", "stands twice. Give each lead a name of its own.")
            check_load_a(entry.get("count", 1), lead.each_a)
            check_wishes([lead])
        except FactError as error:
            faults.append(f"leads {n} (“{entry['lead']}”): {error}")
            continue
        found.append(lead)
        lamps[lead.id] = entry.get("count", 1)
    return tuple(found), lamps


def _lead(entry: dict[str, Any]) -> Lead:
    return own_lead(
        entry["lead"],
        entry["wanted"],
        entry.get("polarity", "positive"),
        entry.get("technology", "led"),
        entry["each_a"],
    )


def _source(entry: dict[str, Any]) -> tuple[str, Function, str]:
    try:
        function = Function(entry["function"])
    except ValueError:
        raise FactError("sources", f"“{entry['function']}” is no function of a wire.") from None
    variant = entry.get("variant", "") or (
        GROUND_SWITCHED if entry.get("polarity") == Polarity.GROUND else variants(function)[0][0]
    )
    if variant not in {known for known, _ in variants(function)}:
        known = ", ".join(known for known, _ in variants(function))
        raise FactError("sources", f"{function} has no variant “{variant}”. It has: {known}.")
    return entry["name"].strip(), function, variant
