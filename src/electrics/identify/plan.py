"""What to measure next: the set-up and the wires that tell most for the effort.

For every candidate set-up (state, instrument, what hangs on the wire) and every open wire, the mutual
information between the wire's function and the reading it would give is computed from the same displays
that weigh readings; a walk to the controls costs, touching one more wire costs little, and the state
already set is free. One step is the wires of one set-up with the best ratio of bits to effort.
"""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from dataclasses import dataclass
from functools import cache, lru_cache

import numpy as np
from numpy.typing import NDArray

from electrics.identify.belief import HYPOTHESES, MISTAKE_RATE, WORLDS, Belief, Setup
from electrics.identify.conditions import Condition, conditions
from electrics.identify.instruments import meter_for, shown_in
from electrics.identify.kinds import Side
from electrics.reference.tables import Table, read_table
from electrics.vocabulary import (
    FUNCTIONS,
    Control,
    Function,
    Instrument,
    Load,
    State,
    parse_state,
)

__all__ = ["Effort", "Step", "control_efforts", "next_steps", "wants_helper"]

Array = NDArray[np.float64]

_FIRST_OF = [next(h for h, item in enumerate(HYPOTHESES) if item[0] is f) for f in FUNCTIONS]

WALK = 2.0
"""Effort of going to the controls and back, in wires touched (estimate)."""
PULL_LAMP = 3.0
"""Effort of pulling or swapping a lamp (estimate)."""
WORTH_TOUCHING_BITS = 0.02
WORTH_A_WALK_BITS = 0.06
WORTH_GOING_ON_BITS = 0.15
DEAD_V = 0.3
"""A pin that has read under this on a 12 V system counts as dead, and ohms are then allowed."""

STATES = (
    "rest",
    "key",
    "engine",
    "park",
    "park_left",
    "park_right",
    "low",
    "high",
    "brake",
    "left",
    "right",
    "hazard",
    "reverse",
    "fog_front",
    "fog_rear",
    "trailer_lever",
    "asleep",
    "brake+left",
    "brake+right",
    "brake+hazard",
    "brake+reverse",
    "park+left",
    "park+right",
    "low+fog_rear",
    "low+fog_front",
)
"""States worth considering: every control alone, and the pairs that save a walk."""


@dataclass(frozen=True)
class Effort:
    """What setting one control costs, in wires touched; alone and with a helper."""

    control: Control
    solo: float
    helped: float
    wants_helper: bool


@dataclass(frozen=True)
class Step:
    """One thing to do: set this up and probe these pins.

    Attributes
    ----------
    bits : float
        Expected fall in entropy over the pins [bit].
    tells : tuple of Function
        The two functions that the step parts best, most likely first; empty for a repeat.
    is_repeat : bool
        The same cells are to be measured again, because their readings contradict the rest.
    """

    setup: Setup
    pins: tuple[str, ...]
    bits: float
    needs_helper: bool
    tells: tuple[Function, ...]
    is_repeat: bool = False


@cache
def control_efforts() -> Table[Effort]:
    """What setting each control costs."""
    return read_table(
        "control_effort",
        ("control", "solo_effort", "helped_effort", "wants_helper"),
        lambda row: Effort(
            Control(row["control"]),
            float(row["solo_effort"]),
            float(row["helped_effort"]),
            row["wants_helper"] == "yes",
        ),
    )


def wants_helper(state: State) -> bool:
    """Whether a second person, or a prop, is needed to hold this state while probing."""
    return any(control_efforts()[control].wants_helper for control in state.controls)


def next_steps(
    belief: Belief,
    *,
    solo: bool = False,
    current: Setup | None = None,
    computer_fed: bool = True,
    limit: int = 3,
) -> tuple[Step, ...]:
    """The most telling next steps at one access point.

    Parameters
    ----------
    belief : Belief
    solo : bool
        Nobody is there to hold the pedal.
    current : Setup, optional
        What is set now: its state costs nothing.
    computer_fed : bool
        Whether a computer may feed the lamps: then a filament test lamp is never asked for.
    limit : int
        How many steps at most [-].

    Returns
    -------
    tuple of Step
        Best first; empty when every wire is settled or no further reading would tell anything.
    """
    steps = _repeats(belief)
    open_wires = [w for w, wire in enumerate(belief.wires) if not wire.is_settled]
    done: dict[Setup, set[str]] = {}
    for evidence in belief.point.evidence:
        done.setdefault(evidence.setup, set()).add(evidence.pin)
    candidates = []
    for setup in _setups(belief.point.side, computer_fed):
        fresh = [w for w in open_wires if belief.wires[w].pin not in done.get(setup, ())]
        candidate = _best_wires(belief, setup, fresh, _effort(setup, current, solo=solo))
        if candidate is not None:
            candidates.append(candidate)
    candidates.sort(key=lambda item: -item[0])
    for _, step in candidates:
        if step.setup.state not in {s.setup.state for s in steps}:
            steps.append(step)
    return tuple(steps[:limit])


def _repeats(belief: Belief) -> list[Step]:
    """Measure again what contradicts the rest, one step per set-up."""
    by_setup: dict[Setup, list[str]] = {}
    for contradiction in belief.contradictions:
        evidence = contradiction.evidence
        by_setup.setdefault(evidence.setup, []).append(evidence.pin)
    return [
        Step(setup, tuple(dict.fromkeys(pins)), 0.0, wants_helper(setup.state), (), is_repeat=True)
        for setup, pins in by_setup.items()
    ]


