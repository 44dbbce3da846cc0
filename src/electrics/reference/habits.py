"""How a vehicle watches its lamps, and how warm it gets there: assumed, with a range, while nobody has measured."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from functools import cache

from electrics.errors import FactError
from electrics.reference.tables import Table, read_table

__all__ = [
    "AIR_C",
    "LEAK_OHM",
    "MOST_SHARE",
    "TEST_HZ",
    "TEST_MS",
    "TOW_SIDE_A",
    "TOW_TAIL_A",
    "WARNS_SHARE",
    "WATCHES_ALL",
    "Habit",
    "Stated",
    "habit",
    "habits",
    "stated_of",
]

WARNS_SHARE, LEAK_OHM, TEST_MS, TEST_HZ, AIR_C = "warns_share", "leak_ohm", "test_ms", "test_hz", "air_c"
WATCHES_ALL, MOST_SHARE = "watches_all", "most_share"
TOW_SIDE_A, TOW_TAIL_A = "tow_side_a", "tow_tail_a"
"""Ids: below which share of a bulb's current it reads as out; above which share of a full set's current an output
warns of too much (0: no such limit, as is assumed while nobody knows); pull-up of an output that is off, on 12 V;
test pulses, how long and how often; air around what gets hot; whether it watches stop and tail too (0 or 1);
what the module of a tow socket carries a side and for all tail lamps, on 12 V (from memory: small ones 2.1 and 4.2 A,
powered ones 4 to 5 and 7.5 A)."""

Stated = Sequence[tuple[str, float]]
"""What somebody measured or knows, by id."""


@dataclass(frozen=True)
class Habit:
    """One of them.

    Attributes
    ----------
    usual, low, high : float
        What is assumed, and between what it usually is [unit].
    least, most : float
        Between what it can be at all [unit].
    """

    id: str
    usual: float
    low: float
    high: float
    least: float
    most: float
    unit: str


@cache
def habits() -> Table[Habit]:
    """Every habit, by id."""
    return read_table(
        "habits",
        ("habit", "usual", "low", "high", "least", "most", "unit"),
        lambda row: Habit(
            row["habit"],
            float(row["usual"]),
            float(row["low"]),
            float(row["high"]),
            float(row["least"]),
            float(row["most"]),
            row["unit"],
        ),
    )


def habit(stated: Stated, id: str, scale: float = 1.0) -> float:
    """A habit as it was stated, else the usual one of 12 V times `scale` [its unit]."""
    return dict(stated).get(id, scale * habits()[id].usual)


def stated_of(values: Mapping[str, float]) -> tuple[tuple[str, float], ...]:
    """What was stated, in the order of the table; FactError for what cannot be."""
    for id, value in values.items():
        if id not in habits().rows:
            raise FactError(
                "habits", f"“{id[:20]}” is nothing that a vehicle does. Known: {', '.join(habits().rows)}."
            )
        row = habits()[id]
        if not row.least <= value <= row.most:
            raise FactError(id, f"{value:g} {row.unit} cannot be. Expected {row.least:g} to {row.most:g}.")
    return tuple((id, float(values[id])) for id in habits().rows if id in values)
