"""What to measure next for what a job taps: only what is wanted, its ground, and what could be mistaken for them.

A reading counts for what it is expected to tell of one question: is this wire the one that is wanted? A set-up with
some pins is worth those bits for its effort. Which pins to touch is looked at anew after every reading, so a wire
that was found early ends the search in its state.
"""

from __future__ import annotations

from collections.abc import Collection, Mapping, Sequence
from dataclasses import dataclass
from functools import lru_cache

import numpy as np
from numpy.typing import NDArray

from electrics.document.places import Setup
from electrics.identify.belief import Belief
from electrics.identify.beside import Beside
from electrics.identify.likelihood import FUNCTION_OF
from electrics.identify.needed import (
    Need,
    Needed,
    Sought,
    masks_of,
    needs_of,
    sought,
)
from electrics.identify.plan import Step, repeats
from electrics.identify.reach import can_be_met
from electrics.identify.setups import (
    ALL_OFF,
    FIRST_OF,
    dead_pins,
    effort_of,
    odd_cells,
    outcomes_by_world,
    possible_setups,
    read_times,
    wants_helper,
)
from electrics.identify.tools import EVERY_TOOL
from electrics.inference.telling import entropy, most_for_the_effort
from electrics.vocabulary import FUNCTIONS, Function, Instrument

__all__ = ["next_for"]

Array = NDArray[np.float64]
WORTH_TOUCHING_BITS = 0.004
"""What a touch must be expected to tell of what is wanted [bit]."""
WAY_BACK = 5.0
"""What a new state is reckoned with beside its walk [touch]: a look one step ahead doesn't see the way back. Measured
on generated places: fewer changes of state for the same readings, alone and with a helper."""
WORTH_OF_A_READING = (1.0, 0.6)
"""What the first and the second reading of a cell count [-]: the same slip may spoil both (estimate)."""


def next_for(
    belief: Belief,
    needed: Needed,
    *,
    solo: bool = False,
    current: Setup | None = None,
    computer_fed: bool = True,
    tools: frozenset[str] = EVERY_TOOL,
    limit: int = 3,
) -> tuple[Step, ...]:
    """The most telling next steps at one access point for what a job taps.

    Parameters
    ----------
    belief : Belief
    needed : Needed
    solo, current, computer_fed, tools, limit : as for `electrics.identify.plan.next_steps`

    Returns
    -------
    tuple of Step
        Best first; none once the job has enough, or when no reading would tell it more. What no reading at hand can
        settle is not asked about: see `electrics.identify.reach`.
    """
    if not belief.wires:
        return ()
    not_met = [need for need in needs_of(belief, needed) if not need.is_met]
    if not not_met:
        return ()
    looked_for = sought(belief, *needed.all_groups)
    setups = tuple(possible_setups(belief.point, computer_fed, belief.not_fitted, tools, for_one=True))
    open_needs = [need for need in not_met if can_be_met(looked_for, need, setups)]
    if not open_needs:
        return ()
    bits = _bits_of_all(looked_for, open_needs, setups)
    times, dead, at = read_times(belief), dead_pins(belief), current.state if current else ALL_OFF
    beside = Beside(looked_for, tuple(open_needs), setups, at)
    found: list[_Candidate] = []
    for setup in setups:
        pins = [(w, times[wire.pin, setup]) for w, wire in enumerate(belief.wires)]
        if setup.instrument is Instrument.OHMS:
            pins = [(w, n) for w, n in pins if belief.wires[w].pin in dead]
        for before, worth in enumerate(WORTH_OF_A_READING):
            those = [w for w, n in pins if n == before]
            effort = effort_of(setup, current, solo=solo, anew=before > 0) + WAY_BACK * (setup.state != at)
            by_wire = worth * bits[setup].sum(axis=0)
            in_all = beside.proven(setup, by_wire) if before else beside.bits(setup, by_wire)
            told = {w: float(in_all[w]) for w in those}
            if (candidate := _candidate(setup, told, effort, is_repeat=before > 0)) is not None:
                found.append(candidate)
    found.sort(key=lambda each: -each.worth)
    steps = _again(belief, open_needs)
    for each in found:
        if len(steps) < limit and each.setup.state not in {step.setup.state for step in steps}:
            touch = tuple(belief.wires[w].pin for w in each.wires)
            need = _subject(open_needs, beside.proofs.get(touch[0], ()), bits[each.setup], touch[0], each)
            parts = _parted(looked_for, need, each.wires[0], each.setup)
            steps.append(Step(each.setup, touch, each.bits, wants_helper(each.setup.state), parts, each.is_repeat))
    return tuple(steps[:limit])


@dataclass(frozen=True)
class _Candidate:
    """A set-up with the wires worth touching in it, best first, and its worth for the effort [bit / touch]."""

    worth: float
    setup: Setup
    wires: tuple[int, ...]
    bits: float
    is_repeat: bool


def _candidate(setup: Setup, told: Mapping[int, float], effort: float, *, is_repeat: bool) -> _Candidate | None:
    """The wires worth touching in a set-up, by what each tells [bit]; None for none."""
    order = sorted((w for w in told if told[w] >= WORTH_TOUCHING_BITS), key=lambda w: -told[w])
    if not order:
        return None
    last = most_for_the_effort(np.array([told[w] for w in order]), effort)
    wires = tuple(order[: last + 1])
    bits = sum(told[w] for w in wires)
    return _Candidate(bits / (effort + len(wires)), setup, wires, bits, is_repeat)


