"""What is known of an access point before anything is concluded: its wires, claims and readings."""

from __future__ import annotations

from dataclasses import dataclass
from enum import StrEnum
from functools import cached_property

from electrics.formats.reading_text import Reading
from electrics.vocabulary import Function, Instrument, Load, State

__all__ = ["AccessPoint", "Claim", "Evidence", "Origin", "PlaceFacts", "Setup", "Side", "Wire"]


class Side(StrEnum):
    """Which side of the vehicle an access point is on, seen in the direction of travel."""

    NONE = ""
    LEFT = "left"
    RIGHT = "right"


class Origin(StrEnum):
    """Who says what a wire does before anything is measured."""

    SAID = "said"
    PIN_OUT = "pin_out"
    OTHER_SIDE = "other_side"
    WIRE_BOOK = "wire_book"
    EARLIER = "earlier"
    """Measured on this very vehicle, in an earlier job."""
    SPLITTER = "splitter"
    """Measured at the other plug of the same splitter, which is wired pin to pin."""


@dataclass(frozen=True)
class Claim:
    """What is said of a wire before it is measured: a prior of stated strength, never evidence."""

    function: Function
    origin: Origin = Origin.SAID
    who: str = ""


@dataclass(frozen=True)
class Wire:
    """One pin of an access point, with what is claimed of it besides a standard pin-out."""

    pin: str
    colour: str = ""
    claims: tuple[Claim, ...] = ()


@dataclass(frozen=True)
class Setup:
    """How a reading is taken: what is on, with what instrument, with what on the wire."""

    state: State
    instrument: Instrument = Instrument.DMM
    load: Load = Load.IN


@dataclass(frozen=True)
class Evidence:
    """One reading of one pin.

    Attributes
    ----------
    against : str
        Second pin when not read against proven ground; empty otherwise.
    supply_v : float
        Battery voltage at that time [V].
    """

    pin: str
    setup: Setup
    reading: Reading
    supply_v: float
    against: str = ""

    @cached_property
    def _hash(self) -> int:
        return hash((self.pin, self.setup, self.reading, self.supply_v, self.against))

    def __hash__(self) -> int:  # what was weighed once is known again by its readings: they are hashed often
        return self._hash

    @property
    def cell(self) -> tuple[str, Setup, str]:
        """Readings of the same cell are repeats of one measurement."""
        return self.pin, self.setup, self.against

    @property
    def is_number(self) -> bool:
        """Whether it is a number, or a swing between two, against proven ground."""
        return self.reading.word is None and not self.against

    @property
    def is_volts(self) -> bool:
        """Whether it is volts DC against proven ground, steady or swinging."""
        return self.setup.instrument is Instrument.DMM and self.is_number

    @cached_property
    def is_steady_volts(self) -> bool:
        """Whether it is one steady voltage against proven ground."""
        return self.is_volts and not self.reading.is_swing


@dataclass(frozen=True)
class AccessPoint:
    """A place where wires are reached: its wires, what is known of the place, and its readings.

    Attributes
    ----------
    all_wires : bool or None
        Whether every wire of the place is listed: then what is usually there and is missing counts, too. None while
        nobody has said: a list of some length is taken for whole.
    zone : str
        Where on the vehicle it is, where that is not usual for its kind; see `electrics.reference.zones`.
    repeated : frozenset of (str, Setup)
        Cells, by pin and set-up, that were measured a second time and read otherwise: what stands is the second.
    """

    name: str
    wires: tuple[Wire, ...]
    evidence: tuple[Evidence, ...] = ()
    kind: str = "connector"
    side: Side = Side.NONE
    all_wires: bool | None = None
    repeated: frozenset[tuple[str, Setup]] = frozenset()
    zone: str = ""

    @property
    def is_whole(self) -> bool:
        """Whether its list is taken for whole."""
        return len(self.wires) >= WHOLE_FROM if self.all_wires is None else self.all_wires


WHOLE_FROM = 4
"""From how many wires on a list that nobody called whole is taken for it [-] (estimate)."""


@dataclass(frozen=True)
class PlaceFacts:
    """An access point with its readings.

    Attributes
    ----------
    key : str
        Its key.
    wire_keys : tuple of str
        Those of its wires, in the order of `point.wires`.
    said : tuple of (str, Function, str)
        Pins of which a person decided what they do, and in which variant: planned with, never called measured.
    """

    key: str
    point: AccessPoint
    wire_keys: tuple[str, ...]
    said: tuple[tuple[str, Function, str], ...] = ()
