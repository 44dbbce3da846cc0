"""Writes jobs: one function per thing a person does, one transaction each."""

from __future__ import annotations

from typing import Any

from django.contrib.auth.models import User
from django.db import transaction

from hailstone.jobs.models import Job, Vehicle
from hailstone.layers.beginning import begin_hookup
from hailstone.layers.job_facts import check_stored_loads
from hailstone.layers.versions import check_version

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
    "tools",
)


@transaction.atomic
def begin_job(who: User, facts: dict[str, Any], *, vehicle: Vehicle | None = None) -> Job:
    """Make a job from a valid brief, on a vehicle of its own or on one that was here before."""
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
def change_brief(job: Job, who: User, facts: dict[str, Any]) -> None:
    """Store a changed brief; `StaleError` when somebody else was quicker, FactError for too much current."""
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
def remove_job(job: Job) -> None:
    """Delete a job with everything in it; its vehicle goes with its last job."""
    vehicle = job.vehicle
    job.delete()
    if not vehicle.jobs.exists():
        vehicle.delete()
