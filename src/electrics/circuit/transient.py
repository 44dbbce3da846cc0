"""What capacitors do in time: a circuit followed in small steps through phases of a pulse or a flash.

Contacts stand in each phase where they came to rest without capacitors; filaments warm as they do. Steps begin
short after each edge and grow (backward Euler, no ringing).
"""

from __future__ import annotations

from collections.abc import Hashable, Iterator, Mapping, Sequence
from dataclasses import dataclass
from itertools import groupby
from typing import TypeVar

import numpy as np
from numpy.typing import NDArray

from electrics.circuit.build import System
from electrics.circuit.cases import Cases
from electrics.circuit.elements import ComputerOutput
from electrics.circuit.network import Network
from electrics.circuit.simulate import Simulation
from electrics.circuit.solve import Ports, solve
from electrics.vocabulary import State, parse_state

__all__ = ["Phase", "Transient", "cold_test_phases", "flash_phases", "pulse_phases", "transient"]

Array = NDArray[np.float64]
Key = TypeVar("Key", bound=Hashable)

SHORTEST_S, GROWTH_STEPS, STEPS_A_PHASE = 2e-6, 5, 32
"""First step after an edge [s], how many steps of a size before it doubles, and a phase in at least so many [-]."""


@dataclass(frozen=True)
class Phase:
    """How a network stands for some seconds [s]: one case of it."""

    network: Network
    state: State
    lit: bool
    high: bool
    seconds: float


@dataclass(frozen=True)
class Transient:
    """Everything in time.

    Attributes
    ----------
    times_s : ndarray (n,)
        End of each step [s].
    light : mapping of (element, branch) to ndarray (n,)
        Of everything but filaments, share of nominal [-].
    volts : mapping of str to ndarray (n,)
        Of every node [V].
    most_a : float
        The largest current of any capacitor [A].
    """

    times_s: Array
    light: Mapping[tuple[str, str], Array]
    volts: Mapping[str, Array]
    most_a: float

    def lit_s(self, lamp: str, branch: str = "", *, above: float, since_s: float = 0.0) -> float:
        """How long a lamp gives more than a share of its light [s]."""
        steps = np.diff(self.times_s, prepend=0.0)
        light = self.light[lamp, branch]
        return float(steps[(light > above) & (self.times_s > since_s + 1e-12)].sum())

    def mean_light(self, lamp: str, branch: str = "", *, since_s: float = 0.0) -> float:
        """Its light over time, share of nominal [-]."""
        steps = np.diff(self.times_s, prepend=0.0)
        counts = self.times_s > since_s + 1e-12
        return float((steps * self.light[lamp, branch])[counts].sum() / steps[counts].sum())


def transient(phases: Sequence[Phase]) -> Transient:
    """Follow a circuit through phases, from discharged on.

    Parameters
    ----------
    phases : sequence of Phase
        All of networks with the same elements by name.

    Returns
    -------
    Transient
    """
    return _TransientRun().through(phases)


def pulse_phases(network: Network, state: State | str, *, pulses: int) -> list[Phase]:
    """Some pulses of whatever pulses in a state, which may be nothing."""
    state = parse_state(state) if isinstance(state, str) else state
    found = next((pulse for pulse in network.system.pulses if pulse.is_on(state)), None)
    if found is None:
        return [Phase(network, state, True, True, 0.1)]
    parts = ((True, found.duty / found.hz), (False, (1 - found.duty) / found.hz))
    return [Phase(network, state, True, high, seconds) for _ in range(pulses) for high, seconds in parts]


def flash_phases(network: Network, state: State | str, *, beats: int) -> list[Phase]:
    """Some beats of whatever flashes in a state, at its own rate; ninety a minute where that is none."""
    state = parse_state(state) if isinstance(state, str) else state
    rhythms = [each for each in Simulation(network, [state]).flash(state).values() if each.per_minute > 0]
    period_s, duty = (60 / rhythms[0].per_minute, rhythms[0].duty) if rhythms else (60 / 90, 0.5)
    parts = ((True, duty * period_s), (False, (1 - duty) * period_s))
    return [Phase(network, state, lit, True, seconds) for _ in range(beats) for lit, seconds in parts]


def cold_test_phases(
    network: Network, output: ComputerOutput, state: State, pulsing: Network, *, pulses: int
) -> list[Phase]:
    """Some cold-test pulses of an output in a state; `pulsing` is the same network with it on."""
    on_s = output.test_ms / 1000
    parts = ((pulsing, on_s), (network, 1 / output.test_hz - on_s))
    return [Phase(each, state, True, True, seconds) for _ in range(pulses) for each, seconds in parts]


