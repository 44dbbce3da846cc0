"""Candidates ranked by what they do on the vehicle: tried on its circuit only as far as the order depends on it.

`search` orders by logic. What a trial adds (wrong states, upsets) can only worsen a candidate, so once one costs no
more than the next does by logic, nothing behind it can be better: the rest need no trial for the winner to be the
winner.
"""

from __future__ import annotations

from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass, field

from electrics.circuit.findings import CircuitFinding
from electrics.vocabulary import State
from electrics.ways.search import Candidate
from electrics.ways.trial import WayTrial

__all__ = ["Judged", "Tries", "rank"]

Tries = Callable[[Candidate], WayTrial | None]
"""Puts a candidate on the vehicle's circuit; None where a circuit that it taps is not modelled."""


@dataclass(frozen=True)
class Judged:
    """A candidate with the result of its trial, if tried, and how many parts it takes to fix what it upsets."""

    candidate: Candidate
    trial: WayTrial | None
    curable: Mapping[str, int] = field(default_factory=dict, compare=False)

    @property
    def wrong(self) -> tuple[State, ...]:
        """Where it is wrong, by logic or on the circuit."""
        if self.trial is None or not self.trial.wrong:
            return self.candidate.wrong
        found = {*self.candidate.wrong, *self.trial.wrong}
        known = dict.fromkeys((*self.candidate.states, *self.trial.shows))
        return tuple(state for state in known if state in found)

    @property
    def upsets(self) -> tuple[CircuitFinding, ...]:
        return self.trial.upsets if self.trial else ()

    @property
    def is_right(self) -> bool:
        return not self.wrong and not self.candidate.refusals

    @property
    def cost(self) -> tuple[int, ...]:
        """Sort key, lowest first: wrong states, refusals, upsets, parts, cuts, damage to the factory harness.

        What a cure ends counts as its parts.
        """
        logic = self.candidate.cost
        if self.trial is None:
            return logic
        rules = [upset.rule for upset in self.upsets]
        left = sum(rule not in self.curable for rule in rules)
        parts = max((self.curable.get(rule, 0) for rule in rules), default=0)
        return len(self.wrong), logic[1], max(left, logic[2]), logic[3] + parts, *logic[4:]


def rank(
    candidates: Sequence[Candidate],
    tries: Tries,
    *,
    at_least: int = 0,
    curable: Mapping[str, int] | None = None,
) -> tuple[Judged, ...]:
    """Every candidate in order of merit on this vehicle.

    Parameters
    ----------
    candidates : sequence of Candidate
        As `search` orders them.
    tries : Tries
    at_least : int
        How many of the right ones are tried even where the winner is known before [-].
    curable : mapping of str to int, optional
        Parts of the cure of what is upset, by rule [-]; none is curable otherwise.

    Returns
    -------
    tuple of Judged
        The first is the best that an exhaustive trial would find.
    """
    found: list[Judged] = []
    best: tuple[int, ...] | None = None
    for n, candidate in enumerate(candidates):
        is_open = best is None or candidate.cost < best
        is_tried = candidate.is_right and (is_open or n < at_least)
        judged = Judged(candidate, tries(candidate) if is_tried else None, curable or {})
        if is_tried and judged.is_right:
            best = judged.cost if best is None else min(best, judged.cost)
        found.append(judged)
    return tuple(sorted(found, key=lambda each: (*each.cost, not each.trial)))
