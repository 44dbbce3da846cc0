"""What a job's design upsets at all running voltages, and each cure put into it and tried again."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass, replace
from math import inf

from electrics.circuit.elements import ComputerOutput, Flasher, Fuse
from electrics.circuit.findings import Finding
from electrics.circuit.simulate import Simulation
from electrics.correct.cures import CureLead, Proposal, Side, Situation, proposals
from electrics.correct.effects import Effect, effects_from
from electrics.correct.resistor import HIGHEST_V, LOWEST_V, RATED_V, STRING_V
from electrics.hookup.design import Design
from electrics.hookup.trial import Together
from electrics.job.facts import Computer, CureDecision, JobFacts
from electrics.job.plan import Plan, plan
from electrics.job.ways import try_design
from electrics.reference.fuses import CONTINUOUS_SHARE
from electrics.vocabulary import parse_state

__all__ = ["Correction", "Tried", "correct", "decision_of", "effects_of", "try_proposal"]

FLASHING = ("turn", "stop_turn")
LOSSES = ("feed_drop", "ground_drop")
"""What is judged at running voltage alone: its limits are those of a measurement there."""
MARGIN_A = 0.42
"""What a resistor makes up beyond the assumed threshold: monitors wait for 40 to 70 % of a lamp, so a fifth of a main
bulb on 12 V [A] (common practice)."""


@dataclass(frozen=True)
class Tried:
    """A proposal put into the design.

    Attributes
    ----------
    left, new : tuple of Effect
        What is upset still, and what was not before.
    """

    proposal: Proposal
    left: tuple[Effect, ...]
    new: tuple[Effect, ...]
    cured: tuple[Effect, ...]

    @property
    def is_clean(self) -> bool:
        return not self.left and not self.new

    @property
    def verdict(self) -> str:
        """`cures`, `costs` (cured, and something else is a little worse), `half`, `not` or `worse`."""
        if any(effect.finding.severity == "error" for effect in self.new):
            return "worse"
        if not self.left:
            return "costs" if self.new else "cures"
        return "half" if self.cured else "not"


@dataclass(frozen=True)
class Correction:
    """What the change upsets without any cure, what is upset now, and what may be done.

    Attributes
    ----------
    before, now : tuple of Effect
        Without a cure, and with those that were taken.
    open : tuple of Proposal
        What may be tried or is refused.
    taken : tuple of CureDecision
    sides : tuple of Side
        What watches, what it waits for and what flows, without a cure.
    """

    before: tuple[Effect, ...]
    now: tuple[Effect, ...]
    open: tuple[Proposal, ...]
    taken: tuple[CureDecision, ...]
    sides: tuple[Side, ...] = ()


def correct(found: Plan) -> Correction:
    """Effects of a plan and proposals for them.

    Parameters
    ----------
    found : Plan
        With its cures, if any were taken.

    Returns
    -------
    Correction
    """
    taken = found.facts.hookup.cures
    bare = plan(without_cures(found.facts)) if taken else found
    before = effects_of(bare)
    now = effects_of(found) if taken else before
    situation = situation_of(bare, before)
    return Correction(before, now, proposals(situation), taken, situation.sides)


def effects_of(found: Plan) -> tuple[Effect, ...]:
    """What a plan upsets at the lowest, the running and the highest voltage; nothing while there is no design."""
    running_v = RATED_V * found.facts.vehicle.system_v / 12
    return effects_from(
        (volts, each.simulation, [upset for upset in each.upsets if volts == running_v or _counts(upset)])
        for volts, each in _at_voltages(found)
    )


def _counts(upset: Finding) -> bool:
    """Whether a finding counts at the lowest and the highest voltage: a fuse bears its whole rating there."""
    if upset.rule == "fuse_load":
        return upset.value > upset.limit / CONTINUOUS_SHARE
    return upset.rule not in LOSSES


def try_proposal(found: Plan, proposal: Proposal, before: tuple[Effect, ...]) -> Tried | None:
    """Put a proposal into the design and see; None where it is refused or only named."""
    if proposal.refusal or proposal.is_named:
        return None
    after = effects_of(plan(with_cure(without_cures(found.facts), decision_of(proposal))))
    keys, past = {effect.key for effect in after}, {effect.key for effect in before}
    return Tried(
        proposal,
        tuple(effect for effect in after if effect.key in past),
        tuple(effect for effect in after if effect.key not in past),
        tuple(effect for effect in before if effect.key not in keys),
    )


def decision_of(proposal: Proposal) -> CureDecision:
    """A proposal as the decision to take it."""
    fit = proposal.fit
    if fit is None:
        return CureDecision(proposal.cure, proposal.leads)
    return CureDecision(proposal.cure, proposal.leads, fit.ohm, fit.case_w or 0.0, fit.mount)


def with_cure(facts: JobFacts, decision: CureDecision) -> JobFacts:
    return replace(facts, hookup=replace(facts.hookup, cures=(*facts.hookup.cures, decision)))


def without_cures(facts: JobFacts) -> JobFacts:
    return replace(facts, hookup=replace(facts.hookup, cures=()))


def situation_of(found: Plan, effects: tuple[Effect, ...]) -> Situation:
    """What cures are proposed for, read off the circuit at the lowest voltage."""
    vehicle = found.facts.vehicle
    at_low = next((each for volts, each in _at_voltages(found, (LOWEST_V,))), None)
    at_high = next((each for volts, each in _at_voltages(found, (HIGHEST_V,))), None)
    sides = tuple(_sides(found, at_low.simulation, at_high.simulation)) if at_low and at_high else ()
    has_computer = vehicle.computer is Computer.YES
    return Situation(effects, vehicle.system_v, vehicle.usual_flasher, has_computer, sides)


def _sides(found: Plan, low: Simulation, high: Simulation) -> Iterator[Side]:
    leads, margin_a = list(_flashing_leads(found)), MARGIN_A * 12 / found.facts.vehicle.system_v
    for side in ("left", "right"):
        state = parse_state(side)
        if state not in low.states:
            continue
        point = low.at(state)
        mine = tuple(lead for lead in leads if lead.side == side)
        for flasher in low.network.of(Flasher):
            waits_a = min(flasher.misses_below_a + margin_a, flasher.rated_a)
            wanted_a = waits_a if flasher.type != "bimetal" else 0.9 * flasher.rated_a
            yield Side(side, mine, wanted_a, abs(point.amps(flasher.name)), _spare_a(high, side, "turn fuse"))
        for output in low.network.of(ComputerOutput):
            own = tuple(lead for lead in mine if output.nodes["out"] == str(lead.function))
            if own and output.warn_below_a:
                amps = abs(point.amps(output.name))
                yield Side(output.name, own, output.warn_below_a + margin_a, amps, _spare_a(high, side, "turn fuse"))


def _spare_a(high: Simulation, side: str, fuse: str) -> float:
    """What a fuse allows beyond what flows at the highest voltage, that side flashing [A]."""
    ratings = {each.name: each.rating_a for each in high.network.of(Fuse)}
    if fuse not in ratings:
        return inf
    return max(CONTINUOUS_SHARE * ratings[fuse] - abs(high.at(side).amps(fuse)), 0.01)


def _flashing_leads(found: Plan) -> Iterator[CureLead]:
    for lead in found.hookup.leads:
        if lead.shown is None:
            continue
        for place in lead.shown.tapped:
            function = place.wire.function
            kind, _, side = function.rpartition("_")
            if kind in FLASHING and lead.shown.lights_from(function):
                yield CureLead(lead.lead.id, function, side)


def _at_voltages(
    found: Plan, voltages: tuple[float, ...] = (LOWEST_V, RATED_V, HIGHEST_V)
) -> Iterator[tuple[float, Together]]:
    hookup = found.hookup
    if hookup.design is None:
        return
    scale = found.facts.vehicle.system_v / 12
    taken = [(lead.lead, lead.shown) for lead in hookup.leads if lead.shown]
    for volts in voltages:
        design = hookup.design if volts == RATED_V else _with_strings(hookup.design, scale)
        bench = hookup.bench if volts == RATED_V else replace(hookup.bench, volts=volts * scale)
        tried = try_design(bench, design, taken)
        if tried is not None:
            yield volts * scale, tried


def _with_strings(design: Design, scale: float) -> Design:
    """The same with LEDs as strings: what draws least at the lowest voltage, and most at the highest."""
    lights = tuple(replace(light, element=light.element.as_string(STRING_V * scale)) for light in design.lights)
    return replace(design, lights=lights)
