"""What gives way under too much current, and stays so: fuses and outputs that shut off."""

from __future__ import annotations

from collections.abc import Callable

import numpy as np
from numpy.typing import NDArray

from electrics.circuit.build import Solution
from electrics.circuit.cases import Case
from electrics.reference.parts import blow_time_s

__all__ = ["FuseRule", "OverloadRule", "ShortfallRule", "TripRule"]

Array = NDArray[np.float64]
Flags = NDArray[np.bool_]

DUTY, LIT_S = 0.5, 0.35
"""Share of a flash that is lit, and how long that is at 90 a minute [-], [s]."""
TRIPS_AFTER_S = 0.15
"""How long an output bears more than its limit: it must stand inrush [s] (estimate)."""


class OverloadRule:
    """Opens its gate for good once the current through any of its branches would, in the end, open it."""

    is_slow = True
    word = ""
    comes_back = False
    """Whether a key cycle closes it again."""

    def __init__(self, owner: str, gate: int, branches: tuple[int, ...], limit_a: float) -> None:
        self.owner, self.gates, self.branches, self.limit_a = owner, (gate,), branches, limit_a

    def bears_s(self, load_share: float) -> float:
        """How long it bears a load, as a multiple of its limit [s]; infinite if for good."""
        raise TypeError(f"{type(self).__name__} does not say what it bears")

    def update(self, solution: Solution, gates: Flags) -> tuple[Flags, Array]:
        """It gives way by the heat of a whole flash, or within its lit half; and stays so in the dark half."""
        cases = solution.cases
        load = np.abs(solution.currents[:, list(self.branches)]).max(axis=1) / self.limit_a
        mean = cases.root_mean_square(load)
        whole = np.sqrt(DUTY * mean[cases.lit] ** 2 + (1 - DUTY) * mean[cases.dark] ** 2)
        most = np.maximum(mean[cases.lit], mean[cases.dark])
        gives_way = np.array(
            [
                any_share > 1
                and (self.bears_s(float(any_share)) < LIT_S or (share > 1 and self.bears_s(float(share)) < np.inf))
                for share, any_share in zip(whole, most, strict=True)
            ]
        )
        return gates & ~gives_way[:, None] & gates[cases.lit] & gates[cases.dark], np.maximum(most, 1e-6)


class FuseRule(OverloadRule):
    """A fuse by its blow curve."""

    word = "blown"

    def bears_s(self, load_share: float) -> float:
        return blow_time_s(load_share)


class TripRule(OverloadRule):
    """An output that shuts off above its limit, until the next key cycle."""

    word = "shut off"
    comes_back = True

    def bears_s(self, load_share: float) -> float:
        return TRIPS_AFTER_S if load_share > 1 else float("inf")


class ShortfallRule(TripRule):
    """An output that shuts off when it misses load in its lit phase, until the next key cycle."""

    word = "given up"

    def __init__(
        self, owner: str, gate: int, branch: int, misses: Callable[[Solution], Array], is_high: Callable[[Case], bool]
    ) -> None:
        super().__init__(owner, gate, (branch,), 1.0)
        self.misses, self.is_high = misses, is_high

    def update(self, solution: Solution, gates: Flags) -> tuple[Flags, Array]:
        cases = solution.cases
        is_high = np.array([self.is_high(case) for case in cases.all]) & ~cases.pulsed
        amps = np.abs(solution.currents[:, self.branches[0]])
        is_short = (is_high & (amps < self.misses(solution)) & gates[:, 0])[cases.lit]
        stays = gates & ~is_short[:, None] & gates[cases.lit]
        return stays, np.where(is_short, 1e-6, 0.0)
