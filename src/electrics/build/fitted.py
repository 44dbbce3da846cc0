"""What of a design is new where the rest is on the vehicle already."""

from __future__ import annotations

from collections import Counter
from collections.abc import Callable, Iterable
from dataclasses import replace
from typing import TypeVar

from electrics.design.design import Design, End, EndKind, Fitted, Join, Wiring

__all__ = ["what_is_new"]

Thing = TypeVar("Thing", Wiring, Join, Fitted)


def what_is_new(design: Design, fitted: Design) -> Design:
    """A design without the wires, joints and parts that another one has as well.

    Parameters
    ----------
    design : Design
    fitted : Design
        What is there. Labels differ between the two, so a joint is known by what meets in it, a wire by its ends.

    Returns
    -------
    Design
        With the labels of the first.
    """
    there, here = _Names(fitted), _Names(design)
    wires = _without(design.wires, here.of_wire, Counter(map(there.of_wire, fitted.wires)))
    joins = _without(design.joins, here.of_join, Counter(map(there.of_join, fitted.joins)))
    parts = _without(design.parts, _of_part, Counter(map(_of_part, fitted.parts)))
    brings = {id: count - fitted.brings.get(id, 0) for id, count in design.brings.items()}
    return replace(
        design,
        wires=tuple(wires),
        joins=tuple(joins),
        parts=tuple(parts),
        sealed=tuple(end for end in design.sealed if end.what in {part.label for part in parts}),
        capped=tuple(end for end in design.capped if end not in fitted.capped),
        brings={id: count for id, count in brings.items() if count > 0},
    )


class _Names:
    """What ends, wires and joints of one design are, whatever they are labelled."""

    def __init__(self, design: Design) -> None:
        self.joins = {join.label: join for join in design.joins}
        self.kinds = {part.label: f"{part.part} {part.value} {part.leads}" for part in design.parts}

    def of_end(self, end: End) -> str:
        if end.kind is EndKind.JOINT:
            return " + ".join(sorted(self._members(self.joins[end.what]))) + f" at {end.spot.name}"
        return f"{self.kinds.get(end.what, end.what)} {end.terminal}"

    def of_wire(self, wire: Wiring) -> str:
        return " to ".join(sorted(map(self.of_end, wire.ends)))

    def of_join(self, join: Join) -> str:
        wires = sum(member.kind is EndKind.WIRE for member in join.members)
        return " + ".join(sorted(self._members(join))) + f" and {wires} wires at {join.spot.name}"

    def _members(self, join: Join) -> list[str]:
        return [self.of_end(member) for member in join.members if member.kind is not EndKind.WIRE]


def _of_part(part: Fitted) -> str:
    return f"{part.part} {part.value} {part.leads} at {part.spot.name}"


def _without(found: Iterable[Thing], name: Callable[[Thing], str], there: Counter[str]) -> list[Thing]:
    """Those of some things that are not there yet, each there counted once."""
    left: list[Thing] = []
    for each in found:
        key = name(each)
        if there[key]:
            there[key] -= 1
        else:
            left.append(each)
    return left
