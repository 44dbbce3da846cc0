"""Which trials on the bench a job needs: what it feeds and the common are to be known, the other leads may stay open.

A trial is worth what it is expected to tell about the answer the job waits for: which lead is common, which way round
the lamp works, and which leads can show what is wanted.
"""

from __future__ import annotations

from collections.abc import Sequence
from functools import lru_cache

import numpy as np
from numpy.typing import NDArray

from electrics.identify.bench_lamps import EITHER_WAY, ROLES, TECHNOLOGIES, Role, Technology, outcomes, whole_lamps
from electrics.identify.leads import (
    SETTLED,
    WORTH_A_TRIAL_BITS,
    LampBelief,
    TrialStep,
    most_telling,
    next_trials,
    open_trials,
    roles_of,
)
from electrics.inference.telling import entropy
from electrics.vocabulary import Function

__all__ = ["enough_for", "leads_for", "next_trials_for"]

Array = NDArray[np.float64]
MOST_ANSWERS = 3000
"""Answers up to which a trial is weighed for the job; before the first trials any pair tells [-]."""
LEAST_CHANCE = 1e-5
"""Lamps less likely than this are left out of what a trial may tell [-]."""
WAYS_ROUND = {kind: 0 if kind in EITHER_WAY else 1 + (kind is Technology.LED_COMMON_PLUS) for kind in TECHNOLOGIES}


def leads_for(belief: LampBelief, wanted: Sequence[Function]) -> tuple[str, ...]:
    """The settled lead for each behaviour wanted, each lead once; empty while one of them has none.

    Notes
    -----
    Amber goes before red for a turn signal: a red lead is taken only where no open lead may be the amber one.
    """
    taken: dict[int, str] = {}
    for n in sorted(range(len(wanted)), key=lambda n: len(roles_of(wanted[n]))):
        roles = sorted(roles_of(wanted[n]), key=ROLES.index)
        fitting = [lead for lead in belief.leads if lead.is_settled and lead.role in roles]
        free = [lead for lead in fitting if lead.lead not in taken.values()]
        if not free:
            return ()
        best = max(free, key=lambda lead: ROLES.index(lead.role))
        better = roles[roles.index(best.role) + 1 :]
        for lead in belief.leads:
            if not lead.is_settled and sum(dict(lead.ranked)[role] for role in better) > 1 - SETTLED:
                return ()
        taken[n] = best.lead
    return tuple(taken[n] for n in range(len(wanted)))


def enough_for(belief: LampBelief, wanted: Sequence[Function]) -> bool:
    """Whether all is known of the lamp that a job needs: its common, its way round, a lead for each behaviour.

    Parameters
    ----------
    belief : LampBelief
    wanted : sequence of Function
        One for each lead that is to be fed.
    """
    is_known = belief.common is not None and belief.way_round[1] >= SETTLED
    return belief.is_settled or (is_known and bool(leads_for(belief, wanted)))


def next_trials_for(belief: LampBelief, wanted: Sequence[Function], *, limit: int = 3) -> tuple[TrialStep, ...]:
    """Which pairs to try next for a job, those that tell most about what it needs first.

    Parameters
    ----------
    belief : LampBelief
    wanted : sequence of Function
        One for each lead that is to be fed; none for every lead of the lamp.
    limit : int
        How many at most [-].

    Returns
    -------
    tuple of TrialStep
        Empty once enough is known for the job. Where no single trial tells about it, those that tell most of all.
    """
    if not wanted:
        return next_trials(belief, limit=limit)
    if enough_for(belief, wanted):
        return ()
    roles = frozenset[Role]().union(*map(roles_of, wanted))
    found = _for_the_answer(belief, roles) if belief.trials and not belief.odd else []
    return tuple(found[:limit]) or next_trials(belief, limit=limit)


def _for_the_answer(belief: LampBelief, roles: frozenset[Role]) -> list[TrialStep]:
    names = [lead.lead for lead in belief.leads]
    lamps, answers = whole_lamps(len(names)), _answers(len(names), roles)
    kept = np.flatnonzero(belief.weights > LEAST_CHANCE * belief.weights.max())
    known, answer = np.unique(answers[kept], return_inverse=True)
    if known.size > MOST_ANSWERS:
        return []
    weights = belief.weights[kept] / belief.weights[kept].sum()
    fuse_a, pairs = open_trials(belief)
    table, steps = outcomes(fuse_a), []
    for a, b in pairs:
        group = answer * len(table) + lamps.grouped(a, b)[kept]
        mass = np.bincount(group, weights=weights, minlength=known.size * len(table))
        given = mass.reshape(known.size, len(table)) @ table
        bits = float(entropy(given.sum(axis=0)) - _doubt_left(given))
        if bits >= WORTH_A_TRIAL_BITS:
            steps.append(TrialStep(names[a], names[b], bits, fuse_a))
    return most_telling(belief, steps)


def _doubt_left(given: Array) -> float:
    """Doubt about the outcome that is left once the answer is known, (n_answers, n_outcomes) joint [bit]."""
    chance = given.sum(axis=1)
    rows = given[chance > 0] / chance[chance > 0, None]
    return float(chance[chance > 0] @ entropy(rows))


@lru_cache(maxsize=32)
def _answers(n_leads: int, roles: frozenset[Role]) -> NDArray[np.intp]:
    """Number of the answer that each lamp is, (n_hypotheses,) [-]: leads that nobody feeds are all alike."""
    lamps = whole_lamps(n_leads)
    kept = [Role.COMMON, *sorted(roles - {Role.COMMON}, key=ROLES.index)]
    code = np.array([kept.index(role) if role in kept else len(kept) for role in ROLES])
    ways = np.array([WAYS_ROUND[kind] for kind in TECHNOLOGIES])
    number = ways[lamps.technology]
    for at in range(n_leads):
        number = number * (len(kept) + 1) + code[lamps.roles[:, at]]
    return np.asarray(np.unique(number, return_inverse=True)[1])
