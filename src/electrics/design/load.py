"""What a circuit carries now, what is added, and whether fuse and wire can carry it."""

from __future__ import annotations

from dataclasses import dataclass

from electrics.errors import FactError
from electrics.reference.bulbs import Bulb
from electrics.reference.fuses import CONTINUOUS_SHARE
from electrics.reference.usual import LOWEST_V, RUNNING_V, system_scale

__all__ = [
    "MASKS_SHARE",
    "HostLoad",
    "check_load_a",
    "computer_spare_a",
    "host_load",
    "switch_limit_a",
]

INRUSH_FACTOR = 10.0
"""A cold filament starts at about ten times its running current (common practice)."""
LED_RISES = RUNNING_V / LOWEST_V - 1.0
"""What an LED may draw more at the lowest running voltage, as a share: there constant power is the largest of
constant power, constant current and string [-]."""
COMPUTER_SPARE_A = 0.2
"""What may be added to a computer's output on 12 V, as a relay's coil is (common practice) [A]."""
SWITCH_A = 5.0
"""What an added dash switch carries itself on 12 V; beyond that it switches a relay's coil [A] (from memory)."""
MASKS_SHARE = 0.1
"""Above this share of what an output carries an added load may hide a dead bulb [-] (common practice)."""
LARGEST_ADDED_A = 30.0
"""More than this is no lamp circuit [A]."""


@dataclass(frozen=True)
class HostLoad:
    """A factory circuit with what is to be added.

    Attributes
    ----------
    present_a, added_a, total_a : float
        At running voltage [A].
    allowed_a : float
        80 % of the fuse's rating [A].
    wire_allowed_a : float
        Largest fuse for the host wire, as its continuous limit [A].
    inrush_a : float
        The filaments' first tens of milliseconds [A].
    share : float
        Of the fuse's rating that may flow for long [-].
    led_a : float
        As much of what is added as lights LEDs: nobody knows how their current goes with voltage [A].
    """

    present_a: float
    added_a: float
    fuse_a: float
    wire_allowed_a: float
    inrush_a: float
    share: float = CONTINUOUS_SHARE
    led_a: float = 0.0

    @property
    def largest_a(self) -> float:
        """Current with LEDs at their maximum [A]: what fuse and wire must carry."""
        return self.total_a + LED_RISES * self.led_a

    @property
    def total_a(self) -> float:
        return self.present_a + self.added_a

    @property
    def allowed_a(self) -> float:
        return self.share * self.fuse_a

    @property
    def fits_fuse(self) -> bool:
        return self.largest_a <= self.allowed_a

    @property
    def fits_wire(self) -> bool:
        return self.largest_a <= self.wire_allowed_a


def computer_spare_a(system_v: int) -> float:
    """What may be added to a computer's output [A]: on 24 V half of what it is on 12 V."""
    return COMPUTER_SPARE_A / system_scale(system_v)


def switch_limit_a(system_v: int) -> float:
    """What an added switch carries itself [A]: on 24 V half of what it does on 12 V, on 6 V no more."""
    return SWITCH_A * min(1 / system_scale(system_v), 1.0)


def check_load_a(count: int, each_a: float) -> float:
    """Current of what is added [A].

    Parameters
    ----------
    count : int
        Number of lamps [-].
    each_a : float
        Current of one at running voltage [A].

    Returns
    -------
    float
        Total [A].

    Raises
    ------
    FactError
        No lamps, no current, or more than any lamp circuit carries.
    """
    if not 1 <= count <= 20:
        raise FactError("count", f"{count} lamps cannot be planned. Expected 1 to 20.")
    if not 0.001 <= each_a <= LARGEST_ADDED_A:
        raise FactError(
            "each_a", f"{each_a:g} A a lamp cannot be. Expected 0.001 to {LARGEST_ADDED_A:g} A; is the point missing?"
        )
    total_a = count * each_a
    if total_a > LARGEST_ADDED_A:
        raise FactError(
            "each_a",
            f"{count} × {each_a:g} A is {total_a:g} A: more than {LARGEST_ADDED_A:g} A is no lamp circuit. "
            "Split it, each part with a relay and fuse of its own.",
        )
    return total_a


def host_load(
    bulb: Bulb,
    count: int,
    added_a: float,
    fuse_a: float,
    wire_allowed_a: float,
    voltage_v: float,
    *,
    present_a: float | None = None,
    share: float = CONTINUOUS_SHARE,
    added_filament_a: float = 0.0,
) -> HostLoad:
    """The host circuit with the added load.

    Parameters
    ----------
    bulb : Bulb
        What it feeds from the factory.
    count : int
        How many of them [-].
    added_a : float
        Added current [A].
    fuse_a : float
        Rating of its fuse [A].
    wire_allowed_a : float
        Limit of its wire [A].
    voltage_v : float
        Running voltage [V].
    present_a : float, optional
        Measured with a clamp, in place of what the bulbs should draw [A].
    share : float
        Of the fuse's rating that may flow for long [-].
    added_filament_a : float
        As much of what is added as heats filaments: they start cold too [A].

    Returns
    -------
    HostLoad
    """
    if not 0 <= count <= 20:
        raise FactError("host_count", f"{count} factory bulbs cannot be. Expected 0 to 20.")
    if present_a is None:
        present_a = count * bulb.largest_current_a(voltage_v)
    inrush_a = INRUSH_FACTOR * (present_a + added_filament_a)
    return HostLoad(present_a, added_a, fuse_a, wire_allowed_a, inrush_a, share, max(added_a - added_filament_a, 0.0))