def _bits_of_all(looked_for: Sought, needs: Sequence[Need], setups: Sequence[Setup]) -> dict[Setup, Array]:
    """What a reading of each wire in each set-up tells of each need, (n_needs, n_wires) each [bit]."""
    by_instrument: dict[Instrument, list[Setup]] = {}
    for setup in setups:
        by_instrument.setdefault(setup.instrument, []).append(setup)
    found: dict[Setup, Array] = {}
    for those in by_instrument.values():
        tables = _tables(tuple(those))
        given = np.tensordot(looked_for.worlds, tables, 1)
        seen = np.tensordot(looked_for.measured, given, 1)
        bits = np.stack([_bits(looked_for, need, tables, given, seen) for need in needs])
        found.update(zip(those, np.moveaxis(bits, 2, 0), strict=True))
    return found


@lru_cache(maxsize=32)
def _tables(setups: tuple[Setup, ...]) -> Array:
    """Chance of each kind of outcome in set-ups of one instrument, (n_worlds, n_hypotheses, n_setups, n_outcomes)."""
    return np.stack([outcomes_by_world(setup) for setup in setups], axis=2)


def _bits(looked_for: Sought, need: Need, tables: Array, given: Array, seen: Array) -> Array:
    """What a reading of each wire in each set-up tells of one need, (n_wires, n_setups) [bit].

    `given` are the tables over all worlds, (n_hypotheses, n_setups, n_outcomes); `seen` is what each wire will show,
    (n_wires, n_setups, n_outcomes) [-].

    The wire that is likeliest counts fully, another one as far as the first may be wrong; and by what it says of the
    vehicle: a stop wire that never flashes tells that the wire in question is no stop-and-turn.
    """
    believed = looked_for.measured
    told = np.zeros(seen.shape[:2])
    for mask in masks_of(need.function):
        there = believed[:, mask].sum(axis=1)
        both = np.tensordot(believed[:, mask], given[mask], 1)
        told += _shared(there[:, None], both, np.maximum(seen - both, 0.0))
    w = [wire.pin for wire in looked_for.belief.wires].index(need.pin)
    told[np.arange(len(told)) != w] *= min(need.weighed, 1.0)
    own = looked_for.by_world[:, w, FUNCTIONS.index(need.function) == FUNCTION_OF].sum(axis=1)
    with_it = _shown(looked_for, looked_for.worlds * own, tables)
    without = _shown(looked_for, looked_for.worlds * (1 - own), tables)
    by_vehicle = _shared(np.full((1, 1), float(looked_for.worlds @ own)), with_it, without)
    by_vehicle[w] = 0.0
    return told + by_vehicle


def _shown(looked_for: Sought, worlds: Array, tables: Array) -> Array:
    """Chance of each outcome of each wire, worlds weighted so, (n_wires, n_setups, n_outcomes) [-]."""
    weighted = np.moveaxis(looked_for.by_world * worlds[:, None, None], 1, 0)
    return np.tensordot(weighted, tables, 2)


def _shared(chance: Array, with_it: Array, without: Array) -> Array:
    """Bits that outcomes and something of this chance have in common; outcomes stand last."""
    doubt = entropy(np.stack([chance, np.maximum(1.0 - chance, 0.0)], axis=-1))
    joint = entropy(with_it) + entropy(without)
    return np.maximum(entropy(with_it + without) + doubt - joint, 0.0)


def _again(belief: Belief, needs: Sequence[Need]) -> list[Step]:
    """Odd readings of the wires in question, to be taken once more; of a state that a slip spoilt one at least."""
    pins, odd = {need.pin for need in needs}, odd_cells(belief)
    spoilt = [
        [cell for cell in odd if cell[1] == family.setup and cell[0] in family.pins] for family in belief.families
    ]
    first = [cells[0] for cells in spoilt if cells and pins.isdisjoint(pin for pin, _ in cells)]
    return repeats([cell for cell in odd if cell[0] in pins or cell in first])


def _subject(needs: Sequence[Need], proofs: Collection[Setup], bits: Array, pin: str, step: _Candidate) -> Need:
    """What a step is for: the proof of its first wire where it brings one, else the need that it tells most of."""
    if step.setup in proofs:
        return next(need for need in needs if need.pin == pin)
    return needs[int(bits[:, list(step.wires)].sum(axis=1).argmax())]


def _parted(looked_for: Sought, need: Need, w: int, setup: Setup) -> tuple[Function, ...]:
    """The needed function that a reading is about, and the one that it parts best from it."""
    given = np.tensordot(looked_for.worlds, outcomes_by_world(setup), 1)
    by_hypothesis = looked_for.measured[w]
    by_function = np.add.reduceat(by_hypothesis, FIRST_OF)
    shown = np.add.reduceat(by_hypothesis[:, None] * given, FIRST_OF, axis=0)
    shown /= np.maximum(by_function, 1e-300)[:, None]
    own = FUNCTIONS.index(need.function)
    worth = by_function * np.abs(shown - shown[own]).sum(axis=1)
    return need.function, FUNCTIONS[int(worth.argmax())]
