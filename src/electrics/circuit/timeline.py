"""What happens over some seconds: filaments warm up, flashers beat, relays move, fuses blow, resistors heat.

Quasi-static: at each instant the network is solved with the filaments at the heat they have; then heat,
contacts and clocks move on. Steps are short after an event and grow until the next. A relay breaks before it
makes and takes its time; what a module or flasher does in each phase is taken from the settled state.
"""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from electrics.circuit.build import GateRule, Solution, System
from electrics.circuit.cases import Cases
from electrics.circuit.elements import ComputerOutput, Glow, Housed
from electrics.circuit.elements.overload import OverloadRule
from electrics.circuit.elements.parts import RelayRule
from electrics.circuit.findings import RULES
from electrics.circuit.network import Network
from electrics.circuit.simulate import Simulation
from electrics.circuit.solve import Ports, solve
from electrics.reference.mounts import body_c, stages
from electrics.vocabulary import State, parse_state

__all__ = ["Event", "Timeline", "body_temperature_c", "timeline"]

Array = NDArray[np.float64]
Flags = NDArray[np.bool_]

FIRST_STEP_S, LONGEST_STEP_S, GROWTH = 0.004, 0.08, 1.8
RELAY_S = {True: 0.007, False: 0.004}
"""How long contacts are between pulling in and dropping out [s] (data sheets, from memory)."""
WARNINGS = ("outage_warning", "overload_warning", "given_up")
"""Findings that stand in the dash."""
MOST_MOVES = 60
"""Moves of one relay after which it is said to chatter and left as it is [-]."""


@dataclass(frozen=True)
class Event:
    """When [s] what happened to what: `lit`, `dark`, `in`, `out`, `blown`, `shut off`, `warns` or `silent`."""

    at_s: float
    owner: str
    what: str


@dataclass(frozen=True)
class Timeline:
    """Everything over time.

    Attributes
    ----------
    times_s : ndarray (n,)
        [s]
    light : mapping of str to ndarray (n,)
        Of every filament lamp (`name` or `name.branch`) and LED, share of nominal [-].
    body_c : mapping of str to ndarray (n,)
        Body of every housed resistor [C].
    chatter : tuple of str
        Relays that never come to rest.
    """

    times_s: Array
    light: dict[str, Array]
    body_c: dict[str, Array]
    events: tuple[Event, ...]
    chatter: tuple[str, ...]


def timeline(network: Network, schedule: Sequence[tuple[float, State | str]], duration_s: float) -> Timeline:
    """Follow a network through a schedule of states.

    Parameters
    ----------
    network : Network
    schedule : sequence of (float, State or str)
        From when on [s] what is switched on; the first begins at zero.
    duration_s : float
        When it ends [s], at most 3600.

    Returns
    -------
    Timeline
    """
    if not 0 < duration_s <= 3600:
        raise ValueError(f"{duration_s:g} s cannot be followed. Expected more than 0, at most 3600 s.")
    run = _TimelineRun(network)
    parts = [(at, parse_state(state) if isinstance(state, str) else state) for at, state in schedule]
    ends = [*(at for at, _ in parts[1:]), duration_s]
    for (start, state), end in zip(parts, ends, strict=True):
        run.follow(state, start, min(end, duration_s))
    return run.result()


def body_temperature_c(resistor: Housed, power_w: float, seconds: float) -> float:
    """Body of a housed resistor after some time at a mean power [C].

    Parameters
    ----------
    resistor : Housed
        With a case size.
    power_w : float
        Mean power [W].
    seconds : float
        Since it was cold [s].

    Returns
    -------
    float
        Above 200 C the part is destroyed and the figure means nothing.
    """
    assert resistor.watts is not None
    return body_c(resistor.watts, resistor.mounting, power_w, seconds, resistor.ambient_c)


