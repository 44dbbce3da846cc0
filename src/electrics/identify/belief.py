"""From readings to belief: what each wire of an access point is, how sure, and which reading is odd.

Every hypothesis is a function with its variant; every reading multiplies in its likelihood, mixed with a
rate of human mistakes so that one odd reading shifts belief and never makes anything impossible. Slips that spoilt
several readings of a state at once are told first, and their readings left out.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import replace
from functools import partial

from electrics.document.places import AccessPoint
from electrics.identify.explain import BackFeed, Contradiction
from electrics.identify.families import Family, families_of, without
from electrics.identify.kinds import UNCLAIMED_KIND, pin_out
from electrics.identify.likelihood import HYPOTHESES, SCENARIOS, WORLDS
from electrics.identify.settle import Lack
from electrics.identify.verdicts import Belief, WireBelief, conclude
from electrics.identify.weighing import Weighed, weigh_all
from electrics.vocabulary import Arrangement, Control

__all__ = [
    "HYPOTHESES",
    "MISTAKE_RATE",
    "SCENARIOS",
    "WORLDS",
    "BackFeed",
    "Belief",
    "Contradiction",
    "Lack",
    "WireBelief",
    "identify",
]

MISTAKE_RATE = 0.04
"""Share of readings taken on the wrong pin, with the control off or without contact (estimate)."""


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
        families_of(belief.point, belief.suspected, partial(own.gains, mistake_rate=mistake_rate))
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
) -> tuple[tuple[Belief, ...], list[Weighed]]:
    claimed = weigh_all(points, arrangement, mistake_rate, not_fitted)
    plain = [_without_claims(point) for point in points]
    unclaimed = claimed if plain == list(points) else weigh_all(plain, arrangement, mistake_rate, not_fitted)
    beliefs = (conclude(*each, not_fitted) for each in zip(points, claimed, unclaimed, strict=True))
    return tuple(beliefs), claimed


def _without_claims(point: AccessPoint) -> AccessPoint:
    """An access point of which nobody says anything, a plug's standard included."""
    kind = UNCLAIMED_KIND if pin_out(point.kind) else point.kind
    is_whole = True if kind != point.kind else point.all_wires
    wires = tuple(replace(wire, claims=()) for wire in point.wires)
    return replace(point, kind=kind, wires=wires, all_wires=is_whole)
