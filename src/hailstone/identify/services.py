"""Writes access points, pins and readings: one function per thing a person does, one transaction each."""

from __future__ import annotations

from collections.abc import Sequence
from typing import Any

from django.contrib.auth.models import User
from django.db import transaction
from django.utils import timezone

from electrics.document.places import Setup
from electrics.errors import FactError, ReadingError
from electrics.formats.reading_text import parse_reading
from electrics.formats.readings_csv import ReadingRow
from electrics.vocabulary import Instrument
from hailstone.cli.identify import guess_place
from hailstone.identify.models import AccessPoint, Pin, Reading, ReadingChange
from hailstone.jobs.models import Job
from hailstone.layers.places import SaidPlace
from hailstone.layers.versions import StaleError, touch

LONGEST_TEXT = 60


def set_chart(job: Job, *, every_wire: bool) -> None:
    """Ask for readings of every wire, or only of those that the job taps; remembered with the job.

    No fact of the job: nothing that is entered meanwhile goes stale by it.
    """
    Job.objects.filter(pk=job.pk).update(charts_all=every_wire)


@transaction.atomic
def save_reading(
    pin: Pin,
    setup: Setup,
    text: str,
    supply_v: float,
    who: User,
    *,
    against: Pin | None = None,
    note: str = "",
    seen: str | None = None,
    again: bool = False,
    repeated: bool = False,
) -> str:
    """Keep what was typed for one cell, readable or not; an empty text takes the reading away.

    Parameters
    ----------
    against : Pin, optional
        The second pin, where it was not read against proven ground.
    seen : str, optional
        What the cell showed when it was typed into, where that is known.
    again : bool
        It was measured again and read the same.
    repeated : bool
        It was to be measured again: what is typed is the second reading of its cell.

    Returns
    -------
    str
        What to tell this person when somebody else had typed there unseen; empty otherwise. The other is
        told too, at their next look.

    Raises
    ------
    FactError
        The text is longer than any reading.
    """
    text = text.strip()
    if len(text) > LONGEST_TEXT:
        raise FactError("text", f"That is longer than {LONGEST_TEXT} characters; put remarks in the notes.")
    cell = _cell(pin, setup, against)
    stored = Reading.objects.select_related("taken_by").filter(**cell).first()
    before = stored.text if stored else ""
    if again and stored is not None:
        stored.is_confirmed = True
        stored.save(update_fields=["is_confirmed"])
        touch(pin.point.job_id, who)
        return ""
    if text == before and stored is not None and stored.supply_v == supply_v:
        return ""
    _put(cell, text, supply_v, who, note, stored=stored, is_repeated=repeated and stored is not None)
    others = stored if stored is not None and stored.taken_by_id != who.pk else None
    if text != before:
        ReadingChange.objects.create(
            **cell,
            before=before,
            after=text,
            supply_before_v=stored.supply_v if stored else None,
            changed_by=who,
            changed_at=timezone.now(),
            overruled_id=others.taken_by_id if others else None,
            is_told=others is None,
        )
    touch(pin.point.job_id, who)
    if others is None or seen is None or seen == before:
        return ""
    when = timezone.localtime(others.taken_at).strftime("%H:%M")
    return f"{others.taken_by} typed “{before}” here at {when}. Yours counts now; both are in the history."


@transaction.atomic
def undo_last(point: AccessPoint, who: User) -> ReadingChange | None:
    """Take back this person's last change at an access point; None when there is none left.

    A cell that somebody else has changed since is left alone, and the next older change is taken back.
    """
    changes = ReadingChange.objects.filter(pin__point=point, changed_by=who, is_undone=False)
    for change in changes.select_related("pin"):
        cell = {name: getattr(change, name) for name in ("pin", "state", "instrument", "load", "against")}
        stored = Reading.objects.filter(**cell).first()
        change.is_undone = True
        change.save(update_fields=["is_undone"])
        if (stored.text if stored else "") != change.after:
            continue
        supply_v = change.supply_before_v or (stored.supply_v if stored else point.job.supply_v)
        _put(cell, change.before, supply_v, who, "", stored=stored)
        touch(point.job_id, who)
        return change
    return None


