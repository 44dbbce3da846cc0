"""Solves every case at once: modified nodal analysis seen from the ports of the nonlinear branches, and Newton.

All that is linear is solved once for each position of the contacts: what the ports see is an open voltage and
a matrix of resistances (Thevenin). Newton's method then runs on the port voltages alone, all cases side by
side. A filament or junction lends the linear part a conductance of its own, so that a node between two
junctions is not left hanging. A case that does not settle from nothing is led there by raising its sources.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from electrics.circuit.build import Solution, System
from electrics.circuit.cases import Cases

__all__ = ["MOST_ROUNDS", "Ports", "solve"]

Array = NDArray[np.float64]
Flags = NDArray[np.bool_]

MOST_ROUNDS = 60
DAMPED_AFTER = 25
"""From this round on a step is halved [-]."""
TOLERANCE_V, TOLERANCE_PULSED_V = 1e-7, 1e-5
"""Last step of Newton's method, and of the slower iteration where filaments take their heat from pulses [V]."""
RAMP = (0.02, 0.05, 0.1, 0.2, 0.35, 0.5, 0.7, 0.85, 1.0)
"""Shares of the full sources, for a case that does not settle from nothing [-]."""


@dataclass(frozen=True)
class Ports:
    """What the nonlinear branches see of the rest, for every case.

    Attributes
    ----------
    open_unknowns : ndarray (n_cases, size)
        Node voltages and source currents while no port draws anything beyond what it lent [V, A].
    reach : ndarray (n_cases, size, n_ports)
        How one ampere out of each port's first node into its second moves every unknown [ohm].
    open_v : ndarray (n_cases, n_ports)
        Port voltages then [V].
    resistance : ndarray (n_cases, n_ports, n_ports)
        Fall of each port's voltage for an ampere drawn by each port [ohm].
    """

    open_unknowns: Array
    reach: Array
    open_v: Array
    resistance: Array

    @classmethod
    def of(cls, system: System, gates: Flags, emf: Array) -> Ports:
        """Solve the linear part of every case; cases with the same contacts and sources are solved once."""
        alike: dict[bytes, int] = {}
        place = [alike.setdefault(gates[n].tobytes() + emf[n].tobytes(), n) for n in range(len(gates))]
        kept = list(alike.values())
        if len(kept) < len(gates):
            once = cls.of(system, gates[kept], emf[kept])
            return once.taken([kept.index(n) for n in place])
        n_cases, size = len(gates), system.size
        entries = np.zeros((n_cases, len(system.changing)))
        if len(system.gated):
            entries[:, : len(system.gated)] = gates[:, system.gate_of[system.gated]] / system.ohm[system.gated]
        entries[:, len(system.gated) :] = system.lent
        matrix = (entries @ system.conductance_scatter).reshape(-1, size, size) + system.base
        right = np.zeros((n_cases, size, 1 + system.n_ports))
        right[:, system.n_nodes :, 0] = emf
        right[:, :, 1:] = system.port_columns
        solved = np.linalg.solve(matrix, right)
        at_ports = system.port_columns.T @ solved
        return cls(solved[:, :, 0], solved[:, :, 1:], at_ports[:, :, 0], at_ports[:, :, 1:])

    def taken(self, rows: Sequence[int] | NDArray[np.intp]) -> Ports:
        """The ports of some cases."""
        return Ports(self.open_unknowns[rows], self.reach[rows], self.open_v[rows], self.resistance[rows])

    def renewed(self, rows: Flags, new: Ports) -> Ports:
        """The same ports with those of some cases replaced."""
        fresh = self.taken(range(len(rows)))
        for name in ("open_unknowns", "reach", "open_v", "resistance"):
            getattr(fresh, name)[rows] = getattr(new, name)
        return fresh


