"""What a job needs of a place and no reading there can settle: said at once, not after the last reading."""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np

from electrics.document.places import Setup
from electrics.identify.belief import Belief
from electrics.identify.needed import Mask, Need, Needed, Sought, calibrated, masks_of, most_doubt, needs_of, sought
from electrics.identify.setups import MOST_READ, outcomes_by_world, possible_setups, read_times
from electrics.identify.tools import EVERY_TOOL
from electrics.vocabulary import Function, Instrument, Load

__all__ = ["can_be_met", "out_of_reach"]


def out_of_reach(
    belief: Belief,
    needed: Needed,
    *,
    computer_fed: bool = True,
    tools: frozenset[str] = EVERY_TOOL,
) -> tuple[Need, ...]:
    """What of a job's needs would stay open even if every reading came out for it.

    Parameters
    ----------
    belief : Belief
    needed : Needed
    computer_fed, tools : as for `electrics.identify.plan.next_steps`

    Returns
    -------
    tuple of Need
        A ground that nothing at hand can prove, and a tap that no reading parts from its rival.
    """
    needs = [need for need in needs_of(belief, needed) if not need.is_met]
    if not needs:
        return ()
    setups = tuple(possible_setups(belief.point, computer_fed, belief.not_fitted, tools, for_one=True))
    looked_for = sought(belief, *needed.all_groups)
    return tuple(need for need in needs if not can_be_met(looked_for, need, setups))


def can_be_met(looked_for: Sought, need: Need, setups: Sequence[Setup]) -> bool:
    """Whether an open need would be met if every reading in some set-ups came out for it."""
    belief = looked_for.belief
    if need.function is Function.GROUND:
        return any(_shows_grounds(setup) for setup in setups)
    w, times = [wire.pin for wire in belief.wires].index(need.pin), read_times(belief)
    left = [setup for setup in setups for _ in range(MOST_READ - times[need.pin, setup])]
    doubts = (calibrated(1.0 - _best_case(looked_for, w, mask, left)) for mask in masks_of(need.function))
    return min(doubts) <= most_doubt(need.function)


def _shows_grounds(setup: Setup) -> bool:
    """Whether a reading in it can show a ground that no feed could be."""
    is_pulled = setup.instrument is Instrument.OHMS and setup.load is Load.OUT
    return is_pulled or setup.instrument is Instrument.LOADED_DROP


def _best_case(looked_for: Sought, w: int, mask: Mask, setups: Sequence[Setup]) -> float:
    """The chance that a wire is what is wanted had every set-up shown what that is likeliest to show [-]."""
    log = np.log(np.maximum(looked_for.worlds[:, None] * looked_for.by_world[:, w], 1e-300))
    for setup in setups:
        table = outcomes_by_world(setup)
        own = np.einsum("gh,gho->o", np.exp(log - log.max()) * mask, table)
        log = log + np.log(np.maximum(table[:, :, int(own.argmax())], 1e-300))
    share = np.exp(log - log.max())
    return float(share[:, mask].sum() / share.sum())
