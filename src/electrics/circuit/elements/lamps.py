"""What makes light: filaments, LED modules, and a lamp with two filaments on one ground."""

from __future__ import annotations

from dataclasses import dataclass, replace
from math import log

from electrics.circuit.build import Builder
from electrics.circuit.elements.base import Element, Glow, element
from electrics.errors import CircuitError
from electrics.reference.bulbs import bulbs

__all__ = ["DualLamp", "DualLed", "Lamp", "Led"]

SHORT_OHM = 0.02
FILE_AT_V, FILE_THRESHOLD_V = 13.5, 7.5
"""What a circuit file means where it says nothing of an LED (docs/formats/circuit.md) [V]."""
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
        known = [bulb.name for bulb in bulbs() if not bulb.is_led]
        if self.bulb is not None and self.bulb not in known:
            raise CircuitError(self.name, "", f"bulb {self.bulb} is not known. Known: {', '.join(known)}.")

    @property
    def rating(self) -> tuple[float, float, float]:
        """Volts [V] and amps [A], and how hot its filament is at them [K]."""
        if self.bulb is None:
            return self.rated_v, self.rated_a, self.hot_k
        found = bulbs()[self.bulb]
        return found.nominal_v, found.nominal_a, found.hot_k

    @property
    def made_for_v(self) -> float | None:
        return None if self.broken else self.rating[0]

    @property
    def glows(self) -> tuple[Glow, ...]:
        return (Glow(),)

    @property
    def mended(self) -> Lamp:
        return replace(self, broken=False, shorted=False) if self.broken or self.shorted else self

    def build(self, b: Builder) -> None:
        if self.shorted:
            b.resistor(self.name, self.at("from"), self.at("to"), SHORT_OHM)
        elif not self.broken:
            b.filament(self.name, self.at("from"), self.at("to"), *self.rating)


