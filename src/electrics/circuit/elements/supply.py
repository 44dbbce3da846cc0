"""From the battery to the lamp and back: battery, fuse, switch, wire, joint, ground."""

from __future__ import annotations

from dataclasses import dataclass, replace

from electrics.circuit.build import Builder
from electrics.circuit.cases import Case
from electrics.circuit.elements.base import Element, controls_of, element, is_any_on
from electrics.circuit.elements.overload import FuseRule
from electrics.errors import CircuitError
from electrics.reference.conductor import WireStandard, conductor
from electrics.vocabulary import Control

__all__ = ["JOINT_OHM", "Battery", "Fuse", "Ground", "Joint", "Switch", "Wire"]

JOINT_OHM = {"good": 0.002, "corroded": 0.5, "not_pierced": None}
"""Contact resistance of a joint [ohm] (estimates): a tap that never pierced is open."""

STANDARDS = frozenset(WireStandard)

FUSE_DROP_V = 0.09
"""Voltage across a blade fuse at its rating [V] (data sheets, from memory): gives its resistance."""


@element("battery", ("+", "-"))
@dataclass(frozen=True, kw_only=True)
class Battery(Element):
    """A battery with its internal resistance; with the engine on, the charging voltage."""

    volts: float = 12.6
    charging_v: float | None = None
    resistance_ohm: float = 0.01

    def check(self) -> None:
        self.positive("resistance_ohm", zero=True)
        if not 0 < abs(self.volts) < 60:
            raise CircuitError(self.name, "", f"volts is {self.volts:g}. Expected 6, 12 or 24 V systems, up to 60 V.")

    def build(self, b: Builder) -> None:
        charging = self.volts if self.charging_v is None else self.charging_v

        def volts(case: Case) -> float:
            return charging if case.state.on(Control.ENGINE) else self.volts

        b.emf(self.name, self.at("+"), self.at("-"), volts, self.resistance_ohm)


@element("fuse", ("from", "to"), is_way=True)
@dataclass(frozen=True, kw_only=True)
class Fuse(Element):
    """A blade fuse: it blows where its current would, by the published curve, blow it at all."""

    rating_a: float
    blown: bool = False

    conducts = True

    @property
    def resistance_ohm(self) -> float:
        return FUSE_DROP_V / self.rating_a

    @property
    def lets_through_a(self) -> float:
        return self.rating_a

    @property
    def mended(self) -> Fuse:
        return replace(self, blown=False) if self.blown else self

    def check(self) -> None:
        self.positive("rating_a")

    def build(self, b: Builder) -> None:
        gate = b.gate(lambda case: not self.blown)
        branch = b.resistor(self.name, self.at("from"), self.at("to"), self.resistance_ohm, gate=gate)
        b.rule(FuseRule(self.name, gate, (branch,), self.rating_a))


@element("switch", ("from", "to"), is_way=True)
@dataclass(frozen=True, kw_only=True)
class Switch(Element):
    """A contact closed by any of some controls, and opened again by any of others."""

    closed_with: tuple[str, ...] = ()
    open_with: tuple[str, ...] = ()
    resistance_ohm: float = 0.01

    conducts = True

    def check(self) -> None:
        self.positive("resistance_ohm")
        controls_of(self, "closed_with", "open_with")

    def is_closed(self, case: Case) -> bool:
        """Whether it is closed in a case; without `closed_with` it is closed unless opened."""
        if is_any_on(case.state, self.open_with):
            return False
        return not self.closed_with or is_any_on(case.state, self.closed_with)

    def build(self, b: Builder) -> None:
        gate = b.gate(self.is_closed)
        b.resistor(self.name, self.at("from"), self.at("to"), self.resistance_ohm, gate=gate)


@element("wire", ("from", "to"), is_way=True)
@dataclass(frozen=True, kw_only=True)
class Wire(Element):
    """A length of copper by the size it is sold in; where it is part of a ring it may carry `either_way`."""

    length_m: float
    size: str = "18"
    standard: str = "awg"
    temperature_c: float = 20.0
    colour: str = ""
    either_way: bool = False

    is_copper = True
    conducts = True

    def passes_on(self, branch: str) -> int:
        return 2 if self.either_way else 1

    @property
    def resistance_ohm(self) -> float:
        return self.length_m * conductor(WireStandard(self.standard), self.size).ohm_per_m(self.temperature_c)

    @property
    def run_m(self) -> float:
        return self.length_m

    @property
    def largest_a(self) -> float:
        """The largest fuse that protects it [A]."""
        return conductor(WireStandard(self.standard), self.size).largest_fuse_a

    def check(self) -> None:
        self.positive("length_m")
        if self.standard not in STANDARDS:
            raise CircuitError(self.name, "", f"standard is {self.standard}. Expected {', '.join(WireStandard)}.")

    def build(self, b: Builder) -> None:
        b.resistor(self.name, self.at("from"), self.at("to"), self.resistance_ohm)


@element("joint", ("from", "to"), is_way=True)
@dataclass(frozen=True, kw_only=True)
class Joint(Element):
    """Where two wires meet: a good contact, a corroded one, or one that never made it."""

    quality: str = "good"
    resistance_ohm: float | None = None

    is_copper = True
    conducts = True

    @property
    def mended(self) -> Joint:
        is_well = self.quality == "good" and self.resistance_ohm is None
        return self if is_well else replace(self, quality="good", resistance_ohm=None)

    def check(self) -> None:
        if self.quality not in JOINT_OHM:
            raise CircuitError(self.name, "", f"quality is {self.quality}. Expected {', '.join(JOINT_OHM)}.")
        if self.resistance_ohm is not None:
            self.positive("resistance_ohm")

    def build(self, b: Builder) -> None:
        ohm = JOINT_OHM[self.quality] if self.resistance_ohm is None else self.resistance_ohm
        gate = b.gate(lambda case: ohm is not None)
        b.resistor(self.name, self.at("from"), self.at("to"), ohm or 1.0, gate=gate)


@element("ground", ("at", "to"), is_way=True)
@dataclass(frozen=True, kw_only=True)
class Ground(Element):
    """A way back to battery negative, with its resistance; open when it is lost."""

    resistance_ohm: float = 0.01
    open: bool = False

    conducts = True

    def passes_on(self, branch: str) -> int:
        return 0

    @property
    def mended(self) -> Ground:
        return replace(self, open=False) if self.open else self

    def check(self) -> None:
        self.positive("resistance_ohm")

    def build(self, b: Builder) -> None:
        gate = b.gate(lambda case: not self.open)
        b.resistor(self.name, self.at("at"), self.at("to"), self.resistance_ohm, gate=gate)
