"""Which steps of a build sheet are done, ticked now or in an earlier version."""

from __future__ import annotations

from collections.abc import Callable, Iterable, Mapping
from dataclasses import dataclass
from typing import Generic, TypeVar

from electrics.build.steps import Step, StepKey

__all__ = ["Stand", "stands"]


Tick = TypeVar("Tick")


@dataclass(frozen=True)
class Stand(Generic[Tick]):
    """How a step stands.

    Attributes
    ----------
    tick : Tick or None
        Its tick, whether or not that still counts.
    is_stale : bool
        It was done before what it handles was changed: it is open again.
    """

    step: Step
    tick: Tick | None
    is_stale: bool = False

    @property
    def is_done(self) -> bool:
        """Whether nothing is left to do: done, or not needed."""
        return self.tick is not None and not self.is_stale


def stands(
    steps: Iterable[Step],
    ticks: Mapping[StepKey | str, Tick],
    rested: Callable[[Tick], str],
    rests: Mapping[StepKey, str],
    whole: str,
) -> tuple[Stand[Tick], ...]:
    """How each step stands.

    Parameters
    ----------
    steps : iterable of Step
    ticks : mapping of StepKey or str to Tick
        By the step; those of the eleven steps of earlier versions by their names, each for all that was part of it.
    rested : callable
        What a step handled when it was ticked; empty where nobody kept it.
    rests : mapping of StepKey to str
        What each step handles now, as `electrics.job.rests.step_rests` has it.
    whole : str
        The same for the whole plan.

    Returns
    -------
    tuple of Stand
        In the order of the steps.
    """
    found = []
    for step in steps:
        own, former = ticks.get(step.key), ticks.get(step.kind.former)
        if own is not None:
            found.append(Stand(step, own, rested(own) not in ("", rests[step.key])))
        elif former is not None:
            is_changed = rested(former) not in ("", whole)
            found.append(Stand(step, former, is_changed and step.kind.rests != "nothing"))
        else:
            found.append(Stand(step, None))
    return tuple(found)