class _TimelineRun:
    def __init__(self, network: Network) -> None:
        self.network, self.system = network, network.system
        self.heat = (
            np.full(self.system.n_filaments, self.system.filaments.ambient_k)
            / (self.system.filaments.hot_k[: self.system.n_filaments])
        )
        self.relays = [rule for rule in self.system.rules if isinstance(rule, RelayRule)]
        self.overloads = [rule for rule in self.system.rules if isinstance(rule, OverloadRule)]
        branches = [(rule, branch) for rule in self.overloads for branch in rule.branches]
        self.overload_owners = [rule for rule, _ in branches]
        self.overload_branches = [branch for _, branch in branches]
        self.overload_limits = np.array([rule.limit_a for rule, _ in branches])
        self.held: dict[int, bool] = {}
        self.due: dict[GateRule, tuple[float, Flags]] = {}
        self.worn: dict[str, float] = {}
        self.moves: dict[str, int] = {}
        self.events: list[Event] = []
        self.warning: set[str] = set()
        self.resistors = [each for each in network.of(Housed) if each.watts is not None]
        self.heating = {each.name: _heating(self.system, each) for each in self.resistors}
        self.stages = {each.name: stages(each.watts or 0.0, each.mounting) for each in self.resistors}
        self.rises = {name: [0.0] * len(parts) for name, parts in self.stages.items()}
        self.body = {each.name: each.ambient_c for each in self.resistors}
        self.samples: list[tuple[float, Array, dict[str, float]]] = []
        self.powers: list[tuple[float, dict[str, float]]] = []
        self.beats: dict[tuple[State, bool, bytes], _Beat] = {}
        self.bodies: list[dict[str, float]] = []
        self.ports: dict[bytes, Ports] = {}
        self.port_v: Array | None = None
        self.lamps = _lamps(network, self.system)

    def follow(self, state: State, start: float, end: float) -> None:
        """Go through one state."""
        settled = Simulation(self.network, [state])
        beats = [rhythm for rhythm in settled.flash(state).values() if rhythm.per_minute > 0]
        halves = (beats[0].duty, 1 - beats[0].duty) if beats else (1.0, 0.0)
        period = 60.0 / beats[0].per_minute if beats else float("inf")
        flashing = next(iter(settled.flash(state)), "")
        now, lit = start, True
        self.ports.clear()
        if state.is_dead:
            self.turn_key()
        self.watch(settled, state, start)
        while now < end - 1e-9:
            until = min(end, now + (halves[0 if lit else 1] * period if beats else end))
            if flashing and beats:
                self.events.append(Event(now, flashing, "lit" if lit else "dark"))
            self.phase(settled, state, lit, now, until)
            now, lit = until, not lit if beats else lit

    def watch(self, settled: Simulation, state: State, now: float) -> None:
        """Which outputs report a lamp: until it is right again, or until the key is off where the message latches."""
        point = settled.at(state)
        bad = {each.subject for rule in WARNINGS for each in RULES[rule](point)}
        latching = {output.name for output in self.network.of(ComputerOutput) if output.latches}
        over = {name for name in self.warning if state.is_dead or (name not in latching and name not in bad)}
        for name in sorted(over):
            self.events.append(Event(now, name, "silent"))
        for name in sorted(bad - self.warning):
            self.events.append(Event(now, name, "warns"))
        self.warning = (self.warning - over) | bad

    def turn_key(self) -> None:
        """What shut off comes back with the next key cycle; a fuse does not."""
        for rule in self.overloads:
            if rule.comes_back:
                self.worn.pop(rule.owner, None)
                for gate in rule.gates:
                    self.held.pop(gate, None)

    def phase(self, settled: Simulation, state: State, lit: bool, now: float, until: float) -> None:
        cases = Cases([state], self.system.pulses, (lit,))
        emf = self.system.emf(cases)
        row = settled.at(state, lit=lit).row
        base = np.stack([settled.solution.gates[row], settled.solution.gates[settled.cases.pair[row]]])[: len(cases)]
        if len(cases) == 2 and not cases.all[0].high:
            base = base[::-1]
        fresh = self.system.gates(cases)
        for gates in [rule.gates for rule in self.relays] + [rule.gates for rule in self.overloads]:
            for gate in gates:
                base[:, gate] = fresh[:, gate] if gate not in self.held else self.held[gate]
        if self.port_v is not None and len(self.port_v) != len(cases):
            self.port_v = np.repeat(self.port_v[:1], len(cases), axis=0)
        step = FIRST_STEP_S
        beat = self.beats.get(key := (state, lit, base.tobytes()))
        if beat is not None and beat.fits(self, until - now):
            beat.again(self, now)
            return
        beat = _Beat.begin(self, until - now)
        while now < until - 1e-9:
            step = min(step, until - now, *(max(at - now, 1e-4) for at, _ in self.due.values()))
            solution = self.solve(cases, base, emf, lit)
            self.record(now, solution)
            self.warm(solution, step)
            moved = self.move(solution, base, now, step)
            now += step
            step = FIRST_STEP_S if moved else min(step * GROWTH, LONGEST_STEP_S)
        if not self.due and beat.held == self.held:
            self.beats[key] = beat.end(self, until)

    def solve(self, cases: Cases, gates: Flags, emf: Array, lit: bool) -> Solution:
        key = gates.tobytes() + bytes([lit])
        if key not in self.ports:
            self.ports[key] = Ports.of(self.system, gates, emf)
        heat = np.repeat(self.heat[None, :], len(cases), axis=0)
        found = solve(self.system, cases, gates, emf, start=self.port_v, heat=heat, ports=self.ports[key])
        self.port_v = found.port_v
        return found

    def warm(self, solution: Solution, step: float) -> None:
        """Filaments and resistor bodies move towards the heat that they would settle at."""
        n = self.system.n_filaments
        if n:
            volts = solution.cases.root_mean_square(solution.port_v[:, :n])[0]
            self.heat = self.system.filaments.warmed(self.heat, volts, step)
        watts = {name: float(solution.watts(rows)[0]) for name, rows in self.heating.items()}
        self.powers.append((step, watts))
        self.warm_bodies(step, watts)

    def warm_bodies(self, step: float, watts: Mapping[str, float]) -> None:
        for each in self.resistors:
            rises = self.rises[each.name]
            for n, stage in enumerate(self.stages[each.name]):
                target_k = watts[each.name] * stage.k_per_w
                rises[n] = target_k - (target_k - rises[n]) * float(np.exp(-step / stage.tau_s))
            self.body[each.name] = each.ambient_c + sum(rises)

    def move(self, solution: Solution, gates: Flags, now: float, step: float) -> bool:
        """Relays begin or end a move, overloaded fuses and outputs wear; whether any contact moved."""
        moved = False
        for overload in self.overloaded(solution):
            moved |= self.wear(overload, solution, gates, now, step)
        for rule in self.relays:
            own = list(rule.gates)
            if rule in self.due:
                at, target = self.due[rule]
                if at <= now + step + 1e-9:
                    del self.due[rule]
                    moved |= self.set(rule, gates, target)
                continue
            wanted, _ = rule.update(solution, gates[:, own])
            if (wanted[0] != gates[0, own]).any() and self.moves.get(rule.owner, 0) < MOST_MOVES:
                self.due[rule] = (now + step + RELAY_S[bool(wanted[0, 0])], wanted[0].copy())
                self.moves[rule.owner] = self.moves.get(rule.owner, 0) + 1
                self.events.append(Event(now + step, rule.owner, "in" if wanted[0, 0] else "out"))
                moved |= self.set(rule, gates, np.zeros(len(own), dtype=bool))  # break before make
        return moved

    def overloaded(self, solution: Solution) -> list[OverloadRule]:
        """What carries more than its limit in this instant."""
        if not self.overloads:
            return []
        loads = np.abs(solution.currents[0, self.overload_branches]) / self.overload_limits
        return list(dict.fromkeys(self.overload_owners[k] for k in np.flatnonzero(loads > 1)))

    def wear(self, rule: OverloadRule, solution: Solution, gates: Flags, now: float, step: float) -> bool:
        """An overloaded part wears by the share of the time it bears the load; whether it gave way."""
        own = list(rule.gates)
        _, load = rule.update(solution, gates[:, own])
        self.worn[rule.owner] = self.worn.get(rule.owner, 0.0) + step / rule.bears_s(float(load[0]))
        if self.worn[rule.owner] < 1 or not gates[0, own].any():
            return False
        self.events.append(Event(now + step, rule.owner, rule.word))
        return self.set(rule, gates, np.zeros(len(own), dtype=bool))

    def set(self, rule: GateRule, gates: Flags, values: Flags) -> bool:
        for gate, value in zip(rule.gates, values, strict=True):
            gates[:, gate] = value
            self.held[gate] = bool(value)
        return True

    def record(self, now: float, solution: Solution) -> None:
        self.samples.append((now, self.heat, self.light(solution)))
        self.bodies.append(dict(self.body))

    def light(self, solution: Solution) -> dict[str, float]:
        """Of everything but filaments, share of nominal [-]."""
        found = {}
        forward = np.maximum(solution.cases.mean(solution.currents)[0], 0.0)
        for name, (branches, glow) in self.lamps.items():
            if glow.by == "amps":
                found[name] = float(forward[branches].sum()) / glow.nominal
            elif glow.by == "watts":
                ends = [(self.system.branches[n].first, self.system.branches[n].second) for n in branches]
                watts = sum(forward[n] * solution.between(*each)[0] for n, each in zip(branches, ends, strict=True))
                found[name] = float(watts) / glow.nominal
        return found

    def result(self) -> Timeline:
        heats = np.array([heat for _, heat, _ in self.samples])
        burning = self.system.filaments.light(heats) if self.system.n_filaments else heats
        light = {
            name: burning[:, self.system.branches[branches[0]].place]
            if glow.by == "heat"
            else np.array([each[name] for _, _, each in self.samples])
            for name, (branches, glow) in self.lamps.items()
        }
        body = {each.name: np.array([bodies[each.name] for bodies in self.bodies]) for each in self.resistors}
        restless = tuple(owner for owner, count in self.moves.items() if count >= MOST_MOVES)
        return Timeline(np.array([at for at, _, _ in self.samples]), light, body, tuple(self.events), restless)


