"""Every fix, and what those that were taken make of facts, units and leads."""

from __future__ import annotations

from collections import Counter
from collections.abc import Iterator, Mapping, Sequence
from dataclasses import replace

from electrics.design.accessories import Accessory
from electrics.design.additions import Addition
from electrics.design.inserts import Insert
from electrics.design.units import Lead
from electrics.document.decisions import CureDecision
from electrics.document.job import JobFacts
from electrics.document.vehicle import VehicleFacts
from electrics.errors import FactError
from electrics.job.cures.base import Fix, Proposal, Refusal, Situation
from electrics.job.cures.bulbs import OtherBulb, SeparateBulb
from electrics.job.cures.loads import (
    Coding,
    DecoderFix,
    FlasherChange,
    LoadResistor,
    SeriesResistor,
    StopResistor,
    TailResistor,
)
from electrics.job.cures.roads import (
    BetterGround,
    BlockingDiode,
    GhostResistor,
    JointAgain,
    PilotDiodes,
    PlugTurned,
    ThickerWire,
)
from electrics.job.cures.ways import DiodeOrFix, OtherWay, PulseModuleFix, RelayWay

__all__ = [
    "CURABLE",
    "CURES",
    "additions",
    "as_cured",
    "brought",
    "cure_of",
    "inserts_at",
    "proposals",
    "proven_by",
    "refusals",
    "with_cured_units",
]

CURES: Sequence[Fix] = (
    FlasherChange(),
    Coding(),
    PlugTurned(),
    PilotDiodes(),
    LoadResistor(),
    StopResistor(),
    TailResistor(),
    DecoderFix(),
    BlockingDiode(),
    DiodeOrFix(),
    GhostResistor(),
    PulseModuleFix(),
    RelayWay(),
    OtherWay(),
    BetterGround(),
    ThickerWire(),
    JointAgain(),
    SeparateBulb(),
    OtherBulb(),
    SeriesResistor(),
)
"""Every fix, in the order that they are offered."""
_BY_ID = {cure.id: cure for cure in CURES}


CURABLE: Mapping[str, int] = {
    rule: min(cure.ends[rule] for cure in CURES if rule in cure.ends)
    for rule in dict.fromkeys(rule for cure in CURES for rule in cure.ends)
}
"""What some fix ends, by rule, and the fewest parts that it takes [-]."""


def proposals(situation: Situation) -> tuple[Proposal, ...]:
    """What may be tried here and what is refused, in order: judged as it will be once it is used."""
    return tuple(_judged(each, situation) for cure in CURES for each in cure.proposals(situation))


def _judged(proposal: Proposal, situation: Situation) -> Proposal:
    if proposal.decision is None:
        return proposal
    refusal = next(refusals(proposal.decision, situation), None)
    return proposal if refusal is None else replace(proposal, decision=None, refusal=refusal.id)


def refusals(decision: CureDecision, situation: Situation) -> Iterator[Refusal]:
    """What forbids a fix, proposed or used."""
    return cure_of(decision.cure).held_against(decision, situation)


def cure_of(id: str) -> Fix:
    """A fix by its id; FactError for none of ours."""
    if id not in _BY_ID:
        raise FactError("cure", f"there is no cure “{id[:20]}”. Known: {', '.join(_BY_ID)}.")
    return _BY_ID[id]


def as_cured(facts: JobFacts) -> JobFacts:
    """The facts that a plan is made from, with every fix that is used."""
    for decision in facts.hookup.cures:
        facts = cure_of(decision.cure).applied(facts, decision)
    return facts


def with_cured_units(accessory: Accessory, facts: JobFacts) -> Accessory:
    """What is added, its units as they are with every fix that is used."""
    cures = facts.hookup.cures
    if not cures:
        return accessory
    units = accessory.units
    for decision in cures:
        cure = cure_of(decision.cure)
        units = tuple(cure.changed(unit, decision, facts) for unit in units)
    return accessory.of_units(units)


def inserts_at(lead: str, cures: Sequence[CureDecision]) -> tuple[Insert, ...]:
    """What fixes fit at a lead, from its feed to its lamps."""
    return tuple(
        insert for decision in cures if lead in decision.leads for insert in cure_of(decision.cure).inserts(decision)
    )


def additions(cures: Sequence[CureDecision], vehicle: VehicleFacts) -> tuple[Addition, ...]:
    """What fixes fit at the vehicle itself, apart from leads."""
    return tuple(addition for decision in cures for addition in cure_of(decision.cure).additions(decision, vehicle))


def proven_by(cures: Sequence[CureDecision]) -> tuple[str, ...]:
    """Lines of the test sheet that fixes add."""
    return tuple(dict.fromkeys(line for decision in cures for line in cure_of(decision.cure).proves))


def brought(cures: Sequence[CureDecision], leads: Sequence[Lead]) -> Mapping[str, int]:
    """Parts that fixes are fitted with besides those at leads."""
    found: Counter[str] = Counter()
    for decision in cures:
        found.update(cure_of(decision.cure).parts(decision, leads))
    return found
