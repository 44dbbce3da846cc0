"""Writes ticks, results and the signature."""

from __future__ import annotations

import datetime as dt
from collections.abc import Iterable, Mapping
from enum import StrEnum

from django.contrib.auth.models import User
from django.db import transaction
from django.utils import timezone

from electrics.build.steps import StepKey
from electrics.build.ticks import Stand
from electrics.errors import FactError
from electrics.job.rests import rests_on, step_rests
from electrics.judge.rule import look_at
from electrics.prove.rules import STEP_RULES, StepCase
from electrics.prove.sheet import Line, Outcome, judge_reading
from hailstone.jobs.models import Job
from hailstone.layers.labels import keep_labels
from hailstone.layers.overviews import job_overview
from hailstone.layers.progress import Overview
from hailstone.layers.signed import signed_facts, token_of
from hailstone.layers.ticks import StepNames, step_names
from hailstone.layers.undo import TICKING, remember
from hailstone.layers.versions import touch
from hailstone.prove.content import sheet_content
from hailstone.prove.models import BuildTick, Result, Signature
from hailstone.wording.proof import OUTCOMES, held_against


class TickState(StrEnum):
    """How a step of the build sheet stands."""

    OPEN = "open"
    DONE = "done"
    NOT_NEEDED = "not_needed"


class OvertakenError(FactError):
    """Somebody else recorded or changed something that this form has not seen."""


@transaction.atomic
def tick(job: Job, key: str, value: TickState, who: User) -> None:
    """Set a step of the build sheet: two people who both say the same agree.

    Parameters
    ----------
    key : str
        Of the step, as `hailstone.layers.ticks` keeps it.

    Raises
    ------
    KeyError
        The build sheet has no such step.
    FactError
        Joining, or a step behind it, while something is open.
    """
    view = job_overview(job.id)
    names = step_names(view.job, view.derived)
    stand = {names.stored(each.step): each for each in view.stands}[key]
    case = StepCase(stand.step.kind, view.plan.is_complete)
    against = look_at(case, STEP_RULES) if value is not TickState.OPEN else ()
    if against:
        raise FactError("step", f"Not checked off. {held_against(against)}")
    found, rests = stand.tick, step_rests(view.derived)
    if value is TickState.OPEN:
        if found is not None:
            remember(job.id, who, TICKING)
            _part_former(view, stand, names, rests)
            found.delete()
    else:
        is_needed, now = value is TickState.DONE, rests[stand.step.key]
        if found is None or found.step != key or (found.is_needed, found.rests_on) != (is_needed, now):
            remember(job.id, who, TICKING)
            values = {"is_needed": is_needed, "rests_on": now, "who": who, "at": timezone.now()}
            if found is not None and found.step not in (key, stand.step.kind.former):
                found.delete()  # kept by a name, before its unit had a row
            BuildTick.objects.update_or_create(job=job, step=key, defaults=values)
        keep_labels(view.job, view.derived)
    touch(job.id, who)


def _part_former(view: Overview, opened: Stand[BuildTick], names: StepNames, rests: Mapping[StepKey, str]) -> None:
    """Split a tick of an earlier version among its steps, leaving out the one that is reopened."""
    former = opened.tick
    for stand in view.stands:
        if (
            former is not None
            and stand is not opened
            and stand.tick is former
            and not stand.is_stale
            and former.step == stand.step.kind.former
        ):
            values = {"is_needed": former.is_needed, "rests_on": rests[stand.step.key]}
            own = names.stored(stand.step)
            BuildTick.objects.create(job=former.job, step=own, who=former.who, at=former.at, **values)


