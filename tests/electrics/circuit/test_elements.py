"""Relays, flashers, modules and computers: facts of the trade, and what each does when it is used wrongly."""

from __future__ import annotations

import pytest

from electrics.circuit.elements import (
    Battery,
    ComputerOutput,
    Diode,
    DualLamp,
    Flasher,
    Fuse,
    Ground,
    Joint,
    Lamp,
    Led,
    Relay,
    Resistor,
    Switch,
    Wire,
)
from electrics.circuit.findings import RULES, findings
from electrics.circuit.network import Network
from electrics.circuit.simulate import simulate
from electrics.document.vehicle import FlasherKind
from electrics.errors import CircuitError
from electrics.lighting.samples import sample_circuits
from electrics.lighting.vehicle import Lamps, VehicleDescription, factory_circuit
from electrics.signals import Scenario
from electrics.vocabulary import Arrangement

BATTERY = Battery(name="B", nodes={"+": "bat", "-": "gnd"}, volts=13.5, resistance_ohm=0.01)
SEPARATE = Scenario(Arrangement.SEPARATE)


def lamp(name, first, second="gnd", **values):
    return Lamp(name=name, nodes={"from": first, "to": second}, **values)


def switch(name, second, *controls, first="bat"):
    return Switch(name=name, nodes={"from": first, "to": second}, closed_with=controls)


def rules_found(network, *states):
    return {finding.rule: finding for finding in findings(simulate(network, states))}


def relay(**nodes):
    return Relay(
        name="K", nodes={"85": "gnd", "30": "bat", **{name.strip("_"): node for name, node in nodes.items()}}
    )


def test_a_relay_at_rest_goes_through_to_87a_and_energised_to_87():
    """Common practice, terminals by DIN 72552."""
    network = Network(
        (
            BATTERY,
            switch("S", "coil", "reverse"),
            relay(_86="coil", _87="a", _87a="b"),
            lamp("A", "a"),
            lamp("C", "b"),
        )
    )
    found = simulate(network, ["rest", "reverse"])
    assert (found.at("rest").light("A") > 0.5, found.at("rest").light("C") > 0.5) == (False, True)
    assert (found.at("reverse").light("A") > 0.5, found.at("reverse").light("C") > 0.5) == (True, False)


def test_a_relay_that_feeds_its_coil_through_its_own_break_contact_chatters():
    found = rules_found(Network((BATTERY, relay(_86="c", _87="a", _87a="c"), lamp("A", "a"))), "rest")
    assert found["chatter"].subject == "K"
    assert found["chatter"].value > 10


def test_a_leak_of_some_volts_may_hold_a_relay_that_it_could_not_pull_in():
    """Common practice: a leak of 1 to 5 V may hold a relay in."""
    leak = Resistor(name="leak", nodes={"from": "bat", "to": "coil"}, ohm=400)
    network = Network((BATTERY, leak, switch("S", "coil", "key"), relay(_86="coil", _87="a"), lamp("A", "a")))
    volts = simulate(network, ["rest"]).at("rest").volts("coil")
    assert 1.2 < volts < 8
    assert simulate(network, ["rest"]).at("rest").light("A") < 0.01


def test_a_relay_on_a_pulsed_feed_is_named():
    output = ComputerOutput(name="C", nodes={"supply": "bat", "out": "coil"}, dims_with=("park",), duty=0.3)
    found = rules_found(Network((BATTERY, output, relay(_86="coil", _87="a"), lamp("A", "a"))), "park")
    assert found["pulsed_coil"].subject == "K"
    assert 1.2 < found["pulsed_coil"].value < 8


def test_a_pulsed_21_watt_lamp_reads_two_and_a_half_to_three_and_a_half_volts():
    """Common practice: 20 to 25 % duty, a filament heats by the root mean square."""
    output = ComputerOutput(name="C", nodes={"supply": "bat", "out": "x"}, dims_with=("park",), full_with=("brake",))
    found = simulate(Network((BATTERY, output, lamp("L", "x"))), ["park", "brake", "brake+park"])
    assert 2.5 <= found.at("park").volts("x") <= 3.5
    assert 0.01 < found.at("park").light("L") < 0.1
    assert found.at("brake+park").light("L") == pytest.approx(found.at("brake").light("L"))


