"""Faults and cures as a person meets them: each is a change of a circuit, and what is then seen and measured.

Facts of the trade (common practice, without source) unless a source stands beside the check.
"""

from __future__ import annotations

from dataclasses import replace

import pytest

from electrics.circuit.elements import (
    Battery,
    ComputerOutput,
    Converter,
    Diode,
    Flasher,
    Fuse,
    Ground,
    Joint,
    Lamp,
    Led,
    LedProbe,
    Meter,
    ProbeLamp,
    Relay,
    Resistor,
    Switch,
    Wire,
)
from electrics.circuit.findings import findings
from electrics.circuit.network import Network
from electrics.circuit.simulate import simulate
from electrics.document.vehicle import FlasherKind
from electrics.lighting.vehicle import Lamps, VehicleDescription, factory_circuit
from electrics.signals import Scenario
from electrics.vocabulary import Arrangement

SEPARATE = Scenario(Arrangement.SEPARATE)
BATTERY = Battery(name="B", nodes={"+": "bat", "-": "gnd"}, volts=13.5, resistance_ohm=0.01)


def switch(name, second, *controls, first="bat"):
    return Switch(name=name, nodes={"from": first, "to": second}, closed_with=controls)


def lamp(name, first, second="gnd", **values):
    return Lamp(name=name, nodes={"from": first, "to": second}, **values)


def led(name, first, second="gnd", **values):
    return Led(name=name, nodes={"from": first, "to": second}, **values)


def resistor(name, first, second="gnd", **values):
    return Resistor(name=name, nodes={"from": first, "to": second}, **values)


def at(state, *elements, lit=True):
    return simulate(Network((BATTERY, *elements)), [state]).at(state, lit=lit)


STOP = switch("S", "stop", "brake")


def added(joint="good", ground_open=False, turned=False, ground_ohm=0.01):
    """A factory stop lamp and an LED tapped on it over a joint, a run and a ground of its own."""
    ends = ("far_gnd", "led") if turned else ("led", "far_gnd")
    return (
        STOP,
        lamp("factory", "stop"),
        Joint(name="J", nodes={"from": "stop", "to": "tap"}, quality=joint),
        Wire(name="W", nodes={"from": "tap", "to": "led"}, length_m=4),
        led("added", *ends),
        Ground(name="G", nodes={"at": "far_gnd", "to": "gnd"}, open=ground_open, resistance_ohm=ground_ohm),
    )


@pytest.mark.parametrize(
    ("fault", "feed_v", "ground_v"),
    [
        ({"joint": "not_pierced"}, (-0.01, 0.5), (-0.01, 0.5)),
        ({"ground_open": True}, (13, 13.6), (-0.01, 14)),
        ({"turned": True}, (13, 13.6), (-0.01, 0.1)),
    ],
    ids=["tap that never pierced: 0 and 0", "open ground: battery on the feed", "LED turned round: battery and 0"],
)
def test_a_dead_added_lamp_is_told_apart_at_its_two_pins(fault, feed_v, ground_v):
    point = at("brake", *added(**fault))
    assert point.light("added") < 0.01
    assert point.light("factory") > 0.5
    assert feed_v[0] <= point.volts("led") <= feed_v[1]
    assert ground_v[0] <= point.volts("far_gnd") <= ground_v[1]


def test_a_sound_one_lights():
    assert at("brake", *added()).light("added") > 0.9


def test_a_corroded_joint_drops_more_with_more_load():
    """A drop that grows with load is a joint, not a pulsed feed."""
    drops = []
    for amps in (0.3, 2.0):
        run = (
            STOP,
            Joint(name="J", nodes={"from": "stop", "to": "tap"}, quality="corroded"),
            led("L", "tap", amps_a=amps),
        )
        point = at("brake", *run)
        drops.append(point.volts("stop") - point.volts("tap"))
    assert drops[1] > 4 * drops[0]


