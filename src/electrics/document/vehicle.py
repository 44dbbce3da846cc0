"""What is known of the vehicle itself."""

from __future__ import annotations

from dataclasses import dataclass
from enum import StrEnum

from electrics.vocabulary import Arrangement, BrakeWithHazard, Control, Function

__all__ = ["PRONGS", "Computer", "Earlier", "FlasherKind", "Idle", "VehicleFacts"]


class Computer(StrEnum):
    """Whether a computer feeds or watches the lamps."""

    UNKNOWN = "unknown"
    NO = "no"
    YES = "yes"


class FlasherKind(StrEnum):
    """What makes the turn lamps flash."""

    BIMETAL = "bimetal"
    ELECTRONIC = "electronic"
    FIXED = "fixed"
    COMPUTER = "computer"


class Idle(StrEnum):
    """What a computer's lamp outputs do while they are off."""

    DARK = "dark"
    PULSES = "pulses"
    """They test their lamps cold, about a millisecond once a second."""
    LEAK = "leak"
    """A pull-up watches for the filament."""


PRONGS = {"two": ("X", "L"), "three": ("X", "L", "P"), "ground": ("X", "L", "31")}
"""Terminals of a flasher by how many prongs it has: supply, load, pilot or ground (DIN 72552, from memory)."""


@dataclass(frozen=True)
class Earlier:
    """What an earlier job on this vehicle found a wire to be: a claim by now.

    Attributes
    ----------
    place, pin : str
        By their names.
    date : str
        The day it was found, as 2026-03-01.
    """

    place: str
    pin: str
    function: Function
    date: str = ""

    def __str__(self) -> str:
        return " ".join(filter(None, (self.place, self.pin, self.function, self.date)))


@dataclass(frozen=True)
class VehicleFacts:
    """The vehicle.

    Attributes
    ----------
    system_v : int
        6, 12 or 24 [V].
    arrangement : Arrangement or None
        Of its rear signals, where somebody said so.
    not_fitted : frozenset of Control
        What it lacks.
    body : str
        Of `electrics.reference.zones.bodies`: for lengths that nobody has measured.
    brake_with_hazard : BrakeWithHazard or None
        Which of them wins on a combined lamp, where somebody said so.
    flasher : FlasherKind or None
        What makes the turn lamps flash, where somebody found out.
    pilot : str
        The turn pilots of the dash: `one` between the two sides, `two`, or empty while nobody has looked.
    idle : Idle
        What an LED at a lamp of the vehicle shows with everything off.
    prongs : str
        Of its flasher: `two` (X, L), `three` (X, L and P), `ground` where one of them is ground, or empty while
        nobody has looked.
    habits : tuple of (str, float)
        How it watches its lamps, and how warm it gets there, as far as somebody stated it; see
        `electrics.reference.habits`.
    earlier : tuple of Earlier
        What earlier jobs found its wires to be.
    is_coded : bool
        Its computer was coded for LED lamps: it counts no bulbs. Said by the fix of that name alone.
    """

    system_v: int = 12
    computer: Computer = Computer.UNKNOWN
    arrangement: Arrangement | None = None
    not_fitted: frozenset[Control] = frozenset()
    body: str = "car"
    brake_with_hazard: BrakeWithHazard | None = None
    flasher: FlasherKind | None = None
    pilot: str = ""
    idle: Idle = Idle.DARK
    habits: tuple[tuple[str, float], ...] = ()
    prongs: str = ""
    earlier: tuple[Earlier, ...] = ()
    is_coded: bool = False

    @property
    def usual_flasher(self) -> FlasherKind:
        """What flashes the turn lamps: as it was found, else what such vehicles mostly have."""
        usual = FlasherKind.COMPUTER if self.computer is Computer.YES else FlasherKind.ELECTRONIC
        return self.flasher or usual

    @property
    def assumes_computer(self) -> bool:
        """Whether a computer is assumed because one flashes the turn lamps and nobody said more."""
        return self.computer is Computer.UNKNOWN and self.flasher is FlasherKind.COMPUTER

    @property
    def has_computer(self) -> bool:
        """Whether a computer powers or monitors the lamps, said or assumed on the safe side."""
        return self.computer is Computer.YES or self.assumes_computer

    @property
    def counts_bulbs(self) -> bool:
        """Whether its computer takes a lamp that draws little for dead."""
        return self.has_computer and not self.is_coded

    @property
    def contradicts_itself(self) -> bool:
        """Whether a computer flashes the turn lamps of a vehicle that is said to have none."""
        return self.computer is Computer.NO and self.flasher is FlasherKind.COMPUTER
