"""From readings to belief: what each wire of an access point is, how sure, and which reading is odd.

Every hypothesis is a function with its variant; every reading multiplies in its likelihood, mixed with a
rate of human mistakes so that one odd reading shifts belief and never makes anything impossible. The
access points of one vehicle share their scenario (separate or combined, flash wins or brake wins); each
has its own kind of lamps, filament or LED. Scenario and lamp kind together are a *world*.
"""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace
from functools import partial
from itertools import combinations

import numpy as np
from numpy.typing import NDArray

from electrics.identify.conditions import LampKind
from electrics.identify.explain import BackFeed, Contradiction, Weight, fed_back, met, suspects, weights
from electrics.identify.facts import CLAIM_FACTORS, AccessPoint, Claim, Evidence, Origin, Setup, Wire
from electrics.identify.families import Family, families_of, without
from electrics.identify.kinds import FUSE_BOX, UNCLAIMED_KIND, count_prior, pin_out, wire_prior
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
from electrics.identify.settle import (
    LEAST_WITHOUT,
    READING_COST,
    Lack,
    cost_of_error,
    is_tappable,
    least_sure,
    looks_like_bus,
    may_be_bus,
    proves_bus,
    proves_ground,
)
from electrics.inference.evidence import allowing_mistakes
from electrics.inference.joint import Joint, most_probable, weigh_jointly
from electrics.reference.functions import kind_of
from electrics.signals import Scenario, polarity_of
from electrics.vocabulary import FUNCTIONS, Arrangement, Control, Function, Polarity

__all__ = [
    "CLAIM_FACTORS",
    "HYPOTHESES",
    "MISTAKE_RATE",
    "SCENARIOS",
    "WORLDS",
    "AccessPoint",
    "BackFeed",
    "Belief",
    "Claim",
    "Contradiction",
    "Evidence",
    "Lack",
    "Origin",
    "Setup",
    "Wire",
    "WireBelief",
    "identify",
]

Array = NDArray[np.float64]

MISTAKE_RATE = 0.04
"""Share of readings taken on the wrong pin, with the control off or without contact (estimate)."""
LEAST_OWN_BITS = 1.0
"""What a wire's own readings must say for a function that was claimed of it: a claim settles nothing by itself."""
NOT_FITTED = 1e-9
"""Weight of a function that the vehicle lacks what it needs for [-]: somebody may be mistaken about that."""
BUS_PAIR_V = (4.6, 5.4)
"""What the two lines of a busy bus read together [V] (ISO 11898-2: either side of 2.5 V)."""
BUS_PAIR_FACTOR = 8.0
"""How much likelier a data line becomes because another wire here reads the rest of 5 V [-] (estimate)."""


@dataclass(frozen=True)
class WireBelief:
    """The verdict on one wire.

    Attributes
    ----------
    function : Function
        The verdict, chosen together with the other wires'.
    variant : str
        The likeliest of that function's variants.
    probability : float
        Of that function [-].
    ranked : tuple of (Function, float)
        Every function with its probability, most likely first.
    lack : Lack
        What it lacks to be settled.
    weights : tuple of Weight
        What each reading of this wire says for the verdict.
    polarity : Polarity
        Which side of the lamp this wire switches, as far as is known.
    claims : tuple of Claim
        What was claimed of this wire, a standard pin-out included.
    """

    pin: str
    colour: str
    function: Function
    variant: str
    probability: float
    ranked: tuple[tuple[Function, float], ...]
    lack: Lack
    weights: tuple[Weight, ...]
    polarity: Polarity
    claims: tuple[Claim, ...]

    @property
    def is_settled(self) -> bool:
        return self.lack is Lack.NOTHING

    @property
    def disputed(self) -> tuple[Claim, ...]:
        """The claims that the measurements have settled against."""
        return tuple(claim for claim in self.claims if self.is_settled and claim.function is not self.function)

    def probability_of(self, function: Function) -> float:
        return dict(self.ranked)[function]

    @property
    def rival(self) -> tuple[Function, float]:
        """The most likely other function."""
        return next(item for item in self.ranked if item[0] is not self.function)


