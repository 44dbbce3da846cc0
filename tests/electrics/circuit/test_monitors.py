"""Monitors, flashers that shut off, lamps with two leads, power drivers, an ohmmeter: facts of the trade."""

from __future__ import annotations

from dataclasses import replace

import pytest

from electrics.circuit.elements import (
    Battery,
    ComputerOutput,
    Diode,
    DualLamp,
    DualLed,
    Flasher,
    Fuse,
    Ground,
    Joint,
    Lamp,
    Led,
    Resistor,
    Switch,
)
from electrics.circuit.findings import findings
from electrics.circuit.network import Network
from electrics.circuit.ohmmeter import ohms_between
from electrics.circuit.simulate import simulate
from electrics.circuit.spice import node_names, spice_deck
from electrics.circuit.timeline import timeline
from electrics.errors import CircuitError
from ngspice import MISSING, NGSPICE, operating_points

BATTERY = Battery(name="B", nodes={"+": "bat", "-": "gnd"}, volts=13.5, resistance_ohm=0.01)


def output(**values):
    return ComputerOutput(name="C", nodes={"supply": "bat", "out": "x"}, **values)


def lamp(name="L", first="x", second="gnd", **values):
    return Lamp(name=name, nodes={"from": first, "to": second}, **values)


def led(name="L", first="x", second="gnd", **values):
    return Led(name=name, nodes={"from": first, "to": second}, **values)


def found_in(parts, *states, battery=BATTERY):
    return {each.rule: each for each in findings(simulate(Network((battery, *parts)), states))}


@pytest.mark.parametrize(("latches", "ends"), [(False, 2.0), (True, 4.0)])
def test_a_message_goes_with_its_cause_or_stays_until_the_key_is_turned_off(latches, ends):
    """Common practice: the message often stays until the next key cycle."""
    watching = output(full_with=("brake", "park"), warn_below_a=1.2, latches=latches)
    second = Switch(name="S", nodes={"from": "x", "to": "y"}, closed_with=("park",))
    network = Network((BATTERY, watching, led(), second, lamp("M", "y")))
    schedule = [(0.0, "key"), (1.0, "brake"), (2.0, "brake+park"), (4.0, "rest")]
    told = [(each.at_s, each.what) for each in timeline(network, schedule, 5.0).events if each.owner == "C"]
    assert told == [(1.0, "warns"), (ends, "silent")]


def test_a_second_bulb_or_a_low_resistor_trips_an_upper_limit():
    """Common practice: some monitors have an upper limit too."""
    watching = output(full_with=("brake",), warn_below_a=1.2, warn_above_a=3.0)
    assert not found_in((watching, lamp()), "brake")
    assert found_in((watching, lamp(), lamp("M")), "brake")["overload_warning"].value > 4
    low = Resistor(name="R", nodes={"from": "x", "to": "gnd"}, ohm=3.0)
    assert "overload_warning" in found_in((watching, led(), low), "brake")
    assert "outage_warning" in found_in((watching, led()), "brake")


@pytest.mark.parametrize("volts", [11.5, 13.5, 15.0])
def test_a_monitor_that_reckons_with_a_filament_sees_a_resistor_by_another_law(volts):
    """A filament goes with V^0.54 and passes a tight limit at any voltage; a resistor with V and does not."""
    battery = replace(BATTERY, volts=volts)
    watching = output(full_with=("brake",), warn_below_a=2.05, warn_above_a=2.22, law_v=13.5)
    assert not found_in((watching, lamp()), "brake", battery=battery)
    resistor = Resistor(name="R", nodes={"from": "x", "to": "gnd"}, ohm=13.5 / 2.16)
    named = {11.5: {"outage_warning"}, 13.5: set(), 15.0: {"overload_warning"}}
    assert set(found_in((watching, resistor), "brake", battery=battery)) == named[volts]


