"""The engine against generated vehicles: lamps from physics, readings from habit (bench/vehicles.py).

A small, fixed sample of what `make bench` measures at length; the limits lie a little below the targets so that
only a real loss fails.
"""

from __future__ import annotations

import random

import pytest
from bench.identify import follow_advice
from bench.vehicles import generate, measure

from electrics.document.places import AccessPoint
from electrics.identify.belief import identify


def believe(truth, evidence):
    empty = truth.empty()
    return identify([AccessPoint(empty.name, empty.wires, tuple(evidence), empty.kind, empty.side)])[0]


@pytest.mark.parametrize(("mistakes", "wanted"), [(0.0, 0.98), (0.05, 0.95)])
def test_full_grids_are_read_right(mistakes, wanted):
    rng = random.Random(4711)
    right = wires = wrong_settled = 0
    for _ in range(120):
        truth = generate(rng)
        evidence = [measure(truth, w, s, rng, mistakes) for s in truth.full_grid() for w in truth.wires]
        for wire, verdict in zip(truth.wires, believe(truth, evidence).wires, strict=True):
            wires += 1
            right += verdict.function is wire.function
            wrong_settled += verdict.is_settled and verdict.function is not wire.function
    assert right / wires >= wanted
    assert wrong_settled / wires <= 0.005 + 2 * (0.005 / wires) ** 0.5, "one in 200, and twice the spread of a sample"


def test_advice_ends_and_needs_less_than_half_the_grid():
    rng = random.Random(815)
    used, grid = 0, 0
    for _ in range(15):
        truth = generate(rng)
        full = len(truth.wires) * len(truth.full_grid())
        taken = follow_advice(truth, rng, 0.0).taken
        assert taken < 2 * full, "the advice does not end"
        used, grid = used + taken, grid + full
    assert used / grid < 0.5
