"""What a reading is worth beside what it tells: proofs that are needed in any case, and walks that it spares."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from functools import cached_property

import numpy as np
from numpy.typing import NDArray

from electrics.document.places import Setup
from electrics.identify.belief import Belief, Lack, WireBelief
from electrics.identify.live import is_on_in, seen_on
from electrics.identify.needed import (
    STATES_OF_A_TAP,
    Need,
    Sought,
    asked_for_bus,
    calibrated,
    masks_of,
    most_doubt,
    states_read,
)
from electrics.identify.settle import proves_ground, times_shown_ground
from electrics.identify.setups import MOST_READ, dead_pins, outcomes_by_world
from electrics.identify.tools import LOOKS
from electrics.vocabulary import Control, Function, Instrument, Load, State

__all__ = ["Beside"]

Array = NDArray[np.float64]
PROOF_BITS = 0.3
"""What the reading is reckoned with that a ground cannot be taken without [bit] (estimate)."""
NOW_BITS = 5.0
"""The same while its state is set already: it is needed in any case, and later it costs another walk [bit]."""
OWED_BITS = 0.7
"""What a look in a state that shows a wanted function is worth on the wire that is it, beside what it tells [bit]."""
FINISH_FROM, FINISH_BITS = 0.1, 0.5
"""From what doubt a need may be finished by one reading in the state that is set [-], and what that is worth: it
spares a walk [bit] (estimates)."""
KNOWN_BY_ONE = 0.9
"""Share of the chance that another wire is the tap which one reading of it takes away [-] (estimate)."""
FEW_WIRES, SPARED_BITS = 3, 1.6
"""Up to how many wires [-] each is looked at before the first walk, and what that is worth on the tap [bit]: measured
against every plan (`bench.best_wish`)."""
LIKELY = 0.5
"""How likely a wire is the ground from which its proof is asked for [-]."""


@dataclass(frozen=True)
class Beside:
    """What readings are worth beside what they tell of a job's open needs.

    Attributes
    ----------
    at : State
        What is set now.
    """

    looked_for: Sought
    needs: tuple[Need, ...]
    setups: tuple[Setup, ...]
    at: State

    def bits(self, setup: Setup, told: Array) -> Array:
        """What a first reading of each wire in a set-up is worth in all, of what it tells (n_wires,) [bit]."""
        found = self.proven(setup, told)
        if setup.instrument not in LOOKS:
            return found
        if setup.state in self._owed:
            found = found + self._owed[setup.state]
        if setup.state == self.at:
            found = found + self._spared + FINISH_BITS * _finishing(self.looked_for, self.needs, setup)
        return found

    def proven(self, setup: Setup, told: Array) -> Array:
        """The same of a second reading: one that a wire can't be used without counts as a proof (n_wires,) [bit]."""
        worth = PROOF_BITS if setup.state != self.at else NOW_BITS
        wires = self.looked_for.belief.wires
        needed = np.array([setup in self.proofs.get(wire.pin, ()) for wire in wires])
        return np.asarray(np.maximum(told, worth * needed))

    @cached_property
    def proofs(self) -> dict[str, set[Setup]]:
        """The set-ups that bring what a wire cannot be used without, however sure it is, by its pin."""
        return _proofs(self.looked_for.belief, self.needs, self.setups)

    @cached_property
    def _owed(self) -> dict[State, Array]:
        return _owed(self.looked_for, self.needs, self.setups)

    @cached_property
    def _spared(self) -> Array:
        return _spared(self.looked_for, self.needs, self.at)


def _proofs(belief: Belief, needs: Sequence[Need], setups: Sequence[Setup]) -> dict[str, set[Setup]]:
    """The set-ups that bring what a wire cannot be used without, however sure it is, by its pin."""
    found = {}
    for need in needs:
        wire = belief.wire(need.pin)
        variant = wire.variant if wire.function is need.function else ""
        if 1.0 - need.weighed < LIKELY:
            continue
        if need.function is Function.GROUND:
            found[need.pin] = {each for each in setups if _proves_ground(belief, wire, each, setups)}
        elif wire.lack is Lack.BUS and not asked_for_bus(wire):
            found[need.pin] = {each for each in setups if each.instrument is Instrument.HERTZ}
        elif need.doubt <= most_doubt(need.function) and not seen_on(wire.evidence, need.function, variant):
            shows = {each for each in setups if is_on_in(need.function, variant, each.state)}
            found[need.pin] = {each for each in shows if each.instrument in LOOKS}
        elif need.doubt <= most_doubt(need.function) and len(states_read(wire)) < STATES_OF_A_TAP:
            other = {each for each in setups if each.state not in states_read(wire)}
            found[need.pin] = {each for each in other if each.instrument in LOOKS}
    return found