@dataclass(frozen=True)
class Belief:
    """Everything believed about one access point.

    Attributes
    ----------
    arrangement : mapping of Arrangement to float
        Probability of each, shared by all access points of the vehicle [-].
    marginals : ndarray (n_wires, n_hypotheses)
        Probability of each hypothesis for each wire, in the order of `HYPOTHESES` [-].
    unclaimed : ndarray (n_wires, n_hypotheses)
        The same with every claim removed, and for a verdict that hangs on one cell without that cell: what is
        to be measured follows from it.
    worlds : ndarray (n_worlds,)
        Probability of each scenario with each kind of lamps, in the order of `WORLDS` [-].
    not_fitted : frozenset of Control
        What this vehicle lacks.
    back_feeds : tuple of BackFeed
        Readings that say that a feed is fed by another circuit.
    families : tuple of Family
        Slips that spoilt several readings of a state at once; those readings are not weighed.
    suspected : tuple of Contradiction
        Readings that may well be mistakes, those that contradict the rest among them.
    """

    point: AccessPoint
    wires: tuple[WireBelief, ...]
    arrangement: Mapping[Arrangement, float]
    marginals: Array
    unclaimed: Array
    worlds: Array
    not_fitted: frozenset[Control] = frozenset()
    back_feeds: tuple[BackFeed, ...] = ()
    families: tuple[Family, ...] = ()
    suspected: tuple[Contradiction, ...] = ()

    @property
    def contradictions(self) -> tuple[Contradiction, ...]:
        """Readings that are more likely mistakes than not."""
        return tuple(each for each in self.suspected if each.is_odd)

    @property
    def is_settled(self) -> bool:
        return all(wire.is_settled for wire in self.wires)

    def is_tappable(self, wire: WireBelief) -> bool:
        """Whether one of its wires may be offered as a tap."""
        chance = wire.probability_of(Function.DATA)
        return is_tappable(wire.function, wire.lack, chance, is_fused=self.point.kind == FUSE_BOX)

    def wire(self, pin: str) -> WireBelief:
        """The belief about one pin; KeyError names a pin that is not there."""
        return {wire.pin: wire for wire in self.wires}[pin]


def identify(
    points: Sequence[AccessPoint],
    *,
    arrangement: Arrangement | None = None,
    mistake_rate: float = MISTAKE_RATE,
    not_fitted: frozenset[Control] = frozenset(),
) -> tuple[Belief, ...]:
    """Weigh the readings at all access points of one vehicle.

    Parameters
    ----------
    points : sequence of AccessPoint
        Of one vehicle: they share the arrangement.
    arrangement : Arrangement, optional
        When it is known.
    mistake_rate : float
        Share of readings that are mistakes [-].
    not_fitted : frozenset of Control
        What the vehicle lacks: what needs it is not there.

    Returns
    -------
    tuple of Belief
        One for each access point, in order.
    """
    facts = (arrangement, mistake_rate, not_fitted)
    found, weighed = _believe(points, *facts)
    slips = [
        families_of(belief.point, belief.suspected, partial(own.gain, mistake_rate=mistake_rate))
        for belief, own in zip(found, weighed, strict=True)
    ]
    if not any(slips):
        return found
    again, _ = _believe([without(point, its) for point, its in zip(points, slips, strict=True)], *facts)
    return tuple(_told(*each) for each in zip(again, points, slips, strict=True))


def _told(belief: Belief, point: AccessPoint, families: tuple[Family, ...]) -> Belief:
    """A belief from what was left of the readings, with the slips that spoilt the others: none of their wires is
    settled before its state was set again."""
    spoilt = {pin for family in families for pin in family.pins}
    wires = tuple(replace(wire, lack=Lack.ODD) if wire.pin in spoilt else wire for wire in belief.wires)
    return replace(belief, point=point, wires=wires, families=families)


