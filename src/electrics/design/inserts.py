"""What a cure fits at a lead, between its feed and its lamps, one class a kind: resistor, diode, decoder."""

from __future__ import annotations

from abc import ABC, abstractmethod
from dataclasses import dataclass

from electrics.circuit.elements import Decoder, Diode, Element, Resistor
from electrics.circuit.elements.smoothing import INNER_PART
from electrics.reference.mounts import mounts
from electrics.reference.usual import HIGHEST_V, system_scale

__all__ = ["Blocker", "DarkResistor", "Insert", "Shunt", "Store"]


LEADED_W, LEADED_MARGIN = (0.25, 0.5, 1.0, 2.0, 5.0, 9.0), 2.0
"""Resistors with wire leads by what they bear [W], and over the heat in them, since they lie in a sleeve [-]
(estimate)."""
SERIES_W = 5.0
"""What the resistor before a decoder's capacitor bears: a lamp's current and its charge, sleeved [W] (estimate)."""
CAPACITOR_V = {6: 25.0, 12: 35.0, 24: 63.0}
"""Rated voltage of a decoder's capacitor: over twice the system's [V] (common practice)."""


def leaded(ohm: float, system_v: int) -> str:
    """A resistor with wire leads across a lamp: `470 ohm, 1 W`."""
    heat_w = (HIGHEST_V * system_scale(system_v)) ** 2 / ohm
    case_w = next((watts for watts in LEADED_W if watts >= LEADED_MARGIN * heat_w), LEADED_W[-1])
    return f"{ohm:g} ohm, {case_w:g} W with wire leads"


class Insert(ABC):
    """Something fitted at a lead.

    Attributes
    ----------
    word : str
        What its element's name ends with.
    is_in_series : bool
        Whether the lamps are behind it; else it lies across the lead and ground.
    """

    word: str
    is_in_series: bool = False

    @abstractmethod
    def element(self, name: str, feed: str, lamp: str, ground: str) -> Element:
        """The part, between the nodes of feed and lamps (the same where it is not in series) and of ground."""

    @abstractmethod
    def value(self, system_v: int) -> str:
        """What it is, as the parts list names it."""

    def amps_a(self, voltage_v: float) -> float:
        """What it draws beside the lamps at a voltage [A]."""
        return 0.0


@dataclass(frozen=True)
class Shunt(Insert):
    """A resistor across a lead and ground [ohm]: the case that it comes in [W], and how it is mounted."""

    ohm: float
    case_w: float
    mount: str = "metal"
    word = "load"

    def element(self, name: str, feed: str, lamp: str, ground: str) -> Element:
        nodes = {"from": feed, "to": ground}
        return Resistor(name=name, nodes=nodes, ohm=self.ohm, watts=self.case_w, mounting=self.mount)

    def value(self, system_v: int) -> str:
        return f"{self.ohm:g} ohm, {self.case_w:g} W, {mounts()[self.mount].name}"

    def amps_a(self, voltage_v: float) -> float:
        return voltage_v / self.ohm


@dataclass(frozen=True)
class DarkResistor(Insert):
    """A small resistor across a lamp, which takes what a monitor leaks [ohm]."""

    ohm: float
    word = "dark resistor"

    def element(self, name: str, feed: str, lamp: str, ground: str) -> Element:
        return Resistor(name=name, nodes={"from": feed, "to": ground}, ohm=self.ohm)

    def value(self, system_v: int) -> str:
        return f"{leaded(self.ohm, system_v)}, in a sleeve"

    def amps_a(self, voltage_v: float) -> float:
        return voltage_v / self.ohm


@dataclass(frozen=True)
class Blocker(Insert):
    """A diode in the lead, stripe to the lamps; `part` is its number."""

    part: str
    word, is_in_series = "blocking diode", True

    def element(self, name: str, feed: str, lamp: str, ground: str) -> Element:
        return Diode(name=name, nodes={"anode": feed, "cathode": lamp}, part=self.part)

    def value(self, system_v: int) -> str:
        return self.part


@dataclass(frozen=True)
class Store(Insert):
    """A decoder: a load [ohm] across the feed, and a capacitor [microfarad] behind a resistor, bled [ohm]."""

    load_ohm: float
    microfarad: float
    series_ohm: float
    bleed_ohm: float
    case_w: float = 0.0
    mount: str = "metal"
    word, is_in_series = "decoder", True

    def element(self, name: str, feed: str, lamp: str, ground: str) -> Element:
        return Decoder(
            name=name,
            nodes={"in": feed, "out": lamp, "31": ground},
            microfarad=self.microfarad,
            load_ohm=self.load_ohm,
            series_ohm=self.series_ohm,
            bleed_ohm=self.bleed_ohm,
            watts=self.case_w or None,
            mounting=self.mount,
        )

    def value(self, system_v: int) -> str:
        where = mounts()[self.mount].name
        load = f"load {self.load_ohm:g} ohm in a {self.case_w:g} W case {where}" if self.load_ohm else ""
        series = f"{self.series_ohm:g} ohm, {SERIES_W:g} W" if self.series_ohm else ""
        stored = f"{self.microfarad:g} microfarad, {CAPACITOR_V[system_v]:g} V"
        bled = leaded(self.bleed_ohm, system_v) if self.bleed_ohm else ""
        return ", ".join(filter(None, (load, f"diode {INNER_PART}", series, stored, bled)))

    def amps_a(self, voltage_v: float) -> float:
        return sum(voltage_v / ohm for ohm in (self.load_ohm, self.bleed_ohm) if ohm)
