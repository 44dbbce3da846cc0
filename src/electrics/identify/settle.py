"""When a verdict may be called settled: what it still lacks, as an id; and which wires may then be tapped.

How sure is enough hangs on what an error would cost: a verdict stands when the error that is left costs no more than
one reading more. And sure is not enough. It must be so with every claim removed, no reading may contradict it, a
reading that looks like a bus must be explained, a ground must have shown what no feed with filaments could, and a bus
that it talks.
"""

from __future__ import annotations

from collections.abc import Callable, Iterable, Sequence
from enum import StrEnum

from electrics.document.places import Evidence
from electrics.identify.grounds import less_at_rest
from electrics.instruments.condition import AFLOAT, BUSES, Condition
from electrics.reference.functions import Tap, kind_of
from electrics.vocabulary import Function, Instrument, Load

__all__ = [
    "GROUND_DROP_V",
    "GROUND_MOST_V",
    "GROUND_OHM",
    "LEAST_WITHOUT",
    "MOST_DATA",
    "READING_COST",
    "Lack",
    "cost_of_error",
    "drops_little",
    "is_tappable",
    "least_sure",
    "looks_like_bus",
    "may_be_bus",
    "proves_bus",
    "proves_ground",
    "times_shown_ground",
]

READING_COST = 1.0
"""What one reading more costs [-]: costs of errors are counted in readings."""
LEAST_WITHOUT = 0.5
"""What must be left of a verdict had any one of its cells never been read [-]: one mistake alone settles nothing."""
MOST_DATA = 0.01
"""Share of belief in a data line from which a wire is neither settled nor tapped [-]."""
BUS_HZ = 500.0
"""Frequency that no lamp circuit pulses at, and every bus does [Hz] (common practice)."""
GROUND_DROP_V = 0.010
"""Loaded drop under which no usual feed lies, on 12 V [V]: two headlamp filaments show 27 mV (calculated)."""
GROUND_MOST_V = 0.1
"""What a ground may lose with its lamps on, on 12 V [V] (common practice)."""
GROUND_OHM = 0.6
"""Ohms to ground, meter leads included, that with its lamp pulled only a ground shows [ohm] (common practice)."""
LEAST_READINGS = 2
"""Readings of its own that a ground must have [-]."""
BUS_V = (1.5, 3.5)
"""Where a busy bus line lies [V] (ISO 11898-2)."""
FULL_SHARE = 0.75
"""Share of the supply from which a reading is one that no such bus line gives [-]."""

_EXPLAINS = {
    Condition.PART,
    Condition.VARYING,
    Condition.FLASH,
    Condition.BETWEEN_LIT,
    Condition.BETWEEN_FED_BACK,
    *BUSES,
}


class Lack(StrEnum):
    """What a verdict still lacks to be settled."""

    NOTHING = ""
    CHANCE = "chance"
    """Its probability is too low."""
    ODD = "odd"
    """A reading contradicts it."""
    OWN_READINGS = "own_readings"
    """It rests on a claim, or on the plug's standard."""
    GROUND_PROOF = "ground_proof"
    """Nothing that it read a resting or dead feed could not read as well."""
    CONFIRMATION = "confirmation"
    """It hangs on a single reading: were that one a mistake, something else would be likelier."""
    NEVER_ON = "never_on"
    """No reading shows it on where it should be: what it is follows from ohms, or from the other wires."""
    BUS = "bus"
    """It may be a data line; or it looks like one and nobody has seen it talk."""


def least_sure(function: Function) -> float:
    """Probability from which a verdict on this function costs less by its errors than by a reading more [-]."""
    return 1.0 - READING_COST / kind_of(function).error_cost


def cost_of_error(function: Function, chance: float, others: Iterable[tuple[Function, float]]) -> float:
    """What it is expected to cost to act on a verdict now, in readings.

    Parameters
    ----------
    function : Function
        The verdict.
    chance : float
        That it is right, polarity included [-].
    others : iterable of (Function, float)
        What the wire may be instead, with the chance of each [-].
    """
    missed = sum(kind_of(other).missed_cost * share for other, share in others if other is not function)
    return (1.0 - chance) * kind_of(function).error_cost + missed


def proves_ground(evidence: Sequence[Evidence]) -> bool:
    """Whether a wire's own readings show a ground that no feed with filaments could be, a dead one included."""
    if len({item.cell for item in evidence}) < LEAST_READINGS:
        return False
    return times_shown_ground(evidence) > 0


def times_shown_ground(evidence: Sequence[Evidence]) -> int:
    """How many of a wire's readings show a ground that no feed with filaments could be [-]."""
    return sum(_excludes_feeds(item) for item in less_at_rest(evidence) if item.is_number)


def _excludes_feeds(item: Evidence) -> bool:
    volts = abs(item.reading.low)
    if item.setup.instrument is Instrument.LOADED_DROP:
        return volts + item.reading.step / 2 < GROUND_DROP_V * item.supply_v / 12.6
    return (
        item.setup.instrument is Instrument.OHMS
        and item.setup.load is Load.OUT
        and 0 <= item.reading.low < GROUND_OHM
    )


def drops_little(evidence: Sequence[Evidence]) -> bool:
    """Whether a wire dropped so little under a test lamp that it may be a ground by what it does under load."""
    return any(
        abs(item.reading.low) + item.reading.step / 2 <= GROUND_MOST_V * item.supply_v / 12.6
        for item in less_at_rest(evidence)
        if item.setup.instrument is Instrument.LOADED_DROP and item.is_number
    )


def proves_bus(evidence: Sequence[Evidence]) -> bool:
    """Whether a wire's own readings show that it talks; volts alone may be a ghost."""
    return any(
        item.setup.instrument is Instrument.HERTZ and item.is_number and item.reading.high >= BUS_HZ
        for item in evidence
    )


def looks_like_bus(item: Evidence) -> bool:
    """Whether a reading lies where a busy bus line does."""
    return item.is_steady_volts and BUS_V[0] <= abs(item.reading.low) <= BUS_V[1]


def may_be_bus(evidence: Sequence[Evidence], expected: Callable[[Evidence], Condition]) -> bool:
    """Whether a reading looks like a bus and the verdict does not explain it.

    Parameters
    ----------
    evidence : sequence of Evidence
        A wire's own readings.
    expected : callable
        What the verdict has the wire be at one of them.

    Returns
    -------
    bool
        A floating feed may stand there, too; that explains it only on a wire that has read full battery voltage.
    """
    where = [expected(item) for item in evidence if looks_like_bus(item)]
    is_feed = bool(where) and any(_is_full(item) for item in evidence)
    return any(each not in _EXPLAINS and not (is_feed and each in AFLOAT) for each in where)


def _is_full(item: Evidence) -> bool:
    return item.is_volts and item.reading.high >= FULL_SHARE * item.supply_v


def is_tappable(function: Function, lack: Lack, data_chance: float, *, is_fused: bool) -> bool:
    """Whether a wire may be offered as a tap.

    Parameters
    ----------
    function, lack : Function, Lack
        The verdict, and what it lacks.
    data_chance : float
        Probability that it is a data line [-].
    is_fused : bool
        Reached at the fuse box, so that it has a fuse of its own.
    """
    kind = kind_of(function)
    is_open = kind.tap is Tap.YES or (kind.tap is Tap.FUSED and is_fused)
    return lack is Lack.NOTHING and is_open and data_chance <= MOST_DATA
