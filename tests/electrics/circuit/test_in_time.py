"""Capacitors, decoders and smoothing parts: in time against ngspice, and by figures of the trade."""

from __future__ import annotations

from dataclasses import replace

import numpy as np
import pytest

from electrics.circuit.elements import (
    Battery,
    Capacitor,
    ComputerOutput,
    Decoder,
    Flasher,
    Led,
    Resistor,
    Smoother,
    Switch,
)
from electrics.circuit.findings import findings
from electrics.circuit.junction import THERMAL_V
from electrics.circuit.network import Network
from electrics.circuit.simulate import simulate
from electrics.circuit.transient import Phase, cold_test_phases, flash_phases, pulse_phases, transient
from electrics.reference.parts import diodes
from electrics.vocabulary import parse_state
from ngspice import MISSING, NGSPICE, in_time

REST = parse_state("rest")


def behind(source, *more, amps_a=0.2, volts=13.5, **held):
    """A source, a decoder without load unless it is said, and an LED behind it."""
    battery = Battery(name="B", nodes={"+": "bat", "-": "gnd"}, volts=volts, resistance_ohm=0.05)
    decoder = Decoder(name="D", nodes={"in": "x", "out": "y", "31": "gnd"}, **({"load_ohm": 0.0} | held))
    return Network((battery, *source, decoder, Led(name="L", nodes={"from": "y", "to": "gnd"}, amps_a=amps_a), *more))


def source_in_tests(ohm=0.09, hz=2.0, **more):
    """A supply with some resistance, and an output that tests its lamp cold."""
    return (
        Resistor(name="R", nodes={"from": "bat", "to": "s"}, ohm=ohm),
        ComputerOutput(
            name="C", nodes={"supply": "s", "out": "x"}, test_pulses=True, test_hz=hz, trip_above_a=100, **more
        ),
    )


def pulsing(network):
    return network.with_changed(replace(network["C"], full_with=("rest",)))


def cold_test(network, pulses):
    return transient(cold_test_phases(network, network["C"], REST, pulsing(network), pulses=pulses))


@pytest.mark.skipif(NGSPICE is None, reason=MISSING)
@pytest.mark.parametrize("held", [{}, {"series_ohm": 10.0, "bleed_ohm": 330.0, "microfarad": 1000.0}])
def test_a_decoder_in_test_pulses_agrees_with_ngspice_in_time(held, tmp_path):
    network = behind(source_in_tests(), **held)
    values = network["D"]
    saturation, slope, series = diodes()["1N5404"].model()
    led = next(branch for branch in network.system.branches if branch.owner == "L")
    string = network.system.junctions
    n = led.place
    deck = f"""* test pulses of 1 ms, twice a second
V1 b 0 PULSE(0 13.5 0 1n 1n 1m 500m)
R1 b x {0.05 + 0.09 + 2 * 0.03:g}
D1 x z d1
.model d1 d(is={saturation:.9g} n={slope / THERMAL_V:.9g} rs={series:.9g})
Rs z y {max(values.series_ohm, 1e-6):g}
Rc y c 0.05
C1 c 0 {values.microfarad * 1e-6:g} ic=0
{f"Rb y 0 {values.bleed_ohm:g}" if values.bleed_ohm else ""}
D2 y 0 d2
.model d2 d(is={string.saturation_a[n]:.9g} n={string.slope_v[n] / THERMAL_V:.9g} rs={string.series_ohm[n]:.9g})
.options reltol=1e-5
.tran 2u 900m 0 50u uic
.end
"""
    found = in_time(deck, ["y"], tmp_path)["y"]
    at, volts = np.array([each[0] for each in found]), np.array([each[1] for each in found])
    ours = cold_test(network, 2)
    for moment in (0.0005, 0.001, 0.01, 0.05, 0.2, 0.5005, 0.501, 0.6):
        mine = float(np.interp(moment, ours.times_s, ours.volts["y"]))
        assert mine == pytest.approx(float(np.interp(moment, at, volts)), rel=0.02, abs=0.03), moment