class _TransientRun:
    def __init__(self) -> None:
        self.now, self.times = 0.0, list[float]()
        self.seen: list[tuple[Network, System, Array, Array]] = []
        self.charge_v: Array | None = None
        self.heat: Array | None = None
        self.port_v: Array | None = None
        self.most_a = 0.0
        self.settled: dict[tuple[int, State], Simulation] = {}
        self.ports: dict[tuple[int, float, bytes], _Linear] = {}

    def through(self, phases: Sequence[Phase]) -> Transient:
        for phase in phases:
            self.follow(phase)
        light: dict[tuple[str, str], list[Array]] = {}
        volts: dict[str, list[Array]] = {}
        for network, system, amps, node_v in self._alike():
            for name, place in system.place_of.items():
                volts.setdefault(name, []).append(node_v[:, place])
            for lamp, share in _light(network, system, amps, node_v):
                light.setdefault(lamp, []).append(share)
        return Transient(np.array(self.times), _joined(light), _joined(volts), self.most_a)

    def _alike(self) -> Iterator[tuple[Network, System, Array, Array]]:
        """Steps of one network after another: currents (n, n_branches) [A], node voltages (n, n_nodes + 1) [V]."""
        for _, group in groupby(self.seen, key=lambda each: id(each[0])):
            steps = list(group)
            network, system = steps[0][:2]
            yield network, system, np.array([each[2] for each in steps]), np.array([each[3] for each in steps])

    def follow(self, phase: Phase) -> None:
        key = id(phase.network), phase.state
        if key not in self.settled:
            self.settled[key] = Simulation(phase.network, [phase.state])
        settled = self.settled[key]
        row = settled.at(phase.state, lit=phase.lit).row
        row = row if phase.high else int(settled.cases.pair[row])
        for step_s in _steps(phase.seconds):
            self.step(phase, settled, row, step_s)

    def step(self, phase: Phase, settled: Simulation, row: int, step_s: float) -> None:
        system = phase.network.stepped(step_s)
        cases = Cases([phase.state], (), (phase.lit,))
        gates = settled.solution.gates[row : row + 1].copy()
        gates[:, [charge.gate for charge in system.charges]] = True
        columns = [charge.emf for charge in system.charges]
        if self.charge_v is None:
            self.charge_v = np.zeros(len(columns))
            filaments = system.filaments
            self.heat = np.full(system.n_filaments, filaments.ambient_k) / filaments.hot_k[: system.n_filaments]
        emf = system.emf(cases)
        emf[0, columns] = self.charge_v
        key = id(phase.network), step_s, gates.tobytes()
        if key not in self.ports:
            self.ports[key] = _Linear(system, gates, emf)
        assert self.heat is not None
        ports = self.ports[key].ports(emf)
        solution = solve(system, cases, gates, emf, start=self.port_v, heat=self.heat[None, :], ports=ports)
        self.port_v = solution.port_v
        n = system.n_filaments
        if n:
            self.heat = system.filaments.warmed(self.heat, solution.port_v[0, :n], step_s)
        amps = solution.unknowns[0, system.n_nodes :][columns]
        farad = np.array([charge.farad for charge in system.charges])
        self.charge_v = self.charge_v + amps * step_s / farad
        self.most_a = max(self.most_a, float(np.abs(amps).max(initial=0.0)))
        self.now += step_s
        self.times.append(self.now)
        self.seen.append((phase.network, system, solution.currents[0], solution.node_volts[0]))


class _Linear:
    """The linear part of a step, solved once; its sources enter linearly."""

    def __init__(self, system: System, gates: NDArray[np.bool_], emf: Array) -> None:
        n = system.n_emf
        every = np.concatenate([np.zeros((1, n)), np.eye(n)])
        found = Ports.of(system, np.repeat(gates, n + 1, axis=0), every)
        self.at_rest = found.taken([0])
        self.each = found.open_unknowns[1:] - found.open_unknowns[:1]
        self.each_v = found.open_v[1:] - found.open_v[:1]

    def ports(self, emf: Array) -> Ports:
        rest = self.at_rest
        open_unknowns = rest.open_unknowns + emf @ self.each
        return Ports(open_unknowns, rest.reach, rest.open_v + emf @ self.each_v, rest.resistance)


def _steps(seconds: float) -> Iterator[float]:
    """Steps that fill a phase: powers of two times the shortest, a few of each, so that few systems are compiled."""
    largest, step, left, count = seconds / STEPS_A_PHASE, SHORTEST_S, seconds, 0
    while left > SHORTEST_S / 2:
        if count == GROWTH_STEPS and 2 * step <= max(largest, SHORTEST_S):
            step, count = 2 * step, 0
        while step > left + SHORTEST_S / 2 and step > SHORTEST_S:
            step, count = step / 2, 0
        yield step
        left, count = left - step, min(count + 1, GROWTH_STEPS)


def _light(
    network: Network, system: System, currents: Array, volts: Array
) -> Iterator[tuple[tuple[str, str], Array]]:
    """Of everything but filaments, by lamp and branch: (n_steps,), share of nominal [-]."""
    at: dict[tuple[str, str], list[int]] = {}
    for n, branch in enumerate(system.branches):
        at.setdefault((branch.owner, branch.name), []).append(n)
    for element in network.elements:
        for glow in element.glows:
            branches = [n for name in glow.of for n in at.get((element.name, name), ())]
            if glow.by != "heat" and branches:
                forward = np.maximum(currents[:, branches], 0.0)
                if glow.by == "watts":
                    forward = forward * np.stack([_across(system, volts, n) for n in branches], axis=1)
                yield (element.name, glow.branch), forward.sum(axis=1) / glow.nominal


def _across(system: System, volts: Array, branch: int) -> Array:
    nodes = system.branches[branch].first, system.branches[branch].second
    first, second = (
        np.zeros(len(volts)) if (place := system.place_of.get(node)) is None else volts[:, place] for node in nodes
    )
    return first - second


def _joined(parts: Mapping[Key, list[Array]]) -> dict[Key, Array]:
    return {name: np.concatenate(found) for name, found in parts.items()}
