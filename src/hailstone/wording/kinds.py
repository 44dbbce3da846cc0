"""Kinds of lamps and parts as a list to choose from: two of one name are told apart."""

from __future__ import annotations

from electrics.design.units import UnitKind

__all__ = ["kind_title"]

TOLD_APART = {
    "reverse_lamp": "with reverse",
    "reverse_switch_lamp": "with reverse or an added switch",
    "combined_tail_lamp": "stop and turn on one lead",
    "separate_tail_lamp": "separate stop and turn leads",
    "motorcycle_tail": "motorcycle",
    "led_bulb_set": "stop and turn in separate sockets",
    "led_bulb_set_combined": "stop and turn in one socket",
    "front_bulb": "turn over park",
    "front_daytime_bulb": "turn over daytime lamp",
}
"""What tells a kind from others of its name."""


def kind_title(kind: UnitKind) -> str:
    """`tail lamp: stop and turn on one lead`."""
    note = TOLD_APART.get(kind.id, "")
    return f"{kind.name}: {note}" if note else kind.name
