"""What a job's wires offer for each lead of what is added: sources, and ways from them by logic."""

from __future__ import annotations

from collections.abc import Iterator, Mapping, Sequence
from dataclasses import dataclass, field, replace
from functools import cached_property, lru_cache

from electrics.design.sources import OWN, SWITCH, Source, own_sources
from electrics.design.units import Lead
from electrics.document.circuits import FedBy
from electrics.document.job import JobFacts
from electrics.document.way import WayKey
from electrics.identify.belief import Belief, Lack, WireBelief
from electrics.identify.kinds import FUSE_BOX, access_kinds, pin_out
from electrics.lighting.description import TOW
from electrics.reference.functions import Tap, kind_of
from electrics.signals import Scenario, polarity_of
from electrics.vocabulary import Function, State
from electrics.ways.search import Candidate, search, source_levels

__all__ = [
    "PlaceWire",
    "Way",
    "find_ways",
    "forget_searches",
    "place_wires",
    "said_wire",
    "shown_way",
    "source_of",
    "ways_from",
]

MOST_ALIKE = 6
"""Circuits of one behaviour that are searched: more of the same give no other network."""


@dataclass(frozen=True)
class PlaceWire:
    """An identified wire and where it is; or a source of one's own, which is no wire of the vehicle.

    Attributes
    ----------
    key, place_key : str
        Of the wire and of its place; those of the facts.
    place : str
        The name of its place.
    near : tuple of str
        That place on the vehicle's circuit: `rear left`.
    side : str
        `left`, `right` or empty.
    kind : str
        Of its place.
    is_tow : bool
        A pin of a tow socket: made to carry a trailer's lamps, whatever feeds it.
    """

    key: str
    place_key: str
    place: str
    wire: WireBelief
    is_at_fuse: bool = False
    is_own: bool = False
    is_tow: bool = False
    near: tuple[str, ...] = ()
    side: str = ""
    kind: str = ""

    @property
    def where(self) -> str:
        """The kind of its place, its side and its pin: what it is told apart by from others that do the same."""
        return f"{self.kind} {self.side} {self.wire.pin}"


