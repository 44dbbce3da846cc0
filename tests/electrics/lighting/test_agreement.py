"""The two hearts do not drift apart: what the circuit carries is what identification reckons with, in every state."""

from __future__ import annotations

import pytest

from electrics.circuit.simulate import simulate
from electrics.design.states import TABLE_STATES
from electrics.identify.setups import STATES
from electrics.lighting.truth import carried
from electrics.lighting.vehicle import factory_circuit
from electrics.reference.functions import functions_needing
from electrics.signals import GROUND_SWITCHED, signal, variants
from electrics.vocabulary import FUNCTIONS, Control, Function, parse_state
from vehicles import VEHICLES

ALL_STATES = tuple(dict.fromkeys([*map(parse_state, STATES), *TABLE_STATES, parse_state("brake+park+hazard")]))


@pytest.mark.parametrize("name", VEHICLES)
def test_every_point_carries_its_signal_in_every_state(name):
    vehicle = VEHICLES[name]
    factory = factory_circuit(vehicle)
    found = simulate(factory.network, ALL_STATES)
    assert found.chatter == ()
    assert found.solution.settled.all()
    for place, spot in factory.spots.items():
        for state in ALL_STATES:
            supply_v = (14.2 if state.on(Control.ENGINE) else 12.6) * vehicle.system_v / 12
            got = carried(found, spot, state, supply_v)
            assert got == signal(spot.function, state, vehicle.scenario, spot.variant), f"{place} in {state}"


def test_every_function_and_variant_is_built_somewhere():
    """A single-wire or slow bus, a small dead feed and ground-switched lamps but one differ in nothing that is solved."""
    built = {(spot.function, spot.variant) for v in VEHICLES.values() for spot in factory_circuit(v).spots.values()}
    with_trailer = functions_needing(Control.TRAILER)  # a factory circuit has no trailer on
    assert {function for function, _ in built} == set(FUNCTIONS) - with_trailer
    for function in set(FUNCTIONS) - {Function.DATA, Function.DEAD_FEED} - with_trailer:
        for variant, _ in variants(function):
            assert variant == GROUND_SWITCHED or (function, variant) in built, (function, variant)
    assert (Function.STOP, GROUND_SWITCHED) in built
