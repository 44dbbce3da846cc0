"""Undo: how units, ways, runs, circuits and ticks stood before each change of a job."""

from __future__ import annotations

from datetime import datetime
from typing import Any

from django.contrib.auth.models import User
from django.db import transaction
from django.db.models import F

from electrics.document.job import JobFacts
from electrics.document.written import typed, written
from hailstone.jobs.models import Before, Job
from hailstone.layers.decision_rows import put_back
from hailstone.layers.decisions import with_decided
from hailstone.layers.job_facts import decided_of
from hailstone.layers.versions import touch
from hailstone.prove.models import BuildTick

__all__ = ["TICKING", "UndoneError", "last_change", "plan_change", "remember", "take_back"]

TICKING = "a tick of the build sheet"
"""The change that changes no plan."""
MOST_KEPT = 50
"""Changes of one job that can be taken back [-]."""


def remember(job_id: int, who: User, what: str) -> None:
    """Keep how a job stands; called inside the transaction of the change, before anything is written."""
    Before.objects.create(job_id=job_id, who=who, what=what, state=_state(job_id))
    kept = Before.objects.filter(job_id=job_id).values_list("id", flat=True)[:MOST_KEPT]
    Before.objects.filter(job_id=job_id).exclude(id__in=list(kept)).delete()


def last_change(job: Job) -> Before | None:
    """What would be taken back; None where nothing was changed yet."""
    return Before.objects.filter(job=job).select_related("who").first()


def plan_change(job: Job) -> Before | None:
    """The last change of a job's plan that was not chosen yet back; None where there is none."""
    return Before.objects.filter(job=job).exclude(what=TICKING).select_related("who").defer("state").first()


class UndoneError(Exception):
    """The change that a form names is not the last one any more: it was undone, or something came after it."""


@transaction.atomic
def take_back(job: Job, who: User, change: str) -> Before | None:
    """Put a job back to how it stood before its last change, and say what that was; None where there is none.

    Parameters
    ----------
    change : str
        Number of the change, as the form has it: posted twice it acts once.

    Raises
    ------
    UndoneError
        It is not the last one any more.
    """
    last = last_change(job)
    if last is None:
        return None
    if str(last.id) != change:
        raise UndoneError
    Job.objects.filter(pk=job.pk).update(version=F("version") + 1)
    put_back(job, typed(JobFacts, last.state["document"]), who)
    BuildTick.objects.filter(job=job).delete()
    BuildTick.objects.bulk_create(
        BuildTick(
            job=job,
            step=step,
            is_needed=needed,
            who_id=who_id,
            at=datetime.fromisoformat(at),
            rests_on="".join(rest),
        )
        for step, needed, who_id, at, *rest in last.state["ticks"]
    )
    Before.objects.filter(pk=last.pk).delete()
    touch(job.pk, who)
    return last


def _state(job_id: int) -> dict[str, Any]:
    job = with_decided(Job.objects.select_related("hookup")).get(pk=job_id)
    return {
        "document": written(decided_of(job)),
        "ticks": [
            [tick.step, tick.is_needed, tick.who_id, tick.at.isoformat(), tick.rests_on]
            for tick in BuildTick.objects.filter(job=job)
        ],
    }
