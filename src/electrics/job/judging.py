"""One list for a job: what forbids joining it, what it upsets at every voltage, what is to be confirmed."""

from __future__ import annotations

from electrics.correct.complaints import CANNOT, shown_by
from electrics.correct.effects import Effect
from electrics.document.job import JobFacts
from electrics.job.better import better_ways
from electrics.job.correction import effects_of
from electrics.job.plan import Plan, plan
from electrics.judge.finding import Finding, Severity

__all__ = ["as_finding", "better_findings", "findings_of"]

WORST_FIRST = (Severity.FORBIDS, Severity.UPSET, Severity.DOUBT)


def findings_of(found: Plan, effects: tuple[Effect, ...] | None = None) -> tuple[Finding, ...]:
    """Everything that is held against a plan, worst first.

    Parameters
    ----------
    found : Plan
    effects : tuple of Effect, optional
        What it upsets, where that is known already.

    Returns
    -------
    tuple of Finding
    """
    upset = effects_of(found) if effects is None else effects
    listed = [*found.hookup.findings, *map(as_finding, upset), *found.hookup.missing, *better_findings(found)]
    listed += complaint_findings(found.facts, before_of(found) if found.facts.hookup.cures else upset)
    return tuple(sorted(listed, key=lambda each: WORST_FIRST.index(each.severity)))


def before_of(found: Plan) -> tuple[Effect, ...]:
    """What a plan upsets without the fixes that are used."""
    return effects_of(plan(found.facts.without_cures(), like=found))


def complaint_findings(facts: JobFacts, before: tuple[Effect, ...]) -> tuple[Finding, ...]:
    """A complaint that the flasher cannot cause, or that the circuit as it was entered does not show."""
    complaint, flasher = facts.complaint, facts.vehicle.flasher
    if not complaint:
        return ()
    if (complaint, flasher) in CANNOT:
        return (Finding("complaint_cannot", Severity.DOUBT, detail=complaint, about=str(flasher)),)
    if shown_by(complaint, before):
        return ()
    return (Finding("complaint_unshown", Severity.DOUBT, detail=complaint),)


def better_findings(found: Plan) -> tuple[Finding, ...]:
    """Where another hook-up than the chosen one is better by now."""
    return tuple(
        Finding("better_way", Severity.DOUBT, lead, detail=way.key, ends="better_way", source="ranking of hook-ups")
        for each in better_ways(found)
        for lead, way in each.ways.items()
    )


def as_finding(effect: Effect) -> Finding:
    """What is upset on the vehicle's circuit, as the judge's list has it."""
    seen = effect.finding
    return Finding(
        effect.rule,
        Severity.UPSET,
        about=seen.subject,
        states=effect.states,
        value=seen.value,
        limit=seen.limit,
        unit=seen.unit,
        source="calculated circuit",
        detail=seen.by,
    )