def test_an_output_that_gives_its_lamp_up_stays_off_until_the_key_is_cycled():
    """Common practice: some shut that lamp off."""
    watching = output(full_with=("brake",), warn_below_a=1.2, gives_up=True)
    network = Network((BATTERY, watching, led()))
    found = found_in((watching, led()), "brake")
    assert set(found) == {"given_up"}
    assert simulate(network, ["brake"]).at("brake").light("L") < 1e-6
    assert not found_in((watching, lamp()), "brake")


def test_an_output_shut_off_by_overload_comes_back_with_the_next_key_cycle():
    short = (output(full_with=("brake",), trip_above_a=3.0), lamp(), lamp("M"))
    run = timeline(Network((BATTERY, *short)), [(0, "brake"), (1, "rest"), (1.2, "brake")], 2.4)
    assert [event.what for event in run.events] == ["shut off", "shut off"]


def test_a_pull_up_in_the_off_state_makes_an_led_glow_and_550_ohm_take_it():
    """Behind 2.2 kohm and for 3 V: R <= Rpu Vdark / (15 - Vdark) = 550 ohm; 1 kohm leaves 4.7 V."""
    pulls = output(full_with=("brake",), leak_ohm=2200.0)
    battery = replace(BATTERY, volts=15.0)
    string = led(threshold_v=7.5)

    def volts(*more):
        return simulate(Network((battery, pulls, string, *more)), ["rest"]).at("rest").volts("x")

    def across(ohm):
        return Resistor(name="R", nodes={"from": "x", "to": "gnd"}, ohm=ohm)

    assert volts(across(550)) == pytest.approx(3.0, abs=0.01)
    assert volts(across(1000)) == pytest.approx(4.7, abs=0.02)
    assert found_in((pulls, string), "rest", battery=battery)["wrong_road"].by == "C"
    assert not found_in((pulls, string, across(550)), "rest", battery=battery)


@pytest.mark.parametrize(
    ("when", "word", "lit", "dark"), [("steady", "steady", True, True), ("off", "dead", False, False)]
)
def test_flashers_that_stay_lit_or_shut_off_when_they_miss_load(when, word, lit, dark):
    flasher = Flasher(name="F", nodes={"49": "bat", "49a": "a"}, when_short=when, rated_a=4.2)
    turn = Switch(name="S", nodes={"from": "a", "to": "x"}, closed_with=("left",))
    found = simulate(Network((BATTERY, flasher, turn, led())), ["left"])
    assert found.flash("left")["F"].word == word
    assert [found.at("left", lit=phase).light("L") > 0.5 for phase in (True, False)] == [lit, dark]
    whole = simulate(Network((BATTERY, flasher, turn, lamp(), lamp("M"))), ["left"])
    assert whole.flash("left")["F"].word == "normal"


def test_a_flasher_shuts_off_above_its_limit():
    flasher = Flasher(name="F", nodes={"49": "bat", "49a": "a"}, type="fixed", trips_above_a=5.0)
    turn = Switch(name="S", nodes={"from": "a", "to": "x"}, closed_with=("left",))
    assert not found_in((flasher, turn, lamp(), lamp("M")), "left")
    assert "shut_off" in found_in((flasher, turn, lamp(), lamp("M"), lamp("N")), "left")


@pytest.mark.parametrize(
    ("broken", "tail", "stop"), [("tail", False, True), ("stop", True, False), ("both", False, False)]
)
def test_one_dead_filament_of_two(broken, tail, stop):
    two = DualLamp(name="L", nodes={"tail": "t", "stop": "s", "to": "gnd"}, broken=broken)
    feeds = (
        Switch(name="T", nodes={"from": "bat", "to": "t"}, closed_with=("park",)),
        Switch(name="S", nodes={"from": "bat", "to": "s"}, closed_with=("brake",)),
    )
    point = simulate(Network((BATTERY, *feeds, two)), ["brake+park"]).at("brake+park")
    assert (point.light("L", "tail") > 0.5, point.light("L", "stop") > 0.5) == (tail, stop)


