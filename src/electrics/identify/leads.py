"""The lamp to be fitted: which of its unlabelled leads is what, from trying pairs on a fused battery.

A hypothesis is a whole lamp: which lead is common to all, what each other lead feeds, and whether the lamp
is a filament, an LED that works one way round, or an LED behind a bridge. A trial puts battery positive on
one lead and negative on another; what is seen (dark, dim, lit, or the fuse blew), the colour of the light
and the current each multiply in a likelihood, mixed with a rate of mistakes. All hypotheses are weighed
together, so the exclusion of one lead moves the others.

Sign convention: the first lead of a trial is on battery positive.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from enum import StrEnum
from functools import lru_cache
from itertools import permutations, product
from math import exp, log, pi, sqrt

import numpy as np
from numpy.typing import NDArray

from electrics.document.lamp import FIRST_FUSE_A, Light, Seen, Trial
from electrics.errors import FactError
from electrics.inference.evidence import allowing_mistakes, as_mistakes, weigh
from electrics.inference.telling import information

__all__ = [
    "EITHER_WAY",
    "FIRST_FUSE_A",
    "LEAST_LEADS",
    "MOST_LEADS",
    "LampBelief",
    "LeadBelief",
    "Light",
    "Role",
    "Seen",
    "Technology",
    "Trial",
    "TrialStep",
    "identify_leads",
    "next_trials",
]

Array = NDArray[np.float64]

LEAST_LEADS, MOST_LEADS = 2, 7
FILAMENT_FUSE_A = 5.0
"""Fuse once the lamp is known to be a filament, which nothing here can hurt [A]."""
KNOWN_FILAMENT = 0.9
KEPT_PRIOR = 0.9998
"""Share of all lamps that is weighed; the rest are freaks, like seven leads of one kind [-]."""
MISTAKE_RATE = 0.03
"""Share of trials with the clip on the wrong lead or without contact (estimate)."""
ODD = 0.5
"""A trial that is more likely a mistake than not is odd [-]."""


LEAST_LIT_A = 0.001
"""Less than this lights no lamp [A]."""
SETTLED = 0.95
"""Probability from which a lead counts as settled [-]: it is tried on a fused battery, where a mistake shows."""


class Role(StrEnum):
    """What one lead of a lamp is; `red` is stop or turn, which a bench cannot tell apart."""

    COMMON = "common"
    TAIL = "tail"
    RED = "red"
    AMBER = "amber"
    WHITE = "white"
    UNUSED = "unused"


class Technology(StrEnum):
    """What makes the light, and which ways round it works."""

    FILAMENT = "filament"
    LED_COMMON_MINUS = "led_common_minus"
    LED_COMMON_PLUS = "led_common_plus"
    LED_BRIDGE = "led_bridge"


EITHER_WAY = frozenset({Technology.FILAMENT, Technology.LED_BRIDGE})
"""What works both ways round."""


@dataclass(frozen=True)
class LeadBelief:
    """The verdict on one lead.

    Attributes
    ----------
    ranked : tuple of (Role, float)
        Every role with its probability, most likely first [-].
    amps_a : float or None
        Median of the currents measured while this lead was lit alone against the common lead [A].
    """

    lead: str
    role: Role
    probability: float
    ranked: tuple[tuple[Role, float], ...]
    is_settled: bool
    amps_a: float | None


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
        Probability of each whole lamp, in the order of the internal table [-].
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


_ROLES = tuple(Role)
_TECHNOLOGIES = tuple(Technology)
_ROLE_PRIOR = {Role.TAIL: 0.34, Role.RED: 0.3, Role.AMBER: 0.16, Role.WHITE: 0.15, Role.UNUSED: 0.05}
_AGAIN = {Role.TAIL: 0.1, Role.RED: 0.5, Role.AMBER: 0.3, Role.WHITE: 0.2, Role.UNUSED: 0.5}
"""How much rarer each further lead of a role is than the first (estimates)."""
_TECHNOLOGY_PRIOR = {
    Technology.FILAMENT: 0.25,
    Technology.LED_COMMON_MINUS: 0.47,
    Technology.LED_COMMON_PLUS: 0.03,
    Technology.LED_BRIDGE: 0.25,
}
"""Most lamps sold for fitting today are LED with a common negative (estimate)."""

_LIGHT = {
    Role.TAIL: {Light.RED: 0.8, Light.AMBER: 0.08, Light.WHITE: 0.12},
    Role.RED: {Light.RED: 0.985, Light.AMBER: 0.01, Light.WHITE: 0.005},
    Role.AMBER: {Light.RED: 0.05, Light.AMBER: 0.93, Light.WHITE: 0.02},
    Role.WHITE: {Light.RED: 0.01, Light.AMBER: 0.02, Light.WHITE: 0.97},
}

_LED_A = {Role.TAIL: (0.055, 1.7), Role.RED: (0.27, 1.6), Role.AMBER: (0.27, 1.6), Role.WHITE: (0.9, 2.2)}
_FILAMENT_A = {Role.TAIL: (0.48, 1.3), Role.RED: (2.0, 1.2), Role.AMBER: (2.0, 1.2), Role.WHITE: (2.0, 1.3)}
"""Median current and spread factor: LED stop or turn 0.15 to 0.5 A, tail 0.03 to 0.1 A, reverse pods 0.5 to
3 A (common practice); filaments 0.42 to 0.59 A and 1.75 to 2.10 A (SAE J573, from memory)."""


@dataclass(frozen=True)
class _Lamps:
    """Every whole lamp of n leads: technology (n_hypotheses,), roles (n_hypotheses, n_leads), prior weights."""

    technology: NDArray[np.intp]
    roles: NDArray[np.intp]
    prior: Array


@lru_cache(maxsize=8)
def _lamps(n_leads: int) -> _Lamps:
    others = [role for role in Role if role is not Role.COMMON]
    fed = np.array(list(product([_ROLES.index(role) for role in others], repeat=n_leads - 1)))
    weight = np.ones(len(fed))
    for role in others:
        count = (fed == _ROLES.index(role)).sum(axis=1)
        weight *= _ROLE_PRIOR[role] ** count * _AGAIN[role] ** np.maximum(count - 1, 0)
    weight[(fed == _ROLES.index(Role.UNUSED)).all(axis=1)] = 0.0
    roles = np.concatenate([np.insert(fed, at, _ROLES.index(Role.COMMON), axis=1) for at in range(n_leads)])
    weight = np.tile(weight, n_leads)
    kinds = np.repeat(np.arange(len(_TECHNOLOGIES)), len(roles))
    prior = np.concatenate([_TECHNOLOGY_PRIOR[kind] * weight for kind in _TECHNOLOGIES])
    roles = np.tile(roles, (len(_TECHNOLOGIES), 1))
    if n_leads == 2:  # both ways round is one lamp, and a diode the other way round is the lamp turned
        is_first = roles[:, 0] == _ROLES.index(Role.COMMON)
        either_way = np.isin(kinds, [_TECHNOLOGIES.index(kind) for kind in EITHER_WAY])
        prior[either_way & ~is_first] = 0.0
        prior[kinds == _TECHNOLOGIES.index(Technology.LED_COMMON_PLUS)] = 0.0
    order = np.argsort(-prior, kind="stable")
    kept = order[: int(np.searchsorted(np.cumsum(prior[order]) / prior.sum(), KEPT_PRIOR)) + 1]
    return _Lamps(kinds[kept], np.asfortranarray(roles[kept]), prior[kept] / prior[kept].sum())


def identify_leads(leads: Sequence[str], trials: Sequence[Trial]) -> LampBelief:
    """Weigh every possible lamp against what the trials showed.

    Parameters
    ----------
    leads : sequence of str
        2 to 7 leads; a metal case that serves as ground counts as one.
    trials : sequence of Trial
        In any order.

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
    leads = tuple(leads)
    _check(leads, trials)
    lamps = _lamps(len(leads))
    likelihoods = [_likelihood(len(leads), leads.index(t.plus), leads.index(t.minus), t) for t in trials]
    right = np.array([likelihood for likelihood, _ in likelihoods]).reshape(len(trials), lamps.prior.size)
    by_mistake = np.array([mistaken for _, mistaken in likelihoods])[:, None]
    either_way = allowing_mistakes(right, by_mistake, MISTAKE_RATE)
    weights = weigh(lamps.prior, either_way)
    mistaken = as_mistakes(weights, either_way, MISTAKE_RATE * by_mistake).sum(axis=1)
    odd = tuple(trial for trial, chance in zip(trials, mistaken, strict=True) if chance > ODD)
    by_lead = [
        np.bincount(lamps.roles[:, column], weights=weights, minlength=len(_ROLES)) for column in range(len(leads))
    ]
    technology = np.bincount(lamps.technology, weights=weights, minlength=len(_TECHNOLOGIES))
    verdicts = []
    for lead, chances in zip(leads, by_lead, strict=True):
        order = np.argsort(-chances, kind="stable")
        ranked = tuple((_ROLES[i], float(chances[i])) for i in order)
        role, probability = ranked[0]
        is_settled = probability >= SETTLED and not any(lead in (trial.plus, trial.minus) for trial in odd)
        verdicts.append((lead, role, probability, ranked, is_settled))
    common = next((v[0] for v in verdicts if v[1] is Role.COMMON), "")
    return LampBelief(
        tuple(LeadBelief(*verdict, _amps(verdict[0], common, trials)) for verdict in verdicts),
        tuple(
            sorted(
                ((kind, float(p)) for kind, p in zip(_TECHNOLOGIES, technology, strict=True)),
                key=lambda item: -item[1],
            )
        ),
        tuple(trials),
        odd,
        weights,
    )


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
        An odd trial to be repeated comes first; empty when everything is settled or nothing would tell more.
    """
    if belief.is_settled:
        return ()
    names = [lead.lead for lead in belief.leads]
    lamps = _lamps(len(names))
    is_filament = dict(belief.technology)[Technology.FILAMENT] >= KNOWN_FILAMENT
    fuse_a = FILAMENT_FUSE_A if is_filament else FIRST_FUSE_A
    tried = {(trial.plus, trial.minus) for trial in belief.trials if trial.fuse_a >= fuse_a}
    steps = [TrialStep(trial.plus, trial.minus, 0.0, fuse_a) for trial in belief.odd]
    table = _outcomes(fuse_a)
    found = []
    n_roles = len(_ROLES)
    for a, b in permutations(range(len(names)), 2):
        if (names[a], names[b]) in tried:
            continue
        group = (lamps.technology * n_roles + lamps.roles[:, a]) * n_roles + lamps.roles[:, b]
        mass = np.bincount(group, weights=belief.weights, minlength=len(table))
        bits = float(information(mass, table))
        if bits >= WORTH_A_TRIAL_BITS:
            found.append(TrialStep(names[a], names[b], bits, fuse_a))
    found.sort(key=lambda step: -step.bits)
    return tuple((steps + found)[:limit])


WORTH_A_TRIAL_BITS = 0.01


def _check(leads: tuple[str, ...], trials: Sequence[Trial]) -> None:
    if not LEAST_LEADS <= len(leads) <= MOST_LEADS:
        raise FactError(
            "leads", f"{len(leads)} leads cannot be worked out here. Expected {LEAST_LEADS} to {MOST_LEADS}."
        )
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


def _fed(technology: Technology, plus: Role, minus: Role) -> Role | None:
    """The role that is lit when these two are on the posts; None when nothing is fed straight."""
    if minus is Role.COMMON and plus not in (Role.COMMON, Role.UNUSED):
        return None if technology is Technology.LED_COMMON_PLUS else plus
    if plus is Role.COMMON and minus not in (Role.COMMON, Role.UNUSED):
        return None if technology is Technology.LED_COMMON_MINUS else minus
    return None


@lru_cache(maxsize=512)
def _seen(technology: Technology, plus: Role, minus: Role, fuse_a: float) -> dict[Seen, float]:
    """Chance of each sight [-]; a fuse of 1 A is blown by a bright filament as often as not.

    A fed lead that stays dark is mostly a clip without contact, which the mistakes stand for.
    """
    role = _fed(technology, plus, minus)
    is_filament = technology is Technology.FILAMENT
    if role is Role.TAIL:
        return {Seen.DARK: 0.01, Seen.DIM: 0.56, Seen.LIT: 0.42, Seen.BLEW: 0.01}
    if role is not None and is_filament and fuse_a < 3:
        return {Seen.DARK: 0.005, Seen.DIM: 0.035, Seen.LIT: 0.41, Seen.BLEW: 0.55}
    if role is Role.WHITE and fuse_a < 3:
        return {Seen.DARK: 0.005, Seen.DIM: 0.055, Seen.LIT: 0.79, Seen.BLEW: 0.15}
    if role is not None:
        return {Seen.DARK: 0.005, Seen.DIM: 0.085, Seen.LIT: 0.9, Seen.BLEW: 0.01}
    both_feeds = Role.COMMON not in (plus, minus) and Role.UNUSED not in (plus, minus)
    if both_feeds and is_filament:  # in series through the common: a small one nearly lights up
        return {Seen.DARK: 0.1, Seen.DIM: 0.65, Seen.LIT: 0.2, Seen.BLEW: 0.05}
    if both_feeds and technology is Technology.LED_BRIDGE:
        return {Seen.DARK: 0.6, Seen.DIM: 0.35, Seen.LIT: 0.04, Seen.BLEW: 0.01}
    return {Seen.DARK: 0.97, Seen.DIM: 0.015, Seen.LIT: 0.005, Seen.BLEW: 0.01}


def _light(technology: Technology, plus: Role, minus: Role, light: Light) -> float:
    role = _fed(technology, plus, minus)
    return _LIGHT[role][light] if role else 1 / len(Light)


def _current(technology: Technology, plus: Role, minus: Role, amps_a: float) -> float:
    """Density of a current on a logarithmic axis, 2 mA standing for none [-]."""
    x = log(max(amps_a, 0.002))
    role = _fed(technology, plus, minus)
    if role:
        middle, factor = (_FILAMENT_A if technology is Technology.FILAMENT else _LED_A)[role]
        return 0.98 * _bump(x, log(middle), log(factor)) + 0.02 / 8
    if technology is Technology.FILAMENT and Role.COMMON not in (plus, minus) and Role.UNUSED not in (plus, minus):
        return 0.9 * _bump(x, log(0.5), log(1.8)) + 0.1 / 8
    return 0.95 * _bump(x, log(0.002), 0.7) + 0.05 / 8


def _bump(x: float, centre: float, spread: float) -> float:
    return exp(-0.5 * ((x - centre) / spread) ** 2) / (spread * sqrt(2 * pi))


@lru_cache(maxsize=64)
def _likelihood(n_leads: int, plus_at: int, minus_at: int, trial: Trial) -> tuple[Array, float]:
    """Of one trial under every lamp, and under a mistake."""
    lamps = _lamps(n_leads)
    n_roles = len(_ROLES)
    table = np.ones((len(_TECHNOLOGIES), n_roles, n_roles))
    for (t, technology), (a, plus), (b, minus) in product(
        enumerate(_TECHNOLOGIES), enumerate(_ROLES), enumerate(_ROLES)
    ):
        value = _seen(technology, plus, minus, trial.fuse_a)[trial.seen]
        if trial.light is not None and trial.seen in (Seen.DIM, Seen.LIT):
            value *= _light(technology, plus, minus, trial.light)
        if trial.amps_a is not None and trial.seen is not Seen.BLEW:
            value *= _current(technology, plus, minus, trial.amps_a)
        table[t, a, b] = value
    mistaken = 0.5 if trial.seen is Seen.DARK else 0.2
    if trial.light is not None:
        mistaken /= len(Light)
    if trial.amps_a is not None:
        mistaken /= 8
    return table[lamps.technology, lamps.roles[:, plus_at], lamps.roles[:, minus_at]], mistaken


@lru_cache(maxsize=4)
def _outcomes(fuse_a: float) -> Array:
    """Chance of each sight with each colour, (technologies x roles x roles, outcomes) [-], mistakes mixed in."""
    rows = []
    for technology, plus, minus in product(_TECHNOLOGIES, _ROLES, _ROLES):
        seen = _seen(technology, plus, minus, fuse_a)
        row = [seen[Seen.DARK], seen[Seen.BLEW]]
        for sight, light in product((Seen.DIM, Seen.LIT), Light):
            row.append(seen[sight] * _light(technology, plus, minus, light))
        rows.append(row)
    table = np.array(rows)
    return allowing_mistakes(table, 1.0 / table.shape[1], MISTAKE_RATE)
