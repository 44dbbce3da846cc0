"""The advice does not end while a wire that could be settled is not."""

from __future__ import annotations

import random

import pytest
from bench.identify import follow_advice
from bench.vehicles import LAMPS, TrueAccessPoint, TrueWire, generate

from electrics.document.places import Side
from electrics.identify.belief import Lack
from electrics.identify.settle import least_sure
from electrics.identify.setups import open_wires, per_function, pins_done, possible_setups
from electrics.signals import Scenario
from electrics.vocabulary import FUNCTIONS, Arrangement, Function, Instrument

REAR = (Function.GROUND, Function.TAIL, Function.STOP, Function.TURN_LEFT, Function.REVERSE)


@pytest.mark.parametrize("supply_v", [12.6, 25.2])
def test_a_plain_rear_lamp_is_settled_whole(supply_v):
    """A turn wire that was only seen flashing is as well one that is switched by ground: all off tells."""
    wires = tuple(TrueWire(str(n), each, "plain", False, 0.05, 0.01) for n, each in enumerate(REAR, start=1))
    truth = TrueAccessPoint("rear_lamp", Side.LEFT, Scenario(Arrangement.SEPARATE), wires, supply_v)
    for seed in range(4):
        walk = follow_advice(truth, random.Random(seed), 0.0)
        assert [wire.lack for wire in walk.belief.wires] == [Lack.NOTHING] * len(wires)
        assert [wire.function for wire in walk.belief.wires] == list(REAR)


def test_no_verdict_that_is_sure_is_left_hanging_on_a_reading_that_nobody_asked_for():
    rng = random.Random(5)
    sure = hanging = 0
    for _ in range(25):
        truth = generate(rng, LAMPS)
        for wire in follow_advice(truth, rng, 0.0).belief.wires:
            if wire.probability >= least_sure(wire.function):
                sure += 1
                hanging += wire.lack in (Lack.CHANCE, Lack.CONFIRMATION)
    assert sure > 90
    assert hanging / sure <= 0.02


def test_where_it_stops_asking_nothing_left_would_make_a_verdict_twice_as_sure():
    """Tried on every set-up that was not used: what the verdict would show there, if it is right."""
    rng = random.Random(11)
    for _ in range(12):
        belief = follow_advice(generate(rng, LAMPS), rng, 0.0).belief
        done = pins_done(belief)
        for w in open_wires(belief):
            wire = belief.wires[w]
            if wire.lack is not Lack.CHANCE:
                continue
            verdict = FUNCTIONS.index(wire.function)
            for setup in possible_setups(belief.point, False, belief.not_fitted):
                if wire.pin in done.get(setup, ()) or setup.instrument is Instrument.OHMS:
                    continue
                (before,), given = per_function(belief, [w], setup)
                after = before * given[:, given[verdict].argmax()]
                odds, then = (each[verdict] / (each.sum() - each[verdict]) for each in (before, after))
                assert then < 2 * odds, f"{wire.function} at {wire.probability:.3f} would gain by {setup}"