@transaction.atomic
def import_rows(job: Job, here: AccessPoint | None, rows: Sequence[ReadingRow], who: User) -> int:
    """Store a readings file that was understood whole; rows of `main` go to the access point at hand.

    The number of queries does not hang on the number of rows. A cell that stands twice in the file keeps its last.

    Returns
    -------
    int
        How many readings were stored.
    """
    pins = _pins_for(job, here, rows)
    last: dict[tuple[int, str, str, str, int | None], tuple[Pin, ReadingRow]] = {}
    for row in rows:
        place = _place_of(row, here)
        pin, against = pins[place, row.pin], pins[place, row.against].id if row.against else None
        cell = (pin.id, str(row.state), str(row.instrument), str(row.load), against)
        last[cell] = pin, row
    stored = {
        (each.pin_id, each.state, each.instrument, each.load, each.against_id): each
        for each in Reading.objects.filter(pin__in={pin.id for pin, _ in last.values()})
    }
    now, readings, changes = timezone.now(), [], []
    for cell, (_, row) in last.items():
        before = stored.get(cell)
        if before is not None and before.text == row.text and before.supply_v == row.supply_v:
            continue
        at: dict[str, Any] = dict(zip(("pin_id", "state", "instrument", "load", "against_id"), cell, strict=True))
        reading = before or Reading(**at)
        was, was_supply_v = reading.text, reading.supply_v
        changes_of: dict[str, Any] = {}
        if before is not None and before.taken_by_id != who.pk:
            changes_of = {"overruled_id": before.taken_by_id, "is_told": False}
        reading.text, reading.supply_v, reading.note = row.text, row.supply_v, row.note
        reading.taken_by, reading.taken_at, reading.is_confirmed = who, now, False
        reading.is_repeated = False
        readings.append(reading)
        if was != row.text:
            change: dict[str, Any] = {"before": was, "after": row.text, "supply_before_v": was_supply_v}
            changes.append(ReadingChange(**at, **change, changed_by=who, changed_at=now, **changes_of))
    new, known = [each for each in readings if each.pk is None], [each for each in readings if each.pk]
    Reading.objects.bulk_create(new)
    fields = ["text", "supply_v", "note", "taken_by", "taken_at", "is_confirmed", "is_repeated"]
    Reading.objects.bulk_update(known, fields)
    ReadingChange.objects.bulk_create(changes)
    touch(job.id, who)
    return len(rows)


def _place_of(row: ReadingRow, here: AccessPoint | None) -> str:
    """The access point that a row speaks of; `main` is the one at hand, where there is one."""
    return here.name if here is not None and row.access_point == "main" else row.access_point


def _pins_for(job: Job, here: AccessPoint | None, rows: Sequence[ReadingRow]) -> dict[tuple[str, str], Pin]:
    """The pins that a file speaks of by place and label, made where they are not there yet."""
    points = {point.name: point for point in job.points.all()}
    wanted: dict[tuple[str, str], str] = {}
    claims: dict[tuple[str, str], tuple[str, str]] = {}
    for row in rows:
        place = _place_of(row, here)
        if row.claim is not None:
            claims[place, row.pin] = str(row.claim), row.claim_from
        wanted[place, row.pin] = row.colour or wanted.get((place, row.pin), "")
        if row.against:
            wanted.setdefault((place, row.against), "")
    for name in dict.fromkeys(place for place, _ in wanted):
        if name not in points:
            kind, side = guess_place(name)
            points[name] = AccessPoint.objects.create(job=job, name=name, kind=kind, side=side)
    pins: dict[tuple[str, str], Pin] = {}
    counts: dict[str, int] = {}
    names = {point.id: name for name, point in points.items()}
    for pin in Pin.objects.filter(point__in=names):
        pins[names[pin.point_id], pin.label] = pin
        counts[names[pin.point_id]] = counts.get(names[pin.point_id], 0) + 1
    changed, new = list[Pin](), list[Pin]()
    for (place, label), colour in wanted.items():
        known = pins.get((place, label))
        if known is None:
            counts[place] = counts.get(place, 0) + 1
            claim, who = claims.get((place, label), ("", ""))
            more = {"claim": claim, "claim_from": who, "position": counts[place] - 1}
            new.append(Pin(point=points[place], label=label, colour=colour, **more))
            continue
        pin = known
        said = claims.get((place, label)) if not pin.claim else None
        if said is not None or (colour and colour != pin.colour):
            pin.colour = colour or pin.colour
            pin.claim, pin.claim_from = said or (pin.claim, pin.claim_from)
            changed.append(pin)
    Pin.objects.bulk_create(new)
    Pin.objects.bulk_update(changed, ["colour", "claim", "claim_from"])
    return pins | {(pin.point.name, pin.label): pin for pin in new}


