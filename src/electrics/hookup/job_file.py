"""The hook-up job as a file: the circuits a vehicle has, and what is to be added (docs/formats/hookup-job.md)."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Any

from electrics.errors import FactError
from electrics.formats.json_file import FileError, read_document
from electrics.hookup.accessories import Lead, accessories, check_wishes, own_lead
from electrics.hookup.judge import Judged, judge
from electrics.hookup.load import check_load_a
from electrics.hookup.search import Candidate, scenarios_of, search, source_levels
from electrics.hookup.sources import Source, own_sources
from electrics.hookup.states import states_for
from electrics.hookup.trial import Trial, node_of, places_of, try_out, vehicles_with
from electrics.reference.functions import Tap, kind_of
from electrics.signals import GROUND_SWITCHED, Scenario, polarity_of, variants
from electrics.vocabulary import Arrangement, BrakeWithHazard, Function, Polarity, State

__all__ = ["HookUpJob", "read_job"]


@dataclass(frozen=True)
class HookUpJob:
    """What is there and what is wanted.

    Attributes
    ----------
    functions : mapping of str to (Function, str)
        Of every source that may be tapped, by its name: what it does, in which variant.
    lamps : mapping of str to int
        Lamps on each lead [-].
    """

    system_v: int
    scenarios: tuple[Scenario, ...]
    has_computer: bool
    functions: dict[str, tuple[Function, str]]
    sources: tuple[Source, ...]
    leads: tuple[Lead, ...]
    lamps: dict[str, int]
    states: tuple[State, ...]

    def candidates(self, lead: Lead) -> tuple[Candidate, ...]:
        """Every way to feed a lead, best first by logic."""
        return search(lead, self.sources, self.scenarios, self.states)

    def judged(self, lead: Lead, *, at_least: int = 0) -> tuple[Judged, ...]:
        """Every way to feed a lead, best first on the vehicle's circuit."""
        return judge(self.candidates(lead), lambda candidate: self.trial(lead, candidate), at_least=at_least)

    def trial(self, lead: Lead, candidate: Candidate) -> Trial | None:
        """A way on the vehicle's circuit; None where a circuit it taps is not modelled."""
        functions = frozenset(self.functions.values())
        factories = vehicles_with(functions, self.scenarios, system_v=self.system_v, has_computer=self.has_computer)
        places = places_of(lead)
        nodes = [
            source.key if source.is_own else node_of(factories[0], *self.functions[source.key], places)
            for source in candidate.sources
        ]
        if not all(nodes):
            return None
        return try_out(
            candidate.form, lead, nodes, factories, count=self.lamps[lead.id], states=candidate.trial_states
        )


def read_job(text: str) -> HookUpJob:
    """Read a hook-up job.

    Parameters
    ----------
    text : str
        JSON.

    Returns
    -------
    HookUpJob

    Raises
    ------
    FileError
        No JSON, not in the form of the schema, an unknown function or accessory, a wish that cannot be read or is
        never true, too much current; every fault with its place.
    """
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
    sources = [
        Source(
            name,
            source_levels(function, variant, scenarios, states),
            polarity_of(variant),
            is_at_fuse=entries[name].get("at_fuse", False),
            is_computer_fed=entries[name].get("computer_fed", False),
            has_flasher=not has_computer,
            function=function,
            variant=variant,
        )
        for name, (function, variant) in functions.items()
        if kind_of(function).tap is not Tap.NEVER
    ]
    if not sources:
        raise FileError(["sources: nothing here may be tapped, there are but grounds, spares and data lines."])
    sources += own_sources((lead.wanted for lead in leads), len(scenarios), states)
    system_v = int(document.get("system_v", 12))
    return HookUpJob(system_v, scenarios, has_computer, functions, tuple(sources), leads, lamps, states)


def _wanted(document: dict[str, Any], faults: list[str]) -> tuple[tuple[Lead, ...], dict[str, int]]:
    """The leads and how many lamps each has; what is wrong with them is added to the faults, with its place."""
    if "accessory" in document:
        kind = document["accessory"]
        if kind not in accessories().rows:
            faults.append(f"accessory: there is no accessory “{kind}”. Known: {', '.join(accessories().rows)}.")
            return (), {}
        leads = accessories()[kind].leads
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
