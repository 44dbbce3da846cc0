"""What a job needs to know of an access point, and whether that is known: the functions it taps, and a ground.

A wire that nobody taps may stay open. What is tapped must be so sure that a wrong tap costs less than one more check,
by its own readings alone: claims do not count.
"""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass
from functools import cache, cached_property
from math import sqrt

import numpy as np
from numpy.typing import NDArray

from electrics.errors import FactError
from electrics.identify.belief import Belief, Lack, WireBelief
from electrics.identify.likelihood import FUNCTION_OF, HYPOTHESES
from electrics.identify.live import seen_on
from electrics.identify.settle import MOST_DATA, drops_little, proves_ground, times_shown_ground
from electrics.identify.setups import MOST_READ, odd_cells
from electrics.reference.functions import Tap, kind_of
from electrics.signals import polarity_of
from electrics.vocabulary import FUNCTIONS, Control, Function, Instrument, Polarity, State

__all__ = [
    "NOTHING",
    "STATES_OF_A_TAP",
    "Mask",
    "Need",
    "Needed",
    "Sought",
    "asked_for_bus",
    "calibrated",
    "check_needed",
    "enough",
    "masks_of",
    "most_doubt",
    "needs_of",
    "sought",
    "states_read",
]

Array = NDArray[np.float64]
Mask = NDArray[np.bool_]
TOUCHES_PER_ERROR = 40.0
"""What a wrong tap costs for each unit of `error_cost` [touch]: half a day, the job done twice (estimate)."""
ONE_MORE_CHECK = 10.0
"""What another check costs with its walk [touch]: doubt may cost no more than that."""
LOOKED_FOR = 30.0
"""How much likelier a function is where somebody looks for it [-]: its lamp was seen to light (estimate)."""
CALIBRATION = 4.0
"""By how much the odds of an error, as weighed, exceed those that were measured on generated places [-]: every rival
that a vehicle might have is weighed, and few vehicles have them. Measured by `make bench-long`."""
SURER_GROUND = 0.3
"""Share of that doubt that a ground may have while it was shown once [-]: another touch on it costs no walk."""
STATES_OF_A_TAP = 2
"""States in which a tap must have been read [-]: live in its own, and whether it is dead in another."""
TINY = 1e-12


@dataclass(frozen=True)
class Needed:
    """What a job needs of one access point.

    Attributes
    ----------
    groups : tuple of tuple of Function
        Each is one thing that is tapped: any function of it will do, as stop-and-turn for a turn lamp where the
        vehicle has no separate turn wire.
    ground : bool
        Whether a ground is needed as well.
    """

    groups: tuple[tuple[Function, ...], ...] = ()
    ground: bool = True

    @classmethod
    def each(cls, functions: Iterable[Function], *, ground: bool = True) -> Needed:
        """Each function for itself."""
        wanted = set(functions)
        return cls(tuple((each,) for each in FUNCTIONS if each in wanted), ground)

    @property
    def all_groups(self) -> tuple[tuple[Function, ...], ...]:
        """What is to be found, the ground last; a job that taps nothing needs none."""
        own = tuple(group for group in self.groups if group != GROUND)
        return (*own, GROUND) if own != self.groups or (own and self.ground) else own

    @property
    def functions(self) -> frozenset[Function]:
        """Every function that would do for something."""
        return frozenset(each for group in self.all_groups for each in group)


GROUND = (Function.GROUND,)
NOTHING = Needed(ground=False)


@dataclass(frozen=True)
class Sought:
    """What is believed of an access point once it counts that somebody looks for something there.

    Attributes
    ----------
    worlds : ndarray (n_worlds,)
    by_world : ndarray (n_worlds, n_wires, n_hypotheses)
        As in `Belief`, claims left out [-].
    """

    belief: Belief
    worlds: Array
    by_world: Array

    @cached_property
    def measured(self) -> Array:
        """Probability of each hypothesis for each wire, (n_wires, n_hypotheses) [-]."""
        return np.asarray(np.einsum("g,gwh->wh", self.worlds, self.by_world))


def sought(belief: Belief, *groups: tuple[Function, ...]) -> Sought:
    """A belief in which what is looked for is `LOOKED_FOR` times likelier to be here; readings still win."""
    worlds, by_world = belief.unclaimed_worlds, belief.by_world.copy()
    for own in (_of_group(group) for group in groups if group != GROUND):  # a ground is nearly everywhere
        here = by_world[:, :, own].sum(axis=2)
        scale = 1.0 + (LOOKED_FOR - 1.0) * np.minimum(here.sum(axis=1), 1.0)  # as if only one wire could be it
        now = np.maximum(here * (LOOKED_FOR / scale)[:, None], here)
        by_world[:, :, ~own] *= ((1.0 - now) / np.maximum(1.0 - here, TINY))[:, :, None]
        by_world[:, :, own] *= (now / np.maximum(here, TINY))[:, :, None]
        worlds = worlds * scale
    return Sought(belief, worlds / worlds.sum(), by_world)


