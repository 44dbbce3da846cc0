"""Beliefs from answers that hang on the hypothesis alone: posterior, and the test that tells most.

Every answer has a chance under every hypothesis. A slip, a test done or noted wrongly, is part of the model: no
answer excludes a hypothesis for good.
"""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from math import log2

__all__ = ["Question", "expected_bits", "posterior", "worth_asking"]

SLIP = 0.04
"""Chance that an answer is any answer, whatever is true [-] (estimate)."""


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

    def chance(self, hypothesis: str, answer: str) -> float:
        """Of an answer under a hypothesis, slips counted [-]; KeyError for what is no answer."""
        at = self.answers.index(answer) if answer in self.answers else -1
        if at < 0:
            raise KeyError(answer)
        return (1 - SLIP) * self.chances[hypothesis][at] + SLIP / len(self.answers)


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
    """
    found = dict(prior)
    for question in questions:
        answer = answered.get(question.id)
        if answer:
            found = {each: share * question.chance(each, answer) for each, share in found.items()}
    total = sum(found.values())
    return {each: share / total for each, share in found.items()}


def expected_bits(belief: Mapping[str, float], question: Question) -> float:
    """By how much the answer to a question is expected to lessen the doubt [bit]."""
    after = 0.0
    for answer in question.answers:
        joint = [share * question.chance(each, answer) for each, share in belief.items()]
        after += sum(joint) * _doubt([each / sum(joint) for each in joint]) if sum(joint) else 0.0
    return max(_doubt(list(belief.values())) - after, 0.0)


def worth_asking(
    belief: Mapping[str, float], questions: Sequence[Question], answered: Mapping[str, str]
) -> Question | None:
    """The open question that tells most for its minutes; None where none tells anything."""
    still = [question for question in questions if not answered.get(question.id)]
    best = max(still, key=lambda question: expected_bits(belief, question) / question.minutes, default=None)
    return best if best is not None and expected_bits(belief, best) > 1e-6 else None


def _doubt(shares: Sequence[float]) -> float:
    return -sum(share * log2(share) for share in shares if share > 0)
