"""Which flasher it is, from cheap looks and tests; each has a chance of error, none proves it alone."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from functools import cache
from itertools import pairwise

from electrics.document.vehicle import FlasherKind
from electrics.errors import FactError
from electrics.inference.questions import Question, posterior, worth_asking
from electrics.reference.tables import read_table

__all__ = ["SURE", "FlasherBelief", "believe_flasher", "flasher_questions", "rate_of"]

KINDS = (FlasherKind.ELECTRONIC, FlasherKind.BIMETAL, FlasherKind.FIXED, FlasherKind.COMPUTER)
PRIOR = {"unknown": (0.5, 0.15, 0.1, 0.25), "no": (0.66, 0.2, 0.13, 0.01), "yes": (0.12, 0.02, 0.06, 0.8)}
"""Before any look, by whether a computer feeds or watches the lamps [-] (estimate)."""
SURE = 0.95
FEWEST_BEATS, MOST_BEATS = 4, 9
SLOWEST_S, FASTEST_S = 2.0, 0.15
"""Between two beats that can be tapped along with [s]."""


@dataclass(frozen=True)
class FlasherBelief:
    """What is believed of it, the likeliest first, and what to look at next.

    Attributes
    ----------
    ask : str
        Id of the test that tells most for its minutes; empty where nothing tells more.
    """

    chances: tuple[tuple[FlasherKind, float], ...]
    ask: str

    @property
    def best(self) -> FlasherKind:
        return self.chances[0][0]

    @property
    def is_sure(self) -> bool:
        return self.chances[0][1] >= SURE


def believe_flasher(answers: Mapping[str, str], computer: str = "unknown") -> FlasherBelief:
    """What flashes the turn lamps.

    Parameters
    ----------
    answers : mapping of str to str
        By test; tests without an answer are left out or empty.
    computer : str
        `unknown`, `no` or `yes`.

    Returns
    -------
    FlasherBelief

    Raises
    ------
    FactError
        A test or an answer that there is not.
    """
    questions = {question.id: question for question in flasher_questions()}
    for id, answer in answers.items():
        if id not in questions or (answer and answer not in questions[id].answers):
            raise FactError("flasher", f"“{id[:20]}”, “{answer[:20]}” is no look at a flasher.")
    prior = dict(zip(map(str, KINDS), PRIOR[computer], strict=True))
    found = posterior(prior, list(questions.values()), answers)
    chances = tuple(sorted(((FlasherKind(kind), share) for kind, share in found.items()), key=lambda each: -each[1]))
    best = None if chances[0][1] >= SURE else worth_asking(found, list(questions.values()), answers)
    return FlasherBelief(chances, best.id if best else "")


@cache
def flasher_questions() -> tuple[Question, ...]:
    """Every test, from the table of the trade."""
    rows = read_table(
        "flasher_tests",
        ("key", "question", "answer", *map(str, KINDS), "minutes"),
        lambda row: row,
    )
    by_question: dict[str, list[dict[str, str]]] = {}
    for row in rows:
        by_question.setdefault(row["question"], []).append(row)
    return tuple(
        Question(
            id,
            tuple(row["answer"] for row in each),
            {str(kind): tuple(float(row[str(kind)]) for row in each) for kind in KINDS},
            float(each[0]["minutes"]),
        )
        for id, each in by_question.items()
    )


def rate_of(beats_s: tuple[float, ...]) -> tuple[float, float]:
    """Flashes a minute from taps: median of the last beats, and half their spread [/min].

    Parameters
    ----------
    beats_s : tuple of float
        Times of the taps, rising [s].

    Raises
    ------
    FactError
        Too few taps, or none that a flasher could make.
    """
    gaps = [second - first for first, second in pairwise(beats_s)]
    gaps = [gap for gap in gaps if FASTEST_S <= gap <= SLOWEST_S][-MOST_BEATS:]
    if len(gaps) < FEWEST_BEATS:
        raise FactError("beats", f"Tap along with at least {FEWEST_BEATS + 1} flashes in a row.")
    ordered = sorted(60.0 / gap for gap in gaps)
    middle = len(ordered) // 2
    median = ordered[middle] if len(ordered) % 2 else (ordered[middle - 1] + ordered[middle]) / 2
    return median, (ordered[-1] - ordered[0]) / 2
