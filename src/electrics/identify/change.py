"""What would change a verdict: the one reading not taken yet that would speak loudest for its rival."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass

import numpy as np

from electrics.document.places import Setup
from electrics.formats.reading_text import Word
from electrics.identify.belief import Belief
from electrics.identify.setups import dead_pins, effort_of, per_function, pins_done, possible_setups
from electrics.identify.tools import EVERY_TOOL
from electrics.instruments.every import meter_for
from electrics.vocabulary import FUNCTIONS, Function, Instrument

__all__ = ["WhatChanges", "what_would_change"]


@dataclass(frozen=True)
class WhatChanges:
    """The one reading that would most change a verdict.

    Attributes
    ----------
    rival : Function
        What the wire would then more likely be.
    low, high : float
        Where the number would fall, on the instrument's axis; meaningless when `swings` or `word` is set.
    bits : float
        Expected weight for the rival against the verdict, if it is the rival [bit].
    """

    setup: Setup
    rival: Function
    low: float
    high: float
    swings: bool
    word: Word | None
    bits: float


LEAST_BITS = 1.0
"""A reading that tells less than this between verdict and rival would change nothing."""

CHANGE_EFFORT_BITS = 0.25
"""How many bits a unit of effort must bring, when a single reading is looked for that could change a verdict."""


def what_would_change(
    belief: Belief, *, computer_fed: bool = True, tools: frozenset[str] = EVERY_TOOL
) -> Mapping[str, WhatChanges]:
    """For each wire, the reading not taken yet that would speak loudest for the verdict's rival.

    Parameters
    ----------
    belief : Belief
    computer_fed : bool
    tools : frozenset of str
        As for `plan.next_steps`.

    Returns
    -------
    mapping of str to WhatChanges
        By pin; a wire whose two likeliest functions no reading parts is not there.
    """
    found: dict[str, tuple[float, WhatChanges]] = {}
    if not belief.wires:
        return {}
    done, dead = pins_done(belief), dead_pins(belief)
    verdicts = [FUNCTIONS.index(wire.function) for wire in belief.wires]
    rivals = [FUNCTIONS.index(wire.rival[0]) for wire in belief.wires]
    for setup in possible_setups(belief.point, computer_fed, belief.not_fitted, tools):
        _, given = per_function(belief, range(len(belief.wires)), setup)
        told = given[rivals] * np.log2(given[rivals] / np.maximum(given[verdicts], 1e-300))
        effort = CHANGE_EFFORT_BITS * effort_of(setup, None, solo=False)
        for wire, by_outcome in zip(belief.wires, told, strict=True):
            if wire.pin in done.get(setup, ()) or (setup.instrument is Instrument.OHMS and wire.pin not in dead):
                continue
            bits = float(by_outcome.sum())
            if bits >= LEAST_BITS and (wire.pin not in found or bits - effort > found[wire.pin][0]):
                found[wire.pin] = bits - effort, _change(setup, wire.rival[0], int(by_outcome.argmax()), bits)
    return {pin: change for pin, (_, change) in found.items()}


def _change(setup: Setup, rival: Function, outcome: int, bits: float) -> WhatChanges:
    edges = meter_for(setup.instrument).edges
    if outcome <= len(edges):
        low = edges[outcome - 1] if outcome else -np.inf
        high = edges[outcome] if outcome < len(edges) else np.inf
        return WhatChanges(setup, rival, float(low), float(high), False, None, bits)
    words = tuple(Word)
    place = outcome - len(edges) - 2
    return WhatChanges(setup, rival, 0.0, 0.0, place < 0, words[place] if place >= 0 else None, bits)
