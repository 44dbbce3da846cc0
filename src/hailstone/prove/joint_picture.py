"""A joint drawn with all its ends: factory wires in their colours with tracers, both halves where one is cut."""

from __future__ import annotations

from dataclasses import dataclass

from electrics.build.steps import Step
from electrics.design.design import End, EndKind, Join
from electrics.formats.colour import parse_colour
from hailstone.wording.step_words import here

__all__ = ["JointPicture", "joint_picture"]

WIDTH, STEP, TOP = 460.0, 34.0, 26.0
BODY_X, BODY_W = 190.0, 80.0
BODIES = {"red": ("#a8281f", "#fff"), "blue": ("#2d6fb5", "#fff"), "yellow": ("#e2b33c", "#14222b")}
"""Insulated butt connectors by their colour, each with that of its name."""
OTHER_BODY, PLAIN_WIRE = ("#5a6b76", "#fff"), "#5a6b76"


@dataclass(frozen=True)
class Strand:
    """One end: its line, its colours, and what it is called."""

    y: float
    is_left: bool
    base: str
    tracer: str
    name: str


@dataclass(frozen=True)
class JointPicture:
    """A joint: its body and what goes into it from both sides."""

    height: float
    body: str
    ink: str
    body_name: str
    strands: tuple[Strand, ...]
    width: float = WIDTH
    body_x: float = BODY_X
    body_w: float = BODY_W

    @property
    def body_h(self) -> float:
        return self.height - 12.0

    @property
    def middle(self) -> float:
        return self.body_x + self.body_w / 2


def joint_picture(step: Step) -> JointPicture | None:
    """The picture of the joint that a step makes; None for a step that makes none."""
    if step.kind.id != "connect" or len(step.joins) != 1:
        return None
    (join,) = step.joins
    left, right = _sides(join, step.place)
    count = max(len(left), len(right))
    strands = [
        Strand(TOP + STEP * (n + (count - len(side)) / 2), is_left, *_colours(end), name)
        for side, is_left in ((left, True), (right, False))
        for n, (end, name) in enumerate(side)
    ]
    colour = join.fit.connector_colour if join.fit and join.method == "crimp_butt" else ""
    height = TOP * 2 + STEP * (count - 1)
    return JointPicture(height, *BODIES.get(colour, OTHER_BODY), colour, tuple(strands))


Named = list[tuple[End, str]]


def _sides(join: Join, place: str) -> tuple[Named, Named]:
    """What comes from the vehicle on the left, what goes on from here on the right."""
    factory = [end for end in join.members if end.kind in (EndKind.PIN, EndKind.SUPPLY)]
    others = [end for end in join.members if end not in factory]
    left: Named = [(end, _named(end, place, "vehicle's half" if end in join.halved else "")) for end in factory]
    right: Named = [(end, _named(end, place, "lamp's half")) for end in join.halved]
    rest: Named = [(end, here(end, place)) for end in others]
    if not left:
        return rest[:1], rest[1:]
    return left, right + rest


def _named(end: End, place: str, half: str) -> str:
    return ", ".join(filter(None, (here(end, place), half)))


def _colours(end: End) -> tuple[str, str]:
    """How a wire is drawn: its base and its tracer; a tracer of none is empty."""
    parts = parse_colour(end.colour).parts if end.colour else ()
    if not parts:
        return PLAIN_WIRE, ""
    return parts[0].hex, parts[1].hex if len(parts) > 1 else ""
