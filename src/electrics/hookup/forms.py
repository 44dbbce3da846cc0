"""The small networks that can turn sources into a signal: what each gives, what it needs, what it costs.

A form sees levels (n_variants, n_states, 2): lit and dark phase of every state, in every variant of the
vehicle; `OFF`, `ON`, and whatever else a circuit may carry. A new way to hook up is one class here.
"""

from __future__ import annotations

from abc import ABC, abstractmethod
from collections.abc import Sequence
from dataclasses import dataclass
from functools import cached_property
from typing import ClassVar

import numpy as np
from numpy.typing import NDArray

from electrics.circuit.elements import Converter, Diode, Element, Fuse, Relay, Wire
from electrics.signals import Level
from electrics.vocabulary import Polarity

__all__ = ["CODES", "FORMS", "Form", "Levels", "Source"]

Levels = NDArray[np.int8]

CODES = {level: code for code, level in enumerate(Level)}
OFF, PART, ON, VARYING, BUS = (CODES[level] for level in (Level.OFF, Level.PART, Level.ON, Level.VARYING, Level.BUS))


RUN_M = 3.0
"""Length of an added run where none was measured yet [m]."""


@dataclass(frozen=True, eq=False)
class Source:
    """A circuit of the vehicle that may be tapped.

    Attributes
    ----------
    key : str
        Stable name: where it is.
    levels : Levels (n_variants, n_states, 2)
        For a ground-switched circuit those of its lamp: on is the wire at ground.
    is_at_fuse : bool
        Reached at the fuse box: nothing is cut or wounded.
    is_computer_fed : bool
        Monitored or driven by a computer.
    """

    key: str
    levels: Levels
    polarity: Polarity = Polarity.POSITIVE
    is_at_fuse: bool = False
    is_computer_fed: bool = False
    is_settled: bool = True

    @cached_property
    def is_pulsed(self) -> bool:
        return bool(np.isin(self.levels, (PART, VARYING)).any())

    @cached_property
    def is_bus(self) -> bool:
        return bool((self.levels == BUS).any())


class Form(ABC):
    """One way to hook up."""

    id: ClassVar[str]
    takes: ClassVar[tuple[Polarity, ...]]
    """Polarity of each source, in order."""
    gives: ClassVar[Polarity] = Polarity.POSITIVE
    parts: ClassVar[int] = 0
    cuts: ClassVar[int] = 0
    """Factory wires that are opened."""
    loads: ClassVar[tuple[str, ...]]
    """What each source bears: `lamp`, `coil` or `sense`."""
    is_symmetric: ClassVar[bool] = False

    @abstractmethod
    def got(self, sources: Sequence[Levels]) -> Levels:
        """What the lamp gets."""

    @abstractmethod
    def build(self, name: str, nodes: Sequence[str], out: str) -> tuple[Element, ...]:
        """Its parts between the sources' nodes and the lamp's lead; `bat` and `gnd` are the battery's posts."""

    def refusals(self, sources: Sequence[Source]) -> tuple[str, ...]:
        """Rule ids that forbid this form on these sources, whatever it would give."""
        found = []
        for source, load in zip(sources, self.loads, strict=True):
            if source.is_bus:
                found.append("never")
            if load == "coil" and source.is_pulsed:
                found.append("pulsed_coil")
            if load == "lamp" and source.is_pulsed:
                found.append("pulsed")
            if load == "lamp" and source.is_computer_fed:
                found.append("computer")
            if not source.is_settled:
                found.append("unsettled")
        return tuple(dict.fromkeys(found))


P, G = Polarity.POSITIVE, Polarity.GROUND


class Direct(Form):
    """The lamp straight on the circuit."""

    id, takes, loads = "direct", (P,), ("lamp",)

    def got(self, sources: Sequence[Levels]) -> Levels:
        return sources[0]

    def build(self, name: str, nodes: Sequence[str], out: str) -> tuple[Element, ...]:
        return (Wire(name=f"{name} run", nodes={"from": nodes[0], "to": out}, length_m=RUN_M),)


class DiodeOr(Form):
    """Two circuits on one lamp, a diode each; steady wins over flashing."""

    id, takes, loads, parts, is_symmetric = "diode_or", (P, P), ("lamp", "lamp"), 2, True

    def got(self, sources: Sequence[Levels]) -> Levels:
        first, second = sources
        one_on = np.where((first == ON) | (second == ON), ON, np.maximum(first, second))
        return one_on.astype(np.int8)

    def build(self, name: str, nodes: Sequence[str], out: str) -> tuple[Element, ...]:
        return tuple(
            Diode(name=f"{name} diode {n}", nodes={"anode": node, "cathode": out}, part="6A4")
            for n, node in enumerate(nodes, start=1)
        )


