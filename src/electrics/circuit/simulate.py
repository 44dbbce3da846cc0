"""What a circuit does in every state and phase: volts, amps, light, rates, warnings, loads, and what is wrong.

A result is a thin view over arrays; every figure is worked out when it is asked for.
"""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from functools import cached_property
from typing import Any

import numpy as np
from numpy.typing import NDArray

from electrics.circuit.build import group_by_owner
from electrics.circuit.cases import Case, Cases, is_flashing
from electrics.circuit.elements import Battery, Element, Fuse, Housed
from electrics.circuit.events import Chatter, settle
from electrics.circuit.network import Network
from electrics.circuit.rhythm import Rhythm
from electrics.circuit.roads import fed_nodes
from electrics.vocabulary import State, parse_state

__all__ = ["BACK_FEED_A", "GLOWS", "Point", "Simulation", "simulate"]

Array = NDArray[np.float64]

BACK_FEED_A = 1e-3
"""Current against a branch's intended direction from which it is a back-feed [A]."""
GLOWS = 0.01
"""Share of nominal light from which a lamp is seen to glow [-] (estimate)."""


@dataclass(frozen=True)
class Point:
    """One state in one phase, averaged over the pulse where there is one.

    Attributes
    ----------
    row : int
        Index of its (high) case in the arrays.
    """

    simulation: Simulation
    row: int

    @property
    def case(self) -> Case:
        return self.simulation.cases.all[self.row]

    @property
    def is_pulsed(self) -> bool:
        return bool(self.simulation.cases.pulsed[self.row])

    def volts(self, node: str) -> float:
        """Voltage of a node, as a meter on DC shows it [V]; KeyError names a node that is not there."""
        place = self.simulation.places[node]
        return 0.0 if place is None else float(self.simulation.mean_volts[self.row, place])

    def amps(self, element: str, branch: str = "") -> float:
        """Current of an element's branch, mean over the pulse [A]; 0 for a part that is open."""
        return float(self.simulation.amps_of(element, branch)[self.row])

    def is_fed(self, node: str) -> bool:
        """Whether a node is fed by what is meant to feed it; see `electrics.circuit.roads`."""
        place = self.simulation.places[node]
        return place is not None and bool(self.simulation.fed[self.row, place])

    def watts(self, element: str) -> float:
        """Power that an element takes up, all its branches together [W]."""
        return float(self.simulation.power.get(element, np.zeros(self.row + 1))[self.row])

    def light(self, element: str, branch: str = "") -> float:
        """Light of a lamp as a share of its nominal [-]; 0 for what is no lamp."""
        return float(self.simulation.light.get((element, branch), np.zeros(self.row + 1))[self.row])


