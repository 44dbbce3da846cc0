"""What is added: diode, resistor, relay, and what a person holds against the circuit."""

from __future__ import annotations

from dataclasses import dataclass, replace

import numpy as np
from numpy.typing import NDArray

from electrics.circuit.build import Builder, Solution
from electrics.circuit.elements.base import Element, Glow, element
from electrics.circuit.elements.housed import Housed
from electrics.errors import CircuitError
from electrics.reference.parts import diodes

__all__ = ["Diode", "LedProbe", "Meter", "ProbeLamp", "Relay", "RelayRule", "Resistor"]

Array = NDArray[np.float64]
Flags = NDArray[np.bool_]

CONTACT_OHM = 0.005
SHORT_OHM = 0.01
SUPPRESSION_OHM = 680.0
"""Resistor across a 12 V coil that swallows its kick: some eight times the coil [ohm] (estimate)."""


@element("diode", ("anode", "cathode"), is_way=True)
@dataclass(frozen=True, kw_only=True)
class Diode(Element):
    """A rectifier by part number; stripe at the cathode."""

    part: str = "1N5404"
    temperature_c: float = 27.0
    open: bool = False
    shorted: bool = False

    blocks = True
    conducts = True
    in_line = ("anode", "cathode")

    @property
    def mended(self) -> Diode:
        return replace(self, open=False, shorted=False) if self.open or self.shorted else self

    def check(self) -> None:
        if self.part not in {row.part for row in diodes()}:
            raise CircuitError(
                self.name, "", f"part {self.part} is not known. Known: {', '.join(row.part for row in diodes())}."
            )

    def build(self, b: Builder) -> None:
        first, second = self.at("anode"), self.at("cathode")
        if self.shorted:
            b.resistor(self.name, first, second, SHORT_OHM)
        elif not self.open:
            b.junction(self.name, first, second, *diodes()[self.part].model(self.temperature_c))


@element("resistor", ("from", "to"))
@dataclass(frozen=True, kw_only=True)
class Resistor(Housed):
    """A resistor; with `watts` an aluminium-housed one whose body heats.

    Attributes
    ----------
    deviation : float
        Where in its tolerance it lies: 0.05 is five percent more than the label [-].
    """

    ohm: float
    deviation: float = 0.0
    open: bool = False

    @property
    def mended(self) -> Resistor:
        return replace(self, open=False) if self.open else self

    def check(self) -> None:
        super().check()
        self.positive("ohm")
        if not -0.5 < self.deviation < 0.5:
            raise CircuitError(self.name, "", f"deviation is {self.deviation:g}. Expected a share like 0.05.")

    def build(self, b: Builder) -> None:
        gate = b.gate(lambda case: not self.open)
        b.resistor(self.name, self.at("from"), self.at("to"), self.ohm * (1 + self.deviation), gate=gate)


@element("relay", ("86", "85", "30", "87"), ("87a",))
@dataclass(frozen=True, kw_only=True)
class Relay(Element):
    """A relay: pulls in and drops out at different voltages, breaks before it makes.

    Attributes
    ----------
    pull_in_v, drop_out_v : float
        At 23 C; hot copper pulls in later [V].
    suppression : str
        Across the coil: `none`, `diode` (stripe to 86) or `resistor`.
    """

    coil_ohm: float = 85.0
    pull_in_v: float = 8.0
    drop_out_v: float = 1.2
    suppression: str = "none"

    conducts = True

    def check(self) -> None:
        self.positive("coil_ohm", "pull_in_v", "drop_out_v")
        if self.drop_out_v >= self.pull_in_v:
            raise CircuitError(self.name, "", "drop_out_v is not below pull_in_v.")
        if self.suppression not in ("none", "diode", "resistor"):
            raise CircuitError(self.name, "", f"suppression is {self.suppression}. Expected none, diode or resistor.")

    def scaled(self, scale: float) -> Relay:
        """The same relay for another system voltage: coil and thresholds in proportion to `scale`, 1 for 12 V [-]."""
        coil_ohm, pull_in_v, drop_out_v = self.coil_ohm * scale**2, self.pull_in_v * scale, self.drop_out_v * scale
        return replace(self, coil_ohm=coil_ohm, pull_in_v=pull_in_v, drop_out_v=drop_out_v)

    def passes_on(self, branch: str) -> int:
        return 2 if branch in ("87", "87a") else 0

    def build(self, b: Builder) -> None:
        plus, minus = self.at("86"), self.at("85")
        b.resistor(self.name, plus, minus, self.coil_ohm, name="coil")
        if self.suppression == "diode":
            b.junction(self.name, minus, plus, *diodes()["1N4004"].model(), name="suppression")
        elif self.suppression == "resistor":
            b.resistor(self.name, plus, minus, SUPPRESSION_OHM, name="suppression")
        make, break_ = b.gate(lambda case: False), b.gate(lambda case: True)
        b.resistor(self.name, self.at("30"), self.at("87"), CONTACT_OHM, name="87", gate=make)
        if "87a" in self.nodes:
            b.resistor(self.name, self.at("30"), self.at("87a"), CONTACT_OHM, name="87a", gate=break_)
        b.rule(RelayRule(self.name, (make, break_), plus, minus, self.pull_in_v, self.drop_out_v))


