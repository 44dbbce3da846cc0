"""The best possible plan, by dynamic programming: fewest readings, on average, until every wire is settled.

Exact for up to four wires of a small world: a rear lamp whose arrangement is known, the five (up to three wires:
six) functions that are usual there, readings that show what they mostly show and are never mistaken. What is
known of a wire is the set of functions its readings leave; a plan may choose the next wire and state after every
reading. The belief engine is given no such help: it weighs all functions, and reckons with mistakes.
"""

from __future__ import annotations

import itertools
import random
import statistics
from functools import cache

import numpy as np

from electrics.formats.reading_text import parse_reading
from electrics.identify.belief import SETTLED, AccessPoint, Evidence, Setup, Wire, identify
from electrics.identify.kinds import Side, count_prior
from electrics.identify.plan import next_steps
from electrics.signals import Level, Scenario, signal
from electrics.vocabulary import FUNCTIONS, Arrangement, Function, Instrument, parse_state

WORLDS = {
    Arrangement.SEPARATE: (
        Function.GROUND,
        Function.TAIL,
        Function.STOP,
        Function.TURN_LEFT,
        Function.REVERSE,
        Function.SPARE,
    ),
    Arrangement.COMBINED: (
        Function.GROUND,
        Function.TAIL,
        Function.STOP_TURN_LEFT,
        Function.REVERSE,
        Function.FOG_REAR,
        Function.SPARE,
    ),
}
STATES = ("park", "brake", "left", "reverse", "fog_rear", "brake+left", "park+left", "brake+reverse", "low+fog_rear")
DROP = Setup(parse_state("rest"), Instrument.LOADED_DROP)
SETUPS = (DROP, *(Setup(parse_state(state)) for state in STATES))
SUPPLY_V = 12.6
MOST_READINGS = 40


def shown(function: Function, setup: Setup, arrangement: Arrangement) -> str:
    """What a meter mostly shows on such a wire with filament lamps, as it would be written."""
    now = signal(function, setup.state, Scenario(arrangement))
    if setup.instrument is Instrument.LOADED_DROP:
        return {Function.GROUND: "0.005", Function.SPARE: "12.5", Function.TAIL: "1.8"}.get(function, "0.2")
    return "0-12" if now.is_flashing else "12.3" if now.lit is Level.ON else "0.0"


class BestPlan:
    """Expected readings of the best plan for n wires of one arrangement."""

    def __init__(self, n_wires: int, arrangement: Arrangement) -> None:
        self.functions = WORLDS[arrangement][: 5 if n_wires > 3 else None]
        prior = count_prior("rear_lamp", Side.LEFT, arrangement, n_wires)
        rows = [FUNCTIONS.index(function) for function in self.functions]
        self.weight = np.empty((len(self.functions),) * n_wires)
        for assignment in itertools.product(range(len(self.functions)), repeat=n_wires):
            self.weight[assignment] = np.prod([prior[row, assignment.count(i)] for i, row in enumerate(rows)])
        parts = []
        for setup in SETUPS:
            masks: dict[str, int] = {}
            for i, function in enumerate(self.functions):
                text = shown(function, setup, arrangement)
                masks[text] = masks.get(text, 0) | 1 << i
            if len(masks) > 1:
                parts.append(frozenset(masks.values()))
        self.parts = tuple(dict.fromkeys(parts))
        self.start = ((1 << len(self.functions)) - 1,) * n_wires
        self.expected = cache(self._expected)
        self.total = cache(self._total)

    def _members(self, mask: int) -> list[int]:
        return [i for i in range(len(self.functions)) if mask >> i & 1]

    def _total(self, left: tuple[int, ...]) -> float:
        return float(self.weight[np.ix_(*map(self._members, left))].sum())

    def _is_settled(self, left: tuple[int, ...]) -> bool:
        inside = self.weight[np.ix_(*map(self._members, left))]
        axes = range(inside.ndim)
        return all(
            inside.sum(axis=tuple(a for a in axes if a != axis)).max() >= SETTLED * inside.sum() for axis in axes
        )

    def _expected(self, left: tuple[int, ...]) -> float:
        """Readings still to be taken on average [-]; `left` is sorted: wires are as good as each other."""
        if self._is_settled(left):
            return 0.0
        total, best = self.total(left), float("inf")
        for w in range(len(left)):
            if w and left[w] == left[w - 1]:
                continue
            for parts in self.parts:
                pieces = [left[w] & part for part in parts if left[w] & part]
                if len(pieces) < 2:
                    continue
                cost = 1.0
                for piece in pieces:
                    then = tuple(sorted((*left[:w], piece, *left[w + 1 :])))
                    chance = self.total(then) / total
                    if chance > 0:
                        cost += chance * self.expected(then)
                best = min(best, cost)
        return best if best < float("inf") else 0.0

    def draw(self, rng: random.Random) -> list[Function]:
        """One such lamp, by its chance."""
        flat = self.weight.ravel()
        index = np.unravel_index(rng.choices(range(flat.size), flat.tolist())[0], self.weight.shape)
        return [self.functions[int(i)] for i in index]


def readings_by_advice(functions: list[Function], arrangement: Arrangement) -> int:
    """How many readings the product's own advice takes until it has settled every wire, repeats included [-]."""
    wires = tuple(Wire(str(n + 1)) for n in range(len(functions)))
    evidence: list[Evidence] = []
    current = None
    while len(evidence) < MOST_READINGS:
        point = AccessPoint("lamp", wires, tuple(evidence), "rear_lamp", Side.LEFT)
        (belief,) = identify([point], arrangement=arrangement)
        steps = next_steps(belief, current=current, computer_fed=False, limit=1)
        if not steps:
            break
        current = steps[0].setup
        for pin in steps[0].pins:
            text = _shown_anyhow(functions[int(pin) - 1], current, arrangement)
            evidence.append(Evidence(pin, current, parse_reading(text, current.instrument), SUPPLY_V))
    return len(evidence)


def _shown_anyhow(function: Function, setup: Setup, arrangement: Arrangement) -> str:
    if setup.instrument is Instrument.OHMS:
        return {Function.GROUND: "0.2", Function.SPARE: "OL"}.get(function, "0.6")
    if setup.instrument is Instrument.HERTZ:
        return "none"
    if setup.instrument is Instrument.CLAMP:
        text = shown(function, Setup(setup.state), arrangement)
        return {"12.3": "0.6", "0.0": "0", "0-12": "flash"}[text]
    return shown(function, setup, arrangement)


def against_the_best(n_wires: int, rng: random.Random, lamps: int = 20) -> tuple[float, float]:
    """Mean readings of the advice and of the best plan, over lamps of both arrangements [-]."""
    taken, best = [], []
    for arrangement in Arrangement:
        plan = BestPlan(n_wires, arrangement)
        best.append(plan.expected(plan.start))
        taken += [readings_by_advice(plan.draw(rng), arrangement) for _ in range(lamps)]
    return statistics.mean(taken), statistics.mean(best)
