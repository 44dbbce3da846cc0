"""What a point of a circuit carries in every state, read off the solved network and not off any list."""

from __future__ import annotations

from electrics.circuit.simulate import GLOWS, Point, Simulation
from electrics.lighting.vehicle import CircuitSpot
from electrics.signals import GROUND_SWITCHED, Level, Signal
from electrics.vocabulary import State

__all__ = ["carried"]

ON_SHARE = 0.6
"""Share of the supply from which a feed counts as on [-]."""
PULSES_SHARE = 0.3
"""Swing within a pulse, as a share of the supply, from which a feed counts as pulsed [-]."""
BUS_WITHIN_V = 0.6


def carried(simulation: Simulation, spot: CircuitSpot, state: State, supply_v: float) -> Signal:
    """The signal at a point in a state.

    Parameters
    ----------
    simulation : Simulation
        Solved in that state.
    spot : Spot
    state : State
    supply_v : float
        Battery voltage of the moment [V].

    Returns
    -------
    Signal
        For a ground-switched circuit that of its lamp: on is the wire at ground.
    """
    levels = [_level(simulation.at(state, lit=lit), spot, supply_v) for lit in (True, False)]
    return Signal(levels[0], levels[1])


def _level(point: Point, spot: CircuitSpot, supply_v: float) -> Level:
    simulation = point.simulation
    if spot.lamp:
        return Level.ON if point.light(spot.lamp) > 10 * GLOWS else Level.OFF
    volts = simulation.solution.volts(spot.node)
    own = float(volts[point.row])
    on_it = [element for element in simulation.network.elements if spot.node in element.nodes.values()]
    if any(v is not None and abs(own - v) < BUS_WITHIN_V for v in (element.talks_at_v for element in on_it)):
        return Level.BUS
    swing = abs(own - float(volts[simulation.cases.pair[point.row]]))
    if swing > PULSES_SHARE * supply_v:
        return Level.VARYING if any(element.varies for element in on_it) else Level.PART
    is_live = own >= ON_SHARE * supply_v
    if spot.variant == GROUND_SWITCHED:
        is_live = not is_live
    return Level.ON if is_live else Level.OFF
