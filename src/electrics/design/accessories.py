"""What people add: kinds of units with their leads, and the additions that are made of them.

A unit is one physical thing with a side and leads of its own; a pair is two of one kind. An addition is what a brief
asks for by one name: `mirror_turn_pair` is two units of the kind `mirror_turn`.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace
from functools import cache
from math import ceil
from typing import Any

from electrics.design.states import is_never
from electrics.design.units import SIDED, Lead, Unit, UnitKind, lead_of, lead_rows, unit_kinds
from electrics.design.wanted import parse_wanted
from electrics.errors import FactError
from electrics.reference.tables import Table, read_table
from electrics.reference.usual import system_scale
from electrics.vocabulary import Function, Polarity

__all__ = [
    "OWN",
    "Accessory",
    "accessories",
    "check_wishes",
    "mid_sentence",
    "own_kind",
    "own_lead",
    "stand_in_twice",
    "together",
    "units_as_one",
]


@dataclass(frozen=True)
class Accessory:
    """What a brief asks for by one name.

    Attributes
    ----------
    lamp : str
        What one of it is called on a sheet.
    kinds : tuple of (UnitKind, str)
        Its units: kind and side.
    own : tuple of Lead
        Leads of one's own kind, or those of all its units.
    units : tuple of Unit
        As they are fitted in a job; empty for a row of the table.
    about : str
        What a job with it is about: `add`, `replace`, `rewire` or `tow`.
    """

    id: str
    name: str
    lamp: str
    count: int
    caution: str
    own: tuple[Lead, ...] = ()
    kinds: tuple[tuple[UnitKind, str], ...] = ()
    units: tuple[Unit, ...] = ()
    about: str = "add"

    @property
    def leads(self) -> tuple[Lead, ...]:
        """Its leads, in order: those of its units or one's own, else one for each behaviour of its kinds."""
        return self.own or _merged(self.kinds)

    @property
    def is_removable(self) -> bool:
        """Whether a part that carries one of its units comes off."""
        return any(unit.is_removable for unit in self.units) or any(kind.is_removable for kind, _ in self._unsaid)

    @property
    def is_swinging(self) -> bool:
        """Whether a part that carries one of its units swings or moves."""
        return any(unit.is_swinging for unit in self.units) or any(kind.is_swinging for kind, _ in self._unsaid)

    @property
    def is_wet(self) -> bool:
        """Whether one of its units is in spray; one's own kind counts as if it were."""
        return any(unit.is_wet for unit in self.units) or any(kind.is_wet for kind, _ in self._unsaid)

    @property
    def _unsaid(self) -> tuple[tuple[UnitKind, str], ...]:
        """Its kinds, while it is a row of the table: units say it themselves."""
        return () if self.units else self.kinds

    @property
    def is_counted(self) -> bool:
        """Whether any number of it makes sense; otherwise the number of lamps follows from its kinds."""
        return len({kind for kind, _ in self.kinds}) == 1 and self.kinds[0][0].is_counted

    @property
    def taken(self) -> frozenset[tuple[str, Function]]:
        """The factory lamps its lamps replace: where, and which function."""
        return frozenset(
            (place, function)
            for kind, side in self.kinds
            if not kind.is_there
            for place in kind.replaces(side)
            for lead in kind.leads(side)
            for function in lead.wanted.functions
        )

    def fitted(self, count: int, each_a: float | None, scale: float = 1.0) -> Accessory:
        """The same as units of a job, each with its own leads.

        Parameters
        ----------
        count : int
            Lamps altogether; only of kinds with one lead [-].
        each_a : float or None
            Current of each such lamp; None for the usual one [A].
        scale : float
            Of the usual currents: what is sold for another system draws the same watts [-].
        """
        kinds, is_counted = self.kinds, self.is_counted
        if is_counted and count < len(kinds):
            kinds = tuple((kind, "") for kind, _ in kinds[:1]) if count == 1 else kinds[:count]
        units: list[Unit] = []
        for n, (kind, side) in enumerate(kinds):
            rest = len(kinds) - n
            lamps = ceil((count - sum(unit.lamps for unit in units)) / rest) if is_counted else 1
            is_twice = sum(other == side for _, other in kinds) > 1
            id = (f"{kind.id}-{side}" if side and is_twice else side or kind.id) if len(kinds) > 1 else ""
            name = f"{side} {kind.name}".strip()
            leads = tuple(
                replace(
                    lead,
                    id=f"{id}-{lead.id}" if id else lead.id,
                    each_a=each_a if each_a is not None and is_counted else lead.each_a * scale,
                    lamps=lamps,
                    name=f"{name}, {lead.title}" if len(kind.leads(side)) > 1 else name if id else "",
                    unit=id or "lamp",
                    label=lead.id,
                    kind=kind.id,
                )
                for lead in kind.leads(side)
            )
            units.append(Unit(id or "lamp", name, kind, side, leads, lamps))
        return self.of_units(tuple(units))

    def with_leads(self, kind: str, **facts: Any) -> Accessory:
        """The same, some facts of every lead of its units of a kind as given."""
        return self.of_units(
            tuple(
                replace(
                    unit, leads=tuple(replace(lead, **facts) if lead.kind == kind else lead for lead in unit.leads)
                )
                for unit in self.units
            )
        )

    def of_units(self, units: Sequence[Unit]) -> Accessory:
        """The same with other units."""
        units = tuple(
            replace(unit, leads=tuple(replace(lead, is_linked=unit.is_linked) for lead in unit.leads))
            for unit in units
        )
        return replace(self, units=units, own=tuple(lead for unit in units for lead in unit.leads))