class Simulation:
    """A network solved in some states."""

    def __init__(self, network: Network, states: Sequence[State], *, held: bool = False) -> None:
        self.network, self.states = network, tuple(states)
        system = network.system
        found = settle(system, self.states, held=held)
        self.cases: Cases = found.cases
        self.solution = found.solution
        self.chatter: tuple[Chatter, ...] = found.chatter
        self._overloads = found.overloads
        self._rows = {(case.state, case.lit): n for n, case in reversed(list(enumerate(self.cases.all))) if case.high}
        self._by_owner = group_by_owner(system.branches)
        self._amps: dict[tuple[str, str], Array] = {}
        self.kept: dict[str, Any] = {}
        self.is_followed = True
        """Whether rules may follow its capacitors through time, which takes a second."""

    def at(self, state: State | str, *, lit: bool = True) -> Point:
        """One state in its lit or dark phase; a state that does not flash has one phase."""
        state = parse_state(state) if isinstance(state, str) else state
        key = (state, lit) if (state, lit) in self._rows else (state, True)
        return Point(self, self._rows[key])

    def row(self, state: State, *, lit: bool = True) -> int:
        """The case of a state in its lit or dark phase."""
        return self._rows.get((state, lit), self._rows[state, True])

    @property
    def points(self) -> tuple[Point, ...]:
        """Every state and phase, in order."""
        return tuple(Point(self, n) for n, case in enumerate(self.cases.all) if case.high)

    def amps_of(self, element: str, branch: str = "") -> Array:
        """Current of an element's branch in every case, mean over the pulse, (n_cases,) [A]."""
        key = element, branch
        if key not in self._amps:
            self._amps[key] = self.mean_currents[:, self.rows_of(element, branch)].sum(axis=1)
        return self._amps[key]

    @cached_property
    def ways(self) -> tuple[tuple[Element, ...], Array]:
        """Elements that are meant to carry one way, and the current of each that way, (n_cases, n_ways) [A].

        Grounds and diodes are none: what runs back there is another matter, or leakage.
        """
        ways = tuple(
            each for each in self.network.elements if each.is_way and each.passes_on("") == 1 and not each.blocks
        )
        amps = [self.amps_of(each.name) for each in ways]
        return ways, np.stack(amps, axis=1) if amps else np.zeros((len(self.cases), 0))

    @cached_property
    def fed(self) -> NDArray[np.bool_]:
        """Which nodes are fed by what is meant to feed them, (n_cases, n_nodes + 1)."""
        return fed_nodes(self)

    @cached_property
    def system_scale(self) -> float:
        """The batteries' voltage as a share of 12 V, rounded to 6, 12 and 24 V systems [-]."""
        return self.network.system_scale

    def case_watts(self, each: Housed) -> Array:
        """Power that goes into the case of an element, mean over the pulse, (n_cases,) [W]."""
        return self.solution.watts(self.rows_of(each.name, each.heats_by))

    def volts_of(self, node: str) -> Array:
        """Voltage of a node in every case, mean over the pulse, (n_cases,) [V]."""
        place = self.places[node]
        return np.zeros(len(self.cases)) if place is None else self.mean_volts[:, place]

    def between(self, first: str, second: str) -> Array:
        """Voltage between two nodes in every case, mean over the pulse, (n_cases,) [V]."""
        return self.volts_of(first) - self.volts_of(second)

    def is_pulsed_at(self, first: str, second: str, row: int) -> bool:
        """Whether the voltage between two nodes is another in the high and the low part of a pulse."""
        across = self.solution.between(first, second)
        return bool(abs(across[row] - across[self.cases.pair[row]]) > 1.0)

    def rows_of(self, element: str, branch: str = "") -> list[int]:
        """Indices of the branches of an element with this name; KeyError for an element that is not there."""
        rows = self._rows_by_branch.get((element, branch), [])
        if not rows and element not in self.network:
            raise KeyError(element)
        return rows

    @cached_property
    def _rows_by_branch(self) -> Mapping[tuple[str, str], list[int]]:
        found: dict[tuple[str, str], list[int]] = {}
        for n, branch in enumerate(self.network.system.branches):
            found.setdefault((branch.owner, branch.name), []).append(n)
        return found

    @cached_property
    def places(self) -> Mapping[str, int | None]:
        """Column of every node in `mean_volts`; None for the one that all voltages are against."""
        names = self.network.system.node_names
        return dict.fromkeys(self.network.nodes) | {name: n for n, name in enumerate(names)}

    @cached_property
    def mean_volts(self) -> Array:
        """Voltage of every node, mean over the pulse, (n_cases, n_nodes) [V]."""
        return self.cases.mean(self.solution.node_volts)

    @cached_property
    def mean_currents(self) -> Array:
        """Current of every branch, mean over the pulse, (n_cases, n_branches) [A]."""
        return self.cases.mean(self.solution.currents)

    @cached_property
    def power(self) -> Mapping[str, Array]:
        """Power taken up by each element, (n_cases,) [W]; negative for a battery that delivers."""
        return {owner: self.solution.watts(rows) for owner, rows in self._by_owner.items()}

    @cached_property
    def light(self) -> Mapping[tuple[str, str], Array]:
        """Light of every lamp (element, branch) as a share of its nominal, (n_cases,) [-]."""
        system, solution = self.network.system, self.solution
        found: dict[tuple[str, str], Array] = {}
        filament_light = system.filaments.light(solution.heat) if solution.heat.shape[1] else solution.heat
        for element in self.network.elements:
            for glow in element.glows:
                branches = [n for name in glow.of for n in self._rows_by_branch.get((element.name, name), ())]
                if not branches:
                    continue
                if glow.by == "heat":
                    filaments = [system.branches[n].place for n in branches if system.branches[n].group == "filament"]
                    if filaments:
                        found[element.name, glow.branch] = filament_light[:, filaments].sum(axis=1)
                    continue
                forward = np.maximum(solution.currents[:, branches], 0.0)
                if glow.by == "watts":
                    ends = [(system.branches[n].first, system.branches[n].second) for n in branches]
                    forward = forward * np.stack([solution.between(*each) for each in ends], axis=1)
                found[element.name, glow.branch] = self.cases.mean(forward.sum(axis=1)) / glow.nominal
        return found

    def flash(self, state: State | str) -> Mapping[str, Rhythm]:
        """How each flasher and flashing output flashes in a state, by what its load draws while lit."""
        point = self.at(state, lit=True)
        if not is_flashing(point.case.state):
            return {}
        dark = self.at(point.case.state, lit=False)
        beats = (
            (element.name, element.beat(point.case, abs(point.amps(element.name)), abs(dark.amps(element.name))))
            for element in self.network.beating
        )
        return {name: rhythm for name, rhythm in beats if rhythm is not None}

    def fuse_loads(self, point: Point) -> Mapping[str, float]:
        """Current of every fuse as a share of its rating [-]."""
        return {fuse.name: abs(point.amps(fuse.name)) / fuse.rating_a for fuse in self.network.of(Fuse)}

    def blowing_a(self, fuse: str, point: Point) -> float:
        """Current that blew a fuse in a case [A]; 0 where it is whole."""
        ratings = {each.name: each.rating_a for each in self.network.of(Fuse)}
        return self._overloads.get((fuse, point.row), 0.0) * ratings[fuse]

    def drain_a(self, state: State | str = "rest") -> float:
        """Current that the batteries deliver with everything off [A]."""
        point = self.at(state)
        return float(sum(-point.amps(battery.name) for battery in self.network.of(Battery)))


def simulate(network: Network, states: Sequence[State | str], *, held: bool = False) -> Simulation:
    """Solve a network in some states, lit and dark.

    Parameters
    ----------
    network : Network
    states : sequence of State or str
        What is switched on; `brake+left` as in the open formats.
    held : bool
        Relays were pulled in just before.

    Returns
    -------
    Simulation

    Examples
    --------
    >>> from electrics.circuit.elements import Battery, Lamp
    >>> battery = Battery(name="B", nodes={"+": "bat", "-": "gnd"}, volts=12.8, resistance_ohm=0.0)
    >>> lamp = Lamp(name="L", nodes={"from": "bat", "to": "gnd"}, rated_v=12.8, rated_a=2.1)
    >>> round(simulate(Network((battery, lamp)), ["rest"]).at("rest").amps("L"), 3)
    2.1
    """
    parsed = [parse_state(state) if isinstance(state, str) else state for state in states]
    return Simulation(network, parsed, held=held)
