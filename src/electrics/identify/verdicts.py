"""The verdict on each wire: what it is, how sure that is, what it lacks to be settled, and which readings are odd."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, replace

import numpy as np
from numpy.typing import NDArray

from electrics.document.places import AccessPoint, Claim, Evidence
from electrics.identify.conditions import LampKind
from electrics.identify.explain import BackFeed, Contradiction, Weight, fed_back, met, suspects, weights
from electrics.identify.families import Family
from electrics.identify.kinds import FUSE_BOX, count_prior
from electrics.identify.likelihood import FUNCTION_OF, HYPOTHESES, MEMBERSHIP, WORLDS
from electrics.identify.live import seen_on
from electrics.identify.settle import (
    LEAST_WITHOUT,
    READING_COST,
    Lack,
    cost_of_error,
    is_tappable,
    least_sure,
    may_be_bus,
    proves_bus,
    proves_ground,
)
from electrics.identify.weighing import Weighed, claims_of
from electrics.inference.joint import most_probable
from electrics.reference.functions import Tap, kind_of
from electrics.signals import Scenario, polarity_of
from electrics.vocabulary import FUNCTIONS, Arrangement, Control, Function, Polarity

__all__ = ["Belief", "WireBelief", "conclude"]

Array = NDArray[np.float64]
LEAST_OWN_BITS = 1.0
"""What a wire's own readings must say for a function that was claimed of it: a claim settles nothing by itself."""


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
    def evidence(self) -> tuple[Evidence, ...]:
        """Its readings, as they are weighed."""
        return tuple(weight.evidence for weight in self.weights)

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
    by_world : ndarray (n_worlds, n_wires, n_hypotheses)
        The same in each world with every claim removed and every reading kept [-].
    worlds : ndarray (n_worlds,)
        Probability of each scenario with each kind of lamps, in the order of `WORLDS` [-].
    unclaimed_worlds : ndarray (n_worlds,)
        The same with every claim removed [-].
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
    by_world: Array
    worlds: Array
    unclaimed_worlds: Array
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


def conclude(
    point: AccessPoint,
    claimed: Weighed,
    unclaimed: Weighed,
    not_fitted: frozenset[Control],
) -> Belief:
    """The verdicts on all wires of an access point.

    Parameters
    ----------
    point : AccessPoint
    claimed, unclaimed : Weighed
        Its readings weighed with what is said of it, and without.
    not_fitted : frozenset of Control
        What the vehicle lacks.

    Returns
    -------
    Belief
    """
    worlds, by_hypothesis = claimed.worlds, claimed.by_hypothesis
    by_arrangement = _arrangements(worlds)
    if not point.wires:
        none = by_hypothesis[0]
        return Belief(point, (), by_arrangement, none, none, by_hypothesis, worlds, unclaimed.worlds, not_fitted)
    marginals, plain = claimed.marginals, unclaimed.marginals
    by_function = marginals @ MEMBERSHIP
    likely = WORLDS[int(worlds.argmax())]
    prior = count_prior(point.kind, point.side, likely[0].arrangement, len(point.wires))
    chosen = most_probable(by_function, prior)
    order = np.argsort(-by_function, axis=1, kind="stable")
    ranked = zip(order.tolist(), np.take_along_axis(by_function, order, axis=1).tolist(), strict=True)
    each = zip(point.wires, chosen.tolist(), ranked, _variants(marginals, chosen), strict=True)
    sides, plain_sides = _polarities(marginals, chosen), _polarities(plain, chosen)
    wires: list[WireBelief] = []
    suspected: list[Contradiction] = []
    roads: list[BackFeed] = []
    for w, (wire, function, (functions, shares), variant) in enumerate(each):
        own = claimed.readings.get(wire.pin)
        own = own.as_it_is(by_hypothesis[:, w], worlds) if own else None
        doubted = suspects(own, by_hypothesis[:, w], worlds) if own else []
        odd = [item for item in doubted if item.is_odd]
        suspected += doubted
        verdict = WireBelief(
            wire.pin,
            wire.colour,
            FUNCTIONS[function],
            variant,
            float(by_function[w, function]),
            tuple(zip(map(FUNCTIONS.__getitem__, functions), shares, strict=True)),
            Lack.NOTHING,
            weights(own, worlds, function) if own else (),
            tuple(Polarity)[int(sides[w].argmax())],
            claims_of(point, wire),
        )
        lack = Lack.ODD if odd else _lack(verdict, float(sides[w].max()), float(plain_sides[w].max()), likely)
        if own and lack is Lack.NOTHING:
            left = _without_a_cell(unclaimed, w, function)
            if (left @ MEMBERSHIP)[function] < LEAST_WITHOUT:
                plain[w], lack = left, Lack.CONFIRMATION
        wires.append(verdict if lack is Lack.NOTHING else replace(verdict, lack=lack))
        roads += fed_back(verdict.function, verdict.variant, verdict.weights, likely, odd)
    known = (by_arrangement, marginals, plain, unclaimed.by_hypothesis, worlds, unclaimed.worlds)
    return Belief(point, tuple(wires), *known, not_fitted, tuple(roads), suspected=tuple(suspected))