def _setups(side: Side, computer_fed: bool) -> Iterable[Setup]:
    other = {Side.LEFT: "right", Side.RIGHT: "left"}.get(side)
    for text in STATES:
        if other is None or not text.endswith(f"+{other}"):
            yield Setup(parse_state(text))
    rest = parse_state("rest")
    yield Setup(rest, Instrument.OHMS, Load.OUT)
    yield Setup(rest, Instrument.OHMS, Load.IN)
    if not computer_fed:
        yield Setup(rest, Instrument.LOADED_DROP)


def _effort(setup: Setup, current: Setup | None, *, solo: bool) -> float:
    effort = 0.0
    if current is None or setup.state != current.state:
        efforts = [control_efforts()[control] for control in setup.state.controls]
        effort = WALK + sum(item.solo if solo else item.helped for item in efforts)
    if setup.load is not (current.load if current else Load.IN):
        effort += PULL_LAMP
    if current is not None and setup.instrument is not current.instrument:
        effort += 1.0
    return effort


def _best_wires(belief: Belief, setup: Setup, wires: Sequence[int], effort: float) -> tuple[float, Step] | None:
    """The wires to probe in one set-up, of those open and fresh, with the bits per effort; None when not worth it."""
    if setup.instrument is Instrument.OHMS:
        dead = _dead_pins(belief)
        wires = [w for w in wires if belief.wires[w].pin in dead]
    if not wires:
        return None
    by_function, given = _per_function(belief, wires, setup)
    bits = _information(by_function, given)
    order = np.argsort(-bits, kind="stable")
    order = order[bits[order] >= WORTH_TOUCHING_BITS]
    total = np.cumsum(bits[order])
    if not len(order) or total[-1] < WORTH_A_WALK_BITS:
        return None
    best = int(np.argmax(total / (effort + 1 + np.arange(len(order)))))
    # going on to a wire that still tells something is cheaper now than coming back for it
    worth = [int(i) for n, i in enumerate(order) if n <= best or bits[i] >= WORTH_GOING_ON_BITS]
    pins = tuple(belief.wires[w].pin for i, w in enumerate(wires) if i in worth)
    step = Step(
        setup,
        pins,
        float(sum(bits[worth])),
        wants_helper(setup.state),
        _parted(by_function[worth], given),
    )
    return float(sum(bits[worth]) / (effort + len(worth))), step


def _dead_pins(belief: Belief) -> set[str]:
    """Pins that have read nothing with everything off."""
    return {
        evidence.pin
        for evidence in belief.point.evidence
        if evidence.setup.state.is_dead
        and evidence.setup.instrument is Instrument.DMM
        and evidence.reading.word is None
        and max(abs(evidence.reading.low), abs(evidence.reading.high)) < DEAD_V * evidence.supply_v / 12.6
    }


@lru_cache(maxsize=512)
def _outcomes(setup: Setup) -> Array:
    """Chance of each kind of outcome, (n_worlds, n_hypotheses, n_outcomes) [-], mistakes included."""
    table = [
        [
            _outcomes_in(setup.instrument, conditions(function, variant, setup.state, scenario, lamps, setup.load))
            for function, variant, _ in HYPOTHESES
        ]
        for scenario, lamps in WORLDS
    ]
    return np.array(table)


@lru_cache(maxsize=4096)
def _outcomes_in(instrument: Instrument, where: tuple[tuple[Condition, float], ...]) -> Array:
    """The same on a pin in known conditions, (n_outcomes,) [-]; relative to the battery, so any voltage will do."""
    meter, supply_v = meter_for(instrument), 12.6
    right = shown_in(instrument, where, supply_v).outcomes(meter.edges)
    mistaken = meter.mistaken(supply_v).outcomes(meter.edges)
    return np.asarray((1 - MISTAKE_RATE) * right + MISTAKE_RATE * mistaken)


def _per_function(belief: Belief, wires: Sequence[int], setup: Setup) -> tuple[Array, Array]:
    """Each function's probability per wire, and its outcomes: (n_wires, n_functions), (n_functions, n_outcomes).

    Variants of one function are averaged: telling them apart is worth nothing here.
    """
    outcomes = np.einsum("g,gho->ho", belief.worlds, _outcomes(setup))
    weight = belief.marginals[list(wires)].sum(axis=0)
    given = np.add.reduceat(weight[:, None] * outcomes, _FIRST_OF, axis=0)
    given /= np.maximum(np.add.reduceat(weight, _FIRST_OF), 1e-300)[:, None]
    return np.add.reduceat(belief.marginals[list(wires)], _FIRST_OF, axis=1), given


def _information(by_function: Array, given: Array) -> Array:
    """Bits that a reading tells about each wire's function, (n_wires,)."""
    return np.asarray(_entropy(by_function @ given) - by_function @ _entropy(given))


def _entropy(chances: Array) -> Array:
    return np.asarray(-(chances * np.log2(np.maximum(chances, 1e-300))).sum(axis=-1))


def _parted(by_function: Array, given: Array) -> tuple[Function, ...]:
    """The two functions that these readings part best, by probability and difference of display."""
    difference = 0.5 * np.abs(given[:, None, :] - given[None, :, :]).sum(axis=-1)
    worth = np.einsum("wf,we,fe->fe", by_function, by_function, difference)
    first, second = np.unravel_index(int(worth.argmax()), worth.shape)
    pair = sorted((int(first), int(second)), key=lambda f: -float(by_function[:, f].sum()))
    return tuple(FUNCTIONS[f] for f in pair)