@dataclass(frozen=True)
class Way:
    """A candidate with the wires that it taps."""

    candidate: Candidate
    wires: tuple[PlaceWire, ...]

    @property
    def key(self) -> str:
        return self.candidate.key

    def is_of(self, key: str) -> bool:
        """Whether it is the way of a stored key; where sources have the same part in it, their order says nothing."""
        asked, own = WayKey.read(key), [source.key for source in self.candidate.sources]
        sources = list(asked.sources)
        if asked.form != self.candidate.form.id:
            return False
        return sorted(sources) == sorted(own) if self.candidate.form.is_symmetric else sources == own

    def without(self, rule: str) -> Way:
        """The same with one thing less that forbids it."""
        return self._refused(tuple(each for each in self.candidate.refusals if each != rule))

    def strange_to(self, side: str) -> int:
        """How many of its wires are on the other side of the vehicle than a lamp on this side [-]."""
        other = {"left": "right", "right": "left"}.get(side)
        return sum(place.side == other for place in self.wires)

    def barred(self, rule: str) -> Way:
        """The same with one more thing that forbids it."""
        return self._refused((*self.candidate.refusals, rule))

    def _refused(self, refusals: tuple[str, ...]) -> Way:
        """The same with other things that forbid it; there are few such, and they are asked for again and again."""
        if refusals == self.candidate.refusals:
            return self
        if refusals not in self._others:
            self._others[refusals] = replace(self, candidate=replace(self.candidate, refusals=refusals))
        return self._others[refusals]

    @cached_property
    def _others(self) -> dict[tuple[str, ...], Way]:
        return {}

    @property
    def is_right(self) -> bool:
        return self.candidate.is_right

    @cached_property
    def tapped(self) -> tuple[PlaceWire, ...]:
        """The vehicle's wires among its sources."""
        return tuple(place for place in self.wires if not place.is_own)

    @property
    def main(self) -> PlaceWire:
        """The wire it is named by: the first of the vehicle's that it taps."""
        return (self.tapped or self.wires)[0]

    @cached_property
    def host(self) -> PlaceWire:
        """The wire whose circuit carries the lamp; the first it taps where none does."""
        carrying = [place for place, load in self._taps() if load == "lamp" and not place.is_own]
        return (carrying or [self.main])[0]

    def draws_a(self, lamps_a: float, coil_a: float) -> dict[Function, float]:
        """What it adds to each factory circuit: its lamps, or a coil [A]; a module's inputs draw next to nothing."""
        found: dict[Function, float] = {}
        for place, load in self._taps():
            if not place.is_own and load != "sense":
                found.setdefault(place.wire.function, 0.0)
                found[place.wire.function] += lamps_a if load == "lamp" else coil_a
        return found

    @property
    def loaded(self) -> tuple[Function, ...]:
        """The factory circuits that it adds to."""
        return tuple(self.draws_a(0.0, 0.0))

    @property
    def is_switched(self) -> bool:
        """Whether an added switch carries its lamps."""
        return any(place.key == SWITCH and load == "lamp" for place, load in self._taps())

    def lights_from(self, function: Function) -> bool:
        """Whether the lamp's own current comes from a factory circuit."""
        return any(load == "lamp" and place.wire.function is function for place, load in self._taps())

    def wakes(self) -> tuple[State, ...]:
        """The states in which a tapped position of the fuse box is live."""
        live = [
            source.levels[0].any(axis=-1)
            for source, place in zip(self.candidate.sources, self.wires, strict=True)
            if place.is_at_fuse
        ]
        return tuple(state for n, state in enumerate(self.candidate.states) if any(each[n] for each in live))

    def _taps(self) -> list[tuple[PlaceWire, str]]:
        return list(zip(self.wires, self.candidate.form.loads, strict=True))


def shown_way(ways: Sequence[Way], chosen: Way | None) -> Way | None:
    """The way that pictures, tables and sizes are of: the chosen one, else the best, if any is right."""
    return chosen or next((way for way in ways if way.is_right), None)


def find_ways(
    facts: JobFacts,
    beliefs: Sequence[Belief],
    leads: Sequence[Lead],
    scenarios: tuple[Scenario, ...],
    states: tuple[State, ...],
) -> dict[str, tuple[Way, ...]]:
    """Every way to feed each lead, best first by logic.

    Parameters
    ----------
    facts : JobFacts
    beliefs : sequence of Belief
        Of its places, in order.
    leads : sequence of Lead
    scenarios : tuple of Scenario
        The variants of the vehicle that a way must be right in.
    states : tuple of State
        The table, see `electrics.design.states`.

    Returns
    -------
    dict of str to tuple of Way
        By lead.
    """
    places = {place.key: place for place in place_wires(facts, beliefs)}
    sources = [
        source_of(
            place,
            scenarios,
            states,
            is_computer_fed=not place.is_tow and facts.circuit(place.wire.function).fed_by is FedBy.COMPUTER,
        )
        for place in places.values()
        if kind_of(place.wire.function).tap is not Tap.NEVER
    ]
    sources = _once(sources)
    if sources:
        sources += own_sources((lead.wanted for lead in leads), len(scenarios), states)
    return ways_from(sources, places, leads, scenarios, states)


def ways_from(
    sources: Sequence[Source],
    places: Mapping[str, PlaceWire],
    leads: Sequence[Lead],
    scenarios: tuple[Scenario, ...],
    states: tuple[State, ...],
) -> dict[str, tuple[Way, ...]]:
    """The ways from given sources; those of the vehicle stand in `places` by their key."""
    places = {**places, **{source.key: _own_place(source.key) for source in sources if source.is_own}}
    keyed, known = _Sources.of(sources), dict[Lead, tuple[Way, ...]]()
    found = {}
    for lead in leads:
        wish = _behaviour(lead)
        if wish not in known:
            known[wish] = tuple(
                Way(candidate, tuple(places[source.key] for source in candidate.sources))
                for candidate in _searched(wish, keyed, scenarios, states)
            )
        found[lead.id] = known[wish]
    return found