def flashing(kind, *lamps, **values):
    parts = [Flasher(name="F", nodes={"49": "bat", "49a": "x"}, type=kind, **values)]
    return Network((BATTERY, *parts, switch("T", "y", "left", first="x"), *lamps))


@pytest.mark.parametrize(
    ("kind", "lamps", "word", "low", "high"),
    [
        ("electronic", 2, "normal", 60, 120),
        ("electronic", 1, "fast", 150, 210),
        ("bimetal", 2, "normal", 60, 120),
        ("bimetal", 1, "slow", 10, 60),
        ("fixed", 1, "normal", 60, 120),
    ],
)
def test_a_missing_lamp_doubles_an_electronic_flasher_and_slows_a_bimetal_one(kind, lamps, word, low, high):
    """UN R48: 90 plus or minus 30; a dead lamp about twice the rate (common practice)."""
    rhythm = simulate(flashing(kind, *(lamp(f"L{n}", "y") for n in range(lamps))), ["left"]).flash("left")["F"]
    assert rhythm.word == word
    assert low <= rhythm.per_minute <= high


def test_a_bimetal_flasher_stays_lit_with_leds():
    """Common practice: contact closed at rest, too little load to heat it."""
    network = flashing("bimetal", Led(name="L", nodes={"from": "y", "to": "gnd"}))
    found = simulate(network, ["left"])
    assert found.flash("left")["F"].word == "steady"
    assert found.at("left", lit=False).light("L") > 0.9


def test_a_three_terminal_flasher_is_dead_without_its_ground():
    network = flashing("fixed", lamp("L", "y"), needs_ground=True)
    found = simulate(network, ["left"])
    assert found.at("left").light("L") < 1e-9
    assert found.flash("left")["F"].word == "dead"


def test_led_rear_lamps_flash_fast_and_load_resistors_cure_it():
    circuits = sample_circuits()
    assert rules_found(circuits["fellhound"], "left")["flash_rate"].value > 120
    assert "flash_rate" not in rules_found(circuits["fellhound-resistors"], "left", "right")


def test_one_pilot_between_left_and_right_makes_all_four_led_signals_light_and_two_diodes_cure_it():
    """Common practice on motorcycles and old cars."""
    for pilot, kind, other_side in (
        ("one", Lamps.LED, True),
        ("two", Lamps.LED, False),
        ("one", Lamps.FILAMENT, False),
    ):
        vehicle = VehicleDescription(scenario=SEPARATE, rear=kind, front=kind, flasher=FlasherKind.FIXED, pilot=pilot)
        point = simulate(factory_circuit(vehicle).network, ["left"]).at("left")
        assert (point.light("right rear turn lamp") > 0.02) is other_side


def test_a_computer_warns_of_leds_and_shuts_off_on_a_short():
    output = ComputerOutput(
        name="C", nodes={"supply": "bat", "out": "x"}, flashes_with=("left",), warn_below_a=1.0, trip_above_a=10
    )
    led = Network((BATTERY, output, Led(name="L", nodes={"from": "x", "to": "gnd"})))
    found = rules_found(led, "left")
    assert found["outage_warning"].value == pytest.approx(0.3, abs=0.02)
    assert found["flash_rate"].value == 180
    short = Network((BATTERY, output, lamp("L", "x", shorted=True)))
    assert rules_found(short, "left")["shut_off"].subject == "C"
    assert abs(simulate(short, ["left"]).at("left").amps("C")) < 1e-6


def test_cold_test_pulses_light_an_led_and_not_a_filament():
    """Common practice: lamp-test pulses are full battery volts."""
    output = ComputerOutput(name="C", nodes={"supply": "bat", "out": "x"}, full_with=("brake",), test_pulses=True)
    led = Led(name="L", nodes={"from": "x", "to": "gnd"})
    assert rules_found(Network((BATTERY, output, led)), "rest")["test_pulse_glow"].subject == "L"
    assert "test_pulse_glow" not in rules_found(Network((BATTERY, output, lamp("M", "x"))), "rest")


@pytest.mark.parametrize(
    ("state", "lit", "left", "right"),
    [
        ("brake", True, True, True),
        ("left", True, True, False),
        ("left", False, False, False),
        ("brake+left", True, True, True),
        ("brake+left", False, False, True),
        ("hazard", False, False, False),
        ("brake+hazard", False, False, False),
    ],
)
def test_a_converter_lets_the_turn_win_over_the_brake_in_both_phases(state, lit, left, right):
    """Common practice: combined lamps flash over the brake."""
    point = simulate(sample_circuits()["oxbow-converter"], [state]).at(state, lit=lit)
    assert (point.light("trailer left lamp") > 0.3, point.light("trailer right lamp") > 0.3) == (left, right)


