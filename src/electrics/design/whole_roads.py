"""Wires that carry a lamp's current one after another, sized so that the whole road loses no more than one run may.

A run is sized for its own lamp. Where several lamps share the wire from the battery, or a module or a relay stands
between two lengths, each wire alone may be right and the road too long: then the wire that loses most gets
the next size, until the road is right. Copper hot, every wire at the most that it carries.
"""

from __future__ import annotations

from collections.abc import Collection, Iterable, Sequence
from dataclasses import replace

from electrics.design.design import Design, DesignLight, End, EndKind, Join, Wiring
from electrics.reference.conductor import HOT_C, Conductor, conductors

__all__ = ["feed_loss_v", "feed_road", "feed_wires", "within"]

CARRYING = ("feed", "supply")
"""Roles of wires that lamps are fed by; a coil's or an input's carry next to nothing."""


def feed_road(lamp: End, wires: Sequence[Wiring], joins: Iterable[Join]) -> list[int]:
    """The wires by which a lamp's lead is fed, from the lamp to the source, as indices into `wires`."""
    hubs = {end.node: join.end.node for join in joins for end in join.members if end.kind is not EndKind.WIRE}
    joined = {join.end.node: join.members for join in joins}
    arriving: dict[str, list[int]] = {}
    for n, wire in enumerate(wires):
        if wire.role in CARRYING and wire.is_one_way:
            arriving.setdefault(wire.ends[1].node, []).append(n)

    def parts_at(node: str, end: End) -> set[str]:
        members = joined.get(node, (end,))
        if any(each.kind in (EndKind.PIN, EndKind.SUPPLY) for each in members):
            return set()  # the source: what else is joined here is fed by it, too
        return {each.what for each in members if each.kind is EndKind.PART}

    road: list[int] = []
    passed: set[str] = set()
    node, end = hubs.get(lamp.node, lamp.node), lamp
    while True:
        found = arriving.get(node, [])
        if not found:
            parts = parts_at(node, end) - passed
            passed |= parts
            found = _into(parts, wires, joined, arriving)
        new = [n for n in found if n not in road]
        if not new:
            return road
        road.append(min(new, key=lambda n: (wires[n].role != "supply", n)))
        end = wires[road[-1]].ends[0]
        node = hubs.get(end.node, end.node)


def _into(
    parts: Collection[str],
    wires: Sequence[Wiring],
    joined: dict[str, tuple[End, ...]],
    arriving: dict[str, list[int]],
) -> list[int]:
    """The wires that bring current to any terminal of some parts."""
    found = []
    for node, indices in arriving.items():
        ends = joined.get(node, (wires[indices[0]].ends[1],))
        if any(end.kind is EndKind.PART and end.what in parts for end in ends):
            found += indices
    return found


def within(
    aims: Sequence[tuple[End, float]], wires: Sequence[Wiring], joins: Sequence[Join], kept: Collection[str]
) -> list[Wiring]:
    """The wires, those of a road that loses too much made thicker.

    Parameters
    ----------
    aims : sequence of (End, float)
        Leads of lamps, and what the wires to each may lose together [V].
    wires, joins : sequence of Wiring, sequence of Join
    kept : collection of str
        Labels of wires whose size somebody picked.

    Returns
    -------
    list of Wiring
        In the same order. Where the thickest wire is not enough it stays: the judge says what is lost.
    """
    found = list(wires)
    for lamp, most_v in aims:
        road = feed_road(lamp, found, joins)
        while sum(_lost_v(found[n]) for n in road) > most_v:
            thicker = {n: size for n in road if found[n].label not in kept and (size := _next(found[n].conductor))}
            if not thicker:
                break
            worst = max(thicker, key=lambda n: _lost_v(found[n]))
            found[worst] = replace(found[worst], conductor=thicker[worst])
    return found


def feed_wires(light: DesignLight, design: Design) -> tuple[Wiring, ...]:
    """The wires of a design from a lamp to what feeds it; of several leads of one lamp, the road that loses most."""
    ends = dict.fromkeys(end for end in design.ends() if end.node in light.element.nodes.values())
    roads = [tuple(design.wires[n] for n in feed_road(end, design.wires, design.joins)) for end in ends]
    return max(roads, key=lambda road: sum(map(_lost_v, road)), default=())


def feed_loss_v(light: DesignLight, design: Design) -> float:
    """What the wires of a design lose from source to a lamp's feed, hot, each at the most that it carries [V]."""
    return sum(map(_lost_v, feed_wires(light, design)))


def _lost_v(wire: Wiring) -> float:
    return wire.load_a * wire.routed_m * wire.conductor.ohm_per_m(HOT_C)


def _next(conductor: Conductor) -> Conductor | None:
    """The next thicker size that is sold in the same standard."""
    sizes = conductors(conductor.standard)
    return next((each for each in sizes if each.area_mm2 > conductor.area_mm2), None)