def place_wires(facts: JobFacts, beliefs: Sequence[Belief]) -> Iterator[PlaceWire]:
    """Every wire of a job's places, as it was identified."""
    for place, belief in zip(facts.places, beliefs, strict=True):
        is_at_fuse, side = place.point.kind == FUSE_BOX, str(place.point.side)
        is_tow = bool(pin_out(place.point.kind))
        for key, wire in zip(place.wire_keys, belief.wires, strict=True):
            near = (TOW,) if is_tow else (f"{access_kinds()[place.point.kind].zone} {side}",) if side else ()
            yield PlaceWire(
                key,
                place.key,
                place.point.name,
                wire,
                is_at_fuse,
                is_tow=is_tow,
                near=near,
                side=side,
                kind=place.point.kind,
            )


def source_of(
    place: PlaceWire,
    scenarios: tuple[Scenario, ...],
    states: tuple[State, ...],
    *,
    is_computer_fed: bool,
) -> Source:
    """A wire as the search knows it."""
    wire = place.wire
    return Source(
        place.key,
        source_levels(wire.function, wire.variant, scenarios, states),
        wire.polarity,
        is_at_fuse=place.is_at_fuse,
        is_computer_fed=is_computer_fed,
        is_settled=wire.is_settled,
        function=wire.function,
        variant=wire.variant,
        where=place.where,
    )


@dataclass(frozen=True)
class _Sources:
    """Sources that compare by what they carry, so that a search over them is made once."""

    key: tuple[object, ...]
    sources: tuple[Source, ...] = field(compare=False)

    @classmethod
    def of(cls, sources: Sequence[Source]) -> _Sources:
        key = tuple(
            (
                each.key,
                each.levels.tobytes(),
                each.polarity,
                each.is_at_fuse,
                each.is_computer_fed,
                each.is_settled,
                each.function,
                each.variant,
                each.where,
            )
            for each in sources
        )
        return cls(key, tuple(sources))


@lru_cache(maxsize=128)
def _searched(
    lead: Lead, sources: _Sources, scenarios: tuple[Scenario, ...], states: tuple[State, ...]
) -> tuple[Candidate, ...]:
    return search(lead, sources.sources, scenarios, states)


def _behaviour(lead: Lead) -> Lead:
    """What of a lead the search looks at: two of a pair are searched once."""
    return replace(lead, id="", name="", unit="", side="", replaces=(), lamps=1, each_a=1.0, is_linked=False)


def said_wire(
    key: str, function: Function, variant: str = "plain", *, is_at_fuse: bool = False, is_own: bool = False
) -> PlaceWire:
    """A wire of which somebody says what it does, or a source of one's own; measured is nothing."""
    lack = Lack.NOTHING
    wire = WireBelief(
        "" if is_own else key, "", function, variant, 1.0, ((function, 1.0),), lack, (), polarity_of(variant), ()
    )
    return PlaceWire(key, "", "", wire, is_at_fuse, is_own)


def _own_place(key: str) -> PlaceWire:
    return said_wire(key, OWN[key].function, is_own=True)


def _once(sources: Sequence[Source]) -> list[Source]:
    """At most `MOST_ALIKE` circuits of each behaviour, settled ones and fuse positions first; names order nothing."""
    seen: dict[bytes, int] = {}
    kept = set()
    for source in sorted(sources, key=lambda each: (not each.is_settled, not each.is_at_fuse, each.order)):
        alike = source.levels.tobytes() + source.polarity.encode()
        seen[alike] = seen.get(alike, 0) + 1
        if seen[alike] <= MOST_ALIKE:
            kept.add(source.key)
    return sorted((source for source in sources if source.key in kept), key=lambda each: each.order)


def forget_searches() -> None:
    """Forget every search."""
    _searched.cache_clear()
