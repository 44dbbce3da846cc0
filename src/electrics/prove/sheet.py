"""A test sheet made from the plan, judged line by line.

For every state every lamp has a line: lit, dark or flashing, what it must do or must not. Then come the
measured lines with a limit. A line nobody tested is untested, and one untested line keeps the whole sheet
from being passed.
"""

from __future__ import annotations

from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass
from enum import StrEnum

from electrics.design.states import proving_states
from electrics.design.wanted import Wanted, parse_wanted
from electrics.errors import ReadingError
from electrics.formats.reading_text import Reading, parse_reading
from electrics.reference.functions import kind_of
from electrics.reference.usual import system_scale
from electrics.signals import DARK, Scenario, Signal
from electrics.vocabulary import FUNCTIONS, Control, Function, Instrument, State, parse_state

__all__ = [
    "CheckKind",
    "Line",
    "Measure",
    "Outcome",
    "Sheet",
    "SheetLamp",
    "SheetVerdict",
    "judge_reading",
    "make_sheet",
    "read_measure",
]


class Outcome(StrEnum):
    """What became of a line."""

    PASS = "pass"
    FAIL = "fail"
    UNTESTED = "untested"


class CheckKind(StrEnum):
    """What a line asks."""

    MUST = "must"
    MUST_NOT = "must_not"
    MEASURE = "measure"


class SheetVerdict(StrEnum):
    """What the whole sheet says."""

    PASSED = "passed"
    FAILED = "failed"
    UNFINISHED = "unfinished"


@dataclass(frozen=True)
class SheetLamp:
    """A lamp to watch: a factory lamp on an identified wire, or the added one.

    Attributes
    ----------
    id : str
        Stable name, `factory:reverse`, `added`, or `added:left` for one lead of several.
    does : Wanted
        How it must behave.
    """

    id: str
    does: Wanted
    is_added: bool


@dataclass(frozen=True)
class Measure:
    """A reading with a limit, or (no instrument) a judgement by eye.

    Attributes
    ----------
    low, high : float
        Limits, in the unit of `unit`.
    """

    id: str
    state: State
    instrument: Instrument | None
    unit: str
    low: float
    high: float
    source: str


@dataclass(frozen=True)
class Line:
    """One check.

    Attributes
    ----------
    key : str
        Stable: `state|lamp` or `measure|id`; results are stored under it.
    expected : Signal
        For lamp lines; `DARK` for a measure.
    """

    key: str
    state: State
    kind: CheckKind
    lamp: SheetLamp | None
    expected: Signal
    measure: Measure | None

    @property
    def asks(self) -> str:
        """What it asks, as it is kept beside a result: `must:on`, `measure:-0.02:0.5`."""
        if self.measure is None:
            return f"{self.kind}:{self.expected.word}"
        return f"{self.kind}:{self.measure.low:g}:{self.measure.high:g}"


@dataclass(frozen=True)
class Sheet:
    """All lines in the order they are tested: state by state, then the measured ones."""

    lines: tuple[Line, ...]

    def line(self, key: str) -> Line:
        """One line by its key; KeyError when the sheet has no such line."""
        return {line.key: line for line in self.lines}[key]

    @property
    def states(self) -> tuple[State, ...]:
        """The states of the lamp lines, in order."""
        return tuple(dict.fromkeys(line.state for line in self.lines if line.lamp))

    def outcomes(self, results: Mapping[str, Outcome]) -> dict[Outcome, int]:
        """How many lines passed, failed and were not tested."""
        found = [results.get(line.key, Outcome.UNTESTED) for line in self.lines]
        return {outcome: found.count(outcome) for outcome in Outcome}

    def verdict(self, results: Mapping[str, Outcome]) -> SheetVerdict:
        """Passed only when every line was tested and passed."""
        counts = self.outcomes(results)
        if counts[Outcome.FAIL]:
            return SheetVerdict.FAILED
        if counts[Outcome.UNTESTED] or not self.lines:
            return SheetVerdict.UNFINISHED
        return SheetVerdict.PASSED


STATES = (
    "rest",
    "park",
    "brake",
    "left",
    "right",
    "hazard",
    "reverse",
    "brake+left",
    "brake+hazard",
    "park+reverse",
)
"""States that every sheet has; rear fog and a switch of one's own are added where there is one."""


