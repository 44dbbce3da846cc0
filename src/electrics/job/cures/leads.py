"""What fixes hang on, read off a hook-up before anything is solved: its leads, and the vehicle they are on."""

from __future__ import annotations

from collections.abc import Iterator

from electrics.design.design import Design
from electrics.design.units import Unit
from electrics.document.vehicle import VehicleFacts
from electrics.job.cures.base import CureLead, Situation
from electrics.job.hookup_plan import HookUpPlan
from electrics.reference.functions import kind_of
from electrics.vocabulary import Polarity

__all__ = ["cure_leads", "situation"]

FLASHING = ("turn", "stop_turn")


def situation(vehicle: VehicleFacts, hookup: HookUpPlan) -> Situation:
    """A job as far as a fix is judged by it without anything being solved.

    Parameters
    ----------
    vehicle : VehicleFacts
        As it was entered: a fix that is used changes nothing of it.
    hookup : HookUpPlan
    """
    return Situation(
        (),
        vehicle.system_v,
        vehicle.usual_flasher,
        vehicle.has_computer,
        (),
        tuple(cure_leads(hookup)),
        vehicle.idle,
        vehicle.pilot,
        body=vehicle.body,
        habits=vehicle.habits,
    )


def cure_leads(hookup: HookUpPlan) -> Iterator[CureLead]:
    """Every lead that has a way, with all that fixes hang on."""
    design = hookup.drawn
    units = {unit.id: unit for unit in hookup.accessory.units}
    for lead in hookup.leads:
        way = lead.shown
        if way is None or design is None:
            continue
        flashing = [
            place.wire.function
            for place in way.tapped
            if place.wire.function.rpartition("_")[0] in FLASHING and way.lights_from(place.wire.function)
        ]
        function = flashing[0] if flashing else way.host.wire.function
        unit, option = units.get(lead.lead.unit), lead.sized.option
        others = {each.candidate.form.id: each.key for each in reversed(lead.right) if each is not way}
        order = dict.fromkeys(each.candidate.form.id for each in lead.right)
        yield CureLead(
            lead.lead.id,
            function,
            kind_of(function).side,
            flashes=bool(flashing),
            unit=unit,
            amps_a=lead.amps_a,
            is_filament=lead.lead.technology == "filament",
            is_ground=lead.lead.polarity is Polarity.GROUND,
            own_supply=way.candidate.form.has_own_supply,
            is_pulsed=any(source.is_pulsed for source in way.candidate.sources),
            form=way.candidate.form.id,
            others=tuple((form, others[form]) for form in order if form in others),
            sizes=tuple(
                each.conductor.size
                for each in lead.sized.options
                if option and each.is_right and each.conductor.area_mm2 > option.conductor.area_mm2
            ),
            grounds=_other_grounds(lead.run.ground, unit),
            names=frozenset(_names_of(design, lead.lead.id, unit)),
        )


def _other_grounds(ground: str, unit: Unit | None) -> tuple[str, ...]:
    """The schools of ground that a unit may have besides its own, the surest first."""
    may_be = ("wire",) if unit is not None and unit.comes_off else ("wire", "weld")
    return tuple(each for each in may_be if each != ground)


def _names_of(design: Design, lead: str, unit: Unit | None) -> Iterator[str]:
    """What belongs to a lead in the circuit of a design."""
    for light in design.lights:
        if light.lead == lead:
            yield light.element.name
            yield from (each.name for each in light.inside)
    labels = {part.label for part in design.parts if lead in part.leads}
    yield from labels
    own = unit.name if unit is not None else ""
    for wire in design.wires:
        if any(end.what in labels or (own and end.what.startswith(own)) for end in wire.ends):
            yield f"wire {wire.label}"
