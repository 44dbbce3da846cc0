"""What makes light: filaments, LED modules, and a lamp with two filaments on one ground."""

from __future__ import annotations

from dataclasses import dataclass
from math import log

from electrics.circuit.build import Builder
from electrics.circuit.elements.base import Element, element
from electrics.errors import CircuitError
from electrics.reference.bulbs import bulbs

__all__ = ["DualLamp", "DualLed", "Lamp", "Led"]

SHORT_OHM = 0.02
STRING_SLOPE_PER_V = 0.02
"""How steep an LED string is: slope voltage over its threshold [-] (estimate)."""
THRESHOLD_A = 1e-3
"""Current at which a string is said to have reached its threshold [A]."""
REGULATED_WIDTH_SHARE = 0.12
"""Over what share of its starting voltage a regulated module comes up [-] (estimate)."""
INNER_DIODE = (5e-9, 0.04397, 0.05)
"""Saturation current [A], slope [V] and series resistance [ohm] of the diodes inside a module (estimate)."""


@element("lamp", ("from", "to"))
@dataclass(frozen=True, kw_only=True)
class Lamp(Element):
    """One filament, by a bulb of the reference data (a usual one) or by rated volts and amps; small ones 2500 K."""

    bulb: str | None = None
    rated_v: float = 12.8
    rated_a: float = 2.10
    hot_k: float = 2800.0
    broken: bool = False
    shorted: bool = False

    def check(self) -> None:
        self.positive("rated_v", "rated_a")
        if not 1500 <= self.hot_k <= 3500:
            raise CircuitError(self.name, "", f"hot_k is {self.hot_k:g}. Expected 1500 to 3500 K.")
        if self.bulb is not None and self.bulb not in bulbs().rows:
            raise CircuitError(self.name, "", f"bulb {self.bulb} is not known. Known: {', '.join(bulbs().rows)}.")

    @property
    def rating(self) -> tuple[float, float, float]:
        """Volts [V] and amps [A], and how hot its filament is at them [K]."""
        if self.bulb is None:
            return self.rated_v, self.rated_a, self.hot_k
        found = bulbs()[self.bulb]
        return found.nominal_v, found.nominal_a, found.hot_k

    def build(self, b: Builder) -> None:
        if self.shorted:
            b.resistor(self.name, self.at("from"), self.at("to"), SHORT_OHM)
        elif not self.broken:
            b.filament(self.name, self.at("from"), self.at("to"), *self.rating)


@element("dual_lamp", ("tail", "stop", "to"))
@dataclass(frozen=True, kw_only=True)
class DualLamp(Element):
    """Two filaments with one ground: tail (small) and stop or turn (main); they may touch."""

    tail_v: float = 14.0
    tail_a: float = 0.59
    stop_v: float = 12.8
    stop_a: float = 2.10
    shorted: bool = False

    def check(self) -> None:
        self.positive("tail_v", "tail_a", "stop_v", "stop_a")

    def build(self, b: Builder) -> None:
        b.filament(self.name, self.at("tail"), self.at("to"), self.tail_v, self.tail_a, 2500.0, name="tail")
        b.filament(self.name, self.at("stop"), self.at("to"), self.stop_v, self.stop_a, 2800.0, name="stop")
        if self.shorted:
            b.resistor(self.name, self.at("stop"), self.at("tail"), SHORT_OHM, name="touch")


@element("led", ("from", "to"))
@dataclass(frozen=True, kw_only=True)
class Led(Element):
    """An LED module.

    Attributes
    ----------
    amps_a, at_v : float
        Its current [A] at this voltage [V].
    threshold_v : float
        A string is dark below; a regulated module starts here [V].
    regulated, bridge : bool
        Constant current; works both ways round.
    leak_ohm : float or None
        A resistor across it inside [ohm].
    """

    amps_a: float = 0.3
    at_v: float = 13.5
    threshold_v: float = 7.5
    regulated: bool = False
    bridge: bool = False
    leak_ohm: float | None = None

    def check(self) -> None:
        self.positive("amps_a", "at_v", "threshold_v")
        if self.threshold_v >= self.at_v:
            raise CircuitError(
                self.name, "", f"threshold_v is {self.threshold_v:g}. Expected less than at_v, {self.at_v:g} V."
            )
        if self.leak_ohm is not None:
            self.positive("leak_ohm")

    def build(self, b: Builder) -> None:
        first, second = self.at("from"), self.at("to")
        for a, c in ((first, second), (second, first)) if self.bridge else ((first, second),):
            if self.regulated:
                b.regulated(self.name, a, c, self.amps_a, self.threshold_v, REGULATED_WIDTH_SHARE * self.threshold_v)
            else:
                b.junction(self.name, a, c, *string_of(self.threshold_v, self.amps_a, self.at_v))
        if self.leak_ohm is not None:
            b.resistor(self.name, first, second, self.leak_ohm)


@element("dual_led", ("tail", "stop", "to"))
@dataclass(frozen=True, kw_only=True)
class DualLed(Element):
    """One LED string fed bright by one lead and dim by the other, each through a resistor and a diode."""

    tail_a: float = 0.05
    stop_a: float = 0.3
    at_v: float = 13.5
    threshold_v: float = 7.5

    def check(self) -> None:
        self.positive("tail_a", "stop_a", "at_v", "threshold_v")
        if self.tail_a >= self.stop_a:
            raise CircuitError(self.name, "", "tail_a is not below stop_a. Expected the dimmer lead first.")

    def build(self, b: Builder) -> None:
        inner = f"{self.name}.string"
        string_v = self.threshold_v + 0.3
        for terminal, amps in (("tail", self.tail_a), ("stop", self.stop_a)):
            middle = f"{self.name}.{terminal}_in"
            b.resistor(
                self.name, self.at(terminal), middle, (self.at_v - string_v - 0.7) / amps, name=f"{terminal}_in"
            )
            b.junction(self.name, middle, inner, *INNER_DIODE, name=terminal)
        b.junction(
            self.name, inner, self.at("to"), *string_of(self.threshold_v, self.stop_a, string_v), name="string"
        )


def string_of(threshold_v: float, amps_a: float, at_v: float) -> tuple[float, float, float]:
    """Saturation current [A], slope [V] and series resistance [ohm] of a string by threshold and rating."""
    slope = STRING_SLOPE_PER_V * threshold_v
    saturation = THRESHOLD_A * 2.718281828 ** (-threshold_v / slope)
    series = max((at_v - slope * log(amps_a / saturation)) / amps_a, 0.01)
    return saturation, slope, series
