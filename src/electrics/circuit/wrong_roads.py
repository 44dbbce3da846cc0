"""Rules for lamps that are lit with their feeds off, or dark with them on, and for what is at fault."""

from __future__ import annotations

from collections.abc import Callable, Iterator

import numpy as np
from numpy.typing import NDArray

from electrics.circuit.elements import Ground
from electrics.circuit.roads import could_be_fed, road_to
from electrics.circuit.rules import Found, rule, where
from electrics.circuit.simulate import GLOWS, Point, Simulation

__all__ = ["GROUND_LOST_V", "cause_of"]

DARKER = 0.5
"""A lamp that gives less than this share of what it would give without the fault is dark or dim by it [-]."""
GROUND_LOST_V = 0.5
"""From which a ground is so bad that lamps on it disturb each other, on 12 V (common practice) [V]."""


@rule
def wrong_road(point: Point) -> Iterator[Found]:
    """A lamp that lights with its own feeds off, and the part that lets the current through."""
    simulation = point.simulation
    for (name, branch), light in simulation.light.items():
        if light[point.row] <= GLOWS:
            continue
        element = simulation.network[name]
        ends = [element.at(branch)] if branch else [element.at("from"), element.at("to")]
        if any(point.is_fed(node) for node in ends):
            continue
        road = road_to(point, name, simulation.fed, branch)

        def is_gone(then: Point, name: str = name, branch: str = branch) -> bool:
            return then.light(name, branch) <= GLOWS

        by, mends = cause_of(point, (*road.elements, name), is_gone) or (road.culprit, "")
        yield Found("error", name, float(light[point.row]), GLOWS, "of its light", by, road.elements, mends)


@rule
def dark_by_fault(point: Point) -> Iterator[Found]:
    """A lamp that would give at least twice its light if a part that is known to be broken were whole."""
    for name, whole in _mended(point.simulation):
        then = whole.at(point.case.state, lit=point.case.lit)
        for (lamp, branch), light in whole.light.items():
            would = float(light[then.row])
            if would > GLOWS and point.light(lamp, branch) < DARKER * would:
                yield Found("error", lamp, point.light(lamp, branch), would, "of its light", name)


def cause_of(point: Point, road: tuple[str, ...], is_gone: Callable[[Point], bool]) -> tuple[str, str] | None:
    """What is broken and sends current along a wrong road, and how that is mended; None where nothing is broken.

    Parameters
    ----------
    point : Point
    road : tuple of str
        The elements that the current came by.
    is_gone : callable
        Whether it shows no more at the same point of a mended circuit.
    """
    for name, whole in _mended(point.simulation):
        then = whole.at(point.case.state, lit=point.case.lit)
        if is_gone(then):
            return name, "part"
    simulation = point.simulation
    network, meant = simulation.network, could_be_fed(simulation)
    for name in road:
        back = network[name].nodes.get("to", "")
        is_lost = back and point.volts(back) > GROUND_LOST_V * simulation.system_scale
        if network[name].glows and is_lost and back not in meant:
            grounds = [ground.name for ground in network.of(Ground) if ground.at("at") == back]
            return (grounds[0], "part") if grounds else (name, "ground")
    return None


def _mended(simulation: Simulation) -> tuple[tuple[str, Simulation], ...]:
    """The circuit with each broken part made whole, solved in the same states; kept with the simulation."""
    found = simulation.kept.get("mended")
    if found is None:
        network = simulation.network
        broken = [element for element in network.elements if element.mended is not element]
        found = simulation.kept["mended"] = tuple(
            (element.name, Simulation(network.with_changed(element.mended), simulation.states)) for element in broken
        )
    return found


@where("wrong_road")
def _unfed(simulation: Simulation) -> NDArray[np.bool_]:
    found = np.zeros(len(simulation.cases), dtype=bool)
    for (name, branch), light in simulation.light.items():
        element = simulation.network[name]
        ends = [element.at(branch)] if branch else [element.at("from"), element.at("to")]
        places = [simulation.places[node] for node in ends]
        fed = np.zeros(len(found), dtype=bool)
        for place in places:
            if place is not None:
                fed |= simulation.fed[:, place]
        found |= (light > GLOWS) & ~fed
    return found
