"""What a job's design upsets at all running voltages, and each fix put into it and tried again."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from dataclasses import dataclass, replace
from math import inf

from electrics.circuit.elements import ComputerOutput, Flasher, Fuse, Lamp
from electrics.circuit.findings import CircuitFinding
from electrics.circuit.simulate import GLOWS, Simulation
from electrics.correct.effects import Effect, effects_from
from electrics.design.design import Design
from electrics.design.units import LINKED_V
from electrics.design.wanted import Wanted
from electrics.document.decisions import CureDecision
from electrics.document.job import JobFacts
from electrics.job.cures.base import CureLead, Proposal, Situation, WatchedSide
from electrics.job.cures.leads import situation
from electrics.job.cures.registry import cure_of, proposals
from electrics.job.plan import Plan, plan
from electrics.job.trials import try_design
from electrics.reference.functions import kind_of
from electrics.reference.fuses import CONTINUOUS_SHARE
from electrics.reference.habits import WARNS_SHARE, Stated, habits
from electrics.reference.usual import HIGHEST_V, LED_STARTS_V, LOWEST_V, RUNNING_V, running_v, system_scale
from electrics.signals import Level
from electrics.vocabulary import Function, State, parse_state
from electrics.ways.trial import Together

__all__ = [
    "Correction",
    "Tried",
    "compared",
    "correct",
    "effects_of",
    "tells_of_dead_bulb",
    "try_proposal",
    "with_cure",
]

WORSE, FEWER = 1.1, 0.95
"""How much more a monitor may wait for and wires may lose, and how much less bulbs may draw, all at once [-]."""
LEAST_FLOW_A, MOST_WIRE_OHM = 0.5, 0.3
"""A current that tells the wires' resistance [A], and the most that they have [ohm] (estimates)."""
LOSSES = ("feed_drop", "ground_drop")
"""What is judged at running voltage alone: its limits are those of a measurement there."""
DIODE = "diode"
MAIN_A, SMALL_A, LEAST_MARGIN = 2.1, 0.42, 0.05
"""A main and a small bulb on 12 V [A], and what a resistor makes up of one beyond a threshold that was measured [-]
(estimate); beyond one that is assumed, all that the monitor may wait for more."""


@dataclass(frozen=True)
class Tried:
    """A proposal put into the design.

    Attributes
    ----------
    left, new : tuple of Effect
        What is upset still, and what was not before.
    tells : bool
        Whether a bulb that stays is still told of when it dies.
    """

    proposal: Proposal
    left: tuple[Effect, ...]
    new: tuple[Effect, ...]
    cured: tuple[Effect, ...]
    tells: bool = False

    @property
    def is_clean(self) -> bool:
        return not self.left and not self.new

    @property
    def verdict(self) -> str:
        """`cures`, `costs` (fixed, and something else is a little worse), `half`, `not` or `worse`."""
        if any(effect.finding.severity == "error" for effect in self.new):
            return "worse"
        if not self.left:
            return "costs" if self.new else "cures"
        return "half" if self.cured else "not"


@dataclass(frozen=True)
class Correction:
    """What the change upsets without any fix, what is upset now, and what may be done.

    Attributes
    ----------
    before, now : tuple of Effect
        Without a fix, and with those that were taken.
    open : tuple of Proposal
        What may be tried, in place of what was taken, or is refused.
    more : tuple of Proposal
        What may be tried beside what was taken, for what is still upset.
    taken : tuple of CureDecision
    sides : tuple of Side
        What watches, what it waits for and what flows, without a fix.
    there : Situation or None
        What `open` was proposed for.
    """

    before: tuple[Effect, ...]
    now: tuple[Effect, ...]
    open: tuple[Proposal, ...]
    taken: tuple[CureDecision, ...]
    sides: tuple[WatchedSide, ...] = ()
    more: tuple[Proposal, ...] = ()
    there: Situation | None = None


