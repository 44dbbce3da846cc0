"""Which controls feed a circuit that is added to a vehicle."""

from __future__ import annotations

from dataclasses import dataclass

from electrics.reference.functions import function_kinds
from electrics.vocabulary import Function

SIDES = ("left", "right")


@dataclass(frozen=True)
class Feed:
    """Controls with which a circuit is on, in pulses, flashing."""

    full: tuple[str, ...] = ()
    dims: tuple[str, ...] = ()
    flashes: tuple[str, ...] = ()


EXTRA_FEEDS: dict[Function, Feed] = {
    kind.function: Feed(kind.full_with, kind.dims_with, kind.flashes_with)
    for kind in function_kinds()
    if kind.full_with or kind.dims_with or kind.flashes_with
}
"""What can be added to any vehicle as a circuit of its own."""
