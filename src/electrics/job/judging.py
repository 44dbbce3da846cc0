"""One list for a job: what forbids joining it, what it upsets at every voltage, what is to be confirmed."""

from __future__ import annotations

from electrics.correct.effects import Effect
from electrics.correct.rules import COMPLAINT_RULES, ComplaintCase
from electrics.job.better import better_ways
from electrics.job.correction import effects_of
from electrics.job.plan import Plan, plan
from electrics.judge.finding import Finding, Severity
from electrics.judge.rule import look_at

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
    listed += complaint_findings(found, upset)
    return tuple(sorted(listed, key=lambda each: WORST_FIRST.index(each.severity)))


def complaint_findings(found: Plan, upset: tuple[Effect, ...]) -> tuple[Finding, ...]:
    """What is held against a complaint; `upset` is what the plan upsets with the fixes that are used."""
    facts = found.facts

    def before() -> tuple[Effect, ...]:
        return effects_of(plan(facts.without_cures(), like=found)) if facts.hookup.cures else upset

    return look_at(ComplaintCase(facts.complaint, facts.vehicle.flasher, before), COMPLAINT_RULES)


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