@transaction.atomic
def record(
    job: Job, lines: Iterable[Line], outcome: Outcome, who: User, *, reading: str = "", note: str = ""
) -> None:
    """Store what was seen on some lines; `untested` takes a result away. What was there before is kept behind it.

    Raises
    ------
    InputError
        A reading that cannot be read, or a measured line passed without one.
    """
    rests = rests_on(job_overview(job.id).derived)
    for line in lines:
        verdict = outcome
        if line.measure and line.measure.instrument and outcome is not Outcome.UNTESTED:
            verdict = judge_reading(line.measure, reading)
        is_taken_away = verdict is Outcome.UNTESTED
        Result.objects.create(
            job=job,
            line=line.key,
            expected=line.asks,
            outcome=str(verdict),
            reading="" if is_taken_away else reading.strip()[:60],
            note="" if is_taken_away else note.strip()[:200],
            rests_on=rests.get(line.key, ""),
            who=who,
            at=timezone.now(),
        )
    touch(job.id, who)


@transaction.atomic
def record_line(
    job: Job, key: str, outcome: Outcome, who: User, *, seen: str, reading: str = "", note: str = ""
) -> None:
    """Store what was seen on one line, as it stands in this moment.

    Parameters
    ----------
    seen : str
        Number of the line's last result that the person had on the screen; empty for none.

    Raises
    ------
    KeyError
        No such line.
    OvertakenError
        Somebody else recorded another outcome meanwhile.
    InputError
        As `record`.
    """
    proof = job_overview(job.id).proof
    if proof is None:
        raise KeyError(key)
    line, last = proof.sheet.line(key), proof.last.get(key)
    if last is not None and str(last.id) != seen and key in proof.results and last.outcome != outcome:
        when = timezone.localtime(last.at).strftime("%H:%M")
        raise OvertakenError(
            "line",
            f"{last.who} recorded “{OUTCOMES[last.outcome]}” here at {when} while you had it open. Nothing is "
            "overwritten. Look again, then record yours.",
        )
    record(job, [line], outcome, who, reading=reading, note=note)


@transaction.atomic
def record_state(job: Job, state: str, who: User, *, seen: Mapping[str, str]) -> list[str]:
    """Pass every line of a state that nobody has tested, as they stand in this moment.

    Parameters
    ----------
    seen : mapping of str to str
        The last result of each of its lines that the person had on the screen, by the line's key.

    Returns
    -------
    list of str
        Keys of lines that somebody else recorded meanwhile: they stay as they are.
    """
    proof = job_overview(job.id).proof
    lines = [line for line in proof.sheet.lines if line.lamp and str(line.state) == state] if proof else []
    if proof is None or not lines:
        raise KeyError(state)
    open_lines = [line for line in lines if proof.outcome(line) is Outcome.UNTESTED]
    record(job, open_lines, Outcome.PASS, who)
    return [
        line.key
        for line in lines
        if line not in open_lines and str(proof.last[line.key].id) != seen.get(line.key, "")
    ]


@transaction.atomic
def sign(job: Job, who: User, *, temporary: str, look_again_on: dt.date | None, seen: str) -> Signature:
    """Put a name under the sheets as the signer saw them: the next revision.

    Parameters
    ----------
    seen : str
        Of the facts that were on the screen, as `signed.token_of` has it.

    Raises
    ------
    FactError
        A rule of `electrics.prove.rules` is against it, or something was changed since the signer looked.
    """
    view = job_overview(job.id)
    proof, against = view.proof, view.against_signing
    if proof is None or against:
        raise FactError("sign", f"Not signed: {held_against(against)}")
    facts = signed_facts(view.job, view.derived, proof)
    if token_of(facts) != seen:
        raise OvertakenError(
            "sign", "Not signed: the job was changed while you had it open. Look through it again, then sign."
        )
    keep_labels(view.job, view.derived)
    return Signature.objects.create(
        job=job,
        number=view.signed.next_number if view.signed else 1,
        who=who,
        at=timezone.now(),
        sheet=sheet_content(view, proof),
        facts=facts,
        verdict=str(proof.verdict),
        temporary=temporary.strip()[:200],
        look_again_on=look_again_on,
    )
