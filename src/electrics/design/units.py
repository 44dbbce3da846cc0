"""Units: physical things that are fitted or changed, each with a side and leads of its own."""

from __future__ import annotations

from collections.abc import Iterable, Iterator
from dataclasses import dataclass
from functools import cache

from electrics.design.wanted import Wanted, parse_wanted
from electrics.reference.tables import Table, read_table
from electrics.reference.zones import zone_of
from electrics.vocabulary import Polarity

__all__ = ["LINKED_V", "SIDED", "Lead", "Unit", "UnitKind", "lead_of", "lead_rows", "unit_kinds"]


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
    lamps : int
        How many lamps hang on it [-].
    replaces : tuple of str
        Places of the vehicle (`rear left`) whose factory lamps on the tapped circuits are taken out for it.
    switches_itself : bool
        A bulb for it can be had that turns its steady light off while it flashes.
    name : str
        What it is called, where that is not its id in plain letters.
    unit, side : str
        Of the unit that it belongs to: id, and `left`, `right` or empty.
    label, kind : str
        What it is called on its unit, and the kind of that.
    sockets : int
        Bulbs that it stands in for at each place, where somebody counted them; 0 for all that are there [-].
    is_linked : bool
        It shares its light with the other leads of its unit: what one of them shows it may show.
    """

    id: str
    wanted: Wanted
    polarity: Polarity
    technology: str
    each_a: float
    lamps: int = 1
    replaces: tuple[str, ...] = ()
    switches_itself: bool = False
    name: str = ""
    unit: str = ""
    side: str = ""
    label: str = ""
    kind: str = ""
    sockets: int = 0
    is_linked: bool = False

    def mates(self, leads: Iterable[Lead]) -> Iterator[Lead]:
        """The same lead of the other units of a pair: what is decided for one holds for all until they are parted."""
        for each in leads:
            is_alike = self.label and (each.label, each.kind) == (self.label, self.kind) and each.id != self.id
            if is_alike and (self.kind or {each.side, self.side} == {"left", "right"}):
                yield each

    @property
    def title(self) -> str:
        """What it is called on a page: its own name, with that of its unit where there are several."""
        return self.name or self.id.replace("_", " ")


@dataclass(frozen=True)
class UnitKind:
    """A kind of physical thing that is fitted or changed.

    Attributes
    ----------
    name, lamp : str
        What one is called, and what a sheet calls its light.
    is_removable, is_swinging, is_wet : bool
        The part that carries it comes off, moves, is in spray.
    seat : str
        Where on the vehicle it is: `rear`, `front`, `mirror`, `rear centre`, `towed rear`; its side comes on top.
    is_instead : bool
        It stands in place of the lamp there.
    in_socket : bool
        It is a bulb: nothing is wired.
    keeps_feed : bool
        It stays on the feeds of its own vehicle as well: a diode in each, so that neither feeds the other.
    is_there : bool
        It is a lamp that the vehicle has already: it is wired anew, nothing is bought.
    caution : str
        Id of what to watch for.
    """

    id: str
    name: str
    lamp: str
    is_removable: bool
    is_swinging: bool
    is_wet: bool
    seat: str
    is_instead: bool
    in_socket: bool
    switches_itself: bool
    keeps_feed: bool
    is_there: bool
    caution: str

    @property
    def is_towed(self) -> bool:
        """Whether it is on a towed car: such a car has its own ground."""
        return self.seat.startswith("towed")

    def replaces(self, side: str) -> tuple[str, ...]:
        """Places whose factory lamps one on this side replaces."""
        if not self.is_instead:
            return ()
        if self.seat == "rear centre":
            return ("rear",)
        return tuple(f"{self.seat} {each}" for each in ([side] if side else ["left", "right"]))

    def zone(self, side: str) -> str:
        """Where one on this side is, by `electrics.reference.zones`."""
        return zone_of(self.seat, side)

    @property
    def is_sided(self) -> bool:
        """Whether one of its leads does what its side does."""
        return any(SIDED in row["wanted"] for row in self._rows)

    @property
    def is_counted(self) -> bool:
        """Whether any number of them makes sense: one lead, that does the same on both sides."""
        return len(self._rows) == 1 and not self.is_sided

    @property
    def _rows(self) -> list[dict[str, str]]:
        return [row for kind, row in lead_rows() if kind == self.id]

    def leads(self, side: str) -> tuple[Lead, ...]:
        """Its leads on this side, in order; their ids are those of the kind."""
        return tuple(lead_of(row, side) for row in self._rows)


LINKED_V = 0.1
"""Across 1 kOhm from one lead to ground with another fed, from which the two want a diode [V] (common practice)."""


@dataclass(frozen=True)
class Unit:
    """One unit of a job.

    Attributes
    ----------
    id : str
        `left`, or `lamp` where there is but one.
    name : str
        `left tail lamp`.
    kind : UnitKind or None
        None for one's own.
    side : str
        `left`, `right` or empty.
    lamps : int
        Lamps in a row on the same leads [-]: a group in parallel.
    spacing_m : float
        From one lamp of a row to the next [m].
    place : str
        Where it is, by the name of a place; empty where its kind says it.
    instead_of : str
        The place whose lamp it stands in for; empty where its kind says it.
    removable, swinging, wet : bool or None
        What carries it comes off, moves, is in spray; None where its kind says it.
    turned : bool
        It was put in the wrong way round: its LEDs stay dark.
    backfeed_v : float or None
        With its brightest lead fed, across 1 kOhm from its weakest lead to ground [V]; None while not measured.
    """

    id: str
    name: str
    kind: UnitKind | None
    side: str
    leads: tuple[Lead, ...]
    lamps: int = 1
    spacing_m: float = 0.3
    place: str = ""
    instead_of: str = ""
    removable: bool | None = None
    swinging: bool | None = None
    wet: bool | None = None
    turned: bool = False
    backfeed_v: float | None = None

    @property
    def names(self) -> tuple[str, ...]:
        """What each of its lamps is called: in a row they are numbered."""
        return (self.name,) if self.lamps == 1 else tuple(f"{self.name} {n + 1}" for n in range(self.lamps))

    @property
    def is_linked(self) -> bool:
        """Whether one of its leads feeds another inside."""
        return self.backfeed_v is not None and self.backfeed_v > LINKED_V and len(self.leads) > 1

    @property
    def link(self) -> tuple[Lead, Lead] | None:
        """Its weakest and its brightest lead where the one feeds the other inside; of equal ones the stop's."""
        if not self.is_linked:
            return None
        by_light = sorted(self.leads, key=lambda lead: (lead.each_a, any("stop" in f for f in lead.wanted.functions)))
        return by_light[0], by_light[-1]

    @property
    def in_socket(self) -> bool:
        return self.kind is not None and self.kind.in_socket

    @property
    def keeps_feed(self) -> bool:
        return self.kind is not None and self.kind.keeps_feed

    @property
    def is_there(self) -> bool:
        return self.kind is not None and self.kind.is_there

    @property
    def keeps_ground(self) -> bool:
        """Whether it is a lamp of the vehicle that feeds it, with its ground where it is."""
        return self.kind is not None and self.kind.is_there and self.kind.is_instead

    @property
    def is_instead(self) -> bool:
        """Whether another lamp goes, whose place it takes."""
        return not self.is_there and any(lead.replaces for lead in self.leads)

    @property
    def is_removable(self) -> bool:
        """Whether what carries it comes off."""
        return bool(self.kind and self.kind.is_removable) if self.removable is None else self.removable

    @property
    def is_swinging(self) -> bool:
        """Whether what carries it swings or moves."""
        return bool(self.kind and self.kind.is_swinging) if self.swinging is None else self.swinging

    @property
    def is_wet(self) -> bool:
        """Whether it is in spray; assumed so for a kind the shop made up."""
        return (self.kind is None or self.kind.is_wet) if self.wet is None else self.wet

    @property
    def comes_off(self) -> bool:
        return self.is_removable or self.is_swinging