def test_filaments_that_touch_put_the_brake_on_every_tail_lamp():
    """Common practice: brake lights all tails when the filaments of a dual lamp are shorted together."""

    def network(shorted):
        dual = DualLamp(name="D", nodes={"tail": "tail", "stop": "stop", "to": "gnd"}, shorted=shorted)
        return Network(
            (
                BATTERY,
                switch("S", "stop", "brake"),
                switch("P", "tail", "park"),
                dual,
                lamp("T", "tail", rated_a=0.42),
            )
        )

    assert simulate(network(False), ["brake"]).at("brake").light("T") < 1e-9
    assert simulate(network(True), ["brake"]).at("brake").light("T") > 0.5
    found = rules_found(network(True), "brake", "park")
    assert found.keys() == {"wrong_road"}
    assert (found["wrong_road"].subject, found["wrong_road"].by, found["wrong_road"].state) == ("T", "D", "brake")


def test_an_open_common_ground_sends_the_stop_current_through_the_tails():
    """Common practice: stop runs through both filaments into the other tails; the ground pin reads battery."""
    dual = DualLamp(name="D", nodes={"tail": "tail", "stop": "stop", "to": "lamp_gnd"})
    lost = Ground(name="G", nodes={"at": "lamp_gnd", "to": "gnd"}, open=True)
    network = Network(
        (
            BATTERY,
            switch("S", "stop", "brake"),
            switch("P", "tail", "park"),
            dual,
            lost,
            lamp("T", "tail", rated_a=0.42),
        )
    )
    point = simulate(network, ["brake"]).at("brake")
    assert point.volts("lamp_gnd") > 8
    assert point.amps("T") > 0.1
    found = rules_found(network, "brake", "park")["wrong_road"]
    assert (found.subject, found.by, found.mends) == ("T", "G", "part")


def test_a_back_feed_is_named_with_its_branch_and_a_diode_ends_it():
    """Two feeds on one lamp without a diode: the added one makes the factory circuit live (common practice)."""

    def network(*bridge):
        return Network(
            (
                BATTERY,
                switch("S", "stop", "brake"),
                switch("P", "tail", "park"),
                lamp("L", "stop"),
                Led(name="D", nodes={"from": "tail", "to": "gnd"}),
                *bridge,
            )
        )

    joined = network(Resistor(name="J", nodes={"from": "stop", "to": "tail"}, ohm=0.01))
    assert simulate(joined, ["brake"]).at("brake").light("D") > 0.9
    found = rules_found(joined, "brake")["wrong_road"]
    assert (found.subject, found.by, found.road) == ("D", "J", ("J",))
    one_way = network(Diode(name="J", nodes={"anode": "tail", "cathode": "stop"}))
    assert simulate(one_way, ["brake"]).at("brake").light("D") < 0.01
    upstream = Network(
        (
            BATTERY,
            switch("S", "stop", "brake"),
            switch("R", "stop", "reverse"),
            switch("Q", "coil", "brake", first="other"),
            lamp("L", "stop"),
            lamp("M", "other"),
            Resistor(name="J", nodes={"from": "stop", "to": "coil"}, ohm=0.01),
        )
    )
    assert rules_found(upstream, "brake")["back_feed"].subject == "Q"


def test_the_smaller_of_two_fuses_in_a_row_blows_first():
    fuses = (
        Fuse(name="large", nodes={"from": "bat", "to": "m"}, rating_a=30),
        Fuse(name="small", nodes={"from": "m", "to": "x"}, rating_a=5),
    )
    found = [
        f
        for f in findings(simulate(Network((BATTERY, *fuses, lamp("L", "x", shorted=True))), ["rest"]))
        if f.rule == "blown_fuse"
    ]
    assert [f.subject for f in found] == ["small"]
    assert found[0].value > 100


