"""The small networks that can turn sources into a signal: what each gives, what it needs, what it costs.

A form sees levels (n_variants, n_states, 2): lit and dark phase of every state, in every variant of the
vehicle; `OFF`, `ON`, and whatever else a circuit may carry. A new way to hook up is one class here.
"""

from __future__ import annotations

from abc import ABC, abstractmethod
from collections.abc import Mapping, Sequence
from types import MappingProxyType

import numpy as np
from numpy.typing import NDArray

from electrics.circuit.elements import (
    Converter,
    Diode,
    Element,
    Relay,
    Separator,
    TimedRelay,
    Wire,
)
from electrics.design.dead_ends import sealed, unused
from electrics.design.sources import BATTERY, OFF, ON, Levels, Source, fused
from electrics.design.units import Lead
from electrics.vocabulary import Polarity

__all__ = ["FORMS", "Form"]

SELF_SWITCHING_A = 0.4
"""A bulb that turns its steady light off while it flashes is an LED bulb of about this [A] (common practice)."""
RUN_M = 3.0
"""Length of an added run where none was measured yet [m]."""


class Form(ABC):
    """One way to hook up."""

    id: str
    takes: tuple[Polarity, ...]
    """Polarity of each source, in order."""
    gives: Polarity = Polarity.POSITIVE
    parts: int = 0
    cuts: int = 0
    """Factory wires that are opened."""
    brings: Mapping[str, int] = MappingProxyType({})
    """Parts beyond wire, fuse and joints, by id, with their number."""
    has_own_supply: bool = False
    """Whether the lamp is fed from the battery on a fuse of its own."""
    loads: tuple[str, ...]
    """What each source bears: `lamp`, `coil` or `sense`."""
    is_symmetric: bool = False
    led_a: float = 0.0
    """Current of the LED lamp that it puts in the place of the lead's own [A]; 0 where that stays."""

    @abstractmethod
    def got(self, sources: Sequence[Levels]) -> Levels:
        """What the lamp gets."""

    @abstractmethod
    def build(self, name: str, nodes: Sequence[str], out: str) -> tuple[Element, ...]:
        """Its parts between the sources' nodes and the lamp's lead; `bat` and `gnd` are the battery's posts."""

    def parted(
        self, name: str, nodes: Sequence[str], out: str
    ) -> tuple[tuple[Element, ...], tuple[Element, ...], tuple[str, ...]]:
        """Its parts before the lamp, those inside it, and the nodes that go into the lamp."""
        return self.build(name, nodes, out), (), (out,)

    def fits(self, sources: Sequence[Source]) -> bool:
        """Whether this form makes sense on these sources at all."""
        return True

    def suits(self, lead: Lead) -> bool:
        """Whether this form can be had for a lead at all."""
        return True

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
RELAY = MappingProxyType({"relay": 1, "relay_socket": 1})


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
    brings = MappingProxyType({"diode": 2})

    def got(self, sources: Sequence[Levels]) -> Levels:
        first, second = sources
        one_on = np.where((first == ON) | (second == ON), ON, np.maximum(first, second))
        return one_on.astype(np.int8)

    def build(self, name: str, nodes: Sequence[str], out: str) -> tuple[Element, ...]:
        return tuple(
            Diode(name=f"{name} diode {n}", nodes={"anode": node, "cathode": out}, part="6A4")
            for n, node in enumerate(nodes, start=1)
        )


class Joined(DiodeOr):
    """Two circuits tied together: each feeds the other's lamps too. A common mistake."""

    id, parts = "joined", 0
    brings = MappingProxyType({})

    def build(self, name: str, nodes: Sequence[str], out: str) -> tuple[Element, ...]:
        return tuple(
            Wire(name=f"{name} run {n}", nodes={"from": node, "to": out}, length_m=RUN_M)
            for n, node in enumerate(nodes, start=1)
        )

    def refusals(self, sources: Sequence[Source]) -> tuple[str, ...]:
        return (*super().refusals(sources), "back_feed")


class PowerRelay(Form):
    """The lamp from the battery through a relay whose coil is on the circuit."""

    id, takes, loads, parts = "relay", (P,), ("coil",), 3
    brings, has_own_supply = RELAY, True

    def got(self, sources: Sequence[Levels]) -> Levels:
        return _when(sources[0] == ON)

    def build(self, name: str, nodes: Sequence[str], out: str) -> tuple[Element, ...]:
        supply, fused = _supply(name)
        return supply, _relay(name, coil=nodes[0], common=fused, make=out)


