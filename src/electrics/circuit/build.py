"""Elements add themselves here as primitive branches; the compiled system is arrays over branches and cases.

Six kinds of primitive are enough: a resistor (which may be gated: a contact), an electromotive force, a
filament, a junction, a regulated current and a regulated power. A gate is open or closed in each case, by what is
switched on or by a rule that looks at the solution (a relay, a fuse, an output that shuts off). A capacitor is an
electromotive force behind its resistance: cut off at rest, at the voltage that balances its charge on pulses, and
in small steps of time a source that follows its charge.
"""

from __future__ import annotations

from collections.abc import Callable, Iterable, Mapping, Sequence
from dataclasses import dataclass
from typing import Protocol, runtime_checkable

import numpy as np
from numpy.typing import NDArray
from scipy import sparse

from electrics.circuit.cases import Case, Cases, Pulse
from electrics.circuit.filament import Filaments
from electrics.circuit.junction import Junctions, Powered, Regulated

__all__ = ["LEAK_S", "Branch", "Builder", "GateRule", "Solution", "System"]

Array = NDArray[np.float64]
Flags = NDArray[np.bool_]

LENT_S = 1e-3
"""Conductance that a junction or a regulated lamp lends the linear part while it is solved [S]."""
LEAK_S = 1e-12
"""Conductance from every node to the reference, so that a floating node has a voltage at all [S]."""

_PORTS = ("filament", "junction", "regulated", "powered")
_GROUPS = ("resistor", "emf", *_PORTS)


@dataclass(frozen=True)
class Branch:
    """One primitive: to which element it belongs, what it is called there, and between which nodes it lies."""

    owner: str
    name: str
    group: str
    place: int
    first: str
    second: str


class GateRule(Protocol):
    """Something that changes gates by what the solution shows."""

    @property
    def owner(self) -> str:
        """The element it belongs to."""
        ...

    @property
    def gates(self) -> tuple[int, ...]:
        """The gates it moves."""
        ...

    @property
    def is_slow(self) -> bool:
        """Whether it waits until everything quick has settled: fuses and shut-offs."""
        ...

    def update(self, solution: Solution, gates: Flags) -> tuple[Flags, Array]:
        """The gates as they should be, (n_cases, n_own_gates), and how urgent a slow change is, (n_cases,) [-]."""
        ...


@runtime_checkable
class Holding(Protocol):
    """A rule with a memory: what it does depends on where its contacts were before."""

    def hold(self, gates: Flags) -> None:
        """Put its gates where they are when it was in before, (n_cases, n_gates)."""
        ...


@dataclass(frozen=True)
class Charge:
    """A capacitor: the force and the gate that it is made of, its size [F], its own resistance [ohm], its nodes."""

    emf: int
    gate: int
    farad: float
    ohm: float
    first: str
    second: str


class Builder:
    """Collects the primitives of all elements; with a step of time [s] for capacitors that are followed in it."""

    def __init__(self, reference: str, step_s: float | None = None) -> None:
        self.step_s = step_s
        self.charges: list[Charge] = []
        self.nodes: dict[str, int] = {reference: -1}
        self.branches: list[Branch] = []
        self.ends: dict[str, list[tuple[int, int]]] = {group: [] for group in _GROUPS}
        self.values: dict[str, list[tuple[float, ...]]] = {group: [] for group in _GROUPS}
        self.resistor_gates: list[int] = []
        self.emf_volts: list[Callable[[Case], float]] = []
        self.gates: list[Callable[[Case], bool]] = []
        self.rules: list[GateRule] = []
        self.pulses: list[Pulse] = []

    def node(self, name: str) -> int:
        """Index of a node, made on first use; the reference is -1."""
        return self.nodes.setdefault(name, len(self.nodes) - 1)

    def _add(self, owner: str, name: str, group: str, first: str, second: str, *values: float) -> int:
        place = len(self.values[group])
        self.ends[group].append((self.node(first), self.node(second)))
        self.values[group].append(values)
        self.branches.append(Branch(owner, name, group, place, first, second))
        return len(self.branches) - 1

    def resistor(self, owner: str, first: str, second: str, ohm: float, *, name: str = "", gate: int = -1) -> int:
        """A resistor [ohm], or a contact that has this resistance while its gate is closed."""
        self.resistor_gates.append(gate)
        return self._add(owner, name, "resistor", first, second, ohm)

    def emf(
        self, owner: str, first: str, second: str, volts: Callable[[Case], float], ohm: float, *, name: str = ""
    ) -> int:
        """An electromotive force [V] with its internal resistance [ohm]."""
        self.emf_volts.append(volts)
        return self._add(owner, name, "emf", first, second, ohm)

    def filament(
        self, owner: str, first: str, second: str, rated_v: float, rated_a: float, hot_k: float, *, name: str = ""
    ) -> int:
        """A filament by its rated volts, amps and kelvin."""
        return self._add(owner, name, "filament", first, second, rated_v, rated_a, hot_k)

    def junction(
        self,
        owner: str,
        first: str,
        second: str,
        saturation_a: float,
        slope_v: float,
        series_ohm: float,
        *,
        name: str = "",
    ) -> int:
        """A junction that conducts from the first node to the second."""
        return self._add(owner, name, "junction", first, second, saturation_a, slope_v, series_ohm)

    def regulated(
        self, owner: str, first: str, second: str, amps_a: float, start_v: float, width_v: float, *, name: str = ""
    ) -> int:
        """A regulated current that starts at a voltage."""
        return self._add(owner, name, "regulated", first, second, amps_a, start_v, width_v)

    def powered(
        self, owner: str, first: str, second: str, watts: float, start_v: float, width_v: float, *, name: str = ""
    ) -> int:
        """A power [W] that starts at a voltage and stays the same above it."""
        return self._add(owner, name, "powered", first, second, watts, start_v, width_v)

    def capacitor(self, owner: str, first: str, second: str, farad: float, ohm: float, *, name: str = "") -> int:
        """A capacitor [F] with its own resistance [ohm]."""
        inner = f"{owner}.{name or 'plate'}"
        gate = self.gate(lambda case: self.step_s is not None)
        ohm += self.step_s / farad if self.step_s else 0.0
        branch = self.resistor(owner, first, inner, ohm, name=name or "charge", gate=gate)
        self.charges.append(Charge(len(self.emf_volts), gate, farad, ohm, first, second))
        self.emf(owner, inner, second, lambda case: 0.0, 0.0, name=f"{name}_held" if name else "held")
        return branch

    def gate(self, closed: Callable[[Case], bool]) -> int:
        """A gate that starts as this says; a rule may change it."""
        self.gates.append(closed)
        return len(self.gates) - 1

    def rule(self, rule: GateRule) -> None:
        self.rules.append(rule)

    def pulse(self, pulse: Pulse) -> None:
        self.pulses.append(pulse)