def units_as_one(units: Sequence[Unit]) -> Accessory:
    """The units of a job as one addition."""
    kinds = tuple((unit.kind, unit.side) for unit in units if unit.kind is not None)
    first = kinds[0][0] if kinds else None
    return Accessory(
        first.id if first else OWN,
        ", ".join(unit.name for unit in units),
        first.lamp if first else "added lamp",
        len(units),
        first.caution if first else OWN,
        kinds=kinds,
    ).of_units(tuple(units))


TABLE_V = 12
"""The system that the currents of the table are for [V]."""


def on_system(accessory: Accessory, system_v: int) -> Accessory:
    """An accessory of the table as it is sold for another system: the watts stay, the amps follow."""
    if system_v == TABLE_V:
        return accessory
    leads = (replace(lead, each_a=lead.each_a * 1 / system_scale(system_v)) for lead in accessory.leads)
    return replace(accessory, own=tuple(leads))


def together(first: Accessory, others: Sequence[Accessory]) -> Accessory:
    """Several accessories as one with the units of all, each lead named after its accessory.

    Parameters
    ----------
    first : Accessory
        Its caution and count stand for the whole.
    others : sequence of Accessory
        All as fitted in a job.

    Returns
    -------
    Accessory
    """
    if not others:
        return first
    every = (first, *others)
    units: list[Unit] = []
    for each in every:
        for unit in each.units:
            taken = {one.name for one in units}
            names = (f"{unit.name} {n}" if n > 1 else unit.name for n in range(1, len(units) + 2))
            units.append(_beside_others(each, unit, next(name for name in names if name not in taken)))
    return replace(
        first,
        name=", ".join([first.name, *(mid_sentence(each.name) for each in others)]),
        lamp="added lamp",
        kinds=tuple(kind for each in every for kind in each.kinds),
    ).of_units(units)


def stand_in_twice(every: Sequence[Accessory]) -> tuple[str, str] | None:
    """The names of two accessories whose lamps take the place of the same ones; None where no two do.

    They do where both show something that the other shows, in the same place of the vehicle. What is only wired anew
    stays where it is.
    """
    for n, first in enumerate(every):
        for second in every[n + 1 :]:
            if first.taken & second.taken:
                return first.name, second.name
    return None


def _beside_others(accessory: Accessory, unit: Unit, name: str) -> Unit:
    """A unit of an accessory among those of others, by a name that none of them has."""
    leads = (
        replace(
            lead,
            id=f"{accessory.id}-{lead.id}",
            name=lead.name.replace(unit.name, name, 1) or f"{mid_sentence(accessory.name)}, {lead.title}",
            unit=f"{accessory.id}-{unit.id}",
        )
        for lead in unit.leads
    )
    return replace(unit, id=f"{accessory.id}-{unit.id}", name=name, leads=tuple(leads))


def mid_sentence(name: str) -> str:
    """A name as it stands inside a sentence; `LED bulbs` keeps its capitals."""
    return name if name[1:2].isupper() else name[0].lower() + name[1:]


OWN = "own"
"""The id of an accessory of one's own kind."""
MOST_LEADS = 8
USUAL_A = 0.3
"""What a lead of one's own is taken to draw while nobody says [A] (estimate: one LED signal)."""


