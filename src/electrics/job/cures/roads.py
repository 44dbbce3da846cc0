"""Fixes of current by the wrong path, and of paths that lose too much: diodes, resistors, plugs, grounds, wires."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import replace
from math import inf

from electrics.correct.resistor import TOLERANCE, e_series
from electrics.design.additions import Addition, at_pilot
from electrics.design.inserts import Blocker, DarkResistor, Insert
from electrics.design.sizing import CURRENT_MARGIN, REVERSE_V, DiodeChoice, choose_diode
from electrics.design.units import Unit
from electrics.document.decisions import CureDecision
from electrics.document.job import JobFacts
from electrics.document.vehicle import Idle, VehicleFacts
from electrics.errors import FactError
from electrics.job.cures.base import LIT_AMISS, CureLead, Fix, Proposal, Refusal, Situation
from electrics.reference.habits import LEAK_OHM, habit
from electrics.reference.parts import diodes
from electrics.reference.usual import HIGHEST_V, system_scale

__all__ = ["BetterGround", "BlockingDiode", "GhostResistor", "JointAgain", "PilotDiodes", "PlugTurned", "ThickerWire"]

FULL_PULSES = "full_pulses"
DARK_V = 3.0
"""Below which an LED string shows nothing on 12 V [V] (calculated)."""


class BlockingDiode(Fix):
    """A diode in the path that must be one-way, stripe to the lamp."""

    id = "diode"

    def proposals(self, situation: Situation) -> Iterator[Proposal]:
        if not situation.has(*LIT_AMISS):
            return
        leads = [lead for lead in situation.concerned(*LIT_AMISS) if not lead.is_ground]
        linked = {each.unit.id: each.unit.link for each in situation.leads if each.unit and each.unit.link}
        if not linked:
            if leads:
                yield self._in(tuple(leads), situation)
            return
        weak, both = [], []
        known = {lead.id: lead for lead in situation.leads}
        for weakest, brightest in linked.values():
            weak.append(known[weakest.id])
            both += [known[weakest.id], known[brightest.id]]
        yield self._in(tuple(weak), situation)
        yield self._in(tuple(both), situation)

    def _in(self, leads: tuple[CureLead, ...], situation: Situation) -> Proposal:
        ids = tuple(lead.id for lead in leads)
        try:
            choice: DiodeChoice = choose_diode(max(lead.amps_a for lead in leads), situation.system_v)
        except FactError:
            return Proposal(self.id, ids, refusal="no_diode")
        costs = ("light_lost",) if any(lead.is_filament for lead in leads) else ()
        return Proposal(
            self.id, ids, diode=choice, decision=CureDecision(self.id, ids, part=choice.diode.part), costs=costs
        )

    def held_against(self, decision: CureDecision, situation: Situation) -> Iterator[Refusal]:
        leads = situation.at(decision)
        if any(lead.is_pulsed for lead in leads):
            yield Refusal("diode_on_pulses", allows_reason=True)
        part = diodes()[decision.part]
        least_a = CURRENT_MARGIN * max((lead.amps_a for lead in leads), default=0.0)
        least_v = REVERSE_V[situation.system_v]
        if part.rated_a < least_a:
            yield Refusal("diode_too_small", part.rated_a, least_a, "A")
        if part.reverse_v < least_v:
            yield Refusal("diode_breaks_down", part.reverse_v, least_v, "V")

    def inserts(self, decision: CureDecision) -> tuple[Insert, ...]:
        return (Blocker(decision.part),)

    def check(self, decision: CureDecision) -> None:
        super().check(decision)
        if decision.part not in diodes().rows:
            raise FactError("part", f"there is no diode “{decision.part}”. Known: {', '.join(diodes().rows)}.")


class PilotDiodes(Fix):
    """Two diodes at the one pilot between left and right, and a ground for it."""

    id, at_leads = "pilot_diodes", False

    def proposals(self, situation: Situation) -> Iterator[Proposal]:
        if situation.pilot == "one" and situation.has("wrong_road", "factory_lamp", "lit_amiss", "back_feed"):
            yield Proposal(self.id, decision=CureDecision(self.id))

    def applied(self, facts: JobFacts, decision: CureDecision) -> JobFacts:
        return replace(facts, vehicle=replace(facts.vehicle, pilot="two"))

    def additions(self, decision: CureDecision, vehicle: VehicleFacts) -> tuple[Addition, ...]:
        return (at_pilot(),)


class GhostResistor(Fix):
    """A resistor across a lamp that glows on the milliamps of a monitor: it takes them."""

    id = "ghost_resistor"
    ends = {"ghost_glow": 1}

    def proposals(self, situation: Situation) -> Iterator[Proposal]:
        if situation.has("test_pulse_glow") and not situation.has("ghost_glow"):
            yield Proposal(self.id, refusal=FULL_PULSES)
            return
        if not situation.has("ghost_glow"):
            return
        leads = tuple(lead.id for lead in situation.concerned("ghost_glow") if not lead.is_ground)
        scale = system_scale(situation.system_v)
        high_v, dark_v = HIGHEST_V * scale, DARK_V * scale
        most_ohm = habit(situation.habits, LEAK_OHM, scale) * dark_v / (high_v - dark_v) / (1 + TOLERANCE)
        values = [decade * ohm for decade in (10.0, 100.0, 1000.0) for ohm in e_series(12)]
        ohm = max((value for value in values if value <= most_ohm), default=0.0)
        if leads and ohm:
            yield Proposal(self.id, leads, decision=CureDecision(self.id, leads, ohm))

    def held_against(self, decision: CureDecision, situation: Situation) -> Iterator[Refusal]:
        if situation.idle is Idle.PULSES:
            yield Refusal(FULL_PULSES, allows_reason=True)

    def inserts(self, decision: CureDecision) -> tuple[Insert, ...]:
        return (DarkResistor(decision.ohm),)

    def check(self, decision: CureDecision) -> None:
        super().check(decision)
        if not 10 <= decision.ohm < inf:
            raise FactError("ohm", f"a ghost-glow resistor of {decision.ohm:g} ohm. Expected 10 ohm or more.")


class PlugTurned(Fix):
    """An LED that works one way only, put in the other way round."""

    id = "plug_turned"

    def proposals(self, situation: Situation) -> Iterator[Proposal]:
        if not situation.has("turned_round", "dark_amiss"):
            return
        leads = tuple(lead.id for lead in situation.leads if lead.unit is not None and lead.unit.turned)
        if leads:
            yield Proposal(self.id, leads, decision=CureDecision(self.id, leads))

    def changed(self, unit: Unit, decision: CureDecision, facts: JobFacts) -> Unit:
        return replace(unit, turned=False) if any(lead.id in decision.leads for lead in unit.leads) else unit


class BetterGround(Fix):
    """A ground by another of the shop's schools, on a wire of its own."""

    id, is_record = "better_ground", False

    def proposals(self, situation: Situation) -> Iterator[Proposal]:
        rules = ("ground_drop", "grounds_at_odds")
        if not situation.has(*rules):
            return
        leads = situation.concerned(*rules)
        for ground in dict.fromkeys(ground for lead in leads for ground in lead.grounds[:1]):
            ids = tuple(lead.id for lead in leads)
            yield Proposal(self.id, ids, decision=CureDecision(self.id, ids, part=ground))

    def decided(self, facts: JobFacts, decision: CureDecision) -> JobFacts:
        return with_runs(facts, decision, ground=decision.part)


