"""The states that a hook-up is compared in, and the wires that are never a source."""

from __future__ import annotations

from collections.abc import Iterable

from electrics.hookup.wanted import Wanted
from electrics.vocabulary import Function, State, parse_state

__all__ = ["NEVER", "TABLE_STATES", "states_for"]

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


def states_for(wanted: Iterable[Wanted]) -> tuple[State, ...]:
    """The states that hook-ups for some wishes are compared in."""
    wishes = tuple(wanted)
    by_switch = any(each.has_own_switch for each in wishes)
    by_day = any(Function.DRL in each.functions for each in wishes)
    return TABLE_STATES + (_OWN_SWITCH_STATES if by_switch else ()) + (_DAYTIME_STATES if by_day else ())


NEVER = frozenset({Function.DATA, Function.SPARE, Function.DEAD_FEED, Function.GROUND, Function.MARKER_BETWEEN})
"""Data lines, what feeds nothing, what is dead or lights through another lamp: never a source."""
