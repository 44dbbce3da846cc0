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
    Lamp,
    Led,
    Relay,
    Resistor,
    Separator,
    Wire,
)
from electrics.circuit.elements.flashers import NORMAL_PER_MIN
from electrics.circuit.elements.overload import OverloadRule
from electrics.circuit.roads import road_to
from electrics.circuit.simulate import BACK_FEED_A, GLOWS, Point, Simulation
from electrics.reference.fuses import CONTINUOUS_SHARE
from electrics.reference.parts import BODY_LIMIT_C, blow_time_s, diodes

__all__ = ["RULES", "Finding", "findings"]

GROUND_LIFT_V, GROUND_LOST_V = 0.1, 0.5
"""From which a ground under load is lifted, and from which lamps on it disturb each other, on 12 V (common practice)
[V]."""
JOINT_LOSS_V = 0.2
"""What one joint may lose on 12 V: a feed's whole way should lose no more than 0.5 V (common practice) [V]."""
OVER_VOLTS = 1.25
"""Over its rated voltage a filament's life falls to a twentieth: V^-13 (handbook exponent) [-]."""
SHORT_A = 200.0
"""More than this no lamp circuit draws: a short that nothing stops [A] (estimate)."""
REVERSED_V = 3.0
"""Against its direction from which a part is said to be the wrong way round [V] (estimate)."""
LIVE_SHARE = 0.8
"""Share of the battery's voltage from which an end counts as live [-]."""
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
    by: str = ""
    road: tuple[str, ...] = ()


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
        In `unit`; of the worst state.
    by : str
        The element that causes it, where that is another one.
    road : tuple of str
        The elements that current came by, where it came by the wrong road.
    """

    rule: str
    severity: str
    subject: str
    state: str
    phase: str
    value: float
    limit: float
    unit: str
    by: str = ""
    road: tuple[str, ...] = ()

    @property
    def key(self) -> tuple[str, str, str]:
        """What it is about: rule, subject, and for a flasher the side."""
        sides = [side for side in ("left", "right") if self.rule == "flash_rate" and side in self.state.split("+")]
        return self.rule, self.subject, "".join(sides)


PointRule = Callable[[Point], Iterator[Found]]
RULES: dict[str, PointRule] = {}
"""Every rule by its stable id."""
BY_SIZE: set[str] = set()
"""Those of which the largest value is the worst."""


def findings(simulation: Simulation) -> tuple[Finding, ...]:
    """Everything that is wrong, each rule and subject once (a flasher once a side) in its worst state, errors first.

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
                    each.by,
                    each.road,
                )
                known = found.get(finding.key)
                if known is None or (rule in BY_SIZE and finding.value > known.value):
                    found[finding.key] = finding
    return tuple(sorted(found.values(), key=lambda each: each.severity != "error"))


def _rule(look: PointRule) -> PointRule:
    RULES[look.__name__] = look
    return look


def _sized(look: PointRule) -> PointRule:
    BY_SIZE.add(look.__name__)
    return _rule(look)


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


@_sized
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
def wrong_road(point: Point) -> Iterator[Found]:
    """A lamp that is lit with none of its own feeds on, and the part that let the current through."""
    simulation = point.simulation
    for (name, branch), light in simulation.light.items():
        if light[point.row] <= GLOWS:
            continue
        element = simulation.network[name]
        ends = [element.at(branch)] if branch else [element.at("from"), element.at("to")]
        if any(point.is_fed(node) for node in ends):
            continue
        road = road_to(point, name, simulation.fed)
        yield Found("error", name, float(light[point.row]), GLOWS, "of its light", road.culprit, road.elements)


@_sized
def grounds_at_odds(point: Point) -> Iterator[Found]:
    """A ground that the load on it lifts."""
    for ground in point.simulation.network.of(Ground):
        volts = abs(point.volts(ground.at("at")) - point.volts(ground.at("to")))
        limit = GROUND_LIFT_V * _scale(point)
        if volts > limit:
            severity = "error" if volts > GROUND_LOST_V * _scale(point) else "warning"
            yield Found(severity, ground.name, volts, limit, "V")


@_sized
def joint_loss(point: Point) -> Iterator[Found]:
    """A joint that loses too much: corroded, or barely touching."""
    for joint in point.simulation.network.of(Joint):
        volts = abs(point.volts(joint.at("from")) - point.volts(joint.at("to")))
        if volts > JOINT_LOSS_V * _scale(point) and abs(point.amps(joint.name)) > BACK_FEED_A:
            yield Found("warning", joint.name, volts, JOINT_LOSS_V * _scale(point), "V")


@_sized
def wire_load(point: Point) -> Iterator[Found]:
    """A wire that carries more than the largest fuse that protects its size."""
    for wire in point.simulation.network.of(Wire):
        amps, most_a = abs(point.amps(wire.name)), wire.largest_a
        if amps > most_a:
            yield Found("error", wire.name, amps, most_a, "A")


