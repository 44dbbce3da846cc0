"""Writes which cure was taken, and what flashes the turn lamps."""

from __future__ import annotations

from dataclasses import replace

from django.contrib.auth.models import User
from django.db import transaction

from electrics.correct.flasher import believe_flasher
from electrics.document.job import JobFacts
from electrics.document.vehicle import FlasherKind
from electrics.errors import FactError
from electrics.reference.habits import stated_of
from hailstone.hookup.models import HookUp
from hailstone.jobs.models import Job
from hailstone.layers.decision_rows import keep
from hailstone.layers.decisions import decisions_of
from hailstone.layers.undo import remember
from hailstone.layers.versions import check_version, touch

__all__ = ["keep_flasher", "keep_habits", "take"]


@transaction.atomic
def take(job: Job, who: User, facts: JobFacts, *, version: int | None) -> None:
    """Store what a cure decides: the cures themselves, or ways, wires and grounds.

    Parameters
    ----------
    facts : JobFacts
        Of the job, the cure taken or given up.
    """
    stored = HookUp.objects.select_related("changed_by").get(job=job)
    check_version(stored, version)
    before, wanted = decisions_of(Job.objects.get(pk=job.pk)), facts.hookup
    cures = tuple(replace(cure, ways=()) for cure in wanted.cures)
    runs = dict(before.runs)
    for lead, run in wanted.runs.items():
        own = {"wire_size": run.wire_size, "ground": run.ground}
        stands = stored.run_of(lead, runs)
        if own != {name: stands[name] for name in own}:
            runs[lead] = {**stands, **own}
    after = replace(before, cures=cures, ways=dict(wanted.ways), runs=runs)
    if after == before:
        return
    remember(job.pk, who, "the cure" if len(cures) >= len(before.cures) else "giving the cure up")
    stored.changed_by = who
    stored.version += 1
    stored.save()
    keep(job, after)
    touch(job.pk, who)


@transaction.atomic
def keep_flasher(job: Job, who: User, kind: str, looks: dict[str, str]) -> None:
    """Store what flashes the turn lamps, and what looks and tests showed; FactError for what cannot be."""
    if kind and kind not in set(FlasherKind):
        raise FactError("flasher", "Say which of the kinds listed it is, or leave it open.")
    believe_flasher(looks, job.vehicle.said.computer)
    job.vehicle.say(flasher=kind)
    job.vehicle.flasher_looks = {id: answer for id, answer in looks.items() if answer}
    job.vehicle.save(update_fields=["facts", "flasher_looks"])
    touch(job.pk, who)


@transaction.atomic
def keep_habits(job: Job, who: User, stated: dict[str, float]) -> None:
    """Store what was measured of how the vehicle watches its lamps; FactError for what cannot be."""
    job.vehicle.say(habits=stated_of(stated))
    job.vehicle.save(update_fields=["facts"])
    touch(job.pk, who)
