"""The usual fixes for fast flash and bulb-out warnings, in the shop's order."""

from __future__ import annotations

from dataclasses import dataclass
from functools import cache

from electrics.reference.tables import Table, read_table

__all__ = ["CorrectionMethod", "correction_methods"]


@dataclass(frozen=True)
class CorrectionMethod:
    """One usual fix for what LED lamps upset."""

    id: str
    name: str
    good_for: str
    against: str


@cache
def correction_methods() -> Table[CorrectionMethod]:
    """Every usual fix, by id."""
    return read_table(
        "correction_methods",
        ("method", "name", "good_for", "against"),
        lambda row: CorrectionMethod(row["method"], row["name"], row["good_for"], row["against"]),
    )