class System:
    """The compiled network: unknowns are node voltages and the currents of electromotive forces."""

    def __init__(self, builder: Builder) -> None:
        self.node_names = [name for name, place in builder.nodes.items() if place >= 0]
        self.branches = tuple(builder.branches)
        self.rules = tuple(builder.rules)
        self.pulses = tuple(builder.pulses)
        self.charges = tuple(builder.charges)
        self._gates, self._emf_volts = builder.gates, builder.emf_volts
        n_nodes = len(self.node_names)
        self.n_nodes, self.n_emf = n_nodes, len(builder.emf_volts)
        self.size = n_nodes + self.n_emf
        self.ends = {group: np.array(builder.ends[group], dtype=np.intp).reshape(-1, 2) for group in _GROUPS}
        columns = {group: np.array(builder.values[group], dtype=float).T for group in _GROUPS}
        gate = np.array(builder.resistor_gates, dtype=np.intp)
        ohm = columns["resistor"][0] if len(gate) else np.zeros(0)
        self.ohm, self.gate_of = ohm, gate
        self.gated = np.flatnonzero(gate >= 0)
        self.filaments = Filaments(*_three(columns["filament"]))
        self.junctions = Junctions(*_three(columns["junction"]))
        self.regulated = Regulated(*_three(columns["regulated"]))
        self.powered = Powered(*_three(columns["powered"]))
        self.emf_ohm = columns["emf"][0] if self.n_emf else np.zeros(0)
        fixed = np.flatnonzero(gate < 0)
        self.base = np.zeros((self.size, self.size))
        self.base += (_scatter(self.ends["resistor"][fixed], self.size).T @ (1.0 / ohm[fixed])).reshape(
            self.base.shape
        )
        self.base[np.arange(n_nodes), np.arange(n_nodes)] += LEAK_S
        for k, (first, second) in enumerate(self.ends["emf"]):
            row = n_nodes + k
            for node, sign in ((first, 1.0), (second, -1.0)):
                if node >= 0:
                    self.base[node, row] += sign
                    self.base[row, node] += sign
            self.base[row, row] -= self.emf_ohm[k]
        changing = [self.ends["resistor"][self.gated], *(self.ends[group] for group in _PORTS)]
        self.changing = np.concatenate(changing)
        self.conductance_scatter = _scatter(self.changing, self.size)
        port_ends = np.concatenate(changing[1:])
        self.n_ports, self.n_filaments = len(port_ends), len(self.ends["filament"])
        self.n_junctions = len(self.ends["junction"])
        self.n_regulated = len(self.ends["regulated"])
        self.port_columns = _incidence(port_ends, self.size)
        self.lent = np.full(self.n_ports, LENT_S)
        self.lent[: self.n_filaments] = 1.0 / self.filaments.hot_ohm[: self.n_filaments]
        self.place_of: Mapping[str, int] = {name: n for n, name in enumerate(self.node_names)}
        begins = dict(zip(_GROUPS, np.cumsum([0, *(len(self.ends[group]) for group in _GROUPS)]), strict=False))
        self.by_branch = np.array([begins[each.group] + each.place for each in self.branches], dtype=np.intp)

    def gates(self, cases: Cases) -> Flags:
        """Every gate in every case before any rule has spoken, (n_cases, n_gates)."""
        return np.array([[gate(case) for gate in self._gates] for case in cases.all], dtype=bool).reshape(
            len(cases), len(self._gates)
        )

    def emf(self, cases: Cases) -> Array:
        """Every electromotive force in every case, (n_cases, n_emf) [V]."""
        return np.array([[volts(case) for volts in self._emf_volts] for case in cases.all], dtype=float).reshape(
            len(cases), self.n_emf
        )

    def port_currents(self, port_v: Array, heat: Array) -> tuple[Array, Array]:
        """Currents [A] and slopes [S] of all nonlinear branches at these port voltages and filament temperatures."""
        n, m = self.n_filaments, self.n_filaments + self.n_junctions
        k = m + self.n_regulated
        conductance = self.filaments.conductance_s(heat) if n else np.zeros((len(port_v), 0))
        currents, slopes = [conductance * port_v[:, :n]], [conductance]
        for law, first, last in ((self.junctions, n, m), (self.regulated, m, k), (self.powered, k, self.n_ports)):
            if last > first:
                amps, slope = law.current(port_v[:, first:last])
                currents.append(amps)
                slopes.append(slope)
        return np.concatenate(currents, axis=1), np.concatenate(slopes, axis=1)

    def across(self, unknowns: Array, ends: NDArray[np.intp]) -> Array:
        """Voltage of branches, (n_cases, n_branches) [V]."""
        padded = np.concatenate([unknowns[:, : self.n_nodes], np.zeros((len(unknowns), 1))], axis=1)
        return np.asarray(padded[:, ends[:, 0]] - padded[:, ends[:, 1]])


