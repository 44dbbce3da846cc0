"""What a factory circuit usually is: assumed while nobody has looked."""

from __future__ import annotations

from dataclasses import dataclass, replace
from functools import cache
from typing import Any

from electrics.errors import FactError
from electrics.reference.bulbs import bulbs
from electrics.reference.tables import Table, read_table
from electrics.vocabulary import Function

__all__ = [
    "FEED_LOSS_V",
    "GROUND_LOSS_V",
    "HIGHEST_V",
    "LED_STARTS_V",
    "LOWEST_V",
    "RUNNING_V",
    "SYSTEMS",
    "UsualCircuit",
    "led_volts",
    "running_v",
    "system_scale",
    "usual_circuit",
    "usual_circuits",
]

LOWEST_V, RUNNING_V, HIGHEST_V = 11.5, 13.5, 15.0
"""Idling with load, with the engine running, and charging, on a 12 V system; in proportion on others [V] (common
practice)."""
FEED_LOSS_V, GROUND_LOSS_V = 0.5, 0.1
"""What a lamp that is on may lose on 12 V, from battery positive to its feed and from its ground to battery negative
[V] (common practice)."""
LED_STARTS_V = 7.15
"""Where a usual string LED begins to draw, on 12 V: 0.2 A at 13.5 V is 0.137 A at 11.5 V (handbook) [V]."""


def led_volts(scale: float) -> dict[str, Any]:
    """Where a usual LED's current is stated and where it begins to draw, `scale` being 1 for 12 V [V]."""
    return {"at_v": RUNNING_V * scale, "threshold_v": LED_STARTS_V * scale}


def running_v(system_v: int) -> float:
    """Voltage with the engine running that loads are computed at [V]; FactError for what is no vehicle system."""
    if system_v not in SYSTEMS:
        raise FactError("system_v", f"{system_v} V is no vehicle system. Expected 6, 12 or 24 V.")
    return RUNNING_V * system_scale(system_v)


SYSTEMS = (6, 12, 24)
"""What vehicle systems there are [V]."""


def system_scale(volts_v: float) -> float:
    """A battery's voltage as a share of 12 V, rounded to 6, 12 and 24 V systems [-]."""
    return 0.5 if volts_v < 9 else 1.0 if volts_v < 18 else 2.0


@dataclass(frozen=True)
class UsualCircuit:
    """Bulbs, or LEDs in their place, fuse [A] and wire (AWG) that a circuit of a function usually has."""

    function: Function
    bulb: str
    led: str
    count: int
    fuse_a: float
    wire: str


@cache
def usual_circuits() -> Table[UsualCircuit]:
    """By function; those that vary too much have no row."""
    return read_table(
        "usual_circuits",
        ("function", "bulb", "led", "count", "fuse_a", "wire"),
        lambda row: UsualCircuit(
            Function(row["function"]), row["bulb"], row["led"], int(row["count"]), float(row["fuse_a"]), row["wire"]
        ),
    )


def usual_circuit(function: str, system_v: int) -> UsualCircuit | None:
    """What is assumed of a circuit on a system [V]; None where nothing can be."""
    found = usual_circuits().rows.get(function)
    if found is None or system_v == 12:
        return found
    bulb, led = f"{found.bulb} {system_v} V", f"{found.led} {system_v} V"
    if bulb not in bulbs().rows:
        return None
    if system_v == 6:  # the same watts are twice the amps
        return replace(found, bulb=bulb, led=led, fuse_a=2 * found.fuse_a, wire=str(int(found.wire) - THICKER_AWG))
    return replace(found, bulb=bulb, led=led)


THICKER_AWG = 4
"""By how much the wires of a 6 V system are thicker [AWG]: some two and a half times the copper (common practice)."""
