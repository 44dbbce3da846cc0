"""A step of the build sheet in words, and how ends and wires are named where one stands beside them."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

from electrics.design.design import End, EndKind, Wiring
from hailstone.wording.build import end_name
from hailstone.wording.words import at_pin, listed

__all__ = ["StepText", "here", "wires_text"]


@dataclass(frozen=True)
class StepText:
    """A step in words.

    Attributes
    ----------
    title : str
        What to do, in one sentence.
    lines : tuple of str
        How.
    caution : str
        What to watch for at this step; empty for nothing.
    tools : str
        What to have in hand; empty for nothing special.
    """

    title: str
    lines: tuple[str, ...] = ()
    caution: str = ""
    tools: str = ""


def wires_text(wires: Sequence[Wiring]) -> str:
    """`wire 3`, `wires 3 and 5`."""
    labels = [wire.label for wire in wires]
    return f"wire{'s' if len(labels) > 1 else ''} {listed(labels)}"


def here(end: End, place: str) -> str:
    """An end as it is called where one stands beside it: `pin 3 (WH/GN)`, `its reverse lead`."""
    if end.kind is EndKind.PIN and end.what == place and not end.terminal.startswith(("ground", "its ", "wire ")):
        return at_pin(end.terminal, is_at_fuse=end.is_at_fuse) + (f" ({end.colour})" if end.colour else "")
    return end_name(end)