def solve(
    system: System,
    cases: Cases,
    gates: Flags,
    emf: Array,
    *,
    start: Array | None = None,
    heat: Array | None = None,
    ports: Ports | None = None,
    changed: Flags | None = None,
) -> Solution:
    """Find the operating point of every case.

    Parameters
    ----------
    system : System
    cases : Cases
    gates : ndarray (n_cases, n_gates)
        Which contacts are closed.
    emf : ndarray (n_cases, n_emf)
        Electromotive forces [V].
    start : ndarray (n_cases, n_ports), optional
        Port voltages to start from [V].
    heat : ndarray (n_cases, n_filaments), optional
        Temperatures of the filaments over their hot ones, when they are given [-]; else their heat settles.
    ports : Ports, optional
        Of these contacts and sources, when they are known.
    changed : ndarray (n_cases,), optional
        The cases to solve; the others stand in `start` as they are. All otherwise.

    Returns
    -------
    Solution
        With `settled` false where no operating point was found within bounded rounds.
    """
    ports = ports or Ports.of(system, gates, emf)
    port_v = np.zeros((len(cases), system.n_ports)) if start is None else start.copy()
    everything = np.ones(len(cases), dtype=bool)
    open_ = everything if changed is None else changed
    settled, hot = _newton(system, cases, ports, port_v, heat, np.ones(len(cases)), open_, cold=start is None)
    if not settled.all():
        ramped = np.where(settled[:, None], port_v, 0.0)
        for share in RAMP:
            shares = np.where(settled, 1.0, share)
            done, hot = _newton(system, cases, ports, ramped, heat, shares, everything, cold=False)
        settled, port_v = done, ramped
    return Solution(system, cases, gates, emf, _unknowns(system, ports, port_v, hot), port_v, hot, settled)


def _unknowns(system: System, ports: Ports, port_v: Array, heat: Array) -> Array:
    drawn = system.port_currents(port_v, heat)[0] - system.lent * port_v
    return np.asarray(ports.open_unknowns - (ports.reach @ drawn[..., None])[..., 0])


def _newton(
    system: System,
    cases: Cases,
    ports: Ports,
    port_v: Array,
    given_heat: Array | None,
    source_share: Array,
    open_: Flags,
    *,
    cold: bool,
) -> tuple[Flags, Array]:
    """Newton's method on the port voltages of all cases, in place; which settled, and the filaments' heat.

    A cold start takes filaments as burning: most that are lit burn near their rated voltage.
    """
    n_filaments = system.n_filaments
    settled = ~open_
    heat = np.ones((len(cases), n_filaments)) if given_heat is None else given_heat.copy()
    live = np.flatnonzero(open_)
    for round_ in range(MOST_ROUNDS):
        is_rough = given_heat is None and cold and round_ == 0
        if given_heat is None and n_filaments and not is_rough:
            heat[live] = system.filaments.heat(cases.root_mean_square(port_v[:, :n_filaments])[live])
        v = port_v[live]
        currents, slopes = system.port_currents(v, heat[live])
        if given_heat is None and n_filaments and not is_rough:
            follows = system.filaments.response(heat[live])
            slopes[:, :n_filaments] *= np.where(cases.pulsed[live, None], 1.0, follows)
        resistance = ports.resistance[live]
        wrong = v - source_share[live, None] * ports.open_v[live]
        wrong += (resistance @ (currents - system.lent * v)[..., None])[..., 0]
        jacobian = resistance * (slopes - system.lent)[:, None, :]
        jacobian[:, np.arange(system.n_ports), np.arange(system.n_ports)] += 1.0
        step = -np.linalg.solve(jacobian, wrong[..., None])[..., 0]
        if round_ >= DAMPED_AFTER:
            step *= 0.5
        port_v[live] = v + step
        tolerance = np.where(cases.pulsed[live], TOLERANCE_PULSED_V, TOLERANCE_V)
        done = np.abs(step).max(axis=1, initial=0.0) < tolerance
        settled[live] = done
        waits = cases.pulsed[live] & ~settled[cases.pair[live]]  # both parts of a pulse settle together
        live = live[~done | waits]
        if not len(live):
            break
    if given_heat is None and n_filaments:
        heat = system.filaments.heat(cases.root_mean_square(port_v[:, :n_filaments]))
    return settled, heat
