"""The registry of rules: every room's, with what of a hook-up each of them looks at."""

from __future__ import annotations

from collections.abc import Callable, Iterable, Iterator, Sequence
from typing import Any, NamedTuple

from electrics.design.rules import (
    CIRCUIT_RULES,
    LEAD_RULES,
    SWITCH_RULES,
    CircuitCase,
    LeadCase,
    SwitchCase,
)
from electrics.document.circuits import FedBy
from electrics.document.vehicle import VehicleFacts
from electrics.identify.rules import PLACE_RULES, PlaceCase
from electrics.job.beliefs import against_readings
from electrics.job.hookup_plan import HookUpPlan
from electrics.job.plan_rules import FIX_RULES, WAY_RULES, HookUpCase
from electrics.judge.finding import Finding, Severity
from electrics.judge.rule import Rule, look_at
from electrics.lighting.rules import VEHICLE_RULES

__all__ = ["GATHERED", "RULES", "HookUpCase", "judge", "missing"]


def missing(plan: HookUpPlan) -> tuple[Finding, ...]:
    """The decisions still open."""
    found = [Finding("tap", Severity.DOUBT, lead.lead.id) for lead in plan.leads if lead.chosen is None]
    found += [Finding("host", Severity.DOUBT, function=each.function) for each in plan.circuits if each.load is None]
    open_feeds = (each.function for each in plan.circuits if each.notes.fed_by is FedBy.UNKNOWN)
    found += [Finding("fed_by", Severity.DOUBT, function=function) for function in open_feeds]
    return tuple(found)


class Gathered(NamedTuple):
    """A room's rules, and what of a hook-up they look at, one after the other."""

    rules: Sequence[Rule[Any]]
    cases: Callable[[HookUpCase], Iterable[Any]]


def _places(case: HookUpCase) -> Iterator[PlaceCase]:
    odd = against_readings(case.facts.places, case.facts.vehicle)
    for place, belief in zip(case.facts.places, case.beliefs, strict=True):
        yield PlaceCase(place, belief, tuple(each for each in odd if each.place == place.point.name))


def _vehicle(case: HookUpCase) -> Iterator[VehicleFacts]:
    yield case.facts.vehicle


def _whole(case: HookUpCase) -> Iterator[HookUpCase]:
    yield case


def _circuits(case: HookUpCase) -> Iterator[CircuitCase]:
    for each in case.plan.circuits:
        yield CircuitCase(each, case.facts.hookup.circuit_of(each.function), case.facts.vehicle.system_v)


def _switch(case: HookUpCase) -> Iterator[SwitchCase]:
    carried = (lead for lead in case.plan.leads if lead.chosen is not None and lead.chosen.is_switched)
    yield SwitchCase(tuple((lead.lead.id, lead.amps_a) for lead in carried), case.facts.vehicle.system_v)


def _leads(case: HookUpCase) -> Iterator[LeadCase]:
    for lead in case.plan.leads:
        yield LeadCase(lead.lead.id, lead.sized)


GATHERED: Sequence[Gathered] = (
    Gathered(PLACE_RULES, _places),
    Gathered(VEHICLE_RULES, _vehicle),
    Gathered(WAY_RULES, _whole),
    Gathered(CIRCUIT_RULES, _circuits),
    Gathered(SWITCH_RULES, _switch),
    Gathered(LEAD_RULES, _leads),
    Gathered(FIX_RULES, _whole),
)
"""Every rule of a hook-up, in the order that its findings are told."""
RULES = tuple(rule for each in GATHERED for rule in each.rules)


def judge(case: HookUpCase) -> tuple[Finding, ...]:
    """What all rules find in a hook-up."""
    found = list[Finding]()
    for rules, cases in GATHERED:
        looked_at = list(cases(case))
        for rule in rules:
            for each in looked_at:
                found += look_at(each, [rule], case.reason)
    return tuple(found)
