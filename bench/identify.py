"""How often Identify is right and how sure it may be, how many readings advice saves, how long a verdict takes."""

from __future__ import annotations

import math
import random
import statistics
import time
from collections.abc import Mapping
from dataclasses import dataclass, field, replace

from scipy.stats import beta

from bench.vehicles import LAMPS, SWAPPED, TrueAccessPoint, generate, measure
from electrics.document.places import AccessPoint, Claim, Evidence, Setup, Wire
from electrics.formats.reading_text import Reading, Word
from electrics.identify.belief import Belief, identify
from electrics.identify.families import Slip
from electrics.identify.kinds import access_kinds
from electrics.identify.plan import next_steps
from electrics.vocabulary import FUNCTIONS, Function, Instrument, parse_state

SEED = 20261124
GRIDS = 150
MANY_GRIDS = 400
"""Access points a row; and of rows whose share of right verdicts is a figure that is asked for."""
WALKS = 60
"""Access points a row where the advice is followed: each is weighed anew after every step."""
MANY_WALKS = 370, 300, 130
"""The same at one mistake in twenty, of lamps, all kinds and plugs: over four thousand settled verdicts."""
CONFIDENCE = 0.95
CLAIMED_WRONG = 0.4
MISSING = 0.35
_SINGLE = ("key", "engine", "low", "high", "fog_front")
MORE_STATES = (*_SINGLE, "brake+left", "brake+right", "brake+hazard", "brake+reverse", "park+left")
"""What makes a grid of ten columns one of twenty."""
ALL_KINDS = tuple(kind.id for kind in access_kinds())


@dataclass
class Score:
    """Verdicts against the truth; `sure` holds each verdict's probability and whether it was right."""

    sure: list[tuple[float, bool]] = field(default_factory=list)
    settled: int = 0
    wrong_settled: int = 0
    named: int = 0
    """Access points of which something was said to be odd."""

    def add(self, truth: TrueAccessPoint, belief: Belief) -> None:
        for wire, verdict in zip(truth.wires, belief.wires, strict=True):
            is_right = verdict.function is wire.function
            self.sure.append((verdict.probability, is_right))
            self.settled += verdict.is_settled
            self.wrong_settled += verdict.is_settled and not is_right

    @property
    def most_wrong(self) -> float:
        """Upper bound of the share of settled verdicts that are wrong [-]."""
        return upper_bound(self.wrong_settled, self.settled)

    @property
    def right(self) -> float:
        return sum(is_right for _, is_right in self.sure) / len(self.sure)

    @property
    def right_within(self) -> float:
        """Half the span in which that share lies with 95 % (normal) [-]."""
        return 1.96 * math.sqrt(self.right * (1.0 - self.right) / len(self.sure))

    @property
    def wrong_share(self) -> float:
        """Of the verdicts shown as settled, the share that is wrong [-]."""
        return self.wrong_settled / max(self.settled, 1)

    def between(self, low: float, high: float) -> tuple[float, int]:
        """Of the verdicts this sure, the share that is right [-], and how many there are."""
        inside = [is_right for sure, is_right in self.sure if low <= sure < high]
        return (sum(inside) / len(inside) if inside else float("nan")), len(inside)


def upper_bound(wrong: int, of: int) -> float:
    """The most that a share can be after `wrong` of so many, with `CONFIDENCE` (Clopper and Pearson) [-]."""
    return float(beta.ppf(CONFIDENCE, wrong + 1, of - wrong)) if wrong < of else 1.0


def lower_bound(wrong: int, of: int) -> float:
    """The least that it can be, likewise [-]."""
    return float(beta.ppf(1.0 - CONFIDENCE, wrong, of - wrong + 1)) if wrong else 0.0


def full_grids(
    mistakes: float,
    kinds: tuple[str, ...] = LAMPS,
    *,
    missing: float = 0.0,
    wrong_chart: bool = False,
    swapped: float = SWAPPED,
    slip: Slip | None = None,
    grids: int = GRIDS,
) -> Score:
    """Verdicts on whole grids: columns may be missing, claims of a chart wrong, plugs rewired, one column spoilt."""
    rng = random.Random(SEED)
    score = Score()
    for _ in range(grids):
        truth = generate(rng, kinds, swapped=swapped)
        grid = [setup for setup in truth.full_grid() if rng.random() >= missing]
        evidence = [measure(truth, wire, setup, rng, mistakes) for setup in grid for wire in truth.wires]
        if slip is not None:
            evidence = _spoilt(evidence, truth, slip, rng)
        claims = {
            wire.pin: (Claim(rng.choice(FUNCTIONS) if rng.random() < CLAIMED_WRONG else wire.function),)
            for wire in (truth.wires if wrong_chart else ())
        }
        belief = _believe(truth, evidence, claims)
        score.add(truth, belief)
        score.named += bool(belief.families or belief.contradictions)
    return score


def _spoilt(evidence: list[Evidence], truth: TrueAccessPoint, slip: Slip, rng: random.Random) -> list[Evidence]:
    """One column as a slip makes it: its control not on, the clip on the battery's plus, two pins for each other."""
    rest = parse_state("rest")
    measured = dict.fromkeys(item.setup for item in evidence)
    columns = [each for each in measured if each.instrument is Instrument.DMM and each.state != rest]
    column = rng.choice(columns)
    there = [item for item in evidence if item.setup == column]
    if slip is Slip.NOT_ON:
        instead = [replace(measure(truth, wire, Setup(rest), rng, 0.0), setup=column) for wire in truth.wires]
    elif slip is Slip.CLIP_ON_PLUS:
        instead = [replace(item, reading=_against_plus(item)) for item in there]
    else:
        one, other = rng.sample(range(len(there)), 2)
        instead = list(there)
        instead[one] = replace(there[one], reading=there[other].reading)
        instead[other] = replace(there[other], reading=there[one].reading)
    return [item for item in evidence if item.setup != column] + instead


