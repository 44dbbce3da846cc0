"""A test sheet made from the plan, judged line by line.

For every state every lamp has a line: lit, dark or flashing, what it must do or must not. Then come the
measured lines with a limit. A line nobody tested is untested, and one untested line keeps the whole sheet
from being passed.
"""

from __future__ import annotations

from collections.abc import Iterable, Iterator, Mapping, Sequence
from dataclasses import dataclass, replace
from enum import StrEnum
from types import MappingProxyType

from electrics.design.states import proving_states
from electrics.design.wanted import Wanted, parse_wanted
from electrics.prove.measures import Measure, Outcome, judge_reading, read_measure, usual_measures
from electrics.reference.functions import kind_of
from electrics.signals import DARK, Scenario, Signal
from electrics.vocabulary import FUNCTIONS, Control, Function, State, parse_state

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


OF_ROW = "#"
"""What the number of a lamp in a row follows: `added:left#2`."""
NO_ROWS: Mapping[str, int] = MappingProxyType({})


@dataclass(frozen=True)
class SheetLamp:
    """A lamp to watch: a factory lamp on an identified wire, or the added one.

    Attributes
    ----------
    id : str
        Stable name, `factory:reverse`, `added`, `added:left` for one lead of several, `added:left#2` in a row.
    does : Wanted
        How it must behave.
    """

    id: str
    does: Wanted
    is_added: bool

    @property
    def lead(self) -> str:
        """The added lead that it is on; empty for the only one, and for a factory lamp."""
        return self.id.partition(":")[2].partition(OF_ROW)[0] if self.is_added else ""

    @property
    def of_row(self) -> SheetLamp:
        """All lamps of its row as one."""
        return replace(self, id=self.id.partition(OF_ROW)[0])

    @property
    def number(self) -> int:
        """Which lamp of a row it is, counted from 1; 0 for all of them [-]."""
        return int(self.id.partition(OF_ROW)[2] or 0)


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
    measures: Sequence[Measure] | None = None,
    rows: Mapping[str, int] = NO_ROWS,
    others: Sequence[Scenario] = (),
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
    measures : sequence of Measure, optional
        What is measured; the usual drops, rates and looks of one lead where nobody says.
    rows : mapping of str to int
        How many lamps hang on an added lead, by lead, where there are several: each gets a line where it must light.
    others : sequence of Scenario
        What the vehicle may be like as well: what nobody can know is not asked.

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
    lines = [
        line
        for state in possible
        for lamp in lamps
        if all(lamp.does.signal(state, each) == lamp.does.signal(state, scenario) for each in others)
        for line in _lamp_lines(state, lamp, scenario, rows)
    ]
    if measures is None:
        measures = usual_measures(found, [f for wanted in added.values() for f in wanted.functions], system_v)
    lines += [Line(f"measure|{each.id}", each.state, CheckKind.MEASURE, None, DARK, each) for each in measures]
    return Sheet(tuple(lines))


def _lamp_lines(state: State, lamp: SheetLamp, scenario: Scenario, rows: Mapping[str, int]) -> Iterator[Line]:
    """The lines of a lamp in a state: one for each lamp of a row that must light, one for all that must not."""
    expected = lamp.does.signal(state, scenario)
    count = rows.get(lamp.id.partition(":")[2], 1) if lamp.is_added else 1
    if expected == DARK or count == 1:
        kind = CheckKind.MUST_NOT if expected == DARK else CheckKind.MUST
        yield Line(f"{state}|{lamp.id}", state, kind, lamp, expected, None)
        return
    for n in range(1, count + 1):
        one = replace(lamp, id=f"{lamp.id}{OF_ROW}{n}")
        yield Line(f"{state}|{one.id}", state, CheckKind.MUST, one, expected, None)