def _proves_ground(belief: Belief, wire: WireBelief, setup: Setup, setups: Sequence[Setup]) -> bool:
    """Whether a set-up is the next one on the way to a proven ground: what excludes feeds, twice, and a second cell.

    The second time is asked for while the first one's set-up still stands: later it would cost a walk.
    """
    evidence = wire.evidence
    if times_shown_ground(evidence) >= MOST_READ:
        return setup.instrument is Instrument.DMM and not proves_ground(evidence)
    if any(each.instrument is Instrument.LOADED_DROP for each in setups):
        return setup.instrument is Instrument.LOADED_DROP
    if wire.pin not in dead_pins(belief):  # ohms only where nothing was live
        return setup.instrument is Instrument.DMM and setup.state.controls == (Control.REST,)
    return setup.instrument is Instrument.OHMS and setup.load is Load.OUT


def _owed(looked_for: Sought, needs: Sequence[Need], setups: Sequence[Setup]) -> dict[State, Array]:
    """What a look at each wire in a state is worth beside what it tells, (n_wires,) by state [bit].

    Every tap must be seen on before it is one: a state that shows it is set in any case.
    """
    found: dict[State, Array] = {}
    for need in needs:
        if need.function is Function.GROUND or seen_on(looked_for.belief.wire(need.pin).evidence, need.function, ""):
            continue
        chance = _chance_of(looked_for, need.function)
        for state in {setup.state for setup in setups}:
            if is_on_in(need.function, "", state):
                found[state] = found.get(state, 0.0) + OWED_BITS * chance
    return found


def _spared(looked_for: Sought, needs: Sequence[Need], at: State) -> Array:
    """What a look at each wire in the state that is set is worth beside what it tells, (n_wires,) [bit].

    A tap is looked at in two states: where it is one of few wires, a look now spares the walk back.
    """
    wires = looked_for.belief.wires
    found = np.zeros(len(wires))
    for need in needs if len(wires) <= FEW_WIRES else ():
        if need.function is not Function.GROUND:
            found = np.maximum(found, _chance_of(looked_for, need.function))
    unread = np.array([at not in states_read(w) and len(states_read(w)) < STATES_OF_A_TAP for w in wires])
    return np.asarray(SPARED_BITS * found * unread)


def _chance_of(looked_for: Sought, function: Function) -> Array:
    """Chance that each wire carries a function, whichever side of the lamp it switches, (n_wires,) [-]."""
    return np.asarray(np.sum([looked_for.measured[:, mask].sum(axis=1) for mask in masks_of(function)], axis=0))


def _finishing(looked_for: Sought, needs: Sequence[Need], setup: Setup) -> NDArray[np.bool_]:
    """Whether one reading of each wire in a set-up, read as expected, makes some need sure enough, (n_wires,)."""
    wires = looked_for.belief.wires
    given = np.tensordot(looked_for.worlds, outcomes_by_world(setup), 1)
    found = np.zeros(len(wires), dtype=bool)
    for need in needs:
        if need.function is Function.GROUND or need.weighed > FINISH_FROM or need.doubt <= need.limit:
            continue
        w = [wire.pin for wire in wires].index(need.pin)
        mask = max(masks_of(need.function), key=lambda each: float(looked_for.measured[w, each].sum()))
        shown = int((looked_for.measured[w, mask] @ given[mask]).argmax())
        after = looked_for.measured[w] * given[:, shown]
        if calibrated(1.0 - float(after[mask].sum() / after.sum())) <= need.limit:
            found[w] = True
        if not is_on_in(need.function, "", setup.state):
            continue
        left = need.weighed - KNOWN_BY_ONE * looked_for.measured[:, mask].sum(axis=1)  # dark there: not another wire
        others = np.arange(len(wires)) != w
        found |= others & np.array([calibrated(float(each)) <= need.limit for each in left])
    return found
