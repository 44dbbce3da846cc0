"""The access points of a job, left and right drawn apart, and what the other side can be started from."""

from __future__ import annotations

import re
from dataclasses import dataclass

from electrics.document.places import Origin, Side
from electrics.identify.belief import Belief
from electrics.identify.kinds import FUSE_BOX, access_kinds
from electrics.vocabulary import Function
from hailstone.identify.models import AccessPoint
from hailstone.jobs.models import Job
from hailstone.layers.beliefs import known_at
from hailstone.layers.places import SaidPlace, SaidWire

OTHER = {Side.LEFT: Side.RIGHT, Side.RIGHT: Side.LEFT}


@dataclass(frozen=True)
class ShownPlace:
    """One access point with how far it is: how much is known of what is asked for there."""

    point: AccessPoint
    settled: int
    asked: int
    is_here: bool

    @property
    def is_done(self) -> bool:
        return 0 < self.asked == self.settled


def grouped(job: Job, here: AccessPoint) -> list[tuple[str, list[ShownPlace]]]:
    """The job's access points by side, seen in the direction of travel: left, middle, right."""
    groups: dict[str, list[ShownPlace]] = {"Left": [], "Middle": [], "Right": []}
    for point in job.points.all():
        done = known_at(job, point.id)
        side = {Side.LEFT: "Left", Side.RIGHT: "Right"}.get(Side(point.side), "Middle")
        groups[side].append(ShownPlace(point, sum(done), len(done), point.id == here.id))
    return [(name, places) for name, places in groups.items() if places]


def other_side(point: AccessPoint, belief: Belief, taken: set[str]) -> SaidPlace | None:
    """The same lamp on the other side: functions expected where this side has settled, colours unknown.

    None for a place without a side, and where the other side is there already.
    """
    side = Side(point.side)
    if side not in OTHER:
        return None
    name = _mirrored_name(point.name, side)
    if name in taken:
        return None
    wires = [
        SaidWire(pin.label, "", str(mirrored(wire.function)) if wire.is_settled else "")
        for pin, wire in zip(point.pins.all(), belief.wires, strict=True)
    ]
    return SaidPlace(
        name,
        point.kind,
        str(OTHER[side]),
        wires,
        point.name,
        str(Origin.OTHER_SIDE),
        point.face_rows,
        point.seen_from,
        point.all_wires,
        _swapped(point.zone, side),
    )


def second_plug(point: AccessPoint, belief: Belief, taken: set[str]) -> SaidPlace | None:
    """The other plug of a splitter: wired pin to pin, so what has settled here is expected there.

    None for lamps and fuse boxes, which no splitter plugs into, and where the plug is there already.
    """
    kind = access_kinds()[point.kind]
    name = f"{point.name}, second plug"
    if kind.has_lamp or kind.id == FUSE_BOX or name in taken or point.name.endswith(", second plug"):
        return None
    wires = [
        SaidWire(pin.label, pin.colour, str(wire.function) if wire.is_settled else "")
        for pin, wire in zip(point.pins.all(), belief.wires, strict=True)
    ]
    origin = str(Origin.SPLITTER)
    return SaidPlace(
        name, point.kind, point.side, wires, point.name, origin, point.face_rows, point.seen_from, point.all_wires,
        point.zone,
    )  # fmt: skip


def mirrored(function: Function) -> Function:
    """The function that the other side has: `turn_left` becomes `turn_right`."""
    for own, other in OTHER.items():
        if function.endswith(f"_{own}"):
            return Function(function.removesuffix(str(own)) + str(other))
    return function


def _mirrored_name(name: str, side: Side) -> str:
    swapped = _swapped(name, side)
    return swapped if swapped != name else f"{name}, {OTHER[side]}"


def _swapped(text: str, side: Side) -> str:
    """A text with the word for one side in place of the word for the other."""

    def swap(match: re.Match[str]) -> str:
        word = str(OTHER[side])
        return word.capitalize() if match[0][0].isupper() else word

    return re.sub(rf"\b{side}\b", swap, text, flags=re.IGNORECASE)
