"""Filament bulbs as published, and LED lamps as they usually are: current or power at a voltage.

A regulation gives watts (of main filaments at the rated 12 V, of small ones at the test voltage) and the largest
that a bulb may take; a trade number gives the design current, which serves as both. For a fuse the largest counts,
for what a monitor expects of a sound bulb the nominal. Currents are brought to another voltage by I ~ V^0.54,
between the handbook's 0.55 and the radiation model's 0.5385; an LED behind a resistor draws in proportion to what is
above its threshold.
"""

from __future__ import annotations

from dataclasses import dataclass
from functools import cache

from electrics.reference.tables import Table, read_table

__all__ = ["Bulb", "bulbs"]

FILAMENT_EXPONENT = 0.54
LED_THRESHOLD = 0.52
"""Share of its voltage below which an LED lamp of the system draws nothing [-] (7 V on 12 V, common practice)."""


@dataclass(frozen=True)
class Bulb:
    """One type of bulb, one filament of a bulb with two, or an LED lamp.

    Attributes
    ----------
    largest_v, largest_a : float
        The largest current that it may take, and at what voltage [V], [A].
    nominal_v, nominal_a : float
        The current of a usual one, and at what voltage [V], [A].
    hot_k : float
        Its filament at that voltage [K]: 2800, small ones 2500; 0 for LEDs.
    is_led : bool
    """

    name: str
    system_v: int
    largest_v: float
    largest_a: float
    nominal_v: float
    nominal_a: float
    hot_k: float
    is_led: bool = False

    @property
    def has_largest(self) -> bool:
        """Whether the largest is another current than the nominal one."""
        return (self.largest_v, self.largest_a) != (self.nominal_v, self.nominal_a)

    def largest_current_a(self, voltage_v: float) -> float:
        """Largest current at another voltage [A]: what a fuse must bear."""
        return self.largest_a * self._share(voltage_v / self.largest_v)

    def nominal_current_a(self, voltage_v: float) -> float:
        """Usual current at another voltage [A]: what a monitor is set for."""
        return self.nominal_a * self._share(voltage_v / self.nominal_v)

    def _share(self, ratio: float) -> float:
        """What it draws at another voltage, by the ratio of the two [-]."""
        if self.is_led:
            return max(ratio - LED_THRESHOLD, 0.0) / (1 - LED_THRESHOLD)
        return float(ratio**FILAMENT_EXPONENT)


@cache
def bulbs() -> Table[Bulb]:
    """The bulbs in the reference data, by name; the small filament of two as `1157 tail`."""

    def make(row: dict[str, str]) -> Bulb:
        at_v = float(row["at_v"])
        if row["current_a"]:
            nominal = largest = at_v, float(row["current_a"])
        else:
            largest = at_v, float(row["largest_w"]) / at_v
            nominal = float(row["nominal_v"]), float(row["nominal_w"]) / float(row["nominal_v"])
        hot_k, is_led = float(row["hot_k"] or 0), row["technology"] == "led"
        return Bulb(row["bulb"], int(row["system_v"]), *largest, *nominal, hot_k, is_led)

    columns = ("bulb", "system_v", "at_v", "current_a", "largest_w", "nominal_v", "nominal_w", "hot_k", "technology")
    return read_table("bulbs", columns, make)
