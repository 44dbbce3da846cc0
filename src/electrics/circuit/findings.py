"""What is wrong with a circuit or with what it does, by rule: named element or node, measured value and limit.

A finding is for a person to act on; its words are composed elsewhere. `severity` is `error` for what makes
figures meaningless or a circuit dangerous, `warning` for what ought to be cured.
"""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass

import numpy as np
from scipy.sparse import coo_matrix
from scipy.sparse.csgraph import connected_components

from electrics.circuit.elements import (
    Battery,
    ComputerOutput,
    Converter,
    Diode,
    Fuse,
    Ground,
    Relay,
)
from electrics.circuit.simulate import BACK_FEED_A, Point, Simulation
from electrics.reference.parts import blow_time_s, diodes

__all__ = ["Finding", "findings"]

GROUND_LIFT_V = 0.5
"""Two grounds this far apart are at odds: the limit of a feed's drop (common practice) [V]."""
CONTINUOUS_SHARE = 0.8
"""Share of its rating that a fuse may carry for long (common practice)."""
DRAIN_A = 0.05
"""Key-off current from which a battery is emptied in weeks [A] (common practice)."""
BATTERY_SHARE = 0.5
"""Share of its open voltage below which a source counts as shorted [-]."""


@dataclass(frozen=True)
class Finding:
    """One thing found.

    Attributes
    ----------
    rule : str
        Stable id: `floating_node`, `shorted_source`, `reversed_battery`, `not_solved`, `chatter`, `blown_fuse`,
        `fuse_load`, `shut_off`, `outage_warning`, `flash_rate`, `back_feed`, `grounds_at_odds`, `pulsed_coil`,
        `overloaded_diode`, `drain`.
    subject : str
        Element or node.
    state, phase : str
        Where it was found first; empty where it is true of the circuit.
    value, limit : float
        In `unit`.
    """

    rule: str
    severity: str
    subject: str
    state: str
    phase: str
    value: float
    limit: float
    unit: str


def findings(simulation: Simulation) -> tuple[Finding, ...]:
    """Everything that is wrong, each rule and subject once, where it is found first.

    Parameters
    ----------
    simulation : Simulation

    Returns
    -------
    tuple of Finding
        Errors first.
    """
    found: dict[tuple[str, str], Finding] = {}
    for finding in (
        *_of_circuit(simulation),
        *(each for p in simulation.points for each in _of_point(simulation, p)),
    ):
        found.setdefault((finding.rule, finding.subject), finding)
    return tuple(sorted(found.values(), key=lambda each: each.severity != "error"))


def _of_circuit(simulation: Simulation) -> Iterator[Finding]:
    network = simulation.network
    for battery in network.elements:
        if not isinstance(battery, Battery):
            continue
        if battery.volts < 0 or battery.nodes["+"] == network.reference:
            yield Finding("reversed_battery", "error", battery.name, "", "", battery.volts, 0.0, "V")
    for node in _floating(simulation):
        yield Finding("floating_node", "warning", node, "", "", 0.0, 0.0, "V")
    for chatter in simulation.chatter:
        phase = "lit" if chatter.case.lit else "dark"
        for owner in chatter.owners:
            yield Finding("chatter", "error", owner, str(chatter.case.state), phase, chatter.rate_hz, 0.0, "Hz")


