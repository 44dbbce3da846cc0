"""The best possible plan under the product's own rule of stopping: exact for one wire, estimated from below for more.

No plan can settle a lamp with fewer readings than somebody who knows what every wire is, and takes just those that
make the rule stop. How few these are is looked for by leaving out readings of a full grid, in several orders, until
none can be spared: near the fewest, and not proven to be. The rule is the belief engine's own. The lamps are rear
lamps of a small world whose arrangement is known, measured by virtual instruments without a mistake.

For a single wire the best plan itself is found, by dynamic programming over what has been read and what the wire may
still be; after `DEPTH` readings one more is taken to be enough, so that it can only come out too good.
"""

from __future__ import annotations

import itertools
import random
import statistics
from dataclasses import replace
from functools import cache

import numpy as np

from bench.wires import TrueWire, shown
from electrics.document.places import AccessPoint, Evidence, Setup, Side, Wire
from electrics.identify.belief import identify
from electrics.identify.kinds import count_prior
from electrics.identify.plan import next_steps
from electrics.signals import Scenario, signal
from electrics.vocabulary import FUNCTIONS, Arrangement, Function, Instrument, parse_state

F = Function
WORLDS = {
    Arrangement.SEPARATE: (F.GROUND, F.TAIL, F.STOP, F.TURN_LEFT, F.REVERSE, F.FOG_REAR),
    Arrangement.COMBINED: (F.GROUND, F.TAIL, F.STOP_TURN_LEFT, F.REVERSE, F.FOG_REAR),
}
STATES = ("park", "park_left", "brake", "left", "hazard", "reverse", "fog_rear", "high")
PAIRS = ("park+left", "brake+left", "brake+hazard", "brake+reverse", "low+fog_rear")
CELLS = (
    Setup(parse_state("rest"), Instrument.LOADED_DROP),
    *(Setup(parse_state(state)) for state in (*STATES, *PAIRS)),
)
"""What tells anything of these functions."""
SUPPLY_V = 12.6
MOST_READINGS = 40
DEPTH = 4
ORDERS = 3
LAMPS = 10


def draw(n_wires: int, arrangement: Arrangement, rng: random.Random) -> tuple[Function, ...]:
    """One such lamp, by its chance."""
    functions = WORLDS[arrangement]
    prior = count_prior("rear_lamp", Side.LEFT, arrangement, n_wires)
    lamps = list(itertools.product(functions, repeat=n_wires))
    rows = [FUNCTIONS.index(function) for function in functions]
    weights = [
        float(np.prod([prior[row, lamp.count(f)] for row, f in zip(rows, functions, strict=True)])) for lamp in lamps
    ]
    return rng.choices(lamps, weights)[0]


@cache
def _reading(function: Function, setup: Setup, arrangement: Arrangement, pin: str) -> Evidence:
    now = signal(function, setup.state, Scenario(arrangement))
    return Evidence(pin, setup, shown(TrueWire("", function, "plain"), setup, now, SUPPLY_V), SUPPLY_V)


def _settles(lamp: tuple[Function, ...], arrangement: Arrangement, cells: list[tuple[int, Setup]]) -> bool:
    wires = tuple(Wire(str(n)) for n in range(len(lamp)))
    evidence = tuple(_reading(lamp[n], setup, arrangement, str(n)) for n, setup in cells)
    return identify([AccessPoint("lamp", wires, evidence, "rear_lamp", Side.LEFT)], arrangement=arrangement)[
        0
    ].is_settled


def fewest(lamp: tuple[Function, ...], arrangement: Arrangement, rng: random.Random) -> int:
    """How many readings settle a lamp of which everything is known [-]; 0 where none of these do."""
    least = 0
    for _ in range(ORDERS):
        cells = [(n, setup) for n in range(len(lamp)) for setup in CELLS]
        if not _settles(lamp, arrangement, cells):
            return 0
        rng.shuffle(cells)
        for cell in tuple(cells):
            rest = [each for each in cells if each != cell]
            if _settles(lamp, arrangement, rest):
                cells = rest
        least = min(least or len(cells), len(cells))
    return least


def readings_by_advice(lamp: tuple[Function, ...], arrangement: Arrangement) -> int:
    """How many readings the product's own advice takes until it has settled every wire, repeats included [-]."""
    wires = tuple(Wire(str(n)) for n in range(len(lamp)))
    evidence: list[Evidence] = []
    current = None
    while len(evidence) < MOST_READINGS:
        point = AccessPoint("lamp", wires, tuple(evidence), "rear_lamp", Side.LEFT)
        (belief,) = identify([point], arrangement=arrangement)
        steps = next_steps(belief, current=current, computer_fed=False, limit=1)
        if not steps:
            break
        current = steps[0].setup
        evidence += [_reading(lamp[int(pin)], current, arrangement, pin) for pin in steps[0].pins]
    return len(evidence)


def against_the_best(n_wires: int, rng: random.Random) -> tuple[float, float]:
    """Mean readings of the advice, and the fewest that settle the same lamps, over both arrangements [-]."""
    taken, least = [], []
    for arrangement in Arrangement:
        for _ in range(LAMPS):
            lamp = draw(n_wires, arrangement, rng)
            found = fewest(lamp, arrangement, rng)
            if found:
                least.append(found)
                taken.append(readings_by_advice(lamp, arrangement))
    return statistics.mean(taken), statistics.mean(least)


def single_wire(arrangement: Arrangement) -> tuple[float, float]:
    """Expected readings of the advice, and of the best plan, for one wire of which nothing is known [-]."""
    functions = WORLDS[arrangement]
    empty = AccessPoint("lamp", (Wire("0"),), (), "rear_lamp", Side.LEFT)
    wire = identify([empty], arrangement=arrangement)[0].wires[0]
    total = sum(map(wire.probability_of, functions))
    chance = {function: wire.probability_of(function) / total for function in functions}

    @cache
    def settles(read: tuple[Evidence, ...]) -> bool:
        return identify([replace(empty, evidence=read)], arrangement=arrangement)[0].is_settled

    @cache
    def still(done: frozenset[int], left: tuple[Function, ...]) -> float:
        """Readings still to be taken on average, after some cells; `left` all show the same in them."""
        read = tuple(_reading(left[0], CELLS[n], arrangement, "0") for n in sorted(done))
        if read and settles(read):
            return 0.0
        if len(done) == DEPTH:
            return 1.0
        weight, best = sum(chance[function] for function in left), float("inf")
        for n in set(range(len(CELLS))) - done:
            parts: dict[Evidence, list[Function]] = {}
            for function in left:
                parts.setdefault(_reading(function, CELLS[n], arrangement, "0"), []).append(function)
            then = (sum(chance[f] for f in part) * still(done | {n}, tuple(part)) for part in parts.values())
            best = min(best, 1.0 + sum(then) / weight)
        return best

    taken = sum(chance[function] * readings_by_advice((function,), arrangement) for function in functions)
    return taken, still(frozenset(), functions)