def test_a_bad_ground_makes_lamps_on_it_glow_through_each_other():
    lamps = (switch("P", "park", "park"), lamp("stop", "stop", "star"), lamp("tail", "park", "star", rated_a=0.42))
    bad = Ground(name="G", nodes={"at": "star", "to": "gnd"}, resistance_ohm=50.0)
    other = lamp("other tail", "park", rated_a=0.42)
    point = at("brake", STOP, *lamps, bad, other)
    assert point.volts("star") > 5
    assert point.amps("tail") < -0.1  # the stop lamp's current leaves through the tail
    assert point.light("stop") < 0.5


def test_tail_and_stop_leads_swapped_burn_bright_with_park_and_dim_with_brake():
    wires = (switch("P", "park", "park"), STOP, led("bright", "park", amps_a=0.3), led("dim", "stop", amps_a=0.05))
    assert at("park", *wires).amps("bright") > 4 * at("brake", *wires).amps("dim")


def test_a_turn_lamp_on_the_marker_wire_just_stays_lit():
    factory = factory_circuit(VehicleDescription(scenario=SEPARATE))
    network = factory.network.with_elements(led("mirror", "tail"))
    found = simulate(network, ["park+left"])
    assert found.at("park+left", lit=True).light("mirror") > 0.7
    assert found.at("park+left", lit=False).light("mirror") > 0.7


def test_a_turn_lamp_on_a_combined_feed_lights_under_braking():
    factory = factory_circuit(VehicleDescription(scenario=Scenario(Arrangement.COMBINED)))
    network = factory.network.with_elements(led("mirror", "stop_turn_left"))
    assert simulate(network, ["brake"]).at("brake").light("mirror") > 0.7


def test_a_marker_between_park_and_turn_loses_its_return_to_an_led_turn_bulb():
    """It lights through the cold turn filament; an LED turn bulb takes its return away."""
    for front, is_lit in ((Lamps.FILAMENT, True), (Lamps.LED, False)):
        vehicle = VehicleDescription(
            scenario=SEPARATE, front=front, rear=front, has_side_markers=True, flasher=FlasherKind.FIXED
        )
        factory = factory_circuit(vehicle)
        marker = factory.network["left side marker"]
        filament = Lamp(name=marker.name, nodes=marker.nodes, rated_v=14.0, rated_a=0.27, hot_k=2500.0)
        point = simulate(factory.network.with_changed(filament), ["park"]).at("park")
        assert (point.light("left side marker") > 0.3) is is_lit


def test_a_marker_between_goes_dark_while_its_turn_lamp_is_lit():
    factory = factory_circuit(VehicleDescription(scenario=SEPARATE, has_side_markers=True))
    found = simulate(factory.network, ["park+left"])
    assert found.at("park+left", lit=True).light("left side marker") < 0.05
    assert found.at("park+left", lit=False).light("left side marker") > 0.3


BULBS = 2.10


@pytest.mark.parametrize(
    ("resistors", "amps", "passes"),
    [((6, 6), 4.4, True), ((8, 8), 3.4, True), ((10, 10), 2.8, False), ((6,), 2.4, False), ((), 0.4, False)],
)
def test_load_resistors_against_a_threshold_of_two_bulbs(resistors, amps, passes):
    """Worked example at 12 V: two LEDs of 0.2 A, threshold 3.04 A: two 6 ohm make 4.4 A, two 8 ohm 3.4 A, two 10 ohm fail."""
    source = Battery(name="B", nodes={"+": "bat", "-": "gnd"}, volts=12.0, resistance_ohm=1e-6)
    output = ComputerOutput(
        name="C", nodes={"supply": "bat", "out": "x"}, flashes_with=("left",), warn_below_a=3.04, trip_above_a=20
    )
    lamps = [led(f"L{n}", "x", amps_a=0.2, at_v=12.0, threshold_v=6.0) for n in range(2)]
    loads = [resistor(f"R{n}", "x", ohm=ohm) for n, ohm in enumerate(resistors)]
    found = simulate(Network((source, output, *lamps, *loads)), ["left"])
    assert found.at("left").amps("C") == pytest.approx(amps, abs=0.15)
    assert (found.flash("left")["C"].word == "normal") is passes