def correct(found: Plan, *, stock_ohm: tuple[float, ...] = ()) -> Correction:
    """Effects of a plan and proposals for them.

    Parameters
    ----------
    found : Plan
        With its fixes, if any were taken.
    stock_ohm : tuple of float
        Load resistors to choose from, in place of what the trade sells [ohm].

    Returns
    -------
    Correction
    """
    taken = found.facts.hookup.cures
    bare = plan(found.facts.without_cures(), like=found) if taken else found
    before = effects_of(bare)
    now = effects_of(found) if taken else before
    there = replace(situation_of(bare, before), stock_ohm=stock_ohm)
    offered = proposals(there)
    more: tuple[Proposal, ...] = ()
    if taken and now:
        kinds = {each.cure for each in taken}
        more = tuple(
            each
            for each in proposals(replace(situation_of(found, now), stock_ohm=stock_ohm))
            if each.decision and each.cure not in kinds
        )
    return Correction(before, now, offered, taken, there.sides, more, there)


def effects_of(found: Plan) -> tuple[Effect, ...]:
    """What a plan upsets at the lowest, the running and the highest voltage; nothing while there is no design."""
    rated_v = running_v(found.facts.vehicle.system_v)
    leads = _leads_of(found)
    return effects_from(
        (
            volts,
            each.simulation,
            [
                *(upset for upset in each.upsets if volts == rated_v or _counts(upset)),
                *_amiss(each, leads),
                *_linked(found),
            ],
        )
        for volts, each in _at_voltages(found)
    )


def _leads_of(found: Plan) -> list[tuple[str, Wanted]]:
    """What each lead's light is called in the circuit, and what is wanted of it, by lead that has a way."""
    design = found.hookup.design
    first = {light.lead: light.element.name for light in reversed(design.lights)} if design else {}
    return [(first.get(lead.lead.id, ""), lead.lead.wanted) for lead in found.hookup.leads if lead.shown]


def _amiss(together: Together, leads: list[tuple[str, Wanted]]) -> list[CircuitFinding]:
    """Added lamps that are lit, dim or dark against what is wanted: each in the first state that it is."""
    found, simulation = [], together.simulation
    for n, (name, wanted) in enumerate(leads):
        for state in together.wrong[n][:1]:
            wish, shown = wanted.signal(state, together.seen_on[n][state]), together.shows[n][state]
            pairs = {"lit": (wish.lit, shown.lit), "dark": (wish.dark, shown.dark)}
            phase = next((phase for phase, (want, seen) in pairs.items() if want is not seen), "lit")
            want, seen = pairs[phase]
            light = simulation.at(state, lit=phase == "lit").light(name)
            rule = "lit_amiss" if want is Level.OFF else "dark_amiss" if seen is Level.OFF else "dim_amiss"
            severity = "warning" if rule == "dim_amiss" else "error"
            found.append(CircuitFinding(rule, severity, name, str(state), phase, light, GLOWS, "of its light"))
    return found


def _linked(found: Plan) -> list[CircuitFinding]:
    """Units one of whose leads feeds another inside, with nothing between."""
    cured = {lead for cure in found.facts.hookup.cures for lead in cure.leads if cure.cure == DIODE}
    return [
        CircuitFinding("linked_leads", "warning", unit.name, "rest", "lit", unit.backfeed_v or 0.0, LINKED_V, "V")
        for unit in found.hookup.accessory.units
        if unit.is_linked and not any(lead.id in cured for lead in unit.leads)
    ]


def _counts(upset: CircuitFinding) -> bool:
    """Whether a finding counts at the lowest and the highest voltage: a fuse bears its whole rating there."""
    if upset.rule == "fuse_load":
        return upset.value > upset.limit / CONTINUOUS_SHARE
    return upset.rule not in LOSSES


