"""What the bench test of the lamp to be fitted says, and what Hook up takes from it."""

from __future__ import annotations

from functools import lru_cache

from electrics.identify.leads import LampBelief, LeadBelief, Light, Role, Seen, Trial, identify_leads
from electrics.vocabulary import Function
from hailstone.jobs.models import Job
from hailstone.lamp.models import FittedLamp

SERVES: dict[Role, frozenset[Function]] = {
    Role.TAIL: frozenset({Function.TAIL, Function.TAIL_LEFT, Function.TAIL_RIGHT}),
    Role.RED: frozenset(
        {
            Function.STOP,
            Function.TURN_LEFT,
            Function.TURN_RIGHT,
            Function.STOP_TURN_LEFT,
            Function.STOP_TURN_RIGHT,
            Function.FOG_REAR,
        }
    ),
    Role.AMBER: frozenset({Function.TURN_LEFT, Function.TURN_RIGHT}),
    Role.WHITE: frozenset({Function.REVERSE, Function.DRL, Function.FOG_FRONT}),
}
"""Which behaviour each kind of lead can show."""


def fitted_lamp(job: Job) -> FittedLamp | None:
    """The job's lamp as it was laid out, if it was."""
    try:
        return job.lamp
    except FittedLamp.DoesNotExist:
        return None


def lamp_belief(job: Job) -> LampBelief | None:
    """What its leads are, as far as they were tried; None while no lamp is laid out."""
    lamp = fitted_lamp(job)
    if lamp is None:
        return None
    trials = tuple(
        Trial(
            trial.plus,
            trial.minus,
            Seen(trial.seen),
            Light(trial.light) if trial.light else None,
            trial.amps_a,
            trial.fuse_a,
        )
        for trial in lamp.trials.all()
    )
    return _identify(tuple(label for label, _ in lamp.leads), trials)


def lead_for(belief: LampBelief, wanted: Function) -> LeadBelief | None:
    """The settled lead that shows this behaviour; an amber one before a red one."""
    order = list(Role)
    fitting = [lead for lead in belief.leads if lead.is_settled and wanted in SERVES.get(lead.role, ())]
    return max(fitting, key=lambda lead: order.index(lead.role), default=None)


@lru_cache(maxsize=16)
def _identify(leads: tuple[str, ...], trials: tuple[Trial, ...]) -> LampBelief:
    return identify_leads(leads, trials)
