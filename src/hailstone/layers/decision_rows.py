"""Writes what is decided of a job: rows that refer by foreign key."""

from __future__ import annotations

from collections.abc import Iterable, Mapping, Sequence
from dataclasses import asdict
from typing import Any

from django.contrib.auth.models import User
from django.db.models import Model

from electrics.document.decisions import RunDecision
from electrics.document.job import JobFacts
from electrics.document.units import UnitFacts
from electrics.document.way import WayKey
from electrics.document.written import written
from hailstone.hookup.models import Cure, CuredLead, Distance, HookUp, LeadDecision, WaySource
from hailstone.identify.models import AccessPoint, Pin
from hailstone.jobs.models import Job
from hailstone.layers.decisions import GONE, Decisions, decisions_of
from hailstone.layers.refs import Ref, names_by_ref, ref_of
from hailstone.units.models import Lead, Place, Spot, Unit

__all__ = ["free", "keep", "put_back"]

_OF_UNIT = ("id", "name", "kind", "side", "place", "instead_of", "leads")
_OF_CURE = ("cure", "leads", "ways")
"""What of a unit and of a fix has columns or rows; the hook-ups that a fix brings are decided like any other."""


def keep(job: Job, after: Decisions) -> None:
    """Store what is decided of a job; called inside the transaction of the change.

    What stays keeps its row. What refers to a place or a lead that is not there any more is left out; a way whose
    wire is gone stays, and says so.
    """
    before = decisions_of(Job.objects.get(pk=job.pk))
    are_units_new = (after.units, after.spots) != (before.units, before.spots)
    if are_units_new:
        _keep_spots(job, after.spots)
        _keep_units(job, after.units)
    if are_units_new or after.distances != before.distances:
        _keep_places(job, after)
    if are_units_new or (after.ways, after.runs, after.cures) != (before.ways, before.runs, before.cures):
        _keep_decisions(job, after, _keep_leads(job, after))


def put_back(job: Job, document: JobFacts, who: User) -> None:
    """Store what a document decides, places by reference; called inside the transaction of the change.

    Its vehicle, its readings, its wish and the numbers on wires stay as they are.
    """
    decided = document.hookup
    stored = HookUp.objects.filter(job=job).first()
    if stored is not None:
        stored.override, stored.keeps = decided.override, str(decided.keeps)
        stored.circuits = {function: written(notes) for function, notes in decided.circuits.items()}
        for name, value in _run(decided.run).items():
            setattr(stored, name, value)
        stored.version += 1
        stored.changed_by = who
        stored.save()
    followed = _run(decided.followed)
    runs = {
        lead: {name: value for name, value in _run(run).items() if value != followed[name]}
        for lead, run in decided.runs.items()
    }
    distances = tuple((min(pair), max(pair), m) for pair, m in document.distances.items())
    ways, zones = dict(decided.ways), dict(document.zones)
    keep(job, Decisions(document.units, zones, ways, runs, distances, decided.cures))


def _run(run: RunDecision) -> dict[str, Any]:
    return {**asdict(run), "wire_standard": str(run.wire_standard), "overrides": dict(run.overrides)}


def free(name: str, taken: Iterable[str]) -> str:
    """A name that nothing has yet: `lamp`, `lamp 2`."""
    n, taken = 1, set(taken)
    while (each := name if n == 1 else f"{name} {n}") in taken:
        n += 1
    return each


def _keep_spots(job: Job, spots: Mapping[str, str]) -> None:
    Spot.objects.filter(job=job).exclude(name__in=spots).delete()
    rows = [Spot(job=job, position=n, name=name, zone=zone) for n, (name, zone) in enumerate(spots.items())]
    _put(Spot, rows, "name")


def _keep_units(job: Job, units: Sequence[UnitFacts]) -> None:
    Unit.objects.filter(job=job).exclude(key__in=[unit.key for unit in units]).delete()
    points = set(AccessPoint.objects.filter(job=job).values_list("id", flat=True))
    rows = []
    for n, unit in enumerate(units):
        lamp = Ref.read(unit.instead_of).point
        facts = {name: value for name, value in written(unit).items() if name not in _OF_UNIT}
        own = {"name": unit.name, "kind": unit.kind, "side": unit.side}
        lamp_id = lamp if lamp in points else None
        rows.append(Unit(job=job, key=unit.key, position=n, instead_of_id=lamp_id, facts=facts, **own))
    _put(Unit, rows, "key")


