"""Filament bulbs as published: current or power at a voltage.

Currents are brought to another voltage by I ~ V^0.54, between the handbook's 0.55 and the radiation
model's 0.5385.
"""

from __future__ import annotations

from dataclasses import dataclass
from functools import cache

from electrics.reference.tables import Table, read_table

__all__ = ["Bulb", "bulbs"]

FILAMENT_EXPONENT = 0.54


@dataclass(frozen=True)
class Bulb:
    """One type of filament bulb, as published: current or power at a voltage."""

    name: str
    system_v: int
    at_v: float
    current_at_v_a: float
    is_largest: bool

    def current_a(self, voltage_v: float) -> float:
        """Current at another voltage [A]."""
        return self.current_at_v_a * float((voltage_v / self.at_v) ** FILAMENT_EXPONENT)


@cache
def bulbs() -> Table[Bulb]:
    """The filament bulbs in the reference data, by name."""

    def make(row: dict[str, str]) -> Bulb:
        at_v = float(row["at_v"])
        current_a = float(row["current_a"]) if row["current_a"] else float(row["power_w"]) / at_v
        return Bulb(row["bulb"], int(row["system_v"]), at_v, current_a, row["kind"] == "largest")

    return read_table("bulbs", ("bulb", "system_v", "at_v", "current_a", "power_w", "kind"), make)
