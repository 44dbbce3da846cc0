"""Readings, walks and wrong taps until a job has what it taps: by the advice and by a practised person's routine."""

from __future__ import annotations

import random
from collections.abc import Callable, Sequence
from dataclasses import dataclass, fields, replace

from bench.identify import upper_bound
from bench.vehicles import LAMPS, SWAPPED, TrueAccessPoint, TrueWire, generate, measure
from electrics.document.places import Evidence, Setup
from electrics.formats.reading_text import Reading, Word
from electrics.identify.belief import identify
from electrics.identify.kinds import FUSE_BOX
from electrics.identify.needed import Needed, needs_of
from electrics.identify.needed_plan import next_for
from electrics.identify.setups import effort_of
from electrics.reference.functions import Tap, kind_of
from electrics.vocabulary import Function, Instrument, parse_state

SEED = 20261201
REST = parse_state("rest")
DROP = Setup(REST, Instrument.LOADED_DROP)
GROUND_V, LIVE_V = 0.012, 3.0
MOST = 80
TOUCH_S = 6.0
"""Seconds a touch takes, written down (estimate)."""


@dataclass
class Played:
    """One job played to its end."""

    readings: int = 0
    changes: int = 0
    effort: float = 0.0
    taken: dict[Function, str] | None = None
    doubt: float = 0.0
    """Stated when it was called enough: the chance that any of its taps is wrong [-]."""

    def is_wrong(self, truth: TrueAccessPoint) -> bool:
        real = {wire.pin: wire.function for wire in truth.wires}
        return self.taken is not None and any(real[pin] is not function for function, pin in self.taken.items())


class Hands:
    """Measures, and counts what it costs."""

    def __init__(
        self,
        truth: TrueAccessPoint,
        rng: random.Random,
        mistakes: float,
        *,
        solo: bool = False,
        computer_fed: bool = False,
    ) -> None:
        self.truth, self.rng, self.mistakes, self.solo = truth, rng, mistakes, solo
        self.computer_fed = computer_fed
        self.at: Setup | None = None
        self.played = Played()

    def read(self, pin: str, setup: Setup, *, anew: bool = False) -> Evidence:
        """One reading; `anew` sets the control again, though it is set."""
        self.played.effort += effort_of(setup, self.at, solo=self.solo, anew=anew) + 1
        self.played.changes += self.at is None or setup.state != self.at.state or (anew and setup.state != REST)
        self.played.readings += 1
        self.at = setup
        wire = next(wire for wire in self.truth.wires if wire.pin == pin)
        return measure(self.truth, wire, setup, self.rng, self.mistakes)


def by_advice(truth: TrueAccessPoint, needed: Needed, hands: Hands) -> Played:
    """Follow the advice a reading at a time until it is enough, or ends."""
    evidence: list[Evidence] = []
    while hands.played.readings < MOST:
        point = replace(truth.empty(), evidence=tuple(evidence))
        (belief,) = identify([point], not_fitted=truth.not_fitted)
        steps = next_for(belief, needed, solo=hands.solo, current=hands.at, computer_fed=hands.computer_fed, limit=1)
        if not steps:
            needs = needs_of(belief, needed)
            if all(need.is_met and need.is_here for need in needs):
                hands.played.taken = {need.function: need.pin for need in needs}
                hands.played.doubt = sum(need.doubt for need in needs)
            break
        pin, setup = steps[0].pins[0], steps[0].setup
        evidence.append(hands.read(pin, setup, anew=steps[0].is_repeat))
    return hands.played


DOUBLES = {
    Function.STOP: "park",
    Function.TAIL: "brake",
    Function.REVERSE: "key",
    Function.FOG_REAR: "low",
    Function.FOG_FRONT: "low",
    Function.LOW_BEAM: "park",
    Function.HIGH_BEAM: "low",
    Function.DRL: "park",
}


def by_routine(truth: TrueAccessPoint, needed: Needed, hands: Hands) -> Played:
    """The wanted control, all pins; rest, that pin; its likeliest double, that pin; a loaded drop for the ground.

    What is odd (none lit, several lit, lit where it must be dark) is read once more.
    """
    pins = [wire.pin for wire in truth.wires]
    hands.rng.shuffle(pins)
    taken: dict[Function, str] = {}
    lit_somewhere: set[str] = set()
    candidates: dict[Function, list[str]] = {}
    for (function,) in needed.groups:
        setup = Setup(parse_state(_control(function)))
        flashes = bool(kind_of(function).flashes_with) and not kind_of(function).can_be_held
        lit = [pin for pin in pins if _is_lit(hands.read(pin, setup), flashes)]
        if not lit:
            lit = [pin for pin in pins if _is_lit(hands.read(pin, setup), flashes)]
        candidates[function] = lit
        lit_somewhere |= set(lit)
    for function, lit in candidates.items():
        for state in _doubles(function):
            lit = _keep(hands, lit, Setup(parse_state(state)), function)
        candidates[function] = lit
    for function, lit in candidates.items():
        lit = [pin for pin in lit if pin not in taken.values()]
        at_rest = []
        for pin in lit:
            live = _is_on(hands.read(pin, Setup(REST)))
            if live:
                live = _is_on(hands.read(pin, Setup(REST)))
            at_rest += [] if live else [pin]
        if not at_rest:
            return hands.played
        taken[function] = at_rest[0]
    if needed.ground:
        for pin in [pin for pin in pins if pin not in lit_somewhere]:
            reading = hands.read(pin, DROP).reading
            if reading.word is None and abs(reading.low) < GROUND_V:
                taken[Function.GROUND] = pin
                break
        else:
            return hands.played
    hands.played.taken = taken
    return hands.played


