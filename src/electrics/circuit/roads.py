"""By which road a lamp is lit: from a source along what is meant to feed it, or through what is not.

A node is fed where it can be reached from a battery along closed parts that are meant to carry that way. What is lit
with none of its ends fed is lit by the wrong road: through another lamp, against a branch, through a short.
"""

from __future__ import annotations

from collections import deque
from collections.abc import Iterable, Sequence
from dataclasses import dataclass
from typing import TYPE_CHECKING

import numpy as np
from numpy.typing import NDArray

from electrics.circuit.elements import Battery
from electrics.circuit.network import Network

if TYPE_CHECKING:
    from electrics.circuit.simulate import Point, Simulation

__all__ = ["BOTH_WAYS", "FLOWS_A", "Road", "could_be_fed", "fed_nodes", "live_ends", "reached_from", "road_to"]

BOTH_WAYS = 2
"""Of `passes_on`: a branch that may feed from either end."""

FLOWS_A = 1e-3
"""Current that makes a branch part of a road [A]."""


@dataclass(frozen=True)
class Road:
    """How current came to a lamp: the elements from the first fed point on, and which should not have let it."""

    elements: tuple[str, ...]
    culprit: str


def fed_nodes(simulation: Simulation) -> NDArray[np.bool_]:
    """Which nodes are fed in each case, (n_cases, n_nodes + 1); the last stands for the reference."""
    network, system = simulation.network, simulation.network.system
    place = {name: n for n, name in enumerate(system.node_names)}
    n_cases, last = len(simulation.cases), system.n_nodes
    fed = np.zeros((n_cases, last + 1), dtype=bool)
    for end in live_ends(network):
        fed[:, place.get(end, last)] = True
    fed[:, last] = False
    edges: list[tuple[int, int, NDArray[np.bool_]]] = []
    always = np.ones(n_cases, dtype=bool)
    for branch in system.branches:
        passes = network[branch.owner].passes_on(branch.name)
        if not passes:
            continue
        gate = int(system.gate_of[branch.place]) if branch.group == "resistor" else -1
        is_closed = always if gate < 0 else simulation.solution.gates[:, gate]
        first, second = place.get(branch.first, last), place.get(branch.second, last)
        if second != last:
            edges.append((first, second, is_closed))
        if passes == BOTH_WAYS and first != last:
            edges.append((second, first, is_closed))
    is_growing = True
    while is_growing:
        before = int(fed.sum())
        for first, second, is_closed in edges:
            fed[:, second] |= fed[:, first] & is_closed
        is_growing = int(fed.sum()) > before
    fed[:, last] = False
    return fed


def could_be_fed(simulation: Simulation) -> frozenset[str]:
    """Nodes that could be fed if every switch were closed, without going through a diode."""
    network, system = simulation.network, simulation.network.system
    edges = [
        (branch.first, branch.second)
        for branch in system.branches
        if branch.group == "resistor" and network[branch.owner].passes_on(branch.name)
    ]
    return frozenset(reached_from((battery.nodes["+"] for battery in network.of(Battery)), edges))


def live_ends(network: Network) -> list[str]:
    """The node of each battery's positive post, whichever way round the battery is."""
    return [battery.nodes["+" if battery.volts > 0 else "-"] for battery in network.of(Battery)]


def reached_from(starts: Iterable[str], edges: Sequence[tuple[str, str]]) -> set[str]:
    """Every node that some feed along edges, themselves among them."""
    found, is_growing = set(starts), True
    while is_growing:
        new = {second for first, second in edges if first in found} - found
        found |= new
        is_growing = bool(new)
    return found


def road_to(point: Point, lamp: str, fed: NDArray[np.bool_], branch: str = "") -> Road:
    """The road by which current comes to a lamp that none of its feeds lights.

    Parameters
    ----------
    point : Point
    lamp : str
        Name of the element.
    fed : ndarray
        Of `fed_nodes`.
    branch : str
        Which of its filaments, where it has several.

    Returns
    -------
    Road
        Empty where none can be told.
    """
    network, system = point.simulation.network, point.simulation.network.system
    place = {name: n for n, name in enumerate(system.node_names)}
    currents = point.simulation.mean_currents[point.row]
    into: dict[str, list[tuple[str, str, bool]]] = {}
    for each, amps in zip(system.branches, currents, strict=True):
        if abs(amps) < FLOWS_A or each.group == "emf" or (each.owner == lamp and each.name == branch):
            continue
        source, sink = (each.first, each.second) if amps > 0 else (each.second, each.first)
        passes = network[each.owner].passes_on(each.name)
        is_meant = passes == BOTH_WAYS or (passes == 1 and amps > 0)
        into.setdefault(sink, []).append((source, each.owner, is_meant))
    element = network[lamp]
    ends = (branch, "to") if branch else element.terminals
    start = max((element.at(terminal) for terminal in ends), key=point.volts)
    seen: dict[str, tuple[str, str, bool] | None] = {start: None}
    queue = deque([start])
    while queue:
        node = queue.popleft()
        if node in place and fed[point.row, place[node]]:
            path, wrong = [], ""
            at: str = node
            while (step := seen[at]) is not None:
                at, owner, is_meant = step
                path.append(owner)
                wrong = wrong or ("" if is_meant else owner)
            return Road(tuple(dict.fromkeys(path)), wrong)
        for source, owner, is_meant in into.get(node, ()):
            if source not in seen:
                seen[source] = (node, owner, is_meant)
                queue.append(source)
    return Road((), "")