class ThickerWire(Fix):
    """The next thicker wires."""

    id, is_record = "thicker_wire", False

    def proposals(self, situation: Situation) -> Iterator[Proposal]:
        rules = ("feed_drop", "ground_drop", "wire_load")
        if not situation.has(*rules):
            return
        leads = situation.concerned(*rules)
        for size in dict.fromkeys(size for lead in leads for size in lead.sizes[:2]):
            ids = tuple(lead.id for lead in leads if size in lead.sizes)
            yield Proposal(self.id, ids, decision=CureDecision(self.id, ids, part=size))

    def decided(self, facts: JobFacts, decision: CureDecision) -> JobFacts:
        return with_runs(facts, decision, wire_size=decision.part)


class JointAgain(Fix):
    """A joint made again."""

    id = "joint_again"

    def proposals(self, situation: Situation) -> Iterator[Proposal]:
        if situation.has("joint_loss"):
            yield Proposal(self.id)


def with_runs(facts: JobFacts, decision: CureDecision, **change: str) -> JobFacts:
    """The same, some leads' runs with something else decided."""
    hookup = facts.hookup
    runs = dict(hookup.runs)
    for n, lead in enumerate(decision.leads):
        known = runs.get(lead) or (hookup.run if not n and not runs else hookup.followed)
        runs[lead] = replace(known, **change)  # type: ignore[arg-type]
    return replace(facts, hookup=replace(hookup, runs=runs))
