"""Tests with a handful of answers each, whose chances hang on the hypothesis alone."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from electrics.inference.evidence import allowing_mistakes, weigh
from electrics.inference.telling import information

__all__ = ["SLIP", "Question", "expected_bits", "posterior", "worth_asking"]

Array = NDArray[np.float64]
SLIP = 0.04
"""Chance that an answer is any answer, whatever is true [-] (estimate)."""
WORTH_BITS = 1e-6


@dataclass(frozen=True)
class Question:
    """One test.

    Attributes
    ----------
    id : str
    answers : tuple of str
    chances : mapping of str to tuple of float
        By hypothesis: the chance of each answer, in order [-].
    minutes : float
        What it costs to ask [min].
    """

    id: str
    answers: tuple[str, ...]
    chances: Mapping[str, tuple[float, ...]]
    minutes: float = 1.0

    def table(self, hypotheses: Sequence[str]) -> Array:
        """Chance of each answer under each hypothesis, slips counted, (n_hypotheses, n_answers) [-]."""
        rows = np.array([self.chances[each] for each in hypotheses])
        return allowing_mistakes(rows, 1.0 / len(self.answers), SLIP)


def posterior(
    prior: Mapping[str, float], questions: Sequence[Question], answered: Mapping[str, str]
) -> dict[str, float]:
    """What is believed after some answers.

    Parameters
    ----------
    prior : mapping of str to float
        Of every hypothesis; need not sum to one [-].
    questions : sequence of Question
    answered : mapping of str to str
        Answer by the id of its question.

    Returns
    -------
    dict of str to float
        Sums to one.

    Raises
    ------
    ValueError
        What is no answer to its question.
    """
    names = list(prior)
    likelihood = [
        question.table(names)[:, question.answers.index(answered[question.id])]
        for question in questions
        if answered.get(question.id)
    ]
    found = weigh(np.array([prior[each] for each in names]), np.array(likelihood))
    return dict(zip(names, map(float, found), strict=True))


def expected_bits(belief: Mapping[str, float], question: Question) -> float:
    """By how much the answer to a question is expected to lessen the doubt [bit]."""
    names = list(belief)
    return max(float(information([belief[each] for each in names], question.table(names))), 0.0)


def worth_asking(
    belief: Mapping[str, float], questions: Sequence[Question], answered: Mapping[str, str]
) -> Question | None:
    """The open question that tells most for its minutes; None where none tells anything."""
    still = [question for question in questions if not answered.get(question.id)]
    best = max(still, key=lambda question: expected_bits(belief, question) / question.minutes, default=None)
    return best if best is not None and expected_bits(belief, best) > WORTH_BITS else None
