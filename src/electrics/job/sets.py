"""Which fixes together end everything: the coolest and fewest first, no more than three kinds at once."""

from __future__ import annotations

from collections.abc import Iterator, Mapping, Sequence
from dataclasses import replace
from itertools import combinations

from electrics.correct.effects import Effect
from electrics.job.correction import Correction, Tried, compared, effects_of, try_proposal, with_cure
from electrics.job.cures.base import Proposal
from electrics.job.cures.registry import cure_of, proposals
from electrics.job.plan import Plan, plan

__all__ = ["MOST_AT_ONCE", "FixSet", "all_at_once", "first_set"]

MOST_AT_ONCE = 3
"""How many kinds of fix a set has at most."""
MOST_TRIES = 3
"""How many sets are tried before a person waits for all of them."""

FixSet = tuple[tuple[Proposal, ...], Tried]
"""Fixes that are put in at once, and what they do."""


def first_set(found: Plan, correction: Correction) -> FixSet | None:
    """The first fix, or set of fixes, that ends everything: found without trying every fix by itself.

    What a fix is good for is asked of the fix, one effect at a time; only sets that are good for every effect are
    solved. A fix that takes long to solve is left for later.

    Parameters
    ----------
    found : Plan
        Without fixes.
    correction : Correction
        Of that plan.

    Returns
    -------
    tuple of Proposal and Tried, or None
        None where none of the first few ends everything, or fixes are used already.
    """
    if correction.taken or not correction.before:
        return None
    for several in list(_covers(correction))[:MOST_TRIES]:
        if len(several) == 1:
            tried = try_proposal(found, several[0], correction.before)
        else:
            tried = compared(several[0], _effects_with(found, several), correction.before)
        if tried is not None and tried.is_clean:
            return several, tried
    return None


def _covers(correction: Correction) -> Iterator[tuple[Proposal, ...]]:
    """The smallest sets of fixes that are proposed for every effect: without heat before with, few before many."""
    offered: dict[str, Proposal] = {}
    for proposal in correction.open:
        if proposal.decision is not None and not cure_of(proposal.cure).is_slow:
            offered.setdefault(proposal.cure, proposal)
    good_for = [_good_for(correction, effect) & offered.keys() for effect in correction.before]
    order = list(offered)

    def rank(kinds: tuple[str, ...]) -> tuple[bool, bool, int, int]:
        is_warm = any(offered[each].fit is not None for each in kinds)
        is_other = not all(cure_of(each).keeps_wish for each in kinds)
        return is_warm, is_other, len(kinds), sum(order.index(each) for each in kinds)

    found: list[tuple[str, ...]] = []
    for count in range(1, MOST_AT_ONCE + 1):
        for kinds in combinations(order, count):
            is_small = not any(set(each) < set(kinds) for each in found)
            if is_small and all(each.intersection(kinds) for each in good_for):
                found.append(kinds)
    for kinds in sorted(found, key=rank):
        yield tuple(offered[each] for each in kinds)


def _good_for(correction: Correction, effect: Effect) -> set[str]:
    """The kinds of fix that would be proposed for one effect alone."""
    assert correction.there is not None
    return {
        each.cure for each in proposals(replace(correction.there, effects=(effect,))) if each.decision is not None
    }


def all_at_once(
    found: Plan, correction: Correction, tried: Mapping[Proposal, Tried | None], first: FixSet | None
) -> FixSet | None:
    """Several fixes for what no single one fixes: the best, and whatever makes it better, put in together.

    Parameters
    ----------
    found : Plan
    correction : Correction
        Of that plan.
    tried : mapping of Proposal to Tried or None
        What each does by itself.
    first : FixSet or None
        Of `first_set`.

    Returns
    -------
    tuple of Proposal and Tried, or None
        None where one is enough, or no set is better than the best single one.
    """
    singles = [each for each in tried.values() if each is not None]
    enough = [each for each in singles if not each.left and each.proposal.fit is None]
    if correction.taken or any(cure_of(each.proposal.cure).keeps_wish for each in enough):
        return None  # one without heat is enough
    if first is not None and len(first[0]) == 1:
        first = None  # it stands among the singles
    if first is not None and not any(each.fit for each in first[0]):
        return first
    useful = [each for each in singles if each.cured and cure_of(each.proposal.cure).keeps_wish]
    cool = _grown(found, correction, [each for each in useful if each.proposal.fit is None])
    if cool is not None and not cool[1].left:
        return cool
    warm = first or (_grown(found, correction, useful) if len(useful) > 1 else None)
    return warm or cool


def _grown(found: Plan, correction: Correction, useful: Sequence[Tried]) -> FixSet | None:
    """The best of some fixes, and one after another that makes it better; None where it stays alone."""
    best = min(useful, key=_badness, default=None)
    chosen = (best.proposal,) if best else ()
    while best is not None and best.left and len(chosen) < MOST_AT_ONCE:
        kinds = {each.cure for each in chosen}
        others = {each.proposal.cure: each.proposal for each in reversed(useful) if each.proposal.cure not in kinds}
        sets = [(*chosen, each) for each in reversed(list(others.values()))]
        results = [(each, compared(each[0], _effects_with(found, each), correction.before)) for each in sets]
        better = min(results, key=lambda each: _badness(each[1]), default=None)
        if better is None or _badness(better[1]) >= _badness(best):
            break
        chosen, best = better
    return (chosen, best) if best is not None and len(chosen) > 1 else None


def _badness(tried: Tried) -> tuple[int, int]:
    """How much is upset with a fix: what is dangerous, and everything."""
    effects = (*tried.left, *tried.new)
    return sum(effect.finding.severity == "error" for effect in effects), len(effects)


def _effects_with(found: Plan, several: Sequence[Proposal]) -> tuple[Effect, ...]:
    facts = found.facts
    for proposal in several:
        if proposal.decision is not None:
            facts = with_cure(facts, proposal.decision)
    return effects_of(plan(facts, like=found))
