"""What is decided of a job, read and set past the pages."""

from __future__ import annotations

from dataclasses import replace

from hailstone.hookup.models import HookUp
from hailstone.jobs.models import Job
from hailstone.layers.decision_rows import keep
from hailstone.layers.decisions import decisions_of


def decided(job=None):
    """As it is stored now, of a job or of the only one."""
    return decisions_of(Job.objects.get() if job is None else Job.objects.get(pk=job.pk))


def decide_only(job=None, *, override=None, **changes):
    """Other hook-ups, runs, cures or things; nothing else moves."""
    job = Job.objects.get() if job is None else job
    keep(job, replace(decided(job), **changes))
    if override is not None:
        HookUp.objects.filter(job=job).update(override=override)
