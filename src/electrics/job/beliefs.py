"""What a job's readings say: of its wires, of the vehicle they share, and of the lamp that is to be fitted."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from dataclasses import replace
from functools import lru_cache

from electrics.document.lamp import LampFacts, Trial
from electrics.document.places import AccessPoint, Claim, Origin, PlaceFacts
from electrics.document.vehicle import VehicleFacts
from electrics.identify.against import likeliest_variant, speaking_against
from electrics.identify.belief import WORLDS, Belief, Lack, identify
from electrics.identify.leads import LampBelief, LeadBelief, Role, identify_leads
from electrics.identify.rules import Odd
from electrics.reference.functions import function_kinds
from electrics.reference.zones import bodies
from electrics.signals import Scenario, daytime_of, low_beam_of, polarity_of
from electrics.vocabulary import Arrangement, Control, Function

__all__ = [
    "SERVES",
    "Odd",
    "against_readings",
    "believe",
    "lamp_belief",
    "lead_for",
    "scenarios_left",
    "settled_circuits",
]

STILL_POSSIBLE = 0.05
"""Share of the likeliest arrangement from which a variant of it is reckoned with [-]: what is less is settled."""

SERVES: dict[Role, frozenset[Function]] = {
    role: frozenset(kind.function for kind in function_kinds() if role in kind.leads)
    for role in (Role.TAIL, Role.RED, Role.AMBER, Role.WHITE)
}
"""Which behaviour each kind of lead can show."""


def believe(places: Sequence[PlaceFacts], vehicle: VehicleFacts) -> tuple[Belief, ...]:
    """The belief about every access point of a vehicle, in order; known again while its facts stay the same."""
    arrangement = vehicle.arrangement or _said_arrangement(places)
    points = tuple(_with_earlier(place.point, vehicle) for place in places)
    found = _identified(points, arrangement, _lacks(places, vehicle))
    return tuple(_as_said(belief, place) for belief, place in zip(found, places, strict=True))


def _with_earlier(point: AccessPoint, vehicle: VehicleFacts) -> AccessPoint:
    """An access point with what earlier jobs on this vehicle found its wires to be, as claims."""
    found = {each.pin: each for each in vehicle.earlier if each.place == point.name}
    if not found:
        return point
    wires = tuple(
        replace(wire, claims=(*wire.claims, Claim(each.function, Origin.EARLIER, each.date or "an earlier job")))
        if (each := found.get(wire.pin)) is not None
        else wire
        for wire in point.wires
    )
    return replace(point, wires=wires)


def _lacks(places: Sequence[PlaceFacts], vehicle: VehicleFacts) -> frozenset[Control]:
    """What the vehicle is said to lack, and what its kind hardly ever has, unless somebody measured with it on."""
    seen = {control for place in places for item in place.point.evidence for control in item.setup.state.controls}
    return vehicle.not_fitted | (bodies()[vehicle.body].seldom - seen)


def _said_arrangement(places: Sequence[PlaceFacts]) -> Arrangement | None:
    """What the functions that a person decided on say of the rear signals."""
    said = {function for place in places for _, function, _ in place.said}
    if any("stop_turn" in function for function in said):
        return Arrangement.COMBINED
    return Arrangement.SEPARATE if said & {Function.TURN_LEFT, Function.TURN_RIGHT, Function.STOP} else None


def against_readings(places: Sequence[PlaceFacts], vehicle: VehicleFacts) -> tuple[Odd, ...]:
    """Every wire of which a person decided something that its own readings speak against."""
    if not any(place.said for place in places):
        return ()
    found = []
    arrangement = vehicle.arrangement or _said_arrangement(places)
    measured = _identified(tuple(place.point for place in places), arrangement, _lacks(places, vehicle))
    for place, belief in zip(places, measured, strict=True):
        for pin, function, variant in _decided(place):
            own = [each for each in place.point.evidence if each.pin == pin]
            readings = speaking_against(own, function, variant)
            if readings:
                found.append(Odd(place.point.name, pin, function, belief.wire(pin).function, readings))
    return tuple(found)


def _decided(place: PlaceFacts) -> Iterator[tuple[str, Function, str]]:
    """Pins of which a person decided what they do; in the variant that fits their readings where none was named."""
    for pin, function, variant in place.said:
        own = [each for each in place.point.evidence if each.pin == pin]
        yield pin, function, variant or likeliest_variant(own, function)


def _as_said(belief: Belief, place: PlaceFacts) -> Belief:
    """A belief with the wires of which a person decided what they do."""
    said = {pin: (function, variant) for pin, function, variant in _decided(place)}
    if not said:
        return belief
    wires = tuple(
        wire
        if wire.pin not in said
        else replace(
            wire,
            function=said[wire.pin][0],
            variant=said[wire.pin][1],
            probability=1.0,
            ranked=((said[wire.pin][0], 1.0), *((f, 0.0) for f, _ in wire.ranked if f is not said[wire.pin][0])),
            lack=Lack.NOTHING,
            polarity=polarity_of(said[wire.pin][1]),
        )
        for wire in belief.wires
    )
    return replace(belief, wires=wires)


@lru_cache(maxsize=64)  # a belief holds thousands of small objects: more would only feed the garbage collector
def _identified(
    points: tuple[AccessPoint, ...], arrangement: Arrangement | None, not_fitted: frozenset[Control]
) -> tuple[Belief, ...]:
    return identify(points, arrangement=arrangement, not_fitted=not_fitted)


def scenarios_left(beliefs: Sequence[Belief], vehicle: VehicleFacts | None = None) -> tuple[Scenario, ...]:
    """The variants of the likeliest arrangement that the readings leave open, the likeliest first."""
    if not beliefs:
        return (Scenario(Arrangement.SEPARATE),)
    chances = sorted(
        ((float(chance), scenario) for (scenario, _), chance in zip(WORLDS, beliefs[0].worlds, strict=True)),
        key=lambda each: -each[0],
    )
    arrangement = chances[0][1].arrangement
    of_it = [(chance, scenario) for chance, scenario in chances if scenario.arrangement is arrangement]
    least = STILL_POSSIBLE * sum(chance for chance, _ in of_it)
    known = settled_circuits(beliefs)
    drl, low_beam = daytime_of(known), low_beam_of(known)
    left = tuple(replace(scenario, drl=drl, low_beam=low_beam) for chance, scenario in of_it if chance >= least)
    who = vehicle.brake_with_hazard if vehicle else None
    said = tuple(scenario for scenario in left if scenario.brake_with_hazard is who)
    return said if who is not None and said else left


def settled_circuits(beliefs: Sequence[Belief]) -> list[tuple[Function, str]]:
    """The circuits of the settled wires, each in its variant."""
    return [(wire.function, wire.variant) for each in beliefs for wire in each.wires if wire.is_settled]


def lamp_belief(lamp: LampFacts | None) -> LampBelief | None:
    """What the leads of the lamp to be fitted are, as far as they were tried; None while no lamp is laid out."""
    return None if lamp is None else _identified_leads(lamp.leads, lamp.trials, lamp.claims)


@lru_cache(maxsize=16)
def _identified_leads(
    leads: tuple[str, ...], trials: tuple[Trial, ...], claims: tuple[tuple[str, Function], ...]
) -> LampBelief:
    return identify_leads(leads, trials, claims)


def lead_for(belief: LampBelief, wanted: Function) -> LeadBelief | None:
    """The settled lead that shows this behaviour; an amber one before a red one."""
    order = list(Role)
    fitting = [lead for lead in belief.leads if lead.is_settled and wanted in SERVES.get(lead.role, ())]
    return max(fitting, key=lambda lead: order.index(lead.role), default=None)
