"""Semiconductors as branches: a diode with its series resistance, lamps regulated to a constant current or power."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray
from scipy.special import wrightomega

__all__ = ["SOFT_V", "THERMAL_V", "Junctions", "Powered", "Regulated"]

Array = NDArray[np.float64]

THERMAL_V = 1.380649e-23 * 300.15 / 1.602176634e-19
"""k T / q at 27 C [V] (SI constants)."""


class Junctions:
    """Diodes I = Is (exp((V - I Rs) / nVt) - 1), solved for I in closed form by the Wright omega function."""

    def __init__(self, saturation_a: Array, slope_v: Array, series_ohm: Array) -> None:
        self.saturation_a, self.slope_v, self.series_ohm = saturation_a, slope_v, series_ohm
        self.offset = np.log(saturation_a * series_ohm / slope_v) + saturation_a * series_ohm / slope_v

    def current(self, volts: Array) -> tuple[Array, Array]:
        """Current [A] and its slope [S] at these volts."""
        omega = np.real(wrightomega(self.offset + volts / self.slope_v))
        current = self.slope_v / self.series_ohm * omega - self.saturation_a
        return np.asarray(current), np.asarray(omega / ((1.0 + omega) * self.series_ohm))


class Regulated:
    """Constant current above a starting voltage, nothing at none: I0 (tanh((V - Vs) / w) + tanh(Vs / w)) / 2."""

    def __init__(self, amps_a: Array, start_v: Array, width_v: Array) -> None:
        self.amps_a, self.start_v, self.width_v = amps_a, start_v, width_v
        self.offset = np.tanh(start_v / width_v)

    def current(self, volts: Array) -> tuple[Array, Array]:
        """Current [A] and its slope [S] at these volts."""
        shape = np.tanh((volts - self.start_v) / self.width_v)
        return 0.5 * self.amps_a * (self.offset + shape), 0.5 * self.amps_a * (1.0 - shape**2) / self.width_v


SOFT_V = 0.5
"""Keeps the current of a regulated power finite at no voltage [V]."""


class Powered:
    """Constant power above a starting voltage: P V / (V^2 + Vsoft^2) (1 + tanh((V - Vs) / w)) / 2."""

    def __init__(self, watts: Array, start_v: Array, width_v: Array) -> None:
        self.watts, self.start_v, self.width_v = watts, start_v, width_v

    def current(self, volts: Array) -> tuple[Array, Array]:
        """Current [A] and its slope [S] at these volts."""
        square = volts**2 + SOFT_V**2
        draws, draws_slope = volts / square, (SOFT_V**2 - volts**2) / square**2
        shape = np.tanh((volts - self.start_v) / self.width_v)
        on, on_slope = 0.5 * (1.0 + shape), 0.5 * (1.0 - shape**2) / self.width_v
        return self.watts * draws * on, self.watts * (draws_slope * on + draws * on_slope)
