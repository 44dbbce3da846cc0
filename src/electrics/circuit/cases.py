"""What is solved: a state, in the lit or the dark flash phase, in the high or the low part of a pulse."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from electrics.vocabulary import Control, State

__all__ = ["Case", "Cases", "Pulse", "is_flashing"]


@dataclass(frozen=True)
class Case:
    """One operating point: what is switched on, flash phase, part of the pulse."""

    state: State
    lit: bool = True
    high: bool = True


@dataclass(frozen=True)
class Pulse:
    """An output that is pulsed in some states, for what share of the time it is high [-], and how often [Hz]."""

    owner: str
    is_on: Callable[[State], bool]
    duty: float
    hz: float = 100.0


def is_flashing(state: State) -> bool:
    """Whether a flasher is asked for in this state."""
    return state.on(Control.LEFT, Control.RIGHT, Control.HAZARD)


class Cases:
    """The cases of some states, and which of them belong together.

    Attributes
    ----------
    lit, dark : ndarray (n_cases,)
        Index of the case of the same state and pulse in the lit and in the dark phase.
    pair : ndarray (n_cases,)
        Index of the other part of the same pulse; itself where nothing pulses.
    share : ndarray (n_cases,)
        Share of the time in this part of the pulse [-].
    """

    def __init__(
        self, states: Sequence[State], pulses: Sequence[Pulse], phases: Sequence[bool] = (True, False)
    ) -> None:
        """`phases` says which flash phases are wanted of a state that flashes."""
        self.all: list[Case] = []
        share = []
        for state in states:
            duty = next((pulse.duty for pulse in pulses if pulse.is_on(state)), None)
            for lit in phases if is_flashing(state) else (True,):
                for high in (True, False) if duty is not None else (True,):
                    self.all.append(Case(state, lit, high))
                    share.append(1.0 if duty is None else duty if high else 1.0 - duty)
        at = {case: n for n, case in enumerate(self.all)}
        self.lit = self._places(at, lambda case: Case(case.state, True, case.high))
        self.dark = self._places(at, lambda case: Case(case.state, False, case.high))
        self.pair = self._places(at, lambda case: Case(case.state, case.lit, not case.high))
        self.share = np.array(share)
        self.pulsed = self.pair != np.arange(len(self.all))

    def __len__(self) -> int:
        return len(self.all)

    def _places(self, at: dict[Case, int], other: Callable[[Case], Case]) -> NDArray[np.intp]:
        return np.array([at.get(other(case), n) for n, case in enumerate(self.all)], dtype=np.intp)

    def mean(self, values: NDArray[np.float64]) -> NDArray[np.float64]:
        """Average over the pulse; the first axis is the case."""
        share = self.share.reshape(-1, *(1,) * (values.ndim - 1))
        return np.asarray(np.where(share == 1.0, values, share * values + (1 - share) * values[self.pair]))

    def root_mean_square(self, values: NDArray[np.float64]) -> NDArray[np.float64]:
        """Root of the mean square over the pulse; the first axis is the case."""
        return np.asarray(np.sqrt(self.mean(values**2)))
