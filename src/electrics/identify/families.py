"""Mistakes that come in families: one slip that makes several readings of a state odd at once.

A control that was not really on, a clip on the battery's plus instead of ground, two pins read in each other's place.
Each is tried in place of the odd readings: the readings of that state are taken as the slip would have made them, and
weighed again. What explains them better than as many single mistakes is named as one.
"""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Callable, Iterator, Sequence
from dataclasses import dataclass, replace
from enum import StrEnum
from math import log

import numpy as np
from numpy.typing import NDArray

from electrics.document.places import AccessPoint, Evidence, Setup
from electrics.formats.reading_text import Reading, Word
from electrics.identify.explain import Contradiction
from electrics.vocabulary import Control, Instrument, State, make_state

__all__ = ["Family", "Slip", "families_of", "without"]

FEWEST = 2
"""Odd readings in one state from which all of its readings may be one slip [-]."""
BETTER = 1.0
"""By how much a slip must be likelier than as many mistakes, as a logarithm [-]."""


class Slip(StrEnum):
    """What went wrong."""

    NOT_ON = "not_on"
    """A control was not really on, or the clip had no ground."""
    CLIP_ON_PLUS = "clip_on_plus"
    SWAPPED = "swapped"


CHANCE = {Slip.NOT_ON: 0.02, Slip.CLIP_ON_PLUS: 0.003, Slip.SWAPPED: 0.004}
"""How often a state is spoilt so [-] (estimates)."""


@dataclass(frozen=True)
class Family:
    """One slip in one state.

    Attributes
    ----------
    pins : tuple of str
        Those whose readings it spoilt.
    control : Control or None
        What was not on; None for nothing at all.
    """

    slip: Slip
    setup: Setup
    pins: tuple[str, ...]
    control: Control | None = None


Exchange = tuple[Evidence, Evidence]
"""A reading as it was noted, and one whose display the same wire would have shown without the slip."""


Gains = Callable[[Sequence[Evidence], Sequence[Evidence]], NDArray[np.float64]]
"""By how much likelier everything is with each of the second readings in place of each of the first, as logarithms
(n_first, n_second) [-]."""


def families_of(point: AccessPoint, suspected: Sequence[Contradiction], gains: Gains) -> tuple[Family, ...]:
    """The slips that explain odd readings better than single mistakes do.

    Parameters
    ----------
    point : AccessPoint
    suspected : sequence of Contradiction
        The readings that may well be mistakes; a state is looked at where one contradicts the rest, or several may.
    gains : callable
        See `Gains`.

    Returns
    -------
    tuple of Family
        At most one for each state.

    Notes
    -----
    Gains of several wires are added, as if one told nothing of another: near enough to tell a slip, and quick.
    """
    by_setup: dict[Setup, list[str]] = defaultdict(list)
    for item in (each.evidence for each in suspected):
        if item.pin not in by_setup[item.setup]:
            by_setup[item.setup].append(item.pin)
    odd = {each.evidence.setup for each in suspected if each.is_odd}
    read: dict[Setup, list[Evidence]] = defaultdict(list)
    for item in point.evidence if suspected else ():
        if not item.against:
            read[item.setup].append(item)
    found = []
    for setup, pins in by_setup.items():
        slips = list(_slips(setup, read[setup], pins)) if setup in odd or len(pins) >= FEWEST else []
        if not slips:
            continue
        gained = _gains_of(slips, gains)
        best = int(np.argmax(gained))
        if gained[best] > BETTER:
            found.append(slips[best][0])
    return tuple(found)


def _gains_of(slips: Sequence[tuple[Family, list[Exchange]]], gains: Gains) -> list[float]:
    """By how much likelier each slip is than as many mistakes, as a logarithm [-]: all weighed at once."""
    noted = {id(old): old for _, exchanges in slips for old, _ in exchanges}
    instead = {id(new): new for _, exchanges in slips for _, new in exchanges}
    row, column = ({each: n for n, each in enumerate(ids)} for ids in (noted, instead))
    table = gains(tuple(noted.values()), tuple(instead.values())).tolist() if noted else []
    return [
        log(CHANCE[family.slip]) + sum(table[row[id(old)]][column[id(new)]] for old, new in exchanges)
        for family, exchanges in slips
    ]


def without(point: AccessPoint, families: Sequence[Family]) -> AccessPoint:
    """A point with the readings left out that slips have spoilt."""
    spoilt = {(family.setup, pin) for family in families for pin in family.pins}
    kept = tuple(item for item in point.evidence if (item.setup, item.pin) not in spoilt)
    return replace(point, evidence=kept)


def _slips(setup: Setup, there: Sequence[Evidence], odd: Sequence[str]) -> Iterator[tuple[Family, list[Exchange]]]:
    """Every slip in a state, with the readings as they would have been; what shows alike is one reading."""
    pins = tuple(dict.fromkeys(item.pin for item in there))
    is_set_anew = len(pins) < len(there)  # and read the same again: then the state was what it was called
    first: dict[object, Evidence] = {}
    shows = [first.setdefault((item.reading, item.supply_v), item) for item in there]
    if len(odd) >= FEWEST and not is_set_anew:
        for control, left in _left_off(setup.state):
            off = {id(item): replace(item, setup=replace(setup, state=left)) for item in first.values()}
            yield (
                Family(Slip.NOT_ON, setup, pins, control),
                [(item, off[id(show)]) for item, show in zip(there, shows, strict=True)],
            )
        if setup.instrument is Instrument.DMM and all(item.is_number or item.reading.word in _SAME for item in there):
            raised = {id(item): replace(item, reading=_raised(item)) for item in first.values() if item.is_number}
            yield (
                Family(Slip.CLIP_ON_PLUS, setup, pins),
                [(item, raised[id(show)]) for item, show in zip(there, shows, strict=True) if item.is_number],
            )
    shown: dict[str, tuple[Evidence, Evidence]] = {}
    for item, show in zip(there, shows, strict=True):
        if shown.setdefault(item.pin, (item, show))[1] is not show:
            pins = tuple(pin for pin in pins if pin != item.pin)  # read twice, and not alike: nothing to exchange
    pairs = {tuple(sorted((one, other))) for one in odd if one in pins for other in pins if one != other}
    for one, other in sorted(pairs):
        (mine, seen), (its, its_seen) = shown[one], shown[other]
        if not _alike(mine, its):
            yield Family(Slip.SWAPPED, setup, (one, other)), [(mine, its_seen), (its, seen)]


def _alike(first: Evidence, second: Evidence) -> bool:
    """Whether two readings say the same, so that exchanged they would change nothing."""
    if first.reading.word is not None or first.reading.is_swing or second.reading.is_swing:
        return first.reading == second.reading
    is_number = second.reading.word is None
    return is_number and abs(first.reading.low - second.reading.low) < ALIKE_SHARE * first.supply_v


ALIKE_SHARE = 0.1
"""Numbers nearer than this to each other, of the supply, say the same [-]."""


_SAME = (Word.FLASH, Word.OPEN)
"""What is written down the same wherever the clip is."""


def _left_off(state: State) -> Iterator[tuple[Control | None, State]]:
    """What a state was with one of its controls not on, or with nothing on."""
    for control in state.controls:
        left = make_state(each for each in state.controls if each is not control)
        if left != state:
            yield control, left
    if len(state.controls) > 1:
        yield None, make_state(())


def _raised(item: Evidence) -> Reading:
    """What a clip on ground would have shown in place of one on the battery's plus."""
    reading = item.reading
    return replace(reading, low=reading.low + item.supply_v, high=reading.high + item.supply_v)
