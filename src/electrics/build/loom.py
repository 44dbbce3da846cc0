"""The loom as it lies along the vehicle: places where they are, and what runs between them.

Board view: the front is on the left, the left side of the vehicle on top. Places stand by their zones; several in one
zone stand `APART_M` apart. What runs from place to place is a leg with its own length, which a
person may have measured: it is written, the drawing shows which way it goes.
"""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass

from electrics.build.legs import Leg, legs_of
from electrics.build.sheet import BuildPlan
from electrics.design.design import Fitted, Join, Wiring
from electrics.design.routes import Spot
from electrics.reference.zones import bodies, zones

__all__ = ["LoomLeg", "LoomNode", "LoomView", "loom_of"]

APART_M = 0.9
"""From one place to the next of the same zone, as drawn [m]."""


@dataclass(frozen=True)
class LoomNode:
    """A place: where it is drawn [m], and what is there."""

    name: str
    x_m: float
    y_m: float
    joins: tuple[Join, ...]
    parts: tuple[Fitted, ...]


@dataclass(frozen=True)
class LoomLeg:
    """What runs from one place to the next: its wires, thickest first, and its length [m]."""

    first: LoomNode
    second: LoomNode
    wires: tuple[Wiring, ...]
    length_m: float
    is_assumed: bool


@dataclass(frozen=True)
class LoomView:
    """The whole loom; `local` are wires that stay at one place."""

    nodes: tuple[LoomNode, ...]
    legs: tuple[LoomLeg, ...]
    local: tuple[Wiring, ...]


def loom_of(plan: BuildPlan, body: str) -> LoomView:
    """The loom of a build plan on a kind of vehicle.

    Parameters
    ----------
    plan : BuildPlan
    body : str
        Of `electrics.reference.zones.bodies`.

    Returns
    -------
    LoomView
        Places with anything to do at them; every wire is in a leg or local.
    """
    spots = _spots(plan)
    at = _positions(spots.values(), body)
    nodes = {
        name: LoomNode(
            name,
            *at[name],
            tuple(join for join in plan.joins if join.spot.name == name and join.method != "stays"),
            tuple(part for part in plan.fitted if part.spot.name == name),
        )
        for name in spots
    }
    return LoomView(
        tuple(nodes.values()),
        tuple(_drawn(nodes, leg) for leg in legs_of(plan.wires)),
        tuple(wire for wire in plan.wires if len(wire.by) < 2),
    )


def _drawn(nodes: dict[str, LoomNode], leg: Leg) -> LoomLeg:
    wires = tuple(sorted(leg.wires, key=lambda wire: -wire.conductor.area_mm2))
    return LoomLeg(nodes[leg.first], nodes[leg.second], wires, leg.length_m, any(wire.is_assumed for wire in wires))


def _spots(plan: BuildPlan) -> dict[str, Spot]:
    """Every place of the plan, by name; those that wires only pass by are where they pass."""
    ends = [end for wire in plan.wires for end in wire.ends]
    ends += [end for join in plan.joins for end in join.members]
    found = {part.spot.name: part.spot for part in plan.fitted}
    found |= {end.spot.name: end.spot for end in (*ends, *plan.capped)}
    for wire in plan.wires:
        for name in wire.by:
            found.setdefault(name, Spot(name, wire.ends[0].spot.zone))
    return found


def _positions(spots: Iterable[Spot], body: str) -> dict[str, tuple[float, float]]:
    """Where places are drawn [m]: by zone, those of one zone side by side, towards the middle of the vehicle."""
    kind, seen = bodies()[body], dict[str, int]()
    found = {}
    for spot in sorted(spots, key=lambda each: (each.zone, each.row, each.name)):
        zone = zones()[spot.zone]
        n = seen.get(spot.zone, 0)
        seen[spot.zone] = n + 1
        step = n * APART_M * (-1 if zone.along > 0.5 else 1)
        found[spot.name] = (zone.along * kind.length_m + step, zone.across * max(kind.width_m, 1.2))
    return found
