"""How a circuit that a person drew is wired. Facts of the trade (common practice, without source)."""

from __future__ import annotations

import pytest

from electrics.circuit.elements import (
    Battery,
    ComputerOutput,
    DualLamp,
    Flasher,
    Fuse,
    Ground,
    Lamp,
    Led,
    Resistor,
    Switch,
    Wire,
)
from electrics.circuit.network import Network
from electrics.circuit.simulate import simulate
from electrics.circuit.wiring import review
from electrics.design.states import TABLE_STATES
from electrics.lighting.vehicle import factory_circuit
from vehicles import VEHICLES


def part(kind, name, first, second="gnd", **values):
    return kind(name=name, nodes={"from": first, "to": second}, **values)


def brake_lamp(*, volts=12.6, fuse_a=5.0, size="20", metres=2.0, ground=0.01, **lamp):
    """Battery, fuse, brake switch, wire, lamp, ground."""
    scale = volts / 12.6
    values = {"rated_v": 12.8 * scale, "rated_a": 2.1 / scale} | lamp
    return (
        Battery(name="battery", nodes={"+": "bat", "-": "gnd"}, volts=volts),
        *([part(Fuse, "F1", "bat", "fused", rating_a=fuse_a)] if fuse_a else []),
        part(Wire, "run", "fused" if fuse_a else "bat", "sw", length_m=metres, size=size),
        part(Switch, "brake switch", "sw", "lamp", closed_with=("brake",)),
        part(Lamp, "stop lamp", "lamp", "return", **values),
        Ground(name="stud", nodes={"at": "return", "to": "gnd"}, resistance_ohm=ground),
    )


def found(*elements, states=("rest", "brake")):
    return {(each.rule, each.subject): each for each in review(simulate(Network(elements), states))}


@pytest.mark.parametrize("volts", [6.3, 12.6, 25.2])
def test_a_lamp_as_it_should_be_has_no_finding(volts):
    scale = volts / 12.6
    assert found(*brake_lamp(volts=volts, fuse_a=5.0 if scale >= 1 else 7.5, size="20" if scale >= 1 else "14")) == {}


def test_a_fuse_over_what_its_wire_bears_is_named_with_both():
    each = found(*brake_lamp(fuse_a=40.0))["fuse_for_wire", "run"]
    assert (each.severity, each.by, each.value, each.limit) == ("error", "F1", 40.0, 5.0)


def test_the_smaller_of_two_fuses_on_a_road_counts_and_the_wider_of_two_roads():
    inner = part(Fuse, "F2", "lamp", "branch", rating_a=3.0)
    thin = part(Wire, "thin", "branch", "end", length_m=1.0, size="22")
    lamp = part(Lamp, "marker", "end", rated_v=14.0, rated_a=0.3)
    base = brake_lamp(fuse_a=20.0, size="12")
    assert found(*base, inner, thin, lamp) == {}
    second = part(Fuse, "F3", "fused", "branch", rating_a=15.0)
    assert found(*base, inner, thin, lamp, second)["fuse_for_wire", "thin"].by == "F3"


def test_no_fuse_is_said_once_where_the_road_begins_and_a_short_lead_to_the_first_is_none():
    bare = found(*brake_lamp(fuse_a=None))
    assert [(rule, subject) for rule, subject in bare] == [("no_fuse", "run")]
    near, far = (
        (
            part(Wire, "pigtail", "bat", "post", length_m=metres, size="12"),
            part(Fuse, "F1", "post", "x", rating_a=5.0),
        )
        for metres in (0.15, 1.5)
    )
    rest = (Battery(name="battery", nodes={"+": "bat", "-": "gnd"}), part(Lamp, "lamp", "x", rated_a=0.5))
    assert ("no_fuse", "pigtail") not in found(*near, *rest)
    assert ("no_fuse", "pigtail") in found(*far, *rest)


def test_a_computer_output_guards_what_it_feeds():
    nodes = {"supply": "bat", "out": "lamp"}
    output = ComputerOutput(name="computer", nodes=nodes, full_with=("brake",), trip_above_a=8.0)
    battery = Battery(name="battery", nodes={"+": "bat", "-": "gnd"})
    assert found(battery, output, part(Wire, "w", "lamp", "end", length_m=2.0), part(Lamp, "lamp", "end")) == {}


def test_a_lamp_starved_by_its_wire_names_the_wire_and_by_its_ground_wire_that():
    each = found(*brake_lamp(metres=60.0))["lost_on_the_way", "stop lamp"]
    # 20 AWG is 33.3 ohm/km (ASTM B258): 60 m are 2.0 ohm, over which 1.7 A lose 3.5 V
    assert each.by == "run"
    assert each.value == pytest.approx(3.5, abs=0.2)
    long = part(Wire, "ground wire", "return", "gnd", length_m=20.0, size="20")
    without = [each for each in brake_lamp() if each.name != "stud"]
    assert found(*without, long)["lost_on_the_way", "stop lamp"].by == "ground wire"


