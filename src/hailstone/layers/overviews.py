"""One job with everything derived, as its pages want it."""

from __future__ import annotations

from django.http import Http404

from hailstone.identify.models import AccessPoint
from hailstone.jobs.models import Job
from hailstone.layers.broken import Broken, compute, try_overview
from hailstone.layers.facts import jobs_with_facts
from hailstone.layers.progress import Overview

__all__ = ["find_point", "job_as_it_is", "job_overview"]


def job_overview(job_id: int) -> Overview:
    """One job with everything derived; a page that says what to do when there is none, or it cannot be computed."""
    return compute(_loaded(job_id))


def job_as_it_is(job_id: int) -> Overview | Broken:
    """The same for pages that must open whatever is wrong with the job."""
    return try_overview(_loaded(job_id))


def _loaded(job_id: int) -> Job:
    job = jobs_with_facts().filter(pk=job_id).first()
    if job is None:
        raise Http404("no such job")
    return job


def find_point(job_id: int, point_id: int) -> tuple[Overview, AccessPoint]:
    """A job's overview and one of its access points; 404 when either is not there."""
    view = job_overview(job_id)
    for point in view.job.points.all():
        if point.id == point_id:
            return view, point
    raise Http404("no such location")
