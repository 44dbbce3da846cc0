"""What gives way under too much current, and stays so: fuses and outputs that shut off."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

from electrics.circuit.build import Solution
from electrics.reference.parts import blow_time_s

__all__ = ["FuseRule", "OverloadRule", "TripRule"]

Array = NDArray[np.float64]
Flags = NDArray[np.bool_]

TRIPS_AFTER_S = 0.15
"""How long an output bears more than its limit: it must stand inrush [s] (estimate)."""


class OverloadRule:
    """Opens its gate for good once the current through any of its branches would, in the end, open it."""

    is_slow = True
    word = ""

    def __init__(self, owner: str, gate: int, branches: tuple[int, ...], limit_a: float) -> None:
        self.owner, self.gates, self.branches, self.limit_a = owner, (gate,), branches, limit_a

    def bears_s(self, load_share: float) -> float:
        """How long it bears a load, as a multiple of its limit [s]; infinite if for good."""
        raise TypeError(f"{type(self).__name__} does not say what it bears")

    def update(self, solution: Solution, gates: Flags) -> tuple[Flags, Array]:
        load = np.abs(solution.currents[:, list(self.branches)]).max(axis=1) / self.limit_a
        mean = solution.cases.root_mean_square(load)
        gives_way = np.array([share > 1 and self.bears_s(float(share)) < np.inf for share in mean])
        return gates & ~gives_way[:, None], mean


class FuseRule(OverloadRule):
    """A fuse by its blow curve."""

    word = "blown"

    def bears_s(self, load_share: float) -> float:
        return blow_time_s(load_share)


class TripRule(OverloadRule):
    """An output that shuts off above its limit, until the next key cycle."""

    word = "shut off"

    def bears_s(self, load_share: float) -> float:
        return TRIPS_AFTER_S if load_share > 1 else float("inf")
