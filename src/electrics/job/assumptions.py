"""What a plan rests on that nobody has said, and the value at which it would be another plan.

Another plan is another way, part, size, refusal or upset, all else at its usual value. What parts and sizes follow is
looked at first; only where they stay is the circuit solved.
"""

from __future__ import annotations

from collections.abc import Callable, Iterator, Sequence
from dataclasses import dataclass, replace
from enum import StrEnum
from functools import cached_property
from math import log

from electrics.circuit.elements import ComputerOutput, Flasher, Housed
from electrics.document.circuits import FedBy
from electrics.document.job import JobFacts
from electrics.document.vehicle import Idle
from electrics.job.correction import effects_of
from electrics.job.cures.registry import as_cured
from electrics.job.layout import JobLayout
from electrics.job.needs import beliefs_of
from electrics.job.plan import Plan, layout_of, plan
from electrics.reference.functions import kind_of
from electrics.reference.fuses import fuses
from electrics.reference.habits import (
    AIR_C,
    LEAK_OHM,
    TEST_HZ,
    TEST_MS,
    TOW_SIDE_A,
    TOW_TAIL_A,
    WARNS_SHARE,
    WATCHES_ALL,
    Habit,
    habits,
)
from electrics.reference.usual import system_scale, usual_circuit
from electrics.vocabulary import Function

__all__ = ["About", "Assumption", "assumptions"]

LEAST, MOST = 0.5, 2.0
"""A length that is assumed may be half of it, or twice [-] (estimate)."""
STEPS = 4
"""Halvings in which the value is sought at which a plan changes [-]."""
MOST_BULBS = 10
LED_TELLS = 1.2
"""LEDs where bulbs are assumed are as near as a number that is wrong by this ratio [-] (estimate)."""


class About(StrEnum):
    """What an assumption is about."""

    LENGTH = "length"
    FUSE = "fuse"
    BULBS = "bulbs"
    LED = "led"
    COMPUTER = "computer"
    HABIT = "habit"


@dataclass(frozen=True)
class Assumption:
    """Something that was assumed.

    Attributes
    ----------
    about : About
    where : str
        Two places (`battery to left tail lamp`), a function, or the id of a habit.
    value, low, high : float
        What was assumed, and between what it may be [m], [A], bulbs [-], or the unit of the habit.
    changes_at : float or None
        The nearest value at which another way, part, size, refusal or upset follows; None for none in its range.
    is_dangerous : bool
        A mistake does harm: it is never taken for granted.
    """

    about: About
    where: str
    value: float
    low: float
    high: float
    changes_at: float | None
    is_dangerous: bool = False

    @property
    def telling(self) -> tuple[bool, float]:
        """The most telling first: what would change the plan soonest."""
        if self.changes_at is None:
            return True, 0.0
        if self.about is About.LED:
            return False, log(LED_TELLS)
        return False, abs(log(max(self.changes_at, 1e-3) / max(self.value, 1e-3)))


def assumptions(facts: JobFacts) -> tuple[Assumption, ...]:
    """Everything that was assumed for a job, the most telling first.

    Parameters
    ----------
    facts : JobFacts

    Returns
    -------
    tuple of Assumption
    """
    base = _Base(facts)
    found = [*_lengths(base), *_circuits(base), *_habits(base)]
    return tuple(sorted(found, key=lambda each: (not each.is_dangerous, *each.telling)))


