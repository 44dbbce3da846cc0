"""Rules that look at parts: grounds, joints, wires, bulbs, resistors, parts turned round, coils in the air."""

from __future__ import annotations

from collections.abc import Iterator

import numpy as np
from numpy.typing import NDArray

from electrics.circuit.elements import Battery, Diode, Fuse, Ground, Housed, Joint, Led, Relay, Wire
from electrics.circuit.roads import could_be_fed
from electrics.circuit.rules import Found, rule, sized, where
from electrics.circuit.simulate import BACK_FEED_A, GLOWS, Point, Simulation
from electrics.circuit.wrong_roads import GROUND_LOST_V
from electrics.reference.fuses import CONTINUOUS_SHARE
from electrics.reference.parts import BODY_LIMIT_C

GROUND_LIFT_V = 0.1
"""From which a ground under load is lifted, on 12 V (common practice) [V]."""
JOINT_LOSS_V = 0.2
"""What one joint may lose on 12 V: a feed's whole way should lose no more than 0.5 V (common practice) [V]."""
GHOST_A = 1e-4
"""Current by which an LED string shows in the dark [A] (common practice)."""
OVER_VOLTS = 1.25
"""Over its rated voltage a filament's life falls to a twentieth: V^-13 (handbook exponent) [-]."""
SHORT_A = 200.0
"""More than this no lamp circuit draws: a short that nothing stops [A] (estimate)."""
REVERSED_V = 3.0
"""Against its direction from which a part is said to be the wrong way round [V] (estimate)."""
LIVE_SHARE = 0.8
"""Share of the battery's voltage from which an end counts as live [-]."""


@sized
def ghost_glow(point: Point) -> Iterator[Found]:
    """An LED that shows in the dark, with everything off, on what some monitor leaks into it."""
    if not point.case.state.is_dead:
        return
    for lamp in point.simulation.network.elements:
        if lamp.is_quick and point.light(lamp.name) <= GLOWS:
            amps = max(point.amps(lamp.name, branch) for glow in lamp.glows for branch in glow.of)
            if amps > GHOST_A:
                yield Found("warning", lamp.name, amps, GHOST_A, "A")


@sized
def grounds_at_odds(point: Point) -> Iterator[Found]:
    """A ground that the load on it lifts."""
    for ground in point.simulation.network.of(Ground):
        volts = abs(point.volts(ground.at("at")) - point.volts(ground.at("to")))
        limit = GROUND_LIFT_V * _scale(point)
        if volts > limit:
            severity = "error" if volts > GROUND_LOST_V * _scale(point) else "warning"
            yield Found(severity, ground.name, volts, limit, "V")


@sized
def joint_loss(point: Point) -> Iterator[Found]:
    """A joint that loses too much: corroded, or barely touching."""
    for joint in point.simulation.network.of(Joint):
        volts = abs(point.volts(joint.at("from")) - point.volts(joint.at("to")))
        if volts > JOINT_LOSS_V * _scale(point) and abs(point.amps(joint.name)) > BACK_FEED_A:
            yield Found("warning", joint.name, volts, JOINT_LOSS_V * _scale(point), "V")


@sized
def wire_load(point: Point) -> Iterator[Found]:
    """A wire that carries more than the largest fuse that protects its size."""
    for wire in point.simulation.network.of(Wire):
        amps, most_a = abs(point.amps(wire.name)), wire.largest_a
        if amps > most_a:
            yield Found("error", wire.name, amps, most_a, "A")


@sized
def resistor_heat(point: Point) -> Iterator[Found]:
    """A housed resistor whose body passes what it survives, as it is mounted, by the mean of a flash."""
    if point.case.lit:
        dark = point.simulation.row(point.case.state, lit=False)
        for each in point.simulation.network.of(Housed):
            by_case = point.simulation.case_watts(each)
            watts = float(by_case[point.row] + by_case[dark]) / 2
            if watts > 0 and each.settled_c(watts) > BODY_LIMIT_C:
                yield Found("error", each.name, watts, each.bears_w, "W")


