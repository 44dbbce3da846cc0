"""What every element is: a name, terminals on nodes, values, and how it adds itself to a system."""

from __future__ import annotations

from collections.abc import Callable, Mapping
from dataclasses import dataclass
from functools import lru_cache
from typing import ClassVar, TypeVar

from electrics.circuit.build import Builder
from electrics.errors import CircuitError
from electrics.vocabulary import Control, State

__all__ = ["KINDS", "Element", "controls_of", "element", "is_any_on"]

KINDS: dict[str, type[Element]] = {}
"""Every kind of element, by the word that a circuit file uses."""


@dataclass(frozen=True, kw_only=True)
class Element:
    """A part of a circuit.

    Attributes
    ----------
    name : str
        As it stands on the build sheet; once a circuit.
    nodes : mapping of str to str
        Terminal to node; optional terminals may be left out.
    """

    kind: ClassVar[str]
    terminals: ClassVar[tuple[str, ...]]
    optional: ClassVar[tuple[str, ...]] = ()
    is_way: ClassVar[bool] = False
    """Whether current is meant to flow one way only, from the first terminal to the second."""

    name: str
    nodes: Mapping[str, str]

    def at(self, terminal: str) -> str:
        """Node on a terminal; an optional terminal left open gets a node of its own."""
        return self.nodes.get(terminal) or f"{self.name}.{terminal}"

    def build(self, b: Builder) -> None:
        """Add this element's branches, gates and rules."""
        raise TypeError(f"{type(self).__name__} does not say how it is built")

    def passes_on(self, branch: str) -> int:
        """Whether a branch of it is meant to feed what lies behind: 1 from its first node on, 2 both ways, 0 not."""
        return int(self.is_way and not branch)

    def check(self) -> None:
        """Refuse values that cannot be.

        Raises
        ------
        CircuitError
            Naming the element and the value.
        """

    def positive(self, *names: str, zero: bool = False) -> None:
        """Refuse values that are not above nothing (or not at least nothing)."""
        for name in names:
            value = getattr(self, name)
            if value is None or not (value >= 0 if zero else value > 0) or value == float("inf"):
                limit = "zero or more" if zero else "more than zero"
                raise CircuitError(self.name, "", f"{name} is {value}. Expected {limit}.")


Kind = TypeVar("Kind", bound=type[Element])


def element(
    kind: str, terminals: tuple[str, ...], optional: tuple[str, ...] = (), *, is_way: bool = False
) -> Callable[[Kind], Kind]:
    """Register a class as one kind of element."""

    def register(cls: Kind) -> Kind:
        cls.kind, cls.terminals, cls.optional, cls.is_way = kind, terminals, optional, is_way
        KINDS[kind] = cls
        return cls

    return register


KNOWN_CONTROLS = frozenset(Control)


def controls_of(element: Element, *names: str) -> None:
    """Refuse a list of controls that do not exist."""
    for name in names:
        for control in getattr(element, name):
            if control not in KNOWN_CONTROLS:
                raise CircuitError(
                    element.name, "", f"{name} has no control “{control}”. Controls are: {', '.join(Control)}."
                )


@lru_cache(maxsize=16384)
def is_any_on(state: State, controls: tuple[str, ...]) -> bool:
    """Whether any of these controls is on in a state, implied ones included."""
    return state.on(*(Control(control) for control in controls))