class _Base:
    """The plan as it is, and whether other facts make another one."""

    def __init__(self, facts: JobFacts) -> None:
        self.facts = facts
        self.beliefs = beliefs_of(facts)
        self.laid = layout_of(as_cured(facts), self.beliefs)
        self.outline = _outline(self.laid)

    @cached_property
    def plan(self) -> Plan:
        return plan(self.facts)

    @cached_property
    def upsets(self) -> frozenset[tuple[str, ...]]:
        """What is upset at running voltage."""
        return _upsets(self.plan)

    @cached_property
    def effects(self) -> frozenset[tuple[str, ...]]:
        """What is upset at any voltage."""
        return frozenset(effect.key for effect in effects_of(self.plan))

    def differs_by_length(self, facts: JobFacts) -> bool:
        """Whether other distances make another plan."""
        return _outline(self.laid.with_facts(as_cured(facts))) != self.outline or self._differs_live(facts)

    def differs(self, facts: JobFacts, *, has_other_ways: bool = False) -> bool:
        """Whether with other facts other ways, parts, sizes or refusals follow."""
        ways = None if has_other_ways else self.laid.found
        return _outline(layout_of(as_cured(facts), self.beliefs, ways)) != self.outline

    def differs_at_all(self, facts: JobFacts) -> bool:
        """Whether with other facts any of these follow, or something else is upset."""
        return self.differs(facts) or self._differs_live(facts)

    def _differs_live(self, facts: JobFacts) -> bool:
        return _upsets(plan(facts, like=self.plan)) != self.upsets

    def upsets_otherwise(self, facts: JobFacts) -> bool:
        """Whether something else is upset with other facts of the vehicle, at any voltage."""
        return frozenset(effect.key for effect in effects_of(plan(facts, like=self.plan))) != self.effects


def _upsets(found: Plan) -> frozenset[tuple[str, ...]]:
    return frozenset(upset.key for upset in found.hookup.upsets)


def _outline(laid: JobLayout) -> tuple[object, ...]:
    """What a plan is: its ways, parts, sizes and refusals, without lengths."""
    design = laid.design
    ways = tuple(draft.shown.key if draft.shown else "" for draft in laid.drafts)
    refused = tuple(laid.sized[draft.lead.id].faults for draft in laid.drafts)
    borne = tuple(each.load is None or (each.load.fits_fuse and each.load.fits_wire) for each in laid.circuits)
    if design is None:
        return ways, refused, borne
    parts = tuple(sorted((part.part, part.value) for part in design.parts))
    sizes = tuple(sorted((wire.role, wire.conductor.name) for wire in design.wires))
    return ways, refused, borne, parts, sizes


def _lengths(base: _Base) -> Iterator[Assumption]:
    facts, design = base.facts, base.laid.design
    pairs: dict[tuple[str, str], float] = {}
    for wire in design.wires if design else ():
        if wire.is_assumed:
            pairs.setdefault((wire.by[0], wire.by[-1]), wire.routed_m)
    for (first, second), m in pairs.items():

        def at(value: float, pair: frozenset[str] = frozenset((first, second))) -> bool:
            return base.differs_by_length(replace(facts, distances={**facts.distances, pair: value}))

        low, high = LEAST * m, MOST * m
        yield Assumption(About.LENGTH, f"{first} to {second}", m, low, high, _nearest(at, m, low, high))


def _nearest(changes: Callable[[float], bool], value: float, low: float, high: float) -> float | None:
    """The value nearest to the assumed one at which the plan is another; None where it is not."""
    found = []
    for end in (high, low):
        if not changes(end):
            continue
        same, other = value, end
        for _ in range(STEPS):
            middle = (same + other) / 2
            same, other = (same, middle) if changes(middle) else (middle, other)
        found.append(round(other, 2))
    return min(found, key=lambda each: abs(log(max(each, 1e-3) / value)), default=None)


