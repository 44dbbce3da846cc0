"""Weighs several things together: how many of each kind there are is part of the belief.

The weight of an assignment of kinds to things is the product of each thing's likelihood and, for every kind, the
prior weight of its count. Up to `EXACT_THINGS` things the sum over all assignments is exact (kinds are added one by
one over subsets of things); above, loopy belief propagation on the same model, whose fixed point is the Bethe
approximation. Several scenarios are solved side by side along the first axis.
"""

from __future__ import annotations

from dataclasses import dataclass
from functools import lru_cache

import numpy as np
from numpy.typing import NDArray

__all__ = ["EXACT_THINGS", "JointBelief", "most_probable", "weigh_approximately", "weigh_exactly", "weigh_jointly"]

Array = NDArray[np.float64]
EXACT_THINGS = 7
ROUNDS = 60
TOLERANCE = 1e-3
SHRINKS = 0.7
"""A large change that has not shrunk to this share of the one before is gone along with by half [-]."""
TINY = 1e-200
COUNTED = 5
"""Things of one kind that are counted one by one."""
MOST_ODDS = 1e12
"""More certain than any evidence here; keeps products over a few dozen things within floating point."""


@dataclass(frozen=True)
class JointBelief:
    """The belief over all things.

    Attributes
    ----------
    log_weight : ndarray (n_scenarios,)
        Logarithm of the total weight of each scenario [-].
    marginals : ndarray (n_scenarios, n_things, n_kinds)
        Probability of each kind for each thing within each scenario [-].
    """

    log_weight: Array
    marginals: Array


def weigh_jointly(likelihood: Array, count_prior: Array) -> JointBelief:
    """Weigh all things together, exactly where small enough.

    Parameters
    ----------
    likelihood : ndarray (n_scenarios, n_things, n_kinds)
        Of what was observed of each thing under each kind, in any one scale per thing [-].
    count_prior : ndarray (n_scenarios, n_kinds, n_things + 1)
        Prior weight of each count of things of a kind [-].

    Returns
    -------
    Joint
    """
    if likelihood.shape[1] <= EXACT_THINGS:
        return weigh_exactly(likelihood, count_prior)
    return weigh_approximately(likelihood, count_prior)


@dataclass(frozen=True)
class _Subsets:
    """All pairs (whole, part) of subsets with part inside whole, sorted by whole; `by_part` is sorted by part."""

    part: NDArray[np.intp]
    rest: NDArray[np.intp]
    starts: NDArray[np.intp]
    rest_by_part: NDArray[np.intp]
    outside_by_part: NDArray[np.intp]
    part_starts: NDArray[np.intp]
    member: Array
    size: NDArray[np.intp]


@lru_cache(maxsize=16)
def _subsets(n: int) -> _Subsets:
    whole, part = np.divmod(np.arange(4**n), 2**n)
    inside = (whole & part) == part
    whole, part = whole[inside], part[inside]
    by_part = np.argsort(part, kind="stable")
    member = ((np.arange(2**n)[:, None] >> np.arange(n)) & 1).astype(float)
    return _Subsets(
        part,
        whole - part,
        np.searchsorted(whole, np.arange(2**n)),
        (whole - part)[by_part],
        (2**n - 1) - whole[by_part],
        np.searchsorted(part[by_part], np.arange(2**n)),
        member,
        member.sum(axis=1).astype(int),
    )


def weigh_exactly(likelihood: Array, count_prior: Array) -> JointBelief:
    """Sum over every assignment of kinds to things; arguments as for `weigh_jointly`.

    Notes
    -----
    Cost grows with 3^n_things: fit for up to about eight things. Scenarios stand last, side by side in memory.
    """
    n_scenarios, n_things, n_kinds = likelihood.shape
    subsets = _subsets(n_things)
    log_like = np.log(np.maximum(likelihood, TINY))
    # one[f, T]: weight of exactly the things in T being of kind f
    one = np.exp(np.einsum("gwf,tw->ftg", log_like, subsets.member))
    one *= np.moveaxis(count_prior, 0, 2)[:, subsets.size]
    before = np.zeros((n_kinds + 1, 2**n_things, n_scenarios))
    before[0, 0] = 1.0
    for f in range(n_kinds):
        before[f + 1] = _put_together(subsets, before[f], one[f])
    after = np.zeros((2**n_things, n_scenarios))
    after[0] = 1.0
    marginals = np.zeros((n_kinds, n_things, n_scenarios))
    for f in reversed(range(n_kinds)):
        pairs = after.take(subsets.outside_by_part, axis=0) * before[f].take(subsets.rest_by_part, axis=0)
        by_part = np.add.reduceat(pairs, subsets.part_starts, axis=0) * one[f]
        marginals[f] = subsets.member.T @ by_part
        after = _put_together(subsets, after, one[f])
    found = marginals.transpose(2, 1, 0)
    return JointBelief(np.log(before[n_kinds, -1]), found / found.sum(axis=2, keepdims=True))


def _put_together(subsets: _Subsets, others: Array, one: Array) -> Array:
    """Weight of every subset of which some are of one more kind, (n_subsets, n_scenarios)."""
    pairs = others.take(subsets.rest, axis=0) * one.take(subsets.part, axis=0)
    return np.asarray(np.add.reduceat(pairs, subsets.starts, axis=0))


