"""The test sheet of a job with what was found, and its verdict."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass

from electrics.job.plan import Plan
from electrics.job.rests import rests_on
from electrics.prove.sheet import Line, Outcome, Sheet, SheetVerdict
from hailstone.jobs.models import Job
from hailstone.prove.models import Result


@dataclass(frozen=True)
class Proof:
    """A sheet with its results.

    Attributes
    ----------
    results : mapping of str to Result
        By line: the last, where it answers what the line asks now on what is built now.
    fallen : mapping of str to Result
        By line: the last, where it does not any more.
    last : mapping of str to Result
        By line: the last that was recorded, a result that was taken away among them.
    rests : mapping of str to str
        What each line rests on; see `electrics.job.rests`.
    """

    sheet: Sheet
    results: Mapping[str, Result]
    verdict: SheetVerdict
    counts: Mapping[Outcome, int]
    fallen: Mapping[str, Result]
    last: Mapping[str, Result]
    rests: Mapping[str, str]

    @property
    def outcomes(self) -> Mapping[str, Outcome]:
        """What became of each line that has a result that stands."""
        return {key: Outcome(result.outcome) for key, result in self.results.items()}

    def outcome(self, line: Line) -> Outcome:
        result = self.results.get(line.key)
        return Outcome(result.outcome) if result else Outcome.UNTESTED


def prove(job: Job, plan: Plan) -> Proof | None:
    """The sheet of a job with its results, or None while nothing is planned that could be proven."""
    sheet = plan.sheet
    if sheet is None:
        return None
    lines = {line.key: line for line in sheet.lines}
    last = {result.line: result for result in job.results.all() if result.line in lines}
    rests = rests_on(plan) if last else {}
    results, fallen = dict[str, Result](), dict[str, Result]()
    for key, result in last.items():
        if result.outcome == Outcome.UNTESTED:
            continue
        stands = result.expected == lines[key].asks and result.rests_on in ("", rests.get(key, ""))
        (results if stands else fallen)[key] = result
    outcomes = {key: Outcome(result.outcome) for key, result in results.items()}
    return Proof(sheet, results, sheet.verdict(outcomes), sheet.outcomes(outcomes), fallen, last, rests)
