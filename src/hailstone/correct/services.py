"""Writes which cure was taken, and what flashes the turn lamps."""

from __future__ import annotations

from dataclasses import asdict

from django.contrib.auth.models import AbstractBaseUser
from django.db import transaction

from electrics.correct.flasher import believe_flasher
from electrics.errors import FactError
from electrics.job.facts import CureDecision
from electrics.lighting.vehicle import FlasherKind
from hailstone.hookup.models import HookUp
from hailstone.jobs.models import Job
from hailstone.jobs.services import check_version, touch
from hailstone.layers.undo import remember

__all__ = ["keep_flasher", "take"]


@transaction.atomic
def take(job: Job, who: AbstractBaseUser, decision: CureDecision | None, *, version: int | None) -> None:
    """Take a cure in place of any other, or none."""
    stored = HookUp.objects.select_related("changed_by").get(job=job)
    check_version(stored, version)
    cures = [] if decision is None else [{**asdict(decision), "leads": list(decision.leads)}]
    if cures == stored.cures:
        return
    remember(job.pk, who, "the cure" if decision else "giving the cure up")
    stored.cures, stored.changed_by = cures, who
    stored.version += 1
    stored.save()
    touch(job.pk, who)


@transaction.atomic
def keep_flasher(job: Job, who: AbstractBaseUser, kind: str, looks: dict[str, str]) -> None:
    """Store what flashes the turn lamps, and what looks and tests showed; FactError for what cannot be."""
    if kind and kind not in set(FlasherKind):
        raise FactError("flasher", "Say which of the kinds listed it is, or leave it open.")
    believe_flasher(looks, job.vehicle.computer)
    job.vehicle.flasher, job.vehicle.flasher_looks = kind, {id: answer for id, answer in looks.items() if answer}
    job.vehicle.save(update_fields=["flasher", "flasher_looks"])
    touch(job.pk, who)
