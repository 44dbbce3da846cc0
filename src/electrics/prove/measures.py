"""Measured lines of a test sheet: readings with a limit, and what is judged by eye and hand."""

from __future__ import annotations

from collections.abc import Collection, Mapping, Sequence
from dataclasses import dataclass
from enum import StrEnum

from electrics.errors import ReadingError
from electrics.formats.reading_text import Reading, parse_reading
from electrics.reference.functions import kind_of
from electrics.reference.usual import FEED_LOSS_V, GROUND_LOSS_V, system_scale
from electrics.vocabulary import Control, Function, Instrument, State, parse_state

__all__ = [
    "Measure",
    "Outcome",
    "by_eye",
    "feed_drop",
    "general_measures",
    "ground_drop",
    "judge_reading",
    "on_state",
    "read_measure",
    "usual_measures",
]

LEAST_V = -0.02
"""Below zero a meter may stand by its own error [V] (estimate)."""
SLOWEST_FASTEST = (60.0, 120.0)
"""Flashes a minute (SAE J590)."""
SAME_RATE = 1.05
"""Within this of the rate before the work counts as no faster [-] (estimate)."""


class Outcome(StrEnum):
    """What became of a line."""

    PASS = "pass"
    FAIL = "fail"
    UNTESTED = "untested"


@dataclass(frozen=True)
class Measure:
    """A reading with a limit, or (no instrument) a judgement by eye.

    Attributes
    ----------
    id : str
        What is measured, and after a colon what on where there are several: `feed_drop:left-tail`.
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

    @property
    def kind(self) -> str:
        """What is measured."""
        return self.id.partition(":")[0]

    @property
    def about(self) -> str:
        """The lead, unit or part that it is measured on; empty where there is but one."""
        return self.id.partition(":")[2]


def usual_measures(factory: Collection[Function], wanted: Sequence[Function], system_v: int) -> list[Measure]:
    """What is measured where one lead was added, and what is judged on any vehicle.

    Parameters
    ----------
    factory : collection of Function
        What the vehicle's own lamps do.
    wanted : sequence of Function
        What the added leads do.
    system_v : int
        6, 12 or 24 [V].

    Returns
    -------
    list of Measure
    """
    on = on_state(wanted)
    return [feed_drop(on, system_v), ground_drop(on, system_v), *general_measures(factory, wanted)]


def on_state(wanted: Sequence[Function]) -> State:
    """The state in which what is wanted is looked at."""
    shown_with = next((kind_of(f).shown_with for f in wanted if kind_of(f).shown_with), Control.REVERSE)
    return parse_state(str(shown_with))


def feed_drop(on: State, system_v: int, about: str = "", extra_v: float = 0.0) -> Measure:
    """What is lost from battery positive to a lamp that is on.

    Parameters
    ----------
    on : State
        Where it is lit.
    system_v : int
        6, 12 or 24 [V]: drops are judged in proportion.
    about : str
        Id of the lead; empty where there is but one.
    extra_v : float
        What prescribed diodes in its feed may lose besides [V].

    Returns
    -------
    Measure
    """
    most_v = FEED_LOSS_V * system_scale(system_v) + extra_v
    return Measure(_named("feed_drop", about), on, Instrument.DMM, "V", LEAST_V, most_v, "trade")


def ground_drop(on: State, system_v: int, about: str = "", *, is_towed: bool = False) -> Measure:
    """What is lost from a lamp that is on to battery negative; `about` is its unit, empty where there is but one.

    On a towed car its own ground and the wire to the vehicle in front may each lose what a ground may.
    """
    most_v = GROUND_LOSS_V * system_scale(system_v) * (2 if is_towed else 1)
    return Measure(_named("ground_drop", about), on, Instrument.DMM, "V", LEAST_V, most_v, "trade")


def _named(kind: str, about: str) -> str:
    return f"{kind}:{about}" if about else kind


def by_eye(id: str, state: State) -> Measure:
    """A line that is judged by eye and hand."""
    return Measure(id, state, None, "", 0.0, 0.0, "trade")


def general_measures(
    factory: Collection[Function], wanted: Sequence[Function], before_per_min: Mapping[str, float] | None = None
) -> list[Measure]:
    """What is judged of the vehicle as a whole.

    Parameters
    ----------
    factory : collection of Function
    wanted : sequence of Function
    before_per_min : mapping of str to float, optional
        Flash rate of a side before the work [/min].

    Returns
    -------
    list of Measure
    """
    found = [by_eye("fuse_and_wire_cool", on_state(wanted)), by_eye("no_warning", parse_state("key"))]
    flashing = {f for f in (*factory, *wanted) if "turn" in f}
    for side in ("left", "right"):
        if any(f.endswith(side) for f in flashing):
            was = (before_per_min or {}).get(side)
            most = SLOWEST_FASTEST[1] if was is None else min(SLOWEST_FASTEST[1], SAME_RATE * was)
            least = SLOWEST_FASTEST[0] if was is None else min(SLOWEST_FASTEST[0], was / SAME_RATE)
            found.append(
                Measure(
                    f"flash_rate_{side}",
                    parse_state(side),
                    Instrument.HERTZ,
                    "/min",
                    least,
                    round(max(most, least), 1),
                    "sae-j590",
                )
            )
    if Function.REVERSE in wanted:
        found.append(by_eye("seen_at_night", parse_state("reverse")))
    return found


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
