"""Beliefs about a job's wires, what the job needs of them, and what to measure next."""

from __future__ import annotations

from electrics.document.job import JobFacts
from electrics.document.places import Setup
from electrics.document.vehicle import Computer
from electrics.identify import belief as core
from electrics.identify.needed import NOTHING, Need, Needed, needs_of
from electrics.identify.needed_plan import next_for
from electrics.identify.plan import Step, next_steps, plan_ahead
from electrics.identify.reach import out_of_reach
from electrics.job.needs import beliefs_of, needed_of
from electrics.reference.functions import kind_of
from electrics.vocabulary import Control
from hailstone.jobs.models import Job
from hailstone.layers.job_facts import place_facts, unit_facts, vehicle_facts, wish_of

AHEAD = 3
"""States on a call sheet [-]."""


def beliefs(job: Job) -> dict[int, core.Belief]:
    """The belief about every access point of a job, by its id.

    Derived once for a loaded job: its facts do not change while one request works on it.
    """
    known: dict[int, core.Belief] | None = job.__dict__.get("derived_beliefs")
    if known is None:
        facts = _facts(job)
        known = {int(place.key): belief for place, belief in zip(facts.places, beliefs_of(facts), strict=True)}
        job.__dict__["derived_beliefs"] = known
    return known


def needed(job: Job) -> dict[int, Needed]:
    """What a job needs of every access point, by its id; derived once for a loaded job."""
    known: dict[int, Needed] | None = job.__dict__.get("derived_needed")
    if known is None:
        found = beliefs(job)
        of_places = needed_of(_facts(job), tuple(found.values()))
        known = job.__dict__["derived_needed"] = dict(zip(found, of_places, strict=True))
    return known


def _facts(job: Job) -> JobFacts:
    """What of a job's facts counts for what its wires are and which of them it needs."""
    return JobFacts(vehicle_facts(job), place_facts(job), wish_of(job), units=unit_facts(job))


def needs_any(job: Job) -> bool:
    """Whether the job needs anything of its places, so that it makes a difference what is asked for."""
    return any(each != NOTHING for each in needed(job).values())


def for_taps(job: Job) -> bool:
    """Whether readings are asked for what the job taps alone; for every wire where somebody wants the whole chart."""
    return needs_any(job) and not job.charts_all


def known_at(job: Job, point_id: int) -> list[bool]:
    """Of everything that is asked for at an access point, whether it is known: taps and a ground, or every wire."""
    belief = beliefs(job)[point_id]
    if for_taps(job):
        return [need.is_met for need in needs_of(belief, needed(job)[point_id])]
    return [wire.is_settled for wire in belief.wires]


def controls_needed(job: Job) -> frozenset[Control]:
    """The controls without which the vehicle cannot have what the job taps."""
    groups = [group for each in needed(job).values() for group in each.groups]
    needs = (frozenset.intersection(*(frozenset(kind_of(each).needs) for each in group)) for group in groups)
    return frozenset().union(*needs)


def steps(job: Job, point_id: int, current: Setup | None) -> tuple[Step, ...]:
    """What to measure next at one access point: for what the job needs of it, or for every wire."""
    belief, solo = beliefs(job)[point_id], not job.has_helper
    is_fed, tools = job.vehicle.said.computer is not Computer.NO, job.at_hand
    if for_taps(job):
        wanted = needed(job)[point_id]
        return next_for(belief, wanted, solo=solo, current=current, computer_fed=is_fed, tools=tools)
    return next_steps(belief, solo=solo, current=current, computer_fed=is_fed, tools=tools)


def beyond_reach(job: Job, point_id: int) -> tuple[Need, ...]:
    """What the job needs of an access point and nothing that is at hand can settle there."""
    if not for_taps(job):
        return ()
    is_fed = job.vehicle.said.computer is not Computer.NO
    return out_of_reach(beliefs(job)[point_id], needed(job)[point_id], computer_fed=is_fed, tools=job.at_hand)


def steps_ahead(job: Job, point_id: int, current: Setup) -> tuple[Step, ...]:
    """The next three states of a job's access point, for a list to take along."""
    if for_taps(job):
        return steps(job, point_id, current)
    return plan_ahead(
        beliefs(job)[point_id],
        solo=not job.has_helper,
        current=current,
        computer_fed=job.vehicle.said.computer is not Computer.NO,
        tools=job.at_hand,
        count=AHEAD,
    )
