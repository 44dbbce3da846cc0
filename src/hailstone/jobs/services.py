"""Writes jobs: one function per thing a person does, one transaction each."""

from __future__ import annotations

from collections.abc import Iterable
from typing import Any

from django.contrib.auth.models import AbstractBaseUser
from django.db import transaction
from django.db.models import F
from django.utils import timezone

from electrics.vocabulary import Control
from hailstone.jobs.models import Job, Vehicle

VEHICLE_FACTS = (
    "make",
    "model",
    "year",
    "market",
    "system_v",
    "computer",
    "not_fitted",
    "body",
    "registration",
    "vin",
    "odometer_km",
)
JOB_FACTS = (
    "title",
    "customer",
    "order_number",
    "complaint",
    "addition",
    "own_leads",
    "also",
    "added_count",
    "added_each_a",
    "supply_v",
    "arrangement",
    "has_helper",
)


class StaleError(Exception):
    """Somebody else changed it since the form was opened.

    Attributes
    ----------
    version : int
        What it is now.
    """

    def __init__(self, who: str, when: str, version: int) -> None:
        self.version = version
        super().__init__(
            f"{who} changed this at {when} while you had it open. Your entries stand below and are not saved "
            "yet: check them and save again to replace what is stored."
        )


@transaction.atomic
def begin_job(who: AbstractBaseUser, facts: dict[str, Any], *, vehicle: Vehicle | None = None) -> Job:
    """Make a job from a valid brief, on a vehicle of its own or on one that was here before."""
    from hailstone.hookup.services import begin_hookup

    known = {name: facts[name] for name in VEHICLE_FACTS if name in facts}
    if vehicle is None:
        vehicle = Vehicle.objects.create(**known)
    else:
        Vehicle.objects.filter(pk=vehicle.pk).update(**known)
    job = Job.objects.create(
        vehicle=vehicle, created_by=who, changed_by=who, **{name: facts[name] for name in JOB_FACTS if name in facts}
    )
    begin_hookup(job, who)
    return job


@transaction.atomic
def change_brief(job: Job, who: AbstractBaseUser, facts: dict[str, Any]) -> None:
    """Store a changed brief; `StaleError` when somebody else was quicker, FactError for too much current."""
    from hailstone.layers.job_facts import check_stored_loads

    stored = Job.objects.select_related("changed_by", "vehicle").get(pk=job.pk)
    check_version(stored, facts.get("version"))
    for name in VEHICLE_FACTS:
        setattr(stored.vehicle, name, facts.get(name, getattr(stored.vehicle, name)))
    stored.vehicle.save()
    for name in JOB_FACTS:
        setattr(stored, name, facts.get(name, getattr(stored, name)))
    stored.changed_by = who
    stored.version += 1
    stored.save()
    check_stored_loads(job.pk)


@transaction.atomic
def note_not_fitted(job: Job, controls: Iterable[Control], who: AbstractBaseUser) -> None:
    """Note that this vehicle lacks some controls."""
    vehicle = Vehicle.objects.get(pk=job.vehicle_id)
    vehicle.not_fitted = ",".join(sorted(vehicle.lacks | set(controls)))
    vehicle.save(update_fields=["not_fitted"])
    Job.objects.filter(pk=job.pk).update(version=F("version") + 1)
    touch(job.pk, who)


def check_version(stored: Any, version: int | None) -> None:
    """Raise `StaleError` unless the form was made from the version that is stored."""
    if version != stored.version:
        when = timezone.localtime(stored.changed_at).strftime("%H:%M")
        raise StaleError(str(stored.changed_by), when, stored.version)


def touch(job_id: int, who: AbstractBaseUser) -> None:
    """Move a job to the top of the board, because something in it was worked on."""
    Job.objects.filter(pk=job_id).update(changed_at=timezone.now(), changed_by=who)


@transaction.atomic
def remove_job(job: Job) -> None:
    """Delete a job with everything in it; its vehicle goes with its last job."""
    vehicle = job.vehicle
    job.delete()
    if not vehicle.jobs.exists():
        vehicle.delete()
