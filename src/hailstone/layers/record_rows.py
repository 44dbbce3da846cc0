"""Steps and results that a job file brings along, where their people have a login here."""

from __future__ import annotations

import datetime as dt
from collections.abc import Iterable, Mapping
from typing import TypeVar

from django.contrib.auth.models import User

from electrics.job.records import RecordedResult, RecordedTick, Records, answered
from electrics.job.rests import rests_on, step_rests, whole
from hailstone.jobs.models import Job
from hailstone.layers.overviews import job_overview
from hailstone.layers.ticks import step_names
from hailstone.prove.models import BuildTick, Result

__all__ = ["write_records"]

Recorded = TypeVar("Recorded", RecordedTick, RecordedResult)


def _people(records: Records) -> dict[str, User]:
    """The people of this shop who did some of it, by name."""
    names = {tick.who for tick in records.ticks} | {result.who for result in records.results}
    return {user.get_username(): user for user in User.objects.filter(username__in=names, is_active=True)}


def write_records(job: Job, records: Records) -> int:
    """Store what people of this shop did, as of then; it stands for what is to be built and asked now.

    Signatures are never taken over: a name under a sheet is put there by hand.

    Returns
    -------
    int
        How many steps and results were stored.
    """
    people = _people(records)
    view = job_overview(job.pk)
    plan, names = view.derived, step_names(job, view.derived)
    rests = step_rests(plan)
    stored = {stand.step.key: names.stored(stand.step) for stand in view.stands}
    ticks = [
        BuildTick(
            job=job,
            step=stored.get(tick.step, "") if not isinstance(tick.step, str) else tick.step,
            is_needed=tick.needed,
            rests_on=whole(plan) if isinstance(tick.step, str) else rests.get(tick.step, ""),
            who=people[tick.who],
            at=_when(tick),
        )
        for tick in _of(records.ticks, people)
    ]
    ticks = [tick for tick in ticks if tick.step]
    BuildTick.objects.bulk_create(ticks)
    lines, found = rests_on(plan), answered(plan, _of(records.results, people))
    results = [
        Result(
            job=job,
            line=line,
            expected=each.asked,
            outcome=str(each.outcome),
            reading=each.reading,
            note=each.note,
            rests_on=lines.get(line, ""),
            who=people[each.who],
            at=_when(each),
        )
        for line, each in found.items()
    ]
    Result.objects.bulk_create(results)
    return len(ticks) + len(results)


def _of(records: Iterable[Recorded], people: Mapping[str, User]) -> list[Recorded]:
    """Those by people of this shop whose time can be read."""
    found = []
    for each in records:
        try:
            _when(each)
        except ValueError:
            continue
        if each.who in people:
            found.append(each)
    return found


def _when(record: RecordedTick | RecordedResult) -> dt.datetime:
    when = dt.datetime.fromisoformat(record.at)
    return when if when.tzinfo else when.replace(tzinfo=dt.UTC)
