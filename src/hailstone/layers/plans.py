"""The plan of a job, kept as long as its facts stay as they are."""

from __future__ import annotations

from typing import TypeVar

from electrics.document.job import JobFacts
from electrics.job.assumptions import Assumption, assumptions
from electrics.job.plan import Plan, plan

__all__ = ["assumptions_of", "forget", "plan_of"]

Kept = TypeVar("Kept")
MOST_KEPT = 32
"""Plans that are kept, those of the jobs that were opened last [-]."""
_kept: dict[int, Plan] = {}
_assumed: dict[int, tuple[Plan, tuple[Assumption, ...]]] = {}


def plan_of(job_id: int, facts: JobFacts) -> Plan:
    """Everything that follows from the facts of a job, derived anew only where a fact has changed.

    What is compared are the facts themselves, so no version or date can go wrong; processes share nothing.
    """
    found = _kept.pop(job_id, None)
    if found is None or found.facts != facts:
        found = plan(facts)
    return _keep(_kept, job_id, found)


def assumptions_of(job_id: int, plan: Plan) -> tuple[Assumption, ...]:
    """What a plan rests on that nobody has said, the most telling first; kept as long as the plan is."""
    found = _assumed.pop(job_id, None)
    if found is None or found[0] is not plan:
        found = plan, assumptions(plan.facts)
    return _keep(_assumed, job_id, found)[1]


def forget() -> None:
    """Derive every plan anew, as a program that is started again does."""
    _kept.clear()
    _assumed.clear()


def _keep(kept: dict[int, Kept], job_id: int, found: Kept) -> Kept:
    """Keep it as the last one; the oldest go."""
    kept[job_id] = found
    for oldest in list(kept)[: len(kept) - MOST_KEPT]:
        kept.pop(oldest, None)
    return found
