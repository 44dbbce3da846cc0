"""What the readings of one vehicle say of every hypothesis: its access points weighed, all wires of each together.

The access points of one vehicle share their scenario; each has its own kind of lamps. Scenario and lamp kind together
are a *world*.
"""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from functools import cached_property
from itertools import combinations

import numpy as np
from numpy.typing import NDArray

from electrics.document.places import AccessPoint, Claim, Evidence, Origin, Setup, Wire
from electrics.identify.kinds import count_prior, pin_out, wire_prior
from electrics.identify.likelihood import (
    FUNCTION_OF,
    HYPOTHESES,
    LAMP_KINDS,
    MEMBERSHIP,
    SCENARIOS,
    VARIANT_WEIGHT,
    WORLDS,
    Readings,
    potential,
    readings_of,
    row_of,
)
from electrics.identify.settle import looks_like_bus
from electrics.inference.evidence import allowing_mistakes
from electrics.inference.joint import JointBelief, weigh_jointly
from electrics.reference.functions import functions_needing, kind_of
from electrics.vocabulary import FUNCTIONS, Arrangement, Control, Function

__all__ = ["CLAIM_FACTORS", "Weighed", "claims_of", "weigh_all"]

Array = NDArray[np.float64]
CLAIM_FACTORS = {
    Origin.SAID: 12.0,
    Origin.PIN_OUT: 10.0,
    Origin.OTHER_SIDE: 4.0,
    Origin.WIRE_BOOK: 25.0,
    Origin.EARLIER: 25.0,
    Origin.SPLITTER: 10.0,
}
"""How much likelier a function becomes because of a claim, before any reading (estimates).

Charts and standards are wrong often enough that two or three readings must be able to overrule one. The
other side of a vehicle has the same functions, not always at the same pins. What this shop has proven on
the same kind of vehicle, or measured on this one before, weighs most, and is still only a prior."""
NOT_FITTED = 1e-9
"""Weight of a function that the vehicle lacks what it needs for [-]: somebody may be mistaken about that."""
BUS_PAIR_V = (4.6, 5.4)
"""What the two lines of a busy bus read together [V] (ISO 11898-2: either side of 2.5 V)."""
TRAILERS = [FUNCTIONS.index(function) for function in functions_needing(Control.TRAILER)]
TRAILER_FACTOR = 10.0
"""How much likelier a wire of the trailer's becomes where somebody plugs one in to measure [-] (estimate)."""
BUS_PAIR_FACTOR = 8.0
"""How much likelier a data line becomes because another wire here reads the rest of 5 V [-] (estimate)."""


@dataclass(frozen=True)
class Weighed:
    """One access point weighed: its readings by pin, hypothesis probabilities per world and wire, worlds."""

    readings: Mapping[str, Readings]
    by_hypothesis: Array
    worlds: Array
    pins: tuple[str, ...]

    @property
    def marginals(self) -> Array:
        return np.asarray(np.einsum("g,gwh->wh", self.worlds, self.by_hypothesis))

    def gains(self, noted: Sequence[Evidence], instead: Sequence[Evidence], *, mistake_rate: float) -> Array:
        """As `families.Gains` has it."""
        others = [allowing_mistakes(like, mistaken, mistake_rate) for _, like, mistaken in map(row_of, instead)]
        return np.log(np.stack([self._without(each) for each in noted]) @ np.reshape(others, (len(others), -1)).T)

    def _without(self, noted: Evidence) -> Array:
        """What is believed of a wire without one of its readings, in any scale (n_worlds * n_hypotheses)."""
        own = self.readings[noted.pin]
        return np.asarray(self._in_worlds[noted.pin] / own.likelihood[own.evidence.index(noted)].ravel())

    @cached_property
    def _in_worlds(self) -> dict[str, Array]:
        found = (self.worlds[:, None, None] * self.by_hypothesis).swapaxes(0, 1).reshape(len(self.pins), -1)
        return dict(zip(self.pins, found, strict=True))


def weigh_all(
    points: Sequence[AccessPoint],
    arrangement: Arrangement | None,
    mistake_rate: float,
    not_fitted: frozenset[Control],
) -> list[Weighed]:
    """All access points of one vehicle, which share their arrangement.

    Parameters
    ----------
    points : sequence of AccessPoint
    arrangement : Arrangement or None
        When it is known.
    mistake_rate : float
        Share of readings that are mistakes [-].
    not_fitted : frozenset of Control
        What the vehicle lacks.

    Returns
    -------
    list of Weighed
        One for each, in order.
    """
    prior = np.array(
        [weight if arrangement in (None, scenario.arrangement) else 0.0 for scenario, weight in SCENARIOS]
    )
    lamp_prior = np.array([weight for _, weight in LAMP_KINDS])
    weighed = [_weigh(point, mistake_rate, not_fitted) for point in points]
    log_scenarios = np.log(np.maximum(prior / prior.sum(), 1e-300))
    lamp_shares = []
    for log_weight, _, _ in weighed:
        by_lamps = log_weight.reshape(len(SCENARIOS), -1) + np.log(lamp_prior)
        evidence = np.logaddexp.reduce(by_lamps, axis=1)
        lamp_shares.append(np.exp(by_lamps - evidence[:, None]))
        log_scenarios = log_scenarios + evidence
    scenarios = np.exp(log_scenarios - log_scenarios.max())
    scenarios /= scenarios.sum()
    return [
        Weighed(
            readings,
            by_hypothesis,
            (scenarios[:, None] * lamps).ravel(),
            tuple(wire.pin for wire in point.wires),
        )
        for point, (_, by_hypothesis, readings), lamps in zip(points, weighed, lamp_shares, strict=True)
    ]