def _keep_places(job: Job, after: Decisions) -> None:
    """The places that things and distances are at, each once."""
    points = {point.id: point for point in AccessPoint.objects.filter(job=job)}
    units = {unit.key: unit for unit in Unit.objects.filter(job=job)}
    spots = {spot.name: spot for spot in Spot.objects.filter(job=job)}
    names = names_by_ref(points.values(), after.units)
    known = {(row.point_id, row.unit_id, row.spot_id, row.rest): row for row in Place.objects.filter(job=job)}
    used = set()

    def row_of(text: str) -> Place | None:
        ref = Ref.read(ref_of(text, names))
        if not text or (ref.point and ref.point not in points) or (ref.unit and ref.unit not in units):
            return None
        spot = None if ref.point or ref.unit else spots.get(ref.rest)
        unit = units[ref.unit].pk if ref.unit else None
        at = (ref.point, unit, spot.pk if spot else None, "" if spot else ref.rest)
        if at not in known:
            columns = dict(zip(("point_id", "unit_id", "spot_id", "rest"), at, strict=True))
            known[at] = Place.objects.create(job=job, **columns)
        used.add(known[at].pk)
        return known[at]

    for unit in after.units:
        units[unit.key].place = row_of(unit.place)
    Unit.objects.bulk_update(units.values(), ["place"])
    hookup = HookUp.objects.filter(job=job).first()
    Distance.objects.filter(hookup__job=job).delete()
    pairs = [(row_of(first), row_of(second), m) for first, second, m in after.distances]
    Distance.objects.bulk_create(
        Distance(hookup=hookup, first=first, second=second, m=m) for first, second, m in pairs if first and second
    )
    Place.objects.filter(job=job).exclude(pk__in=used).delete()


def _keep_leads(job: Job, after: Decisions) -> dict[str, Lead]:
    """The leads of things, and those of the brief that something is decided of, by their ids."""
    units = {unit.key: unit for unit in Unit.objects.filter(job=job)}
    rows: dict[str, Lead] = {}
    said = [
        (unit, n, *each)
        for unit in after.units
        for n, each in enumerate(zip(unit.lead_keys, unit.leads, strict=True))
    ]
    for unit, n, usual, lead in sorted(said, key=lambda one: not one[3].id):  # those that have an id keep it
        key = free(usual, rows)
        facts = {name: value for name, value in written(lead).items() if name != "id"}
        rows[key] = Lead(job=job, unit=units[unit.key], key=key, position=n, facts=facts)
    for key in (*after.ways, *after.runs, *(lead for cure in after.cures for lead in cure.leads)):
        rows.setdefault(key, Lead(job=job, key=key, position=0))
    Lead.objects.filter(job=job).exclude(key__in=rows).delete()
    _put(Lead, list(rows.values()), "key")
    return rows


def _keep_decisions(job: Job, after: Decisions, leads: Mapping[str, Lead]) -> None:
    hookup = HookUp.objects.filter(job=job).first()
    pins = set(Pin.objects.filter(point__job=job).values_list("id", flat=True))
    LeadDecision.objects.filter(hookup__job=job).delete()
    decisions, sources = [], []
    for key in dict.fromkeys((*after.ways, *after.runs)):
        way = WayKey.read(after.ways.get(key, ""))
        decision = LeadDecision(hookup=hookup, lead=leads[key], form=way.form, run=after.runs.get(key, {}))
        decisions.append(decision)
        sources += [
            WaySource(decision=decision, position=n, **_source(each, pins)) for n, each in enumerate(way.sources)
        ]
    LeadDecision.objects.bulk_create(decisions)
    WaySource.objects.bulk_create(sources)
    Cure.objects.filter(hookup__job=job).delete()
    cures, cured = [], []
    for n, used in enumerate(after.cures):
        facts = {name: value for name, value in written(used).items() if name not in _OF_CURE}
        cure = Cure(hookup=hookup, position=n, cure=used.cure, facts=facts)
        cures.append(cure)
        cured += [CuredLead(cure=cure, lead=leads[key], position=at) for at, key in enumerate(used.leads)]
    Cure.objects.bulk_create(cures)
    CuredLead.objects.bulk_create(cured)


def _source(text: str, pins: set[int]) -> dict[str, Any]:
    if text.isdecimal() and int(text) in pins:
        return {"pin_id": int(text)}
    return {"own": "" if text == GONE else text}


def _put(model: type[Model], rows: list[Any], key: str) -> None:
    """Write rows of one job; those that are there, by their key, are changed."""
    own = ("id", "job", "place", key)
    changed = [field.name for field in model._meta.concrete_fields if field.name not in own]
    if rows:
        own_rows = model._default_manager
        own_rows.bulk_create(rows, update_conflicts=True, unique_fields=["job", key], update_fields=changed)