class PowerRelay(Form):
    """The lamp from the battery through a relay whose coil is on the circuit."""

    id, takes, loads, parts = "relay", (P,), ("coil",), 3

    def got(self, sources: Sequence[Levels]) -> Levels:
        return _when(sources[0] == ON)

    def build(self, name: str, nodes: Sequence[str], out: str) -> tuple[Element, ...]:
        supply, fused = _supply(name)
        return supply, _relay(name, coil=nodes[0], common=fused, make=out)


class RelayAnd(Form):
    """The second circuit through the make contact of a relay on the first."""

    id, takes, loads, parts, cuts = "and", (P, P), ("coil", "lamp"), 2, 0

    def got(self, sources: Sequence[Levels]) -> Levels:
        return np.where(sources[0] == ON, sources[1], OFF).astype(np.int8)

    def build(self, name: str, nodes: Sequence[str], out: str) -> tuple[Element, ...]:
        return (_relay(name, coil=nodes[0], common=nodes[1], make=out),)


class RelayAndNot(Form):
    """The second circuit through the break contact of a relay on the first."""

    id, takes, loads, parts, cuts = "and_not", (P, P), ("coil", "lamp"), 2, 1

    def got(self, sources: Sequence[Levels]) -> Levels:
        return np.where(sources[0] == ON, OFF, sources[1]).astype(np.int8)

    def build(self, name: str, nodes: Sequence[str], out: str) -> tuple[Element, ...]:
        return (_relay(name, coil=nodes[0], common=nodes[1], make=f"{name}_sealed", rest=out),)


class ToGround(Form):
    """A ground switched by a relay: 30 to ground, 87 to the lamp, the coil on the circuit."""

    id, takes, loads, parts, gives = "to_ground", (P,), ("coil",), 2, G

    def got(self, sources: Sequence[Levels]) -> Levels:
        return _when(sources[0] == ON)

    def build(self, name: str, nodes: Sequence[str], out: str) -> tuple[Element, ...]:
        return (_relay(name, coil=nodes[0], common="gnd", make=out),)


class DirectGround(Form):
    """A lamp with battery always, its ground lead on a circuit that is switched to ground."""

    id, takes, loads, gives = "direct_ground", (G,), ("lamp",), G

    def got(self, sources: Sequence[Levels]) -> Levels:
        return sources[0]

    def build(self, name: str, nodes: Sequence[str], out: str) -> tuple[Element, ...]:
        return (Wire(name=f"{name} run", nodes={"from": out, "to": nodes[0]}, length_m=RUN_M),)


class FromGround(Form):
    """A positive feed out of a ground-switched circuit: coil between battery and that wire, contact from battery."""

    id, takes, loads, parts = "from_ground", (G,), ("coil",), 3

    def got(self, sources: Sequence[Levels]) -> Levels:
        return _when(sources[0] == ON)

    def build(self, name: str, nodes: Sequence[str], out: str) -> tuple[Element, ...]:
        supply, fused = _supply(name)
        return supply, _relay(name, coil="bat", coil_ground=nodes[0], common=fused, make=out)


class StopTurnConverter(Form):
    """A module with a supply of its own: the second circuit wherever it flashes, else the first."""

    id, takes, loads, parts = "converter", (P, P), ("sense", "sense"), 3

    def got(self, sources: Sequence[Levels]) -> Levels:
        steady, turn = sources[0] != OFF, sources[1] != OFF
        flashes = (turn[..., :1] & ~turn[..., 1:]) | turn
        return _when(np.where(flashes, turn, steady))

    def build(self, name: str, nodes: Sequence[str], out: str) -> tuple[Element, ...]:
        supply, fused = _supply(name)
        inputs = {"stop_in": nodes[0], "left_in": nodes[1]}
        outputs = {"left_out": out, "right_out": f"{name}_unused"}
        return supply, Converter(name=f"{name} module", nodes={"supply": fused, "31": "gnd", **inputs, **outputs})


FORMS: tuple[Form, ...] = (
    Direct(),
    DiodeOr(),
    PowerRelay(),
    RelayAnd(),
    RelayAndNot(),
    ToGround(),
    DirectGround(),
    FromGround(),
    StopTurnConverter(),
)
"""Every form, the plainest first."""


def _when(on: NDArray[np.bool_]) -> Levels:
    return np.where(on, ON, OFF).astype(np.int8)


def _supply(name: str) -> tuple[Element, str]:
    """A fuse of its own at the battery (which one is sized elsewhere, by load and wire), and the node behind it."""
    fused = f"{name}_fused"
    return Fuse(name=f"{name} fuse", nodes={"from": "bat", "to": fused}, rating_a=30), fused


def _relay(name: str, *, coil: str, common: str, make: str, rest: str = "", coil_ground: str = "gnd") -> Element:
    nodes = {"86": coil, "85": coil_ground, "30": common, "87": make} | ({"87a": rest} if rest else {})
    return Relay(name=f"{name} relay", nodes=nodes, suppression="diode")
