"""Vehicles as they leave the factory: nothing is wrong with them, and lamps burn as lamps do."""

from __future__ import annotations

from itertools import combinations

import pytest

from electrics.circuit.elements import Flasher, Lamp
from electrics.circuit.findings import findings
from electrics.circuit.network import Network
from electrics.circuit.simulate import simulate
from electrics.design.states import TABLE_STATES
from electrics.document.vehicle import FlasherKind
from electrics.errors import FactError
from electrics.identify.belief import HYPOTHESES
from electrics.lighting.samples import SAMPLE_VEHICLES, sample_circuits
from electrics.lighting.truth import carried
from electrics.lighting.vehicle import Lamps, VehicleDescription, factory_circuit
from electrics.reference.bulbs import bulbs
from electrics.reference.functions import Tap, kind_of
from electrics.signals import Scenario, signal, variants
from electrics.vocabulary import FUNCTIONS, Arrangement, BrakeWithHazard, Function, parse_state
from electrics.ways.vehicles import node_of, vehicle_with
from vehicles import VEHICLES

SEPARATE = Scenario(Arrangement.SEPARATE)
LED_ON_BULB_COUNTER = VehicleDescription(
    scenario=SEPARATE, rear=Lamps.LED, front=Lamps.LED, flasher=FlasherKind.COMPUTER, counts_bulbs=True
)


@pytest.mark.parametrize("name", VEHICLES)
def test_a_whole_vehicle_has_no_finding(name):
    """No warning, no fast flash, no back-feed, no overload, no drain."""
    assert findings(simulate(factory_circuit(VEHICLES[name]).network, TABLE_STATES)) == ()


@pytest.mark.parametrize("arrangement", list(Arrangement))
@pytest.mark.parametrize("flasher", list(FlasherKind))
def test_filament_lamps_flash_within_60_to_120_a_minute(arrangement, flasher):
    """SAE J590 and UN R48."""
    counts = flasher is FlasherKind.COMPUTER
    vehicle = VehicleDescription(scenario=Scenario(arrangement), flasher=flasher, counts_bulbs=counts)
    found = simulate(factory_circuit(vehicle).network, ["left", "right", "hazard"])
    for state in ("left", "right", "hazard"):
        for rhythm in found.flash(state).values():
            assert 60 <= rhythm.per_minute <= 120, (flasher, state)
            assert 0.3 <= rhythm.duty <= 0.75


@pytest.mark.parametrize("system_v", [6, 12, 24])
def test_main_lamps_burn_at_more_than_half_and_never_over_rated_by_half(system_v):
    """Half a volt on the feed side costs a filament a tenth of its light or so (light V^3.4)."""
    vehicle = VehicleDescription(system_v=system_v, scenario=SEPARATE)
    point = simulate(factory_circuit(vehicle).network, ["brake"]).at("brake")
    for side in ("left", "right"):
        assert 0.6 < point.light(f"{side} stop lamp") < 1.5


def test_leds_on_a_computer_that_counts_bulbs_warn_and_flash_fast():
    """LED current looks like a dead bulb (common practice)."""
    rules = {finding.rule for finding in findings(simulate(factory_circuit(LED_ON_BULB_COUNTER).network, ["left"]))}
    assert {"outage_warning", "flash_rate"} <= rules


def test_a_dead_bulb_is_noticed():
    factory = factory_circuit(VehicleDescription(scenario=SEPARATE, flasher=FlasherKind.COMPUTER, counts_bulbs=True))
    lamp = factory.network["left rear turn lamp"]
    dead = Lamp(name=lamp.name, nodes=lamp.nodes, broken=True)
    found = findings(simulate(factory.network.with_changed(dead), ["left", "right"]))
    assert {(finding.rule, finding.state) for finding in found} == {
        ("outage_warning", "left"),
        ("flash_rate", "left"),
        ("dark_by_fault", "left"),
    }


def test_the_brake_lights_nothing_but_stop_lamps():
    """Nothing is lit with everything off; park lamps are dark while braking."""
    point = simulate(sample_circuits()["oxbow"], ["rest", "brake"])
    for (name, branch), light in point.light.items():
        assert light[0] < 1e-6, name
        assert (float(light[1]) > 0.1) == ("stop" in name or name == "trailer brakes"), (name, branch)


EXTRAS = [
    (function, variant)
    for function in FUNCTIONS
    if kind_of(function).tap is not Tap.NEVER
    for variant, _ in variants(function)
    if function not in (Function.BATTERY, Function.IGNITION, Function.DRL, Function.BRAKE_CONTROLLER)
]


@pytest.mark.parametrize("who", list(BrakeWithHazard))
@pytest.mark.parametrize("extra", EXTRAS, ids=lambda extra: " ".join(extra))
def test_any_lamp_circuit_can_be_added_and_carries_its_signal(extra, who):
    """As the signal tables of identification have it, in both arrangements."""
    for arrangement in Arrangement:
        scenario = Scenario(arrangement, who)
        factory = factory_circuit(VehicleDescription(scenario=scenario, extras=(extra,)))
        found = simulate(factory.network, TABLE_STATES)
        spot = factory.spots[f"extra: {extra[0]}"]
        assert findings(found) == ()
        for state in TABLE_STATES:
            assert carried(found, spot, state, 12.6) == signal(extra[0], state, scenario, extra[1]), str(state)


