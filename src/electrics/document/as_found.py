"""What was noted on a vehicle before the work: without it, "no faster than before" can't be answered."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass

__all__ = ["AsFound"]


@dataclass(frozen=True)
class AsFound:
    """How a vehicle stood before anything was changed.

    Attributes
    ----------
    rate_left_per_min, rate_right_per_min : float or None
        Flash rate of each side [/min]; None while nobody has counted it.
    warnings, dead : str
        Warnings on the dash, and lamps that failed already, in words.
    """

    rate_left_per_min: float | None = None
    rate_right_per_min: float | None = None
    warnings: str = ""
    dead: str = ""

    @property
    def rates(self) -> Mapping[str, float]:
        """The flash rates that were counted, by side [/min]."""
        found = {"left": self.rate_left_per_min, "right": self.rate_right_per_min}
        return {side: rate for side, rate in found.items() if rate is not None}