class RelayOr(Form):
    """The lamp from the battery through a relay whose coil hangs on either of two circuits, a diode each."""

    id, takes, loads, parts, is_symmetric = "relay_or", (P, P), ("coil", "coil"), 5, True
    brings, has_own_supply = MappingProxyType({**RELAY, "diode": 2}), True

    def got(self, sources: Sequence[Levels]) -> Levels:
        return _when((sources[0] == ON) | (sources[1] == ON))

    def build(self, name: str, nodes: Sequence[str], out: str) -> tuple[Element, ...]:
        supply, fused = _supply(name)
        coil = f"{name}_coil"
        diodes = (
            Diode(name=f"{name} diode {n}", nodes={"anode": node, "cathode": coil}, part="1N4004")
            for n, node in enumerate(nodes, start=1)
        )
        return supply, *diodes, _relay(name, coil=coil, common=fused, make=out)


class RelayAnd(Form):
    """The second circuit through the make contact of a relay on the first."""

    id, takes, loads, parts, cuts = "and", (P, P), ("coil", "lamp"), 2, 0
    brings = RELAY

    def got(self, sources: Sequence[Levels]) -> Levels:
        return np.where(sources[0] == ON, sources[1], OFF).astype(np.int8)

    def fits(self, sources: Sequence[Source]) -> bool:
        return sources[1].key != BATTERY  # that is the power relay

    def build(self, name: str, nodes: Sequence[str], out: str) -> tuple[Element, ...]:
        return (_relay(name, coil=nodes[0], common=nodes[1], make=out),)


class RelayAndNot(Form):
    """The second circuit through the break contact of a relay on the first."""

    id, takes, loads, parts, cuts = "and_not", (P, P), ("coil", "lamp"), 2, 1
    brings = RELAY

    def got(self, sources: Sequence[Levels]) -> Levels:
        return np.where(sources[0] == ON, OFF, sources[1]).astype(np.int8)

    def build(self, name: str, nodes: Sequence[str], out: str) -> tuple[Element, ...]:
        return (_relay(name, coil=nodes[0], common=nodes[1], make=sealed(name), rest=out),)


class HeldOpen(Form):
    """A circuit that flashes over a steady one: the second through a contact held open while the first is active.

    A diode each keeps the two apart; the contact spans the dark of each flash, where the steady one would show.
    """

    id, takes, loads, parts, cuts = "held_open", (P, P), ("lamp", "lamp"), 4, 1
    brings = MappingProxyType({"timed_relay": 1, "diode": 2})

    def got(self, sources: Sequence[Levels]) -> Levels:
        front, back = sources
        active = (front != OFF).any(axis=-1, keepdims=True)
        return np.where(active, front, back).astype(np.int8)

    def fits(self, sources: Sequence[Source]) -> bool:
        return sources[0].flashes and not sources[1].flashes and not sources[1].is_own

    def build(self, name: str, nodes: Sequence[str], out: str) -> tuple[Element, ...]:
        front, back = nodes
        held = f"{name}_held"
        return (
            TimedRelay(name=f"{name} relay", nodes={"30": back, "87a": held, "trigger": front, "31": "gnd"}),
            *DiodeOr().build(name, (front, held), out),
        )


class SelfSwitching(HeldOpen):
    """A bulb that does the same inside: it goes dark for its steady feed while the other flashes."""

    id, parts, cuts, led_a = "self_switching", 1, 0, SELF_SWITCHING_A
    brings = MappingProxyType({"self_switching_bulb": 1})

    def parted(
        self, name: str, nodes: Sequence[str], out: str
    ) -> tuple[tuple[Element, ...], tuple[Element, ...], tuple[str, ...]]:
        return (), self.build(name, nodes, out), tuple(nodes)

    def suits(self, lead: Lead) -> bool:
        return lead.switches_itself


class ToGround(Form):
    """A ground switched by a relay: 30 to ground, 87 to the lamp, the coil on the circuit."""

    id, takes, loads, parts, gives = "to_ground", (P,), ("coil",), 2, G
    brings = RELAY

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
    """A positive feed out of a ground-switched circuit: coil and contact behind the fuse at the battery."""

    id, takes, loads, parts = "from_ground", (G,), ("coil",), 3
    brings, has_own_supply = RELAY, True

    def got(self, sources: Sequence[Levels]) -> Levels:
        return _when(sources[0] == ON)

    def build(self, name: str, nodes: Sequence[str], out: str) -> tuple[Element, ...]:
        supply, fused = _supply(name)
        return supply, _relay(name, coil=fused, coil_ground=nodes[0], common=fused, make=out)


