"""What is wrong with a circuit or with what it does: one small rule each, in one registry.

A finding is for a person to act on; its words are composed elsewhere. `severity` is `error` for what makes
figures meaningless or a circuit dangerous, `warning` for what ought to be cured.
"""

from __future__ import annotations

from collections.abc import Callable, Iterator
from dataclasses import dataclass, replace

import numpy as np
from scipy.sparse import coo_matrix
from scipy.sparse.csgraph import connected_components

from electrics.circuit.elements import (
    Battery,
    ComputerOutput,
    Converter,
    Diode,
    DualLed,
    Fuse,
    Ground,
    Joint,
    Led,
    Relay,
    Separator,
    Wire,
)
from electrics.circuit.elements.flashers import NORMAL_PER_MIN
from electrics.circuit.elements.overload import OverloadRule
from electrics.circuit.simulate import BACK_FEED_A, GLOWS, Point, Simulation
from electrics.reference.fuses import CONTINUOUS_SHARE
from electrics.reference.parts import blow_time_s, diodes

__all__ = ["RULES", "Finding", "findings"]

GROUND_LIFT_V = 0.5
"""Two grounds this far apart are at odds: what a feed's drop may be (common practice) [V]."""
LIVENS_V = 0.5
"""Voltage that a back-feed gives the circuit it runs into; less is the lift of a shared ground [V] (estimate)."""
DRAIN_A = 0.05
"""Key-off current from which a battery is emptied in weeks [A] (common practice)."""
SHORTED_SHARE = 0.5
"""Share of its open voltage below which a source counts as shorted [-]."""


@dataclass(frozen=True)
class Found:
    """What a rule found at a point: severity, element or node, measured value, limit and their unit."""

    severity: str
    subject: str
    value: float
    limit: float
    unit: str


