"""Solves every case at once: modified nodal analysis, Newton's method, and a ramp of the sources where it fails."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

from electrics.circuit.build import Solution, System
from electrics.circuit.cases import Cases

__all__ = ["MOST_ROUNDS", "solve"]

Array = NDArray[np.float64]
Flags = NDArray[np.bool_]

MOST_ROUNDS = 60
DAMPED_AFTER = 25
"""From this round on a step is halved [-]."""
TOLERANCE_V = 1e-6
RAMP = (0.02, 0.05, 0.1, 0.2, 0.35, 0.5, 0.7, 0.85, 1.0)
"""Shares of the full sources, for a case that does not settle from nothing [-]."""


def solve(
    system: System,
    cases: Cases,
    gates: Flags,
    emf: Array,
    *,
    start: Array | None = None,
    heat: Array | None = None,
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
    start : ndarray (n_cases, size), optional
        Where to start from; nothing otherwise.
    heat : ndarray (n_cases, n_filaments), optional
        Temperatures of the filaments over their hot ones, when they are given [-]; else their heat settles.

    Returns
    -------
    Solution
        With `settled` false where no operating point was found within bounded rounds.
    """
    unknowns = np.zeros((len(cases), system.size)) if start is None else start.copy()
    settled, hot = _newton(system, cases, gates, emf, unknowns, heat)
    if not settled.all():
        ramped = np.where(settled[:, None], unknowns, 0.0)
        for share in RAMP:
            settled, hot = _newton(system, cases, gates, emf * np.where(settled[:, None], 1.0, share), ramped, heat)
        unknowns = ramped
    return Solution(system, cases, gates, unknowns, hot, emf, settled)


def _newton(
    system: System, cases: Cases, gates: Flags, emf: Array, unknowns: Array, given_heat: Array | None
) -> tuple[Flags, Array]:
    """Newton's method on all cases side by side, in place; which settled, and the filaments' heat."""
    size, n_nodes = system.size, system.n_nodes
    n_filaments = len(system.ends["filament"])
    n_junctions = len(system.ends["junction"])
    filament_ends, nonlinear_ends = system.ends["filament"], system.changing[len(system.gated) :]
    contacts = np.zeros((len(cases), len(system.gated)))
    if len(system.gated):
        contacts = gates[:, system.gate_of[system.gated]] / system.ohm[system.gated]
    settled = np.zeros(len(cases), dtype=bool)
    heat = np.ones((len(cases), n_filaments)) if given_heat is None else given_heat.copy()
    live = np.arange(len(cases))
    for round_ in range(MOST_ROUNDS):
        x = unknowns[live]
        across = system.across(x, nonlinear_ends)
        filament_v, junction_v = across[:, :n_filaments], across[:, n_filaments : n_filaments + n_junctions]
        if given_heat is None and n_filaments:
            everywhere = system.across(unknowns, filament_ends)
            heat[live] = system.filaments.heat(cases.root_mean_square(everywhere)[live])
        conductance = system.filaments.conductance_s(heat[live])
        slope = conductance
        if given_heat is None and n_filaments:
            slope = np.where(
                cases.pulsed[live, None], conductance, conductance * system.filaments.response(heat[live])
            )
        junction_a, junction_s = system.junctions.current(junction_v)
        regulated_a, regulated_s = system.regulated.current(across[:, n_filaments + n_junctions :])
        slopes = np.concatenate([slope, junction_s, regulated_s], axis=1)
        currents = np.concatenate([conductance * filament_v, junction_a, regulated_a], axis=1)
        matrix = (np.concatenate([contacts[live], slopes], axis=1) @ system.conductance_scatter).reshape(
            -1, size, size
        )
        matrix += system.base
        right = -((currents - slopes * across) @ system.current_scatter)
        right[:, n_nodes:] += emf[live]
        new = np.linalg.solve(matrix, right[..., None])[..., 0]
        step = new - x
        if round_ >= DAMPED_AFTER:
            step *= 0.5
        unknowns[live] = x + step
        moved = np.abs(step[:, :n_nodes]).max(axis=1, initial=0.0)
        done = moved < TOLERANCE_V
        settled[live] = done
        waits = cases.pulsed[live] & ~settled[cases.pair[live]]  # both parts of a pulse settle together
        live = live[~done | waits]
        if not len(live):
            break
    return settled, heat
