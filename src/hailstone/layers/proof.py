"""The test sheet of a job with what was found, and its verdict."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass

from electrics.job.plan import Plan
from electrics.prove.sheet import Line, Outcome, Sheet, SheetVerdict
from hailstone.jobs.models import Job
from hailstone.prove.models import Result


@dataclass(frozen=True)
class Proof:
    """A sheet with its results.

    Attributes
    ----------
    results : mapping of str to Result
        Only those that answer what the line asks now.
    """

    sheet: Sheet
    results: Mapping[str, Result]
    verdict: SheetVerdict
    counts: Mapping[Outcome, int]

    def outcome(self, line: Line) -> Outcome:
        result = self.results.get(line.key)
        return Outcome(result.outcome) if result else Outcome.UNTESTED


def prove(job: Job, plan: Plan) -> Proof | None:
    """The sheet of a job with its results, or None while nothing is planned that could be proven."""
    sheet = plan.sheet
    if sheet is None:
        return None
    expected = {line.key: line.asks for line in sheet.lines}
    results = {result.line: result for result in job.results.all() if expected.get(result.line) == result.expected}
    outcomes = {key: Outcome(result.outcome) for key, result in results.items()}
    return Proof(sheet, results, sheet.verdict(outcomes), sheet.outcomes(outcomes))
