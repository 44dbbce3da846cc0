"""The one writer of a whole document to rows: a job that comes from a file, or is repeated on another vehicle."""

from __future__ import annotations

from collections import Counter
from collections.abc import Iterable, Mapping
from dataclasses import replace
from typing import Any

from django.contrib.auth.models import User
from django.db import transaction
from django.db.models import CharField, Model
from django.utils import timezone

from electrics.design.accessories import OWN
from electrics.document.decisions import CureDecision, HookUpDecisions
from electrics.document.job import JobFacts
from electrics.document.papers import Papers
from electrics.document.places import Evidence, Origin, PlaceFacts
from electrics.document.vehicle import Idle, VehicleFacts
from electrics.document.way import WayKey
from electrics.document.written import written
from electrics.formats.json_file import FileError
from electrics.job.file.places import reading_as_typed
from electrics.vocabulary import DEFAULT_SUPPLY_V
from hailstone.hookup.models import HookUp
from hailstone.identify.models import AccessPoint, Pin, Reading
from hailstone.jobs.models import Job, Vehicle
from hailstone.layers.decision_rows import put_back
from hailstone.layers.job_facts import IDLE
from hailstone.layers.naming import referring
from hailstone.layers.refs import names_by_ref

__all__ = ["write_job"]

FROM_FILE = "job file"
"""Who says what a wire does, where the file doesn't name anybody."""


@transaction.atomic
def write_job(facts: JobFacts, papers: Papers, who: User) -> Job:
    """A new job with everything a document says; nothing that is here is changed.

    Parameters
    ----------
    facts : JobFacts
        Places, leads and wires by the keys of a file.
    papers : mapping
        What the job and its vehicle are called.

    Raises
    ------
    FileError
        A text that is too long for its field; nothing is stored then.
    """
    own = papers.get("vehicle", {})
    vehicle = Vehicle(facts=written(facts.vehicle), flasher_looks=_looks(facts.vehicle), **own)
    first = next((each for place in facts.places for each in place.point.evidence), None)
    job = Job(
        vehicle=vehicle,
        addition=facts.wish.kind or OWN,
        also=",".join(facts.wish.also),
        own_leads=facts.wish.own_leads,
        added_count=facts.wish.count,
        added_each_a=facts.wish.each_a,
        supply_v=first.supply_v if first else DEFAULT_SUPPLY_V.get(facts.vehicle.system_v, 12.6),
        complaint=facts.complaint,
        as_found=written(facts.as_found),
        created_by=who,
        changed_by=who,
        **papers.get("job", {}),
    )
    _check_lengths((vehicle, job), "the job")
    vehicle.save()
    job.save()
    pins: dict[str, str] = {}
    for place in facts.places:
        pins |= _write_place(job, place, who)
    hookup = HookUp(job=job, changed_by=who, override=facts.hookup.override)
    _check_lengths((hookup,), "the job")
    hookup.save()
    names = names_by_ref(job.points.all(), facts.units)
    kept = referring(replace(facts, hookup=_rekeyed(facts.hookup, pins)), names)
    put_back(job, kept, who)
    HookUp.objects.filter(job=job).update(labels=[list(label) for label in kept.hookup.labels])
    return Job.objects.get(pk=job.pk)


def _looks(vehicle: VehicleFacts) -> dict[str, str]:
    """What was seen of the flasher, from what it came to: the looks are kept, not what they came to."""
    off = {idle: look for look, idle in IDLE.items()}.get(Idle(vehicle.idle), "")
    looks = {"pilot": vehicle.pilot, "off": off, "prongs": vehicle.prongs}
    return {name: look for name, look in looks.items() if look}


def _write_place(job: Job, place: PlaceFacts, who: User) -> dict[str, str]:
    """A place with its pins and readings; ids of its pins by the keys of its wires."""
    given = place.point
    point = AccessPoint(
        job=job,
        name=given.name,
        kind=given.kind,
        side=str(given.side),
        zone=given.zone,
        all_wires=given.all_wires,
        claims_origin=Origin.SAID,
    )
    decided = {pin: function for pin, function, _ in place.said}
    pins = [
        Pin(
            point=point,
            label=wire.pin,
            colour=wire.colour,
            position=n,
            claim=str(next((claim.function for claim in wire.claims), decided.get(wire.pin, ""))),
            claim_from=next((claim.who for claim in wire.claims), FROM_FILE if wire.pin in decided else ""),
        )
        for n, wire in enumerate(given.wires)
    ]
    _check_lengths((point, *pins), given.name)
    point.save()
    Pin.objects.bulk_create(pins)
    by_label = {pin.label: pin for pin in Pin.objects.filter(point=point)}
    readings = _readings(given.evidence, by_label, given.repeated, who)
    _check_lengths(readings, given.name)
    Reading.objects.bulk_create(readings)
    return {key: str(by_label[wire.pin].pk) for key, wire in zip(place.wire_keys, given.wires, strict=True)}


def _readings(
    evidence: Iterable[Evidence], pins: Mapping[str, Pin], repeated: Iterable[Any], who: User
) -> list[Reading]:
    """The last reading of each cell; one that stands twice was measured again and read the same."""
    cells = Counter(each.cell for each in evidence)
    last = {each.cell: each for each in evidence}
    again, now = set(repeated), timezone.now()
    return [
        Reading(
            pin=pins[each.pin],
            state=str(each.setup.state),
            instrument=str(each.setup.instrument),
            load=str(each.setup.load),
            against=pins.get(each.against),
            text=reading_as_typed(each.reading),
            supply_v=each.supply_v,
            is_confirmed=cells[cell] > 1,
            is_repeated=(each.pin, each.setup) in again,
            taken_by=who,
            taken_at=now,
        )
        for cell, each in last.items()
    ]


def _rekeyed(hookup: HookUpDecisions, pins: Mapping[str, str]) -> HookUpDecisions:
    """Decisions with the ids of pins in place of the wires' keys."""

    def kept(way: str) -> str:
        read = WayKey.read(way)
        return str(WayKey(read.form, tuple(pins.get(each, each) for each in read.sources)))

    def cured(cure: CureDecision) -> CureDecision:
        return replace(cure, ways=tuple((lead, kept(way)) for lead, way in cure.ways))

    ways = {lead: kept(way) for lead, way in hookup.ways.items()}
    return replace(hookup, ways=ways, cures=tuple(map(cured, hookup.cures)))


def _check_lengths(rows: Iterable[Model], where: str) -> None:
    """Refuse texts that no form would take: the database itself would."""
    for row in rows:
        for field in row._meta.concrete_fields:
            value = getattr(row, field.attname)
            if isinstance(field, CharField) and field.max_length and len(str(value or "")) > field.max_length:
                text = f"“{str(value)[:30]}…” ({field.verbose_name})"
                raise FileError([f"{where}: {text} is longer than {field.max_length} characters. Shorten it."])
