"""How often Identify is right, how many readings its advice saves, and how long a verdict takes."""

from __future__ import annotations

import random
import statistics
import time

from bench.vehicles import TrueAccessPoint, generate, measure
from electrics.identify.belief import AccessPoint, Belief, Evidence, identify
from electrics.identify.plan import next_steps

SEED = 20261124
GRIDS = 200


def share_right(mistakes: float) -> tuple[float, float, int]:
    """Share of wires right on full grids, share of settled verdicts that are wrong, number of wires."""
    rng = random.Random(SEED)
    right = settled = wrong_settled = wires = 0
    for _ in range(GRIDS):
        truth = generate(rng)
        evidence = [measure(truth, wire, setup, rng, mistakes) for setup in truth.full_grid() for wire in truth.wires]
        belief = _believe(truth, evidence)
        for wire, verdict in zip(truth.wires, belief.wires, strict=True):
            wires += 1
            right += verdict.function is wire.function
            settled += verdict.is_settled
            wrong_settled += verdict.is_settled and verdict.function is not wire.function
    return right / wires, wrong_settled / max(settled, 1), wires


def share_used(mistakes: float) -> tuple[float, float, float]:
    """Following the advice: readings as a share of the full grid, wires right, wires settled."""
    rng = random.Random(SEED + 1)
    shares, right, settled, wires = [], 0, 0, 0
    for _ in range(GRIDS):
        truth = generate(rng)
        evidence: dict[tuple[str, object], Evidence] = {}
        taken = 0
        belief = _believe(truth, [])
        current = None
        full = len(truth.wires) * len(truth.full_grid())
        while taken < 2 * full:
            steps = next_steps(belief, current=current, computer_fed=False, limit=1)
            if not steps:
                break
            current = steps[0].setup
            for pin in steps[0].pins:
                wire = next(w for w in truth.wires if w.pin == pin)
                evidence[pin, current] = measure(truth, wire, current, rng, mistakes)
                taken += 1
            belief = _believe(truth, list(evidence.values()))
        shares.append(taken / full)
        wires += len(truth.wires)
        settled += sum(verdict.is_settled for verdict in belief.wires)
        right += sum(v.function is w.function for v, w in zip(belief.wires, truth.wires, strict=True))
    return statistics.mean(shares), right / wires, settled / wires


def milliseconds_for(wires: int, states: int) -> tuple[float, float]:
    """Median time of one verdict, and of verdict with advice, for a fresh reading in a filled grid [ms]."""
    rng = random.Random(SEED + 2)
    truth = generate(rng)
    pins = [truth.wires[n % len(truth.wires)] for n in range(wires)]
    setups = truth.full_grid() * (states // 10)
    point = AccessPoint(
        "large",
        tuple(AccessPoint("", ()).wires) + tuple(type(truth.empty().wires[0])(str(n + 1)) for n in range(wires)),
        tuple(
            Evidence(str(n + 1), setup, e.reading, e.supply_v)
            for n, wire in enumerate(pins)
            for setup in setups
            for e in [measure(truth, wire, setup, rng, 0.02)]
        ),
    )
    verdicts, advised = [], []
    for _ in range(15):
        start = time.perf_counter()
        (belief,) = identify([point])
        verdicts.append(time.perf_counter() - start)
        next_steps(belief)
        advised.append(time.perf_counter() - start)
    return 1e3 * statistics.median(verdicts), 1e3 * statistics.median(advised)


def _believe(truth: TrueAccessPoint, evidence: list[Evidence]) -> Belief:
    empty = truth.empty()
    (belief,) = identify([AccessPoint(empty.name, empty.wires, tuple(evidence), empty.kind, empty.side)])
    return belief
