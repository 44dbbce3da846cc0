"""The variants that a job's vehicle may be of, as far as its readings tell them apart."""

from __future__ import annotations

from dataclasses import replace

from electrics.identify.belief import WORLDS
from electrics.signals import Scenario, daytime_of, low_beam_of
from electrics.vocabulary import Arrangement, Function
from hailstone.jobs.models import Job
from hailstone.layers.beliefs import beliefs

STILL_POSSIBLE = 0.05
"""Share of the likeliest arrangement from which a variant of it is reckoned with [-]: what is less is settled."""


def scenarios(job: Job) -> tuple[Scenario, ...]:
    """The variants of the likeliest arrangement that the readings leave open, the likeliest first."""
    belief = next(iter(beliefs(job).values()), None)
    if belief is None:
        return (Scenario(Arrangement.SEPARATE),)
    chances = sorted(
        ((float(chance), scenario) for (scenario, _), chance in zip(WORLDS, belief.worlds, strict=True)),
        key=lambda each: -each[0],
    )
    arrangement = chances[0][1].arrangement
    of_it = [(chance, scenario) for chance, scenario in chances if scenario.arrangement is arrangement]
    least = STILL_POSSIBLE * sum(chance for chance, _ in of_it)
    known = settled_circuits(job)
    habits = {"drl": daytime_of(known), "low_beam": low_beam_of(known)}
    return tuple(replace(scenario, **habits) for chance, scenario in of_it if chance >= least)


def settled_circuits(job: Job) -> list[tuple[Function, str]]:
    """The circuits of a job's settled wires, each in its variant."""
    return [(wire.function, wire.variant) for each in beliefs(job).values() for wire in each.wires if wire.is_settled]
