"""What is fitted in a hook-up, one class a kind: how it is labelled and listed, sized, and what flows into it."""

from __future__ import annotations

from collections.abc import Callable, Mapping
from dataclasses import dataclass, replace
from typing import Any, ClassVar, Generic, TypeVar

from electrics.circuit.elements import (
    Converter,
    Decoder,
    Diode,
    Element,
    Fuse,
    Relay,
    Resistor,
    Separator,
    Switch,
    TimedRelay,
)
from electrics.design.groups import GroupFeed
from electrics.design.sizing import COIL_OHM
from electrics.reference.usual import running_v, system_scale

__all__ = ["MODULE_A", "PART_KINDS", "SENSE_A", "Behind", "PartKind", "coil_a", "part_kind"]

SENSE_A, MODULE_A = 0.01, 0.05
"""What an input of a module draws, and a module itself [A] (estimates)."""

Fit = TypeVar("Fit", bound=Element)


@dataclass(frozen=True)
class Behind:
    """What a part sees when it is asked what flows into one of its terminals.

    Attributes
    ----------
    most_a : callable
        The most that any of some terminals passes on [A].
    sum_a : callable
        What all of some terminals pass on together [A].
    """

    element: Element
    feed: GroupFeed
    system_v: int
    most_a: Callable[..., float]
    sum_a: Callable[..., float]


class PartKind(Generic[Fit]):
    """A kind of part.

    Attributes
    ----------
    word, line : str
        What its label begins with, and its line in the parts list.
    is_flying : bool
        Whether it has leads to join.
    through : mapping of str to str
        Terminals that only pass on what another one carries.
    gives : frozenset of str
        Terminals that current comes out of.
    roles : mapping of str to str
        What a wire to a terminal does: `feed`, `supply`, `trigger`, `sense`.
    seat : str
        Where it sits: at its `supply`, at its own `source`, or at the `seat` of the way.
    shared_by : str or None
        For a module with two halves: the input that both must have in common, empty for none.
    """

    word: ClassVar[str]
    line: ClassVar[str]
    is_flying: ClassVar[bool] = True
    through: ClassVar[Mapping[str, str]] = {}
    gives: ClassVar[frozenset[str]] = frozenset()
    roles: ClassVar[Mapping[str, str]] = {}
    seat: ClassVar[str] = "seat"
    shared_by: ClassVar[str | None] = None
    protects: ClassVar[bool] = False
    is_load: ClassVar[bool] = False

    def line_of(self, element: Fit) -> str:
        """Its line in the parts list."""
        return self.line

    def valued(self, element: Fit, feed: GroupFeed, system_v: int) -> tuple[Fit, str]:
        """The part with the values that it is fitted with, and how its list names them."""
        return element, ""

    def rated(self, element: Fit, rating_a: float) -> tuple[Fit, str]:
        """The same for what protects, at a rating [A]."""
        return element, ""

    def role_of(self, element: Fit) -> str:
        """What it carries: `lamp` or `coil`."""
        return "lamp"

    def demand_a(self, terminal: str, behind: Behind) -> float:
        """What flows into a terminal when everything behind it is on [A]."""
        return behind.most_a(self.through[terminal]) if terminal in self.through else 0.0

    def ground_a(self, terminal: str, behind: Behind) -> float:
        """What a terminal that goes to ground carries there [A]."""
        return MODULE_A


def coil_a(feed: GroupFeed, system_v: int) -> float:
    """What a relay's coil draws at running voltage [A]."""
    return running_v(system_v) / (feed.coil_ohm or COIL_OHM[system_v])


class FusePart(PartKind[Fuse]):
    word, line, seat, protects = "fuse", "fuse", "supply", True
    through: ClassVar[Mapping[str, str]] = {"from": "to"}
    gives = frozenset({"to"})

    def rated(self, element: Fuse, rating_a: float) -> tuple[Fuse, str]:
        return replace(element, rating_a=rating_a), f"{rating_a:g} A"


class SwitchPart(PartKind[Switch]):
    word, line, is_flying = "switch", "switch", False
    through: ClassVar[Mapping[str, str]] = {"from": "to"}
    gives = frozenset({"to"})


class DiodePart(PartKind[Diode]):
    word, line, seat = "diode", "diode", "source"
    through: ClassVar[Mapping[str, str]] = {"anode": "cathode"}
    gives = frozenset({"cathode"})

    def valued(self, element: Diode, feed: GroupFeed, system_v: int) -> tuple[Diode, str]:
        is_coil = element.part == "1N4004"
        part = "1N4004" if is_coil or not feed.diode else feed.diode
        return replace(element, part=part), part

    def role_of(self, element: Diode) -> str:
        return "coil" if "coil" in element.nodes["cathode"] else "lamp"


