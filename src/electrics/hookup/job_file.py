"""The hook-up job as a file: the circuits a vehicle has, and what is to be added (docs/formats/hookup-job.md)."""

from __future__ import annotations

import json
from dataclasses import dataclass
from typing import Any

from electrics.errors import FactError
from electrics.hookup.accessories import Lead, accessories, check_wishes, own_lead
from electrics.hookup.judge import Judged, judge
from electrics.hookup.search import Candidate, scenarios_of, search, source_levels
from electrics.hookup.sources import Source, own_sources
from electrics.hookup.states import states_for
from electrics.hookup.trial import Trial, node_of, places_of, try_out, vehicles_with
from electrics.reference.functions import Tap, kind_of
from electrics.signals import GROUND_SWITCHED, Scenario, polarity_of, variants
from electrics.vocabulary import Arrangement, BrakeWithHazard, Function, Polarity, State

__all__ = ["HookUpJob", "read_job"]

FORMAT, VERSION = "hailstone-hookup", 1


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
    FactError
        No JSON, another format, an unknown function, accessory or value; the message says which.
    """
    try:
        document = json.loads(text)
    except json.JSONDecodeError as error:
        raise FactError("", f"This is no JSON: line {error.lineno}, {error.msg}.") from error
    if not isinstance(document, dict) or document.get("format") != FORMAT or document.get("version") != VERSION:
        raise FactError(
            "format", f"This is no hook-up job. Expected an object with format “{FORMAT}”, version {VERSION}."
        )
    arrangement = _one_of(document, "arrangement", Arrangement, Arrangement.SEPARATE)
    who = _one_of(document, "brake_with_hazard", BrakeWithHazard, None)
    has_computer = bool(document.get("computer", False))
    leads, lamps = _wanted(document)
    states = states_for(lead.wanted for lead in leads)
    entries: dict[str, dict[str, Any]] = {}
    functions: dict[str, tuple[Function, str]] = {}
    for entry in _list(document, "sources"):
        name, function, variant = _source(entry)
        if name in functions:
            raise FactError("sources", f"Source {name} stands twice.")
        entries[name], functions[name] = entry, (function, variant)
    scenarios = scenarios_of(arrangement, who, functions.values())
    sources = [
        Source(
            name,
            source_levels(function, variant, scenarios, states),
            polarity_of(variant),
            is_at_fuse=bool(entries[name].get("at_fuse", False)),
            is_computer_fed=bool(entries[name].get("computer_fed", False)),
            has_flasher=not has_computer,
            function=function,
            variant=variant,
        )
        for name, (function, variant) in functions.items()
        if kind_of(function).tap is not Tap.NEVER
    ]
    if not sources:
        raise FactError("sources", "Nothing here may be tapped: no source but grounds, spares and data lines.")
    sources += own_sources((lead.wanted for lead in leads), len(scenarios), states)
    system_v = document.get("system_v", 12)
    if system_v not in (6, 12, 24):
        raise FactError("system_v", f"{system_v} V is no vehicle system. Expected 6, 12 or 24 V.")
    return HookUpJob(system_v, scenarios, has_computer, functions, tuple(sources), leads, lamps, states)


def _wanted(document: dict[str, Any]) -> tuple[tuple[Lead, ...], dict[str, int]]:
    if "accessory" in document:
        kind = document["accessory"]
        if kind not in accessories().rows:
            raise FactError("accessory", f"There is no accessory “{kind}”. Known: {', '.join(accessories().rows)}.")
        leads = accessories()[kind].leads
        if len(leads) == 1:
            return leads, {leads[0].id: accessories()[kind].count}
        return leads, {lead.id: lead.lamps for lead in leads}
    leads, lamps = (), {}
    for entry in _list(document, "leads"):
        lead = own_lead(
            str(entry.get("lead", "")),
            str(entry.get("wanted", "")),
            str(entry.get("polarity", "positive")),
            str(entry.get("technology", "led")),
            entry.get("each_a", 0.0),
        )
        leads = (*leads, lead)
        lamps[lead.id] = int(entry.get("count", 1))
    check_wishes(leads)
    return leads, lamps


def _source(entry: dict[str, Any]) -> tuple[str, Function, str]:
    name = str(entry.get("name", "")).strip()
    if not name or any(mark in name for mark in ",:@"):
        raise FactError("sources", f"“{name}” cannot be the name of a source. Expected words without comma, : or @.")
    try:
        function = Function(entry.get("function", ""))
    except ValueError:
        raise FactError("sources", f"{name}: “{entry.get('function')}” is no function of a wire.") from None
    variant = str(entry.get("variant", "")) or (
        GROUND_SWITCHED if entry.get("polarity") == Polarity.GROUND else variants(function)[0][0]
    )
    if variant not in {known for known, _ in variants(function)}:
        known = ", ".join(known for known, _ in variants(function))
        raise FactError("sources", f"{name}: {function} has no variant “{variant}”. It has: {known}.")
    return name, function, variant


def _list(document: dict[str, Any], key: str) -> list[dict[str, Any]]:
    found = document.get(key)
    if not isinstance(found, list) or not found or not all(isinstance(entry, dict) for entry in found):
        raise FactError(key, f"{key} is missing. Expected a list of objects.")
    return found


def _one_of(document: dict[str, Any], key: str, kinds: Any, default: Any) -> Any:
    if document.get(key) is None:
        return default
    try:
        return kinds(document[key])
    except ValueError:
        raise FactError(key, f"{key} is {document[key]}. Expected {' or '.join(kinds)}.") from None