def test_a_resistor_in_series_cures_nothing_and_dims_the_lamp():
    point = at("brake", STOP, resistor("R", "stop", "x", ohm=6), led("L", "x"))
    assert point.amps("R") == pytest.approx(point.amps("L"))
    assert point.light("L") < 1


def test_six_ohm_is_about_one_21_watt_bulb():
    """2.25 A and 30 W at 13.5 V."""
    point = at("brake", STOP, resistor("R", "stop", ohm=6))
    assert point.amps("R") == pytest.approx(2.25, abs=0.03)
    assert point.watts("R") == pytest.approx(30, abs=0.7)


def test_87a_taken_for_87_turns_the_relay_round():
    coil = switch("C", "coil", "reverse")
    for contact, lit_at_rest in (("87", False), ("87a", True)):
        nodes = {"86": "coil", "85": "gnd", "30": "bat", "87": "spare", "87a": "spare2"} | {contact: "out"}
        relay = Relay(name="K", nodes=nodes)
        assert (at("rest", coil, relay, led("L", "out")).light("L") > 0.5) is lit_at_rest
        assert (at("reverse", coil, relay, led("L", "out")).light("L") > 0.5) is not lit_at_rest


def test_a_coil_without_ground_does_nothing():
    """If nothing changes when the signal comes on: coil ground first."""
    relay = Relay(name="K", nodes={"86": "coil", "85": "nowhere", "30": "bat", "87": "out"})
    point = at("reverse", switch("C", "coil", "reverse"), relay, led("L", "out"))
    assert point.light("L") < 0.01
    assert point.volts("nowhere") > 12  # through the coil


def test_a_diode_turned_round_or_open_keeps_the_lamp_dark_and_a_bridge_across_it_lights_it_in_both():
    for ends in ({"anode": "x", "cathode": "stop"}, {"anode": "stop", "cathode": "x"}):
        is_open = ends["anode"] == "stop"
        diode = Diode(name="D", nodes=ends, open=is_open)
        assert at("brake", STOP, diode, led("L", "x")).light("L") < 0.01
        bridge = resistor("bridge", "stop", "x", ohm=0.05)
        assert at("brake", STOP, diode, led("L", "x"), bridge).light("L") > 0.9


def test_a_shorted_diode_lets_the_back_feed_through_again():
    feeds = (switch("P", "park", "park"), STOP, lamp("tail", "park", rated_a=0.42), led("L", "stop"))
    for shorted, glows in ((False, False), (True, True)):
        diode = Diode(name="D", nodes={"anode": "park", "cathode": "stop"}, shorted=shorted)
        assert (at("brake", *feeds, diode).light("tail") > 0.3) is glows


def test_a_converter_without_supply_or_ground_leaves_all_trailer_lamps_dead():
    nodes = {"supply": "bat", "31": "gnd", "stop_in": "stop", "left_out": "left", "right_out": "right"}
    trailer = (lamp("left lamp", "left"), lamp("right lamp", "right"))
    assert at("brake", STOP, Converter(name="M", nodes=nodes), *trailer).light("left lamp") > 0.5
    for lost in ("supply", "31"):
        dead = Converter(name="M", nodes={**nodes, lost: "cut off"})
        point = at("brake", STOP, dead, *trailer)
        assert max(point.light("left lamp"), point.light("right lamp")) < 0.01


def test_a_converter_shuts_off_above_its_limit():
    nodes = {"supply": "bat", "31": "gnd", "stop_in": "stop", "left_out": "left", "right_out": "right"}
    heavy = [lamp(f"L{n}", "left") for n in range(4)]
    found = findings(simulate(Network((BATTERY, STOP, Converter(name="M", nodes=nodes), *heavy)), ["brake"]))
    assert "shut_off" in {finding.rule for finding in found}