def _believe(
    points: Sequence[AccessPoint],
    arrangement: Arrangement | None,
    mistake_rate: float,
    not_fitted: frozenset[Control],
) -> tuple[tuple[Belief, ...], list[_Weighed]]:
    claimed = _weigh_all(points, arrangement, mistake_rate, not_fitted)
    plain = [_without_claims(point) for point in points]
    unclaimed = claimed if plain == list(points) else _weigh_all(plain, arrangement, mistake_rate, not_fitted)
    beliefs = (_conclude(*each, not_fitted) for each in zip(points, claimed, unclaimed, strict=True))
    return tuple(beliefs), claimed


def _without_claims(point: AccessPoint) -> AccessPoint:
    """An access point of which nobody says anything, a plug's standard included."""
    kind = UNCLAIMED_KIND if pin_out(point.kind) else point.kind
    is_whole = True if kind != point.kind else point.all_wires
    wires = tuple(replace(wire, claims=()) for wire in point.wires)
    return replace(point, kind=kind, wires=wires, all_wires=is_whole)


@dataclass(frozen=True)
class _Weighed:
    """One access point weighed: its readings by pin, hypothesis probabilities per world and wire, worlds."""

    readings: Mapping[str, Readings]
    by_hypothesis: Array
    worlds: Array
    pins: tuple[str, ...]

    @property
    def marginals(self) -> Array:
        return np.asarray(np.einsum("g,gwh->wh", self.worlds, self.by_hypothesis))

    def gain(self, noted: Evidence, instead: Evidence, *, mistake_rate: float) -> float:
        """By how much likelier a wire's readings are with another one in place of one of them, as a logarithm [-]."""
        own = self.readings[noted.pin]
        at = own.evidence.index(noted)
        _, likelihood, mistaken = row_of(instead)
        other = allowing_mistakes(likelihood, mistaken, mistake_rate)
        belief = self.worlds[:, None] * self.by_hypothesis[:, self.pins.index(noted.pin)]
        return float(np.log((belief * other / own.likelihood[at]).sum()))


