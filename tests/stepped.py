"""Steps of a job's build sheet for tests: their keys as forms send them, and all of them checked off."""

from __future__ import annotations

from hailstone.layers.overviews import job_overview
from hailstone.layers.ticks import step_names
from hailstone.prove.services import TickState, tick


def keys_of(job, kind=""):
    """The keys of a job's steps in order, those of a kind where one is named."""
    view = job_overview(job.id)
    names = step_names(view.job, view.derived)
    return [names.stored(step) for step in view.derived.steps if kind in ("", step.kind.id)]


def build_all(job, who, value=TickState.DONE, *, but=""):
    """Check off every step, those of the kind `but` as not needed."""
    skipped = keys_of(job, but) if but else []
    for key in keys_of(job):
        tick(job, key, TickState.NOT_NEEDED if key in skipped else value, who)