def test_a_worn_hazard_switch_leaves_both_turns_dead_and_the_hazard_good():
    factory = factory_circuit(VehicleDescription(scenario=SEPARATE))
    supply = factory.network["turn supply"]
    worn = replace(supply, closed_with=("hazard",))
    found = simulate(factory.network.with_changed(worn), ["left", "right", "hazard"])
    assert found.at("left").light("left rear turn lamp") < 0.01
    assert found.at("right").light("right rear turn lamp") < 0.01
    assert found.at("hazard").light("left rear turn lamp") > 0.5


def test_an_led_bulb_for_the_other_wedge_pattern_joins_feed_to_ground_and_blows_the_fuse():
    fuse = Fuse(name="F", nodes={"from": "bat", "to": "fused"}, rating_a=10)
    wrong = lamp("wrong bulb", "stop", shorted=True)
    found = findings(
        simulate(Network((BATTERY, fuse, switch("S", "stop", "brake", first="fused"), wrong)), ["brake"])
    )
    assert [finding.subject for finding in found if finding.rule == "blown_fuse"] == ["F"]


def test_a_ghost_glow_on_a_leaking_feed_goes_with_a_resistor():
    """1 kOhm takes up to 2 mA; an LED string shows 0.1 mA in the dark."""
    leak = resistor("leak", "bat", "x", ohm=6800)
    string = led("L", "x", amps_a=0.02, threshold_v=7.0)
    assert at("rest", leak, string).amps("L") > 1e-4
    assert at("rest", leak, string, resistor("R", "x", ohm=1000)).amps("L") < 1e-6


def test_too_thin_a_wire_costs_light():
    """A filament's light falls with about the 3.4th power of voltage (handbook)."""

    def behind(size):
        return at(
            "brake", STOP, Wire(name="W", nodes={"from": "stop", "to": "x"}, length_m=10, size=size), lamp("L", "x")
        )

    thin, thick = behind("22"), behind("12")
    lost = (thin.volts("x") / thick.volts("x")) ** 3.4
    assert thin.light("L") / thick.light("L") == pytest.approx(lost, rel=0.05)
    assert lost < 0.8


@pytest.mark.parametrize(
    ("instrument", "shows"),
    [
        (Meter(name="M", nodes={"from": "x", "to": "gnd"}), "battery"),
        (ProbeLamp(name="M", nodes={"from": "x", "to": "gnd"}), "nothing"),
        (LedProbe(name="M", nodes={"from": "x", "to": "gnd"}), "nothing"),
    ],
    ids=["meter", "filament lamp", "LED probe"],
)
def test_a_leaking_feed_shows_ghost_volts_on_a_meter_and_nothing_on_a_load(instrument, shows):
    """A meter of 10 MOhm shows ghosts; a filament test lamp needs a real source."""
    point = at("rest", resistor("leak", "bat", "x", ohm=47000), instrument)
    assert (point.volts("x") > 10) is (shows == "battery")


def test_a_resting_feed_reads_ground_through_its_cold_filament_and_floats_with_an_led():
    """Test lamp to battery positive: 94 % of its light through a cold 21 W filament; 0.1 to 0.3 V on the feed."""
    pull = ProbeLamp(name="T", nodes={"from": "bat", "to": "feed"})
    through = at("rest", pull, lamp("L", "feed"))
    assert 0.05 < through.volts("feed") < 0.35
    direct = at("rest", ProbeLamp(name="T", nodes={"from": "bat", "to": "gnd"}))
    assert through.light("T") / direct.light("T") == pytest.approx(0.94, abs=0.03)
    assert at("rest", pull, led("L", "feed")).volts("feed") > 5
    assert 1.0 < at("rest", pull, lamp("L", "feed", rated_v=14.0, rated_a=0.59, hot_k=2500)).volts("feed") < 2.6


