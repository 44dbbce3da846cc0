"""The lamp to be fitted: which of its unlabelled leads is what, from trying pairs on a fused battery.

A trial puts battery positive on one lead and negative on another; what is seen (dark, dim, lit, or the fuse blew),
the colour of the light and the current each multiply in a likelihood, mixed with a rate of mistakes. Whole lamps are
weighed, see `bench_lamps`, so the exclusion of one lead moves the others. A chart that came with the lamp shifts the
verdict and settles nothing.
"""

from __future__ import annotations

from collections import Counter
from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass
from itertools import permutations

import numpy as np
from numpy.typing import NDArray

from electrics.document.lamp import FIRST_FUSE_A, Light, Seen, Trial
from electrics.errors import FactError
from electrics.identify.bench_lamps import (
    EITHER_WAY,
    MISTAKE_RATE,
    ROLES,
    TECHNOLOGIES,
    Role,
    Technology,
    WholeLamps,
    likelihood_of,
    outcomes,
    whole_lamps,
)
from electrics.inference.evidence import allowing_mistakes, as_mistakes, weigh
from electrics.inference.telling import information
from electrics.reference.functions import kind_of
from electrics.vocabulary import Function

__all__ = [
    "EITHER_WAY",
    "FIRST_FUSE_A",
    "LEAST_LEADS",
    "MOST_LEADS",
    "MOST_TIMES",
    "SETTLED",
    "WORTH_A_TRIAL_BITS",
    "LampBelief",
    "LeadBelief",
    "Light",
    "Role",
    "Seen",
    "Technology",
    "Trial",
    "TrialStep",
    "identify_leads",
    "most_telling",
    "next_trials",
    "open_trials",
    "roles_of",
]

Array = NDArray[np.float64]

LEAST_LEADS, MOST_LEADS = 2, 7
FILAMENT_FUSE_A = 5.0
"""Fuse once the lamp is known to be a filament, which nothing here can hurt [A]."""
KNOWN_FILAMENT = 0.9
ODD = 0.5
"""A trial that is more likely a mistake than not is odd [-]."""


MOST_TIMES = 2
"""A pair is tried at most so often through one fuse [-]: the second time tells a bad clip from a dark lead."""
WORTH_A_TRIAL_BITS = 0.01
"""Less than this is not worth a trial [bit]."""
LEAST_LIT_A = 0.001
"""Less than this lights no lamp [A]."""
CLAIM_FACTOR = 12.0
"""How much likelier a lead is what its seller's chart says [-] (estimate): two trials must be able to overrule it."""
SETTLED = 0.95
"""Probability from which a lead counts as settled [-]: it is tried on a fused battery, where a mistake shows."""


@dataclass(frozen=True)
class LeadBelief:
    """The verdict on one lead.

    Attributes
    ----------
    ranked : tuple of (Role, float)
        Every role with its probability, most likely first [-].
    amps_a : float or None
        Median of the currents measured while this lead was lit alone against the common lead [A].
    claim : Function or None
        What somebody says of it.
    """

    lead: str
    role: Role
    probability: float
    ranked: tuple[tuple[Role, float], ...]
    is_settled: bool
    amps_a: float | None
    claim: Function | None = None

    @property
    def is_disputed(self) -> bool:
        """Whether the trials have settled against what somebody says."""
        return self.claim is not None and self.is_settled and self.role not in roles_of(self.claim)


@dataclass(frozen=True)
class LampBelief:
    """Everything believed about the lamp on the bench.

    Attributes
    ----------
    technology : tuple of (Technology, float)
        Most likely first [-].
    odd : tuple of Trial
        Trials that are more likely a mistake than right, given everything else.
    weights : ndarray (n_hypotheses,)
        Probability of each whole lamp by its trials alone, in the order of the internal table [-].
    """

    leads: tuple[LeadBelief, ...]
    technology: tuple[tuple[Technology, float], ...]
    trials: tuple[Trial, ...]
    odd: tuple[Trial, ...]
    weights: Array

    @property
    def is_settled(self) -> bool:
        """Whether every lead's role and the way round are known."""
        return all(lead.is_settled for lead in self.leads) and self.way_round[1] >= SETTLED

    @property
    def way_round(self) -> tuple[str, float]:
        """`either`, `common_minus` or `common_plus`, and how sure [-]."""
        chance = dict(self.technology)
        ways = {
            "either": sum(chance[kind] for kind in EITHER_WAY),
            "common_minus": chance[Technology.LED_COMMON_MINUS],
            "common_plus": chance[Technology.LED_COMMON_PLUS],
        }
        return max(ways.items(), key=lambda item: item[1])

    @property
    def common(self) -> LeadBelief | None:
        """The settled common lead, if there is one yet."""
        return next((lead for lead in self.leads if lead.role is Role.COMMON and lead.is_settled), None)

    def lead(self, name: str) -> LeadBelief:
        """The belief about one lead; KeyError names one that is not there."""
        return {lead.lead: lead for lead in self.leads}[name]