@_sized
def resistor_heat(point: Point) -> Iterator[Found]:
    """A housed resistor whose body passes what it survives, as it is mounted, by the mean of a flash."""
    if point.case.lit:
        dark = point.simulation.at(point.case.state, lit=False)
        for resistor in point.simulation.network.of(Resistor):
            watts = (point.watts(resistor.name) + dark.watts(resistor.name)) / 2
            if resistor.watts is not None and watts > 0:
                body_c = resistor.settled_c(watts)
                if body_c > BODY_LIMIT_C:
                    yield Found("error", resistor.name, watts, resistor.bears_w, "W")


@_sized
def over_volts(point: Point) -> Iterator[Found]:
    """A bulb on far more than it is made for: one of another system."""
    for lamp in point.simulation.network.of(Lamp):
        volts = abs(point.volts(lamp.at("from")) - point.volts(lamp.at("to")))
        if volts > OVER_VOLTS * lamp.rating[0] and not lamp.broken:
            yield Found("error", lamp.name, volts, lamp.rating[0], "V")


@_rule
def short_circuit(point: Point) -> Iterator[Found]:
    """More current out of a battery than any lamp circuit draws."""
    for battery in point.simulation.network.of(Battery):
        amps = abs(point.amps(battery.name))
        if amps > SHORT_A:
            yield Found("error", battery.name, amps, SHORT_A, "A")


@_rule
def turned_round(point: Point) -> Iterator[Found]:
    """An LED that never lights and has voltage the wrong way round; a diode whose stripe faces the source."""
    simulation = point.simulation
    if point.row:
        return
    for led in simulation.network.of(Led):
        back_v = simulation.between(led.at("to"), led.at("from"))
        if not led.bridge and simulation.light[led.name, ""].max() < GLOWS and back_v.max() > REVERSED_V:
            yield Found("error", led.name, float(back_v.max()), REVERSED_V, "V")
    source_side = None
    for diode in simulation.network.of(Diode):
        back_v = simulation.between(diode.at("cathode"), diode.at("anode"))
        if back_v.max() > REVERSED_V and simulation.amps_of(diode.name).max() < BACK_FEED_A and not diode.open:
            source_side = _source_side(simulation) if source_side is None else source_side
            feeds_a_lamp = diode.at("anode") not in source_side and diode.at("cathode") in source_side
            if feeds_a_lamp and not _is_across_a_coil(simulation, diode):
                yield Found("error", diode.name, float(back_v.max()), REVERSED_V, "V")


@_rule
def coil_open(point: Point) -> Iterator[Found]:
    """A coil that gets its feed and never moves: its other end leads nowhere."""
    simulation = point.simulation
    if point.row:
        return
    live_v = LIVE_SHARE * max(abs(battery.volts) for battery in simulation.network.of(Battery))
    for relay in simulation.network.of(Relay):
        plus, minus = simulation.volts_of(relay.at("86")), simulation.volts_of(relay.at("85"))
        is_stuck = np.abs(simulation.amps_of(relay.name, "coil")).max() < BACK_FEED_A
        if is_stuck and (np.minimum(plus, minus) > live_v).any():
            yield Found("error", relay.name, float(np.minimum(plus, minus).max()), 0.0, "V")


@_rule
def pulsed_coil(point: Point) -> Iterator[Found]:
    """A relay on a pulsed feed that is held in by it, or rests between dropping out and pulling in."""
    if point.is_pulsed:
        for relay in point.simulation.network.of(Relay):
            volts = abs(point.volts(relay.at("86")) - point.volts(relay.at("85")))
            if volts > relay.drop_out_v and point.simulation.is_pulsed_at(relay.at("86"), relay.at("85"), point.row):
                yield Found("error", relay.name, volts, relay.pull_in_v, "V")


@_sized
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


def _scale(point: Point) -> float:
    """The system that limits of 12 V are scaled to: 0.5, 1 or 2 [-]."""
    return point.simulation.system_scale


def _is_across_a_coil(simulation: Simulation, diode: Diode) -> bool:
    ends = {diode.at("anode"), diode.at("cathode")}
    return any(ends == {relay.at("86"), relay.at("85")} for relay in simulation.network.of(Relay))


def _source_side(simulation: Simulation) -> frozenset[str]:
    """Nodes that could be fed if every switch were closed, without going through a diode."""
    network, system = simulation.network, simulation.network.system
    found = {battery.nodes["+"] for battery in network.of(Battery)}
    edges = [
        (branch.first, branch.second)
        for branch in system.branches
        if branch.group == "resistor" and network[branch.owner].passes_on(branch.name)
    ]
    is_growing = True
    while is_growing:
        new = {second for first, second in edges if first in found} - found
        found |= new
        is_growing = bool(new)
    return frozenset(found)


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