def own_kind(text: str, count: int, each_a: float = USUAL_A) -> Accessory:
    """An accessory whose leads are written down, one a line: `lead = wanted; 0.4 A; filament; ground`.

    Parameters
    ----------
    text : str
        Technology defaults to led, polarity to positive.
    count : int
        How many of it [-].
    each_a : float
        Current of a lead whose line states none [A].

    Returns
    -------
    Accessory

    Raises
    ------
    FactError
        A line that cannot be read, a lead twice, too many of them.
    """
    leads: list[Lead] = []
    for number, line in enumerate(filter(str.strip, text.splitlines()), start=1):
        name, _, rest = line.partition("=")
        wanted, *more = [part.strip() for part in rest.split(";")]
        own_a, technology, polarity = each_a, "led", str(Polarity.POSITIVE)
        for word in filter(None, more):
            if word.lower() in ("led", "filament"):
                technology = word.lower()
            elif word in set(Polarity):
                polarity = word
            else:
                own_a = _amps(number, word)
        leads.append(own_lead(name, wanted, polarity, technology, own_a))
    if not 1 <= len(leads) <= MOST_LEADS:
        raise FactError("own_leads", f"{len(leads)} leads cannot be planned. Expected 1 to {MOST_LEADS}, one a line.")
    names = [lead.id for lead in leads]
    if len(set(names)) < len(names):
        raise FactError("own_leads", "Two leads have the same name. Give each its own.")
    lamps = count if len(leads) == 1 else 1
    own = tuple(replace(lead, unit="lamp", lamps=lamps, label=lead.id) for lead in leads)
    unit = Unit("lamp", "added lamp", None, "", own, lamps)
    return Accessory(OWN, "Own kind", "added lamp", count, "own").of_units((unit,))


def own_lead(name: str, wanted: str, polarity: str, technology: str, each_a: object) -> Lead:
    """A lead of an accessory of one's own; FactError says what cannot be."""
    name = name.strip()
    if not name or not name.replace(" ", "").replace("_", "").replace("-", "").isalnum():
        raise FactError("lead", f"“{name}” cannot be the name of a lead. Expected letters and digits.")
    if polarity not in set(Polarity):
        raise FactError("polarity", f"{name}: polarity is {polarity}. Expected {' or '.join(Polarity)}.")
    if technology not in ("led", "filament"):
        raise FactError("technology", f"{name}: technology is {technology}. Expected LED or filament.")
    if not isinstance(each_a, (int, float)) or isinstance(each_a, bool) or not 0.001 <= each_a <= 30:
        raise FactError("each_a", f"{name}: {each_a} A each. Expected 0.001 to 30 A.")
    return Lead(name.replace(" ", "_"), parse_wanted(wanted), Polarity(polarity), technology, float(each_a))


def check_wishes(leads: Sequence[Lead]) -> None:
    """Refuse leads whose behavior no vehicle ever shows; FactError names the first."""
    for lead in leads:
        if is_never(lead.wanted):
            raise FactError(
                "wanted",
                f"{lead.id.replace('_', ' ')}: “{lead.wanted.text.replace('_', ' ')}” is never lit, whatever is "
                "switched on. Expected a wish that is true in some state.",
            )


def _amps(number: int, word: str) -> float:
    try:
        return float(word.removesuffix("A").strip().replace(",", "."))
    except ValueError:
        raise FactError(
            "own_leads", f"Line {number}: “{word}” is no current, led, filament, positive or ground."
        ) from None


@cache
def accessories() -> Table[Accessory]:
    """Every addition, by id."""
    return read_table("accessories", ("accessory", "name", "units", "count", "about"), _accessory)


def _accessory(row: dict[str, str]) -> Accessory:
    kinds = []
    for each in row["units"].split():
        kind, _, side = each.partition(":")
        kinds.append((unit_kinds()[kind], side))
    first = kinds[0][0]
    return Accessory(
        row["accessory"],
        row["name"],
        first.lamp,
        int(row["count"]),
        first.caution,
        kinds=tuple(kinds),
        about=row["about"],
    )


@cache
def _merged(kinds: tuple[tuple[UnitKind, str], ...]) -> tuple[Lead, ...]:
    """One lead for each behaviour of several units, with the lamps of all that want it."""
    found: dict[str, Lead] = {}
    places = tuple(dict.fromkeys(place for kind, side in kinds for place in kind.replaces(side)))
    for kind in dict.fromkeys(kind for kind, _ in kinds):
        sides = [side for each, side in kinds if each is kind]
        for row in (row for id, row in lead_rows() if id == kind.id):
            for side in sides:
                is_sided = len(kinds) > 1 and SIDED in row["wanted"]
                id = side if is_sided else row["lead"]
                lead = replace(lead_of(row, side), id=id, replaces=places, side=side if is_sided else "")
                found[id] = replace(found[id], lamps=found[id].lamps + 1) if id in found else lead
    return tuple(found.values())