def weigh_approximately(likelihood: Array, count_prior: Array) -> JointBelief:
    """Belief propagation between things and counts of kinds; arguments as for `weigh_jointly`.

    Notes
    -----
    A message says how much more likely the rest becomes when one more thing is of the kind. The total
    weight is Bethe's; tests hold both against `weigh_exactly`. Beyond `COUNTED` things of one kind the
    count prior is taken as geometric. Inside, things come first and counts before scenarios and kinds: what is
    added up stands side by side in memory.
    """
    like = np.moveaxis(np.maximum(likelihood / likelihood.max(axis=2, keepdims=True), TINY), 1, 0)
    counts = _Counts(count_prior, len(like))
    favour = np.ones_like(like) * np.clip(counts.prior[1] / np.maximum(counts.prior[0], TINY), TINY, MOST_ODDS)
    before = np.inf
    for _ in range(ROUNDS):
        odds, _ = _odds(like, favour)
        ahead, behind = counts.messages(odds)
        with_it = np.einsum("tcgk,tcgk->tgk", ahead[:-1], counts.one_more(behind[1:]))
        without = np.einsum("tcgk,tcgk->tgk", ahead[:-1], behind[1:])
        new = with_it / without
        change = np.abs(np.log(np.maximum(new, TINY) / favour)).max()
        swings = change > 0.5 and change > SHRINKS * before
        favour = np.maximum(np.sqrt(favour * new) if swings else new, TINY)
        before = change
        if change < TOLERANCE:
            break
    odds, each = _odds(like, favour)
    ahead, _ = counts.messages(odds)
    count_weight = (ahead[-1] * counts.prior).sum(axis=0)
    log_weight = (
        np.log(each.sum(axis=2)).sum(axis=0)
        + np.log(count_weight).sum(axis=1)
        - np.log1p(odds * favour).sum(axis=(0, 2))
        + np.log(likelihood.max(axis=2)).sum(axis=1)
    )
    return JointBelief(log_weight, np.moveaxis(each / each.sum(axis=2, keepdims=True), 0, 1))


def _odds(like: Array, favour: Array) -> tuple[Array, Array]:
    """What each thing tells each count: odds of being of the kind, that count's own word left out."""
    each = like * favour
    others = np.maximum(each.sum(axis=2, keepdims=True) - each, TINY)
    return np.minimum(like / others, MOST_ODDS), each


class _Counts:
    """Partial counts 0, 1 ... `COUNTED`; the last stands for that many or more, with a geometric tail."""

    def __init__(self, count_prior: Array, n_things: int) -> None:
        last = min(COUNTED, count_prior.shape[2] - 1)
        self.prior = np.ascontiguousarray(np.moveaxis(count_prior[:, :, : last + 1], 2, 0))
        self.again = np.zeros(count_prior.shape[:2])
        if count_prior.shape[2] - 1 > last:
            self.again = count_prior[:, :, last + 1] / count_prior[:, :, last]
        self.ahead = np.zeros((n_things + 1, *self.prior.shape))
        self.ahead[0, 0] = 1.0
        self.behind = np.empty_like(self.ahead)
        self.behind[n_things] = self.prior

    def one_more(self, weights: Array) -> Array:
        """Weights of what follows, seen from one count further on; the second axis is the count."""
        moved = np.empty_like(weights)
        moved[:, :-1] = weights[:, 1:]
        moved[:, -1] = self.again * weights[:, -1]
        return moved

    def messages(self, odds: Array) -> tuple[Array, Array]:
        """Weights of partial counts, of the things before each one, and of those from it on with the prior.

        Both are (n_things + 1, n_counts, n_scenarios, n_kinds), and written over by the next call.
        """
        ahead, behind = self.ahead, self.behind
        beyond = odds * self.again
        for t in range(len(odds)):
            here, step = ahead[t], ahead[t + 1]
            np.multiply(here[:-1], odds[t], out=step[1:])
            step[-1] += beyond[t] * here[-1]
            step[1:] += here[1:]
            step[0] = here[0]
        for t in reversed(range(len(odds))):
            here, step = behind[t + 1], behind[t]
            np.multiply(here[1:], odds[t], out=step[:-1])
            np.multiply(beyond[t], here[-1], out=step[-1])
            step += here
        return ahead, behind


def most_probable(marginals: Array, count_prior: Array) -> NDArray[np.intp]:
    """One kind per thing, chosen together.

    Two things that are each a little more likely of one kind than of any other do not both become so where one
    is the rule: every further thing of a kind costs what the prior says.

    Parameters
    ----------
    marginals : ndarray (n_things, n_kinds)
        Probability of each kind for each thing [-].
    count_prior : ndarray (n_kinds, n_things + 1)
        Prior weight of each count [-].

    Returns
    -------
    ndarray (n_things,)
        Index of the kind of each thing.
    """
    n_things, n_kinds = marginals.shape
    further = np.log(np.maximum(count_prior[:, 2:], TINY)) - np.log(np.maximum(count_prior[:, 1:-1], TINY))
    slot_cost = np.hstack([np.zeros((n_kinds, 1)), -further])
    cost = -np.log(np.maximum(marginals, TINY))[:, :, None] + slot_cost[None, :, :]
    from scipy.optimize import linear_sum_assignment  # takes most of a second, which few commands have use for

    rows, columns = linear_sum_assignment(cost.reshape(n_things, -1))
    chosen = np.empty(n_things, dtype=np.intp)
    chosen[rows] = columns // n_things
    return chosen
