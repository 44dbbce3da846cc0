"""Loads jobs with all their facts in a fixed number of queries."""

from __future__ import annotations

from django.db.models import OuterRef, Prefetch, QuerySet, Subquery

from hailstone.identify.models import AccessPoint
from hailstone.jobs.models import Before, Job
from hailstone.lamp.models import LeadTrial
from hailstone.layers.decisions import with_decided
from hailstone.prove.models import BuildTick, Result, Signature


def jobs_with_readings() -> QuerySet[Job]:
    """Jobs with what was measured and what they fit: enough for what is believed of their wires."""
    jobs = with_decided(Job.objects.select_related("vehicle"))
    return jobs.prefetch_related("points__pins__readings")


def jobs_with_facts() -> QuerySet[Job]:
    """Jobs with everything that anything is derived from."""
    records = (
        Prefetch(name, model.objects.select_related("who"))
        for name, model in (("ticks", BuildTick), ("results", Result), ("signatures", Signature))
    )
    points = Prefetch("points", AccessPoint.objects.select_related("photo").defer("photo__jpeg"))
    trials = Prefetch("lamp__trials", LeadTrial.objects.select_related("plus", "minus"))
    last = Before.objects.filter(job=OuterRef("pk")).order_by("-id").values("id")[:1]
    jobs = Job.objects.select_related("vehicle", "created_by", "changed_by", "hookup", "lamp")
    jobs = with_decided(jobs.annotate(last_change_id=Subquery(last)))
    return jobs.prefetch_related(points, "points__pins__readings", *records, "lamp__leads", trials)