def _arrangements(worlds: Array) -> dict[Arrangement, float]:
    return {
        arrangement: float(sum(p for (s, _), p in zip(WORLDS, worlds, strict=True) if s.arrangement is arrangement))
        for arrangement in Arrangement
    }


def _without_a_cell(weighed: Weighed, w: int, function: int) -> Array:
    """What would be believed of a wire had the cell that does most for its verdict not been read (n_hypotheses,)."""
    belief, worlds = weighed.by_hypothesis[:, w], weighed.worlds
    own = weighed.readings[weighed.pins[w]].as_it_is(belief, worlds)
    return own.without_a_cell(belief, worlds, function)


def _lack(verdict: WireBelief, claimed: float, unclaimed: float, likely: tuple[Scenario, LampKind]) -> Lack:
    """What a verdict lacks to be settled, contradictions aside; with and without claims, it is so sure [-]."""
    function, needed = verdict.function, least_sure(verdict.function)
    if claimed < needed:
        return Lack.CHANCE
    is_claimed = any(claim.function is function for claim in verdict.claims)
    if unclaimed < needed or (is_claimed and sum(weight.bits for weight in verdict.weights) < LEAST_OWN_BITS):
        return Lack.OWN_READINGS
    evidence = verdict.evidence
    if function is Function.DATA and not proves_bus(evidence):
        return Lack.BUS
    if function is not Function.DATA and (
        cost_of_error(function, claimed, verdict.ranked) > READING_COST
        or may_be_bus(evidence, lambda item: met(function, verdict.variant, item.setup, likely))
    ):
        return Lack.BUS
    if function is Function.GROUND and not proves_ground(evidence):
        return Lack.GROUND_PROOF
    if kind_of(function).tap is Tap.YES and not seen_on(evidence, function, verdict.variant):
        return Lack.NEVER_ON
    return Lack.NOTHING


def _polarities(marginals: Array, chosen: NDArray[np.intp]) -> Array:
    """Probability of each wire's chosen function together with each polarity, (n_wires, n_polarities) [-]."""
    return np.asarray((marginals * (chosen[:, None] == FUNCTION_OF)) @ OF_POLARITY)


OF_POLARITY = np.array([[polarity_of(variant) is each for each in Polarity] for _, variant, _ in HYPOTHESES], float)


def _variants(marginals: Array, chosen: NDArray[np.intp]) -> list[str]:
    """The likeliest variant of each wire's chosen function."""
    likeliest = np.where(chosen[:, None] == FUNCTION_OF, marginals, -1.0).argmax(axis=1)
    return [HYPOTHESES[h][1] for h in likeliest.tolist()]
