"""What a new job may be about, in pictures: what is done, what is fitted, and where on the vehicle that is."""

from __future__ import annotations

from collections.abc import Collection
from dataclasses import dataclass
from functools import cache

from electrics.design.accessories import OWN, accessories

__all__ = ["ABOUT", "SPOTS", "Thing", "things"]

ABOUT = {
    "add": ("Add lamps", "or a camera, a switch"),
    "replace": ("Replace lamps", "or their bulbs"),
    "rewire": ("Rewire", "a harness, different behavior"),
    "tow": ("Tow a car", "lights on the one behind"),
    "wrong": ("Something is wrong", "flash, warning, glow, dark"),
}
"""What a job is about, and a word more on it."""
SPOTS = {
    "front left": (28, 36),
    "front right": (28, 12),
    "mirror left": (40, 42),
    "mirror right": (40, 6),
    "rear left": (92, 36),
    "rear right": (92, 12),
    "rear centre": (92, 24),
    "towed rear left": (138, 34),
    "towed rear right": (138, 14),
}
"""Places on a vehicle seen from above; it drives to the left, so its left side is below."""


@dataclass(frozen=True)
class Thing:
    """Something that may be fitted, with the spots that are marked on its picture."""

    id: str
    name: str
    about: str
    spots: tuple[tuple[int, int], ...]
    is_towed: bool
    is_picked: bool


def things(picked: Collection[str]) -> list[Thing]:
    """Every kind of the table, and the custom one; `picked` are ticked."""
    found = [Thing(id, name, about, spots, towed, id in picked) for id, name, about, spots, towed in _known()]
    return [*found, Thing(OWN, "Something else: enter its leads", "", (), is_towed=False, is_picked=OWN in picked)]


@cache
def _known() -> tuple[tuple[str, str, str, tuple[tuple[int, int], ...], bool], ...]:
    found = []
    for each in accessories():
        seats = {f"{kind.seat} {side}".strip() for kind, side in each.kinds}
        spots = tuple(SPOTS[seat] for seat in sorted(seats) if seat in SPOTS) or ((92, 24),)
        towed = any(kind.seat.startswith("towed") for kind, _ in each.kinds)
        found.append((each.id, each.name, each.about, spots, towed))
    return tuple(found)
