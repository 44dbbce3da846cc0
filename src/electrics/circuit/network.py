"""The topology: elements on named nodes, and what is wrong with it before anything is solved."""

from __future__ import annotations

from collections import Counter
from dataclasses import dataclass
from functools import cached_property
from typing import Any, TypeVar

from electrics.circuit.build import Builder, System
from electrics.circuit.elements import Battery, Element
from electrics.errors import CircuitError
from electrics.reference.usual import system_scale

__all__ = ["Network"]

MOST_ELEMENTS = 1000
Kind = TypeVar("Kind", bound=Element)


@dataclass(frozen=True)
class Network:
    """A circuit: its elements, and the node that everything is measured against.

    Raises
    ------
    CircuitError
        A name twice, a terminal without a node, an unknown terminal, a value that cannot be, no battery, no
        element on the reference node.
    """

    elements: tuple[Element, ...]
    reference: str = "gnd"

    def __post_init__(self) -> None:
        if not self.elements:
            raise CircuitError("", "", "The circuit has no elements.")
        if len(self.elements) > MOST_ELEMENTS:
            raise CircuitError("", "", f"{len(self.elements)} elements are more than {MOST_ELEMENTS}.")
        for name, count in Counter(element.name for element in self.elements).items():
            if count > 1:
                raise CircuitError(name, "", "stands twice. Every element needs a name of its own.")
        for element in self.elements:
            _check(element)
        if not self.of(Battery):
            raise CircuitError("", "", "The circuit has no battery.")
        if self.reference not in self.nodes:
            raise CircuitError("", self.reference, "nothing is on it, and it is what all voltages are against.")

    @cached_property
    def nodes(self) -> tuple[str, ...]:
        """Every node that an element names, in order of appearance."""
        return tuple(dict.fromkeys(node for element in self.elements for node in element.nodes.values()))

    @cached_property
    def system(self) -> System:
        """The network as arrays, compiled once; sources without resistance in a loop are refused."""
        self._check_source_loops()
        builder = Builder(self.reference)
        for element in self.elements:
            element.build(builder)
        return System(builder)

    def stepped(self, step_s: float) -> System:
        """The network as arrays for small steps of time [s]: capacitors are sources that follow their charge."""
        if step_s not in self._stepped:
            builder = Builder(self.reference, step_s)
            for element in self.elements:
                element.build(builder)
            self._stepped[step_s] = System(builder)
        return self._stepped[step_s]

    @cached_property
    def _stepped(self) -> dict[float, System]:
        return {}

    def of(self, kind: type[Kind]) -> tuple[Kind, ...]:
        """Its elements of a kind, in order."""
        if kind not in self._by_kind:
            self._by_kind[kind] = tuple(element for element in self.elements if isinstance(element, kind))
        return self._by_kind[kind]

    @cached_property
    def _by_kind(self) -> dict[type, tuple[Any, ...]]:
        return {}

    @cached_property
    def system_scale(self) -> float:
        """The batteries' voltage as a share of 12 V, rounded to 6, 12 and 24 V systems [-]."""
        return system_scale(max(abs(battery.volts) for battery in self.of(Battery)))

    @cached_property
    def beating(self) -> tuple[Element, ...]:
        """Its elements that may make lamps flash."""
        return tuple(element for element in self.elements if element.beats)

    def __getitem__(self, name: str) -> Element:
        try:
            return self._by_name[name]
        except KeyError:
            raise CircuitError(name, "", "is not in this circuit.") from None

    def __contains__(self, name: str) -> bool:
        return name in self._by_name

    @cached_property
    def _by_name(self) -> dict[str, Element]:
        return {element.name: element for element in self.elements}

    def _check_source_loops(self) -> None:
        """Ideal sources that close a loop have no solution, or any: CircuitError names them."""
        island: dict[str, str] = {}

        def root(node: str) -> str:
            while (up := island.get(node, node)) != node:
                node = up
            return node

        stiff: list[Battery] = []
        for element in self.of(Battery):
            if element.resistance_ohm == 0:
                stiff.append(element)
                first, second = root(element.nodes["+"]), root(element.nodes["-"])
                if first == second:
                    names = " and ".join(each.name for each in stiff)
                    raise CircuitError(
                        element.name, "", f"sources without resistance form a loop: {names}. Give them a resistance."
                    )
                island[first] = second

    def with_elements(self, *added: Element) -> Network:
        """The same circuit with parts attached."""
        return Network((*self.elements, *added), self.reference)

    def with_changed(self, *changed: Element) -> Network:
        """The same circuit with elements of these names replaced."""
        by_name = {element.name: element for element in changed}
        for name in by_name:
            self[name]
        return Network(tuple(by_name.get(element.name, element) for element in self.elements), self.reference)


def _check(element: Element) -> None:
    """Refuse an element that cannot be; it never changes, so one that was found well once stays so."""
    if element.__dict__.get("_is_well"):
        return
    known = (*element.terminals, *element.optional)
    for terminal in element.terminals:
        if not element.nodes.get(terminal):
            raise CircuitError(element.name, "", f"terminal {terminal} is on no node.")
    for terminal in element.nodes:
        if terminal not in known:
            raise CircuitError(element.name, "", f"has no terminal {terminal}. Terminals are: {', '.join(known)}.")
    element.check()
    object.__setattr__(element, "_is_well", True)