def test_a_two_terminal_flasher_keeps_its_pilot_terminal_alive_only_while_lit():
    flasher = Flasher(name="F", nodes={"49": "bat", "49a": "x", "c": "pilot"}, rated_a=2.1, threshold_a=1.0)
    parts = (flasher, switch("T", "y", "left", first="x"), lamp("L", "y"), lamp("pilot lamp", "pilot", rated_a=0.12))
    assert at("left", *parts).light("pilot lamp") > 0.5
    assert at("left", *parts, lit=False).light("pilot lamp") < 0.01


def test_key_off_drain_is_the_sum_of_what_stays_awake():
    network = Network((BATTERY, resistor("module", "bat", ohm=1350), led("glow", "bat", amps_a=0.05)))
    assert simulate(network, ["rest"]).drain_a() == pytest.approx(0.06, abs=0.002)
    (found,) = (finding for finding in findings(simulate(network, ["rest"])) if finding.rule == "drain")
    assert found.by == "glow"  # 50 of 60 mA


def test_what_hangs_behind_an_open_switch_hangs_in_the_air_in_no_state():
    """One state asked for: the switch closes in others. Behind a blown fuse nothing ever will."""
    factory = factory_circuit(VehicleDescription())
    assert not [each for each in findings(simulate(factory.network, ["rest"])) if each.rule == "floating_node"]
    parts = (
        Battery(name="B", nodes={"+": "bat", "-": "gnd"}, volts=12.6),
        Fuse(name="F", nodes={"from": "bat", "to": "x"}, rating_a=10, blown=True),
        Switch(name="S", nodes={"from": "x", "to": "y"}, closed_with=("brake",)),
        Resistor(name="R", nodes={"from": "x", "to": "y"}, ohm=10),
    )
    found = findings(simulate(Network(parts), ["rest"]))
    assert [each.subject for each in found if each.rule == "floating_node"] == ["x"]


def swapped(network, *names):
    """LED bulbs in the sockets of some lamps."""
    return network.with_changed(
        *(
            Led(name=name, nodes=network[name].nodes, amps_a=0.3, at_v=13.5, threshold_v=7.0, regulated=True)
            for name in names
        )
    )


def wrong_roads(network, *states):
    return {each.subject: each for each in findings(simulate(network, states)) if each.rule == "wrong_road"}


def test_one_pilot_between_the_sides_lights_all_four_led_lamps_and_is_named_as_the_road():
    factory = factory_circuit(VehicleDescription(scenario=SEPARATE, pilot="one", has_side_markers=False)).network
    assert not wrong_roads(factory, "left", "right")
    turns = [f"{side} {end} turn lamp" for side in ("left", "right") for end in ("front", "rear")]
    found = wrong_roads(swapped(factory, *turns), "left")
    assert set(found) == {"right front turn lamp", "right rear turn lamp"}
    assert {each.by for each in found.values()} == {"turn pilot"}


def test_led_turn_lamps_light_in_park_through_the_marker_between_the_feeds():
    factory = factory_circuit(VehicleDescription(scenario=SEPARATE, has_side_markers=True)).network
    assert not wrong_roads(factory, "park", "left")
    turns = ["left front turn lamp", "left rear turn lamp"]
    found = wrong_roads(swapped(factory, *turns), "park")
    assert set(found) == set(turns)
    assert {each.by for each in found.values()} == {"left side marker"}


def test_a_switch_of_ones_own_on_a_keyed_feed_wakes_what_hangs_on_the_ignition():
    own = (switch("own switch", "reverse", "own_switch"), lamp("heater plug", "ign"))
    reverse = (switch("key", "ign", "key"), switch("reverse switch", "reverse", "reverse", "key", first="ign"))
    network = Network((BATTERY, *own, *reverse, led("pod", "reverse")))
    assert not wrong_roads(network, "own_switch")
    woken = wrong_roads(network, "own_switch+reverse")
    assert not woken  # with the key on it is fed by its own
    stuck = network.with_changed(Switch(name="reverse switch", nodes={"from": "ign", "to": "reverse"}))
    assert wrong_roads(stuck, "own_switch")["heater plug"].by == "reverse switch"
