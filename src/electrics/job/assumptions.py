"""What a plan rests on that nobody has said, and the value at which it would be another plan.

Ways, parts, sizes and refusals are looked at; what the circuit would show then is not solved again.
"""

from __future__ import annotations

from collections.abc import Callable, Iterator
from dataclasses import dataclass, replace
from enum import StrEnum
from math import log

from electrics.job.beliefs import believe
from electrics.job.drafts import Fitting
from electrics.job.facts import FedBy, JobFacts
from electrics.job.plan import fitting_of
from electrics.reference.fuses import fuses
from electrics.vocabulary import Function

__all__ = ["About", "Assumption", "assumptions"]

LEAST, MOST = 0.5, 2.0
"""A length that is assumed may be half of it, or twice [-] (estimate)."""
STEPS = 4
"""Halvings in which the value is sought at which a plan changes [-]."""
MOST_BULBS = 10


class About(StrEnum):
    """What an assumption is about."""

    LENGTH = "length"
    FUSE = "fuse"
    BULBS = "bulbs"
    COMPUTER = "computer"


@dataclass(frozen=True)
class Assumption:
    """Something that was assumed.

    Attributes
    ----------
    about : About
    where : str
        Two places (`battery to left tail lamp`), or a function.
    value, low, high : float
        What was assumed, and between what it may be [m], [A] or bulbs [-].
    changes_at : float or None
        The nearest value at which another way, part, size or refusal follows; None for none in its range.
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
    base = fitting_of(facts, believe(facts.places, facts.vehicle))
    found = [*_lengths(base), *_circuits(base)]
    return tuple(sorted(found, key=lambda each: (not each.is_dangerous, *each.telling)))


def _outline(fitting: Fitting) -> tuple[object, ...]:
    """What a plan is: its ways, parts, sizes and refusals, without lengths."""
    design = fitting.design
    ways = tuple(draft.shown.key if draft.shown else "" for draft in fitting.drafts)
    refused = tuple(fitting.sized[draft.lead.id].faults for draft in fitting.drafts)
    borne = tuple(each.load is None or (each.load.fits_fuse and each.load.fits_wire) for each in fitting.circuits)
    if design is None:
        return ways, refused, borne
    parts = tuple(sorted((part.part, part.value) for part in design.parts))
    sizes = tuple(sorted((wire.role, wire.conductor.name) for wire in design.wires))
    return ways, refused, borne, parts, sizes


def _changed(base: Fitting, facts: JobFacts, *, has_other_ways: bool = False) -> bool:
    """Whether other facts make another plan."""
    beliefs = believe(facts.places, facts.vehicle)
    return _outline(fitting_of(facts, beliefs, None if has_other_ways else base.found)) != _outline(base)


def _lengths(base: Fitting) -> Iterator[Assumption]:
    facts, design, usual = base.facts, base.design, _outline(base)
    pairs: dict[tuple[str, str], float] = {}
    for wire in design.wires if design else ():
        if wire.is_assumed:
            pairs.setdefault((wire.by[0], wire.by[-1]), wire.routed_m)
    for (first, second), m in pairs.items():

        def at(value: float, pair: frozenset[str] = frozenset((first, second))) -> bool:
            other = replace(facts, distances={**facts.distances, pair: value})
            return _outline(base.with_facts(other)) != usual

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
    return min(found, key=lambda each: abs(log(each / value)), default=None)


def _circuits(base: Fitting) -> Iterator[Assumption]:
    facts = base.facts
    for circuit in base.circuits:
        function, assumed = circuit.function, facts.assumed_of(circuit.function)

        def noted(function: Function = function, **values: object) -> bool:
            notes = replace(facts.circuit(function), **values)  # type: ignore[arg-type]
            circuits = {**facts.hookup.circuits, str(function): notes}
            other = replace(facts, hookup=replace(facts.hookup, circuits=circuits))
            return _changed(base, other, has_other_ways="fed_by" in values)

        if "host_fuse_a" in assumed:
            ratings = [fuse.rating_a for fuse in fuses() if 5 <= fuse.rating_a <= 30]
            value = float(assumed["host_fuse_a"])
            yield _of_steps(About.FUSE, function, value, ratings, lambda each: noted(host_fuse_a=each))
        if "host_count" in assumed:
            value = float(assumed["host_count"])
            counts = [float(n) for n in range(MOST_BULBS + 1)]
            yield _of_steps(About.BULBS, function, value, counts, lambda each: noted(host_count=int(each)))
        if circuit.notes.fed_by is FedBy.UNKNOWN:
            at = 1.0 if noted(fed_by=FedBy.COMPUTER) else None
            yield Assumption(About.COMPUTER, str(function), 0.0, 0.0, 1.0, at, is_dangerous=True)


def _of_steps(
    about: About, function: Function, value: float, steps: list[float], changes: Callable[[float], bool]
) -> Assumption:
    """An assumption that goes in steps: the nearest on either side that changes the plan."""
    above = next((each for each in steps if each > value and changes(each)), None)
    below = next((each for each in reversed(steps) if each < value and changes(each)), None)
    found = [each for each in (above, below) if each is not None]
    nearest = min(found, key=lambda each: abs(each - value), default=None)
    return Assumption(about, str(function), value, steps[0], steps[-1], nearest)
