"""Lets relays, fuses, flashers and shut-offs come to rest, or says which of them cannot.

Quick rules (relays, modules) move until none wants to; then, one at a time and the most overloaded first,
the slow ones (fuses, shut-offs), which latch. A case that comes back to a state of its contacts it was in
before chatters: the rules that moved on the way round are named, with a rate from how fast contacts move.
"""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from electrics.circuit.build import GateRule, Holding, Solution, System
from electrics.circuit.cases import Case, Cases
from electrics.circuit.solve import Ports, solve
from electrics.vocabulary import State

__all__ = ["CHATTER_HZ", "Chatter", "Settled", "settle"]

Array = NDArray[np.float64]
Flags = NDArray[np.bool_]

MOST_EVENTS = 60
"""Moves of contacts before a case is given up as restless [-]."""
CHATTER_HZ = 45.0
"""A relay that pulls itself off moves about this often [Hz]: some 12 ms to pull in, 10 ms to drop out (estimate)."""


@dataclass(frozen=True)
class Chatter:
    """A case whose contacts never come to rest, and the elements that keep moving."""

    case: Case
    owners: tuple[str, ...]
    rate_hz: float = CHATTER_HZ


@dataclass(frozen=True)
class Settled:
    """Every case at rest, or as it was last; what blew or shut off on the way; what chatters."""

    cases: Cases
    solution: Solution
    chatter: tuple[Chatter, ...]
    overloads: Mapping[tuple[str, int], float]
    """Of every element that blew or shut off, by case index: its load then, over its limit [-]."""


def settle(system: System, states: Sequence[State], *, held: bool = False) -> Settled:
    """Solve every state and phase with all contacts where they come to rest.

    Parameters
    ----------
    system : System
    states : sequence of State
    held : bool
        Relays begin pulled in, as they are when they were in just before: a coil between its two voltages keeps
        them there.

    Returns
    -------
    Settled
    """
    cases = Cases(states, system.pulses)
    gates, emf = system.gates(cases), system.emf(cases)
    if held:
        for rule in system.rules:
            if isinstance(rule, Holding):
                rule.hold(gates)
    ports = Ports.of(system, gates, emf)
    solution = solve(system, cases, gates, emf, ports=ports)
    seen: list[dict[bytes, int]] = [{gates[n].tobytes(): 0} for n in range(len(cases))]
    past = [gates]
    restless = np.zeros(len(cases), dtype=bool)
    chatter: list[Chatter] = []
    overloads: dict[tuple[str, int], float] = {}
    quick = [rule for rule in system.rules if not rule.is_slow]
    slow = [rule for rule in system.rules if rule.is_slow]
    for event in range(1, MOST_EVENTS):
        wanted = _quick(quick, solution, gates)
        wanted[restless] = gates[restless]
        still = (wanted == gates).all(axis=1) & ~restless
        if slow and still.any():
            overloads |= _slow(slow, solution, wanted, still)
        if (wanted == gates).all():
            break
        gates = wanted
        past.append(gates)
        for n in np.flatnonzero((past[-1] != past[-2]).any(axis=1)):
            key = gates[n].tobytes()
            if key in seen[n]:
                restless[n] = True
                chatter.append(_chatter(system, cases.all[n], [each[n] for each in past[seen[n][key] :]]))
            seen[n][key] = event
        changed = np.asarray((past[-1] != past[-2]).any(axis=1))
        changed |= changed[cases.pair]
        ports = ports.renewed(changed, Ports.of(system, gates[changed], emf[changed]))
        solution = solve(system, cases, gates, emf, start=solution.port_v, ports=ports, changed=changed)
    if system.charges and cases.pulsed.any():
        solution = _charged(system, cases, gates, emf, solution)
    return Settled(cases, solution, tuple(chatter), overloads)


MOST_BALANCES, BALANCED_A = 40, 1e-6
"""Rounds in which capacitors find their voltage, and the mean current that is none [A]."""


def _charged(system: System, cases: Cases, gates: Flags, emf: Array, solution: Solution) -> Solution:
    """The same with every capacitor on pulses at the voltage that takes as much charge as it gives.

    It is taken as large: its voltage does not move within a pulse. Contacts stay where they came to rest without.
    """
    gates, emf = gates.copy(), emf.copy()
    columns = [charge.emf for charge in system.charges]
    gates[:, [charge.gate for charge in system.charges]] = cases.pulsed[:, None]
    currents = slice(system.n_nodes, None)
    volts = np.zeros((len(cases), len(columns)))
    for n, charge in enumerate(system.charges):
        across = solution.between(charge.first, charge.second)
        volts[:, n] = np.maximum(across, across[cases.pair])
    low, high = np.minimum(volts, 0.0), np.maximum(volts, 0.0)
    for _ in range(MOST_BALANCES):
        emf[:, columns] = np.where(cases.pulsed[:, None], volts, 0.0)
        solution = solve(system, cases, gates, emf, start=solution.port_v)
        amps = cases.mean(solution.unknowns[:, currents][:, columns])
        if np.abs(amps[cases.pulsed]).max(initial=0.0) < BALANCED_A:
            break
        low, high = np.where(amps > 0, volts, low), np.where(amps > 0, high, volts)
        volts = (low + high) / 2
    return solution


def _quick(rules: Sequence[GateRule], solution: Solution, gates: Flags) -> Flags:
    wanted = gates.copy()
    for rule in rules:
        own = list(rule.gates)
        wanted[:, own], _ = rule.update(solution, gates[:, own])
    return wanted


def _slow(rules: Sequence[GateRule], solution: Solution, wanted: Flags, still: Flags) -> dict[tuple[str, int], float]:
    """Move the most overloaded slow element of each case that is otherwise still."""
    urgency = np.zeros((len(wanted), len(rules)))
    moved = []
    for k, rule in enumerate(rules):
        own = list(rule.gates)
        new, load = rule.update(solution, wanted[:, own])
        moved.append((own, new))
        urgency[:, k] = np.where((new != wanted[:, own]).any(axis=1) & still, load, 0.0)
    first = urgency.argmax(axis=1)
    overloads = {}
    for n in np.flatnonzero(urgency.max(axis=1) > 0):
        own, new = moved[int(first[n])]
        wanted[n, own] = new[n]
        overloads[rules[int(first[n])].owner, int(n)] = float(urgency[n, first[n]])
    return overloads


def _chatter(system: System, case: Case, round_: list[Flags]) -> Chatter:
    moves = np.stack(round_)
    moving = np.asarray(moves.any(axis=0) & ~moves.all(axis=0))
    owners = [rule.owner for rule in system.rules if moving[list(rule.gates)].any()]
    return Chatter(case, tuple(dict.fromkeys(owners)))