@dataclass(frozen=True)
class Finding:
    """One thing found, where it was found first.

    Attributes
    ----------
    rule : str
        Stable id, a key of `RULES`.
    subject : str
        Element or node; empty for the whole circuit.
    state, phase : str
        What was switched on; `lit` or `dark`.
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

    @property
    def key(self) -> tuple[str, str, str]:
        """What it is about: rule, subject, and for a flasher the side."""
        sides = [side for side in ("left", "right") if self.rule == "flash_rate" and side in self.state.split("+")]
        return self.rule, self.subject, "".join(sides)


PointRule = Callable[[Point], Iterator[Found]]
RULES: dict[str, PointRule] = {}
"""Every rule by its stable id."""


def findings(simulation: Simulation) -> tuple[Finding, ...]:
    """Everything that is wrong, each rule and subject once (a flasher once a side), errors first.

    Parameters
    ----------
    simulation : Simulation

    Returns
    -------
    tuple of Finding
    """
    found: dict[tuple[str, str, str], Finding] = {}
    for point in simulation.points:
        phase = "lit" if point.case.lit else "dark"
        for rule, look in RULES.items():
            for each in look(point):
                finding = Finding(
                    rule,
                    each.severity,
                    each.subject,
                    str(point.case.state),
                    phase,
                    each.value,
                    each.limit,
                    each.unit,
                )
                found.setdefault(finding.key, finding)
    return tuple(sorted(found.values(), key=lambda each: each.severity != "error"))


def _rule(look: PointRule) -> PointRule:
    RULES[look.__name__] = look
    return look


@_rule
def not_solved(point: Point) -> Iterator[Found]:
    """No operating point was found within bounded rounds."""
    if not point.simulation.solution.settled[point.row]:
        yield Found("error", "", 0.0, 0.0, "")


@_rule
def chatter(point: Point) -> Iterator[Found]:
    """Contacts that never come to rest."""
    for each in point.simulation.chatter:
        if each.case == point.case:
            for owner in each.owners:
                yield Found("error", owner, each.rate_hz, 0.0, "Hz")


@_rule
def floating_node(point: Point) -> Iterator[Found]:
    """An island, by its first node, that no state ties to the reference; blunt wire ends are none."""
    if point.row == 0:
        for node in _floating(point.simulation):
            yield Found("warning", node, 0.0, 0.0, "V")


@_rule
def reversed_battery(point: Point) -> Iterator[Found]:
    """Positive where negative belongs."""
    network = point.simulation.network
    for battery in network.of(Battery):
        if battery.volts < 0 or battery.nodes["+"] == network.reference:
            yield Found("error", battery.name, battery.volts, 0.0, "V")


@_rule
def shorted_source(point: Point) -> Iterator[Found]:
    """A battery that is pulled far below its voltage."""
    for battery in point.simulation.network.of(Battery):
        across = point.volts(battery.nodes["+"]) - point.volts(battery.nodes["-"])
        if abs(across) < SHORTED_SHARE * abs(battery.volts):
            yield Found("error", battery.name, across, SHORTED_SHARE * battery.volts, "V")


@_rule
def blown_fuse(point: Point) -> Iterator[Found]:
    """A fuse that its load has blown."""
    for fuse in _given_way(point, Fuse):
        assert isinstance(fuse, Fuse)
        yield Found("error", fuse.name, point.simulation.blowing_a(fuse.name, point), fuse.rating_a, "A")


@_rule
def fuse_load(point: Point) -> Iterator[Found]:
    """A fuse that carries more than it should for long."""
    for fuse in point.simulation.network.of(Fuse):
        amps = abs(point.amps(fuse.name))
        if amps > CONTINUOUS_SHARE * fuse.rating_a:
            severity = "error" if blow_time_s(amps / fuse.rating_a) < np.inf else "warning"
            yield Found(severity, fuse.name, amps, CONTINUOUS_SHARE * fuse.rating_a, "A")


@_rule
def shut_off(point: Point) -> Iterator[Found]:
    """A computer output or a module that has shut off on overload, until the next key cycle."""
    for output in _given_way(point, ComputerOutput, Converter, Separator):
        limit = output.trip_above_a if isinstance(output, ComputerOutput) else getattr(output, "limit_a", 0.0)
        yield Found("error", output.name, limit, limit, "A")


@_rule
def outage_warning(point: Point) -> Iterator[Found]:
    """A lamp that the computer takes for dead."""
    for output in point.simulation.network.of(ComputerOutput):
        if output.is_high(point.case) and not point.is_pulsed:
            amps = abs(point.amps(output.name))
            if amps < output.warn_below_a:
                yield Found("warning", output.name, amps, output.warn_below_a, "A")


@_rule
def test_pulse_glow(point: Point) -> Iterator[Found]:
    """An LED that lights up in the pulses by which a computer tests its lamps cold; a filament is too slow to."""
    if point.case.state.is_dead:
        for output in point.simulation.network.of(ComputerOutput):
            if output.test_pulses:
                pulsing = replace(output, full_with=(str(point.case.state),), flashes_with=(), dims_with=())
                network = point.simulation.network.with_changed(pulsing)
                on = Simulation(network, [point.case.state]).at(point.case.state)
                for lamp in network.elements:
                    if isinstance(lamp, (Led, DualLed)) and on.light(lamp.name) > GLOWS + point.light(lamp.name):
                        yield Found("warning", lamp.name, on.light(lamp.name), GLOWS, "of its light")


@_rule
def flash_rate(point: Point) -> Iterator[Found]:
    """A flasher that is fast, slow, steady or dead."""
    if point.case.lit:
        for name, rhythm in point.simulation.flash(point.case.state).items():
            if rhythm.word != "normal":
                yield Found("warning", name, rhythm.per_minute, NORMAL_PER_MIN, "/min")


@_rule
def back_feed(point: Point) -> Iterator[Found]:
    """Current against the direction a branch is meant for, into a circuit that it makes live."""
    ways, amps = point.simulation.ways
    for n in np.flatnonzero(amps[point.row] < -BACK_FEED_A):
        element = ways[n]
        if point.volts(element.at(element.terminals[0])) > LIVENS_V:
            yield Found("warning", element.name, -float(amps[point.row, n]), BACK_FEED_A, "A")


@_rule
def grounds_at_odds(point: Point) -> Iterator[Found]:
    """Grounds that lie far apart."""
    grounds = {ground.name: point.volts(ground.at("at")) for ground in point.simulation.network.of(Ground)}
    if grounds and max(grounds.values()) - min(grounds.values()) > GROUND_LIFT_V:
        lifted = max(grounds, key=lambda name: abs(grounds[name]))
        yield Found("error", lifted, grounds[lifted], GROUND_LIFT_V, "V")


@_rule
def pulsed_coil(point: Point) -> Iterator[Found]:
    """A relay on a pulsed feed whose mean coil voltage lies between dropping out and pulling in."""
    if point.is_pulsed:
        for relay in point.simulation.network.of(Relay):
            volts = abs(point.volts(relay.at("86")) - point.volts(relay.at("85")))
            if relay.drop_out_v < volts < relay.pull_in_v:
                yield Found("error", relay.name, volts, relay.pull_in_v, "V")


@_rule
def overloaded_diode(point: Point) -> Iterator[Found]:
    """A diode that carries more than it is rated for."""
    for diode in point.simulation.network.of(Diode):
        if point.amps(diode.name) > diodes()[diode.part].rated_a:
            yield Found("warning", diode.name, point.amps(diode.name), diodes()[diode.part].rated_a, "A")


@_rule
def drain(point: Point) -> Iterator[Found]:
    """Current with everything off."""
    if point.case.state.is_dead and point.simulation.drain_a(point.case.state) > DRAIN_A:
        yield Found("warning", "", point.simulation.drain_a(point.case.state), DRAIN_A, "A")


def _given_way(point: Point, *kinds: type) -> Iterator[Fuse | ComputerOutput | Converter | Separator]:
    """Elements of some kinds whose overload gate opened in this case."""
    simulation = point.simulation
    gates = simulation.solution.gates[point.row]
    for rule in simulation.network.system.rules:
        if isinstance(rule, OverloadRule) and not gates[rule.gates[0]]:
            element = simulation.network[rule.owner]
            was_whole = not (isinstance(element, Fuse) and element.blown)
            if (
                was_whole
                and isinstance(element, (Fuse, ComputerOutput, Converter, Separator))
                and isinstance(element, kinds)
            ):
                yield element


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
        node
        for element in simulation.network.elements
        if not isinstance(element, (Wire, Joint))
        for node in element.nodes.values()
    }
    islands: dict[int, str] = {}
    for name, k in index.items():
        if label[k] != label[n] and name in named:
            islands.setdefault(int(label[k]), name)
    return list(islands.values())