@pytest.mark.parametrize("microfarad", [220, 1000, 2000])
def test_a_bare_capacitor_makes_a_test_pulse_visible_and_draws_43_amperes(microfarad):
    """By a circuit simulator: lit 38, 170 and 329 ms after 1 ms; 43 A at 0.25 ohm. An LED of 0.23 A."""
    run = cold_test(behind(source_in_tests(), amps_a=0.23, microfarad=microfarad), 1)
    lit_ms = {220: 38, 1000: 170, 2000: 329}[microfarad]
    assert 1000 * run.lit_s("L", above=0.01) == pytest.approx(lit_ms, rel=0.1)
    assert run.most_a == pytest.approx(43, rel=0.04)


def test_ten_ohm_a_large_capacitor_and_a_bleed_keep_it_dark():
    """Common practice: 10 ohm, 470 microfarad and 330 ohm stay under 3 V at two pulses a second."""
    network = behind(source_in_tests(), series_ohm=10.0, bleed_ohm=330.0, microfarad=470.0)
    assert cold_test(network, 4).volts["y"].max() < 3.0
    assert not {each.rule for each in findings(simulate(network, ["rest"]))}
    assert {each.rule for each in findings(simulate(behind(source_in_tests()), ["rest"]))} == {"test_pulse_glow"}


def beating(microfarad):
    """A flasher at 120 a minute, an LED of 0.2 A behind a capacitor."""
    flasher = Flasher(name="F", nodes={"49": "bat", "49a": "a"}, threshold_a=1.0)
    network = behind((flasher, Switch(name="S", nodes={"from": "a", "to": "x"}, closed_with=("left",))))
    network = network.with_changed(replace(network["D"], microfarad=microfarad))
    phases = [
        Phase(each.network, each.state, each.lit, True, 0.25) for each in flash_phases(network, "left", beats=4)
    ]
    return network, transient(phases).lit_s("L", above=0.01, since_s=1.0)


@pytest.mark.parametrize(("microfarad", "share"), [(470, 0.66), (1000, 0.85), (2000, 1.0)])
def test_a_capacitor_carries_a_turn_lamp_over_the_dark(microfarad, share):
    """By a circuit simulator, at 120 a minute and 0.2 A; SAE J590 ends at 75 % lit."""
    network, lit_s = beating(microfarad)
    assert lit_s == pytest.approx(share, abs=0.05)
    named = {each.rule for each in findings(simulate(network, ["left"]))}
    assert "never_dark" in named  # it flashes fast here, at 180 a minute
    small = network.with_changed(replace(network["D"], microfarad=47.0))
    assert "never_dark" not in {each.rule for each in findings(simulate(small, ["left"]))}


@pytest.mark.parametrize("kind", [Decoder, Smoother])
def test_a_capacitor_makes_a_tail_lamp_pulsed_at_22_percent_as_bright_as_stop(kind):
    """Common practice: refused. At rest in the mean, and followed in time."""
    output = ComputerOutput(
        name="C", nodes={"supply": "bat", "out": "x"}, full_with=("brake",), dims_with=("park",), duty=0.22
    )
    network = behind((output,))
    part = kind(name="D", nodes=network["D"].nodes, microfarad=2200.0)
    network = network.with_changed(part)
    found = simulate(network, ["park", "brake"])
    park, brake = found.at("park").light("L"), found.at("brake").light("L")
    assert park > 0.9 * brake
    run = transient(pulse_phases(network, "park", pulses=30))
    assert run.mean_light("L", since_s=0.25) == pytest.approx(park, rel=0.05)
    assert "pulses_filled" in {each.rule for each in findings(found)}


def test_a_capacitor_discharges_by_its_time_constant_and_is_open_at_rest():
    """v = V exp(-t / RC), in closed form."""
    parts = (
        Battery(name="B", nodes={"+": "bat", "-": "gnd"}, volts=10.0, resistance_ohm=0.1),
        Switch(name="S", nodes={"from": "bat", "to": "x"}, closed_with=("brake",)),
        Capacitor(name="K", nodes={"+": "x", "-": "gnd"}, microfarad=1000.0),
        Resistor(name="R", nodes={"from": "x", "to": "gnd"}, ohm=100.0),
    )
    network = Network(parts)
    assert simulate(network, ["brake"]).at("brake").amps("K", "charge") == 0
    run = transient(
        [
            Phase(network, parse_state("brake"), True, True, 0.05),
            Phase(network, REST, True, True, 0.1),
        ]
    )
    assert run.volts["x"][-1] == pytest.approx(10.0 * np.exp(-1.0), rel=0.02)
