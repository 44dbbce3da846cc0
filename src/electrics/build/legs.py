"""Stretches of a loom: what runs from one place to the next."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass
from itertools import pairwise

from electrics.design.design import Wiring

__all__ = ["Leg", "legs_of"]


@dataclass(frozen=True)
class Leg:
    """The wires from one place to the next, in the order in which they were laid out."""

    first: str
    second: str
    wires: tuple[Wiring, ...]

    @property
    def length_m(self) -> float:
        """Its length [m]: the longest of its wires' shares."""
        return max(wire.routed_m / (len(wire.by) - 1) for wire in self.wires)


def legs_of(wires: Iterable[Wiring]) -> tuple[Leg, ...]:
    """The stretches that some wires take; one that stays at its place takes none."""
    found: dict[frozenset[str], list[Wiring]] = {}
    order: dict[frozenset[str], tuple[str, str]] = {}
    for wire in wires:
        for first, second in pairwise(wire.by):
            pair = frozenset((first, second))
            order.setdefault(pair, (first, second))
            found.setdefault(pair, []).append(wire)
    return tuple(Leg(*order[pair], tuple(on_it)) for pair, on_it in found.items())
