"""What lamps of a design lose on their way, and what else they wake: findings of its own."""

from __future__ import annotations

from collections.abc import Mapping

import numpy as np
from numpy.typing import NDArray

from electrics.circuit.elements import Battery, Lamp
from electrics.circuit.findings import Finding
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

    One that stands in for another may lose on its feed what that lost from the factory.
    """
    found: dict[tuple[str, str], Finding] = {}
    battery = simulation.network.of(Battery)[0]
    scale = round(battery.volts / 13.5, 1) or 1.0
    for point in simulation.points:
        for name, lost in lamps.items():
            if point.light(name) < FULL:
                continue
            first, second = (point.volts(simulation.network[name].at(end)) for end in ("from", "to"))
            feed_v = point.volts(battery.at("+")) - first
            most_v = FEED_LOSS_V * scale
            if lost is not None:
                most_v = max(most_v, ALIKE * float(lost[point.row]))
            for rule, loss_v, limit_v in (
                ("feed_drop", feed_v, most_v),
                ("ground_drop", second, GROUND_LOSS_V * scale),
            ):
                known = found.get((rule, name))
                if loss_v > limit_v and (known is None or loss_v > known.value):
                    where = (str(point.case.state), "lit" if point.case.lit else "dark")
                    found[rule, name] = Finding(rule, "warning", name, *where, loss_v, limit_v, "V")
    return tuple(found.values())
