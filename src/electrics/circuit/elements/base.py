"""What every element is: a name, terminals on nodes, values, and how it adds itself to a system."""

from __future__ import annotations

from collections.abc import Callable, Mapping
from dataclasses import dataclass, fields
from functools import lru_cache
from typing import ClassVar, Self, TypeVar

from electrics.circuit.build import Builder
from electrics.circuit.cases import Case
from electrics.circuit.rhythm import Rhythm
from electrics.errors import CircuitError
from electrics.vocabulary import Control, State

__all__ = ["KINDS", "Element", "Glow", "controls_of", "element", "is_any_on"]

KINDS: dict[str, type[Element]] = {}
"""Every kind of element, by the word that a circuit file uses."""


@dataclass(frozen=True)
class Glow:
    """What makes light in an element: which of its branches, and by what its light goes.

    Attributes
    ----------
    branch : str
        Name of the lamp inside the element; empty where there is one.
    of : tuple of str
        Names of the branches that are looked at.
    by : str
        `heat` of a filament, `amps` or `watts` against `nominal` in that unit.
    """

    branch: str = ""
    of: tuple[str, ...] = ("",)
    by: str = "heat"
    nominal: float = 1.0


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
    is_quick: ClassVar[bool] = False
    """Whether it lights up within a millisecond: an LED does, a filament is too slow to."""
    blocks: ClassVar[bool] = False
    """Whether it is there to stop what would come back: what little it leaks is no back-feed."""
    beats: ClassVar[bool] = False
    """Whether it may make lamps flash."""
    varies: ClassVar[bool] = False
    """Whether what it gives rises and falls with how hard it is asked."""
    in_line: ClassVar[tuple[str, str] | None] = None
    """The terminals that a feed goes in and out by, of what takes some of its voltage by design."""
    is_copper: ClassVar[bool] = False
    """Whether it only leads on: an end of it with nothing there is a wire's blunt end."""
    conducts: ClassVar[bool] = False
    """Whether it leads on what feeds or grounds a lamp, and loses a little on the way."""
    is_held: ClassVar[bool] = False
    """Whether a person holds it against the circuit, so that it is no part of it."""

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

    @property
    def controls(self) -> frozenset[str]:
        """Every control that moves it, by name."""
        named = [getattr(self, field.name) for field in fields(self) if field.name.endswith("_with")]
        return frozenset(control for controls in named for control in controls)

    @property
    def run_m(self) -> float:
        """How far it leads [m]; nothing for what is no wire."""
        return 0.0

    @property
    def lets_through_a(self) -> float | None:
        """The most that it lets through for good [A]; None for what limits nothing."""
        return None

    @property
    def made_for_v(self) -> float | None:
        """The voltage that it is made for [V]; None where that is of no concern."""
        return None

    @property
    def glows(self) -> tuple[Glow, ...]:
        """What in it makes light; nothing in most."""
        return ()

    def beat(self, case: Case, lit_a: float, dark_a: float) -> Rhythm | None:
        """How it flashes in a case by what it carries lit and dark [A]; None for what makes nothing flash."""
        return None

    def scaled(self, scale: float) -> Self:
        """The same for another system voltage, `scale` being 1 for 12 V [-]; most parts are the same."""
        return self

    @property
    def talks_at_v(self) -> float | None:
        """What its line rests at while it talks [V]; None for what carries no messages."""
        return None

    def expecting(self, full_a: float, least_a: float, most_a: float = 0.0) -> Self:
        """The same where it watches its load: what a full set draws, below what it misses some, and above what it is
        too much; 0 for no such limit [A]."""
        return self

    def in_air(self, ambient_c: float) -> Self:
        """The same with other air around it [C]; most parts do not mind."""
        return self

    def as_string(self, threshold_v: float) -> Self:
        """The same as plain LEDs in series, dark below a voltage [V]; what is no LED stays as it is."""
        return self

    @property
    def mended(self) -> Self:
        """The same part as it should be; itself where nothing is wrong with it."""
        return self

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
