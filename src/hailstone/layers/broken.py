"""A job that cannot be computed: shown with its reason and a way in, so that it takes no other job down with it."""

from __future__ import annotations

import logging
from dataclasses import dataclass

from electrics.errors import InputError
from hailstone.jobs.models import Job
from hailstone.layers.progress import Layer, LayerStatus, Overview, overview, waiting_layers

__all__ = ["Broken", "CannotComputeError", "compute", "try_overview"]

log = logging.getLogger("hailstone")


@dataclass(frozen=True)
class Broken:
    """A job of which nothing could be derived, with what its tile and its brief need.

    Attributes
    ----------
    reason : str
        Why, for a person.
    """

    job: Job
    reason: str
    is_broken: bool = True
    is_signed: bool = False

    @property
    def layers(self) -> tuple[Layer, ...]:
        """Its layers: the brief is where it can be mended, the rest waits."""
        return waiting_layers(self.job, LayerStatus.FAULT, "cannot be computed")

    @property
    def current(self) -> Layer:
        return self.layers[0]


class CannotComputeError(Exception):
    """Raised for a page of a job that cannot be computed."""

    def __init__(self, broken: Broken) -> None:
        self.broken = broken
        super().__init__(broken.reason)


def try_overview(job: Job) -> Overview | Broken:
    """A job derived, or why it cannot be: whatever goes wrong in one job stays in that job."""
    try:
        return overview(job)
    except InputError as error:
        return Broken(job, str(error))
    except Exception as error:
        log.exception("job %s cannot be computed", job.pk)
        return Broken(job, f"The program failed on it ({type(error).__name__}). The log has the details.")


def compute(job: Job) -> Overview:
    """A job derived; CannotComputeError with the reason where that cannot be."""
    found = try_overview(job)
    if isinstance(found, Broken):
        raise CannotComputeError(found)
    return found