SAME_HEAT = 0.015
"""Filaments this close, as a share of their hot temperature, begin the same beat [-]."""


@dataclass
class _Beat:
    """One phase of a flasher as it went, to be gone through again when it begins the same."""

    seconds: float
    heat: Array
    held: dict[int, bool]
    worn: dict[str, float]
    at: tuple[int, int, int]
    started: float = 0.0
    end_heat: Array | None = None
    end_port_v: Array | None = None
    samples: Sequence[tuple[float, Array, dict[str, float]]] = ()
    powers: Sequence[tuple[float, dict[str, float]]] = ()
    events: Sequence[Event] = ()

    @classmethod
    def begin(cls, run: _TimelineRun, seconds: float) -> _Beat:
        marks = (len(run.samples), len(run.powers), len(run.events))
        return cls(seconds, run.heat, dict(run.held), dict(run.worn), marks)

    def end(self, run: _TimelineRun, until: float) -> _Beat:
        self.started, self.end_heat, self.end_port_v = until - self.seconds, run.heat, run.port_v
        self.worn = {owner: worn - self.worn.get(owner, 0.0) for owner, worn in run.worn.items()}
        self.samples = run.samples[self.at[0] :]
        self.powers = run.powers[self.at[1] :]
        self.events = run.events[self.at[2] :]
        return self

    def fits(self, run: _TimelineRun, seconds: float) -> bool:
        """Whether it would go the same way now, and nothing would wear out on the way."""
        return (
            abs(seconds - self.seconds) < 1e-6
            and not run.due
            and self.held == run.held
            and bool(np.abs(self.heat - run.heat).max(initial=0.0) < SAME_HEAT)
            and all(run.worn.get(owner, 0.0) + worn < 1 for owner, worn in self.worn.items())
        )

    def again(self, run: _TimelineRun, now: float) -> None:
        """Go through it again from now on."""
        for (at, heat, light), (step, watts) in zip(self.samples, self.powers, strict=True):
            run.samples.append((now + at - self.started, heat, light))
            run.bodies.append(dict(run.body))
            run.powers.append((step, watts))
            run.warm_bodies(step, watts)
        run.events += [Event(now + event.at_s - self.started, event.owner, event.what) for event in self.events]
        for owner, worn in self.worn.items():
            run.worn[owner] = run.worn.get(owner, 0.0) + worn
        assert self.end_heat is not None
        run.heat, run.port_v = self.end_heat, self.end_port_v


def _lamps(network: Network, system: System) -> dict[str, tuple[list[int], Glow]]:
    """Every lamp, as `name` or `name.branch`: its branches, and by what it glows."""
    at: dict[tuple[str, str], list[int]] = {}
    for n, branch in enumerate(system.branches):
        at.setdefault((branch.owner, branch.name), []).append(n)
    found = {}
    for element in network.elements:
        for glow in element.glows:
            branches = [n for name in glow.of for n in at.get((element.name, name), ())]
            if glow.by == "heat":
                branches = [n for n in branches if system.branches[n].group == "filament"]
            if branches:
                found[f"{element.name}.{glow.branch}" if glow.branch else element.name] = (branches, glow)
    return found


def _heating(system: System, each: Housed) -> list[int]:
    """The branches that heat a case."""
    key = each.name, each.heats_by
    return [n for n, branch in enumerate(system.branches) if (branch.owner, branch.name) == key]
