"""What a drawing of a circuit is made of: boxes, runs, joints, labels, and the words on them."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from dataclasses import dataclass

from electrics.design.design import End, EndKind
from electrics.formats.colour import parse_colour
from hailstone.wording.words import at_pin

__all__ = [
    "Box",
    "CircuitView",
    "Dot",
    "Label",
    "WireRun",
    "colours_of",
    "in_lines",
    "number_of",
    "pin_name",
    "run_of",
    "short_end",
]


@dataclass(frozen=True)
class Box:
    """A named part: centre, size, lines, whether it carries anything in this state."""

    x: float
    y: float
    w: float
    h: float
    name: str
    note: str
    is_live: bool

    @property
    def left(self) -> float:
        """Of its rectangle, from its centre."""
        return -self.w / 2

    @property
    def top(self) -> float:
        """Of its rectangle, from its centre."""
        return -self.h / 2


@dataclass(frozen=True)
class WireRun:
    """A wire through points, in its base and tracer colour.

    `is_live` where it carries voltage, `is_back` where that comes by back-feed.
    """

    path: str
    base: str
    tracer: str
    is_live: bool
    is_back: bool = False


@dataclass(frozen=True)
class Label:
    """A text at a point; `anchor` as SVG has it."""

    x: float
    y: float
    text: str
    anchor: str = "middle"


@dataclass(frozen=True)
class Dot:
    """A joint with its number."""

    x: float
    y: float
    text: str
    is_tap: bool = False


@dataclass(frozen=True)
class CircuitView:
    """The whole drawing; `grounds` are the feet of its ground signs."""

    title: str
    width: float
    height: float
    columns: tuple[tuple[float, float, str], ...]
    boxes: tuple[Box, ...]
    runs: tuple[WireRun, ...]
    joints: tuple[Dot, ...]
    labels: tuple[Label, ...]
    lamp: Box
    glow: float
    grounds: tuple[tuple[float, float], ...]

    @property
    def least(self) -> float:
        """Least width [px] at which it can be read."""
        return round(LEAST * self.width)


LEAST = 0.69


def pin_name(end: End) -> str:
    """`pin 3`, `its tail socket`."""
    return end.terminal if " " in end.terminal else at_pin(end.terminal, is_at_fuse=end.is_at_fuse)


def short_end(end: End) -> str:
    """Where a ground goes, as a drawing says it."""
    return f"{pin_name(end)}, {end.what}" if end.kind is EndKind.PIN else end.what


def in_lines(text: str, most: int = 24) -> Iterator[str]:
    """A text in lines that are not wider than a column."""
    line = ""
    for word in text.split():
        if line and len(line) + len(word) + 1 > most:
            yield line
            line = word
        else:
            line = f"{line} {word}".strip()
    if line:
        yield line


def number_of(joint: str) -> str:
    """`J3` of `joint 3`."""
    return "J" + joint.removeprefix("joint ")


def colours_of(colour: str) -> tuple[str, str]:
    """Base and tracer as a drawing has them; grey where none is known."""
    parsed = parse_colour(colour)
    if not parsed.parts:
        return "#8a979e", ""
    return parsed.parts[0].hex, parsed.parts[1].hex if len(parsed.parts) > 1 else ""


def run_of(
    points: Sequence[tuple[float, float]], colour: tuple[str, str], *, is_live: bool, is_back: bool = False
) -> WireRun:
    """A wire through some points."""
    return WireRun("M" + " L".join(f"{x:g} {y:g}" for x, y in points), *colour, is_live, is_back)
