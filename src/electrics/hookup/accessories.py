"""What people add: each kind with its leads, the behaviour each lead wants, usual load, mounting and caution."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace
from functools import cache

from electrics.errors import FactError
from electrics.hookup.states import is_never
from electrics.hookup.wanted import Wanted, parse_wanted
from electrics.reference.tables import Table, read_table
from electrics.vocabulary import Polarity

__all__ = ["OWN", "Accessory", "Lead", "accessories", "check_wishes", "own_kind", "own_lead", "together"]


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

    @property
    def title(self) -> str:
        """What it is called on a page: its own name, with that of its accessory where there are several."""
        return self.name or self.id.replace("_", " ")


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
    replaces, switches_itself
        As of its leads.
    """

    id: str
    name: str
    lamp: str
    count: int
    is_removable: bool
    is_swinging: bool
    is_wet: bool
    caution: str
    own: tuple[Lead, ...] = ()
    replaces: tuple[str, ...] = ()
    switches_itself: bool = False

    @property
    def leads(self) -> tuple[Lead, ...]:
        """Its leads, in order: those of its row, or one's own."""
        return self.own or tuple(lead for accessory, lead in _leads() if accessory == self.id)


TABLE_V = 12
"""The system that the currents of the table are for [V]."""


def on_system(accessory: Accessory, system_v: int) -> Accessory:
    """An accessory of the table as it is sold for another system: the watts stay, the amps follow."""
    if system_v == TABLE_V:
        return accessory
    leads = (replace(lead, each_a=lead.each_a * TABLE_V / system_v) for lead in accessory.leads)
    return replace(accessory, own=tuple(leads))


def together(first: Accessory, others: Sequence[Accessory]) -> Accessory:
    """Several accessories as one with the leads of all, each lead named after its accessory.

    Parameters
    ----------
    first : Accessory
        Its caution and count stand for the whole.
    others : sequence of Accessory

    Returns
    -------
    Accessory
    """
    if not others:
        return first
    every = (first, *others)
    leads = [
        replace(
            lead,
            id=f"{each.id}-{lead.id}",
            lamps=each.count if len(each.leads) == 1 and n else lead.lamps,
            name=f"{mid_sentence(each.name)}, {lead.title}",
        )
        for n, each in enumerate(every)
        for lead in each.leads
    ]
    return replace(
        first,
        name=", ".join([first.name, *(mid_sentence(each.name) for each in others)]),
        lamp="added lamp",
        is_removable=any(each.is_removable for each in every),
        is_swinging=any(each.is_swinging for each in every),
        is_wet=any(each.is_wet for each in every),
        own=tuple(leads),
    )


def mid_sentence(name: str) -> str:
    """A name inside a sentence; `LED bulbs` stay as they are."""
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
    return Accessory(OWN, "Own kind", "added lamp", count, False, False, True, "own", tuple(leads))


def own_lead(name: str, wanted: str, polarity: str, technology: str, each_a: object) -> Lead:
    """A lead of an accessory of one's own; FactError says what cannot be."""
    name = name.strip()
    if not name or not name.replace(" ", "").replace("_", "").replace("-", "").isalnum():
        raise FactError("lead", f"“{name}” cannot be the name of a lead. Expected letters and digits.")
    if polarity not in set(Polarity):
        raise FactError("polarity", f"{name}: polarity is {polarity}. Expected {' or '.join(Polarity)}.")
    if technology not in ("led", "filament"):
        raise FactError("technology", f"{name}: technology is {technology}. Expected led or filament.")
    if not isinstance(each_a, (int, float)) or isinstance(each_a, bool) or not 0.001 <= each_a <= 30:
        raise FactError("each_a", f"{name}: {each_a} A each. Expected 0.001 to 30 A.")
    return Lead(name.replace(" ", "_"), parse_wanted(wanted), Polarity(polarity), technology, float(each_a))


def check_wishes(leads: Sequence[Lead]) -> None:
    """Refuse leads that want what no vehicle does in any state; FactError names the first."""
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
    """Every kind, by id."""
    return read_table(
        "accessories",
        (
            "accessory",
            "name",
            "lamp",
            "count",
            "removable",
            "swinging",
            "wet",
            "replaces",
            "switches_itself",
            "caution",
        ),
        lambda row: Accessory(
            row["accessory"],
            row["name"],
            row["lamp"],
            int(row["count"]),
            row["removable"] == "yes",
            row["swinging"] == "yes",
            row["wet"] == "yes",
            row["caution"],
            replaces=tuple(filter(None, row["replaces"].split(";"))),
            switches_itself=row["switches_itself"] == "yes",
        ),
    )


@cache
def _leads() -> tuple[tuple[str, Lead], ...]:
    table = read_table(
        "accessory_leads",
        ("key", "accessory", "lead", "wanted", "polarity", "technology", "each_a", "lamps"),
        lambda row: (
            accessories()[row["accessory"]].id,
            Lead(
                row["lead"],
                parse_wanted(row["wanted"]),
                Polarity(row["polarity"]),
                row["technology"],
                float(row["each_a"]),
                int(row["lamps"]),
                accessories()[row["accessory"]].replaces,
                accessories()[row["accessory"]].switches_itself,
            ),
        ),
    )
    return tuple(table)
