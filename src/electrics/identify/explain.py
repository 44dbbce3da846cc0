"""What readings say of a verdict: how much each weighs, which are odd, which tell of a wrong road."""

from __future__ import annotations

from collections import Counter
from collections.abc import Iterator, Sequence
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from electrics.document.places import Evidence, Setup
from electrics.identify.conditions import LampKind, conditions
from electrics.identify.likelihood import MEMBERSHIP, Readings
from electrics.instruments.condition import FEED_OFF, Condition
from electrics.instruments.volts import FED_BACK
from electrics.signals import Scenario
from electrics.vocabulary import FUNCTIONS, Function

__all__ = ["BackFeed", "Contradiction", "Weight", "fed_back", "met", "suspects", "weights"]

Array = NDArray[np.float64]
ODD = 0.5
"""A reading that is more likely a mistake than not is a contradiction."""
SUSPECT = 0.1
"""One that is a mistake by this chance may be one of several that a single slip has spoilt [-]."""


@dataclass(frozen=True)
class Weight:
    """What one reading says about a verdict: bits for it against the other functions, all weighed alike [bit].

    Negative bits speak against the verdict.
    """

    evidence: Evidence
    bits: float


@dataclass(frozen=True)
class Contradiction:
    """A reading that is more likely a mistake than right, given everything else.

    Attributes
    ----------
    function : Function
        What all else says of this wire: the likeliest function if the reading is a mistake.
    chance_mistaken : float
        Probability that the reading is a mistake [-].
    was_repeated : bool
        Its cell was read twice already: a third time would tell nothing new.
    """

    evidence: Evidence
    function: Function
    chance_mistaken: float
    was_repeated: bool = False

    @property
    def is_odd(self) -> bool:
        """Whether it contradicts the rest, and is not only suspected."""
        return self.chance_mistaken > ODD


@dataclass(frozen=True)
class BackFeed:
    """A feed that is off and has voltage all the same: current comes by the wrong road.

    Attributes
    ----------
    function : Function
        What the wire is.
    share : float
        Of the supply that it reads [-].
    """

    evidence: Evidence
    function: Function
    share: float


def suspects(own: Readings, belief: Array, worlds: Array) -> list[Contradiction]:
    """Readings that may well be mistaken, unless a repeat of the same cell agrees with the rest.

    What all else says is the likeliest function given that the reading is a mistake.
    """
    share, in_worlds = own.mistaken_share, worlds[:, None] * belief
    chances = (share.reshape(len(share), -1) @ in_worlds.ravel()).tolist()
    if max(chances) <= SUSPECT:
        return []
    repeats = Counter(item.cell for item in own.evidence)
    confirmed = {
        item.cell
        for item, chance in zip(own.evidence, chances, strict=True)
        if chance <= ODD and repeats[item.cell] > 1
    }
    return [
        Contradiction(
            item,
            FUNCTIONS[int(((share[n] * in_worlds).sum(axis=0) @ MEMBERSHIP).argmax())],
            chance,
            repeats[item.cell] > 1,
        )
        for n, (item, chance) in enumerate(zip(own.evidence, chances, strict=True))
        if chance > SUSPECT and item.cell not in confirmed
    ]


def weights(own: Readings, worlds: Array, chosen: int) -> tuple[Weight, ...]:
    """Bits each reading gives the chosen function over the average of all others, in the likeliest world."""
    by_function = own.by_function[:, int(worlds.argmax())]
    others = (by_function.sum(axis=1) - by_function[:, chosen]) / (len(FUNCTIONS) - 1)
    bits = np.log2(by_function[:, chosen] / others)
    return tuple(map(Weight, own.evidence, bits.tolist()))


def fed_back(
    function: Function,
    variant: str,
    weights: Sequence[Weight],
    likely: tuple[Scenario, LampKind],
    odd: Sequence[Contradiction],
) -> Iterator[BackFeed]:
    """The readings of a feed that has voltage while it is off, and that are no mistake."""
    mistaken = {each.evidence for each in odd}
    for weight in weights:
        item = weight.evidence
        share = item.reading.low / item.supply_v
        if not FED_BACK[0] <= share <= FED_BACK[1] or not item.is_steady_volts or item in mistaken:
            continue
        if met(function, variant, item.setup, likely) in FEED_OFF and not item.setup.state.is_dead:
            yield BackFeed(item, function, share)


def met(function: Function, variant: str, setup: Setup, likely: tuple[Scenario, LampKind]) -> Condition:
    """What a verdict has the instrument meet in a set-up, in the likeliest world."""
    found = conditions(function, variant, setup.state, *likely, setup.load)
    return max(found, key=lambda item: item[1])[0]
