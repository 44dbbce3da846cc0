"""What people add: each kind with its leads, the behaviour each lead wants, usual load, mounting and caution."""

from __future__ import annotations

from dataclasses import dataclass
from functools import cache

from electrics.hookup.wanted import Wanted, parse_wanted
from electrics.reference.tables import Table, read_table
from electrics.vocabulary import Polarity

__all__ = ["Accessory", "Lead", "accessories"]


@dataclass(frozen=True)
class Lead:
    """One lead of an accessory.

    Attributes
    ----------
    polarity : Polarity
        `ground` where the lamp has battery always and wants its ground switched.
    technology : str
        `led` or `filament`.
    each_a : float
        Usual current of one lamp on it [A].
    """

    id: str
    wanted: Wanted
    polarity: Polarity
    technology: str
    each_a: float


@dataclass(frozen=True)
class Accessory:
    """A kind of thing that people add.

    Attributes
    ----------
    lamp : str
        What one of it is called on a sheet.
    is_removable, is_swinging, is_wet : bool
        The part that carries it comes off, moves, is in spray.
    caution : str
        Id of what to watch for.
    """

    id: str
    name: str
    lamp: str
    count: int
    is_removable: bool
    is_swinging: bool
    is_wet: bool
    caution: str

    @property
    def leads(self) -> tuple[Lead, ...]:
        """Its leads, in order."""
        return tuple(lead for accessory, lead in _leads() if accessory == self.id)


@cache
def accessories() -> Table[Accessory]:
    """Every kind, by id."""
    return read_table(
        "accessories",
        ("accessory", "name", "lamp", "count", "removable", "swinging", "wet", "caution"),
        lambda row: Accessory(
            row["accessory"],
            row["name"],
            row["lamp"],
            int(row["count"]),
            row["removable"] == "yes",
            row["swinging"] == "yes",
            row["wet"] == "yes",
            row["caution"],
        ),
    )


@cache
def _leads() -> tuple[tuple[str, Lead], ...]:
    table = read_table(
        "accessory_leads",
        ("key", "accessory", "lead", "wanted", "polarity", "technology", "each_a"),
        lambda row: (
            accessories()[row["accessory"]].id,
            Lead(
                row["lead"],
                parse_wanted(row["wanted"]),
                Polarity(row["polarity"]),
                row["technology"],
                float(row["each_a"]),
            ),
        ),
    )
    return tuple(table)
