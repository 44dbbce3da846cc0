"""What is wrong with a circuit or with what it does: one small rule each, in one registry.

A finding is for a person to act on; its words are composed elsewhere. `severity` is `error` for what makes
figures meaningless or a circuit dangerous, `warning` for what ought to be cured.
"""

from __future__ import annotations

from collections.abc import Iterator

import numpy as np
from numpy.typing import NDArray
from scipy.sparse import coo_matrix
from scipy.sparse.csgraph import connected_components

from electrics.circuit import in_time, parts_at_fault, wrong_roads  # noqa: F401, their rules register themselves
from electrics.circuit.elements import (
    Battery,
    ComputerOutput,
    Diode,
    Fuse,
    Relay,
)
from electrics.circuit.elements.flashers import NORMAL_PER_MIN
from electrics.circuit.elements.overload import OverloadRule
from electrics.circuit.rules import BY_SIZE, RULES, CircuitFinding, Found, findings, rule, sized, where
from electrics.circuit.simulate import BACK_FEED_A, Point, Simulation
from electrics.reference.fuses import CONTINUOUS_SHARE
from electrics.reference.parts import blow_time_s, diodes

__all__ = ["BY_SIZE", "RULES", "CircuitFinding", "findings"]

LIVENS_V = 0.5
"""Voltage that a back-feed gives the circuit it runs into; less is the lift of a shared ground [V] (estimate)."""
DRAIN_A = 0.05
"""Key-off current from which a battery is emptied in weeks [A] (common practice)."""
SHORTED_SHARE = 0.5
"""Share of its open voltage below which a source counts as shorted [-]."""


@rule
def not_solved(point: Point) -> Iterator[Found]:
    """No operating point was found within bounded rounds."""
    if not point.simulation.solution.settled[point.row]:
        yield Found("error", "", 0.0, 0.0, "")


@rule
def chatter(point: Point) -> Iterator[Found]:
    """Contacts that never come to rest."""
    for each in point.simulation.chatter:
        if each.case == point.case:
            for owner in each.owners:
                yield Found("error", owner, each.rate_hz, 0.0, "Hz")


@rule
def floating_node(point: Point) -> Iterator[Found]:
    """An island, by its first node, that no state ties to the reference; blunt wire ends are none."""
    if point.row == 0:
        for node in _floating(point.simulation):
            yield Found("warning", node, 0.0, 0.0, "V")


@rule
def reversed_battery(point: Point) -> Iterator[Found]:
    """Positive where negative belongs."""
    network = point.simulation.network
    for battery in network.of(Battery):
        if battery.volts < 0 or battery.nodes["+"] == network.reference:
            yield Found("error", battery.name, battery.volts, 0.0, "V")


@rule
def shorted_source(point: Point) -> Iterator[Found]:
    """A battery that is pulled far below its voltage."""
    for battery in point.simulation.network.of(Battery):
        across = point.volts(battery.nodes["+"]) - point.volts(battery.nodes["-"])
        if abs(across) < SHORTED_SHARE * abs(battery.volts):
            yield Found("error", battery.name, across, SHORTED_SHARE * battery.volts, "V")


@rule
def blown_fuse(point: Point) -> Iterator[Found]:
    """A fuse that its load has blown."""
    for limit in _given_way(point, "blown"):
        blowing_a = point.simulation.blowing_a(limit.owner, point)
        if blowing_a:
            yield Found("error", limit.owner, blowing_a, limit.limit_a, "A")


@sized
def fuse_load(point: Point) -> Iterator[Found]:
    """A fuse that carries more than it should for long."""
    for fuse in point.simulation.network.of(Fuse):
        amps = abs(point.amps(fuse.name))
        if amps > CONTINUOUS_SHARE * fuse.rating_a:
            severity = "error" if blow_time_s(amps / fuse.rating_a) < np.inf else "warning"
            yield Found(severity, fuse.name, amps, CONTINUOUS_SHARE * fuse.rating_a, "A")


@rule
def shut_off(point: Point) -> Iterator[Found]:
    """A computer output or a module that has shut off on overload, until the next key cycle."""
    for limit in _given_way(point, "shut off"):
        yield Found("error", limit.owner, limit.limit_a, limit.limit_a, "A")


@rule
def given_up(point: Point) -> Iterator[Found]:
    """An output that has shut off a lamp that it takes for dead, until the next key cycle."""
    for limit in _given_way(point, "given up"):
        output = next(each for each in point.simulation.network.of(ComputerOutput) if each.name == limit.owner)
        least_a, _ = output.limits_a(point.volts(output.at("supply")))
        yield Found("error", limit.owner, least_a, least_a, "A")


