"""Standard blade fuses."""

from __future__ import annotations

from dataclasses import dataclass
from functools import cache

from electrics.reference.tables import Table, read_table

__all__ = ["CONTINUOUS_SHARE", "FuseRating", "fuse_name", "fuses"]

CONTINUOUS_SHARE = 0.8
"""Share of its rating that a fuse may carry for long [-] (common practice)."""


@dataclass(frozen=True)
class FuseRating:
    """A standard blade fuse."""

    rating_a: float
    colour: str


@cache
def fuses() -> Table[FuseRating]:
    """The standard blade fuses, smallest first, by rating."""
    return read_table(
        "blade_fuses", ("rating_a", "colour"), lambda row: FuseRating(float(row["rating_a"]), row["colour"])
    )


def fuse_name(rating: str) -> str:
    """A fuse by rating and colour, `10 A red`; its rating alone where no standard fuse has it."""
    colours = {f"{fuse.rating_a:g} A": fuse.colour for fuse in fuses()}
    return f"{rating} {colours.get(rating, '')}".strip()
