"""Writes what is fitted thing by thing: one function per thing a person does, one transaction each."""

from __future__ import annotations

from collections.abc import Sequence

from django.contrib.auth.models import User
from django.db import transaction
from django.db.models import F
from django.utils import timezone

from electrics.design.groups import FIXED_SPOTS
from electrics.design.units import unit_kinds
from electrics.errors import FactError
from electrics.job.plan import accessory_of
from electrics.job.unit_entries import entry_of, unit_of
from electrics.reference.zones import zones
from hailstone.hookup.models import HookUp
from hailstone.jobs.models import Job
from hailstone.layers.decision_rows import free, keep, lead_ids
from hailstone.layers.decisions import Decisions, Entry, decisions_of
from hailstone.layers.job_facts import check_stored_loads, job_facts
from hailstone.layers.refs import POINT, UNIT, name_of, names_by_ref, ref_of
from hailstone.layers.undo import remember
from hailstone.layers.versions import check_version, touch
from hailstone.wording.words import counted

__all__ = [
    "add_place",
    "add_unit",
    "begin_units",
    "entry_with",
    "goes_with",
    "remove_place",
    "remove_unit",
    "save_unit",
]

MOST_UNITS = 20
OWN_LEADS = [{"lead": "red", "wants": "tail", "amps": 0.3}, {"lead": "ground", "wants": "ground"}]
"""What a thing of one's own kind begins with."""


@transaction.atomic
def begin_units(job: Job, who: User) -> None:
    """Write down thing by thing what the brief says by one name: the plan stays as it is."""
    if not decisions_of(job).units:
        entries = [entry_of(unit) for unit in accessory_of(job_facts(job)).units]
        _store(job, who, units=entries, version=job.version, what="beginning to say things one by one")


@transaction.atomic
def add_unit(job: Job, who: User, kind: str, side: str, *, version: int | None) -> str:
    """Add a lamp or part, of a known kind or a custom one, and return its name."""
    if kind and kind not in unit_kinds().rows:
        raise FactError("kind", "There is no such kind of thing.")
    if side not in ("", "left", "right"):
        raise FactError("side", "The side is left, right or neither.")
    units = decisions_of(job).units
    if len(units) >= MOST_UNITS:
        raise FactError("units", f"More than {MOST_UNITS} things on one job are not planned. Begin another job.")
    usual = f"{side} {unit_kinds()[kind].name if kind else 'lamp'}".strip()
    name = free(usual, [entry["name"] for entry in units])
    begun = {"id": _unused_id(job, units), "name": name, "kind": kind, "side": side}
    entry = entry_of(unit_of(begun if kind else {**begun, "leads": OWN_LEADS}, {}, job.vehicle.system_v))
    _store(job, who, units=[*units, entry], version=version, what=f"adding {name}")
    return name


@transaction.atomic
def save_unit(job: Job, who: User, entry: Entry, *, version: int | None) -> None:
    """Store one changed thing; its leads keep their decisions by the id that stands in their row."""
    units = decisions_of(job).units
    entries = [entry if each["id"] == entry["id"] else each for each in units]
    if entries != units:
        _store(job, who, units=entries, version=version, what=f"a change of {entry['name']}")


@transaction.atomic
def remove_unit(job: Job, who: User, id: str, *, version: int | None) -> str:
    """Take one thing out, with what was decided for its leads; its name."""
    entry = entry_with(job, id)
    rest = [each for each in decisions_of(job).units if each["id"] != id]
    if not rest:
        raise FactError("units", "That's the job's only part. Edit it, or delete the job.")
    _store(job, who, units=rest, version=version, what=f"removing {entry['name']}")
    return str(entry["name"])