BAD = {
    "zero resistance": (Resistor(name="R", nodes={"from": "bat", "to": "gnd"}, ohm=0), "R: ohm is 0"),
    "negative length": (lamp("L", "bat", rated_a=-1), "L: rated_a is -1"),
    "no such bulb": (lamp("L", "bat", bulb="candle"), "L: bulb candle is not known"),
    "no such control": (switch("S", "x", "clutch"), "S: closed_with has no control"),
    "terminal without a node": (Lamp(name="L", nodes={"from": "bat"}), "L: terminal to is on no node"),
    "unknown terminal": (Lamp(name="L", nodes={"from": "bat", "to": "gnd", "up": "x"}), "L: has no terminal up"),
    "name twice": (Resistor(name="B", nodes={"from": "bat", "to": "gnd"}, ohm=1), "B: stands twice"),
}


@pytest.mark.parametrize("bad", BAD)
def test_a_value_that_cannot_be_is_refused_with_the_element_named(bad):
    element, complaint = BAD[bad]
    with pytest.raises(CircuitError, match=complaint):
        Network((BATTERY, element))


def test_a_circuit_without_battery_or_reference_is_refused():
    with pytest.raises(CircuitError, match="no battery"):
        Network((lamp("L", "a"),))
    with pytest.raises(CircuitError, match="node gnd"):
        Network((Battery(name="B", nodes={"+": "a", "-": "b"}),))


WRONG = {
    "shorted_source": ((lamp("L", "bat", shorted=True), lamp("M", "bat", shorted=True)), "B"),
    "reversed_battery": ((Battery(name="C", nodes={"+": "gnd", "-": "x"}, resistance_ohm=1), lamp("L", "x")), "C"),
    "floating_node": ((lamp("L", "island", "shore"),), "island"),
    "grounds_at_odds": (
        (
            lamp("L", "bat", "g1"),
            lamp("M", "bat", "g2"),
            Ground(name="G1", nodes={"at": "g1", "to": "gnd"}),
            Ground(name="G2", nodes={"at": "g2", "to": "gnd"}, resistance_ohm=2.0),
        ),
        "G2",
    ),
    "short_circuit": ((Wire(name="W", nodes={"from": "bat", "to": "gnd"}, length_m=0.5),), "B"),
    "wire_load": (
        (
            Fuse(name="F", nodes={"from": "bat", "to": "x"}, rating_a=30),
            Wire(name="W", nodes={"from": "x", "to": "y"}, length_m=1.0, size="22"),
            *(lamp(f"L{n}", "y") for n in range(5)),
        ),
        "W",
    ),
    "joint_loss": (
        (Joint(name="J", nodes={"from": "bat", "to": "x"}, quality="corroded"), lamp("L", "x")),
        "J",
    ),
    "resistor_heat": (
        (Resistor(name="R", nodes={"from": "bat", "to": "gnd"}, ohm=6, watts=50, mounting="free_air"),),
        "R",
    ),
    "over_volts": ((lamp("L", "bat", rated_v=6.4),), "L"),
    "coil_open": (
        (Relay(name="K", nodes={"86": "bat", "85": "nowhere", "30": "bat", "87": "x"}), lamp("L", "x")),
        "K",
    ),
    "fuse_load": ((Fuse(name="F", nodes={"from": "bat", "to": "x"}, rating_a=2), lamp("L", "x")), "F"),
    "overloaded_diode": (
        (Diode(name="D", nodes={"anode": "bat", "cathode": "x"}, part="1N4007"), lamp("L", "x")),
        "D",
    ),
    "drain": ((lamp("L", "bat"),), ""),
}


@pytest.mark.parametrize("rule", WRONG)
def test_what_is_wrong_is_found_and_named_and_nothing_hangs(rule):
    elements, subject = WRONG[rule]
    found = rules_found(Network((BATTERY, *elements)), "rest")
    assert found[rule].subject == subject
    assert set(found) <= set(RULES)


def test_what_is_turned_round_is_named_and_what_only_blocks_is_not():
    """An LED or a rectifier the wrong way round never carries; a diode-OR whose other source is off is sound."""
    led = Led(name="D", nodes={"from": "gnd", "to": "bat"})
    assert rules_found(Network((BATTERY, led)), "rest")["turned_round"].subject == "D"
    bridged = Led(name="D", nodes={"from": "gnd", "to": "bat"}, bridge=True)
    assert "turned_round" not in rules_found(Network((BATTERY, bridged)), "rest")

    def network(anode, cathode):
        stop = (switch("S", "stop", "brake"), switch("P", "tail", "park"), lamp("T", "tail"))
        first = Diode(name="A", nodes={"anode": anode, "cathode": cathode})
        second = Diode(name="C", nodes={"anode": "tail", "cathode": "new"})
        return Network((BATTERY, *stop, first, second, lamp("L", "new")))

    assert "turned_round" not in rules_found(network("stop", "new"), "brake")
    turned = rules_found(network("new", "stop"), "brake")
    assert turned["turned_round"].subject == "A"