@sized
def over_volts(point: Point) -> Iterator[Found]:
    """A lamp on far more than it is made for: one of another system."""
    for lamp, made_for_v, ends in _rated(point.simulation):
        volts = max(abs(point.volts(first) - point.volts(second)) for first, second in ends)
        if volts > OVER_VOLTS * made_for_v:
            yield Found("error", lamp, volts, made_for_v, "V")


def _rated(simulation: Simulation) -> list[tuple[str, float, list[tuple[str, str]]]]:
    """Every whole lamp, the voltage that it is made for [V], and where each of its leads and its return are."""
    return [
        (lamp.name, lamp.made_for_v, [(lamp.at(lead), lamp.at("to")) for lead in lamp.terminals if lead != "to"])
        for lamp in simulation.network.elements
        if lamp.made_for_v is not None and lamp.glows
    ]


@rule
def short_circuit(point: Point) -> Iterator[Found]:
    """More current out of a battery than any lamp circuit draws."""
    for battery in point.simulation.network.of(Battery):
        amps = abs(point.amps(battery.name))
        if amps > SHORT_A:
            yield Found("error", battery.name, amps, SHORT_A, "A")


@rule
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
            source_side = could_be_fed(simulation) if source_side is None else source_side
            feeds_a_lamp = diode.at("anode") not in source_side and diode.at("cathode") in source_side
            if feeds_a_lamp and not _is_across_a_coil(simulation, diode):
                yield Found("error", diode.name, float(back_v.max()), REVERSED_V, "V")


@rule
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


def _over(simulation: Simulation, values: list[NDArray[np.float64]], limits: list[float]) -> NDArray[np.bool_]:
    """The cases in which any of some values, (n_cases,) each, is above its limit."""
    if not values:
        return np.zeros(len(simulation.cases), dtype=bool)
    return np.asarray((np.abs(np.stack(values)) > np.array(limits)[:, None]).any(axis=0))


@where("wire_load")
def _wires(simulation: Simulation) -> NDArray[np.bool_]:
    wires = simulation.network.of(Wire)
    return _over(simulation, [simulation.amps_of(each.name) for each in wires], [each.largest_a for each in wires])


@where("fuse_load")
def _fuses(simulation: Simulation) -> NDArray[np.bool_]:
    fuses = simulation.network.of(Fuse)
    limits = [CONTINUOUS_SHARE * fuse.rating_a for fuse in fuses]
    return _over(simulation, [simulation.amps_of(fuse.name) for fuse in fuses], limits)


@where("over_volts")
def _bulbs(simulation: Simulation) -> NDArray[np.bool_]:
    ends = [(made_for_v, each) for _, made_for_v, leads in _rated(simulation) for each in leads]
    volts = [simulation.between(*each) for _, each in ends]
    return _over(simulation, volts, [OVER_VOLTS * made_for_v for made_for_v, _ in ends])


@where("joint_loss")
def _joints(simulation: Simulation) -> NDArray[np.bool_]:
    joints = simulation.network.of(Joint)
    volts = [simulation.between(joint.at("from"), joint.at("to")) for joint in joints]
    return _over(simulation, volts, [JOINT_LOSS_V * simulation.system_scale] * len(joints))


@where("grounds_at_odds")
def _grounds(simulation: Simulation) -> NDArray[np.bool_]:
    grounds = simulation.network.of(Ground)
    volts = [simulation.between(ground.at("at"), ground.at("to")) for ground in grounds]
    return _over(simulation, volts, [GROUND_LIFT_V * simulation.system_scale] * len(grounds))


@where("resistor_heat")
def _housed(simulation: Simulation) -> NDArray[np.bool_]:
    housed = [each for each in simulation.network.of(Housed) if each.watts is not None]
    watts = [simulation.case_watts(each) for each in housed]
    # the mean of a flash is less than its lit half
    return _over(simulation, watts, [each.bears_w for each in housed])


def _scale(point: Point) -> float:
    """The system that limits of 12 V are scaled to: 0.5, 1 or 2 [-]."""
    return point.simulation.system_scale


def _is_across_a_coil(simulation: Simulation, diode: Diode) -> bool:
    ends = {diode.at("anode"), diode.at("cathode")}
    return any(ends == {relay.at("86"), relay.at("85")} for relay in simulation.network.of(Relay))