def dual(lead, other, **values):
    return DualLed(name="L", nodes={"tail": lead, "stop": lead, "to": other}, **values)


def test_a_dual_led_lights_by_its_polarity_and_with_a_bridge_either_way():
    def light(**values):
        fed = simulate(Network((BATTERY, dual("bat", "gnd", **values))), ["rest"]).at("rest").light("L")
        sunk = simulate(Network((BATTERY, dual("gnd", "bat", **values))), ["rest"]).at("rest").light("L")
        return fed > 0.5, sunk > 0.5

    assert (light(), light(common="positive"), light(bridge=True)) == ((True, False), (False, True), (True, True))


def test_a_dual_led_with_stop_fed_makes_no_voltage_on_its_tail_lead():
    """Common practice: 1 kohm from tail to ground, over 0.1 V wants a diode."""
    parts = (
        DualLed(name="L", nodes={"tail": "t", "stop": "bat", "to": "gnd"}),
        Resistor(name="R", nodes={"from": "t", "to": "gnd"}, ohm=1000),
    )
    assert simulate(Network((BATTERY, *parts)), ["rest"]).at("rest").volts("t") < 0.1


@pytest.mark.parametrize("volts", [9.0, 11.5, 13.5, 15.0])
def test_a_power_driver_draws_more_from_less_and_agrees_with_ngspice(volts, tmp_path):
    """P = V I above its start; closed form, and ngspice for the point behind a resistance."""
    battery = replace(BATTERY, volts=volts)
    wire = Resistor(name="W", nodes={"from": "bat", "to": "x"}, ohm=0.4)
    point = simulate(Network((battery, wire, led(amps_a=1.0, constant_power=True, threshold_v=5.0))), ["rest"]).at(
        "rest"
    )
    watts = point.volts("x") * point.amps("L")
    assert watts == pytest.approx(13.5, rel=0.01)
    assert point.light("L") == pytest.approx(1.0, rel=0.01)
    if NGSPICE is None:
        pytest.skip(MISSING)
    (found,) = operating_points([spice_deck(point)], tmp_path)
    assert found[node_names(point)["x"]] == pytest.approx(point.volts("x"), rel=1e-4)


FAULTS = {
    "joint": (Joint(name="F", nodes={"from": "bat", "to": "x"}, quality="not_pierced"), lamp()),
    "corroded joint": (Joint(name="F", nodes={"from": "bat", "to": "x"}, quality="corroded"), lamp(rated_a=8.0)),
    "ground": (lamp(first="bat", second="x"), Ground(name="F", nodes={"at": "x", "to": "gnd"}, open=True)),
    "fuse": (Fuse(name="F", nodes={"from": "bat", "to": "x"}, rating_a=10, blown=True), lamp()),
    "filament": (lamp("F", first="bat", broken=True),),
    "diode": (Diode(name="F", nodes={"anode": "bat", "cathode": "x"}, open=True), lamp()),
}


@pytest.mark.parametrize("fault", FAULTS)
def test_a_lamp_kept_dark_by_a_known_fault_is_named_with_it(fault):
    found = found_in(FAULTS[fault], "rest")["dark_by_fault"]
    assert (found.subject, found.by) == ("F" if fault == "filament" else "L", "F")


def test_an_ohmmeter_shows_cold_filaments_and_ol_through_a_diode():
    """A 21 W bulb 0.4 ohm cold (1/15 of hot); two in parallel half of it; a junction OL at a meter's voltage."""
    network = Network((BATTERY, Joint(name="J", nodes={"from": "bat", "to": "x"}), lamp(), led("E", "y")))
    assert ohms_between(network, "x", "gnd") == pytest.approx(0.406, rel=0.02)
    assert ohms_between(network.with_elements(lamp("M")), "x", "gnd") == pytest.approx(0.203, rel=0.02)
    assert ohms_between(network, "y", "gnd") == float("inf")
    with pytest.raises(CircuitError, match="no point of this circuit"):
        ohms_between(network, "x", "nowhere")
