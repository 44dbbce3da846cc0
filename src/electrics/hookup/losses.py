"""What lamps of a design lose on their way, and what else they wake: findings of its own."""

from __future__ import annotations

from collections.abc import Iterable, Mapping

import numpy as np
from numpy.typing import NDArray

from electrics.circuit.elements import Battery, Lamp
from electrics.circuit.findings import Finding
from electrics.circuit.network import Network
from electrics.circuit.simulate import GLOWS, Simulation
from electrics.hookup.design import OTHER_LAMPS

__all__ = ["FULL", "losses", "woken"]

FULL = 0.3
"""Share of nominal light from which a lamp counts as on; between this and a glow it is dim [-] (estimate)."""
ALIKE = 1.25
"""Over what the factory lost on the same feed, that still counts as the same [-] (estimate)."""


def woken(simulation: Simulation) -> tuple[Finding, ...]:
    """Other lamps of a towed car that the wires to it light: the first case of each."""
    found: dict[str, Finding] = {}
    names = [element.name for element in simulation.network.of(Lamp) if element.name.startswith(OTHER_LAMPS)]
    for point in simulation.points:
        for name in names:
            if (light := point.light(name)) > GLOWS:
                where = (str(point.case.state), "lit" if point.case.lit else "dark")
                found.setdefault(name, Finding("factory_lamp", "error", name, *where, light, 0.0, "share"))
    return tuple(found.values())


FEED_LOSS_V, GROUND_LOSS_V = 0.5, 0.1
"""What a lamp that is on may lose on a 12 V system, from battery positive to its feed and from its ground to battery
negative [V] (common practice)."""


def losses(simulation: Simulation, lamps: Mapping[str, NDArray[np.float64] | None]) -> tuple[Finding, ...]:
    """Lamps whose feed or ground loses too much while they burn: the worst state of each.

    One that stands in for another may lose on its feed what that lost from the factory. What a diode or a decoder
    in its feed loses counts as light, not here.
    """
    found: dict[tuple[str, str], Finding] = {}
    behind = _in_line(simulation.network, lamps)
    battery = simulation.network.of(Battery)[0]
    scale = round(battery.volts / 13.5, 1) or 1.0
    is_high = np.array([case.high for case in simulation.cases.all])
    plus_v = simulation.volts_of(battery.at("+"))
    for name, lost in lamps.items():
        lamp = simulation.network[name]
        burns = is_high & (simulation.light[name, ""] >= FULL)
        if not burns.any():
            continue
        feed_v = plus_v - simulation.volts_of(lamp.at("from"))
        for before, after in behind[name]:
            feed_v = feed_v - np.maximum(simulation.between(before, after), 0.0)
        most_v = np.full(len(feed_v), FEED_LOSS_V * scale)
        if lost is not None:
            most_v = np.maximum(most_v, ALIKE * lost)
        ground_v, least_v = simulation.volts_of(lamp.at("to")), np.full(len(feed_v), GROUND_LOSS_V * scale)
        for rule, loss_v, limit_v in (("feed_drop", feed_v, most_v), ("ground_drop", ground_v, least_v)):
            rows = np.flatnonzero(burns & (loss_v > limit_v))
            if rows.size:
                worst = int(rows[np.argmax(loss_v[rows])])
                case = simulation.cases.all[worst]
                where = (str(case.state), "lit" if case.lit else "dark")
                values = float(loss_v[worst]), float(limit_v[worst])
                found[rule, name] = Finding(rule, "warning", name, *where, *values, "V")
    return tuple(found.values())


def _in_line(network: Network, lamps: Iterable[str]) -> dict[str, tuple[tuple[str, str], ...]]:
    """By lamp: the nodes before and behind what its feed comes through that is no copper, as a diode."""
    joined: dict[str, set[str]] = {}
    for element in network.elements:
        if element.is_copper:
            for node in element.nodes.values():
                joined.setdefault(node, set()).update(element.nodes.values())
    parts = [(each.at(each.in_line[0]), each.at(each.in_line[1])) for each in network.elements if each.in_line]
    found = {}
    for lamp in lamps:
        reached, queue = {network[lamp].at("from")}, [network[lamp].at("from")]
        while queue:
            new = joined.get(queue.pop(), set()) - reached
            reached |= new
            queue += new
        found[lamp] = tuple(ends for ends in parts if ends[1] in reached)
    return found
