"""Turns results into plain shapes with coordinates; the templates print them."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

from electrics.formats.colour import parse_colour
from hailstone.layers.progress import Layer


@dataclass(frozen=True)
class Ring:
    """One layer of the hailstone: a circle whose arc is filled as far as the layer is done."""

    radius: float
    share: float
    status: str


@dataclass(frozen=True)
class WireDrawing:
    """An insulated wire with its tracer, 120 x 22, or a hatched one when the colour is unknown."""

    name: str
    base: str
    is_known: bool
    stripes: tuple[str, ...]
    tracer: str


BODY_LEFT, BODY_RIGHT, BODY_TOP, BODY_BOTTOM = 24.0, 118.0, 3.0, 19.0
STRIPE_WIDTH, STRIPE_PITCH, STRIPE_LEAN = 7.0, 22.0, 9.0


def rings(layers: Sequence[Layer]) -> list[Ring]:
    """Six rings in a 100 x 100 box, the first layer innermost."""
    return [
        Ring(9.0 + 7.4 * index, round(100 * layer.share, 1), str(layer.status)) for index, layer in enumerate(layers)
    ]


def rings_title(layers: Sequence[Layer]) -> str:
    """The drawing in words."""
    return ", ".join(f"{layer.name}: {layer.note}" for layer in layers)


def wire(colour: str) -> WireDrawing:
    """The drawing of a wire of this colour."""
    parsed = parse_colour(colour)
    stripes: list[str] = []
    if len(parsed.parts) > 1:
        left = BODY_LEFT + 9.0
        while left + STRIPE_WIDTH + STRIPE_LEAN < BODY_RIGHT - 3:
            stripes.append(_stripe(left))
            left += STRIPE_PITCH
    return WireDrawing(
        parsed.name or "color not entered",
        parsed.parts[0].hex if parsed.parts else "",
        bool(parsed.parts),
        tuple(stripes),
        parsed.parts[1].hex if len(parsed.parts) > 1 else "",
    )


def _stripe(left: float) -> str:
    right = left + STRIPE_WIDTH
    return (
        f"{left:g},{BODY_BOTTOM:g} {right:g},{BODY_BOTTOM:g} "
        f"{right + STRIPE_LEAN:g},{BODY_TOP:g} {left + STRIPE_LEAN:g},{BODY_TOP:g}"
    )