class StopTurnConverter(Form):
    """A module with a supply of its own: the second circuit wherever it flashes, else the first."""

    id, takes, loads, parts = "converter", (P, P), ("sense", "sense"), 3
    brings, has_own_supply = MappingProxyType({"converter": 1}), True

    def got(self, sources: Sequence[Levels]) -> Levels:
        steady, turn = sources[0] != OFF, sources[1] != OFF
        flashes = (turn[..., :1] & ~turn[..., 1:]) | turn
        return _when(np.where(flashes, turn, steady))

    def fits(self, sources: Sequence[Source]) -> bool:
        return sources[1].flashes

    def build(self, name: str, nodes: Sequence[str], out: str) -> tuple[Element, ...]:
        supply, fused = _supply(name)
        inputs = {"stop_in": nodes[0], "left_in": nodes[1]}
        outputs = {"left_out": out, "right_out": unused(name)}
        return supply, Converter(name=f"{name} module", nodes={"supply": fused, "31": "gnd", **inputs, **outputs})


class PulseModule(Form):
    """The same module on one feed in pulses: its input takes them for on, the lamp burns from the battery."""

    id, takes, loads, parts = "pulse_module", (P,), ("sense",), 3
    brings, has_own_supply = MappingProxyType({"converter": 1}), True

    def got(self, sources: Sequence[Levels]) -> Levels:
        return _when(sources[0] != OFF)

    def fits(self, sources: Sequence[Source]) -> bool:
        return sources[0].is_pulsed and not sources[0].flashes

    def build(self, name: str, nodes: Sequence[str], out: str) -> tuple[Element, ...]:
        supply, fused = _supply(name)
        ends = {f"{side}_out": unused(f"{name}_{side}") for side in ("left", "right")}
        nodes_of = {"supply": fused, "31": "gnd", "tail_in": nodes[0], "tail_out": out, **ends}
        return supply, Converter(name=f"{name} module", nodes=nodes_of)


class SeparateTurn(Form):
    """The converter the other way: the turn signal out of a combined feed, which is what flashes on it."""

    id, takes, loads, parts = "separate_turn", (P,), ("sense",), 3
    brings, has_own_supply = MappingProxyType({"separator": 1}), True

    def got(self, sources: Sequence[Levels]) -> Levels:
        on = sources[0] != OFF
        return _when(on & (on[..., :1] & ~on[..., 1:]))

    def fits(self, sources: Sequence[Source]) -> bool:
        return sources[0].is_combined

    def build(self, name: str, nodes: Sequence[str], out: str) -> tuple[Element, ...]:
        return _separator(name, {"left_in": nodes[0], "left_out": out})


class SeparateStop(Form):
    """The converter the other way: the brake out of two combined feeds, which is what burns steady on either."""

    id, takes, loads, parts, is_symmetric = "separate_stop", (P, P), ("sense", "sense"), 3, True
    brings, has_own_supply = MappingProxyType({"separator": 1}), True

    def got(self, sources: Sequence[Levels]) -> Levels:
        steady = [(source != OFF).all(axis=-1, keepdims=True) for source in sources]
        return _when(np.broadcast_to(steady[0] | steady[1], sources[0].shape))

    def fits(self, sources: Sequence[Source]) -> bool:
        return all(source.is_combined for source in sources)

    def build(self, name: str, nodes: Sequence[str], out: str) -> tuple[Element, ...]:
        return _separator(name, {"left_in": nodes[0], "right_in": nodes[1], "stop_out": out})


FORMS: tuple[Form, ...] = (
    Direct(),
    DiodeOr(),
    Joined(),
    PowerRelay(),
    RelayOr(),
    RelayAnd(),
    RelayAndNot(),
    SelfSwitching(),
    HeldOpen(),
    ToGround(),
    DirectGround(),
    FromGround(),
    StopTurnConverter(),
    PulseModule(),
    SeparateTurn(),
    SeparateStop(),
)
"""Every form, the plainest first."""


def _when(on: NDArray[np.bool_]) -> Levels:
    return np.where(on, ON, OFF).astype(np.int8)


def _supply(name: str) -> tuple[Element, str]:
    return fused("bat", name)


def _separator(name: str, nodes: dict[str, str]) -> tuple[Element, ...]:
    supply, fused = _supply(name)
    return supply, Separator(name=f"{name} module", nodes={"supply": fused, "31": "gnd", **nodes})


def _relay(name: str, *, coil: str, common: str, make: str, rest: str = "", coil_ground: str = "gnd") -> Element:
    nodes = {"86": coil, "85": coil_ground, "30": common, "87": make, "87a": rest or sealed(f"{name}_rest")}
    return Relay(name=f"{name} relay", nodes=nodes, suppression="diode")
