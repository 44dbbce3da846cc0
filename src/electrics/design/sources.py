"""What a lead can be fed from: the vehicle's circuits, battery and added switches."""

from __future__ import annotations

from collections.abc import Callable, Iterable, Mapping, Sequence
from dataclasses import dataclass
from functools import cached_property, lru_cache

import numpy as np
from numpy.typing import NDArray

from electrics.circuit.elements import Element, Fuse, Switch
from electrics.design.states import controls_of, every_state
from electrics.design.wanted import Wanted
from electrics.reference.functions import Tap, kind_of
from electrics.signals import DARK, LIT, Level, Scenario, Signal, signal
from electrics.vocabulary import Control, Function, Polarity, State

__all__ = [
    "BATTERY",
    "CODES",
    "OFF",
    "ON",
    "OWN",
    "SWITCH",
    "Levels",
    "OwnSource",
    "Source",
    "as_levels",
    "fused",
    "own_feed",
    "own_for",
    "own_sources",
    "wished",
]

Levels = NDArray[np.int8]

CODES = {level: code for code, level in enumerate(Level)}
OFF, PART, ON, VARYING, BUS = (CODES[level] for level in (Level.OFF, Level.PART, Level.ON, Level.VARYING, Level.BUS))


@dataclass(frozen=True, eq=False)
class Source:
    """A circuit of the vehicle that may be tapped.

    Attributes
    ----------
    key : str
        Stable name: where it is.
    function, variant : Function or None, str
        What it does and in which way, where that is known.
    levels : Levels (n_variants, n_states, 2)
        For a ground-switched circuit those of its lamp: on is the wire at ground.
    is_at_fuse : bool
        Reached at the fuse box: nothing is cut or wounded.
    is_computer_fed : bool
        Monitored or driven by a computer.
    is_own : bool
        No wire of the vehicle is tapped: see `OWN`.
    where : str
        What kind of place it is at, and on which side; no name that somebody gave.
    """

    key: str
    levels: Levels
    polarity: Polarity = Polarity.POSITIVE
    is_at_fuse: bool = False
    is_computer_fed: bool = False
    is_settled: bool = True
    is_own: bool = False
    function: Function | None = None
    variant: str = ""
    where: str = ""

    @property
    def order(self) -> tuple[str, ...]:
        """Sort key among equals; does not depend on names or the order of entry."""
        return self.key if self.is_own else str(self.function or ""), self.variant, self.where, self.key

    @property
    def controls(self) -> frozenset[Control]:
        """The controls that it hangs on."""
        if self.is_own:
            return OWN[self.key].controls
        return controls_of(self.function) if self.function else frozenset()

    def may_feed(self, wanted: tuple[Function, ...]) -> bool:
        """Whether it may be tapped for a behavior that names these functions."""
        if self.is_own or self.function is None:
            return True
        return kind_of(self.function).may_feed(wanted, is_fused=self.is_at_fuse)

    def carries(self, scenarios: tuple[Scenario, ...], controls: frozenset[Control]) -> Levels:
        """What it carries in every possible state of some controls, (n_variants, n_states, 2)."""
        if self.is_own:
            return _live(self.key, len(scenarios), controls)
        assert self.function is not None
        return _carried(self.function, self.variant, scenarios, controls)

    @cached_property
    def flashes(self) -> bool:
        return bool((self.levels[..., 0] != self.levels[..., 1]).any())

    @cached_property
    def is_combined(self) -> bool:
        """Flashes in some state and burns steady in another."""
        return self.flashes and bool((self.levels == ON).all(axis=-1).any())

    @cached_property
    def is_pulsed(self) -> bool:
        """Pulsed or varying; no fault where more of the same is wanted."""
        if self.function is not None and kind_of(self.function).tap is Tap.ITSELF:
            return False
        return bool(np.isin(self.levels, (PART, VARYING)).any())

    @cached_property
    def is_live_at_rest(self) -> bool:
        """Whether it is on with everything off, in any variant."""
        return bool((self.levels[:, 0] == ON).any())

    @cached_property
    def is_bus(self) -> bool:
        return bool((self.levels == BUS).any())


@dataclass(frozen=True)
class OwnSource:
    """A source that is no wire of the vehicle.

    Attributes
    ----------
    is_live : callable
        Whether it has voltage in a state.
    is_spoken_of : callable
        Whether a wish makes it worth offering.
    controls : frozenset of Control
        What it hangs on.
    supply : str
        The node of the vehicle that it comes from: the battery, or what is live with the key.
    switched_with : str
        The control that closes a switch of one's own behind its fuse, if there is one.
    """

    key: str
    function: Function
    is_live: Callable[[State], bool]
    is_spoken_of: Callable[[Wanted], bool]
    controls: frozenset[Control] = frozenset()
    supply: str = "bat"
    switched_with: str = ""

    @property
    def is_at_battery(self) -> bool:
        return self.supply == "bat"