def try_proposal(
    found: Plan, proposal: Proposal, before: tuple[Effect, ...], *, is_beside: bool = False
) -> Tried | None:
    """Put a proposal into the design and see; None where it is refused or only named.

    Parameters
    ----------
    found : Plan
    proposal : Proposal
    before : tuple of Effect
        What is upset without it.
    is_beside : bool
        Beside the fixes that are used, else in place of them.
    """
    if proposal.decision is None:
        return None
    facts = found.facts if is_beside else found.facts.without_cures()
    cured = plan(with_cure(facts, proposal.decision), like=found)
    return replace(compared(proposal, effects_of(cured), before), tells=tells_of_dead_bulb(cured))


def tells_of_dead_bulb(found: Plan) -> bool:
    """Whether flasher or computer would still notice every main bulb that stays on its circuit when it dies.

    Solved at the running voltage: what flows with one bulb less is held against what is waited for. False as well
    where no such bulb stays: nothing is told of an LED.
    """
    together = found.hookup.together
    if together is None:
        return False
    simulation = together.simulation
    verdicts = []
    for side in ("left", "right"):
        state = parse_state(side)
        if state not in simulation.states:
            continue
        point = simulation.at(state)
        flows_a = [abs(point.amps(lamp.name)) for lamp in simulation.network.of(Lamp) if side in lamp.name.split()]
        staying_a = [amps for amps in flows_a if amps > MAIN_A / 2 / system_scale(found.facts.vehicle.system_v)]
        for flasher in simulation.network.of(Flasher):
            flows = abs(point.amps(flasher.name))
            verdicts += [flasher.rhythm(flows - amps).word != "normal" for amps in staying_a]
        for output in simulation.network.of(ComputerOutput):
            if side in output.name.split() and output.warn_below_a:
                least_a, _ = output.limits_a(point.volts(output.at("supply")))
                verdicts += [abs(point.amps(output.name)) - amps < least_a for amps in staying_a]
    return bool(verdicts) and all(verdicts)


def compared(proposal: Proposal, after: tuple[Effect, ...], before: tuple[Effect, ...]) -> Tried:
    """What is upset after a change held against what was before it."""
    keys, past = {effect.key for effect in after}, {effect.key for effect in before}
    return Tried(
        proposal,
        tuple(effect for effect in after if effect.key in past),
        tuple(effect for effect in after if effect.key not in past),
        tuple(effect for effect in before if effect.key not in keys),
    )


def with_cure(facts: JobFacts, decision: CureDecision) -> JobFacts:
    """The facts once a fix is used, beside those that are used already."""
    return cure_of(decision.cure).decided(facts, decision)


def situation_of(found: Plan, effects: tuple[Effect, ...]) -> Situation:
    """What fixes are proposed for, read off the circuit at the lowest voltage."""
    at_low = next((each for volts, each in _at_voltages(found, (LOWEST_V,))), None)
    at_high = next((each for volts, each in _at_voltages(found, (HIGHEST_V,))), None)
    bare = situation(found.facts.vehicle, found.hookup)
    sides = tuple(_sides(found, bare.leads, at_low.simulation, at_high.simulation)) if at_low and at_high else ()
    return replace(bare, effects=effects, sides=sides)


