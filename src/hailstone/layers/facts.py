"""Loads jobs with all their facts in a fixed number of queries."""

from __future__ import annotations

from django.db.models import QuerySet

from hailstone.jobs.models import Job

FACTS = ("points__pins__readings", "ticks__who", "results__who", "lamp__trials")


def jobs_with_facts() -> QuerySet[Job]:
    """Jobs with everything that anything is derived from."""
    return Job.objects.select_related(
        "vehicle", "created_by", "changed_by", "hookup", "signature__who", "lamp"
    ).prefetch_related(*FACTS)
