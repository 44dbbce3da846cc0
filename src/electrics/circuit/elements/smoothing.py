"""What holds a voltage: capacitors, decoders with one, and parts made to smooth a pulsed feed."""

from __future__ import annotations

from dataclasses import dataclass, replace

from electrics.circuit.build import Builder
from electrics.circuit.elements.base import Element, element
from electrics.circuit.elements.housed import Housed
from electrics.errors import CircuitError
from electrics.reference.parts import diodes

__all__ = ["Capacitor", "Decoder", "Smoother"]

SHORT_OHM = 0.01
MICRO = 1e-6
OWN_OHM = 0.05
"""Resistance of an electrolytic capacitor in itself [ohm] (estimate)."""
INNER_PART = "1N5404"
"""The diode inside a decoder or a smoothing part (estimate)."""


@element("capacitor", ("+", "-"))
@dataclass(frozen=True, kw_only=True)
class Capacitor(Element):
    """A capacitor [microfarad] with its own resistance [ohm]; it may be open or shorted."""

    microfarad: float
    own_ohm: float = OWN_OHM
    open: bool = False
    shorted: bool = False

    def check(self) -> None:
        self.positive("microfarad", "own_ohm")

    @property
    def mended(self) -> Capacitor:
        return replace(self, open=False, shorted=False) if self.open or self.shorted else self

    def build(self, b: Builder) -> None:
        if self.shorted:
            b.resistor(self.name, self.at("+"), self.at("-"), SHORT_OHM)
        elif not self.open:
            b.capacitor(self.name, self.at("+"), self.at("-"), self.microfarad * MICRO, self.own_ohm)


@dataclass(frozen=True, kw_only=True)
class Storage(Housed):
    """A diode in the feed and a capacitor behind it, to ground; with a load, a resistor before it and a bleed.

    Attributes
    ----------
    load_ohm : float
        Across the feed, for a monitor [ohm]; 0 for none.
    series_ohm : float
        In front of the capacitor and the lamp [ohm]; 0 for none.
    bleed_ohm : float
        Across the lamp [ohm]; 0 for none.
    watts, mounting, ambient_c
        Of the case that its load is in.
    """

    microfarad: float = 470.0
    load_ohm: float = 0.0
    series_ohm: float = 0.0
    bleed_ohm: float = 0.0

    in_line = ("in", "out")
    heats_by = "load"

    def check(self) -> None:
        super().check()
        self.positive("microfarad")
        self.positive("load_ohm", "series_ohm", "bleed_ohm", zero=True)
        if self.microfarad > MOST_MICROFARAD:
            raise CircuitError(self.name, "", f"microfarad is {self.microfarad:g}. Expected up to {MOST_MICROFARAD}.")

    def passes_on(self, branch: str) -> int:
        return int(branch in ("diode", "series"))

    def build(self, b: Builder) -> None:
        feed, out, ground = self.at("in"), self.at("out"), self.at("31")
        behind = f"{self.name}.behind" if self.series_ohm else out
        b.junction(self.name, feed, behind, *diodes()[INNER_PART].model(), name="diode")
        if self.series_ohm:
            b.resistor(self.name, behind, out, self.series_ohm, name="series")
        b.capacitor(self.name, out, ground, self.microfarad * MICRO, OWN_OHM)
        if self.load_ohm:
            b.resistor(self.name, feed, ground, self.load_ohm, name="load")
        if self.bleed_ohm:
            b.resistor(self.name, out, ground, self.bleed_ohm, name="bleed")


MOST_MICROFARAD = 100_000


@element("decoder", ("in", "out", "31"))
@dataclass(frozen=True, kw_only=True)
class Decoder(Storage):
    """A resistor that makes the load a monitor waits for, and a capacitor that rides over gaps in the feed."""

    microfarad: float = 470.0
    load_ohm: float = 8.0


@element("smoother", ("in", "out", "31"))
@dataclass(frozen=True, kw_only=True)
class Smoother(Storage):
    """A part made for pulsed feeds: a resistor and a capacitor that even the pulses out, without a load."""

    microfarad: float = 2200.0
    series_ohm: float = 0.0