@pytest.mark.parametrize("who", list(BrakeWithHazard))
def test_combined_lamps_flash_over_the_brake_and_front_ones_are_blind_to_it(who):
    network = factory_circuit(VehicleDescription(scenario=Scenario(Arrangement.COMBINED, who))).network
    found = simulate(network, ["brake", "brake+left", "brake+hazard"])
    assert found.at("brake").light("left stop and turn lamp") > 0.5
    assert found.at("brake").light("left front turn lamp") < 1e-6
    assert found.at("brake+left", lit=False).light("left stop and turn lamp") < 0.01
    assert found.at("brake+left", lit=False).light("right stop and turn lamp") > 0.5
    steady = found.at("brake+hazard", lit=False).light("left stop and turn lamp") > 0.5
    assert steady is (who is BrakeWithHazard.BRAKE_WINS)
    assert found.at("brake+hazard", lit=False).light("left front turn lamp") < 0.01
    assert found.at("brake+hazard", lit=False).light("high stop lamp") > 0.5


def test_the_charging_voltage_comes_with_the_engine():
    found = simulate(sample_circuits()["skua"], ["key", "engine"])
    assert found.at("key").volts("bat") == pytest.approx(12.6, abs=0.1)
    assert found.at("engine").volts("bat") == pytest.approx(14.2, abs=0.1)


@pytest.mark.parametrize(
    ("wrong", "complaint"),
    [
        ({"system_v": 48}, "no vehicle system"),
        ({"drl": "always"}, "no daytime lamp"),
        ({"pilot": "three"}, "no pilot lamp"),
        ({"sides_apart": True, "pulsed_tail": True}, "not modelled"),
    ],
)
def test_a_vehicle_that_cannot_be_is_refused(wrong, complaint):
    with pytest.raises(FactError, match=complaint):
        VehicleDescription(**wrong)


def test_the_largest_sample_has_more_than_forty_elements():
    assert max(len(network.elements) for network in sample_circuits().values()) > 40
    assert set(SAMPLE_VEHICLES) <= set(sample_circuits())


CIRCUITS = [(function, variant) for function, variant, _ in HYPOTHESES]


@pytest.mark.parametrize("arrangement", list(Arrangement))
def test_every_pair_of_circuits_in_every_variant_can_be_on_one_vehicle(arrangement):
    """Two lamps of one function in two variants included: what was identified is tried as it is, never refused."""
    for first, second in combinations(CIRCUITS, 2):
        factory = vehicle_with(frozenset((first, second)), Scenario(arrangement))
        for function, variant in (first, second):
            if kind_of(function).tap is not Tap.NEVER:
                assert node_of(factory, function, variant), (first, second)


def test_daytime_lamps_that_burn_in_two_ways_carry_their_own_signals():
    found = [(Function.DRL, variant) for variant in ("key_dims", "engine", "key_drops_left")]
    factory = vehicle_with(frozenset(found), Scenario(Arrangement.SEPARATE))
    by_states = [parse_state(text) for text in ("rest", "key", "engine", "park", "engine+park", "left", "key+hazard")]
    simulation = simulate(factory.network, by_states)
    for function, variant in found:
        spot = next(each for each in factory.spots.values() if each.variant == variant)
        for state in by_states:
            scenario = factory.vehicle.scenario
            assert carried(simulation, spot, state, 13.5) == signal(function, state, scenario, variant), (
                variant,
                state,
            )


@pytest.mark.parametrize(("system_v", "bulb"), [(12, "P21W"), (12, "1156"), (24, "P21W 24 V")])
def test_bulbs_that_were_counted_are_on_the_circuit_and_are_what_the_flasher_waits_for(system_v, bulb):
    """The nominal current of each by its published row; a full set less half a bulb is common practice."""
    counted = ((Function.STOP, bulb, 2), (Function.TURN_LEFT, bulb, 3), (Function.TURN_RIGHT, bulb, 3))
    made = factory_circuit(VehicleDescription(system_v=system_v, bulbs=counted, in_pairs=True)).network
    row = bulbs()[bulb]
    lamps = {lamp.name: lamp for lamp in made.of(Lamp)}
    assert [name for name in lamps if "stop" in name] == ["left stop lamp", "right stop lamp"]
    left = [name for name in lamps if name.startswith("left") and "turn" in name]
    assert left == ["left front turn lamp", "left rear turn lamp", "left rear turn lamp, bulb 2"]
    assert all(lamps[name].rated_a == pytest.approx(row.nominal_a) for name in left)
    assert all(lamps[name].rated_v == pytest.approx(row.nominal_v) for name in left)
    (flasher,) = made.of(Flasher)
    assert (flasher.rated_a, flasher.threshold_a) == pytest.approx((3 * row.nominal_a, 2.5 * row.nominal_a))
    assert simulate(made, ["left"]).flash("left")["flasher"].word == "normal"
    without = Network(tuple(element for element in made.elements if element.name != "left rear turn lamp, bulb 2"))
    assert simulate(without, ["left"]).flash("left")["flasher"].word == "fast"