def _circuits(base: _Base) -> Iterator[Assumption]:
    facts = base.facts
    for circuit in base.laid.circuits:
        function, assumed = circuit.function, facts.assumed_of(circuit.function)

        def noted(function: Function = function, **values: object) -> JobFacts:
            notes = replace(facts.circuit(function), **values)  # type: ignore[arg-type]
            circuits = {**facts.hookup.circuits, str(function): notes}
            return replace(facts, hookup=replace(facts.hookup, circuits=circuits))

        if "host_fuse_a" in assumed:
            ratings = [fuse.rating_a for fuse in fuses() if 5 <= fuse.rating_a <= 30]
            value = float(assumed["host_fuse_a"])
            nearest = _step(value, ratings, lambda each: base.differs(noted(host_fuse_a=each)))
            yield Assumption(About.FUSE, str(function), value, ratings[0], ratings[-1], nearest)
        if "host_count" in assumed:
            value = float(assumed["host_count"])
            counts = [float(n) for n in range(MOST_BULBS + 1)]
            nearest = _step(value, counts, lambda each: base.differs_at_all(noted(host_count=int(each))))
            yield Assumption(About.BULBS, str(function), value, counts[0], counts[-1], nearest)
        usual = usual_circuit(str(function), facts.vehicle.system_v)
        if "host_bulb" in assumed and usual is not None:
            at = 1.0 if base.differs_at_all(noted(host_bulb=usual.led)) else None
            yield Assumption(About.LED, str(function), 0.0, 0.0, 1.0, at)
        if circuit.notes.fed_by is FedBy.UNKNOWN:
            at = 1.0 if base.differs(noted(fed_by=FedBy.COMPUTER), has_other_ways=True) else None
            yield Assumption(About.COMPUTER, str(function), 0.0, 0.0, 1.0, at, is_dangerous=True)


def _step(value: float, steps: Sequence[float], changes: Callable[[float], bool]) -> float | None:
    """The nearest step on either side from which on the plan is another: the next one, else by halving."""
    found = []
    for side in ([each for each in steps if each > value], [each for each in reversed(steps) if each < value]):
        if side and changes(side[0]):
            found.append(side[0])
            continue
        if not side or not changes(side[-1]):
            continue
        same, other = 0, len(side) - 1
        while other - same > 1:
            middle = (same + other) // 2
            same, other = (same, middle) if changes(side[middle]) else (middle, other)
        found.append(side[other])
    return min(found, key=lambda at: abs(at - value), default=None)


def _at_tow_sockets(base: _Base) -> dict[str, bool]:
    """Whether a module behind a tow socket carries something of a side, and of both."""
    by_module = [each for each in base.laid.circuits if each.is_tow and each.notes.fed_by is FedBy.COMPUTER]
    return {
        TOW_SIDE_A: any(kind_of(each.function).side for each in by_module),
        TOW_TAIL_A: any(not kind_of(each.function).side for each in by_module),
    }


def _habits(base: _Base) -> Iterator[Assumption]:
    """How the vehicle watches its lamps, where something does, and the air around what gets hot."""
    facts, together = base.facts, base.plan.hookup.together
    if together is None:
        return
    network, vehicle = together.simulation.network, facts.vehicle
    is_there = {
        WARNS_SHARE: any(each.misses_below_a for each in network.of(Flasher))
        or any(each.warn_below_a for each in network.of(ComputerOutput)),
        WATCHES_ALL: any(each.warn_below_a for each in network.of(ComputerOutput)),
        LEAK_OHM: vehicle.idle is Idle.LEAK,
        TEST_MS: vehicle.idle is Idle.PULSES,
        TEST_HZ: vehicle.idle is Idle.PULSES,
        AIR_C: any(each.watts for each in network.of(Housed)),
        **_at_tow_sockets(base),
    }
    stated = dict(vehicle.habits)
    for id, has_it in is_there.items():
        if has_it and id not in stated:
            row = habits()[id]

            def at(value: float, row: Habit = row) -> bool:
                known = tuple({**stated, row.id: value}.items())
                other = replace(facts, vehicle=replace(vehicle, habits=known))
                return base.differs(other) if row.unit == "A" else base.upsets_otherwise(other)

            if id == WATCHES_ALL:
                yield Assumption(About.HABIT, id, row.usual, row.low, row.high, row.high if at(row.high) else None)
                continue
            scale = (
                system_scale(vehicle.system_v)
                if id == LEAK_OHM
                else 1 / system_scale(vehicle.system_v)
                if row.unit == "A"
                else 1.0
            )
            low, high = scale * row.low, scale * row.high
            yield Assumption(
                About.HABIT, id, scale * row.usual, low, high, _nearest(at, scale * row.usual, low, high)
            )
