"""What a job's test sheet measures: each lamp's drops by its own limit, and a line for every part and fix."""

from __future__ import annotations

from collections.abc import Iterator, Sequence

from electrics.correct.resistor import FLASHING_DUTY
from electrics.design.design import Design
from electrics.design.units import Unit
from electrics.document.decisions import CureDecision
from electrics.document.job import JobFacts
from electrics.job.cures.registry import proven_by
from electrics.job.hookup_plan import HookUpPlan, LeadPlan
from electrics.prove.measures import Measure, by_eye, feed_drop, general_measures, ground_drop, on_state
from electrics.reference.functions import kind_of
from electrics.reference.habits import AIR_C, habit
from electrics.reference.mounts import body_c
from electrics.reference.parts import diodes
from electrics.reference.usual import HIGHEST_V, LOWEST_V, system_scale
from electrics.signals import LIT, Scenario
from electrics.vocabulary import Control, Function, Instrument, State, make_state, parse_state

__all__ = ["lamp_rows", "measures_of"]

WARM_S = 20 * 60.0
"""After how long a resistor's body is measured [s]: most of its rise is there by then (common practice)."""
COLD_AIR_C = -10.0
"""The coldest air in which anybody measures [C] (estimate)."""
BY_HAND = ("relay", "timed_relay", "diode", "decoder", "separator", "converter", "switch")
"""Parts that are looked at on the sheet, by their line in the parts list."""
PULSED = "pulsed"


def lamp_rows(hookup: HookUpPlan) -> dict[str, int]:
    """Lamps on each lead, by the lead as the sheet names it: each is looked at."""
    units = {unit.id: unit for unit in hookup.accessory.units}
    found = {each.lead.id: units[each.lead.unit] for each in hookup.leads}
    rows = {id: unit.lamps for id, unit in found.items() if unit.lamps > 1}
    return {"": next(iter(rows.values()))} if hookup.is_single and rows else rows


def measures_of(facts: JobFacts, hookup: HookUpPlan, factory: frozenset[Function]) -> list[Measure]:
    """What is measured and judged by eye on a job, lamp by lamp and part by part.

    Parameters
    ----------
    facts : JobFacts
    hookup : HookUpPlan
    factory : frozenset of Function
        What the vehicle's own lamps do.

    Returns
    -------
    list of Measure
        Drops first, then parts and fixes, then the vehicle as a whole. What plugs into a factory socket has no drops
        of ours to measure, what burns on pulses no volts.
    """
    wanted = [f for each in hookup.leads for f in each.lead.wanted.functions]
    design = hookup.design
    found = [measure for each in hookup.leads for measure in _drops(each, hookup, facts)]
    found += _ground_drops(hookup, facts)
    if design is not None:
        found += _parts(design, hookup)
        found += _resistors(design, hookup, facts)
    found += _plugs(hookup)
    found += general_measures(factory, wanted, facts.as_found.rates)
    found += (by_eye(id, parse_state("key")) for id in proven_by(facts.hookup.cures))
    return found


def _drops(each: LeadPlan, hookup: HookUpPlan, facts: JobFacts) -> Iterator[Measure]:
    if _keeps_its_feed(each, hookup):
        return
    about = "" if hookup.is_single else each.lead.id
    if _is_pulsed(each):
        yield by_eye(f"share_of_light{f':{about}' if about else ''}", _lit(each, hookup.scenarios[0]))
        return
    state, system_v = _lit(each, hookup.scenarios[0]), facts.vehicle.system_v
    yield feed_drop(state, system_v, about, _diodes_v(each, hookup.design))


def _keeps_its_feed(each: LeadPlan, hookup: HookUpPlan) -> bool:
    """Whether the factory's own wire still feeds it: a bulb in its socket, a lamp that was there before."""
    unit = _unit_of(each, hookup)
    is_direct = each.shown is not None and each.shown.candidate.form.id == "direct"
    return is_direct and _keeps_its_ground(unit)


def _keeps_its_ground(unit: Unit) -> bool:
    """Whether the factory's own ground is still its ground: of its socket, or of a lamp that was there before."""
    return unit.in_socket or (unit.is_there and unit.keeps_ground)


