"""Diodes, aluminium-housed resistors, modules and the blow time of fuses, as published or sold."""

from __future__ import annotations

from dataclasses import dataclass
from functools import cache
from math import exp, log, sqrt

import numpy as np

from electrics.reference.tables import Table, read_table

__all__ = [
    "BODY_LIMIT_C",
    "RATED_AT_C",
    "HousedResistor",
    "ListedDiode",
    "ListedModule",
    "blow_time_s",
    "diodes",
    "housed_resistors",
    "modules",
]

BODY_LIMIT_C, RATED_AT_C = 200.0, 25.0
"""What the body of an aluminium-housed resistor survives, and the air that it is rated in (data sheets, from memory)
[C]."""

SLOPE_V = {"silicon": 0.04397, "schottky": 0.02716}
"""Emission coefficient times k T / q at 27 C [V]: 1.7 for silicon rectifiers, 1.05 for Schottky (estimates)."""
SATURATION_SHARE = {"silicon": 5e-9 / 3, "schottky": 2e-6}
"""Saturation current over rated current [-] (estimates)."""
DRIFT_V_PER_K = 0.002
"""The drop falls by this much a kelvin [V/K] (data sheets, from memory)."""


@dataclass(frozen=True)
class ListedDiode:
    """One type of rectifier: its rating, and the drop at it."""

    part: str
    family: str
    rated_a: float
    drop_at_rated_v: float
    reverse_v: float

    def model(self, temperature_c: float = 27.0) -> tuple[float, float, float]:
        """Saturation current [A], slope voltage [V] and series resistance [ohm] that give the published drop."""
        slope = SLOPE_V[self.family]
        saturation = SATURATION_SHARE[self.family] * self.rated_a
        series = (self.drop_at_rated_v - slope * log(self.rated_a / saturation)) / self.rated_a
        return saturation * exp(DRIFT_V_PER_K * (temperature_c - 27.0) / slope), slope, series


@dataclass(frozen=True)
class HousedResistor:
    """One case size of an aluminium-housed resistor.

    Attributes
    ----------
    plate_w, free_air_w : float
        What it bears on the standard metal plate and in free air, 25 C around it, 200 C body [W].
    """

    watts: float
    plate_w: float
    free_air_w: float
    heat_capacity_j_per_k: float

    def kelvin_per_watt(self, *, on_plate: bool) -> float:
        """Body over ambient for each watt [K/W]: the rating takes it from 25 C to its limit of 200 C."""
        return (BODY_LIMIT_C - RATED_AT_C) / (self.plate_w if on_plate else self.free_air_w)


@dataclass(frozen=True)
class ListedModule:
    """A part that works on one system only, as it is sold: which [V], and what an output bears [A]; 0 for a bulb."""

    part: str
    system_v: int
    output_a: float


@cache
def modules() -> Table[ListedModule]:
    """The modules, timed relays and bulbs of a kind that there are, by part, system and output."""
    return read_table(
        "modules",
        ("key", "part", "system_v", "output_a"),
        lambda row: ListedModule(row["part"], int(row["system_v"]), float(row["output_a"])),
    )


@cache
def diodes() -> Table[ListedDiode]:
    """The generic rectifiers, by part number."""
    return read_table(
        "diodes",
        ("part", "family", "rated_a", "drop_at_rated_v", "reverse_v"),
        lambda row: ListedDiode(
            row["part"], row["family"], float(row["rated_a"]), float(row["drop_at_rated_v"]), float(row["reverse_v"])
        ),
    )


@cache
def housed_resistors() -> Table[HousedResistor]:
    """The case sizes, smallest first, by watts as text."""
    return read_table(
        "housed_resistors",
        ("watts", "plate_w", "free_air_w", "heat_capacity_j_per_k"),
        lambda row: HousedResistor(
            float(row["watts"]), float(row["plate_w"]), float(row["free_air_w"]), float(row["heat_capacity_j_per_k"])
        ),
    )


@cache
def _curve() -> tuple[tuple[float, float], ...]:
    table = read_table(
        "fuse_curve",
        ("load_percent", "shortest_s", "longest_s"),
        lambda row: (float(row["load_percent"]) / 100, sqrt(float(row["shortest_s"]) * float(row["longest_s"]))),
    )
    return tuple(table)


def blow_time_s(load_share: float) -> float:
    """How long a blade fuse bears a current, as its rating's multiple, before it blows [s].

    Parameters
    ----------
    load_share : float
        Current over rating [-].

    Returns
    -------
    float
        Middle of the published band, in logarithms [s]; infinite below 1.35 times the rating, where the standard
        promises hours; above 6 times falling with the square of the current.

    References
    ----------
    ISO 8820-3 (from memory).
    """
    curve = _curve()
    if load_share < curve[0][0]:
        return float("inf")
    last_share, last_s = curve[-1]
    if load_share > last_share:
        return last_s * (last_share / load_share) ** 2
    return float(
        exp(np.interp(log(load_share), [log(share) for share, _ in curve], [log(time) for _, time in curve]))
    )