@dataclass(frozen=True)
class TrialStep:
    """A pair to try next through a fuse [A], and the bits it is expected to tell [bit]."""

    plus: str
    minus: str
    bits: float
    fuse_a: float


def roles_of(function: Function) -> frozenset[Role]:
    """What a lead can be that somebody says is for a function; of one that no lamp shows, its common."""
    return frozenset(map(Role, kind_of(function).leads)) or frozenset({Role.COMMON})


def identify_leads(
    leads: Sequence[str], trials: Sequence[Trial], claims: Iterable[tuple[str, Function]] = ()
) -> LampBelief:
    """Weigh every possible lamp against what the trials showed.

    Parameters
    ----------
    leads : sequence of str
        2 to 7 leads; a metal case that serves as ground counts as one.
    trials : sequence of Trial
        In any order.
    claims : iterable of (str, Function)
        What is said of some leads: it shifts the verdict and settles nothing.

    Returns
    -------
    LampBelief

    Raises
    ------
    FactError
        Too few or too many leads, a lead named twice, a trial of a lead that is not there or of one lead
        against itself, a negative current.

    Examples
    --------
    >>> found = identify_leads(["red", "black"], [Trial("red", "black", Seen.LIT, Light.WHITE, 1.1)])
    >>> str(found.lead("red").role)
    'white'
    """
    leads, said = tuple(leads), dict(claims)
    _check(leads, trials, said)
    lamps = whole_lamps(len(leads))
    likelihoods = [likelihood_of(len(leads), leads.index(t.plus), leads.index(t.minus), t) for t in trials]
    right = np.array([likelihood for likelihood, _ in likelihoods]).reshape(len(trials), lamps.prior.size)
    by_mistake = np.array([mistaken for _, mistaken in likelihoods])[:, None]
    either_way = allowing_mistakes(right, by_mistake, MISTAKE_RATE)
    weights = weigh(lamps.prior, either_way)
    claimed = weigh(_claimed(lamps, leads, said), either_way)
    mistaken = as_mistakes(weights, either_way, MISTAKE_RATE * by_mistake).sum(axis=1)
    odd = tuple(trial for trial, chance in zip(trials, mistaken, strict=True) if chance > ODD)
    by_lead, by_trials = _by_lead(lamps, claimed), _by_lead(lamps, weights)
    technology = np.bincount(lamps.technology, weights=weights, minlength=len(TECHNOLOGIES))
    verdicts = []
    for lead, shifted, measured in zip(leads, by_lead, by_trials, strict=True):
        is_sure = float(measured.max()) >= SETTLED  # then no chart has a say
        chances = measured if is_sure else shifted
        order = np.argsort(-chances, kind="stable")
        ranked = tuple((ROLES[i], float(chances[i])) for i in order)
        role, probability = ranked[0]
        is_settled = is_sure and not any(lead in (trial.plus, trial.minus) for trial in odd)
        verdicts.append((lead, role, probability, ranked, is_settled))
    common = next((v[0] for v in verdicts if v[1] is Role.COMMON), "")
    return LampBelief(
        tuple(LeadBelief(*verdict, _amps(verdict[0], common, trials), said.get(verdict[0])) for verdict in verdicts),
        tuple(
            sorted(
                ((kind, float(p)) for kind, p in zip(TECHNOLOGIES, technology, strict=True)),
                key=lambda item: -item[1],
            )
        ),
        tuple(trials),
        odd,
        weights,
    )


def _claimed(lamps: WholeLamps, leads: Sequence[str], claims: Mapping[str, Function]) -> Array:
    """Prior weights of all lamps with what is said of their leads (n_hypotheses,) [-]."""
    prior = lamps.prior.copy()
    for lead, function in claims.items():
        said = [ROLES.index(role) for role in roles_of(function)]
        prior[np.isin(lamps.roles[:, leads.index(lead)], said)] *= CLAIM_FACTOR
    return np.asarray(prior / prior.sum())


def _by_lead(lamps: WholeLamps, weights: Array) -> list[Array]:
    """Chance of each role of each lead, (n_roles,) each [-]."""
    columns = range(lamps.roles.shape[1])
    return [np.bincount(lamps.roles[:, n], weights=weights, minlength=len(ROLES)).astype(float) for n in columns]