@pytest.mark.parametrize(
    ("volts", "lamp", "rule"),
    [
        (12.6, {"rated_v": 28.0, "rated_a": 0.9}, "wrong_system"),
        (6.3, {"rated_v": 12.8}, "wrong_system"),
        (25.2, {"rated_v": 12.8, "rated_a": 2.1}, "over_volts"),
        (12.6, {"rated_v": 6.4}, "over_volts"),
    ],
)
def test_a_bulb_of_another_system_is_named(volts, lamp, rule):
    assert (rule, "stop lamp") in found(*brake_lamp(volts=volts, fuse_a=10.0, size="14", **lamp))


def test_a_12_v_led_string_and_a_double_bulb_on_24_v_are_named():
    battery = Battery(name="battery", nodes={"+": "bat", "-": "gnd"}, volts=25.2)
    fuse = part(Fuse, "F1", "bat", "a", rating_a=20.0)
    double = DualLamp(name="double", nodes={"tail": "a", "stop": "a", "to": "gnd"})
    seen = found(battery, fuse, part(Led, "led", "a"), double, part(Led, "wide", "a", regulated=True))
    assert {subject for rule, subject in seen if rule == "over_volts"} == {"led", "double"}


def test_two_flashers_in_a_row_are_named():
    first, second = (
        Flasher(name=name, nodes={"49": into, "49a": out}) for name, into, out in (("A", "f", "m"), ("B", "m", "t"))
    )
    rest = (
        Battery(name="battery", nodes={"+": "bat", "-": "gnd"}),
        part(Fuse, "F1", "bat", "f", rating_a=10.0),
        part(Switch, "left", "t", "lamps", closed_with=("left",)),
        part(Lamp, "front", "lamps"),
        part(Lamp, "rear", "lamps"),
    )
    assert found(first, second, *rest, states=("left",))["flashers_in_series", "B"].by == "A"
    beside = Flasher(name="B", nodes={"49": "f", "49a": "t2"})
    assert not any(rule == "flashers_in_series" for rule, _ in found(first, beside, *rest, states=("left",)))


def ignition(*more):
    return (
        Battery(name="battery", nodes={"+": "bat", "-": "gnd"}),
        part(Fuse, "F1", "bat", "a", rating_a=10.0),
        part(Switch, "ignition", "a", "ign", closed_with=("key",)),
        part(Resistor, "radio", "ign", ohm=20.0),
        part(Fuse, "F2", "bat", "o", rating_a=10.0),
        part(Switch, "own switch", "o", "out", closed_with=("own_switch",)),
        part(Lamp, "bar", "out"),
        *more,
    )


def test_the_lamp_of_an_own_switch_that_feeds_the_ignition_is_named():
    states = ("rest", "key", "own_switch", "key+own_switch")
    lit = part(Lamp, "switch lamp", "ign", "out", rated_v=14.0, rated_a=0.1)
    each = found(*ignition(lit), states=states)["sneak_feed", "ignition"]
    assert (each.by, each.mends, each.state) == ("switch lamp", "", "own_switch")
    grounded = part(Lamp, "switch lamp", "out", rated_v=14.0, rated_a=0.1)
    assert found(*ignition(grounded), states=states) == {}


def two_doubles(*, shorted=False, ground=None):
    elements = [
        Battery(name="battery", nodes={"+": "bat", "-": "gnd"}),
        part(Fuse, "F1", "bat", "a", rating_a=10.0),
        part(Switch, "brake", "a", "s", closed_with=("brake",)),
        part(Switch, "park", "a", "t", closed_with=("park",)),
        DualLamp(name="left", nodes={"stop": "s", "tail": "t", "to": "g"}, shorted=shorted),
        DualLamp(name="right", nodes={"stop": "s", "tail": "t", "to": "gnd"}),
    ]
    return [*elements, *([ground] if ground else [])]


def stud(**values):
    return Ground(name="stud", nodes={"at": "g", "to": "gnd"}, **values)


@pytest.mark.parametrize(
    ("elements", "by", "mends"),
    [
        (two_doubles(shorted=True, ground=stud()), "left", "part"),
        (two_doubles(ground=stud(open=True)), "stud", "part"),
        (two_doubles(ground=stud(resistance_ohm=500.0)), "stud", "part"),
        (two_doubles(), "left", "ground"),
    ],
    ids=["filaments touch", "ground open", "ground bad", "no ground"],
)
def test_a_lamp_lit_by_a_fault_is_sent_to_the_fault_and_not_to_a_diode(elements, by, mends):
    wrong = {each for key, each in found(*elements, states=("park", "brake")).items() if key[0] == "wrong_road"}
    assert {(each.by, each.mends) for each in wrong} == {(by, mends)}


@pytest.mark.parametrize("name", VEHICLES)
def test_a_whole_vehicle_has_nothing_that_must_be_changed(name):
    """Factories fuse closer to the wire than we do, and lose up to some 0.6 V: warnings, and no others."""
    seen = review(simulate(factory_circuit(VEHICLES[name]).network, TABLE_STATES))
    assert {each.rule for each in seen} <= {"fuse_for_wire", "lost_on_the_way"}
    assert {each.severity for each in seen} <= {"warning"}
