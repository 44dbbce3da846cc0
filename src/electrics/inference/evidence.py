"""From observations to belief, where any observation may be a mistake.

The model of one observation: with probability `1 - rate` it came about as the hypothesis has it, with probability
`rate` it is a mistake and says nothing. So one odd observation shifts belief and never makes anything impossible,
and the share of an observation that its mistake explains tells which one is odd.
"""

from __future__ import annotations

import numpy as np
from numpy.typing import ArrayLike, NDArray

__all__ = ["allowing_mistakes", "as_mistakes", "weigh", "without_one"]

Array = NDArray[np.float64]
TINY = 1e-300


def allowing_mistakes(likelihood: ArrayLike, mistaken: ArrayLike, rate: float) -> Array:
    """Likelihood of observations that may be mistakes.

    Parameters
    ----------
    likelihood : array_like (..., n_hypotheses)
        Of each observation under each hypothesis, if it is no mistake [-].
    mistaken : array_like, broadcast against `likelihood`
        Of the same observation as a mistake [-].
    rate : float
        Share of observations that are mistakes [-].

    Returns
    -------
    ndarray, shaped as the two broadcast
        Likelihoods [-].
    """
    return np.asarray((1.0 - rate) * np.asarray(likelihood) + rate * np.asarray(mistaken))


def weigh(prior: ArrayLike, likelihood: ArrayLike) -> Array:
    """What is believed after some observations, each independent of the others given the hypothesis.

    Parameters
    ----------
    prior : array_like (n_hypotheses,)
        In any scale [-].
    likelihood : array_like (n_observations, n_hypotheses)
        Of each observation [-].

    Returns
    -------
    ndarray (n_hypotheses,)
        Probabilities [-].

    Notes
    -----
    The product is taken in log space: hundreds of observations do not leave floating point.
    """
    rows = np.asarray(likelihood, dtype=float).reshape(-1, np.asarray(prior).size)
    start = np.where(np.asarray(prior) > 0, np.log(np.maximum(prior, TINY)), -np.inf)
    log_weight = start + np.log(np.maximum(rows, TINY)).sum(axis=0)
    weight = np.exp(log_weight - log_weight.max())
    return np.asarray(weight / weight.sum())


def as_mistakes(belief: ArrayLike, likelihood: ArrayLike, mistaken_part: ArrayLike) -> Array:
    """How likely each observation is a mistake and each hypothesis true, given everything.

    Parameters
    ----------
    belief : array_like (..., n_hypotheses)
        After all the observations [-].
    likelihood : array_like (n_observations, ..., n_hypotheses)
        As from `allowing_mistakes` [-].
    mistaken_part : array_like, broadcast against `likelihood`
        The share of it that stands for a mistake: the rate times the likelihood as a mistake [-].

    Returns
    -------
    ndarray (n_observations, ..., n_hypotheses)
        Probabilities of both together [-]; summed over the hypotheses, that of a mistake.
    """
    return np.asarray(np.asarray(mistaken_part) / np.asarray(likelihood) * np.asarray(belief))


def without_one(belief: ArrayLike, likelihood: ArrayLike) -> Array:
    """What would be believed had one of the observations not been made, for each in turn.

    Parameters
    ----------
    belief : array_like (n_hypotheses,)
        After all the observations [-].
    likelihood : array_like (n_observations, n_hypotheses)
        As it went into the belief; observations that stand or fall together are multiplied first [-].

    Returns
    -------
    ndarray (n_observations, n_hypotheses)
        Probabilities [-]; every row sums to one.
    """
    left = np.asarray(belief) / np.asarray(likelihood)
    return np.asarray(left / left.sum(axis=-1, keepdims=True))
