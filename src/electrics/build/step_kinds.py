"""The kinds of step on a build sheet, in the order in which hands work, and what they were called before."""

from __future__ import annotations

from dataclasses import dataclass
from enum import StrEnum
from functools import cache

from electrics.reference.tables import Table, read_table

__all__ = ["FORMER", "Stage", "StepKind", "step_kinds"]

FORMER = (
    "make_safe",
    "open_up",
    "measure",
    "route",
    "ground",
    "join",
    "fuse",
    "test_loose",
    "secure",
    "close",
    "test_again",
)
"""The eleven steps that every job once had: ticks of earlier versions name them."""
AFTER_JOINING = FORMER[FORMER.index("join") :]


class Stage(StrEnum):
    """A stretch of the work, in order; within one the work goes place by place."""

    LIVE = "live"
    """The battery is on: everything that is to be cut is proven first."""
    OFF = "off"
    """The battery is off; the bench work fills the wait."""
    FIT = "fit"
    PULL = "pull"
    CONNECT = "connect"
    AGAIN = "again"
    """The battery is back on."""
    TRIM = "trim"


@dataclass(frozen=True)
class StepKind:
    """A kind of step.

    Attributes
    ----------
    former : str
        The one of the eleven that it was part of.
    minutes : float
        Usual time for each `each` of it [min]: step, part, lamp, wire, joint, or metre.
    wait_min : float
        What must pass after it before the battery's circuits are touched; other steps fill it [min].
    rests : str
        What it stays done with: `own` while what it handles stays as it is, `whole` while the whole plan does,
        `nothing` whatever changes.
    rank : int
        Its position in the table [-].
    """

    id: str
    stage: Stage
    former: str
    minutes: float
    each: str
    wait_min: float
    rests: str
    rank: int

    @property
    def waits_for_design(self) -> bool:
        """Whether it is done only once the hook-up is decided and allowed."""
        return self.former in AFTER_JOINING


@cache
def step_kinds() -> Table[StepKind]:
    """Every kind of step, by id, in order of work."""
    ranks = iter(range(1000))
    return read_table(
        "build_steps",
        ("step", "stage", "former", "minutes", "each", "wait_min", "rests"),
        lambda row: StepKind(
            row["step"],
            Stage(row["stage"]),
            FORMER[FORMER.index(row["former"])],
            float(row["minutes"]),
            row["each"],
            float(row["wait_min"]),
            row["rests"],
            next(ranks),
        ),
    )