@cache
def unit_kinds() -> Table[UnitKind]:
    """Every kind of unit, by id."""
    return read_table(
        "units",
        (
            "unit",
            "name",
            "lamp",
            "removable",
            "swinging",
            "wet",
            "seat",
            "instead",
            "socket",
            "switches_itself",
            "keeps_feed",
            "there",
            "caution",
        ),
        lambda row: UnitKind(
            row["unit"],
            row["name"],
            row["lamp"],
            row["removable"] == "yes",
            row["swinging"] == "yes",
            row["wet"] == "yes",
            row["seat"],
            row["instead"] == "yes",
            row["socket"] == "yes",
            row["switches_itself"] == "yes",
            row["keeps_feed"] == "yes",
            row["there"] == "yes",
            row["caution"],
        ),
    )


SIDED = "{side}"
"""Stands in a kind's wish for the side of its unit."""


@cache
def lead_rows() -> tuple[tuple[str, dict[str, str]], ...]:
    """The rows of every kind's leads, in order, each with the id of its kind."""
    table = read_table(
        "unit_leads",
        ("key", "unit", "lead", "wanted", "polarity", "technology", "each_a"),
        lambda row: (unit_kinds()[row["unit"]].id, row, lead_of(row, "left")),
    )
    return tuple((kind, row) for kind, row, _ in table)


def lead_of(row: dict[str, str], side: str) -> Lead:
    """A row as a lead of a unit on a side; without one, as of the left."""
    kind = unit_kinds()[row["unit"]]
    return Lead(
        row["lead"],
        parse_wanted(row["wanted"].replace(SIDED, side or "left")),
        Polarity(row["polarity"]),
        row["technology"],
        float(row["each_a"]),
        replaces=kind.replaces(side),
        switches_itself=kind.switches_itself,
        side=side,
    )