@transaction.atomic
def add_point(job: Job, place: SaidPlace, who: User) -> AccessPoint:
    """A new access point with its wires."""
    point = AccessPoint(job=job)
    _lay_out(point, place)
    touch(job.id, who)
    return point


@transaction.atomic
def change_point(point: AccessPoint, place: SaidPlace, who: User, *, version: int | None) -> None:
    """Change the facts and wires of an access point; wires that are no longer listed go with their readings.

    Raises
    ------
    StaleError
        Somebody else changed it since `version`.
    """
    point = AccessPoint.objects.select_related("job__changed_by").get(pk=point.pk)
    check_point_version(point, version, point.job)
    point.version += 1
    _lay_out(point, place)
    touch(point.job_id, who)


@transaction.atomic
def remove_point(point: AccessPoint, who: User) -> None:
    """Delete an access point with its readings."""
    touch(point.job_id, who)
    point.delete()


def _lay_out(point: AccessPoint, place: SaidPlace) -> None:
    point.name, point.kind, point.side = place.name, place.kind, place.side
    point.claims_from, point.claims_origin = place.claims_from, place.claims_origin
    point.face_rows, point.seen_from = place.face_rows, place.seen_from
    point.all_wires, point.zone = place.all_wires, place.zone
    point.save()
    for wire in place.wires:
        if wire.was:
            point.pins.filter(label=wire.was).update(label=wire.label)
    point.pins.exclude(label__in=[wire.label for wire in place.wires]).delete()
    for position, wire in enumerate(place.wires):
        values = {
            "colour": wire.colour,
            "claim": wire.claim,
            "claim_from": wire.claim_from,
            "position": position,
        }
        Pin.objects.update_or_create(point=point, label=wire.label, defaults=values)


def _cell(pin: Pin, setup: Setup, against: Pin | None) -> dict[str, object]:
    return {
        "pin": pin,
        "state": str(setup.state),
        "instrument": str(setup.instrument),
        "load": str(setup.load),
        "against": against,
    }


def _put(
    cell: dict[str, object],
    text: str,
    supply_v: float,
    who: User,
    note: str,
    *,
    stored: Reading | None,
    is_repeated: bool = False,
) -> None:
    """What was typed in place of what is stored; called inside the transaction that has looked it up."""
    if not text:
        Reading.objects.filter(**cell).delete()
        return
    values = {"text": text, "supply_v": supply_v, "taken_by": who, "taken_at": timezone.now(), "note": note}
    values |= {"is_confirmed": False, "is_repeated": is_repeated}
    reading = Reading(pk=stored.pk if stored else None, **cell, **values)
    reading.save(force_insert=stored is None, force_update=stored is not None)


def is_readable(reading: Reading) -> bool:
    """Whether a stored text can be read with its instrument."""
    try:
        parse_reading(reading.text, Instrument(reading.instrument))
    except ReadingError:
        return False
    return True


def check_point_version(point: AccessPoint, version: int | None, job: Job) -> None:
    """Raise `StaleError` unless the form was made from the access point as it is stored."""
    if version != point.version:
        raise StaleError(str(job.changed_by), timezone.localtime(job.changed_at).strftime("%H:%M"), point.version)
