"""Every whole lamp that may lie on the bench, and what a trial of two of its leads shows on each.

A hypothesis is a whole lamp: which lead is common to all, what each other lead feeds, and whether the lamp is a
filament, an LED that works one way round, or an LED behind a bridge.

Sign convention: the first lead of a trial is on battery positive.
"""

from __future__ import annotations

from dataclasses import dataclass
from enum import StrEnum
from functools import lru_cache
from itertools import product
from math import exp, log, pi, sqrt

import numpy as np
from numpy.typing import NDArray

from electrics.document.lamp import Light, Seen, Trial
from electrics.inference.evidence import allowing_mistakes

__all__ = [
    "EITHER_WAY",
    "MISTAKE_RATE",
    "ROLES",
    "TECHNOLOGIES",
    "Role",
    "Technology",
    "WholeLamps",
    "likelihood_of",
    "outcomes",
    "whole_lamps",
]

Array = NDArray[np.float64]
MISTAKE_RATE = 0.03
"""Share of trials with the clip on the wrong lead or without contact (estimate)."""
KEPT_PRIOR = 0.9998
"""Share of all lamps that is weighed; the rest are freaks, like seven leads of one kind [-]."""


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


ROLES = tuple(Role)
TECHNOLOGIES = tuple(Technology)
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
class WholeLamps:
    """Every whole lamp of n leads: technology (n_hypotheses,), roles (n_hypotheses, n_leads), prior weights."""

    technology: NDArray[np.intp]
    roles: NDArray[np.intp]
    prior: Array

    def grouped(self, plus_at: int, minus_at: int) -> NDArray[np.intp]:
        """Rows of `outcomes` that a trial of two leads meets, one for each lamp (n_hypotheses,)."""
        n_roles = len(ROLES)
        return np.asarray((self.technology * n_roles + self.roles[:, plus_at]) * n_roles + self.roles[:, minus_at])


@lru_cache(maxsize=8)
def whole_lamps(n_leads: int) -> WholeLamps:
    """Every lamp of so many leads, but for the freaks, likeliest first."""
    others = [role for role in Role if role is not Role.COMMON]
    fed = np.array(list(product([ROLES.index(role) for role in others], repeat=n_leads - 1)))
    weight = np.ones(len(fed))
    for role in others:
        count = (fed == ROLES.index(role)).sum(axis=1)
        weight *= _ROLE_PRIOR[role] ** count * _AGAIN[role] ** np.maximum(count - 1, 0)
    weight[(fed == ROLES.index(Role.UNUSED)).all(axis=1)] = 0.0
    roles = np.concatenate([np.insert(fed, at, ROLES.index(Role.COMMON), axis=1) for at in range(n_leads)])
    weight = np.tile(weight, n_leads)
    kinds = np.repeat(np.arange(len(TECHNOLOGIES)), len(roles))
    prior = np.concatenate([_TECHNOLOGY_PRIOR[kind] * weight for kind in TECHNOLOGIES])
    roles = np.tile(roles, (len(TECHNOLOGIES), 1))
    # with one lead fed, both ways round is one lamp, and a diode the other way round is the lamp turned
    is_single = (roles == ROLES.index(Role.UNUSED)).sum(axis=1) == n_leads - 2
    fed_at = np.argmax(~np.isin(roles, [ROLES.index(Role.COMMON), ROLES.index(Role.UNUSED)]), axis=1)
    is_second = np.argmax(roles == ROLES.index(Role.COMMON), axis=1) > fed_at
    either_way = np.isin(kinds, [TECHNOLOGIES.index(kind) for kind in EITHER_WAY])
    prior[is_single & either_way & is_second] = 0.0
    prior[is_single & (kinds == TECHNOLOGIES.index(Technology.LED_COMMON_PLUS))] = 0.0
    order = np.argsort(-prior, kind="stable")
    kept = order[: int(np.searchsorted(np.cumsum(prior[order]) / prior.sum(), KEPT_PRIOR)) + 1]
    return WholeLamps(kinds[kept], np.asfortranarray(roles[kept]), prior[kept] / prior[kept].sum())


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
def likelihood_of(n_leads: int, plus_at: int, minus_at: int, trial: Trial) -> tuple[Array, float]:
    """Of one trial under every lamp, and under a mistake."""
    lamps = whole_lamps(n_leads)
    n_roles = len(ROLES)
    table = np.ones((len(TECHNOLOGIES), n_roles, n_roles))
    for (t, technology), (a, plus), (b, minus) in product(
        enumerate(TECHNOLOGIES), enumerate(ROLES), enumerate(ROLES)
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
def outcomes(fuse_a: float) -> Array:
    """Chance of each sight with each colour, (technologies x roles x roles, outcomes) [-], mistakes mixed in."""
    rows = []
    for technology, plus, minus in product(TECHNOLOGIES, ROLES, ROLES):
        seen = _seen(technology, plus, minus, fuse_a)
        row = [seen[Seen.DARK], seen[Seen.BLEW]]
        for sight, light in product((Seen.DIM, Seen.LIT), Light):
            row.append(seen[sight] * _light(technology, plus, minus, light))
        rows.append(row)
    table = np.array(rows)
    return allowing_mistakes(table, 1.0 / table.shape[1], MISTAKE_RATE)
