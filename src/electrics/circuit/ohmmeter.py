"""What an ohmmeter shows between two points of a dead circuit: battery off, everything else as it stands."""

from __future__ import annotations

from electrics.circuit.elements import Battery
from electrics.circuit.network import Network
from electrics.circuit.simulate import simulate
from electrics.errors import CircuitError
from electrics.vocabulary import State, parse_state

__all__ = ["OVERFLOW_OHM", "ohms_between"]

METER_V, METER_OHM = 0.4, 400.0
"""What a meter lends: too little for a junction, at most a milliampere, which leaves a filament cold (estimates)."""
OVERFLOW_OHM = 40e6
"""From which it shows OL [ohm]."""


def ohms_between(network: Network, first: str, second: str, state: State | str = "rest") -> float:
    """Resistance between two nodes with the batteries off.

    Parameters
    ----------
    network : Network
    first, second : str
        Nodes: red lead and black.
    state : State or str
        How its switches stand; what needs the battery to move stays at rest.

    Returns
    -------
    float
        [ohm]; infinite where the meter shows OL.

    Raises
    ------
    CircuitError
        A node that is not there, or one and the same.
    """
    for node in (first, second):
        if node not in network.nodes:
            raise CircuitError("", node, "is no point of this circuit.")
    if first == second:
        raise CircuitError("", first, "is both points. Name two.")
    meter = Battery(name=METER, nodes={"+": first, "-": second}, volts=METER_V, resistance_ohm=METER_OHM)
    dead = tuple(element for element in network.elements if element.kind != Battery.kind)
    point = simulate(Network((meter, *dead), network.reference), [state]).at(parse_state(str(state)))
    volts, amps = point.volts(first) - point.volts(second), -point.amps(METER)
    return volts / amps if amps > volts / OVERFLOW_OHM and amps > 0 else float("inf")


METER = "ohmmeter (battery off)"
