"""Fixes of a load that is missing: another flasher, a resistor, a decoder, coding; and what never helps."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import replace
from math import inf
from typing import ClassVar

from electrics.correct.resistor import FLASHING_DUTY, Need, ResistorFit, fit_resistor, is_sold, mean_heat_w
from electrics.design.additions import Addition, at_flasher
from electrics.design.inserts import Insert, Shunt, Store
from electrics.document.decisions import CureDecision
from electrics.document.job import JobFacts
from electrics.document.vehicle import FlasherKind, Idle, VehicleFacts
from electrics.errors import FactError
from electrics.job.cures.base import FLASHES, CureLead, Fix, Proposal, Refusal, Situation, WatchedSide
from electrics.reference.habits import AIR_C, habit
from electrics.reference.mounts import body_c, mounts
from electrics.reference.parts import BODY_LIMIT_C, housed_resistors
from electrics.reference.usual import system_scale
from electrics.vocabulary import Function

__all__ = ["Coding", "DecoderFix", "FlasherChange", "LoadResistor", "SeriesResistor", "StopResistor", "TailResistor"]

TESTED = ("test_pulse_glow",)
GROUND_PRONG = "ground"
"""A flasher with a ground prong; one without does not bring the new one its ground (common practice)."""
TRAILER = "trailer"
"""A body whose flasher is in the vehicle that tows it."""
STORED_UF = 470.0
"""Capacitor of a decoder: with it a turn lamp is dark again before its next beat (common practice)."""
RIDE_OHM, DARK_OHM, BLEED_OHM = 0.0, 10.0, 330.0
"""In front of the capacitor, so that a test pulse does not fill it, and across it, so that it empties [ohm]
(calculated for 12 V)."""


class FlasherChange(Fix):
    """A flasher that needs no load: both sides at once, without heat."""

    id = "flasher"
    brings = {"flasher": 1}
    at_leads, hides_outage = False, True
    ends = {"flash_rate": 1}

    def proposals(self, situation: Situation) -> Iterator[Proposal]:
        if situation.has(*FLASHES) and situation.flasher is not FlasherKind.FIXED:
            yield Proposal(self.id, decision=CureDecision(self.id), costs=("nobody_told",))

    def held_against(self, decision: CureDecision, situation: Situation) -> Iterator[Refusal]:
        if situation.body == TRAILER:
            yield Refusal("flasher_tows")
        elif situation.flasher is FlasherKind.COMPUTER:
            yield Refusal("no_flasher")

    def applied(self, facts: JobFacts, decision: CureDecision) -> JobFacts:
        return replace(facts, vehicle=replace(facts.vehicle, flasher=FlasherKind.FIXED))

    def additions(self, decision: CureDecision, vehicle: VehicleFacts) -> tuple[Addition, ...]:
        return () if vehicle.prongs == GROUND_PRONG else (at_flasher(),)


class LoadResistor(Fix):
    """A resistor across the turn feed and ground, one for each lamp that was replaced."""

    id, hides_outage = "load_resistor", True
    steady: ClassVar[Function | None] = None
    """The circuit that it is for where that does not flash."""
    ends = {"flash_rate": 1, "outage_warning": 1}

    def proposals(self, situation: Situation) -> Iterator[Proposal]:
        short = short_sides(situation, self.steady)
        if not short or not situation.has(*FLASHES):
            return
        yield from self._sized(situation, short)
        one_each = tuple(replace(side, leads=side.leads[:1]) for side in short)
        if one_each != short:  # one a side in place of one a bulb: fewer parts, more heat in each
            yield from self._sized(situation, one_each)

    def _sized(self, situation: Situation, short: tuple[WatchedSide, ...]) -> Iterator[Proposal]:
        """One resistor at each lead of the sides that are short, on every mount."""
        leads = tuple(lead.id for side in short for lead in side.leads)
        is_held = any(lead.can_be_held for side in short for lead in side.leads)
        costs = ("nobody_told", "held_hot") if is_held else ("nobody_told", "hot")
        for mount in mounts():
            fit = _fit(short, situation, mount.id)
            if fit is None:
                yield Proposal(self.id, leads, refusal=_no_value(situation))
                return
            decision = CureDecision(self.id, leads, fit.ohm, fit.case_w or LARGEST_CASE_W, fit.mount)
            yield Proposal(self.id, leads, fit, decision=decision, costs=costs)

    def held_against(self, decision: CureDecision, situation: Situation) -> Iterator[Refusal]:
        yield from _too_hot(decision, situation)

    def inserts(self, decision: CureDecision) -> tuple[Insert, ...]:
        return (Shunt(decision.ohm, decision.case_w, decision.mount),)

    def check(self, decision: CureDecision) -> None:
        if not decision.leads or not decision.ohm:
            raise FactError("cures", "a load resistor wants its ohm and the leads that it is fitted at.")
        _check_case(decision)


class StopResistor(LoadResistor):
    """The same across the stop feed, where the computer counts stop lamps, too."""

    id, steady = "stop_resistor", Function.STOP


class TailResistor(LoadResistor):
    """The same across the tail feed: it burns all night."""

    id, steady = "tail_resistor", Function.TAIL


class SeriesResistor(Fix):
    """What people try, and what never helps: the lamp starves and the flasher sees less."""

    id = "series_resistor"

    def proposals(self, situation: Situation) -> Iterator[Proposal]:
        if situation.has(*FLASHES):
            yield Proposal(self.id, decision=CureDecision(self.id))

    def held_against(self, decision: CureDecision, situation: Situation) -> Iterator[Refusal]:
        yield Refusal("in_series")


class DecoderFix(Fix):
    """A resistor, a capacitor and a diode, where a computer watches its lamps or tests them cold."""

    id, hides_outage, is_slow = "decoder", True, True
    ends = {"test_pulse_glow": 3}

    def proposals(self, situation: Situation) -> Iterator[Proposal]:
        is_watched = situation.flasher is FlasherKind.COMPUTER or situation.has_computer
        if not situation.has(*TESTED) and not (is_watched and situation.has(*FLASHES)):
            return
        short = short_sides(situation) if situation.has(*FLASHES) else ()
        at = {lead.id: lead for side in short for lead in side.leads}
        if situation.has(*TESTED):
            at |= {lead.id: lead for lead in situation.concerned(*TESTED) if not lead.own_supply}
        leads = tuple(at.values())
        if not leads or any(lead.is_ground for lead in leads):
            return
        yield from self._sized(situation, short, leads)

    def held_against(self, decision: CureDecision, situation: Situation) -> Iterator[Refusal]:
        if any(lead.is_pulsed for lead in situation.at(decision)):
            yield Refusal("bright_as_stop")
        if decision.ohm:
            yield from _too_hot(decision, situation)

    def _sized(
        self, situation: Situation, short: tuple[WatchedSide, ...], leads: tuple[CureLead, ...]
    ) -> Iterator[Proposal]:
        ids, scale = tuple(lead.id for lead in leads), system_scale(situation.system_v)
        is_tested = situation.idle is Idle.PULSES or situation.has(*TESTED)
        decision = CureDecision(
            self.id,
            ids,
            microfarad=STORED_UF / scale,
            series_ohm=(DARK_OHM if is_tested else RIDE_OHM) * scale**2,
            bleed_ohm=BLEED_OHM * scale**2,
        )
        also = ("dimmer",) if is_tested else ()
        if not short:
            yield Proposal(self.id, ids, decision=decision, costs=also)
            return
        held = "held_hot" if any(lead.can_be_held for lead in leads) else "hot"
        for mount in mounts():
            fit = _fit(short, situation, mount.id)
            if fit is None:
                yield Proposal(self.id, ids, refusal=_no_value(situation))
                return
            loaded = replace(decision, ohm=fit.ohm, case_w=fit.case_w or LARGEST_CASE_W, mount=fit.mount)
            yield Proposal(self.id, ids, fit, decision=loaded, costs=("nobody_told", held, *also))

    def inserts(self, decision: CureDecision) -> tuple[Insert, ...]:
        stored = (decision.microfarad, decision.series_ohm, decision.bleed_ohm)
        return (Store(decision.ohm, *stored, decision.case_w, decision.mount or "metal"),)

    def check(self, decision: CureDecision) -> None:
        super().check(decision)
        if decision.ohm:
            _check_case(decision)
        if not 0 < decision.microfarad <= MOST_UF:
            raise FactError(
                "microfarad", f"a decoder of {decision.microfarad:g} microfarad. Expected up to {MOST_UF}."
            )


MOST_UF = 10_000
FREE_AIR = "free_air"
LARGEST_CASE_W = max(case.watts for case in housed_resistors())


class Coding(Fix):
    """The computer is told that there are LED lamps, by someone with the maker's tool."""

    id, at_leads = "coding", False
    proves = ("coded",)

    def proposals(self, situation: Situation) -> Iterator[Proposal]:
        if situation.has_computer and situation.has(*FLASHES, *TESTED, "shut_off", "overload_warning"):
            yield Proposal(self.id, decision=CureDecision(self.id), costs=("not_computed",))

    def held_against(self, decision: CureDecision, situation: Situation) -> Iterator[Refusal]:
        if not situation.has_computer:
            yield Refusal("no_computer")

    def applied(self, facts: JobFacts, decision: CureDecision) -> JobFacts:
        return replace(facts, vehicle=replace(facts.vehicle, is_coded=True, idle=Idle.DARK))


