"""How likely a reading is under every hypothesis in every world.

A hypothesis is a function with its variant. A *world* is what the vehicle's lamps have in common: its scenario
(separate or combined, flash wins or brake wins) and their kind, filament or LED.
"""

from __future__ import annotations

from collections import Counter, defaultdict
from collections.abc import Iterator, Sequence
from dataclasses import dataclass, replace
from functools import cached_property, lru_cache
from math import log, pi, sqrt

import numpy as np
from numpy.typing import NDArray

from electrics.document.places import AccessPoint, Evidence, Setup
from electrics.formats.reading_text import Reading
from electrics.identify.conditions import LampKind, conditions
from electrics.identify.grounds import less_at_rest
from electrics.inference.evidence import allowing_mistakes, without_one
from electrics.instruments.condition import Condition
from electrics.instruments.every import PART_V, SOUND, SPREAD, VARYING_V, Lasting, meter_for, shown_in
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


AGAINST_GROUND = ((0.0, 1.0),)
"""Where the second pin of a reading lies when it is proven ground."""


def row_of(
    evidence: Evidence, potentials: tuple[tuple[float, float], ...] = AGAINST_GROUND, lasting: Lasting = SOUND
) -> Row:
    """A reading's likelihoods; `potentials` are the second pin's, relative to the battery, with weights."""
    mistaken = _mistaken(evidence.setup.instrument, evidence.reading, evidence.supply_v)
    if evidence.setup.instrument is not Instrument.DMM:
        lasting = SOUND
    if potentials is AGAINST_GROUND:
        return evidence, _likelihoods(evidence.setup, evidence.reading, evidence.supply_v, 0.0, lasting), mistaken
    likelihood = sum(
        weight * _likelihoods(evidence.setup, evidence.reading, evidence.supply_v, level, lasting)
        for level, weight in potentials
    )
    return evidence, np.asarray(likelihood), mistaken


Row = tuple[Evidence, Array, float]
"""A reading, its likelihood under every world and hypothesis, and under a mistake."""

TIRED_CHANCE = 0.02
"""How many feeds lose more than a tenth on the way: a corroded joint, a long thin wire (estimate)."""
TIRED = (0.5, 0.9)
"""What is left of the supply at the end of one [-]."""
GHOST_CHANCE = 0.1
"""How often what floats stands at one voltage, by damp or leakage, in every state (estimate)."""
GHOST = (0.03, 0.7)
"""Where, of the supply [-]."""
QUIET_CHANCE = 0.4
"""How often what floats shows nothing in any state (estimate)."""
PULSED_CHANCE = 0.9
"""How often a feed in pulses shows the same voltage each time it is on (estimate)."""
HELD_CHANCE = 0.5
"""How often a brake controller is read at one setting, so that it shows the same voltage each time (estimate)."""
LEAST_ALIKE = 2
"""Readings from which something is taken to last [-]."""
MOSTLY = 0.6
"""Share of the readings in question that must be alike for it [-]."""
ALIKE = 0.04
"""Readings of one lasting level lie within this of each other, of the supply [-]."""


@dataclass(frozen=True)
class Readings:
    """A wire's readings, with a rate of mistakes mixed in, and what may last through all of them.

    What follows from them alone is worked out once: the next reading is mostly another wire's.

    Attributes
    ----------
    evidence : tuple of Evidence
    likelihood : ndarray (n_readings, n_worlds, n_hypotheses)
        Of each reading, mistaken or not [-].
    mistaken : ndarray (n_readings, 1, 1)
        The mistaken part of it [-].
    counts : ndarray (n_readings, 1, 1)
        How much each counts: less than 1 where its cell was read more often than its instrument's `most_repeats` [-].
    lasting : tuple of (float, Readings)
        The same where something lasts through all of them, with the logarithm of its prior weight.
    """

    evidence: tuple[Evidence, ...]
    likelihood: Array
    mistaken: Array
    counts: Array
    lasting: tuple[tuple[float, Readings], ...] = ()

    @classmethod
    def of(cls, rows: Sequence[Row], mistake_rate: float) -> Readings:
        """From at least one row."""
        evidence, likelihood, mistaken = zip(*rows, strict=True)
        repeats = Counter(item.cell for item in evidence)
        most = [meter_for(item.setup.instrument).most_repeats for item in evidence]
        shares = [min(times / repeats[item.cell], 1.0) for times, item in zip(most, evidence, strict=True)]
        counts = np.array(shares)[:, None, None]
        by_mistake = np.array(mistaken)[:, None, None]
        either_way = allowing_mistakes(np.stack(likelihood), by_mistake, mistake_rate)
        return cls(evidence, either_way, mistake_rate * by_mistake, counts)

    def and_of(self, more: Readings) -> Readings:
        """These readings and others of the same wire, whose cells are others."""
        return Readings(
            self.evidence + more.evidence,
            np.concatenate((self.likelihood, more.likelihood)),
            np.concatenate((self.mistaken, more.mistaken)),
            np.concatenate((self.counts, more.counts)),
            tuple((prior, each.and_of(more)) for prior, each in self.lasting),
        )

    @cached_property
    def log_likelihood(self) -> Array:
        """Of all readings together, (n_worlds, n_hypotheses)."""
        found = self._log_sound
        for prior, each in self.lasting:
            found = np.logaddexp(found, prior + each.log_likelihood)
        return np.asarray(found)

    @cached_property
    def _log_sound(self) -> Array:
        """The same where nothing lasts."""
        return np.asarray((self.counts * np.log(self.likelihood)).sum(axis=0))

    @cached_property
    def mistaken_share(self) -> Array:
        """What a mistake explains of each reading, (n_readings, n_worlds, n_hypotheses)."""
        return np.asarray(self.mistaken / self.likelihood)

    @cached_property
    def by_function(self) -> Array:
        """Of each reading under each function, (n_readings, n_worlds, n_functions)."""
        return np.asarray((self.likelihood * VARIANT_WEIGHT) @ MEMBERSHIP)

    @cached_property
    def _by_cell(self) -> Array:
        """Of the readings of each cell together, (n_cells, n_worlds, n_hypotheses)."""
        cells: dict[object, list[int]] = defaultdict(list)
        for n, item in enumerate(self.evidence):
            cells[item.cell].append(n)
        if len(cells) == len(self.evidence):
            return self.likelihood
        each = self.likelihood**self.counts
        return np.stack([each[places].prod(axis=0) for places in cells.values()])

    def as_it_is(self, belief: Array, worlds: Array) -> Readings:
        """These readings, or those with what lasts where that is likelier by now; arguments as below."""
        for prior, each in self.lasting:
            share = np.exp(np.minimum(prior + each.log_likelihood - self.log_likelihood, 0.0))
            if float(np.einsum("g,gh,gh->", worlds, belief, share)) > ODD_SHARE:
                return each
        return self

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
        of_cell = self._by_cell
        in_worlds = (worlds[:, None] * belief).ravel()
        left = without_one(in_worlds, of_cell.reshape(len(of_cell), -1)).reshape(of_cell.shape).sum(axis=1)
        return np.asarray(left[left[:, chosen == FUNCTION_OF].sum(axis=1).argmin()])