def _weigh(
    point: AccessPoint, mistake_rate: float, not_fitted: frozenset[Control]
) -> tuple[Array, Array, Mapping[str, Readings]]:
    """World log weights, hypothesis probabilities per world and wire, and the readings by pin."""
    n_wires = len(point.wires)
    if not n_wires:
        return np.zeros(len(WORLDS)), np.zeros((len(WORLDS), 0, len(HYPOTHESES))), {}
    plain: dict[str, list[Evidence]] = defaultdict(list)
    crossed: dict[str, list[Evidence]] = defaultdict(list)
    for evidence in point.evidence:
        (crossed if evidence.against else plain)[evidence.pin].append(evidence)
    readings = {pin: readings_of(tuple(own), mistake_rate) for pin, own in plain.items()}
    log_weight, by_hypothesis = _solve(point, readings, not_fitted)
    if crossed:  # the second pin's potential is taken from what the plain readings say of it
        first = by_hypothesis.mean(axis=0)
        for pin, items in crossed.items():
            rows = [row_of(item, potential(point, first, item)) for item in items]
            more = Readings.of(rows, mistake_rate)
            readings[pin] = readings[pin].and_of(more) if pin in readings else more
        log_weight, by_hypothesis = _solve(point, readings, not_fitted)
    return log_weight, by_hypothesis, readings


def _solve(
    point: AccessPoint, readings: Mapping[str, Readings], not_fitted: frozenset[Control]
) -> tuple[Array, Array]:
    log_like = np.zeros((len(WORLDS), len(point.wires), len(HYPOTHESES)))
    for w, wire in enumerate(point.wires):
        if wire.pin in readings:
            log_like[:, w] = readings[wire.pin].log_likelihood
        for claim in claims_of(point, wire):
            log_like[:, w, FUNCTIONS.index(claim.function) == FUNCTION_OF] += np.log(CLAIM_FACTORS[claim.origin])
    for pin in _bus_pairs(point):
        w = [wire.pin for wire in point.wires].index(pin)
        log_like[:, w, FUNCTIONS.index(Function.DATA) == FUNCTION_OF] += np.log(BUS_PAIR_FACTOR)
    if any(Control.TRAILER in item.setup.state.controls for item in point.evidence):
        log_like[:, :, np.isin(FUNCTION_OF, TRAILERS)] += np.log(TRAILER_FACTOR)
    for f, function in enumerate(FUNCTIONS):
        if not not_fitted.isdisjoint(kind_of(function).needs):
            log_like[:, :, f == FUNCTION_OF] += np.log(NOT_FITTED)
    top = log_like.max(axis=2, keepdims=True)
    by_variant = np.exp(log_like - top) * VARIANT_WEIGHT
    by_function = by_variant @ MEMBERSHIP
    prior_of = count_prior if point.is_whole or pin_out(point.kind) else wire_prior
    priors = np.stack([prior_of(point.kind, point.side, s.arrangement, len(point.wires)) for s, _ in WORLDS])
    joint = _weigh_once(by_function, priors)
    share = by_variant / np.maximum(by_function @ MEMBERSHIP.T, 1e-300)
    return joint.log_weight + top.sum(axis=(1, 2)), (joint.marginals @ MEMBERSHIP.T) * share


def _bus_pairs(point: AccessPoint) -> set[str]:
    """Pins that in some state read what two bus lines do together."""
    by_setup: dict[Setup, list[Evidence]] = defaultdict(list)
    for item in point.evidence:
        if looks_like_bus(item):
            by_setup[item.setup].append(item)
    return {
        pin
        for found in by_setup.values()
        for one, other in combinations(found, 2)
        if one.pin != other.pin and BUS_PAIR_V[0] <= one.reading.low + other.reading.low <= BUS_PAIR_V[1]
        for pin in (one.pin, other.pin)
    }


def claims_of(point: AccessPoint, wire: Wire) -> tuple[Claim, ...]:
    """What is claimed of a wire, the standard pin-out of its plug first."""
    standard = [Claim(pin.function, Origin.PIN_OUT) for pin in pin_out(point.kind) if pin.pin == wire.pin]
    return (*standard, *wire.claims)


def _weigh_once(by_function: Array, priors: Array) -> JointBelief:
    """Weigh each world; worlds that nothing measured so far tells apart are weighed once."""
    first: dict[bytes, int] = {}
    same = [
        first.setdefault(like.tobytes() + prior.tobytes(), g)
        for g, (like, prior) in enumerate(zip(by_function, priors, strict=True))
    ]
    kept = sorted(set(same))
    joint = weigh_jointly(by_function[kept], priors[kept])
    place = [kept.index(g) for g in same]
    return JointBelief(joint.log_weight[place], joint.marginals[place])