def _against_plus(item: Evidence) -> Reading:
    reading = item.reading
    if reading.word is not None:
        return reading
    return replace(reading, low=reading.low - item.supply_v, high=reading.high - item.supply_v)


@dataclass(frozen=True)
class Walk:
    """Where following the advice led: the last verdicts, readings taken, the first settled verdict of each pin."""

    belief: Belief
    taken: int
    first_settled: Mapping[str, Function]

    def first_wrong(self, truth: TrueAccessPoint) -> int:
        """Wires whose first settled verdict was wrong: what it costs to stop there [-]."""
        return sum(self.first_settled.get(wire.pin, wire.function) is not wire.function for wire in truth.wires)


@dataclass(frozen=True)
class Advised:
    """Many walks: share of the full grid read [-], the last verdicts, how many first settled and wrong of these."""

    share: float
    score: Score
    first: int
    first_wrong: int


def by_advice(
    mistakes: float, kinds: tuple[str, ...] = LAMPS, *, swapped: float = SWAPPED, walks: int = WALKS
) -> Advised:
    """Following the advice on generated access points, stopping at its end or at each first settled verdict."""
    rng = random.Random(SEED + 1)
    shares, score, first, wrong = [], Score(), 0, 0
    for _ in range(walks):
        truth = generate(rng, kinds, swapped=swapped)
        walk = follow_advice(truth, rng, mistakes)
        shares.append(walk.taken / (len(truth.wires) * len(truth.full_grid())))
        score.add(truth, walk.belief)
        first += len(walk.first_settled)
        wrong += walk.first_wrong(truth)
    return Advised(statistics.mean(shares), score, first, wrong)


def follow_advice(truth: TrueAccessPoint, rng: random.Random, mistakes: float) -> Walk:
    """Measure what is advised until the advice ends; a cell counts at most twice."""
    evidence: dict[tuple[str, object], list[Evidence]] = {}
    taken, current = 0, None
    first: dict[str, Function] = {}
    belief = _believe(truth, [])
    while taken < 2 * len(truth.wires) * len(truth.full_grid()):
        steps = next_steps(belief, current=current, computer_fed=False, limit=1)
        if not steps:
            break
        current = steps[0].setup
        for wire in truth.wires:
            if wire.pin in steps[0].pins:
                read = measure(truth, wire, current, rng, mistakes)
                before = evidence.get((wire.pin, current), [])
                evidence[wire.pin, current] = [before[-1], read] if before and _agree(before[-1], read) else [read]
                taken += 1
        belief = _believe(truth, [item for cell in evidence.values() for item in cell])
        first = {wire.pin: wire.function for wire in belief.wires if wire.is_settled} | first
    return Walk(belief, taken, first)


def _agree(first: Evidence, second: Evidence) -> bool:
    """Whether a second reading of a cell says the same as the first, so that both count."""
    flashes = [item.reading.is_swing or item.reading.word is Word.FLASH for item in (first, second)]
    if any(flashes) or first.reading.word or second.reading.word:
        return all(flashes) or first.reading.word == second.reading.word
    low, high = sorted((abs(first.reading.low), abs(second.reading.low)))
    return high - low <= max(0.3, 0.3 * high)


def milliseconds_for(wires: int, states: int) -> tuple[float, float]:
    """Median time of one verdict, and of verdict with advice, one reading of a filled grid changed each time [ms]."""
    rng = random.Random(SEED + 2)
    truth = generate(rng)
    setups = [*truth.full_grid(), *(Setup(parse_state(state)) for state in MORE_STATES)][:states]
    point = AccessPoint(
        "large",
        tuple(Wire(str(n + 1)) for n in range(wires)),
        tuple(
            Evidence(str(n + 1), setup, e.reading, e.supply_v)
            for n in range(wires)
            for setup in setups
            for e in [measure(truth, truth.wires[n % len(truth.wires)], setup, rng, 0.02)]
        ),
    )
    verdicts, advised = [], []
    for n in range(15):
        changed = replace(point.evidence[n], supply_v=12.41 + 0.01 * n)
        point = replace(point, evidence=(*point.evidence[:n], changed, *point.evidence[n + 1 :]))
        start = time.perf_counter()
        (belief,) = identify([point])
        verdicts.append(time.perf_counter() - start)
        next_steps(belief)
        advised.append(time.perf_counter() - start)
    return 1e3 * statistics.median(verdicts), 1e3 * statistics.median(advised)


def _believe(
    truth: TrueAccessPoint, evidence: list[Evidence], claims: dict[str, tuple[Claim, ...]] | None = None
) -> Belief:
    empty = truth.empty()
    wires = tuple(Wire(wire.pin, "", (claims or {}).get(wire.pin, ())) for wire in empty.wires)
    point = AccessPoint(empty.name, wires, tuple(evidence), empty.kind, empty.side)
    (belief,) = identify([point], not_fitted=truth.not_fitted)
    return belief