def _log_prior(chance: float, span: tuple[float, float]) -> float:
    """Logarithm of the chance that something lasts, and at just the level that the readings show."""
    return log(chance * SPREAD * sqrt(2 * pi) / (span[1] - span[0]))


LOG_TIRED = _log_prior(TIRED_CHANCE, TIRED)
LOG_GHOST = _log_prior(GHOST_CHANCE, GHOST)
LOG_PULSED = _log_prior(PULSED_CHANCE, PART_V)
LOG_HELD = _log_prior(HELD_CHANCE, VARYING_V)
LOG_QUIET = log(QUIET_CHANCE)
ODD_SHARE = 0.5


@lru_cache(maxsize=192)
def readings_of(evidence: tuple[Evidence, ...], mistake_rate: float) -> Readings:
    """A wire's readings against proven ground, at least one; and the same where they look as if something lasts."""
    weighed = list(zip(evidence, less_at_rest(evidence), strict=True))

    def readings(lasting: Lasting) -> Readings:
        rows = [(typed, *row_of(item, lasting=lasting)[1:]) for typed, item in weighed]
        return Readings.of(rows, mistake_rate)

    found = tuple((prior, readings(each)) for prior, each in _lasting(evidence))
    return replace(readings(SOUND), lasting=found)


def _lasting(evidence: Sequence[Evidence]) -> Iterator[tuple[float, Lasting]]:
    """What may last through some readings: a feed that sags to one level, and what floats at one."""
    shares = sorted(item.reading.low / item.supply_v for item in evidence if item.is_steady_volts)
    sag = _level([share for share in shares if TIRED[0] <= share <= TIRED[1]], 1.0)
    if sag is not None:
        yield LOG_TIRED, Lasting(sag=sag)
    part = _level([share for share in shares if PART_V[0] <= share <= PART_V[1]], MOSTLY)
    if part is not None:
        yield LOG_PULSED, Lasting(part=part)
    held = sag if sag is not None else part
    if held is not None:
        yield LOG_HELD, Lasting(varying=held)
    level = _level([share for share in shares if abs(share) < GHOST[1]], MOSTLY)
    if level is not None:
        is_quiet = level < GHOST[0]
        yield LOG_QUIET if is_quiet else LOG_GHOST, Lasting(ghost=0.0 if is_quiet else level)


def _level(shares: Sequence[float], least: float) -> float | None:
    """The level that at least this share of some readings have in common, rounded [-]; None for none."""
    if len(shares) < LEAST_ALIKE:
        return None
    middle = shares[len(shares) // 2]
    alike = sum(abs(share - middle) <= ALIKE / 2 for share in shares)
    return round(middle, 2) if alike >= max(LEAST_ALIKE, least * len(shares)) else None


@lru_cache(maxsize=16384)
def _mistaken(instrument: Instrument, reading: Reading, supply_v: float) -> float:
    """Likelihood of a reading that is a mistake [-]."""
    meter = meter_for(instrument)
    if not meter.is_evidence:
        return 1.0
    return meter.likelihood(reading, meter.mistaken(supply_v), supply_v)


@lru_cache(maxsize=16384)
def _likelihoods(setup: Setup, reading: Reading, supply_v: float, shift: float, lasting: Lasting = SOUND) -> Array:
    """Likelihood of a reading under every world and hypothesis, (n_worlds, n_hypotheses) [-]."""
    meter = meter_for(setup.instrument)
    if not meter.is_evidence:
        return np.ones((len(WORLDS), len(HYPOTHESES)))
    found, place = _met(setup)
    shown = (shown_in(setup.instrument, where, supply_v, lasting) for where in found)
    return np.array([meter.likelihood(reading, each, supply_v, shift) for each in shown])[place]


@lru_cache(maxsize=512)
def _met(setup: Setup) -> tuple[tuple[tuple[tuple[Condition, float], ...], ...], NDArray[np.intp]]:
    """What the instrument may meet in a set-up, and which of it under every world and hypothesis."""
    found: dict[tuple[tuple[Condition, float], ...], int] = {}
    place = [
        found.setdefault(conditions(function, variant, setup.state, scenario, lamps, setup.load), len(found))
        for scenario, lamps in WORLDS
        for function, variant, _ in HYPOTHESES
    ]
    return tuple(found), np.array(place).reshape(len(WORLDS), len(HYPOTHESES))


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
