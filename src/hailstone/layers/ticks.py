"""The steps of a job's build sheet and how they stand: ticks by row references, so that a new name keeps them."""

from __future__ import annotations

import json
from collections.abc import Iterable, Mapping

from electrics.build.steps import Step, StepKey
from electrics.build.ticks import Stand, stands
from electrics.design.design import EndKind
from electrics.document.units import UnitFacts
from electrics.job.plan import Plan
from electrics.job.rests import step_rests, whole
from hailstone.identify.models import AccessPoint
from hailstone.jobs.models import Job
from hailstone.layers.refs import name_of, names_by_ref, ref_of
from hailstone.prove.models import BuildTick

__all__ = ["StepNames", "step_names", "step_stands"]


class StepNames:
    """How the keys of steps are kept: with references to rows in place of names that can be changed."""

    def __init__(self, points: Iterable[AccessPoint], units: Iterable[UnitFacts]) -> None:
        self.points, self.units = names_by_ref(points, ()), names_by_ref((), tuple(units))
        self.all: Mapping[str, str] = self.points | self.units

    def stored(self, step: Step) -> str:
        """As the key of a step is kept: `["connect", "#12", "#12> 3"]`."""
        own = {EndKind.PIN: self.points, EndKind.UNIT: self.units}
        names = own.get(step.about, self.all) if step.about else self.all
        return json.dumps([step.kind.id, ref_of(step.place, self.all), ref_of(step.subject, names)])

    def key(self, stored: str) -> StepKey | str:
        """A kept key by the names of now; one of the eleven of earlier versions stays as it is."""
        if not stored.startswith("["):
            return stored
        kind, place, subject = json.loads(stored)
        return StepKey(kind, name_of(place, self.all), name_of(subject, self.all))


def step_names(job: Job, plan: Plan) -> StepNames:
    """How the keys of a job's steps are kept."""
    return StepNames(job.points.all(), plan.facts.units)


def step_stands(job: Job, plan: Plan) -> tuple[Stand[BuildTick], ...]:
    """How each step of a job's build sheet stands, in order of work."""
    names = step_names(job, plan)
    kept = sorted(job.ticks.all(), key=lambda tick: tick.id)
    ticks = {names.key(tick.step): tick for tick in kept}
    if not ticks:
        return tuple(Stand(step, None) for step in plan.steps)
    return stands(plan.steps, ticks, lambda tick: tick.rests_on, step_rests(plan), whole(plan))