@element("dual_lamp", ("tail", "stop", "to"))
@dataclass(frozen=True, kw_only=True)
class DualLamp(Element):
    """Two filaments with one ground: tail (small) and stop or turn (main); they may touch, and one or both be dead.

    Attributes
    ----------
    broken : str
        Which filament is dead: `tail`, `stop`, `both`, or empty.
    """

    tail_v: float = 14.0
    tail_a: float = 0.59
    stop_v: float = 12.8
    stop_a: float = 2.10
    shorted: bool = False
    broken: str = ""

    @property
    def made_for_v(self) -> float:
        return self.stop_v

    def check(self) -> None:
        self.positive("tail_v", "tail_a", "stop_v", "stop_a")
        if self.broken not in ("", "tail", "stop", "both"):
            raise CircuitError(self.name, "", f"broken is {self.broken}. Expected tail, stop or both.")

    @property
    def glows(self) -> tuple[Glow, ...]:
        return tuple(Glow(name, (name,)) for name in self._whole)

    @property
    def mended(self) -> DualLamp:
        return replace(self, broken="", shorted=False) if self.broken or self.shorted else self

    @property
    def _whole(self) -> tuple[str, ...]:
        return tuple(name for name in ("tail", "stop") if self.broken not in (name, "both"))

    def build(self, b: Builder) -> None:
        values = {"tail": (self.tail_v, self.tail_a, 2500.0), "stop": (self.stop_v, self.stop_a, 2800.0)}
        for name in self._whole:
            b.filament(self.name, self.at(name), self.at("to"), *values[name], name=name)
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
    regulated, constant_power : bool
        Constant current; constant power by a switching driver, which draws more from less voltage.
    bridge : bool
        Works both ways round.
    leak_ohm : float or None
        A resistor across it inside [ohm].
    """

    amps_a: float = 0.3
    at_v: float = FILE_AT_V
    threshold_v: float = FILE_THRESHOLD_V
    regulated: bool = False
    bridge: bool = False
    leak_ohm: float | None = None
    constant_power: bool = False

    is_quick = True

    @property
    def made_for_v(self) -> float | None:
        return None if self.regulated or self.constant_power else self.at_v

    def as_string(self, threshold_v: float) -> Led:
        return replace(self, regulated=False, constant_power=False, threshold_v=threshold_v)

    @property
    def glows(self) -> tuple[Glow, ...]:
        if self.constant_power:
            return (Glow(by="watts", nominal=self.amps_a * self.at_v),)
        return (Glow(by="amps", nominal=self.amps_a),)

    def check(self) -> None:
        self.positive("amps_a", "at_v", "threshold_v")
        if self.regulated and self.constant_power:
            raise CircuitError(self.name, "", "is regulated to a current and to a power. Expected one of the two.")
        if self.threshold_v >= self.at_v:
            raise CircuitError(
                self.name, "", f"threshold_v is {self.threshold_v:g}. Expected less than at_v, {self.at_v:g} V."
            )
        if self.leak_ohm is not None:
            self.positive("leak_ohm")

    def build(self, b: Builder) -> None:
        first, second = self.at("from"), self.at("to")
        for a, c in ((first, second), (second, first)) if self.bridge else ((first, second),):
            width_v = REGULATED_WIDTH_SHARE * self.threshold_v
            if self.regulated:
                b.regulated(self.name, a, c, self.amps_a, self.threshold_v, width_v)
            elif self.constant_power:
                b.powered(self.name, a, c, self.amps_a * self.at_v, self.threshold_v, width_v)
            else:
                b.junction(self.name, a, c, *string_of(self.threshold_v, self.amps_a, self.at_v))
        if self.leak_ohm is not None:
            b.resistor(self.name, first, second, self.leak_ohm, name="leak")


@element("dual_led", ("tail", "stop", "to"))
@dataclass(frozen=True, kw_only=True)
class DualLed(Element):
    """One LED string fed bright by one lead and dim by the other, each through a resistor and a diode.

    Attributes
    ----------
    common : str
        `negative` (to ground, the leads are fed) or `positive` (to battery, the leads are grounded).
    bridge : bool
        Works either way.
    """

    tail_a: float = 0.05
    stop_a: float = 0.3
    at_v: float = FILE_AT_V
    threshold_v: float = FILE_THRESHOLD_V
    common: str = "negative"
    bridge: bool = False

    is_quick = True

    @property
    def made_for_v(self) -> float:
        return self.at_v

    @property
    def glows(self) -> tuple[Glow, ...]:
        return (Glow(of=tuple(f"{way}string" for way, _ in self._ways), by="amps", nominal=self.stop_a),)

    @property
    def _ways(self) -> tuple[tuple[str, bool], ...]:
        """Each way that current may go: what its branches are called, and whether it goes in by the leads."""
        both = (("", True), ("back_", False))
        return both if self.bridge else both[:1] if self.common == "negative" else (("", False),)

    def check(self) -> None:
        self.positive("tail_a", "stop_a", "at_v", "threshold_v")
        if self.tail_a >= self.stop_a:
            raise CircuitError(self.name, "", "tail_a is not below stop_a. Expected the dimmer lead first.")
        if self.at_v <= self.threshold_v + 1.0:
            raise CircuitError(self.name, "", f"threshold_v is {self.threshold_v:g}. Expected 1 V less than at_v.")
        if self.common not in ("negative", "positive"):
            raise CircuitError(self.name, "", f"common is {self.common}. Expected negative or positive.")

    def build(self, b: Builder) -> None:
        string_v = self.threshold_v + 0.3

        def add(inwards: bool, first: str, second: str) -> tuple[str, str]:
            return (first, second) if inwards else (second, first)

        for way, inwards in self._ways:
            inner = f"{self.name}.{way}string"
            for terminal, amps in (("tail", self.tail_a), ("stop", self.stop_a)):
                middle = f"{self.name}.{way}{terminal}_in"
                ohm = (self.at_v - string_v - 0.7) / amps
                b.resistor(self.name, *add(inwards, self.at(terminal), middle), ohm, name=f"{way}{terminal}_in")
                b.junction(self.name, *add(inwards, middle, inner), *INNER_DIODE, name=f"{way}{terminal}")
            string = string_of(self.threshold_v, self.stop_a, string_v)
            b.junction(self.name, *add(inwards, inner, self.at("to")), *string, name=f"{way}string")


def string_of(threshold_v: float, amps_a: float, at_v: float) -> tuple[float, float, float]:
    """Saturation current [A], slope [V] and series resistance [ohm] of a string by threshold and rating."""
    slope = STRING_SLOPE_PER_V * threshold_v
    saturation = THRESHOLD_A * 2.718281828 ** (-threshold_v / slope)
    series = max((at_v - slope * log(amps_a / saturation)) / amps_a, 0.01)
    return saturation, slope, series