BATTERY, SWITCH = "@battery", "@switch"
OWN: Mapping[str, OwnSource] = {
    each.key: each
    for each in (
        OwnSource(BATTERY, Function.BATTERY, lambda state: True, lambda wish: True),
        OwnSource(
            SWITCH,
            Function.BATTERY,
            lambda state: state.on(Control.OWN_SWITCH),
            lambda wish: wish.has_own_switch,
            frozenset({Control.OWN_SWITCH}),
            switched_with=str(Control.OWN_SWITCH),
        ),
        OwnSource(
            "@ignition",
            Function.IGNITION,
            lambda state: state.on(Control.KEY),
            lambda wish: Function.IGNITION in wish.functions,
            frozenset({Control.KEY}),
            supply="ign",
        ),
    )
}
"""Each by its key: the battery, a switch of one's own fed from it, a position of the fuse box live with the key."""


def as_levels(signals: Sequence[Sequence[Signal]]) -> Levels:
    """Signals by variant and state as levels, (n_variants, n_states, 2)."""
    return np.array([[[CODES[found.lit], CODES[found.dark]] for found in row] for row in signals], dtype=np.int8)


@lru_cache(maxsize=4096)
def wished(wish: Wanted, scenarios: tuple[Scenario, ...], controls: frozenset[Control]) -> Levels:
    """The behavior wanted in every state of some controls; these must be all it depends on."""
    known: dict[tuple[int, frozenset[Control]], Signal] = {}
    own = frozenset().union(*(controls_of(function) for function in wish.functions), {Control.OWN_SWITCH})
    for n, scenario in enumerate(scenarios):
        for state in every_state(controls):
            if (n, state.effective & own) not in known:
                known[n, state.effective & own] = wish.signal(state, scenario)
    return as_levels(
        [[known[n, state.effective & own] for state in every_state(controls)] for n, _ in enumerate(scenarios)]
    )


@lru_cache(maxsize=4096)
def _carried(
    function: Function, variant: str, scenarios: tuple[Scenario, ...], controls: frozenset[Control]
) -> Levels:
    own, states = controls_of(function), every_state(controls)
    rows = []
    for scenario in scenarios:
        known: dict[frozenset[Control], Signal] = {}
        for state in states:
            if state.effective & own not in known:
                known[state.effective & own] = signal(function, state, scenario, variant)
        rows.append([known[state.effective & own] for state in states])
    return as_levels(rows)


@lru_cache(maxsize=512)
def _live(key: str, n_variants: int, controls: frozenset[Control]) -> Levels:
    row = [LIT if OWN[key].is_live(state) else DARK for state in every_state(controls)]
    return as_levels([row] * n_variants)


def own_for(wishes: Iterable[Wanted]) -> tuple[OwnSource, ...]:
    """Battery and added switches, as far as the behaviors wanted name them."""
    wished = tuple(wishes)
    return tuple(own for own in OWN.values() if any(own.is_spoken_of(wish) for wish in wished))


def own_sources(wishes: Iterable[Wanted], n_variants: int, states: Sequence[State]) -> tuple[Source, ...]:
    """The same as sources, in every variant of the vehicle and every state."""
    found = []
    for own in own_for(wishes):
        live = np.array([ON if own.is_live(state) else OFF for state in states], dtype=np.int8)
        levels = np.broadcast_to(live[:, None], (n_variants, len(states), 2))
        found.append(Source(own.key, levels, is_at_fuse=True, is_own=True, function=own.function))
    return tuple(found)


def own_feed(key: str, name: str) -> tuple[tuple[Element, ...], str]:
    """What a source of one's own is made of, and the node that it feeds."""
    own = OWN[key]
    fuse, behind = fused(own.supply, f"{name} own")
    if not own.switched_with:
        return (fuse,), behind
    nodes = {"from": behind, "to": f"{name}_switched"}
    return (fuse, Switch(name=f"{name} switch", nodes=nodes, closed_with=(own.switched_with,))), nodes["to"]


def fused(supply: str, name: str) -> tuple[Element, str]:
    """A fuse of its own at a supply (which one is sized elsewhere, by load and wire), and the node behind it."""
    behind = f"{name}_fused"
    return Fuse(name=f"{name} fuse", nodes={"from": supply, "to": behind}, rating_a=30), behind
