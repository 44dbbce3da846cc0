"""Beliefs about a job's wires, and what to measure next."""

from __future__ import annotations

from electrics.document.places import Setup
from electrics.document.vehicle import Computer
from electrics.identify import belief as core
from electrics.identify.plan import Step, next_steps, plan_ahead
from electrics.job.beliefs import believe
from hailstone.jobs.models import Job
from hailstone.layers.job_facts import place_facts, vehicle_facts


def beliefs(job: Job) -> dict[int, core.Belief]:
    """The belief about every access point of a job, by its id.

    Derived once for a loaded job: its facts do not change while one request works on it.
    """
    known: dict[int, core.Belief] | None = job.__dict__.get("derived_beliefs")
    if known is None:
        places = place_facts(job)
        found = believe(places, vehicle_facts(job))
        known = {int(place.key): belief for place, belief in zip(places, found, strict=True)}
        job.__dict__["derived_beliefs"] = known
    return known


def steps(job: Job, belief: core.Belief, current: Setup | None) -> tuple[Step, ...]:
    """What to measure next at one access point of a job."""
    return next_steps(
        belief,
        solo=not job.has_helper,
        current=current,
        computer_fed=job.vehicle.said.computer is not Computer.NO,
        tools=job.at_hand,
    )


def steps_ahead(job: Job, belief: core.Belief, current: Setup) -> tuple[Step, ...]:
    """The next three states of a job's access point, decided at once."""
    return plan_ahead(
        belief,
        solo=not job.has_helper,
        current=current,
        computer_fed=job.vehicle.said.computer is not Computer.NO,
        tools=job.at_hand,
    )
