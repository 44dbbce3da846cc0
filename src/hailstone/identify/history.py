"""The history of readings: who changed which cell when, from what to what."""

from __future__ import annotations

from dataclasses import dataclass

from django.db.models import QuerySet

from hailstone.identify.models import AccessPoint, ReadingChange
from hailstone.layers.job_facts import setup_of
from hailstone.wording.words import setup_name


@dataclass(frozen=True)
class ShownChange:
    """One change in words."""

    change: ReadingChange
    where: str


def changes_at(point: AccessPoint) -> QuerySet[ReadingChange]:
    """Every change at an access point, the latest first."""
    return ReadingChange.objects.filter(pin__point=point).select_related("pin", "against", "changed_by")


def show_change(change: ReadingChange) -> ShownChange:
    """A change with its column's name."""
    against = f" against {change.against.label}" if change.against else ""
    return ShownChange(change, setup_name(setup_of(change)) + against)
