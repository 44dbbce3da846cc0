"""Writes jobs: one function for each action, one transaction each."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import fields
from typing import Any

from django.contrib.auth.models import User
from django.db import transaction

from electrics.document.as_found import AsFound
from electrics.document.papers import PAPERS
from electrics.document.vehicle import VehicleFacts
from electrics.document.written import revised, written
from hailstone.jobs.models import Job, Vehicle
from hailstone.layers.beginning import begin_hookup
from hailstone.layers.job_facts import check_stored_loads
from hailstone.layers.versions import check_version

SAID = tuple(field.name for field in fields(VehicleFacts))
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
    "has_helper",
    "tools",
)


@transaction.atomic
def begin_job(who: User, facts: dict[str, Any], *, vehicle: Vehicle | None = None) -> Job:
    """Make a job from a valid brief, on a new vehicle or on one that was here before."""
    vehicle = Vehicle() if vehicle is None else Vehicle.objects.get(pk=vehicle.pk)
    _note(vehicle, facts)
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
    _note(stored.vehicle, facts)
    for name in JOB_FACTS:
        setattr(stored, name, facts.get(name, getattr(stored, name)))
    stored.changed_by = who
    stored.version += 1
    stored.save()
    check_stored_loads(job.pk)


@transaction.atomic
def note_before(job: Job, who: User, said: Mapping[str, Any]) -> None:
    """Store what was noted before the work; what is empty isn't known."""
    stored = Job.objects.get(pk=job.pk)
    stored.as_found = written(revised(AsFound(), said))
    stored.changed_by = who
    stored.save(update_fields=["as_found", "changed_by", "changed_at"])


def _note(vehicle: Vehicle, facts: Mapping[str, Any]) -> None:
    """Store what a brief says of a vehicle; what it does not name stays."""
    for name in PAPERS["vehicle"]:
        setattr(vehicle, name, facts.get(name, getattr(vehicle, name)))
    vehicle.say(**{name: facts[name] for name in SAID if name in facts})
    vehicle.save()


@transaction.atomic
def remove_job(job: Job) -> None:
    """Delete a job with everything in it; its vehicle goes with its last job."""
    vehicle = job.vehicle
    job.delete()
    if not vehicle.jobs.exists():
        vehicle.delete()
