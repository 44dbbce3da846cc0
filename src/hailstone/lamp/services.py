"""Writes the lamp on the bench: its leads, a trial, and the last trial taken back."""

from __future__ import annotations

from collections.abc import Sequence

from django.contrib.auth.models import AbstractBaseUser
from django.db import transaction
from django.utils import timezone

from electrics.identify.leads import Trial, identify_leads
from hailstone.jobs.models import Job
from hailstone.lamp.models import FittedLamp, LeadTrial
from hailstone.layers.job_facts import check_stored_loads
from hailstone.layers.versions import touch


@transaction.atomic
def lay_out(job: Job, leads: Sequence[tuple[str, str]], who: AbstractBaseUser, kind: str = "") -> None:
    """Note the leads of the lamp, each with a label and a colour, and which kind of the job's things it is; trials of
    leads that are gone go too.

    Raises
    ------
    FactError
        Too few, too many, or two of one name.
    """
    labels = [label for label, _ in leads]
    identify_leads(labels, [])
    lamp, _ = FittedLamp.objects.update_or_create(
        job=job, defaults={"leads": [list(lead) for lead in leads], "kind": kind}
    )
    lamp.trials.exclude(plus__in=labels, minus__in=labels).delete()
    check_stored_loads(job.id)
    touch(job.id, who)


@transaction.atomic
def try_pair(lamp: FittedLamp, trial: Trial, who: AbstractBaseUser) -> None:
    """Keep what one pair showed; the same pair through the same fuse replaces what it showed before.

    Raises
    ------
    FactError
        No such lead, one lead on both posts, a current that cannot be or that is too much for all the lamps of the
        job; nothing is stored then.
    """
    identify_leads([label for label, _ in lamp.leads], [trial])
    lamp.trials.filter(plus=trial.plus, minus=trial.minus, fuse_a=trial.fuse_a).delete()
    LeadTrial.objects.create(
        lamp=lamp,
        plus=trial.plus,
        minus=trial.minus,
        seen=str(trial.seen),
        light=str(trial.light or ""),
        amps_a=trial.amps_a,
        fuse_a=trial.fuse_a,
        who=who,
        at=timezone.now(),
    )
    check_stored_loads(lamp.job_id)
    touch(lamp.job_id, who)


@transaction.atomic
def undo_trial(lamp: FittedLamp, who: AbstractBaseUser) -> LeadTrial | None:
    """Take the last trial back; None when there is none."""
    last = lamp.trials.last()
    if last is not None:
        last.delete()
        touch(lamp.job_id, who)
    return last