class RelayPart(PartKind[Relay]):
    word, line, is_flying = "relay", "relay", False
    gives = frozenset({"87", "87a", "85"})
    roles: ClassVar[Mapping[str, str]] = {"86": "trigger", "85": "trigger", "30": "supply"}

    def valued(self, element: Relay, feed: GroupFeed, system_v: int) -> tuple[Relay, str]:
        scaled = replace(element.scaled(system_scale(system_v)), coil_ohm=feed.coil_ohm or COIL_OHM[system_v])
        rating = f"{feed.contact_a:g} A, " if feed.contact_a else ""
        return scaled, f"{rating}{system_v} V, {scaled.coil_ohm:g} ohm, diode across the coil"

    def demand_a(self, terminal: str, behind: Behind) -> float:
        if terminal == "30":
            return behind.most_a("87", "87a")
        return coil_a(behind.feed, behind.system_v) if terminal in ("85", "86") else 0.0

    def ground_a(self, terminal: str, behind: Behind) -> float:
        return self.demand_a("30" if terminal == "30" else "85", behind)


class ResistorPart(PartKind[Resistor]):
    word, line, is_load = "resistor", "load_resistor", True
    roles: ClassVar[Mapping[str, str]] = {"from": "feed"}

    def line_of(self, element: Resistor) -> str:
        return self.line if element.watts else "dark_resistor"

    def valued(self, element: Resistor, feed: GroupFeed, system_v: int) -> tuple[Resistor, str]:
        return element, f"{element.ohm:g} ohm"

    def demand_a(self, terminal: str, behind: Behind) -> float:
        ohm = float(getattr(behind.element, "ohm", float("inf")))
        return running_v(behind.system_v) / ohm if terminal == "from" else 0.0

    def ground_a(self, terminal: str, behind: Behind) -> float:
        return self.demand_a("from", behind)


class DecoderPart(PartKind[Decoder]):
    """A load across the feed beside what it passes on."""

    word, line, is_load = "decoder", "decoder", True
    through: ClassVar[Mapping[str, str]] = {"in": "out"}
    gives = frozenset({"out"})

    def demand_a(self, terminal: str, behind: Behind) -> float:
        return super().demand_a(terminal, behind) + self._own_a(terminal, behind)

    def ground_a(self, terminal: str, behind: Behind) -> float:
        return self._own_a("in", behind)

    def _own_a(self, terminal: str, behind: Behind) -> float:
        ohm = [getattr(behind.element, name, 0.0) for name in ("load_ohm", "bleed_ohm")]
        volts = running_v(behind.system_v)
        return sum(volts / each for each in ohm if each) if terminal == "in" else 0.0


class ModulePart(PartKind[Any]):
    """What has a supply and a ground of its own; its outputs are fed from the supply."""

    word = "module"
    gives = frozenset({"left_out", "right_out", "stop_out", "tail_out"})
    roles: ClassVar[Mapping[str, str]] = {
        "supply": "supply",
        **{f"{name}_in": "sense" for name in ("left", "right", "stop", "tail")},
    }

    def valued(self, element: Any, feed: GroupFeed, system_v: int) -> tuple[Any, str]:
        limit_a = feed.modules_a.get(self.line, element.limit_a)
        return replace(element, limit_a=1.5 * limit_a), f"{system_v} V, {limit_a:g} A an output"

    def demand_a(self, terminal: str, behind: Behind) -> float:
        if terminal == "supply":
            return MODULE_A + behind.sum_a("left_out", "right_out", "stop_out", "tail_out")
        return SENSE_A if terminal.endswith("_in") else 0.0


class ConverterPart(ModulePart):
    line, shared_by = "converter", "stop_in"


class SeparatorPart(ModulePart):
    line, shared_by = "separator", ""


class TimedRelayPart(PartKind[TimedRelay]):
    word, line = "timer", "timed_relay"
    gives = frozenset({"87a"})
    roles: ClassVar[Mapping[str, str]] = {"30": "supply", "trigger": "sense"}

    def valued(self, element: TimedRelay, feed: GroupFeed, system_v: int) -> tuple[TimedRelay, str]:
        bears_a = feed.modules_a.get(self.line)
        return element, f"{system_v} V, {bears_a:g} A" if bears_a else f"{system_v} V"

    def demand_a(self, terminal: str, behind: Behind) -> float:
        return {"30": behind.most_a("87a"), "trigger": SENSE_A}.get(terminal, 0.0)


PART_KINDS: Mapping[str, PartKind[Any]] = {
    Fuse.kind: FusePart(),
    Diode.kind: DiodePart(),
    Relay.kind: RelayPart(),
    Resistor.kind: ResistorPart(),
    Decoder.kind: DecoderPart(),
    Switch.kind: SwitchPart(),
    Converter.kind: ConverterPart(),
    Separator.kind: SeparatorPart(),
    TimedRelay.kind: TimedRelayPart(),
}
"""By kind of element."""


def part_kind(element: Element) -> PartKind[Any]:
    """What is known of a part as it is fitted."""
    return PART_KINDS[element.kind]
