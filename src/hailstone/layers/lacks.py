"""What a vehicle lacks: noted on the bench as well as in the brief."""

from __future__ import annotations

from collections.abc import Iterable

from django.contrib.auth.models import User
from django.db import transaction
from django.db.models import F

from electrics.vocabulary import Control
from hailstone.jobs.models import Job, Vehicle
from hailstone.layers.versions import touch

__all__ = ["NOT_FITTED", "note_not_fitted"]

NOT_FITTED = (
    ("park_left,park_right", "parking lamps of one side"),
    ("fog_rear", "rear fog lamp"),
    ("fog_front", "front fog lamps"),
    ("trailer_lever", "trailer brake lever"),
    ("trailer", "trailer socket"),
    ("reverse", "reverse"),
    ("hazard", "hazard switch"),
)
"""What a vehicle may lack: controls that go together, and their name."""


@transaction.atomic
def note_not_fitted(job: Job, controls: Iterable[Control], who: User) -> None:
    """Note that this vehicle lacks some controls."""
    vehicle = Vehicle.objects.get(pk=job.vehicle_id)
    vehicle.say(not_fitted=sorted(vehicle.said.not_fitted | set(controls)))
    vehicle.save(update_fields=["facts"])
    Job.objects.filter(pk=job.pk).update(version=F("version") + 1)
    touch(job.pk, who)