def _sides(found: Plan, leads: Sequence[CureLead], low: Simulation, high: Simulation) -> Iterator[WatchedSide]:
    vehicle = found.facts.vehicle
    share, scale = _margin(vehicle.habits), system_scale(vehicle.system_v)
    for side in ("left", "right"):
        state = parse_state(side)
        if state not in low.states:
            continue
        mine = tuple(lead for lead in leads if lead.flashes and lead.side == side)
        for flasher in low.network.of(Flasher):
            waits_a = max(flasher.misses_below_a + share * MAIN_A / scale, WORSE * flasher.misses_below_a)
            waits_a = min(waits_a, max(flasher.rated_a, WORSE * flasher.misses_below_a))
            wanted_a = waits_a if flasher.type != "bimetal" else 0.9 * flasher.rated_a
            amps = abs(low.at(state).amps(flasher.name))
            loss_v = _loss_v(found, low, state, mine, amps, wanted_a)
            yield WatchedSide(side, mine, wanted_a, FEWER * amps, _spare_a(high, state, "turn fuse"), loss_v)
    for output in low.network.of(ComputerOutput):
        own = tuple(lead for lead in leads if output.nodes["out"] == str(lead.function))
        kind = kind_of(Function(output.nodes["out"])) if own else None
        state = parse_state(kind.side or str(kind.shown_with)) if kind else parse_state("rest")
        if not kind or not output.warn_below_a or state not in low.states:
            continue
        point = low.at(state)
        least_a, _ = output.limits_a(point.volts(output.at("supply")))
        bulb_a = (SMALL_A if kind.bulb == "small" else MAIN_A) / scale
        amps = abs(point.amps(output.name))
        fuse = next((name for word, name in FUSES.items() if word in output.name), "turn fuse")
        wanted_a = max(least_a + share * bulb_a, WORSE * least_a)
        loss_v = _loss_v(found, low, state, own, amps, wanted_a)
        yield WatchedSide(output.name, own, wanted_a, FEWER * amps, _spare_a(high, state, fuse), loss_v)


def _loss_v(
    found: Plan, low: Simulation, state: State, leads: Sequence[CureLead], amps_a: float, wanted_a: float
) -> float:
    """What the wires to some leads lose once the load that is waited for flows, a tenth more than they do now [V]."""
    design, scale = found.hookup.design, system_scale(found.facts.vehicle.system_v)
    ids = {lead.id for lead in leads}
    nodes = [light.element.nodes.get("from", "") for light in (design.lights if design else ()) if light.lead in ids]
    point = low.at(state)
    losses = [LOWEST_V * scale - point.volts(node) for node in nodes if node in low.network.nodes]
    if not losses or amps_a < LEAST_FLOW_A:
        return 0.0
    ohm = min(max(max(losses), 0.0) / amps_a, MOST_WIRE_OHM)
    return WORSE * ohm * wanted_a


FUSES = {"turn": "turn fuse", "stop output": "stop fuse", "tail": "park fuse"}
"""The fuse of the vehicle's circuit behind each of its outputs."""


def _margin(stated: Stated) -> float:
    """How much of a main bulb more than assumed a monitor may wait for [-]."""
    usual = habits()[WARNS_SHARE]
    return LEAST_MARGIN if WARNS_SHARE in dict(stated) else usual.high - usual.usual


def _spare_a(high: Simulation, state: State, fuse: str) -> float:
    """What a fuse allows beyond what flows at the highest voltage in a state [A]."""
    ratings = {each.name: each.rating_a for each in high.network.of(Fuse)}
    if fuse not in ratings:
        return inf
    return max(CONTINUOUS_SHARE * ratings[fuse] - abs(high.at(state).amps(fuse)), 0.01)


def _at_voltages(
    found: Plan, voltages: tuple[float, ...] = (LOWEST_V, RUNNING_V, HIGHEST_V)
) -> Iterator[tuple[float, Together]]:
    hookup = found.hookup
    if hookup.design is None:
        return
    scale = system_scale(found.facts.vehicle.system_v)
    taken = [(lead.lead, lead.shown) for lead in hookup.leads if lead.shown]
    for volts in voltages:
        design = hookup.design if volts == RUNNING_V else _with_strings(hookup.design, scale)
        bench = hookup.bench
        if volts != RUNNING_V:  # the variants differ in a few states only: the likeliest stands for all at the ends
            bench = replace(bench, volts=volts * scale, scenarios=bench.scenarios[:1])
        tried = try_design(bench, design, taken, is_followed=volts == HIGHEST_V)
        if tried is not None:
            yield volts * scale, tried


def _with_strings(design: Design, scale: float) -> Design:
    """The same with LEDs as strings: what draws least at the lowest voltage, and most at the highest."""
    lights = tuple(replace(light, element=light.element.as_string(LED_STARTS_V * scale)) for light in design.lights)
    return replace(design, lights=lights)
