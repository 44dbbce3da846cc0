"""The two hearts do not drift apart: what the circuit carries is what identification reckons with, in every state."""

from __future__ import annotations

import pytest

from electrics.circuit.simulate import simulate
from electrics.hookup.taps import TABLE_STATES
from electrics.identify.setups import STATES
from electrics.lighting.truth import carried
from electrics.lighting.vehicle import FlasherKind, Lamps, Vehicle, factory_circuit
from electrics.signals import GROUND_SWITCHED, Scenario, signal, variants
from electrics.vocabulary import FUNCTIONS, Arrangement, BrakeWithHazard, Control, Function, parse_state

ALL_STATES = tuple(dict.fromkeys([*map(parse_state, STATES), *TABLE_STATES, parse_state("brake+park+hazard")]))
SEPARATE = Scenario(Arrangement.SEPARATE)
FLASH, BRAKE = (Scenario(Arrangement.COMBINED, who) for who in BrakeWithHazard)
VEHICLES = {
    "separate": Vehicle(scenario=SEPARATE, has_fogs=True, has_trailer_socket=True, drl="key"),
    "separate, LED": Vehicle(
        scenario=SEPARATE, rear=Lamps.LED, front=Lamps.LED, flasher=FlasherKind.FIXED, low_stays=True
    ),
    "separate, sides apart": Vehicle(scenario=SEPARATE, sides_apart=True, drl="key_dims", has_side_markers=True),
    "separate by computer": Vehicle(scenario=SEPARATE, flasher=FlasherKind.COMPUTER),
    "separate, pulsed tail": Vehicle(scenario=SEPARATE, pulsed_tail=True, drl="engine", pilot="two"),
    "separate, one wire": Vehicle(scenario=SEPARATE, one_wire=True, drl="engine_dims"),
    "separate, ground-switched": Vehicle(scenario=SEPARATE, ground_switched_stop=True, has_front=False, pilot="one"),
    "combined, flash wins": Vehicle(scenario=FLASH),
    "combined, brake wins": Vehicle(scenario=BRAKE),
    "combined, LED": Vehicle(scenario=FLASH, rear=Lamps.LED, front=Lamps.LED, flasher=FlasherKind.FIXED),
    "combined by computer": Vehicle(scenario=BRAKE, flasher=FlasherKind.COMPUTER, counts_bulbs=True),
    "combined, one wire, flash wins": Vehicle(scenario=FLASH, one_wire=True),
    "combined, one wire, brake wins": Vehicle(scenario=BRAKE, one_wire=True),
    "6 V, bimetal": Vehicle(system_v=6, scenario=SEPARATE, flasher=FlasherKind.BIMETAL),
    "24 V": Vehicle(system_v=24, scenario=SEPARATE, has_trailer_socket=True),
}


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
    assert {function for function, _ in built} == set(FUNCTIONS)
    for function in set(FUNCTIONS) - {Function.DATA, Function.DEAD_FEED}:
        for variant, _ in variants(function):
            assert variant == GROUND_SWITCHED or (function, variant) in built, (function, variant)
    assert (Function.STOP, GROUND_SWITCHED) in built
