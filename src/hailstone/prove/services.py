"""Writes ticks, results and the signature."""

from __future__ import annotations

import datetime as dt
from collections.abc import Iterable
from enum import StrEnum

from django.contrib.auth.models import AbstractBaseUser
from django.db import transaction
from django.utils import timezone

from electrics.build.sheet import JOINING, STEPS
from electrics.errors import FactError
from electrics.prove.sheet import Line, Outcome, SheetVerdict, judge_reading
from hailstone.jobs.models import Job
from hailstone.layers.overviews import job_overview
from hailstone.layers.signed import printed_facts
from hailstone.layers.undo import TICKING, remember
from hailstone.layers.versions import touch
from hailstone.prove.content import sheet_content
from hailstone.prove.models import BuildTick, Result, Signature
from hailstone.wording.words import counted


class Tick(StrEnum):
    """How a step of the build sheet stands."""

    OPEN = "open"
    DONE = "done"
    NOT_NEEDED = "not_needed"


@transaction.atomic
def tick(job: Job, step: str, value: Tick, who: AbstractBaseUser) -> None:
    """Set a step of the build sheet: two people who both say the same agree.

    Raises
    ------
    FactError
        Joining, or a step behind it, while something is open.
    """
    if value is not Tick.OPEN and step in JOINING and not job_overview(job.id).plan.is_complete:
        raise FactError(
            "step",
            "Not ticked: something is still open under Hook up. What is joined before it is known may have to come "
            "apart again, or do harm.",
        )
    found = BuildTick.objects.filter(job=job, step=step).first()
    if value is Tick.OPEN:
        if found is not None:
            remember(job.id, who, TICKING)
            found.delete()
    else:
        is_needed = value is Tick.DONE
        if found is None or found.is_needed != is_needed:
            remember(job.id, who, TICKING)
            values = {"is_needed": is_needed, "who": who, "at": timezone.now()}
            BuildTick.objects.update_or_create(job=job, step=step, defaults=values)
    touch(job.id, who)


@transaction.atomic
def record(
    job: Job, lines: Iterable[Line], outcome: Outcome, who: AbstractBaseUser, *, reading: str = "", note: str = ""
) -> None:
    """Store what was seen on some lines; `untested` takes a result away.

    Raises
    ------
    InputError
        A reading that cannot be read, or a measured line passed without one.
    """
    for line in lines:
        verdict = outcome
        if line.measure and line.measure.instrument and outcome is not Outcome.UNTESTED:
            verdict = judge_reading(line.measure, reading)
        if verdict is Outcome.UNTESTED:
            Result.objects.filter(job=job, line=line.key).delete()
            continue
        values = {
            "expected": line.asks,
            "outcome": str(verdict),
            "reading": reading.strip()[:60],
            "note": note.strip()[:200],
            "who": who,
            "at": timezone.now(),
        }
        Result.objects.update_or_create(job=job, line=line.key, defaults=values)
    touch(job.id, who)


@transaction.atomic
def sign(job: Job, who: AbstractBaseUser, *, temporary: str, look_again_on: dt.date | None) -> Signature:
    """Put a name under the sheets as they stand in this moment: the next revision.

    Raises
    ------
    FactError
        The plan is not complete, a step is open, a line is untested or failed, or the last signature still stands.
    """
    view = job_overview(job.id)
    proof = view.proof
    if proof is None or not view.plan.is_complete:
        raise FactError("sign", "Not signed: the hook-up is not complete. Finish it first.")
    open_steps = set(STEPS) - {each.step for each in view.job.ticks.all()}
    if open_steps:
        raise FactError(
            "sign",
            f"Not signed: {counted(len(open_steps), 'step')} of the build sheet still open. Tick each, or mark it as "
            "not needed.",
        )
    if proof.verdict is not SheetVerdict.PASSED:
        left = proof.counts[Outcome.UNTESTED]
        failed = proof.counts[Outcome.FAIL]
        raise FactError("sign", f"Not signed: {counted(left, 'line')} not tested, {failed} failed. Test them first.")
    if view.is_signed:
        raise FactError("sign", "This is signed already, and nothing that is printed has changed since.")
    return Signature.objects.create(
        job=job,
        number=view.signed.next_number if view.signed else 1,
        who=who,
        at=timezone.now(),
        sheet=sheet_content(view, proof),
        facts=printed_facts(view.job),
        verdict=str(proof.verdict),
        temporary=temporary.strip()[:200],
        look_again_on=look_again_on,
    )
