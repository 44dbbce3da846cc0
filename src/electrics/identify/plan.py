"""What to measure next: the set-up and the wires that tell most for the effort.

For every candidate set-up (state, instrument, what hangs on the wire) and every open wire, the mutual
information between the wire's function and the reading it would give is computed from the same displays
that weigh readings; a walk to the controls costs, touching one more wire costs little, and the state
already set is free. One step is the wires of one set-up with the best ratio of bits to effort. A plan of
several states looks at what the earlier ones will have told, averaged over what they may read.
"""

from __future__ import annotations

from collections.abc import Callable, Iterable, Mapping, Sequence
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from electrics.document.places import Setup
from electrics.identify.belief import Belief, Lack, WireBelief
from electrics.identify.settle import least_sure
from electrics.identify.setups import (
    FIRST_OF,
    Cell,
    dead_pins,
    effort_of,
    odd_cells,
    open_wires,
    per_function,
    pins_done,
    possible_setups,
    wants_helper,
)
from electrics.identify.tools import EVERY_TOOL, LOOKS
from electrics.inference.telling import Course, information, most_for_the_effort
from electrics.signals import Level, Scenario, signal
from electrics.vocabulary import FUNCTIONS, Arrangement, Control, Function, Instrument, Load

__all__ = ["Step", "next_steps", "plan_ahead", "repeats"]

Array = NDArray[np.float64]


WORTH_TOUCHING_BITS = 0.02

WORTH_A_WALK_BITS = 0.06

WORTH_GOING_ON_BITS = 0.15

PROOF_BITS = 0.2
"""What a reading is reckoned with that a verdict cannot be settled without [bit] (estimate)."""


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


