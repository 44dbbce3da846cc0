"""Whether a reading shows a wire live, dead, or on where its function is."""

from __future__ import annotations

from collections.abc import Iterable

from electrics.document.places import Evidence
from electrics.formats.reading_text import Word
from electrics.identify.likelihood import SCENARIOS
from electrics.identify.tools import LOOKS
from electrics.signals import DARK, polarity_of, signal
from electrics.vocabulary import Function, Polarity, State

__all__ = ["is_dead", "is_live", "is_on_in", "seen_on"]

DEAD_V = 0.3
"""A pin that has read under this on a 12 V system counts as dead, and ohms are then allowed."""
PULLED_DOWN_V = 1.0
"""What a wire reads at most that is pulled to ground, on 12 V [V] (estimate)."""
LIVE_WORDS = {Word.ON, Word.DIM, Word.FLASH, Word.RED, Word.RED_GREEN, Word.RED_NONE, Word.BOTH}


def is_live(item: Evidence) -> bool:
    """Whether a reading shows volts on a wire, by meter, probe or test lamp."""
    if item.reading.word is not None:
        return item.setup.instrument in LOOKS and item.reading.word in LIVE_WORDS
    return item.is_volts and _most_v(item) >= DEAD_V * item.supply_v / 12.6


def is_dead(item: Evidence) -> bool:
    """Whether a voltmeter shows nothing on a wire, as a number."""
    return item.is_volts and _most_v(item) < DEAD_V * item.supply_v / 12.6


def is_on_in(function: Function, variant: str, state: State) -> bool:
    """Whether a circuit carries anything in a state, on any vehicle."""
    return any(signal(function, state, scenario, variant) != DARK for scenario, _ in SCENARIOS)


def seen_on(evidence: Iterable[Evidence], function: Function, variant: str) -> bool:
    """Whether a wire was seen on where its function is: ohms and dark states alone make no tap."""
    is_pulled = polarity_of(variant) is Polarity.GROUND
    return any(
        item.setup.instrument in LOOKS
        and is_on_in(function, variant, item.setup.state)
        and (_is_pulled_down(item) if is_pulled else is_live(item))
        for item in evidence
    )


def _is_pulled_down(item: Evidence) -> bool:
    if item.reading.word is not None:
        return item.reading.word not in (Word.ON, Word.RED, Word.OPEN)
    return item.is_volts and abs(item.reading.low) <= PULLED_DOWN_V * item.supply_v / 12.6


def _most_v(item: Evidence) -> float:
    return max(abs(item.reading.low), abs(item.reading.high))
