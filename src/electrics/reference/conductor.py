"""Wire: cross-section, resistance hot and cold, and what fuse may stand before it.

Sizes sold by American gauge (ASTM B258 formula), as vehicle cable behind a gauge name (up to 12 % less
copper) and in metric steps. One resistivity: copper 0.017241 ohm mm2/m at 20 C (IEC 60028).
"""

from __future__ import annotations

from dataclasses import dataclass
from enum import StrEnum
from functools import cache
from math import pi

import numpy as np

from electrics.errors import TableError
from electrics.reference.tables import Table, read_table

__all__ = [
    "HOT_C",
    "Conductor",
    "WireStandard",
    "awg_diameter_mm",
    "conductors",
    "connector_colour",
    "largest_fuse_a",
]

RHO_20_OHM_MM2_PER_M = 0.017241
"""Resistivity of annealed copper at 20 C, IEC 60028."""
ALPHA_20_PER_K = 0.00393
"""Temperature coefficient of the same copper at 20 C, IEC 60028."""
HOT_C = 85.0
"""Conductor temperature that drops are computed at [C]: vehicle cable runs at 60 to 85 C (common practice)."""


class WireStandard(StrEnum):
    """By which table a wire is sold."""

    AWG = "awg"
    VEHICLE = "vehicle"
    METRIC = "metric"


@dataclass(frozen=True)
class Conductor:
    """One size of wire.

    Attributes
    ----------
    name : str
        As printed on the spool.
    area_mm2 : float
        Copper cross-section [mm2].
    ohm_per_m_20 : float
        Resistance at 20 C [ohm/m].
    largest_fuse_a : float
        Largest fuse for it in a loom [A]: common practice by gauge, by the copper in between.
    sleeve_colour : str
        Of the insulated crimp connector that fits.
    """

    standard: WireStandard
    size: str
    name: str
    area_mm2: float
    ohm_per_m_20: float
    largest_fuse_a: float
    sleeve_colour: str

    def ohm_per_m(self, temperature_c: float = HOT_C) -> float:
        """Resistance at a conductor temperature [ohm/m]."""
        return self.ohm_per_m_20 * (1 + ALPHA_20_PER_K * (temperature_c - 20.0))


@dataclass(frozen=True)
class _Limit:
    awg: int
    largest_fuse_a: float
    sleeve_colour: str


def awg_diameter_mm(awg: int) -> float:
    """Diameter of a solid conductor of this gauge [mm], ASTM B258."""
    return float(0.127 * 92 ** ((36 - awg) / 39))


@cache
def conductors(standard: WireStandard) -> tuple[Conductor, ...]:
    """The sizes of one standard, thinnest first."""
    makers = {
        WireStandard.AWG: _awg,
        WireStandard.VEHICLE: _vehicle,
        WireStandard.METRIC: _metric,
    }
    return tuple(sorted(makers[standard](), key=lambda conductor: conductor.area_mm2))


@cache
def conductor(standard: WireStandard, size: str) -> Conductor:
    """One size of one standard; TableError names the sizes there are."""
    for one in conductors(standard):
        if one.size == size:
            return one
    known = ", ".join(one.size for one in conductors(standard))
    raise TableError(f"There is no {standard} wire “{size}”. Sizes are: {known}.")


def largest_fuse_a(area_mm2: float) -> float:
    """Largest fuse for a cross-section [A]: between the gauges of the rule in proportion to the copper.

    Parameters
    ----------
    area_mm2 : float
        Copper cross-section [mm2].

    Returns
    -------
    float
        Below the thinnest gauge in proportion to it; above the thickest no more than that one's [A].
    """
    areas, limits = zip(*sorted((_awg_area_mm2(each.awg), each.largest_fuse_a) for each in _limits()), strict=True)
    found = np.interp(area_mm2, (0.0, *areas), (0.0, *limits))
    return round(float(found), 2)


def connector_colour(area_mm2: float) -> str:
    """Colour of the insulated crimp connector for a cross-section [mm2]: that of the nearest gauge."""
    return min(_limits(), key=lambda each: abs(_awg_area_mm2(each.awg) - area_mm2)).sleeve_colour


def _awg() -> list[Conductor]:
    return [
        Conductor(
            WireStandard.AWG,
            str(limit.awg),
            f"{limit.awg} AWG",
            _awg_area_mm2(limit.awg),
            RHO_20_OHM_MM2_PER_M / _awg_area_mm2(limit.awg),
            limit.largest_fuse_a,
            limit.sleeve_colour,
        )
        for limit in _limits()
    ]


def _vehicle() -> list[Conductor]:
    table = read_table("vehicle_cable", ("gauge", "area_mm2"), lambda row: (row["gauge"], float(row["area_mm2"])))
    by_gauge = {str(limit.awg): limit for limit in _limits()}
    return [
        Conductor(
            WireStandard.VEHICLE,
            gauge,
            f"{gauge} gauge vehicle cable",
            area,
            RHO_20_OHM_MM2_PER_M / area,
            largest_fuse_a(area),
            by_gauge[gauge].sleeve_colour,
        )
        for gauge, area in table
    ]


def _metric() -> list[Conductor]:
    table = read_table(
        "metric_cable",
        ("area_mm2", "largest_mohm_per_m_20"),
        lambda row: (row["area_mm2"], float(row["largest_mohm_per_m_20"]) / 1e3),
    )
    found = []
    for size, ohm_per_m in table:
        area = float(size)
        found.append(
            Conductor(
                WireStandard.METRIC,
                size,
                f"{size} mm²",
                area,
                ohm_per_m,
                largest_fuse_a(area),
                connector_colour(area),
            )
        )
    return found


def _awg_area_mm2(awg: int) -> float:
    return pi / 4 * awg_diameter_mm(awg) ** 2


@cache
def _limits() -> Table[_Limit]:
    return read_table(
        "awg_fuse_limits",
        ("awg", "largest_fuse_a", "sleeve_colour"),
        lambda row: _Limit(int(row["awg"]), float(row["largest_fuse_a"]), row["sleeve_colour"]),
    )