@transaction.atomic
def add_place(job: Job, who: User, name: str, zone: str, *, version: int | None) -> None:
    """A place without wires: a socket at the front, a canopy."""
    name = " ".join(name.split())
    spots = decisions_of(job).spots
    taken = {spot["name"] for spot in spots} | {point.name for point in job.points.all()}
    if not name or len(name) > 40 or name.startswith((POINT, UNIT)):
        raise FactError("name", "Name it in up to 40 letters, like front socket.")
    if name in taken.union(FIXED_SPOTS):
        raise FactError("name", f"There is a place “{name}” already. Give this one a name of its own.")
    if zone not in zones().rows:
        raise FactError("zone", "Say roughly where on the vehicle it is.")
    spots = [*spots, {"name": name, "zone": zone}]
    _store(job, who, spots=spots, version=version, what=f"the place {name}")


@transaction.atomic
def remove_place(job: Job, who: User, name: str, *, version: int | None) -> None:
    """Take a place out; refused while something is there."""
    decided = decisions_of(job)
    there = [entry["name"] for entry in decided.units if entry["place"] == name]
    if there:
        raise FactError("name", f"{there[0][0].upper()}{there[0][1:]} is there. Put it somewhere else first.")
    spots = [spot for spot in decided.spots if spot["name"] != name]
    _store(job, who, spots=spots, version=version, what=f"removing the place {name}")


def goes_with(decided: Decisions, ids: Sequence[str]) -> list[str]:
    """What was decided for some leads and goes with them, in words."""
    ways = sum(id in decided.ways for id in ids)
    runs = [decided.runs[id] for id in ids if id in decided.runs]
    found = [f"the way of {counted(ways, 'lead')}"] if ways else []
    if any({"out_m", "back_m"} & run.keys() for run in runs):
        found.append("a length measured by hand")
    if any(run.get("overrides") for run in runs):
        found.append("a number typed in")
    return found


def entry_with(job: Job, id: str) -> Entry:
    """One thing of a job by its id; FactError where it is gone."""
    found: Entry | None = next((each for each in decisions_of(job).units if each["id"] == id), None)
    if found is None:
        raise FactError("unit", "That is not on this job any more. Reload the page.")
    return found


def _store(
    job: Job,
    who: User,
    *,
    units: list[Entry] | None = None,
    spots: list[Entry] | None = None,
    version: int | None,
    what: str,
) -> None:
    stored = Job.objects.select_related("changed_by").get(pk=job.pk)
    check_version(stored, version)
    before = decisions_of(stored)
    units = before.units if units is None else units
    names = [entry["name"] for entry in units]
    twice = next((name for name in names if names.count(name) > 1), None)
    if twice is not None:
        raise FactError("name", f"Two parts are named “{twice}”. Rename one.")
    remember(job.pk, who, what)
    gone = {id for entry in before.units for id in lead_ids(entry)}
    gone -= {id for entry in units for id in lead_ids(entry)}
    now = names_by_ref(stored.points.all(), units)
    # what was said while a thing had no entry of its own is kept by its entry now
    kept = ([ref_of(first, now), ref_of(second, now), m] for first, second, m in before.distances)
    after = Decisions(
        units,
        before.spots if spots is None else spots,
        {id: way for id, way in before.ways.items() if id not in gone},
        {id: run for id, run in before.runs.items() if id not in gone},
        [each for each in kept if all(name_of(ref, now) for ref in each[:2])],
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


def _unused_id(job: Job, units: Sequence[Entry]) -> str:
    """An id that no thing has, nor had when something was tested: the next thing has passed nothing."""
    tested = " ".join(result.line for result in job.results.all())
    ids, taken = [entry["id"] for entry in units], set[str]()
    while f":{(id := free('unit', {*ids, *taken}))}: " in tested:
        taken.add(id)
    return id


def _without(cures: list[Entry], gone: set[str]) -> list[Entry]:
    """The cures that are left without some leads: the next thing may get the id of one that went."""
    left = [{**cure, "leads": [lead for lead in cure["leads"] if lead not in gone]} for cure in cures]
    return [now for now, cure in zip(left, cures, strict=True) if now["leads"] or not cure["leads"]]