class RelayRule:
    """Pulled in above one coil voltage, dropped out below another, and as it was in between.

    On a pulsed coil the mean current counts, because the coil is an inductance.
    """

    is_slow = False

    def __init__(
        self, owner: str, gates: tuple[int, int], plus: str, minus: str, pull_in_v: float, drop_out_v: float
    ) -> None:
        self.owner, self.gates, self.plus, self.minus = owner, gates, plus, minus
        self.pull_in_v, self.drop_out_v = pull_in_v, drop_out_v

    def coil_v(self, solution: Solution) -> Array:
        """Voltage that moves the armature, mean over a pulse, (n_cases,) [V]."""
        return np.abs(solution.cases.mean(solution.between(self.plus, self.minus)))

    def hold(self, gates: Flags) -> None:
        gates[:, self.gates[0]], gates[:, self.gates[1]] = True, False

    def update(self, solution: Solution, gates: Flags) -> tuple[Flags, Array]:
        volts = self.coil_v(solution)
        is_in = np.where(gates[:, 0], volts > self.drop_out_v, volts >= self.pull_in_v)
        return np.stack([is_in, ~is_in], axis=1), np.zeros(len(volts))


@element("meter", ("from", "to"))
@dataclass(frozen=True, kw_only=True)
class Meter(Element):
    """A multimeter on volts: 10 MOhm."""

    resistance_ohm: float = 10e6

    is_held = True

    def check(self) -> None:
        self.positive("resistance_ohm")

    def build(self, b: Builder) -> None:
        b.resistor(self.name, self.at("from"), self.at("to"), self.resistance_ohm)


@element("test_lamp", ("from", "to"))
@dataclass(frozen=True, kw_only=True)
class ProbeLamp(Element):
    """A filament test lamp of about a quarter of an ampere."""

    rated_v: float = 12.6
    rated_a: float = 0.25

    is_held = True

    def scaled(self, scale: float) -> ProbeLamp:
        return replace(self, rated_v=self.rated_v * scale, rated_a=self.rated_a / scale)

    @property
    def glows(self) -> tuple[Glow, ...]:
        return (Glow(),)

    def check(self) -> None:
        self.positive("rated_v", "rated_a")

    def build(self, b: Builder) -> None:
        b.filament(self.name, self.at("from"), self.at("to"), self.rated_v, self.rated_a, 2500.0)


@element("led_probe", ("from", "to"))
@dataclass(frozen=True, kw_only=True)
class LedProbe(Element):
    """A two-colour LED probe: a few milliamps either way."""

    is_held = True

    def build(self, b: Builder) -> None:
        for first, second, name in (
            (self.at("from"), self.at("to"), "red"),
            (self.at("to"), self.at("from"), "green"),
        ):
            b.junction(self.name, first, second, 1e-18, 0.05, 1500.0, name=name)
