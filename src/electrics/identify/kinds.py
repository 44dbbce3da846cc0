"""What an access point usually holds: the prior, by kind of place, side and arrangement.

For every function the table gives the chance that a wire of it is there at all, and the chance of yet
another one once there is one. `own` and `other` in the table are the sides seen from the access point.
"""

from __future__ import annotations

import re
from dataclasses import dataclass
from functools import cache, lru_cache

import numpy as np
from numpy.typing import NDArray

from electrics.document.places import Side
from electrics.reference.tables import Table, read_table
from electrics.vocabulary import FUNCTIONS, Arrangement, Function

__all__ = [
    "FUSE_BOX",
    "UNCLAIMED_KIND",
    "AccessKind",
    "PlugPin",
    "access_kinds",
    "count_prior",
    "pin_out",
    "plug_pins",
    "side_named",
    "wire_prior",
]


@dataclass(frozen=True)
class AccessKind:
    """A kind of place where wires are reached."""

    id: str
    name: str
    is_sided: bool
    pin_word: str
    """What one wire's place is called: pin, or position in a fuse box."""
    face: str
    """Which half a drawing of a standard plug shows, and from where; empty without a standard face."""
    outline: str
    """`round`, `flat`, `grid` of rows and columns, or empty: not drawn."""
    zone: str
    """Where on a vehicle it is, roughly; its side comes on top. See `electrics.reference.zones`."""
    has_lamp: bool
    """A lamp sits there, with its own pigtail."""


@dataclass(frozen=True)
class PlugPin:
    """One contact of a standard plug: what the standard puts there, and where on the face (0 to 100)."""

    plug: str
    pin: str
    function: Function
    colour: str
    x: float
    y: float


@dataclass(frozen=True)
class _Content:
    separate: float
    combined: float
    again: float


SIDE_WORDS = {"left": Side.LEFT, "lh": Side.LEFT, "right": Side.RIGHT, "rh": Side.RIGHT}
"""Words in a name that say a side."""


def side_named(name: str) -> Side:
    """The side that a name speaks of; none where it speaks of none or of both."""
    found = {side for word, side in SIDE_WORDS.items() if word in re.findall("[a-z]+", name.lower())}
    return found.pop() if len(found) == 1 else Side.NONE


@cache
def access_kinds() -> Table[AccessKind]:
    """The kinds of access point there are."""
    return read_table(
        "access_points",
        ("kind", "name", "sided", "pin_word", "face", "outline", "zone", "lamp"),
        lambda row: AccessKind(
            row["kind"],
            row["name"],
            row["sided"] == "yes",
            row["pin_word"],
            row["face"],
            row["outline"],
            row["zone"],
            row["lamp"] == "yes",
        ),
    )


@cache
def plug_pins() -> Table[PlugPin]:
    """Every contact of every standard plug."""
    return read_table(
        "plug_pins",
        ("key", "plug", "pin", "function", "colour", "x", "y"),
        lambda row: PlugPin(
            row["plug"], row["pin"], Function(row["function"]), row["colour"], float(row["x"]), float(row["y"])
        ),
    )


@cache
def pin_out(kind: str) -> tuple[PlugPin, ...]:
    """The contacts of a standard plug in their order; none for any other kind of place."""
    return tuple(pin for pin in plug_pins() if pin.plug == kind)


@cache
def _contents() -> Table[_Content]:
    return read_table(
        "access_point_contents",
        ("key", "kind", "function", "separate", "combined", "again"),
        lambda row: _Content(float(row["separate"]), float(row["combined"]), float(row["again"])),
    )


@lru_cache(maxsize=1024)
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
        Chance of each count [-]; beyond the first geometric, as far as there are wires.
    """
    prior = np.empty((len(FUNCTIONS), n_wires + 1))
    for index, function in enumerate(FUNCTIONS):
        present, again = _expected(kind, function, side, arrangement)
        shares = (1 - again) * again ** np.arange(n_wires)
        prior[index, 0] = 1 - present
        prior[index, 1:] = present * shares / max(shares.sum(), 1e-300)
    return prior


@lru_cache(maxsize=1024)
def wire_prior(kind: str, side: Side, arrangement: Arrangement, n_wires: int) -> NDArray[np.float64]:
    """The same where some wires of the place may not be listed: what is not there says nothing.

    Parameters
    ----------
    kind, side, arrangement, n_wires
        As for `count_prior`.

    Returns
    -------
    ndarray (len(FUNCTIONS), n_wires + 1)
        Weight of each count [-]: of one wire what its function's share of such wires is, of each more that share and
        how often there is another one.
    """
    expected = [_expected(kind, function, side, arrangement) for function in FUNCTIONS]
    counts = np.array([present / (1 - min(again, MOST_AGAIN)) for present, again in expected])
    shares = counts / counts.sum()
    more = shares * np.array([max(again, LEAST_AGAIN) for _, again in expected])
    prior = np.ones((len(FUNCTIONS), n_wires + 1))
    prior[:, 1:] = shares[:, None] * more[:, None] ** np.arange(n_wires)
    return prior


LEAST_AGAIN, MOST_AGAIN = 0.02, 0.8
FUSE_BOX = "fuse_box"
"""The place whose wires have fuses of their own."""
UNCLAIMED_KIND = "connector"
"""What a standard plug is taken for where nothing is believed of its standard."""
PLUG = "plug"
"""What a standard plug holds beside its standard: a contact that is dead or leads nowhere, no lamp of the front."""
PIN_OUT_KEPT = 0.9
"""How often a function of a plug's standard is there at all (estimate)."""


def _expected(kind: str, function: Function, side: Side, arrangement: Arrangement) -> tuple[float, float]:
    """Chance that a function is there, and of another one after each."""
    standard = [pin.function for pin in pin_out(kind)]
    content = _contents()[f"{PLUG if standard else kind}:{_seen_from(function, side)}"]
    present = content.separate if arrangement is Arrangement.SEPARATE else content.combined
    if not standard:
        return present, content.again
    n_standard = standard.count(function)
    if n_standard:
        return PIN_OUT_KEPT, max(content.again, 1 - 1 / n_standard)
    return present, content.again


def _seen_from(function: Function, side: Side) -> str:
    for name in (Side.LEFT, Side.RIGHT):
        if function.endswith(f"_{name}"):
            relation = "own" if side in (Side.NONE, name) else "other"
            return function.removesuffix(name) + relation
    return function