def _weigh_all(
    points: Sequence[AccessPoint],
    arrangement: Arrangement | None,
    mistake_rate: float,
    not_fitted: frozenset[Control],
) -> list[_Weighed]:
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
        _Weighed(
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
        for claim in _claims(point, wire):
            log_like[:, w, FUNCTIONS.index(claim.function) == FUNCTION_OF] += np.log(claim.factor)
    for pin in _bus_pairs(point):
        w = [wire.pin for wire in point.wires].index(pin)
        log_like[:, w, FUNCTIONS.index(Function.DATA) == FUNCTION_OF] += np.log(BUS_PAIR_FACTOR)
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


def _claims(point: AccessPoint, wire: Wire) -> tuple[Claim, ...]:
    """What is claimed of a wire, the standard pin-out of its plug first."""
    standard = [Claim(pin.function, Origin.PIN_OUT) for pin in pin_out(point.kind) if pin.pin == wire.pin]
    return (*standard, *wire.claims)


def _weigh_once(by_function: Array, priors: Array) -> Joint:
    """Weigh each world; worlds that nothing measured so far tells apart are weighed once."""
    first: dict[bytes, int] = {}
    same = [
        first.setdefault(like.tobytes() + prior.tobytes(), g)
        for g, (like, prior) in enumerate(zip(by_function, priors, strict=True))
    ]
    kept = sorted(set(same))
    joint = weigh_jointly(by_function[kept], priors[kept])
    place = [kept.index(g) for g in same]
    return Joint(joint.log_weight[place], joint.marginals[place])


def _conclude(
    point: AccessPoint,
    claimed: _Weighed,
    unclaimed: _Weighed,
    not_fitted: frozenset[Control],
) -> Belief:
    worlds, by_hypothesis = claimed.worlds, claimed.by_hypothesis
    by_arrangement = {
        arrangement: float(sum(p for (s, _), p in zip(WORLDS, worlds, strict=True) if s.arrangement is arrangement))
        for arrangement in Arrangement
    }
    if not point.wires:
        return Belief(point, (), by_arrangement, by_hypothesis[0], by_hypothesis[0], worlds, not_fitted)
    marginals, plain = claimed.marginals, unclaimed.marginals
    by_function = marginals @ MEMBERSHIP
    likely = WORLDS[int(worlds.argmax())]
    prior = count_prior(point.kind, point.side, likely[0].arrangement, len(point.wires))
    chosen = most_probable(by_function, prior)
    wires: list[WireBelief] = []
    suspected: list[Contradiction] = []
    roads: list[BackFeed] = []
    for w, wire in enumerate(point.wires):
        own = claimed.readings.get(wire.pin)
        own = own.as_it_is(by_hypothesis[:, w], worlds) if own else None
        doubted = suspects(own, by_hypothesis[:, w], worlds) if own else []
        odd = [each for each in doubted if each.is_odd]
        suspected += doubted
        order = np.argsort(-by_function[w], kind="stable")
        polarity, _ = _polarity(marginals[w], int(chosen[w]))
        verdict = WireBelief(
            wire.pin,
            wire.colour,
            FUNCTIONS[chosen[w]],
            _likeliest_variant(marginals[w], int(chosen[w])),
            float(by_function[w, chosen[w]]),
            tuple(zip((FUNCTIONS[f] for f in order.tolist()), by_function[w, order].tolist(), strict=True)),
            Lack.NOTHING,
            weights(own, worlds, int(chosen[w])) if own else (),
            polarity,
            _claims(point, wire),
        )
        lack = Lack.ODD if odd else _lack(verdict, marginals[w], plain[w], likely)
        if own and lack is Lack.NOTHING:
            by_world = unclaimed.by_hypothesis[:, w]
            plain_own = unclaimed.readings[wire.pin].as_it_is(by_world, unclaimed.worlds)
            left = plain_own.without_a_cell(by_world, unclaimed.worlds, int(chosen[w]))
            if (left @ MEMBERSHIP)[chosen[w]] < LEAST_WITHOUT:
                plain[w], lack = left, Lack.CONFIRMATION
        wires.append(replace(verdict, lack=lack))
        roads += fed_back(verdict.function, verdict.variant, verdict.weights, likely, odd)
    shares = (by_arrangement, marginals, plain, worlds)
    return Belief(point, tuple(wires), *shares, not_fitted, tuple(roads), suspected=tuple(suspected))


def _lack(verdict: WireBelief, claimed: Array, unclaimed: Array, likely: tuple[Scenario, LampKind]) -> Lack:
    """What a verdict lacks to be settled, contradictions aside."""
    function = verdict.function
    chosen, needed = FUNCTIONS.index(function), least_sure(function)
    if _polarity(claimed, chosen)[1] < needed:
        return Lack.CHANCE
    is_claimed = any(claim.function is function for claim in verdict.claims)
    if _polarity(unclaimed, chosen)[1] < needed or (
        is_claimed and sum(weight.bits for weight in verdict.weights) < LEAST_OWN_BITS
    ):
        return Lack.OWN_READINGS
    evidence = [weight.evidence for weight in verdict.weights]
    if function is Function.DATA and not proves_bus(evidence):
        return Lack.BUS
    if function is not Function.DATA and (
        cost_of_error(function, _polarity(claimed, chosen)[1], verdict.ranked) > READING_COST
        or may_be_bus(evidence, lambda item: met(function, verdict.variant, item.setup, likely))
    ):
        return Lack.BUS
    if function is Function.GROUND and not proves_ground(evidence):
        return Lack.GROUND_PROOF
    return Lack.NOTHING


def _polarity(marginals: Array, chosen: int) -> tuple[Polarity, float]:
    """The likelier polarity of the chosen function, and the probability of both together [-]."""
    own = (marginals * (chosen == FUNCTION_OF)) @ OF_POLARITY
    likelier = int(own.argmax())
    return tuple(Polarity)[likelier], float(own[likelier])


OF_POLARITY = np.array([[polarity_of(variant) is each for each in Polarity] for _, variant, _ in HYPOTHESES], float)


def _likeliest_variant(marginals: Array, chosen: int) -> str:
    return HYPOTHESES[int(np.where(chosen == FUNCTION_OF, marginals, -1.0).argmax())][1]