def short_sides(situation: Situation, steady: Function | None = None) -> tuple[WatchedSide, ...]:
    """The sides and outputs that wait for more than flows: those that flash, or the one of a steady circuit."""
    return tuple(
        side
        for side in situation.sides
        if side.leads and side.load_a < side.threshold_a and side.leads[0].steady_of is steady
    )


def _fit(short: tuple[WatchedSide, ...], situation: Situation, mount: str = "metal") -> ResistorFit | None:
    need = hardest_need(short, situation.system_v)
    air_c = habit(situation.habits, AIR_C)
    return fit_resistor(need, mount=mount, ambient_c=air_c, stock_ohm=situation.stock_ohm)


def hardest_need(short: tuple[WatchedSide, ...], system_v: int) -> Need:
    """What one resistor at each lead must make up on the side that lacks most for each."""
    is_held = any(lead.can_be_held for side in short for lead in side.leads)
    needs = [
        Need(
            side.threshold_a - side.load_a,
            most_a=side.spare_a,
            count=len(side.leads),
            is_held=is_held,
            system_v=system_v,
            loss_v=side.loss_v,
        )
        for side in short
    ]
    return max(needs, key=lambda need: need.threshold_a / need.count)


def _check_case(decision: CureDecision) -> None:
    if decision.mount not in mounts().rows:
        raise FactError("mount", f"there is no mount “{decision.mount}”. Known: {', '.join(mounts().rows)}.")
    if f"{decision.case_w:g}" not in housed_resistors().rows:
        cases = ", ".join(housed_resistors().rows)
        raise FactError("case_w", f"there is no case of {decision.case_w:g} W. Known: {cases}.")


def _no_value(situation: Situation) -> str:
    """Why there is no resistor: none on the shelf, or none at all."""
    return "not_in_stock" if situation.stock_ohm else "no_window"


def _too_hot(decision: CureDecision, situation: Situation) -> Iterator[Refusal]:
    """What forbids a housed resistor where it is mounted: free air always, whatever its data sheet says; its heat."""
    if not is_sold(decision.ohm, situation.system_v, situation.stock_ohm):
        yield Refusal("not_sold", decision.ohm, unit="ohm", allows_reason=True)
    if decision.mount == FREE_AIR:
        yield Refusal("free_air")
        return
    is_held = any(lead.can_be_held for lead in situation.at(decision))
    heat_w = mean_heat_w(decision.ohm, 1.0 if is_held else FLASHING_DUTY, situation.system_v)
    settled_c = body_c(decision.case_w, decision.mount, heat_w, inf, habit(situation.habits, AIR_C))
    limit_c = mounts()[decision.mount].limit_c
    if settled_c > limit_c:
        yield Refusal("too_hot" if limit_c >= BODY_LIMIT_C else "paint_too_hot", settled_c, limit_c, "C")