def test_a_relay_that_pulses_hold_in_is_found():
    """A feed that is high for 70 % of the time means 9.4 V of 13.5 V: over the 8 V that it pulls in by."""
    feed = ComputerOutput(name="C", nodes={"supply": "bat", "out": "x"}, dims_with=("park",), duty=0.7)
    relay = Relay(name="K", nodes={"86": "x", "85": "gnd", "30": "bat", "87": "y"})
    found = rules_found(Network((BATTERY, feed, relay, lamp("L", "x"), lamp("M", "y"))), "park")
    assert found["pulsed_coil"].value == pytest.approx(0.7 * 13.5, abs=0.4)


def test_the_worst_state_of_a_lifted_ground_is_named():
    """One bad ground of half an ohm: 0.29 A of a tail lamp, then some 2 A of a stop lamp on top of it."""
    network = Network(
        (
            BATTERY,
            switch("P", "tail", "park"),
            switch("S", "stop", "brake"),
            lamp("T", "tail", "g", rated_a=0.42),
            lamp("L", "stop", "g"),
            Ground(name="G", nodes={"at": "g", "to": "gnd"}, resistance_ohm=0.5),
        )
    )
    found = rules_found(network, "park", "brake", "park+brake")["grounds_at_odds"]
    assert (found.subject, found.state) == ("G", "park+brake")
    assert found.value > 1.0


@pytest.mark.parametrize(("amps", "blows"), [(14.7, False), (26.0, True), (60.0, True)])
def test_a_fuse_before_a_flasher_bears_its_heat_not_its_peak(amps, blows):
    """14.7 A half the time heat 10 A of fuse like 10.4 A; what blows it stays blown in the dark half as well."""
    network = Network(
        (
            BATTERY,
            Fuse(name="F", nodes={"from": "bat", "to": "x"}, rating_a=10),
            ComputerOutput(name="C", nodes={"supply": "x", "out": "y"}, flashes_with=("left",), trip_above_a=100),
            Resistor(name="R", nodes={"from": "y", "to": "gnd"}, ohm=13.4 / amps),
            Resistor(name="S", nodes={"from": "x", "to": "gnd"}, ohm=1e4),
        )
    )
    seen = simulate(network, ["left"])
    assert ("blown_fuse" in {each.rule for each in findings(seen)}) is blows
    assert (abs(seen.at("left", lit=False).amps("S")) < 1e-6) is blows


def test_a_loop_of_ideal_sources_at_odds_is_refused_by_name():
    other = Battery(name="C", nodes={"+": "bat", "-": "gnd"}, volts=6, resistance_ohm=0.0)
    ideal = Battery(name="B", nodes={"+": "bat", "-": "gnd"}, volts=12, resistance_ohm=0.0)
    with pytest.raises(CircuitError, match="B and C"):
        simulate(Network((ideal, other)), ["rest"])


def test_a_relay_between_its_two_voltages_is_as_it_was_before():
    """300 ohm before a coil of 85 ohm leave 2.8 V of 12.8 V: over the 1.2 V that it drops out at, under the 8 V it pulls in by."""
    battery = Battery(name="B", nodes={"+": "bat", "-": "gnd"}, volts=12.8, resistance_ohm=0.0)
    leak = Resistor(name="R", nodes={"from": "bat", "to": "coil"}, ohm=300)
    relay = Relay(name="K", nodes={"86": "coil", "85": "gnd", "30": "bat", "87": "out"})
    lamp = Lamp(name="L", nodes={"from": "out", "to": "gnd"}, rated_v=12.8, rated_a=2.1)
    network = Network((battery, leak, relay, lamp))
    lights = [simulate(network, ["rest"], held=held).at("rest").light("L") for held in (False, True)]
    assert lights[0] < 0.01
    assert lights[1] > 0.9
