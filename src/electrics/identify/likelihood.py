"""How likely a reading is under every hypothesis in every world.

A hypothesis is a function with its variant. A *world* is what the vehicle's lamps have in common: its scenario
(separate or combined, flash wins or brake wins) and their kind, filament or LED.
"""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Sequence
from dataclasses import dataclass
from functools import lru_cache

import numpy as np
from numpy.typing import NDArray

from electrics.formats.reading_text import Reading
from electrics.identify.conditions import Condition, LampKind, conditions
from electrics.identify.facts import AccessPoint, Evidence, Setup
from electrics.identify.instruments import meter_for, shown_in
from electrics.inference.evidence import allowing_mistakes, without_one
from electrics.signals import Scenario, variants
from electrics.vocabulary import FUNCTIONS, Arrangement, BrakeWithHazard, Function, Instrument

Array = NDArray[np.float64]

SCENARIOS: tuple[tuple[Scenario, float], ...] = (
    (Scenario(Arrangement.SEPARATE), 0.5),
    (Scenario(Arrangement.COMBINED, BrakeWithHazard.FLASH_WINS), 0.35),
    (Scenario(Arrangement.COMBINED, BrakeWithHazard.BRAKE_WINS), 0.15),
)
"""What a vehicle may be, with prior weights (estimate: even between the arrangements)."""

LAMP_KINDS: tuple[tuple[LampKind, float], ...] = ((LampKind.FILAMENT, 0.82), (LampKind.LED, 0.18))
"""What the lamps of an access point may be, with prior weights (estimate)."""

WORLDS: tuple[tuple[Scenario, LampKind], ...] = tuple(
    (scenario, lamps) for scenario, _ in SCENARIOS for lamps, _ in LAMP_KINDS
)

HYPOTHESES: tuple[tuple[Function, str, float], ...] = tuple(
    (function, variant, weight) for function in FUNCTIONS for variant, weight in variants(function)
)
FUNCTION_OF = np.array([FUNCTIONS.index(function) for function, _, _ in HYPOTHESES])
VARIANT_WEIGHT = np.array([weight for _, _, weight in HYPOTHESES])
MEMBERSHIP = (FUNCTION_OF[:, None] == np.arange(len(FUNCTIONS))).astype(float)


def row_of(evidence: Evidence, potentials: tuple[tuple[float, float], ...]) -> Row:
    """A reading's likelihoods; `potentials` are the second pin's, relative to the battery, with weights."""
    likelihood = sum(
        weight * _likelihoods(evidence.setup, evidence.reading, evidence.supply_v, level)
        for level, weight in potentials
    )
    mistaken = _mistaken(evidence.setup.instrument, evidence.reading, evidence.supply_v)
    return evidence, np.asarray(likelihood), mistaken


Row = tuple[Evidence, Array, float]
"""A reading, its likelihood under every world and hypothesis, and under a mistake."""


@dataclass(frozen=True)
class Readings:
    """A wire's readings, with a rate of mistakes mixed in.

    Attributes
    ----------
    evidence : tuple of Evidence
    likelihood : ndarray (n_readings, n_worlds, n_hypotheses)
        Of each reading, mistaken or not [-].
    mistaken : ndarray (n_readings, 1, 1)
        The mistaken part of it [-].
    """

    evidence: tuple[Evidence, ...]
    likelihood: Array
    mistaken: Array

    @classmethod
    def of(cls, rows: Sequence[Row], mistake_rate: float) -> Readings:
        """From at least one row."""
        evidence, likelihood, mistaken = zip(*rows, strict=True)
        by_mistake = np.array(mistaken)[:, None, None]
        either_way = allowing_mistakes(np.stack(likelihood), by_mistake, mistake_rate)
        return cls(evidence, either_way, mistake_rate * by_mistake)

    def without_a_cell(self, belief: Array, worlds: Array, chosen: int) -> Array:
        """What would be believed of the wire had the cell that does most for its verdict never been read.

        Parameters
        ----------
        belief : ndarray (n_worlds, n_hypotheses)
            Probability of each hypothesis in each world, given all readings [-].
        worlds : ndarray (n_worlds,)
            Probability of each world [-].
        chosen : int
            The verdict, by its place in `FUNCTIONS`.

        Returns
        -------
        ndarray (n_hypotheses,)
            Probabilities [-]; what the reading said of the other wires and of the vehicle is kept.
        """
        cells: dict[object, list[int]] = defaultdict(list)
        for n, item in enumerate(self.evidence):
            cells[item.cell].append(n)
        of_cell = self.likelihood
        if len(cells) < len(self.evidence):
            of_cell = np.stack([of_cell[places].prod(axis=0) for places in cells.values()])
        in_worlds = (worlds[:, None] * belief).ravel()
        left = without_one(in_worlds, of_cell.reshape(len(of_cell), -1)).reshape(of_cell.shape).sum(axis=1)
        return np.asarray(left[left[:, chosen == FUNCTION_OF].sum(axis=1).argmin()])


@lru_cache(maxsize=16384)
def _mistaken(instrument: Instrument, reading: Reading, supply_v: float) -> float:
    """Likelihood of a reading that is a mistake [-]."""
    meter = meter_for(instrument)
    if not meter.is_evidence:
        return 1.0
    return meter.likelihood(reading, meter.mistaken(supply_v), supply_v)


@lru_cache(maxsize=16384)
def _likelihoods(setup: Setup, reading: Reading, supply_v: float, shift: float) -> Array:
    """Likelihood of a reading under every world and hypothesis, (n_worlds, n_hypotheses) [-]."""
    meter = meter_for(setup.instrument)
    if not meter.is_evidence:
        return np.ones((len(WORLDS), len(HYPOTHESES)))
    known: dict[tuple[tuple[Condition, float], ...], float] = {}
    table = np.empty((len(WORLDS), len(HYPOTHESES)))
    for g, (scenario, lamps) in enumerate(WORLDS):
        for h, (function, variant, _) in enumerate(HYPOTHESES):
            where = conditions(function, variant, setup.state, scenario, lamps, setup.load)
            if where not in known:
                shown = shown_in(setup.instrument, where, supply_v)
                known[where] = meter.likelihood(reading, shown, supply_v, shift)
            table[g, h] = known[where]
    return table


def potential(point: AccessPoint, belief: Array, evidence: Evidence) -> tuple[tuple[float, float], ...]:
    """Where the second pin of a reading lies: at ground or at the battery, relative, with weights."""
    pins = [wire.pin for wire in point.wires]
    if evidence.against not in pins:
        return ((0.0, 1.0),)
    scenario, lamps = WORLDS[0]
    live = sum(
        probability
        for (function, variant, _), probability in zip(HYPOTHESES, belief[pins.index(evidence.against)], strict=True)
        if conditions(function, variant, evidence.setup.state, scenario, lamps, evidence.setup.load)[0][0]
        in (Condition.BATTERY, Condition.CHARGING)
    )
    return ((0.0, 1.0 - live), (1.0, live))