def _three(columns: Array) -> tuple[Array, Array, Array]:
    if not columns.size:
        return np.ones(0), np.ones(0), np.ones(0)
    return columns[0], columns[1], columns[2]


def _scatter(ends: NDArray[np.intp], size: int) -> sparse.csr_matrix:
    """Turns conductances (n_branches,) into matrix entries (size * size,)."""
    rows, places, signs = [], [], []
    for n, (first, second) in enumerate(ends):
        for a, b, sign in ((first, first, 1), (second, second, 1), (first, second, -1), (second, first, -1)):
            if a >= 0 and b >= 0:
                rows.append(n)
                places.append(a * size + b)
                signs.append(float(sign))
    return sparse.csr_matrix((signs, (rows, places)), shape=(len(ends), size * size))


def _incidence(ends: NDArray[np.intp], size: int) -> Array:
    """One column a branch: plus one at its first node, minus one at its second, (size, n_branches)."""
    columns = np.zeros((size, len(ends)))
    for n, (first, second) in enumerate(ends):
        if first >= 0:
            columns[first, n] += 1.0
        if second >= 0:
            columns[second, n] -= 1.0
    return columns


class Solution:
    """Voltages and currents of every case, with what rules need to look at them."""

    def __init__(
        self,
        system: System,
        cases: Cases,
        gates: Flags,
        emf: Array,
        unknowns: Array,
        port_v: Array,
        heat: Array,
        settled: Flags,
    ) -> None:
        self.system, self.cases, self.gates, self.emf = system, cases, gates, emf
        self.unknowns, self.port_v, self.heat, self.settled = unknowns, port_v, heat, settled
        self.node_volts = unknowns[:, : system.n_nodes]
        self.currents = self._currents()

    def volts(self, node: str) -> Array:
        """Voltage of a node in every case, (n_cases,) [V]."""
        place = self.system.place_of.get(node)
        return np.zeros(len(self.unknowns)) if place is None else self.node_volts[:, place]

    def between(self, first: str, second: str) -> Array:
        """Voltage between two nodes in every case, (n_cases,) [V]."""
        return self.volts(first) - self.volts(second)

    def watts(self, rows: Iterable[int]) -> Array:
        """Power that some branches take up together, by their indices, mean over the pulse, (n_cases,) [W]."""
        total = np.zeros(len(self.cases))
        for n in rows:
            branch = self.system.branches[n]
            total = total + self.between(branch.first, branch.second) * self.currents[:, n]
        return self.cases.mean(total)

    def _currents(self) -> Array:
        system = self.system
        closed = np.ones((len(self.unknowns), len(system.gate_of)), dtype=bool)
        if self.gates.shape[1]:
            closed = np.where(system.gate_of >= 0, self.gates[:, system.gate_of], True)
        resistors = system.across(self.unknowns, system.ends["resistor"]) / system.ohm * closed
        ports, _ = system.port_currents(self.port_v, self.heat)
        by_group = np.concatenate([resistors, self.unknowns[:, system.n_nodes :], ports], axis=1)
        return np.asarray(by_group[:, system.by_branch])


def group_by_owner(branches: Sequence[Branch]) -> dict[str, list[int]]:
    """Indices of the branches of each element."""
    found: dict[str, list[int]] = {}
    for n, branch in enumerate(branches):
        found.setdefault(branch.owner, []).append(n)
    return found
