"""Readings held against what somebody says a wire does: which of them it cannot show."""

from __future__ import annotations

from collections import Counter
from collections.abc import Sequence
from math import log

import numpy as np

from electrics.document.places import Evidence
from electrics.identify.belief import MISTAKE_RATE
from electrics.identify.explain import ODD
from electrics.identify.likelihood import HYPOTHESES, Readings, readings_of
from electrics.signals import GROUND_SWITCHED, variants
from electrics.vocabulary import Function

__all__ = ["likeliest_variant", "speaking_against"]

LEAST_ODDS = 200.0
"""How much better something else fits all readings together before they speak against a wire [-] (estimate)."""
TELLS = 0.6
"""A reading that fits worse than this share of what fits best is one of those that do [-] (estimate)."""


def speaking_against(evidence: Sequence[Evidence], function: Function, variant: str) -> tuple[Evidence, ...]:
    """The readings of a wire that are mistakes if it is what somebody says.

    Parameters
    ----------
    evidence : sequence of Evidence
        Its own readings; those against another pin say nothing here.
    function : Function
    variant : str

    Returns
    -------
    tuple of Evidence
        In the world where fewest are; a cell that was read again and then fits counts for nothing.
    """
    mine = tuple(each for each in evidence if not each.against)
    if not mine:
        return ()
    place = next(n for n, (f, v, _) in enumerate(HYPOTHESES) if (f, v) == (function, variant))
    odd = min((_odd(each, place) for each in _every_reading(mine)), key=len) or _all_told(mine, place)
    repeats = Counter(each.cell for each in mine)
    wrong = Counter(each.cell for each in odd)
    return tuple(each for each in odd if wrong[each.cell] == repeats[each.cell])


def likeliest_variant(evidence: Sequence[Evidence], function: Function) -> str:
    """The variant of a function that a wire's readings fit best; the most common while there are none.

    Never the one that is switched by ground: that turns the lamp round, so somebody has to say it.
    """
    mine = tuple(each for each in evidence if not each.against)
    known = [each for each in variants(function) if each[0] != GROUND_SWITCHED]
    if not mine or len(known) == 1:
        return known[0][0]
    fit = readings_of(mine, MISTAKE_RATE).log_likelihood.max(axis=0)
    names = [variant for variant, _ in known]
    scores = {v: float(fit[n]) + np.log(w) for n, (f, v, w) in enumerate(HYPOTHESES) if f is function and v in names}
    return max(scores, key=lambda each: scores[each])


def _every_reading(evidence: tuple[Evidence, ...]) -> list[Readings]:
    """The readings on a sound wire, and with whatever they look as if it lasted."""
    sound = readings_of(evidence, MISTAKE_RATE)
    return [sound, *(each for _, each in sound.lasting)]


def _odd(readings: Readings, place: int) -> list[Evidence]:
    share = readings.mistaken_share[:, :, place]
    world = int((share > ODD).sum(axis=0).argmin())
    return [each for each, mistaken in zip(readings.evidence, share[:, world], strict=True) if mistaken > ODD]


def _all_told(evidence: tuple[Evidence, ...], place: int) -> list[Evidence]:
    """The readings that speak against it most where none is odd by itself and all of them together are.

    A flashing feed may be caught dark once, not every time.
    """
    readings = readings_of(evidence, MISTAKE_RATE)
    fit = readings.log_likelihood.max(axis=0)
    best = int(fit.argmax())
    if fit[best] - fit[place] < log(LEAST_ODDS):
        return []
    world = int(readings.log_likelihood[:, place].argmax())
    each = readings.likelihood[:, world, place] / readings.likelihood[:, :, best].max(axis=1)
    return [item for item, ratio in zip(evidence, each, strict=True) if ratio < TELLS]
