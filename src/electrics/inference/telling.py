"""What an observation not made yet is expected to tell, in bits, and what it is worth for its effort."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numpy.typing import ArrayLike, NDArray

__all__ = ["Course", "entropy", "information", "most_for_the_effort"]

Array = NDArray[np.float64]
TINY = 1e-300
RAREST = 2e-3
"""Chance under which an imagined course of observations is not followed further [-]."""


def entropy(chances: ArrayLike) -> Array:
    """Doubt in distributions along the last axis [bit]."""
    shares = np.asarray(chances)
    return np.asarray(-(shares * np.log2(np.maximum(shares, TINY))).sum(axis=-1))


def information(belief: ArrayLike, given: ArrayLike) -> Array:
    """By how much an observation is expected to lessen the doubt: mutual information [bit].

    Parameters
    ----------
    belief : array_like (..., n_hypotheses)
        Probability of each hypothesis, for one or several things [-].
    given : array_like (n_hypotheses, n_outcomes)
        Chance of each outcome of the observation under each hypothesis [-].

    Returns
    -------
    ndarray (...)
        Bits, for each thing.
    """
    return np.asarray(entropy(np.asarray(belief) @ given) - np.asarray(belief) @ entropy(given))


def most_for_the_effort(bits: Array, effort: float) -> int:
    """How many of several things to observe in one go, beyond the first: each one more costs 1 [-].

    Parameters
    ----------
    bits : ndarray (n_things,)
        What each tells, most first; at least one [bit].
    effort : float
        What it costs to be able to observe at all, in things observed [-].

    Returns
    -------
    int
        Place of the last one with which the bits for the effort are best.
    """
    return int(np.argmax(np.cumsum(bits) / (effort + 1 + np.arange(len(bits)))))


@dataclass(frozen=True)
class Course:
    """What one thing may turn out to be after observations not made yet.

    Attributes
    ----------
    chance : ndarray (n,)
        Of each course of outcomes so far [-].
    belief : ndarray (n, n_hypotheses)
        What would then be believed [-].
    """

    chance: Array
    belief: Array

    @classmethod
    def start(cls, belief: Array) -> Course:
        """With nothing observed beyond what is believed, (n_hypotheses,) [-]."""
        return cls(np.ones(1), belief[None, :])

    def bits(self, given: Array) -> float:
        """What one more observation tells, averaged over the courses [bit]; `given` as for `information`."""
        return float(self.chance @ information(self.belief, given))

    def after(self, given: Array) -> Course:
        """One more observation: every course splits by its outcome; rare ones are dropped."""
        joint = self.belief[:, :, None] * given[None, :, :]
        outcome = joint.sum(axis=1)
        chance = (self.chance[:, None] * outcome).ravel()
        belief = np.moveaxis(joint / np.maximum(outcome, TINY)[:, None, :], 1, 2).reshape(-1, joint.shape[1])
        kept = chance >= RAREST
        return Course(chance[kept] / chance[kept].sum(), belief[kept])