@rule
def outage_warning(point: Point) -> Iterator[Found]:
    """A lamp that the computer takes for dead."""
    given_up = {limit.owner for limit in _given_way(point, "given up")}
    for output in point.simulation.network.of(ComputerOutput):
        if output.is_high(point.case) and not point.is_pulsed and output.name not in given_up:
            amps = abs(point.amps(output.name))
            least_a, _ = output.limits_a(point.volts(output.at("supply")))
            if amps < least_a:
                yield Found("warning", output.name, amps, least_a, "A")


@rule
def overload_warning(point: Point) -> Iterator[Found]:
    """A lamp that draws more than the computer expects of its bulb: a second bulb, or too low a resistor."""
    for output in point.simulation.network.of(ComputerOutput):
        if output.is_high(point.case) and not point.is_pulsed:
            amps = abs(point.amps(output.name))
            _, most_a = output.limits_a(point.volts(output.at("supply")))
            if amps > most_a:
                yield Found("warning", output.name, amps, most_a, "A")


@rule
def flash_rate(point: Point) -> Iterator[Found]:
    """A flasher that is fast, slow, steady or dead."""
    if point.case.lit:
        for name, rhythm in point.simulation.flash(point.case.state).items():
            if rhythm.word != "normal":
                yield Found("warning", name, rhythm.per_minute, NORMAL_PER_MIN, "/min")


@where("back_feed")
def _runs_back(simulation: Simulation) -> NDArray[np.bool_]:
    return np.asarray((simulation.ways[1] < -BACK_FEED_A).any(axis=1))


@rule
def back_feed(point: Point) -> Iterator[Found]:
    """Current against the direction a branch is meant for, into a circuit that it makes live."""
    ways, amps = point.simulation.ways
    for n in np.flatnonzero(amps[point.row] < -BACK_FEED_A):
        element = ways[n]
        if point.volts(element.at(element.terminals[0])) > LIVENS_V:
            yield Found("warning", element.name, -float(amps[point.row, n]), BACK_FEED_A, "A")


@rule
def pulsed_coil(point: Point) -> Iterator[Found]:
    """A relay on a pulsed feed that is held in by it, or rests between dropping out and pulling in."""
    if point.is_pulsed:
        for relay in point.simulation.network.of(Relay):
            volts = abs(point.volts(relay.at("86")) - point.volts(relay.at("85")))
            if volts > relay.drop_out_v and point.simulation.is_pulsed_at(relay.at("86"), relay.at("85"), point.row):
                yield Found("error", relay.name, volts, relay.pull_in_v, "V")


@sized
def overloaded_diode(point: Point) -> Iterator[Found]:
    """A diode that carries more than it is rated for."""
    for diode in point.simulation.network.of(Diode):
        if point.amps(diode.name) > diodes()[diode.part].rated_a:
            yield Found("warning", diode.name, point.amps(diode.name), diodes()[diode.part].rated_a, "A")


@rule
def drain(point: Point) -> Iterator[Found]:
    """Current with everything off, and by what most of it flows."""
    if point.case.state.is_dead and point.simulation.drain_a(point.case.state) > DRAIN_A:
        taken = {name: float(watts[point.row]) for name, watts in point.simulation.power.items()}
        most = max(taken, key=lambda name: taken[name])
        yield Found("warning", "", point.simulation.drain_a(point.case.state), DRAIN_A, "A", by=most)


def _given_way(point: Point, word: str) -> Iterator[OverloadRule]:
    """What of a kind gave way to overload in this case."""
    simulation = point.simulation
    gates = simulation.solution.gates[point.row]
    for limit in simulation.network.system.rules:
        if isinstance(limit, OverloadRule) and limit.word == word and not gates[limit.gates[0]]:
            yield limit


def _gates_of(simulation: Simulation, element: Fuse) -> list[int]:
    rules = simulation.network.system.rules
    return [gate for rule in rules if rule.owner == element.name for gate in rule.gates]


def _floating(simulation: Simulation) -> list[str]:
    system = simulation.network.system
    n = system.n_nodes
    index = {name: k for k, name in enumerate(system.node_names)}
    never = {
        gate for element in simulation.network.of(Fuse) if element.blown for gate in _gates_of(simulation, element)
    }
    rows, columns = [], []
    for branch in system.branches:
        if branch.group == "resistor":
            gate = system.gate_of[branch.place]
            if gate in never:
                continue  # anything else that is open now is closed in some state, whichever were asked for
        rows.append(index.get(branch.first, n))
        columns.append(index.get(branch.second, n))
    graph = coo_matrix((np.ones(len(rows)), (rows, columns)), shape=(n + 1, n + 1))
    _, label = connected_components(graph, directed=False)
    named = {
        node for element in simulation.network.elements if not element.is_copper for node in element.nodes.values()
    }
    islands: dict[int, str] = {}
    for name, k in index.items():
        if label[k] != label[n] and name in named:
            islands.setdefault(int(label[k]), name)
    return list(islands.values())
