"""What a signature would store of a job now, and how the last one stands."""

from __future__ import annotations

from hailstone.layers.broken import CannotComputeError
from hailstone.layers.facts import jobs_with_facts
from hailstone.layers.overviews import job_overview
from hailstone.layers.signed import signed_facts


def facts_now(job):
    """The facts of a job as they would be signed; without what follows from them where nothing can be computed."""
    try:
        view = job_overview(job.pk)
    except CannotComputeError:
        return signed_facts(jobs_with_facts().get(pk=job.pk), None, None)
    return signed_facts(view.job, view.derived, view.proof)
