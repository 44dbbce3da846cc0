"""What a function of a wire is: whether it may be tapped, what lamp it has and where it shows, and what feeds it.

The one list of what may be tapped, for pages, command line and search.
"""

from __future__ import annotations

from dataclasses import dataclass
from enum import StrEnum
from functools import cache

from electrics.reference.tables import Table, read_table
from electrics.vocabulary import Control, Function

__all__ = ["FunctionKind", "Tap", "called_also", "function_kinds", "functions_needing", "kind_of"]


class Tap(StrEnum):
    """Whether a circuit may be tapped."""

    YES = "yes"
    FUSED = "fused"
    """Only behind a fuse of its own, as at a position of the fuse box."""
    ITSELF = "itself"
    """For more of the same and nothing else: a voltage that varies is no stop feed."""
    NEVER = "never"


@dataclass(frozen=True)
class FunctionKind:
    """One function of a wire.

    Attributes
    ----------
    has_lamp : bool
        Whether it feeds a lamp that can be watched.
    needs : tuple of Control
        A vehicle without one of these has no such wire.
    shown_with : Control or None
        With what it is looked at, steadily lit where it can be.
    bulb : str
        The usual one: `main`, `small` or `beam`; empty for none.
    leads : tuple of str
        Which kinds of lead of a lamp can show it: `tail`, `red`, `amber`, `white`.
    full_with, dims_with, flashes_with : tuple of str
        Controls that feed it fully, in pulses, flashing; all empty for what cannot be added as a circuit of its own.
    error_cost : float
        What it costs to take a wire for it that is another, in readings one would sooner take (estimate) [-].
    missed_cost : float
        What it costs to take such a wire for anything else, beyond that (estimate) [-].
    """

    function: Function
    tap: Tap
    has_lamp: bool
    needs: tuple[Control, ...]
    shown_with: Control | None
    bulb: str
    leads: tuple[str, ...]
    full_with: tuple[str, ...]
    dims_with: tuple[str, ...]
    flashes_with: tuple[str, ...]
    error_cost: float
    missed_cost: float

    @property
    def side(self) -> str:
        """`left`, `right`, or empty where both sides hang on it."""
        return next((side for side in ("left", "right") if self.function.endswith(f"_{side}")), "")

    @property
    def is_combined(self) -> bool:
        """Whether it flashes and burns by the brake on one filament."""
        return bool(self.flashes_with) and "brake" in self.full_with

    @property
    def can_be_held(self) -> bool:
        """Whether the brake keeps it lit."""
        return "brake" in self.full_with

    def may_feed(self, wanted: tuple[Function, ...], *, is_fused: bool) -> bool:
        """Whether this circuit may be tapped for a behaviour that speaks of these functions."""
        if self.tap is Tap.ITSELF:
            return wanted == (self.function,)
        return self.tap is Tap.YES or (self.tap is Tap.FUSED and is_fused)


@cache
def function_kinds() -> Table[FunctionKind]:
    """Every function of a wire, by its id."""
    return read_table(
        "functions",
        (
            "function",
            "tap",
            "lamp",
            "needs",
            "shown_with",
            "bulb",
            "leads",
            "full_with",
            "dims_with",
            "flashes_with",
            "error_cost",
            "missed_cost",
        ),
        lambda row: FunctionKind(
            Function(row["function"]),
            Tap(row["tap"]),
            row["lamp"] == "yes",
            tuple(Control(control) for control in row["needs"].split()),
            Control(row["shown_with"]) if row["shown_with"] else None,
            row["bulb"],
            tuple(row["leads"].split()),
            tuple(row["full_with"].split()),
            tuple(row["dims_with"].split()),
            tuple(row["flashes_with"].split()),
            float(row["error_cost"]),
            float(row["missed_cost"]),
        ),
    )


@cache
def called_also() -> Table[Function]:
    """Other words of the trade for a function, on both sides of the ocean, in lower case; terminal numbers too."""
    return read_table("function_words", ("word", "function"), lambda row: Function(row["function"]))


@cache
def functions_needing(control: Control) -> frozenset[Function]:
    """Every function of which a vehicle without a control has no wire."""
    return frozenset(kind.function for kind in function_kinds() if control in kind.needs)


def kind_of(function: Function) -> FunctionKind:
    """The row of one function."""
    return function_kinds()[function]
