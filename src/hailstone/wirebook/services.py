"""Writes the wire book: findings of a job, findings of a file, and one taken out again."""

from __future__ import annotations

from collections.abc import Sequence

from django.contrib.auth.models import AbstractBaseUser
from django.db import transaction
from django.utils import timezone

from electrics.formats.wire_book_csv import FindingRow
from electrics.identify.belief import Belief, WireBelief
from hailstone.identify.models import AccessPoint
from hailstone.jobs.models import Job
from hailstone.layers.beliefs import beliefs
from hailstone.wirebook.models import Finding
from hailstone.wording.words import INSTRUMENTS, listed

FIELDS = (
    *("make", "model", "year_from", "year_to", "market", "place", "kind", "side", "pin", "colour", "function"),
    *("polarity", "how", "measured_on"),
)
"""What makes two findings of a file the same."""


@transaction.atomic
def keep_job(job: Job, who: AbstractBaseUser) -> int:
    """Put every settled wire of a job into the book; returns how many. Kept again, it replaces what it kept."""
    believed = beliefs(job)
    return sum(keep_point(job, point, believed[point.id], who) for point in job.points.all())


@transaction.atomic
def keep_point(job: Job, point: AccessPoint, belief: Belief, who: AbstractBaseUser) -> int:
    """Put the settled wires of one access point into the book; returns how many.

    Only what was measured counts as proven: a wire settled without a reading of its own stays out.
    """
    vehicle = job.vehicle
    Finding.objects.filter(job=job, place=point.name).delete()
    proven = [wire for wire in belief.wires if wire.is_settled and _how(belief, wire)]
    Finding.objects.bulk_create(
        Finding(
            make=vehicle.make,
            model=vehicle.model,
            year_from=vehicle.year,
            year_to=vehicle.year,
            market=vehicle.market,
            place=point.name,
            kind=point.kind,
            side=point.side,
            pin=wire.pin,
            colour=wire.colour,
            function=str(wire.function),
            polarity=str(wire.polarity),
            how=_how(belief, wire),
            measured_on=timezone.localdate(),
            job=job,
            who=who,
        )
        for wire in proven
    )
    return len(proven)


@transaction.atomic
def take_in(rows: Sequence[FindingRow], who: AbstractBaseUser) -> int:
    """Add the findings of a file that are not in the book yet; returns how many were new."""
    known = set(Finding.objects.values_list(*FIELDS))
    new: dict[tuple[object, ...], Finding] = {}
    for row in rows:
        values = {
            "make": row.make,
            "model": row.model,
            "year_from": row.year_from,
            "year_to": row.year_to,
            "market": row.market,
            "place": row.access_point,
            "kind": row.kind,
            "side": row.side,
            "pin": row.pin,
            "colour": row.colour,
            "function": str(row.function),
            "polarity": str(row.polarity),
            "how": row.how,
            "measured_on": row.measured_on,
        }
        key = tuple(values[name] for name in FIELDS)
        if key not in known:
            new.setdefault(key, Finding(**values, who=who))
    Finding.objects.bulk_create(new.values())
    return len(new)


def _mid_sentence(name: str) -> str:
    return name[0].lower() + name[1:]


def _how(belief: Belief, wire: WireBelief) -> str:
    """`4 readings: volts DC, ohms`; empty when this wire was never read."""
    own = [evidence for evidence in belief.point.evidence if evidence.pin == wire.pin]
    if not own:
        return ""
    instruments = dict.fromkeys(_mid_sentence(INSTRUMENTS[evidence.setup.instrument]) for evidence in own)
    return f"{len(own)} reading{'s' if len(own) > 1 else ''}: {listed(instruments)}"
