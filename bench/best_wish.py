"""The best plan for one wanted function, by dynamic programming over every plan of a few readings in four states.

The lamps are those of a small world whose arrangement is known, measured without a mistake; a plan ends when the
product's own rule says that the job has enough. After `DEPTH` readings one more is taken to be enough, so the best
plan can only come out too good. The advice may use every state there is, and costs what it costs.
"""

from __future__ import annotations

import itertools
from dataclasses import dataclass
from functools import cache

import numpy as np

from bench.wires import TrueWire, shown
from electrics.document.places import AccessPoint, Evidence, Setup, Side, Wire
from electrics.identify.belief import identify
from electrics.identify.kinds import count_prior
from electrics.identify.needed import Needed, enough
from electrics.identify.needed_plan import next_for
from electrics.identify.setups import effort_of
from electrics.signals import Scenario, signal
from electrics.vocabulary import FUNCTIONS, Arrangement, Function, parse_state

F = Function
SEPARATE = Arrangement.SEPARATE
FUNCTIONS_HERE = (F.GROUND, F.TAIL, F.STOP, F.TURN_LEFT, F.REVERSE)
STATES = {
    F.REVERSE: ("reverse", "rest", "low+brake", "brake"),
    F.TAIL: ("park", "rest", "brake+left+reverse", "brake"),
    F.TURN_LEFT: ("left", "rest", "brake", "park"),
}
"""The wanted control, all off, and its likeliest doubles: what a practised person would set (common practice)."""
SUPPLY_V = 12.6
DEPTH = 5
MOST_READINGS = 30
Lamp = tuple[Function, ...]


@dataclass(frozen=True)
class Against:
    """Expected effort and readings of the advice, and of the best plan [touch, -]."""

    effort: float
    readings: float
    best_effort: float

    @property
    def ratio(self) -> float:
        return self.effort / self.best_effort


def against_every_plan(wanted: Function, n_wires: int, *, depth: int = DEPTH) -> Against:
    """The advice for one function on lamps that have it, against every plan of so many readings in four states."""
    chance = _lamps(wanted, n_wires)
    best = _best(wanted, n_wires, depth, chance)
    effort = readings = 0.0
    for lamp, share in chance.items():
        own_effort, own_readings = _advice(wanted, lamp)
        effort, readings = effort + share * own_effort, readings + share * own_readings
    return Against(effort, readings, best)


def _lamps(wanted: Function, n_wires: int) -> dict[Lamp, float]:
    """The lamps that have what is wanted, each with its chance."""
    prior = count_prior("rear_lamp", Side.LEFT, SEPARATE, n_wires)
    rows = [(FUNCTIONS.index(function), function) for function in FUNCTIONS_HERE]
    found = {
        lamp: float(np.prod([prior[row, lamp.count(function)] for row, function in rows]))
        for lamp in itertools.product(FUNCTIONS_HERE, repeat=n_wires)
        if wanted in lamp
    }
    total = sum(found.values())
    return {lamp: weight / total for lamp, weight in found.items()}


def _needed(wanted: Function) -> Needed:
    """One function, or what stands in for it at such a lamp; no ground."""
    return Needed(((F.TAIL, F.TAIL_LEFT) if wanted is F.TAIL else (wanted,),), ground=False)


@cache
def _read(function: Function, setup: Setup, pin: str) -> Evidence:
    now = signal(function, setup.state, Scenario(SEPARATE))
    return Evidence(pin, setup, shown(TrueWire("", function, "plain"), setup, now, SUPPLY_V), SUPPLY_V)


def _point(n_wires: int, evidence: tuple[Evidence, ...]) -> AccessPoint:
    return AccessPoint("lamp", tuple(Wire(str(n)) for n in range(n_wires)), evidence, "rear_lamp", Side.LEFT)


@cache
def _is_enough(wanted: Function, n_wires: int, evidence: frozenset[Evidence]) -> bool:
    ordered = tuple(sorted(evidence, key=lambda item: (item.pin, str(item.setup))))
    (belief,) = identify([_point(n_wires, ordered)], arrangement=SEPARATE)
    return enough(belief, _needed(wanted))


def _best(wanted: Function, n_wires: int, depth: int, chance: dict[Lamp, float]) -> float:
    """Expected effort of the best plan [touch]."""
    cells = [(n, Setup(parse_state(state))) for state in STATES[wanted] for n in range(n_wires)]

    @cache
    def still(done: frozenset[int], at: Setup | None, left: tuple[Lamp, ...]) -> float:
        """Effort still to come on average; `left` all show the same in the cells that are done."""
        evidence = frozenset(_read(left[0][n], setup, str(n)) for n, setup in (cells[each] for each in done))
        if evidence and _is_enough(wanted, n_wires, evidence):
            return 0.0
        if len(done) == depth:
            return 1.0
        weight, best = sum(chance[lamp] for lamp in left), float("inf")
        for each in set(range(len(cells))) - done:
            n, setup = cells[each]
            cost = effort_of(setup, at, solo=True) + 1.0
            if cost >= best:
                continue
            parts: dict[Evidence, list[Lamp]] = {}
            for lamp in left:
                parts.setdefault(_read(lamp[n], setup, str(n)), []).append(lamp)
            then = (
                sum(chance[lamp] for lamp in part) * still(done | {each}, setup, tuple(part))
                for part in parts.values()
            )
            best = min(best, cost + sum(then) / weight)
        return best

    return still(frozenset(), None, tuple(chance))


def _advice(wanted: Function, lamp: Lamp) -> tuple[float, int]:
    """Effort and readings of the advice on one lamp, until it has enough [touch, -]."""
    needed, at, effort = _needed(wanted), None, 0.0
    evidence: tuple[Evidence, ...] = ()
    while len(evidence) < MOST_READINGS:
        (belief,) = identify([_point(len(lamp), evidence)], arrangement=SEPARATE)
        steps = next_for(belief, needed, solo=True, current=at, computer_fed=False, limit=1)
        if not steps:
            break
        effort += effort_of(steps[0].setup, at, solo=True, anew=steps[0].is_repeat) + 1.0
        at = steps[0].setup
        evidence += (_read(lamp[int(steps[0].pins[0])], at, steps[0].pins[0]),)
    return effort, len(evidence)
