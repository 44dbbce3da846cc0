"""The states that a hook-up is compared in, and the wires that are never a source."""

from __future__ import annotations

from collections.abc import Iterable, Iterator
from functools import lru_cache
from itertools import chain, combinations

from electrics.errors import StateError
from electrics.hookup.wanted import Wanted
from electrics.signals import Scenario, signal, variants
from electrics.vocabulary import Arrangement, BrakeWithHazard, Control, Function, State, parse_state

__all__ = ["NEVER", "TABLE_STATES", "controls_in", "controls_of", "states_for"]

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
"""States that a hook-up is compared in: every control, and the combinations that catch people out."""

_OWN_SWITCH_STATES = tuple(
    parse_state(text) for text in ("own_switch", "key+own_switch", "reverse+own_switch", "brake+own_switch")
)
"""Compared as well where a switch of one's own plays a part."""

_DAYTIME_STATES = tuple(
    parse_state(text) for text in ("engine", "engine+left", "engine+right", "engine+hazard", "engine+park+left")
)
"""Compared as well where daytime lamps play a part: with the engine off they may be dark."""

MANY = 3
"""Things in a wish from which the usual states do not show all that can meet [-]."""

_COMBINED = tuple(Scenario(Arrangement.COMBINED, who) for who in BrakeWithHazard)


def states_for(wanted: Iterable[Wanted]) -> tuple[State, ...]:
    """The states that hook-ups for some wishes are compared in."""
    wishes = tuple(wanted)
    by_switch = any(each.has_own_switch for each in wishes)
    by_day = any(Function.DRL in each.functions for each in wishes)
    special = (_OWN_SWITCH_STATES if by_switch else ()) + (_DAYTIME_STATES if by_day else ())
    meetings = chain.from_iterable(_meetings(wish) for wish in wishes)
    return tuple(dict.fromkeys((*TABLE_STATES, *special, *meetings)))


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

    return frozenset(each for each in Control if each not in (Control.REST, Control.ASLEEP) and changes(each))


def controls_in(wish: Wanted) -> frozenset[Control]:
    """The controls that a wish depends on."""
    own = {Control.OWN_SWITCH} if wish.has_own_switch else frozenset()
    return frozenset(own).union(*(controls_of(function) for function in wish.functions))


def _meetings(wish: Wanted) -> Iterator[State]:
    """Where a wish speaks of three things or more: two and three of their controls at once."""
    if len(wish.functions) + wish.has_own_switch < MANY:
        return
    for count in (2, 3):
        for controls in combinations(sorted(controls_in(wish)), count):
            brought = any(b in State((a,)).effective for a in controls for b in controls if a != b)
            if not brought:
                try:
                    yield parse_state("+".join(controls))
                except StateError:
                    continue


NEVER = frozenset({Function.DATA, Function.SPARE, Function.DEAD_FEED, Function.GROUND, Function.MARKER_BETWEEN})
"""Data lines, what feeds nothing, what is dead or lights through another lamp: never a source."""