def next_steps(
    belief: Belief,
    *,
    solo: bool = False,
    current: Setup | None = None,
    computer_fed: bool = True,
    tools: frozenset[str] = EVERY_TOOL,
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
    tools : frozenset of str
        What is at hand, by `electrics.identify.tools`.
    limit : int
        How many steps at most [-].

    Returns
    -------
    tuple of Step
        Best first; empty when every wire is settled or no further reading would tell anything.
    """
    steps = repeats(odd_cells(belief))
    still_open = open_wires(belief)
    done = pins_done(belief)
    candidates = []
    for setup in possible_setups(belief.point, computer_fed, belief.not_fitted, tools):
        fresh = [w for w in still_open if belief.wires[w].pin not in done.get(setup, ())]
        candidate = _best_wires(belief, setup, fresh, effort_of(setup, current, solo=solo))
        if candidate is not None:
            candidates.append(candidate)
    candidates.sort(key=lambda each: -each.worth)
    for candidate in candidates:
        if len(steps) < limit and candidate.setup.state not in {s.setup.state for s in steps}:
            steps.append(candidate.step())
    if not steps:
        steps = _confirming(belief, solo=solo, current=current, computer_fed=computer_fed, tools=tools)
    return tuple(steps[:limit])


def plan_ahead(
    belief: Belief,
    *,
    solo: bool = False,
    current: Setup | None = None,
    computer_fed: bool = True,
    tools: frozenset[str] = EVERY_TOOL,
    count: int = 3,
) -> tuple[Step, ...]:
    """The next few states to set, in order, decided at once: a list to take along to the vehicle.

    Parameters
    ----------
    belief, solo, current, computer_fed, tools : as for `next_steps`
    count : int
        How many steps at most [-].

    Returns
    -------
    tuple of Step
        Each chosen for what it tells beyond the steps before it, averaged over what those may read; their
        bits add up. Fewer than `count` when the rest would tell nothing.
    """
    steps = repeats(odd_cells(belief))[:count]
    still_open = open_wires(belief)
    done = pins_done(belief)
    doubt = np.add.reduceat(belief.unclaimed, FIRST_OF, axis=1)
    branches = {w: Course.start(doubt[w]) for w in still_open}
    while len(steps) < count:
        at = steps[-1].setup if steps else current
        candidates = []
        for setup in possible_setups(belief.point, computer_fed, belief.not_fitted, tools):
            fresh = [w for w in still_open if belief.wires[w].pin not in done.get(setup, ())]
            effort = effort_of(setup, at, solo=solo)
            candidate = _best_wires(belief, setup, fresh, effort, branches)
            if candidate is not None:
                candidates.append(candidate)
        if not candidates:
            steps = (
                steps
                or _confirming(belief, solo=solo, current=current, computer_fed=computer_fed, tools=tools)[:count]
            )
            break
        step = max(candidates, key=lambda each: each.worth).step()
        steps.append(step)
        done.setdefault(step.setup, set()).update(step.pins)
        chosen = [w for w in still_open if belief.wires[w].pin in step.pins]
        _, given = per_function(belief, still_open, step.setup)
        for w in chosen:
            branches[w] = branches[w].after(given)
    return tuple(steps)


def repeats(cells: Iterable[Cell]) -> list[Step]:
    """Measure some cells again, one step per set-up."""
    by_setup: dict[Setup, list[str]] = {}
    for pin, setup in cells:
        by_setup.setdefault(setup, []).append(pin)
    return [
        Step(setup, tuple(pins), 0.0, wants_helper(setup.state), (), is_repeat=True)
        for setup, pins in by_setup.items()
    ]


def _confirming(
    belief: Belief, *, solo: bool, current: Setup | None, computer_fed: bool, tools: frozenset[str]
) -> list[Step]:
    """Where no reading is worth its effort for what it tells of all wires: those that would settle a verdict.

    One that is sure but hangs on one reading is settled by seeing it in another state, nearest first; one that is
    not quite sure by what would show it, and its rivals less.
    """
    done, dead, found = pins_done(belief), dead_pins(belief), []
    still_open = open_wires(belief)
    for setup in possible_setups(belief.point, computer_fed, belief.not_fitted, tools):
        fresh = [w for w in still_open if belief.wires[w].pin not in done.get(setup, ())]
        if setup.instrument is Instrument.OHMS:
            fresh = [w for w in fresh if belief.wires[w].pin in dead]
        is_look = setup.instrument in LOOKS and setup.load is Load.IN
        parting = _parting(belief, fresh, setup)
        pins = tuple(
            belief.wires[w].pin for w in fresh if w in parting or (is_look and _shows(belief.wires[w], setup))
        )
        if pins:
            bits = PROOF_BITS * len(pins)
            cost = (-len(pins), len(setup.state.controls), effort_of(setup, current, solo=solo))
            first = next(wire for wire in belief.wires if wire.pin == pins[0])
            tells = tuple(function for function, _ in first.ranked[:2])
            found.append((cost, Step(setup, pins, bits, wants_helper(setup.state), tells)))
    return [step for _, step in sorted(found, key=lambda each: each[0])]


def _parting(belief: Belief, wires: Sequence[int], setup: Setup) -> set[int]:
    """Of some wires that are not sure enough, those whose verdict gains by what a set-up would then show."""
    unsure = [w for w in wires if belief.wires[w].lack in (Lack.CHANCE, Lack.OWN_READINGS)]
    if not unsure:
        return set()
    by_function, given = per_function(belief, unsure, setup)
    found = set()
    for w, before in zip(unsure, by_function, strict=True):
        verdict = FUNCTIONS.index(belief.wires[w].function)
        after = before * given[:, int(given[verdict].argmax())]
        odds, then = (each[verdict] / max(each.sum() - each[verdict], 1e-12) for each in (before, after))
        if then >= WORTH_ODDS * odds:
            found.add(w)
    return found


WORTH_ODDS = 2.0
"""By how much the odds of a verdict must rise, if it is right, for a reading that nothing else speaks for [-]."""


def _shows(wire: WireBelief, setup: Setup) -> bool:
    """Whether a wire's verdict, once it is sure, would be seen in a set-up: something on it, steady or flashing.

    Where the verdict is sure and only the side that is switched is not, all off tells: a feed switched by ground
    has battery voltage then.
    """
    if wire.probability < least_sure(wire.function):
        return False
    if wire.lack is Lack.CHANCE:
        return setup.state.controls == (Control.REST,)
    arrangement = Arrangement.COMBINED if wire.function.startswith("stop_turn") else Arrangement.SEPARATE
    seen = signal(wire.function, setup.state, Scenario(arrangement), wire.variant)
    return Level.OFF not in (seen.lit, seen.dark) or seen.is_flashing


@dataclass(frozen=True)
class _Candidate:
    """A set-up with the wires worth probing in it, and what that is worth for its effort [bit]."""

    worth: float
    setup: Setup
    pins: tuple[str, ...]
    bits: float
    by_function: Array
    given: Array

    def step(self) -> Step:
        tells = _parted(self.by_function, self.given)
        return Step(self.setup, self.pins, self.bits, wants_helper(self.setup.state), tells)


def _best_wires(
    belief: Belief,
    setup: Setup,
    wires: Sequence[int],
    effort: float,
    branches: Mapping[int, Course] | None = None,
) -> _Candidate | None:
    """The wires to probe in one set-up, of those open and fresh; None when not worth it."""
    if setup.instrument is Instrument.OHMS:
        dead = dead_pins(belief)
        wires = [w for w in wires if belief.wires[w].pin in dead]
    if not wires:
        return None
    by_function, given = per_function(belief, wires, setup)
    bits = information(by_function, given)
    if branches is not None:
        bits = np.array([branches[w].bits(given) for w in wires])
    bits = np.maximum(bits, [_proof_bits(belief.wires[w], setup) for w in wires])
    order = np.argsort(-bits, kind="stable")
    order = order[bits[order] >= WORTH_TOUCHING_BITS]
    if bits[order].sum() < WORTH_A_WALK_BITS:
        return None
    best = most_for_the_effort(bits[order], effort)
    # going on to a wire that still tells something is cheaper now than coming back for it
    worth = [int(i) for n, i in enumerate(order) if n <= best or bits[i] >= WORTH_GOING_ON_BITS]
    pins = tuple(belief.wires[w].pin for i, w in enumerate(wires) if i in worth)
    told = float(bits[worth].sum())
    return _Candidate(told / (effort + len(worth)), setup, pins, told, by_function[worth], given)


_PROVEN_BY: dict[Function, Callable[[Setup], bool]] = {
    Function.GROUND: lambda setup: (
        setup.instrument is Instrument.LOADED_DROP or (setup.instrument is Instrument.OHMS and setup.load is Load.OUT)
    ),
    Function.DATA: lambda setup: setup.instrument is Instrument.HERTZ,
}
"""The set-ups without which a verdict is never settled, however sure it is."""
_PROOFS: dict[Lack, Callable[[Setup], bool]] = {
    Lack.GROUND_PROOF: lambda setup: (
        _PROVEN_BY[Function.GROUND](setup)
        or (setup.instrument is Instrument.DMM and setup.state.controls == (Control.REST,))
    ),
    Lack.BUS: _PROVEN_BY[Function.DATA],
}
"""The set-ups that can bring what a verdict lacks beyond its probability; volts at rest come before ohms."""
LIKELY = 0.5
"""How likely a verdict is from which its proof, which it needs in any case, is taken before other readings [-]."""


def _proof_bits(wire: WireBelief, setup: Setup) -> float:
    """What a set-up is worth for what a verdict lacks, or will lack, however sure it is [bit]."""
    brings = _PROOFS.get(wire.lack)
    if brings is None and wire.probability >= LIKELY:
        brings = _PROVEN_BY.get(wire.function)
        if brings is not None and any(brings(weight.evidence.setup) for weight in wire.weights):
            return 0.0
    return PROOF_BITS if brings is not None and brings(setup) else 0.0


def _parted(by_function: Array, given: Array) -> tuple[Function, ...]:
    """The two functions that these readings part best, by probability and difference of display."""
    together = by_function.T @ by_function
    difference = 0.5 * np.abs(given[:, None, :] - given[None, :, :]).sum(axis=-1)
    worth = together * difference
    first, second = np.unravel_index(int(worth.argmax()), worth.shape)
    pair = sorted((int(first), int(second)), key=lambda f: -float(by_function[:, f].sum()))
    return tuple(FUNCTIONS[f] for f in pair)
