"""Where things are on a vehicle, roughly: zones of a body, for lengths of wire that nobody has measured."""

from __future__ import annotations

from dataclasses import dataclass
from functools import cache

from electrics.reference.tables import Table, read_table
from electrics.vocabulary import Control

__all__ = ["BEND_M", "NEAR_M", "Body", "Zone", "bodies", "usual_m", "zone_of", "zones"]

BEND_M = 0.4
"""What up, down and around adds between two zones [m] (estimate)."""


NEAR_M = 0.6
"""From one place to another in the same zone [m] (estimate)."""


@dataclass(frozen=True)
class Zone:
    """A zone: how far from the front and from the left, in shares of length and width [-]."""

    id: str
    name: str
    along: float
    across: float


@dataclass(frozen=True)
class Body:
    """A kind of vehicle: length and width of its loom [m], and the controls that such a vehicle hardly ever has.

    Attributes
    ----------
    has_middle_lamps : bool
        Whether its tail lamp or headlamp may sit in the middle, one for both sides.
    """

    id: str
    name: str
    length_m: float
    width_m: float
    seldom: frozenset[Control] = frozenset()
    has_middle_lamps: bool = False


@cache
def zones() -> Table[Zone]:
    """Every zone, by id."""
    return read_table(
        "zones",
        ("zone", "name", "along", "across"),
        lambda row: Zone(row["zone"], row["name"], float(row["along"]), float(row["across"])),
    )


@cache
def bodies() -> Table[Body]:
    """The kinds of vehicle, by id."""
    return read_table(
        "bodies",
        ("body", "name", "length_m", "width_m", "seldom", "middle_lamps"),
        lambda row: Body(
            row["body"],
            row["name"],
            float(row["length_m"]),
            float(row["width_m"]),
            frozenset(map(Control, row["seldom"].split())),
            row["middle_lamps"] == "yes",
        ),
    )


def usual_m(body: str, first: str, second: str) -> float:
    """A usual length of loom between two places: along, across, and a bend [m]; within a zone they are near."""
    if first == second:
        return NEAR_M
    kind, one, other = bodies()[body], zones()[first], zones()[second]
    length = abs(one.along - other.along) * kind.length_m + abs(one.across - other.across) * kind.width_m
    return round(length + BEND_M, 1)


def zone_of(seat: str, side: str) -> str:
    """The zone of something that sits `rear`, `front`, `mirror`, or just in a zone, on a side or in the middle."""
    if seat in zones().rows:
        return seat
    found = f"{seat} {side or 'centre'}"
    return found if found in zones().rows else f"{seat} left"
