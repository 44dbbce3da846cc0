"""A lamp filament: what it draws, how hot it is and how brightly it burns.

Heat balance: power lost k (T^4 - Ta^4), resistance R_hot (T / T_hot)^1.2. It gives the handbook exponents by
itself: current V^0.54, power V^1.54, and about one fifteenth of the hot resistance when cold.
"""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

__all__ = ["AMBIENT_K", "Filaments"]

Array = NDArray[np.float64]

AMBIENT_K = 293.15
EXPONENT = 1.2
"""Resistance of tungsten against absolute temperature [-] (handbook)."""
SECOND_RADIATION_M_K = 0.014388
"""Second radiation constant [m K], CODATA."""
WAVELENGTH_M = 570e-9
"""Where the eye, weighing an incandescent spectrum, has its middle [m]: gives light as V^3.4 near rated voltage."""
WARMS_S = 0.08
"""How long its rated power takes to bring a filament up [s] (estimate: inrush lasts some tens of milliseconds)."""
ROUNDS = 3
"""Newton steps for a temperature: leave an error of some 1e-11 [-]."""


class Filaments:
    """Any number of filaments side by side; arrays are (n,) and broadcast over (..., n)."""

    def __init__(self, rated_v: Array, rated_a: Array, hot_k: Array, ambient_k: float = AMBIENT_K) -> None:
        self.rated_v, self.rated_a, self.hot_k, self.ambient_k = rated_v, rated_a, hot_k, ambient_k
        self.hot_ohm = rated_v / rated_a
        self.cold = ambient_k / hot_k
        self.cold4 = self.cold**4

    def heat(self, volts: Array) -> Array:
        """Temperature over its hot temperature once the heat has settled at these root-mean-square volts [-]."""
        wanted = (volts / self.rated_v) ** 2 * (1.0 - self.cold4)
        x = (wanted + self.cold ** (4 + EXPONENT)) ** (1 / (4 + EXPONENT))
        for _ in range(ROUNDS):  # convex and rising: Newton from below comes down from above
            power, fourth = x**EXPONENT, x**4
            slope = (EXPONENT * power * (fourth - self.cold4) + 4 * fourth * power) / x
            x = np.maximum(x - (power * (fourth - self.cold4) - wanted) / slope, self.cold)
        return x

    def conductance_s(self, heat: Array) -> Array:
        """Conductance at a temperature over the hot one [S]."""
        return heat**-EXPONENT / self.hot_ohm

    def response(self, heat: Array) -> Array:
        """How much the current follows the voltage once the heat has settled: d ln I / d ln V [-]."""
        fourth = heat**4
        spare = np.maximum(fourth - self.cold4, 1e-300)
        return np.asarray(1.0 - EXPONENT * 2.0 / (EXPONENT + 4.0 * fourth / spare))

    def light(self, heat: Array) -> Array:
        """Light as a share of that at rated voltage [-]: ratio of Planck's law in the middle of the visible."""
        scale = SECOND_RADIATION_M_K / WAVELENGTH_M
        return np.asarray(np.expm1(scale / self.hot_k) / np.expm1(np.minimum(scale / (self.hot_k * heat), 700.0)))

    def warmed(self, heat: Array, volts: Array, seconds: float) -> Array:
        """Temperature over the hot one some seconds later, on its way to where it settles at these volts [-]."""
        target = self.heat(volts)
        rate = self.heating(heat, volts, WARMS_S * self.rated_v * self.rated_a / self.hot_k)
        gap = target - heat
        is_apart = np.abs(gap) > 1e-9
        pace = np.where(is_apart, rate / np.where(is_apart, gap, 1.0), 0.0)
        return np.asarray(target - gap * np.exp(-np.maximum(pace, 0.0) * seconds))

    def heating(self, heat: Array, volts: Array, heat_capacity_j_per_k: Array) -> Array:
        """How fast the temperature over the hot one rises [1/s]."""
        gained = volts**2 * self.conductance_s(heat)
        lost = self.rated_v * self.rated_a * (heat**4 - self.cold4) / (1 - self.cold4)
        return np.asarray((gained - lost) / (heat_capacity_j_per_k * self.hot_k))
