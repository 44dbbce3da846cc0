"""The test sheet of a job with what was found, its verdict, and whether its signature still stands."""

from __future__ import annotations

import hashlib
from collections.abc import Mapping
from dataclasses import dataclass

from electrics.prove.sheet import Line, Outcome, Sheet, SheetVerdict, make_sheet
from hailstone.jobs.models import Job
from hailstone.layers.beliefs import beliefs
from hailstone.layers.hookup import HookUpPlan, LeadPlan
from hailstone.prove.models import Result, Signature


@dataclass(frozen=True)
class Proof:
    """A sheet with its results.

    Attributes
    ----------
    results : mapping of str to Result
        Only those that answer what the line asks now.
    signature : Signature or None
        With `is_current` telling whether sheet and results are as they were signed.
    """

    sheet: Sheet
    results: Mapping[str, Result]
    verdict: SheetVerdict
    counts: Mapping[Outcome, int]
    signature: Signature | None
    is_current: bool
    fingerprint: str

    def outcome(self, line: Line) -> Outcome:
        result = self.results.get(line.key)
        return Outcome(result.outcome) if result else Outcome.UNTESTED

    @property
    def is_proven(self) -> bool:
        return self.verdict is SheetVerdict.PASSED and self.is_current


def expectation(line: Line) -> str:
    """What a line asks, as it is stored beside a result."""
    if line.measure is None:
        return f"{line.kind}:{line.expected.word}"
    return f"{line.kind}:{line.measure.low:g}:{line.measure.high:g}"


def prove(job: Job, plan: HookUpPlan) -> Proof | None:
    """The sheet of a job, or None while nothing is planned that could be proven."""
    if any(each.chosen is None for each in plan.leads):
        return None
    believed = beliefs(job)
    found = {wire.function for belief in believed.values() for wire in belief.wires if wire.is_settled}
    is_single = len(plan.leads) == 1
    added = {"" if is_single else each.lead.id: each.lead.wanted for each in plan.leads}
    sheet = make_sheet(found, added, plan.scenarios[0], job.vehicle.system_v)
    expected = {line.key: expectation(line) for line in sheet.lines}
    results = {result.line: result for result in job.results.all() if expected.get(result.line) == result.expected}
    outcomes = {key: Outcome(result.outcome) for key, result in results.items()}
    fingerprint = _fingerprint(job, plan, expected, results)
    signature = _signature(job)
    return Proof(
        sheet,
        results,
        sheet.verdict(outcomes),
        sheet.outcomes(outcomes),
        signature,
        signature is not None and signature.fingerprint == fingerprint,
        fingerprint,
    )


def _signature(job: Job) -> Signature | None:
    try:
        return job.signature
    except Signature.DoesNotExist:
        return None


def _fingerprint(job: Job, plan: HookUpPlan, expected: Mapping[str, str], results: Mapping[str, Result]) -> str:
    """Everything a signature vouches for, as one digest: tap, load, wire, fuse, every line and what was seen."""
    first, *others = plan.leads
    keys = [each.chosen.key if each.chosen else "" for each in plan.leads]
    parts = [job.addition, f"{first.sized.assumed['load_a']:g}", *keys, *_sizes(first)]
    parts += [f"{item.id}:{item.lead}:{item.function or ''}" for item in (*plan.missing, *plan.faults)]
    parts.append(plan.overridden)
    parts += [f"{key}={asked}" for key, asked in sorted(expected.items())]
    parts += [f"{key}:{r.outcome}:{r.reading}:{r.note}" for key, r in sorted(results.items())]
    # what came later stands at the end, and only where it is: earlier signatures keep their digest
    parts += [job.also] if job.also else []
    for each in others:
        parts += [f"{each.sized.assumed['load_a']:g}", *_sizes(each)]
    for each in plan.leads:
        set_by_hand = {id: value for id, value in each.sized.assumed.overrides.items() if id != "load_a"}
        parts += [f"{each.lead.id}:{id}={value:g}" for id, value in sorted(set_by_hand.items())]
    return hashlib.sha256("\n".join(parts).encode()).hexdigest()


def _sizes(lead: LeadPlan) -> list[str]:
    """Wire and fuse of a lead."""
    option, fuse = lead.sized.option, lead.sized.fuse
    return [option.conductor.name if option else "", f"{fuse.rating_a:g}" if fuse else ""]
