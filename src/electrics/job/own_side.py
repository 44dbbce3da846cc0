"""Wires on a unit's own side that would do, were they settled; the plan goes to the other side instead."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass

from electrics.design.units import Lead
from electrics.identify.belief import Belief
from electrics.job.hookup_plan import LeadPlan
from electrics.job.plan import Plan
from electrics.job.ways import PlaceWire
from electrics.vocabulary import Function

__all__ = ["OwnSideWire", "far_taps", "own_side_wires"]

LIKELY = 0.8
"""How likely an open wire must be what is tapped far away for measuring it on to be worth saying [-]."""


@dataclass(frozen=True)
class OwnSideWire:
    """A wire that is worth measuring on.

    Attributes
    ----------
    lead : Lead
        It would be for this one.
    place, pin : str
        Where it is.
    probability : float
        That it is what is tapped now [-].
    far : str
        The place that is tapped now.
    """

    lead: Lead
    place: str
    pin: str
    function: Function
    probability: float
    far: str


def far_taps(lead: LeadPlan) -> tuple[PlaceWire, ...]:
    """The wires that a lead of a unit with a side taps on the other side of the vehicle."""
    way, near = lead.shown, ("", lead.lead.side)
    return tuple(each for each in way.tapped if each.side not in near) if way and lead.lead.side else ()


def own_side_wires(plan: Plan) -> tuple[OwnSideWire, ...]:
    """Open wires on the own side of units whose leads are tapped on the other side; the likeliest for each lead."""
    found = []
    for lead in plan.hookup.leads:
        for tapped in far_taps(lead):
            open_here = list(_open(plan.beliefs, tapped.wire.function, lead.lead.side))
            if open_here:
                place, pin, chance = max(open_here, key=lambda each: each[2])
                found.append(OwnSideWire(lead.lead, place, pin, tapped.wire.function, chance, tapped.place))
    return tuple(found)


def _open(beliefs: tuple[Belief, ...], function: Function, side: str) -> Iterator[tuple[str, str, float]]:
    for belief in beliefs:
        for wire in belief.wires if belief.point.side == side else ():
            if not wire.is_settled and wire.function is function and wire.probability >= LIKELY:
                yield belief.point.name, wire.pin, wire.probability
