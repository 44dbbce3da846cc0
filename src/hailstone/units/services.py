"""Writes lamps and parts: one function for each action, one transaction each."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import replace

from django.contrib.auth.models import User
from django.db import transaction
from django.db.models import F
from django.utils import timezone

from electrics.design.groups import FIXED_SPOTS
from electrics.design.units import unit_kinds
from electrics.design.units_of_facts import unit_facts_of, unit_of
from electrics.document.decisions import CureDecision
from electrics.document.units import LeadFacts, UnitFacts
from electrics.errors import FactError
from electrics.job.added import accessory_of
from electrics.reference.zones import zones
from hailstone.hookup.models import HookUp
from hailstone.jobs.models import Job
from hailstone.layers.decision_rows import free, keep
from hailstone.layers.decisions import Decisions, decisions_of
from hailstone.layers.job_facts import check_stored_loads, job_facts
from hailstone.layers.refs import POINT, UNIT, name_of, names_by_ref, ref_of
from hailstone.layers.undo import remember
from hailstone.layers.versions import check_version, touch
from hailstone.wording.words import capital, counted

__all__ = [
    "add_place",
    "add_unit",
    "begin_units",
    "goes_with",
    "remove_place",
    "remove_unit",
    "save_unit",
    "unit_with",
]

MOST_UNITS = 20
OWN_LEADS = (LeadFacts("red", "tail", 0.3), LeadFacts("ground", "ground"))
"""What a custom lamp begins with."""


@transaction.atomic
def begin_units(job: Job, who: User) -> None:
    """List one by one what the brief says by one name: the plan stays as it is."""
    if not decisions_of(job).units:
        units = tuple(unit_facts_of(unit).with_plain_commons for unit in accessory_of(job_facts(job)).units)
        _store(job, who, units=units, version=job.version, what="listing lamps and parts one by one")


@transaction.atomic
def add_unit(job: Job, who: User, kind: str, side: str, *, version: int | None) -> str:
    """Add a lamp or part, of a known kind or a custom one, and return its name."""
    if kind and kind not in unit_kinds().rows:
        raise FactError("kind", "There is no such kind of lamp or part.")
    if side not in ("", "left", "right"):
        raise FactError("side", "The side is left, right or neither.")
    units = decisions_of(job).units
    if len(units) >= MOST_UNITS:
        raise FactError("units", f"One job takes up to {MOST_UNITS} lamps and parts. Start another job for the rest.")
    usual = f"{side} {unit_kinds()[kind].name if kind else 'lamp'}".strip()
    name = free(usual, [unit.name for unit in units])
    begun = UnitFacts(name, kind, side, leads=() if kind else OWN_LEADS, id=_unused_id(job, units))
    whole = unit_facts_of(unit_of(begun, {}, job.vehicle.said.system_v)).with_plain_commons
    _store(job, who, units=(*units, whole), version=version, what=f"adding {name}")
    return name


@transaction.atomic
def save_unit(job: Job, who: User, unit: UnitFacts, *, version: int | None) -> None:
    """Store one changed unit; its leads keep their decisions by the id in their row."""
    before = decisions_of(job).units
    units = tuple(unit if each.id == unit.id else each for each in before)
    if units != before:
        _store(job, who, units=units, version=version, what=f"a change of {unit.name}")


@transaction.atomic
def remove_unit(job: Job, who: User, id: str, *, version: int | None) -> str:
    """Take one unit out, with what was decided for its leads; its name."""
    unit = unit_with(job, id)
    rest = tuple(each for each in decisions_of(job).units if each.id != id)
    if not rest:
        raise FactError("units", "That's the job's only part. Edit it, or delete the job.")
    _store(job, who, units=rest, version=version, what=f"removing {unit.name}")
    return unit.name


@transaction.atomic
def add_place(job: Job, who: User, name: str, zone: str, *, version: int | None) -> None:
    """A place without wires: a socket at the front, a canopy."""
    name = " ".join(name.split())
    spots = decisions_of(job).spots
    taken = {*spots, *(point.name for point in job.points.all())}
    if not name or len(name) > 40 or name.startswith((POINT, UNIT)):
        raise FactError("name", "Give it a name of up to 40 letters, like front socket.")
    if name in taken.union(FIXED_SPOTS):
        raise FactError("name", f"There's already a place “{name}”. Use another name.")
    if zone not in zones().rows:
        raise FactError("zone", "State roughly where on the vehicle it is.")
    _store(job, who, spots={**spots, name: zone}, version=version, what=f"the place {name}")


@transaction.atomic
def remove_place(job: Job, who: User, name: str, *, version: int | None) -> None:
    """Take a place out; refused while something is there."""
    decided = decisions_of(job)
    there = next((unit.name for unit in decided.units if unit.place == name), None)
    if there is not None:
        raise FactError("name", f"{capital(there)} is there. Move it first.")
    spots = {each: zone for each, zone in decided.spots.items() if each != name}
    _store(job, who, spots=spots, version=version, what=f"removing the place {name}")


def goes_with(decided: Decisions, ids: Sequence[str]) -> list[str]:
    """What was decided for some leads and goes with them, in words."""
    ways = sum(id in decided.ways for id in ids)
    runs = [decided.runs[id] for id in ids if id in decided.runs]
    found = [f"the hook-up of {counted(ways, 'lead')}"] if ways else []
    if any({"out_m", "back_m"} & run.keys() for run in runs):
        found.append("a length measured by hand")
    if any(run.get("overrides") for run in runs):
        found.append("a number typed in")
    return found


def unit_with(job: Job, id: str) -> UnitFacts:
    """One unit of a job by its id; FactError where it is gone."""
    found = next((each for each in decisions_of(job).units if each.id == id), None)
    if found is None:
        raise FactError("unit", "That isn't on this job any more. Reload the page.")
    return found


def _store(
    job: Job,
    who: User,
    *,
    units: tuple[UnitFacts, ...] | None = None,
    spots: dict[str, str] | None = None,
    version: int | None,
    what: str,
) -> None:
    stored = Job.objects.select_related("changed_by").get(pk=job.pk)
    check_version(stored, version)
    before = decisions_of(stored)
    units = before.units if units is None else units
    names = [unit.name for unit in units]
    twice = next((name for name in names if names.count(name) > 1), None)
    if twice is not None:
        raise FactError("name", f"Two parts are named “{twice}”. Rename one.")
    remember(job.pk, who, what)
    gone = {key for unit in before.units for key in unit.lead_keys}
    gone -= {key for unit in units for key in unit.lead_keys}
    now = names_by_ref(stored.points.all(), units)
    # what was said while a unit had no row is kept by its row now
    kept = ((ref_of(first, now), ref_of(second, now), m) for first, second, m in before.distances)
    after = Decisions(
        units,
        before.spots if spots is None else spots,
        {id: way for id, way in before.ways.items() if id not in gone},
        {id: run for id, run in before.runs.items() if id not in gone},
        tuple(each for each in kept if all(name_of(ref, now) for ref in each[:2])),
        _without(before.cures, gone),
    )
    keep(stored, after)
    Job.objects.filter(pk=job.pk).update(version=stored.version + 1)
    if (after.ways, after.runs, after.distances, after.cures) != (
        before.ways,
        before.runs,
        before.distances,
        before.cures,
    ):
        HookUp.objects.filter(job=job).update(version=F("version") + 1, changed_at=timezone.now())
    check_stored_loads(job.pk)
    touch(job.pk, who)


def _unused_id(job: Job, units: Sequence[UnitFacts]) -> str:
    """An id that no unit has, nor had when something was tested: the next unit has passed nothing."""
    tested = " ".join(result.line for result in job.results.all())
    ids, taken = [unit.key for unit in units], set[str]()
    while f":{(id := free('unit', {*ids, *taken}))}: " in tested:
        taken.add(id)
    return id


def _without(cures: Sequence[CureDecision], gone: set[str]) -> tuple[CureDecision, ...]:
    """The fixes that are left without some leads: the next unit may get the id of one that went."""
    left = [replace(cure, leads=tuple(lead for lead in cure.leads if lead not in gone)) for cure in cures]
    return tuple(now for now, cure in zip(left, cures, strict=True) if now.leads or not cure.leads)
