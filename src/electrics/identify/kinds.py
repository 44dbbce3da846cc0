"""What an access point usually holds: the prior, by kind of place, side and arrangement.

For every function the table gives the chance that a wire of it is there at all, and the chance of yet
another one once there is one. `own` and `other` in the table are the sides seen from the access point.
"""

from __future__ import annotations

from dataclasses import dataclass
from enum import StrEnum
from functools import cache, lru_cache

import numpy as np
from numpy.typing import NDArray

from electrics.reference.tables import Table, read_table
from electrics.vocabulary import FUNCTIONS, Arrangement, Function

__all__ = ["AccessKind", "Side", "access_kinds", "count_prior"]


class Side(StrEnum):
    """Which side of the vehicle an access point is on, seen in the direction of travel."""

    NONE = ""
    LEFT = "left"
    RIGHT = "right"


@dataclass(frozen=True)
class AccessKind:
    """A kind of place where wires are reached."""

    id: str
    name: str
    is_sided: bool


@dataclass(frozen=True)
class _Content:
    separate: float
    combined: float
    again: float


@cache
def access_kinds() -> Table[AccessKind]:
    """The kinds of access point there are."""
    return read_table(
        "access_points",
        ("kind", "name", "sided"),
        lambda row: AccessKind(row["kind"], row["name"], row["sided"] == "yes"),
    )


@cache
def _contents() -> Table[_Content]:
    return read_table(
        "access_point_contents",
        ("key", "kind", "function", "separate", "combined", "again"),
        lambda row: _Content(float(row["separate"]), float(row["combined"]), float(row["again"])),
    )


@lru_cache(maxsize=256)
def count_prior(kind: str, side: Side, arrangement: Arrangement, n_wires: int) -> NDArray[np.float64]:
    """Prior weight of finding 0, 1, 2 ... wires of each function.

    Parameters
    ----------
    kind : str
        Row of `access_kinds()`.
    side : Side
        Without a side, both sides count as own.
    arrangement : Arrangement
    n_wires : int
        Wires at the access point [-].

    Returns
    -------
    ndarray (len(FUNCTIONS), n_wires + 1)
        Chance of each count [-]; geometric beyond the first.
    """
    prior = np.empty((len(FUNCTIONS), n_wires + 1))
    for index, function in enumerate(FUNCTIONS):
        content = _contents()[f"{kind}:{_seen_from(function, side)}"]
        present = content.separate if arrangement is Arrangement.SEPARATE else content.combined
        prior[index, 0] = 1 - present
        prior[index, 1:] = present * (1 - content.again) * content.again ** np.arange(n_wires)
    return prior


def _seen_from(function: Function, side: Side) -> str:
    for name in (Side.LEFT, Side.RIGHT):
        if function.endswith(f"_{name}"):
            relation = "own" if side in (Side.NONE, name) else "other"
            return function.removesuffix(name) + relation
    return function
