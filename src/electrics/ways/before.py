"""A vehicle as it was before anything was added: what was found on it, and how its lamps looked."""

from __future__ import annotations

from collections.abc import Iterable, Mapping
from dataclasses import dataclass
from functools import lru_cache

import numpy as np
from numpy.typing import NDArray

from electrics.circuit.elements import Battery, Lamp, Led
from electrics.circuit.findings import CircuitFinding, findings
from electrics.circuit.simulate import GLOWS, Simulation, simulate
from electrics.lighting.vehicle import FactoryCircuit
from electrics.vocabulary import State
from electrics.ways.losses import FULL

__all__ = ["VehicleBefore", "as_before", "disturbed", "new_since"]

NOTICED = 0.2
"""By how much of its light a lamp must change to look another way [-] (estimate)."""


@dataclass(frozen=True)
class VehicleBefore:
    """The vehicle as it was: what was found, and how each lamp looked in each case."""

    findings: frozenset[tuple[str, str]]
    light: Mapping[tuple[str, str], NDArray[np.float64]]
    lost: Mapping[str, NDArray[np.float64]]
    """Between battery positive and each lamp's feed, by lamp [V]."""


@lru_cache(maxsize=64)
def as_before(factory: FactoryCircuit, states: tuple[State, ...]) -> VehicleBefore:
    """The vehicle without anything added; a state that was solved for another way is not solved again."""
    known = _solved_before(factory)
    missing = [state for state in states if state not in known]
    if missing:
        simulation = simulate(factory.network, missing)
        found = findings(simulation)
        plus = simulation.network.of(Battery)[0].at("+")
        lamps = [*simulation.network.of(Lamp), *simulation.network.of(Led)]
        lost = {lamp.name: simulation.between(plus, lamp.at("from")) for lamp in lamps}
        for state in missing:
            rows = [n for n, case in enumerate(simulation.cases.all) if case.state == state]
            known[state] = VehicleBefore(
                frozenset((finding.rule, finding.subject) for finding in found),
                {lamp: light[rows] for lamp, light in simulation.light.items()},
                {lamp: volts[rows] for lamp, volts in lost.items()},
            )
    each = [known[state] for state in states]
    return VehicleBefore(
        frozenset().union(*(one.findings for one in each)),
        {lamp: np.concatenate([one.light[lamp] for one in each]) for lamp in each[0].light},
        {lamp: np.concatenate([one.lost[lamp] for one in each]) for lamp in each[0].lost},
    )


@lru_cache(maxsize=64)
def _solved_before(factory: FactoryCircuit) -> dict[State, VehicleBefore]:
    return {}


def new_since(found: Iterable[CircuitFinding], before: frozenset[tuple[str, str]]) -> tuple[CircuitFinding, ...]:
    """Findings that were not there before, by rule and subject."""
    return tuple(finding for finding in found if (finding.rule, finding.subject) not in before)


def disturbed(simulation: Simulation, before: VehicleBefore, gone: frozenset[str]) -> tuple[CircuitFinding, ...]:
    """Factory lamps that look different than before, each with the first case where it does."""
    found = []
    for (name, branch), was in before.light.items():
        if name in gone:
            continue
        now = simulation.light[name, branch]
        levels = [np.digitize(light, (GLOWS, FULL)) for light in (was, now)]
        is_seen = np.abs(now - was) > NOTICED * np.maximum(now, was)
        for n in np.flatnonzero((levels[0] != levels[1]) & is_seen)[:1]:
            case = simulation.cases.all[n]
            phase = "lit" if case.lit else "dark"
            found.append(
                CircuitFinding(
                    "factory_lamp", "error", name, str(case.state), phase, float(now[n]), float(was[n]), "share"
                )
            )
    return tuple(found)