@dataclass(frozen=True)
class Need:
    """One thing that is needed, and how well it is known.

    Attributes
    ----------
    function : Function
        Of its group, the one that it most likely is.
    pin : str
        The wire that is likeliest to carry it.
    doubt : float
        Chance that it does not, calibrated [-].
    absent : float
        Chance that no wire here carries it [-].
    limit : float
        The most doubt that it may have; 0 where it is settled [-].
    is_met : bool
        Whether that wire may be tapped for it, or it is settled that no wire here carries it.
    """

    function: Function
    pin: str
    doubt: float
    absent: float
    is_met: bool
    limit: float = 0.0

    @property
    def is_here(self) -> bool:
        """Whether a wire here carries it, as far as is known."""
        return 1.0 - self.doubt > self.absent

    @property
    def weighed(self) -> float:
        """The doubt before it was calibrated: what readings are weighed by [-]."""
        return CALIBRATION * self.doubt / (1.0 + (CALIBRATION - 1.0) * self.doubt)


def most_doubt(function: Function) -> float:
    """The most doubt with which a wire may be tapped for a function [-]: by what an error costs."""
    return ONE_MORE_CHECK / (TOUCHES_PER_ERROR * kind_of(function).error_cost)


@cache
def masks_of(function: Function) -> tuple[Mask, ...]:
    """The hypotheses that are the function, switched by one side of its lamp or the other, (n_hypotheses,) each."""
    sides = [np.array([polarity_of(variant) is side for _, variant, _ in HYPOTHESES]) for side in Polarity]
    return tuple(mask for side in sides if (mask := _of_group((function,)) & side).any())


@cache
def _of_group(group: tuple[Function, ...]) -> Mask:
    return np.isin(FUNCTION_OF, [FUNCTIONS.index(function) for function in group])


def check_needed(needed: Needed, not_fitted: frozenset[Control] = frozenset()) -> None:
    """Refuse what no job can tap, and what the vehicle is said to lack: FactError names the first."""
    for group in needed.groups:
        if group == GROUND:
            continue
        if all(kind_of(function).tap is Tap.NEVER for function in group):
            raise FactError("for", f"{group[0]} is never tapped. Leave it out.")
        lacks = [sorted(not_fitted & set(kind_of(function).needs)) for function in group]
        if all(lacks):
            raise FactError(
                "for", f"{group[0]} is needed, but the vehicle is said to have no {lacks[0][0]}. Which is it?"
            )


def needs_of(belief: Belief, needed: Needed) -> tuple[Need, ...]:
    """How well everything that is needed is known at one access point; empty where nothing is."""
    groups = needed.all_groups if belief.wires else ()
    return tuple(_need_of(belief, group, among=len(groups)) for group in groups)


def enough(belief: Belief, needed: Needed) -> bool:
    """Whether an access point is known well enough for a job; True where nothing is needed of it."""
    return all(need.is_met for need in needs_of(belief, needed))


def _need_of(belief: Belief, group: tuple[Function, ...], *, among: int = 1) -> Need:
    """How well one thing is known that is looked for: for itself, so that looking for more lowers no proof.

    `among` is how many things the job needs: each of them may spoil it, and one walk may serve them all.
    """
    for wire in belief.wires:
        if wire.is_settled and wire.function in group:  # by the stricter rule for every wire, or a person decided it
            return Need(wire.function, wire.pin, calibrated(1.0 - wire.probability), 0.0, True)
    measured, odd = sought(belief, group).measured, odd_cells(belief)
    by_wire = {each: np.max([measured[:, mask].sum(axis=1) for mask in masks_of(each)], axis=0) for each in group}
    function = max(group, key=lambda each: float(by_wire[each].max()))
    w = int(by_wire[function].argmax())
    wire, doubt = belief.wires[w], calibrated(1.0 - float(by_wire[function][w]))
    absent = 1.0 - calibrated(min(float(measured[:, _of_group(group)].sum()), 1.0))
    limit = _limit(wire, function) / sqrt(max(among / 3, 1.0))
    if absent >= 1.0 - limit:  # every reading that speaks against all the others may be the one that would show it
        return Need(function, wire.pin, doubt, absent, not odd, limit)
    is_clear = not any(pin == wire.pin for pin, _ in odd)
    is_met = doubt <= limit and is_clear and _may_be_used(wire, function)
    return Need(function, wire.pin, doubt, absent, is_met, limit)


def calibrated(chance: float) -> float:
    """The chance of an error as it was measured, where this one was weighed [-]."""
    return max(chance, 0.0) / (chance + CALIBRATION * (1.0 - chance))


def _limit(wire: WireBelief, function: Function) -> float:
    """The most doubt that a wire may have for a function; a ground less, as long as one reading only shows it."""
    if function is not Function.GROUND:
        return most_doubt(function)
    shown = times_shown_ground(wire.evidence)
    return most_doubt(function) * (SURER_GROUND if shown < MOST_READ else 1.0)


def _may_be_used(wire: WireBelief, function: Function) -> bool:
    """Whether a wire may be tapped for a function, once there is little enough doubt that it is the one."""
    evidence = wire.evidence
    if wire.function is not function:
        return False
    if function is Function.GROUND:  # no bus holds a test lamp's current down
        return proves_ground(evidence) or drops_little(evidence)
    if wire.lack is Lack.BUS and not asked_for_bus(wire):
        return False
    return len(states_read(wire)) >= STATES_OF_A_TAP and seen_on(evidence, function, wire.variant)


def states_read(wire: WireBelief) -> set[State]:
    """The states in which a wire was read."""
    return {item.setup.state for item in wire.evidence}


def asked_for_bus(wire: WireBelief) -> bool:
    """Whether somebody looked for pulses on a wire that may be a bus, and it is hardly one by now."""
    looked = any(item.setup.instrument is Instrument.HERTZ for item in wire.evidence)
    return looked and wire.probability_of(Function.DATA) <= MOST_DATA
