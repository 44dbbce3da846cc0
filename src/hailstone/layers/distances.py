"""How far two places are apart, stated on a plan or where a place is laid out."""

from __future__ import annotations

from dataclasses import replace

from django.contrib.auth.models import User
from django.db import transaction

from electrics.design.routes import check_distance
from electrics.reference.zones import zones
from hailstone.hookup.models import HookUp
from hailstone.identify.models import AccessPoint
from hailstone.jobs.models import Job
from hailstone.layers.decision_rows import keep
from hailstone.layers.decisions import decisions_of, named_distances
from hailstone.layers.refs import names_by_ref, ref_of
from hailstone.layers.undo import remember
from hailstone.layers.versions import touch

__all__ = ["state_distance", "where_is"]


@transaction.atomic
def state_distance(job: Job, who: User, first: str, second: str, m: float | None) -> None:
    """Store how far two places are apart [m]; None takes it back. FactError for what cannot be."""
    if m is not None:
        check_distance(first, second, m)
    stored = Job.objects.get(pk=job.pk)
    remember(job.pk, who, f"how far {first} and {second} are apart")
    hookup, _ = HookUp.objects.get_or_create(job=stored, defaults={"changed_by": who, "version": 0})
    decided = decisions_of(stored)
    names = names_by_ref(stored.points.all(), decided.units)
    one, other = sorted((ref_of(first, names), ref_of(second, names)))
    rest = tuple(each for each in decided.distances if sorted(each[:2]) != [one, other])
    keep(stored, replace(decided, distances=rest if m is None else (*rest, (one, other, m))))
    hookup.changed_by = who
    hookup.version += 1
    hookup.save()
    touch(job.pk, who)


def where_is(job: Job, point: AccessPoint) -> str:
    """Where a place sits, as far as somebody said: `behind the cab, 2.1 m from battery`; empty while nobody has."""
    zone = zones()[point.zone].name if point.zone else ""
    found = ((second if first == point.name else first, m) for first, second, m in named_distances(job)
             if point.name in (first, second))  # fmt: skip
    far = [f"{m:g} m from {other}" for other, m in found]
    return ", ".join(filter(None, (zone, *far[:1])))