def _unit_of(each: LeadPlan, hookup: HookUpPlan) -> Unit:
    return next(unit for unit in hookup.accessory.units if unit.id == each.lead.unit)


def _ground_drops(hookup: HookUpPlan, facts: JobFacts) -> Iterator[Measure]:
    """One line a unit, with its brightest steady lead on."""
    for unit in hookup.accessory.units:
        leads = [each for each in hookup.leads if each.lead.unit == unit.id]
        if not leads or _keeps_its_ground(unit) or any(map(_is_pulsed, leads)):
            continue
        brightest = max(leads, key=lambda each: each.amps_a)
        about = "" if hookup.is_single else unit.id
        state, is_towed = _lit(brightest, hookup.scenarios[0]), unit.kind is not None and unit.kind.is_towed
        yield ground_drop(state, facts.vehicle.system_v, about, is_towed=is_towed)


def _is_pulsed(each: LeadPlan) -> bool:
    """Whether the lamp burns on a computer's pulses: a meter shows their mean."""
    way = each.shown
    if way is None or way.candidate.form.has_own_supply:
        return False
    return any(PULSED in place.wire.variant for place in way.tapped)


def _lit(each: LeadPlan, scenario: Scenario) -> State:
    """A state in which it burns steadily; where it only flashes, the one that it is looked at in."""
    wanted = each.lead.wanted
    usual = on_state(wanted.functions)
    shown = [kind_of(f).shown_with for f in wanted.functions]
    states = [usual, *(make_state([control]) for control in (*shown, *Control) if control)]
    return next((state for state in states if wanted.signal(state, scenario) == LIT), usual)


def _diodes_v(each: LeadPlan, design: Design | None) -> float:
    """What the diodes in a lead's feed may lose at the most [V]: the worst of them at its rating."""
    if design is None:
        return 0.0
    found = [
        diodes()[part.value].drop_at_rated_v
        for part in design.parts_for(each.lead.id, "diode")
        if part.value in diodes().rows
    ]
    return max(found, default=0.0)


def _parts(design: Design, hookup: HookUpPlan) -> Iterator[Measure]:
    wanted = {each.lead.id: each.lead.wanted.functions for each in hookup.leads}
    for part in design.parts:
        if part.part in BY_HAND:
            functions = next((wanted[lead] for lead in part.leads if lead in wanted), ())
            yield by_eye(f"{part.part}:{part.label}", on_state(functions))


def _resistors(design: Design, hookup: HookUpPlan, facts: JobFacts) -> Iterator[Measure]:
    """The body of each load resistor after twenty minutes: between what the lowest and the highest voltage give."""
    scale, air_c = system_scale(facts.vehicle.system_v), habit(facts.vehicle.habits, AIR_C)
    wanted = {each.lead.id: each.lead.wanted.functions for each in hookup.leads}
    for part in design.parts:
        cure = next((each for each in facts.hookup.cures if _is_of(each, part.leads)), None)
        if part.part != "load_resistor" or cure is None:
            continue
        functions = next((wanted[lead] for lead in part.leads if lead in wanted), ())
        flashes = any("turn" in function for function in functions)
        lit = FLASHING_DUTY if flashes else 1.0
        low_c, high_c = (
            body_c(cure.case_w, cure.mount, lit * (volts * scale) ** 2 / cure.ohm, WARM_S, air)
            for volts, air in ((LOWEST_V, COLD_AIR_C), (HIGHEST_V, air_c))
        )
        state = parse_state("hazard") if flashes else on_state(functions)
        yield Measure(
            f"resistor_warm:{part.label}", state, Instrument.THERMOMETER, "C", round(low_c), round(high_c), "trade"
        )


def _is_of(cure: CureDecision, leads: Sequence[str]) -> bool:
    return cure.ohm > 0 and cure.case_w > 0 and not set(cure.leads).isdisjoint(leads)


def _plugs(hookup: HookUpPlan) -> Iterator[Measure]:
    for unit in hookup.accessory.units:
        if unit.is_removable and not unit.in_socket:
            functions = tuple(f for lead in unit.leads for f in lead.wanted.functions)
            yield by_eye(f"plug:{unit.id}", on_state(functions))
    if any(place.is_tow for each in hookup.leads if each.shown for place in each.shown.tapped):
        yield by_eye("tow_socket", parse_state("trailer"))
