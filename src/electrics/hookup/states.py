"""The states that a hook-up is compared in, and the wires that are never a source."""

from __future__ import annotations

from electrics.vocabulary import Function, State, parse_state

__all__ = ["NEVER", "TABLE_STATES"]

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

NEVER = frozenset({Function.DATA, Function.SPARE, Function.DEAD_FEED, Function.GROUND, Function.MARKER_BETWEEN})
"""Data lines, what feeds nothing, what is dead or lights through another lamp: never a source."""
