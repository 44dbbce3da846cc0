"""Writes ticks, results and the signature."""

from __future__ import annotations

import datetime as dt
from collections.abc import Iterable

from django.contrib.auth.models import AbstractBaseUser
from django.db import transaction
from django.utils import timezone

from electrics.errors import FactError
from electrics.prove.sheet import Line, Outcome, SheetVerdict, judge_reading
from hailstone.jobs.models import Job
from hailstone.jobs.services import touch
from hailstone.layers.proof import Proof, expectation
from hailstone.prove.models import BuildTick, Result, Signature


@transaction.atomic
def tick(job: Job, step: str, who: AbstractBaseUser) -> None:
    """Tick a step of the build sheet, or take the tick away."""
    done, _ = BuildTick.objects.filter(job=job, step=step).delete()
    if not done:
        BuildTick.objects.create(job=job, step=step, who=who, at=timezone.now())
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
            "expected": expectation(line),
            "outcome": str(verdict),
            "reading": reading.strip()[:60],
            "note": note.strip()[:200],
            "who": who,
            "at": timezone.now(),
        }
        Result.objects.update_or_create(job=job, line=line.key, defaults=values)
    touch(job.id, who)


@transaction.atomic
def sign(job: Job, proof: Proof, who: AbstractBaseUser, *, temporary: str, look_again_on: dt.date | None) -> None:
    """Put a name under the sheet as it stands.

    Raises
    ------
    FactError
        The sheet is not passed: an untested or failed line cannot be signed away.
    """
    if proof.verdict is not SheetVerdict.PASSED:
        left = proof.counts[Outcome.UNTESTED]
        failed = proof.counts[Outcome.FAIL]
        raise FactError("sign", f"Not signed: {left} lines are not tested and {failed} failed. Test them first.")
    values = {
        "who": who,
        "at": timezone.now(),
        "fingerprint": proof.fingerprint,
        "verdict": str(proof.verdict),
        "temporary": temporary.strip()[:200],
        "look_again_on": look_again_on,
    }
    Signature.objects.update_or_create(job=job, defaults=values)
    touch(job.id, who)