def make_sheet(
    factory: Iterable[Function],
    added: Mapping[str, Wanted],
    scenario: Scenario,
    system_v: int = 12,
    *,
    not_fitted: frozenset[Control] = frozenset(),
    also: Sequence[str] = (),
) -> Sheet:
    """The test sheet for lamps added to a vehicle.

    Parameters
    ----------
    factory : iterable of Function
        What the wires of the opened lamp do; those that feed no lamp are left out.
    added : mapping of str to Wanted
        How the lamps on each added lead must behave; one lead without a name of its own has the key ``.
    scenario : Scenario
        Of the vehicle.
    system_v : int
        6, 12 or 24 [V]: drops are judged in proportion.
    not_fitted : frozenset of Control
        What the vehicle lacks: no state with it is asked for.
    also : sequence of str
        Ids of what fixes ask to be judged by eye besides.

    Returns
    -------
    Sheet
    """
    found = {function for function in factory if kind_of(function).has_lamp}
    lamps = [SheetLamp(f"added:{lead}" if lead else "added", wanted, is_added=True) for lead, wanted in added.items()]
    lamps += [SheetLamp(f"factory:{f}", parse_wanted(str(f)), is_added=False) for f in FUNCTIONS if f in found]
    states = [*STATES, *(["fog_rear"] if Function.FOG_REAR in found else [])]
    states += [str(state) for state in proving_states(added.values())]
    asked = dict.fromkeys(parse_state(state) for state in states)
    possible = [state for state in asked if not_fitted.isdisjoint(state.controls)]
    lines = [_lamp_line(state, lamp, scenario) for state in possible for lamp in lamps]
    lines += [
        Line(f"measure|{measure.id}", measure.state, CheckKind.MEASURE, None, DARK, measure)
        for measure in _measures(found, [f for wanted in added.values() for f in wanted.functions], system_v)
    ]
    seen = (Measure(id, parse_state("key"), None, "", 0.0, 0.0, "trade") for id in also)
    lines += [Line(f"measure|{each.id}", each.state, CheckKind.MEASURE, None, DARK, each) for each in seen]
    return Sheet(tuple(lines))


def judge_reading(measure: Measure, text: str) -> Outcome:
    """Whether a reading keeps within a measured line's limits.

    Parameters
    ----------
    measure : Measure
        Must have an instrument.
    text : str
        As typed.

    Returns
    -------
    Outcome
        Pass or fail.

    Raises
    ------
    ReadingError
        The text is no reading of this instrument, or no steady number.
    """
    return Outcome.PASS if measure.low <= read_measure(measure, text).low <= measure.high else Outcome.FAIL


def read_measure(measure: Measure, text: str) -> Reading:
    """A measured line's reading in its unit: a bare number is in the unit that is asked for.

    Parameters
    ----------
    measure : Measure
        Must have an instrument.
    text : str
        As typed.

    Returns
    -------
    Reading

    Raises
    ------
    ReadingError
        The text is no reading of this instrument, or no steady number.
    """
    if measure.instrument is None:
        raise ReadingError(text, "pass or fail: this line is judged by eye")
    try:
        float(text.strip().replace(",", "."))
    except ValueError:
        reading = parse_reading(text, measure.instrument)
    else:
        reading = parse_reading(f"{text.strip()} {measure.unit}", measure.instrument)
    if reading.unit == "Hz" and measure.unit == "/min":
        reading = Reading(60 * reading.low, 60 * reading.high, "/min")
    if reading.word is not None or reading.is_swing or reading.unit != measure.unit:
        raise ReadingError(text, f"a steady number in {measure.unit}")
    return reading


def _lamp_line(state: State, lamp: SheetLamp, scenario: Scenario) -> Line:
    expected = lamp.does.signal(state, scenario)
    kind = CheckKind.MUST_NOT if expected == DARK else CheckKind.MUST
    return Line(f"{state}|{lamp.id}", state, kind, lamp, expected, None)


def _measures(found: set[Function], wanted: Sequence[Function], system_v: int) -> list[Measure]:
    shown_with = next((kind_of(f).shown_with for f in wanted if kind_of(f).shown_with), Control.REVERSE)
    on = parse_state(str(shown_with))
    scale = system_scale(system_v)
    measures = [
        Measure("feed_drop", on, Instrument.DMM, "V", -0.02, 0.5 * scale, "trade"),
        Measure("ground_drop", on, Instrument.DMM, "V", -0.02, 0.1 * scale, "trade"),
        Measure("fuse_and_wire_cool", on, None, "", 0.0, 0.0, "trade"),
        Measure("no_warning", parse_state("key"), None, "", 0.0, 0.0, "trade"),
    ]
    flashing = {f for f in (*found, *wanted) if "turn" in f}
    for side in ("left", "right"):
        if any(f.endswith(side) for f in flashing):
            measures.append(
                Measure(f"flash_rate_{side}", parse_state(side), Instrument.HERTZ, "/min", 60, 120, "sae-j590")
            )
    if Function.REVERSE in wanted:
        measures.append(Measure("seen_at_night", parse_state("reverse"), None, "", 0.0, 0.0, "trade"))
    return measures
