"""The states that a hook-up is compared in: every possible one by logic, those where things meet on the circuit.

What is impossible is left out by rule: `left` with `right`, `park_left` with `park_right`; a control without what
it brings along (the indicator without the key); anything with `rest` or `asleep`; and sets of controls that bring
along the same and so are one state.
"""

from __future__ import annotations

from collections.abc import Collection, Iterable, Iterator, Sequence
from functools import lru_cache
from itertools import combinations

from electrics.design.wanted import Wanted
from electrics.errors import StateError
from electrics.signals import DARK, LIT, Scenario, signal, variants
from electrics.vocabulary import (
    ALONE,
    Arrangement,
    BrakeWithHazard,
    Control,
    Function,
    State,
    make_state,
    parse_state,
)

__all__ = [
    "TABLE_STATES",
    "controls_in",
    "controls_of",
    "every_state",
    "is_hidden",
    "is_never",
    "lit_states",
    "proving_states",
    "states_for",
]

TABLE_STATES: tuple[State, ...] = tuple(
    parse_state(text)
    for text in (
        "rest",
        "key",
        "park",
        "brake",
        "left",
        "right",
        "hazard",
        "reverse",
        "low",
        "fog_rear",
        "brake+left",
        "brake+right",
        "brake+hazard",
        "park+left",
        "park+right",
        "park+hazard",
        "park+brake",
        "park+reverse",
        "brake+reverse",
    )
)
"""States that every table shows: the usual controls, and the combinations that catch people out."""

_OWN_SWITCH_STATES = tuple(
    parse_state(text) for text in ("own_switch", "key+own_switch", "reverse+own_switch", "brake+own_switch")
)
"""Shown as well where a switch of one's own plays a part."""

_DAYTIME_STATES = tuple(
    parse_state(text) for text in ("engine", "engine+left", "engine+right", "engine+hazard", "engine+park+left")
)
"""Shown as well where daytime lamps play a part: with the engine off they may be dark."""

MANY = 3
"""Circuits that meet on a lamp from which three of their controls are set at once on the circuit, too [-]."""

_COMBINED = tuple(Scenario(Arrangement.COMBINED, who) for who in BrakeWithHazard)
_SCENARIOS = (Scenario(Arrangement.SEPARATE), *_COMBINED)


@lru_cache(maxsize=1024)
def every_state(controls: frozenset[Control]) -> tuple[State, ...]:
    """Every possible state of some controls, those with the fewest switched on first.

    Parameters
    ----------
    controls : frozenset of Control

    Returns
    -------
    tuple of State
        `rest` first; see the module for what is left out.
    """
    found: dict[frozenset[Control], State] = {}
    free = sorted(controls - ALONE)
    for count in range(len(free) + 1):
        for on in combinations(free, count):
            try:
                state = make_state(on)
            except StateError:
                continue
            found.setdefault(state.effective - ALONE, state)
    return tuple(found.values())


@lru_cache(maxsize=256)
def controls_of(function: Function) -> frozenset[Control]:
    """The controls that change a circuit on some vehicle, by more than what they bring along (park by low beam)."""
    alone = [State(()), *(State((control,)) for control in Control)]

    def changes(control: Control) -> bool:
        brought = State((control,)).effective - {control}
        return any(
            signal(function, State((*state.controls, *brought)), scenario, variant)
            != signal(function, State((*state.controls, control)), scenario, variant)
            for variant, _ in variants(function)
            for scenario in _COMBINED
            for state in alone
        )

    return frozenset(each for each in Control if each not in ALONE and changes(each))


def controls_in(wish: Wanted) -> frozenset[Control]:
    """The controls a behavior depends on."""
    own = {Control.OWN_SWITCH} if wish.has_own_switch else frozenset()
    return frozenset(own).union(*(controls_of(function) for function in wish.functions))


@lru_cache(maxsize=256)
def is_never(wish: Wanted) -> bool:
    """Whether a behavior is never on, on any vehicle: then there is nothing to hook up."""
    return not lit_states(wish)


@lru_cache(maxsize=256)
def lit_states(wish: Wanted) -> tuple[State, ...]:
    """The states of the controls it depends on in which a behavior is on, on some vehicle."""
    return tuple(
        state
        for state in every_state(controls_in(wish))
        if any(wish.signal(state, scenario) != DARK for scenario in _SCENARIOS)
    )


@lru_cache(maxsize=256)
def is_hidden(wish: Wanted) -> bool:
    """Whether a filament with two uses burns steadily for both at once: the one in front then cannot be seen."""
    return any(
        front.signal(state, scenario) == LIT == back.signal(state, scenario)
        for front, back in wish.overs
        for state in every_state(controls_in(wish))
        for scenario in _SCENARIOS
    )


def states_for(wanted: Iterable[Wanted], tapped: Sequence[Collection[Function]] = ()) -> tuple[State, ...]:
    """The states in which hook-ups for some behaviors are shown and tried.

    Parameters
    ----------
    wanted : iterable of Wanted
    tapped : sequence of collections of Function
        What the way of each wish taps, where that is known.

    Returns
    -------
    tuple of State
        The table, then the controls that a wish or a circuit of its way hangs on: alone, in pairs, and in threes
        where three circuits meet.
    """
    wishes = tuple(wanted)
    by_switch = any(each.has_own_switch for each in wishes)
    by_day = any(Function.DRL in each.functions for each in wishes)
    special = (_OWN_SWITCH_STATES if by_switch else ()) + (_DAYTIME_STATES if by_day else ())
    ways = tapped or [()] * len(wishes)
    meetings = (state for wish, way in zip(wishes, ways, strict=True) for state in _meetings(wish, frozenset(way)))
    shown: dict[frozenset[Control], State] = {}
    for state in (*TABLE_STATES, *special, *meetings):
        shown.setdefault(state.effective, state)
    return tuple(shown.values())


def proving_states(wanted: Iterable[Wanted]) -> tuple[State, ...]:
    """The extra states a test sheet needs: those that change these behaviors, and where three circuits meet."""
    wishes = tuple(wanted)
    by_switch = any(each.has_own_switch for each in wishes)
    by_day = any(Function.DRL in each.functions for each in wishes)
    found = [*(_OWN_SWITCH_STATES if by_switch else ()), *(_DAYTIME_STATES if by_day else ())]
    for wish in wishes:
        alone = [make_state([control]) for control in sorted(controls_in(wish))]
        met = _meetings(wish, frozenset()) if len(wish.functions) + wish.has_own_switch >= MANY else ()
        found += [
            state for state in (*alone, *(each for each in met if each not in TABLE_STATES)) if state not in found
        ]
    return tuple(found)


@lru_cache(maxsize=1024)
def _meetings_of(controls: frozenset[Control], most: int) -> tuple[State, ...]:
    return tuple(state for state in every_state(controls) if not state.is_dead and len(state.controls) <= most)


def _meetings(wish: Wanted, tapped: frozenset[Function]) -> Iterator[State]:
    """The controls of a behavior and its hook-up, singly and in pairs; three at once where three circuits meet."""
    circuits = {*wish.functions, *tapped}
    controls = controls_in(wish).union(*(controls_of(function) for function in tapped))
    yield from _meetings_of(controls, 3 if len(circuits) + wish.has_own_switch >= MANY else 2)