def _of_point(simulation: Simulation, point: Point) -> Iterator[Finding]:
    state, phase = str(point.case.state), "lit" if point.case.lit else "dark"

    def finding(rule: str, severity: str, subject: str, value: float, limit: float, unit: str) -> Finding:
        return Finding(rule, severity, subject, state, phase, value, limit, unit)

    if not simulation.solution.settled[point.row]:
        yield finding("not_solved", "error", "", 0.0, 0.0, "")
        return
    gates = simulation.solution.gates[point.row]
    start = simulation.network.system.gates(simulation.cases)[point.row]
    rules = simulation.network.system.rules
    grounds = {}
    for element in simulation.network.elements:
        name = element.name
        if isinstance(element, Battery):
            across = point.volts(element.nodes["+"]) - point.volts(element.nodes["-"])
            if abs(across) < BATTERY_SHARE * abs(element.volts):
                yield finding("shorted_source", "error", name, across, BATTERY_SHARE * element.volts, "V")
        elif isinstance(element, Fuse):
            share = abs(point.amps(name)) / element.rating_a
            if not element.blown and any(rule.owner == name and not gates[rule.gates[0]] for rule in rules):
                yield finding("blown_fuse", "error", name, simulation.blowing_a(name, point), element.rating_a, "A")
            elif share > CONTINUOUS_SHARE:
                severity = "error" if blow_time_s(share) < np.inf else "warning"
                limit = CONTINUOUS_SHARE * element.rating_a
                yield finding("fuse_load", severity, name, share * element.rating_a, limit, "A")
        elif isinstance(element, (ComputerOutput, Converter)):
            limit = element.trip_above_a if isinstance(element, ComputerOutput) else element.limit_a
            slow = [rule for rule in rules if rule.owner == name and rule.is_slow]
            if any(start[rule.gates[0]] and not gates[rule.gates[0]] for rule in slow):
                yield finding("shut_off", "error", name, limit, limit, "A")
            elif isinstance(element, ComputerOutput) and element.is_high(point.case) and not point.is_pulsed:
                amps = abs(point.amps(name))
                if amps < element.warn_below_a:
                    yield finding("outage_warning", "warning", name, amps, element.warn_below_a, "A")
        elif isinstance(element, Relay) and point.is_pulsed:
            volts = abs(point.volts(element.at("86")) - point.volts(element.at("85")))
            if element.drop_out_v < volts < element.pull_in_v:
                yield finding("pulsed_coil", "error", name, volts, element.pull_in_v, "V")
        elif isinstance(element, Diode):
            rated = diodes()[element.part].rated_a
            if point.amps(name) > rated:
                yield finding("overloaded_diode", "warning", name, point.amps(name), rated, "A")
        elif isinstance(element, Ground):
            grounds[name] = point.volts(element.at("at"))
        if element.is_way and not isinstance(element, (Ground, Diode)) and point.amps(name) < -BACK_FEED_A:
            yield finding("back_feed", "warning", name, -point.amps(name), BACK_FEED_A, "A")
    if grounds and max(grounds.values()) - min(grounds.values()) > GROUND_LIFT_V:
        lifted = max(grounds, key=lambda each: abs(grounds[each]))
        yield finding("grounds_at_odds", "error", lifted, grounds[lifted], GROUND_LIFT_V, "V")
    if point.case.lit:
        for name, rhythm in simulation.flash(point.case.state).items():
            if rhythm.word != "normal":
                yield finding("flash_rate", "warning", name, rhythm.per_minute, 120.0, "/min")
    if state in ("rest", "asleep") and simulation.drain_a(point.case.state) > DRAIN_A:
        yield finding("drain", "warning", "", simulation.drain_a(point.case.state), DRAIN_A, "A")


def _floating(simulation: Simulation) -> list[str]:
    """Nodes that no state ties to the reference by anything that conducts."""
    system = simulation.network.system
    n = system.n_nodes
    index = {name: k for k, name in enumerate(system.node_names)}
    ever = np.asarray(simulation.solution.gates.any(axis=0))
    rows, columns = [], []
    for branch in system.branches:
        if branch.group == "resistor":
            gate = system.gate_of[branch.place]
            if gate >= 0 and not ever[gate]:
                continue
        rows.append(index.get(branch.first, n))
        columns.append(index.get(branch.second, n))
    graph = coo_matrix((np.ones(len(rows)), (rows, columns)), shape=(n + 1, n + 1))
    _, label = connected_components(graph, directed=False)
    named = set(simulation.network.nodes)
    return [name for name, k in index.items() if label[k] != label[n] and name in named]
