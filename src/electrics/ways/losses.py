"""Voltage that lamps of a design lose in feed and ground, and other lamps that they light."""

from __future__ import annotations

from collections.abc import Collection, Mapping
from types import MappingProxyType

import numpy as np
from numpy.typing import NDArray

from electrics.circuit.elements import Battery, Fuse, Lamp
from electrics.circuit.findings import CircuitFinding
from electrics.circuit.network import Network
from electrics.circuit.simulate import GLOWS, Simulation
from electrics.design.design import GROUND_NODE, OTHER_LAMPS, TOWED_GROUND_NODE
from electrics.reference.usual import FEED_LOSS_V, GROUND_LOSS_V, system_scale

__all__ = ["FULL", "losses", "woken"]

FULL = 0.3
"""Share of nominal light from which a lamp counts as on; between this and a glow it is dim [-] (estimate)."""
NOTHING: Mapping[str, NDArray[np.float64]] = MappingProxyType({})
ALIKE = 1.25
"""Over what the factory lost on the same feed, that still counts as the same [-] (estimate)."""


def woken(simulation: Simulation) -> tuple[CircuitFinding, ...]:
    """Other lamps of a towed car that its feed lights, each with the first case where it does."""
    found: dict[str, CircuitFinding] = {}
    names = [element.name for element in simulation.network.of(Lamp) if element.name.startswith(OTHER_LAMPS)]
    for point in simulation.points:
        for name in names:
            if (light := point.light(name)) > GLOWS:
                where = (str(point.case.state), "lit" if point.case.lit else "dark")
                found.setdefault(name, CircuitFinding("factory_lamp", "error", name, *where, light, 0.0, "share"))
    return tuple(found.values())


def losses(
    simulation: Simulation,
    lamps: Mapping[str, NDArray[np.float64] | None],
    before: Mapping[str, NDArray[np.float64]] = NOTHING,
) -> tuple[CircuitFinding, ...]:
    """Lamps whose feed or ground loses too much while they burn: the worst state of each.

    One that stands in for another, or hangs on a factory lamp's feed, may lose on its feed what that lost from the
    factory. What a diode or a decoder in its feed loses counts as light, not here. On a towed car two grounds lie one
    after the other, each of which may lose what a ground may: the lamp's, and the wire to the vehicle in front.

    Parameters
    ----------
    simulation : Simulation
    lamps : mapping of str to ndarray (n_cases,) or None
        What the lamp that each stands in for lost on its feed [V].
    before : mapping of str to ndarray (n_cases,)
        What every factory lamp lost on its feed before anything was added [V].
    """
    found: dict[tuple[str, str], CircuitFinding] = {}
    network = simulation.network
    hangs = {name: network[name].at("from") for name in before if name in network}
    parts = [(each.at(each.in_line[0]), each.at(each.in_line[1])) for each in network.elements if each.in_line]
    by_copper, and_by_fuses = _joined(network), _joined(network, {fuse.name for fuse in network.of(Fuse)})
    to_ground = {node: others - {GROUND_NODE} for node, others in by_copper.items()}
    battery = network.of(Battery)[0]
    scale = system_scale(battery.volts)
    is_high = np.array([case.high for case in simulation.cases.all])
    plus_v = simulation.volts_of(battery.at("+"))
    for name, lost in lamps.items():
        lamp = network[name]
        burns = is_high & (simulation.light[name, ""] >= FULL)
        if not burns.any():
            continue
        feed_v = plus_v - simulation.volts_of(lamp.at("from"))
        copper = _reached(lamp.at("from"), by_copper)
        for first, second in parts:
            if second in copper:
                feed_v = feed_v - np.maximum(simulation.between(first, second), 0.0)
        most_v = np.full(len(feed_v), FEED_LOSS_V * scale)
        same_feed = _reached(lamp.at("from"), and_by_fuses)
        own = (before[other] for other, node in hangs.items() if node in same_feed and other != name)
        alike = [each for each in own if each.shape == feed_v.shape]
        for same_v in alike if lost is None else [lost]:
            most_v = np.maximum(most_v, ALIKE * same_v)
        hops = 2 if TOWED_GROUND_NODE in _reached(lamp.at("to"), to_ground) else 1
        ground_v, least_v = simulation.volts_of(lamp.at("to")), np.full(len(feed_v), hops * GROUND_LOSS_V * scale)
        for rule, loss_v, limit_v in (("feed_drop", feed_v, most_v), ("ground_drop", ground_v, least_v)):
            rows = np.flatnonzero(burns & (loss_v > limit_v))
            if rows.size:
                worst = int(rows[np.argmax(loss_v[rows])])
                case = simulation.cases.all[worst]
                where = (str(case.state), "lit" if case.lit else "dark")
                values = float(loss_v[worst]), float(limit_v[worst])
                found[rule, name] = CircuitFinding(rule, "warning", name, *where, *values, "V")
    return tuple(found.values())


def _joined(network: Network, also: Collection[str] = ()) -> dict[str, set[str]]:
    """For each node, the nodes that copper (or a named element) joins to it, not going through the battery."""
    joined: dict[str, set[str]] = {}
    ends = {battery.at("+") for battery in network.of(Battery)}
    for element in network.elements:
        if element.is_copper or element.name in also:
            for each in set(element.nodes.values()) - ends:
                joined.setdefault(each, set()).update(element.nodes.values())
    return joined


def _reached(node: str, joined: Mapping[str, set[str]]) -> set[str]:
    """All nodes joined to one, itself included."""
    reached, queue = {node}, [node]
    while queue:
        new = joined.get(queue.pop(), set()) - reached
        reached |= new
        queue += new
    return reached
