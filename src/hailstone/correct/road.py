"""The path by which current reaches a lamp it shouldn't light, and the part on it that lets it through."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass

from electrics.circuit.roads import road_to
from electrics.circuit.simulate import GLOWS, Simulation
from electrics.correct.effects import Effect
from electrics.vocabulary import State

__all__ = ["DrawnRoad", "RoadStep", "roads_of"]

MOST = 3
LIT = ("wrong_road", "factory_lamp", "lit_amiss")


@dataclass(frozen=True)
class RoadStep:
    """An element on the path: its current [A], and whether it's the one that shouldn't conduct."""

    name: str
    amps_a: float
    is_culprit: bool


@dataclass(frozen=True)
class DrawnRoad:
    """To a lamp, from the first point that is meant to be live; `light` of its full light [-]."""

    lamp: str
    light: float
    steps: tuple[RoadStep, ...]


def roads_of(effects: Iterable[Effect], simulation: Simulation, state: State) -> tuple[DrawnRoad, ...]:
    """The paths to the lamps that are wrongly lit in a state, one for each part that lets current through."""
    point = simulation.at(state)
    lamps = dict.fromkeys(name for effect in effects if effect.rule in LIT for name in effect.subjects)
    found: dict[str, DrawnRoad] = {}
    for name in lamps:
        if not any(lamp == name for lamp, _ in simulation.light) or point.light(name) <= GLOWS:
            continue
        element = simulation.network[name]
        if any(point.is_fed(element.at(end)) for end in element.terminals):
            continue
        road = road_to(point, name, simulation.fed)
        if road.elements:
            steps = tuple(_step(simulation, state, each, road.culprit) for each in road.elements)
            found.setdefault(road.culprit, DrawnRoad(name, point.light(name), steps))
    return tuple(found.values())[:MOST]


def _step(simulation: Simulation, state: State, name: str, culprit: str) -> RoadStep:
    row = simulation.at(state).row
    branches = {branch.name for branch in simulation.network.system.branches if branch.owner == name}
    amps = [abs(float(simulation.amps_of(name, branch)[row])) for branch in branches]
    return RoadStep(name, max(amps, default=0.0), name == culprit)
