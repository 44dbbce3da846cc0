"""Writes the lamp on the bench: its leads, a trial, and the last trial taken back."""

from __future__ import annotations

from collections.abc import Mapping, Sequence

from django.contrib.auth.models import User
from django.db import transaction
from django.utils import timezone

from electrics.document.lamp import Trial
from electrics.identify.leads import MOST_TIMES, identify_leads
from hailstone.jobs.models import Job
from hailstone.lamp.models import FittedLamp, LeadTrial
from hailstone.layers.job_facts import check_stored_loads
from hailstone.layers.versions import touch


@transaction.atomic
def lay_out(
    job: Job,
    leads: Sequence[tuple[str, str, str]],
    who: User,
    kind: str = "",
    *,
    renamed: Mapping[str, str] | None = None,
) -> None:
    """Note the leads of the lamp: label, colour and what its chart says; and which kind of the job's things it is.

    Those that are called otherwise now (`renamed`, the new label by the old) keep their trials; trials of leads that
    are gone go too.

    Raises
    ------
    FactError
        Too few, too many, or two of one name.
    """
    labels = [label for label, *_ in leads]
    identify_leads(labels, [])
    lamp, _ = FittedLamp.objects.update_or_create(job=job, defaults={"kind": kind})
    for old, label in (renamed or {}).items():
        lamp.leads.filter(label=old).update(label=label)
    lamp.leads.exclude(label__in=labels).delete()
    for position, (label, colour, claim) in enumerate(leads):
        lamp.leads.update_or_create(label=label, defaults={"colour": colour, "claim": claim, "position": position})
    check_stored_loads(job.id)
    touch(job.id, who)


@transaction.atomic
def try_pair(lamp: FittedLamp, trial: Trial, who: User) -> None:
    """Keep what one pair showed. Tried twice through one fuse both count; a third time replaces the second.

    Raises
    ------
    FactError
        No such lead, one lead on both posts, a current that cannot be or that is too much for all the lamps of the
        job; nothing is stored then.
    """
    leads = {lead.label: lead for lead in lamp.leads.all()}
    identify_leads(list(leads), [trial])
    pair = {"plus": leads[trial.plus], "minus": leads[trial.minus]}
    before = lamp.trials.filter(**pair, fuse_a=trial.fuse_a)
    before.filter(pk__in=list(before.values_list("pk", flat=True)[MOST_TIMES - 1 :])).delete()
    LeadTrial.objects.create(
        lamp=lamp,
        **pair,
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
def undo_trial(lamp: FittedLamp, who: User) -> LeadTrial | None:
    """Take the last trial back; None when there is none."""
    last = lamp.trials.last()
    if last is not None:
        last.delete()
        touch(lamp.job_id, who)
    return last