def _doubles(function: Function) -> Sequence[str]:
    if kind_of(function).is_combined:
        return (str(kind_of(function).side),)
    if kind_of(function).flashes_with:
        return ("brake",)
    return (DOUBLES[function],) if function in DOUBLES else ("key",)


def _keep(hands: Hands, lit: Sequence[str], setup: Setup, function: Function) -> list[str]:
    """Those of some pins that show in the double what the function does."""
    combined = kind_of(function).is_combined
    kept = []
    for pin in lit:
        right = _shows(hands.read(pin, setup), combined)
        if not right:
            right = _shows(hands.read(pin, setup), combined)
        kept += [pin] if right else []
    return kept


def _shows(read: Evidence, flashes: bool) -> bool:
    return _is_lit(read, True) if flashes else not _is_on(read)


def _control(function: Function) -> str:
    kind = kind_of(function)
    if kind.flashes_with and not kind.can_be_held:
        return str(kind.side)
    return str(kind.shown_with or "rest")


def _is_on(read: Evidence) -> bool:
    reading = read.reading
    return (
        reading.is_swing or reading.word in (Word.FLASH, Word.ON) or (reading.word is None and reading.low > LIVE_V)
    )


def _is_lit(read: Evidence, flashes: bool) -> bool:
    reading: Reading = read.reading
    return reading.is_swing or reading.word is Word.FLASH if flashes else _is_on(read)


@dataclass
class Tally:
    """Many jobs of one kind."""

    jobs: int = 0
    readings: float = 0.0
    changes: float = 0.0
    effort: float = 0.0
    wrong: int = 0
    unfound: int = 0
    doubt: float = 0.0
    told: tuple[tuple[float, bool], ...] = ()
    """Of each job that had enough: the chance of a wrong tap that was stated, and whether there was one."""
    right_after: tuple[int, ...] = ()
    """Of each job that ended with the right taps: after how many readings [-]."""

    def add(self, played: Played, truth: TrueAccessPoint) -> None:
        self.jobs += 1
        self.readings += played.readings
        self.changes += played.changes
        self.effort += played.effort
        self.wrong += played.is_wrong(truth)
        self.unfound += played.taken is None
        self.doubt += played.doubt
        if played.taken is not None:
            self.told += ((played.doubt, played.is_wrong(truth)),)
            self.right_after += () if played.is_wrong(truth) else (played.readings,)

    def plus(self, more: Tally) -> Tally:
        """Both together."""
        return Tally(*(getattr(self, each.name) + getattr(more, each.name) for each in fields(self)))

    @property
    def most_wrong(self) -> float:
        """Upper bound of the share of jobs with a wrong tap [-]."""
        return upper_bound(self.wrong, self.jobs)

    @property
    def minutes(self) -> float:
        """With `TOUCH_S` a touch."""
        return self.effort * TOUCH_S / 60.0

    def row(self) -> str:
        n = self.jobs
        return (
            f"{self.readings / n:5.1f} readings {self.changes / n:4.1f} changes {self.minutes / n:4.1f} min, "
            f"wrong taps {1000 * self.wrong / n:4.1f} in 1,000 (at most {1000 * self.most_wrong:.1f}), never found "
            f"{self.unfound / n:.1%}"
        )


def drawn(
    count: int, count_of: int, kinds: Sequence[str] = LAMPS, seed: int = SEED, *, swapped: float = SWAPPED
) -> list[tuple[TrueAccessPoint, Needed]]:
    """Generated places that have so many tappable functions with a lamp, that many of which are needed."""
    rng, found = random.Random(seed), []
    while len(found) < count:
        truth = generate(rng, kinds, swapped=swapped)
        there = sorted({wire.function for wire in truth.wires if _is_tap(wire)})
        if len(there) >= count_of:
            found.append((truth, Needed.each(rng.sample(there, count_of), ground=truth.kind != FUSE_BOX)))
    return found


def _is_tap(wire: TrueWire) -> bool:
    return kind_of(wire.function).tap is Tap.YES and kind_of(wire.function).has_lamp


PLAYERS = {"routine": by_routine, "advice": by_advice}


@dataclass(frozen=True)
class Jobs:
    """Jobs of one kind: where, with how many hands, and behind what.

    Attributes
    ----------
    taps : int
        Functions that are wanted [-].
    swapped : float
        Share of plugs of which two contacts are swapped [-].
    """

    taps: int
    kinds: tuple[str, ...] = LAMPS
    solo: bool = True
    computer_fed: bool = False
    swapped: float = SWAPPED


def chunk(player: str, jobs: Jobs, first: int, last: int) -> Tally:
    """Jobs `first` to `last` of one kind by one player: what one process works on."""
    places = drawn(last, jobs.taps, jobs.kinds, swapped=jobs.swapped)[first:]
    return play(PLAYERS[player], places, solo=jobs.solo, computer_fed=jobs.computer_fed, first=first)


def play(
    player: Callable[[TrueAccessPoint, Needed, Hands], Played],
    places: Sequence[tuple[TrueAccessPoint, Needed]],
    mistakes: float = 0.05,
    *,
    solo: bool = False,
    computer_fed: bool = False,
    first: int = 0,
) -> Tally:
    """One player on many places, each with the slips that its number brings, the first of them `first`."""
    tally = Tally()
    for n, (truth, needed) in enumerate(places, start=first):
        tally.add(
            player(
                truth, needed, Hands(truth, random.Random(SEED + n), mistakes, solo=solo, computer_fed=computer_fed)
            ),
            truth,
        )
    return tally