def next_trials(belief: LampBelief, *, limit: int = 3) -> tuple[TrialStep, ...]:
    """Which pairs to try next, the most telling first.

    Parameters
    ----------
    belief : LampBelief
    limit : int
        How many at most [-].

    Returns
    -------
    tuple of TrialStep
        An odd trial comes first: repeat it. Empty once everything is settled or nothing would tell more. Where two
        pairs tell as much, the one that the chart says will light.
    """
    if belief.is_settled:
        return ()
    names = [lead.lead for lead in belief.leads]
    lamps = whole_lamps(len(names))
    fuse_a, pairs = open_trials(belief)
    times = Counter((trial.plus, trial.minus) for trial in belief.trials)
    odd = dict.fromkeys((trial.plus, trial.minus) for trial in belief.odd)
    steps = [TrialStep(*pair, 0.0, fuse_a) for pair in odd if times[pair] <= MOST_TIMES]
    table = outcomes(fuse_a)
    found = []
    for a, b in pairs:
        mass = np.bincount(lamps.grouped(a, b), weights=belief.weights, minlength=len(table))
        bits = float(information(mass, table))
        if bits >= WORTH_A_TRIAL_BITS:
            found.append(TrialStep(names[a], names[b], bits, fuse_a))
    return tuple((steps + most_telling(belief, found))[:limit])


def most_telling(belief: LampBelief, steps: Iterable[TrialStep]) -> list[TrialStep]:
    """Trials by what they tell, most first; of two that tell as much, the one that the chart says will light."""
    said = {lead.lead: roles_of(lead.claim) for lead in belief.leads if lead.claim is not None}
    common = {lead for lead, roles in said.items() if Role.COMMON in roles}
    return sorted(steps, key=lambda step: (-round(step.bits, 6), step.minus not in common, step.plus not in said))


def open_trials(belief: LampBelief) -> tuple[float, list[tuple[int, int]]]:
    """The fuse for the next trial [A], and the pairs of leads not tried through it yet, by place [-]."""
    names = [lead.lead for lead in belief.leads]
    is_filament = dict(belief.technology)[Technology.FILAMENT] >= KNOWN_FILAMENT
    fuse_a = FILAMENT_FUSE_A if is_filament else FIRST_FUSE_A
    tried = Counter((trial.plus, trial.minus) for trial in belief.trials if trial.fuse_a >= fuse_a)
    pairs = permutations(range(len(names)), 2)
    return fuse_a, [(a, b) for a, b in pairs if tried[names[a], names[b]] < MOST_TIMES]


def _check(leads: tuple[str, ...], trials: Sequence[Trial], claims: Iterable[str]) -> None:
    if not LEAST_LEADS <= len(leads) <= MOST_LEADS:
        raise FactError(
            "leads", f"{len(leads)} leads cannot be worked out here. Expected {LEAST_LEADS} to {MOST_LEADS}."
        )
    for lead in claims:
        if lead not in leads:
            raise FactError("claim", f"There is no lead “{lead}”. The leads are {', '.join(leads)}.")
    if len(set(leads)) < len(leads):
        raise FactError("leads", "Two leads have the same name. Mark them so that each has its own.")
    for trial in trials:
        if trial.plus == trial.minus:
            raise FactError("minus", f"{trial.plus} cannot be on both posts. Choose another lead for negative.")
        for lead in (trial.plus, trial.minus):
            if lead not in leads:
                raise FactError("plus", f"There is no lead “{lead}”. The leads are {', '.join(leads)}.")
        if trial.fuse_a <= 0:
            raise FactError("fuse_a", "Expected the rating of the fuse in amps, 1 A to begin with.")
        if trial.amps_a is not None and not 0 <= trial.amps_a <= 50:
            raise FactError("amps_a", f"{trial.amps_a:g} A cannot be a lamp's current. Expected 0 to 50 A.")
        if trial.seen in (Seen.LIT, Seen.DIM) and trial.amps_a is not None and trial.amps_a < LEAST_LIT_A:
            raise FactError(
                "amps_a",
                f"A lamp that gives light draws more than {trial.amps_a:g} A. Leave the current empty if the meter "
                "does not show it.",
            )


def _amps(lead: str, common: str, trials: Sequence[Trial]) -> float | None:
    lit = [
        trial.amps_a
        for trial in trials
        if trial.amps_a is not None and trial.seen is not Seen.DARK and {trial.plus, trial.minus} == {lead, common}
    ]
    return float(np.median(lit)) if lit and lead != common else None
