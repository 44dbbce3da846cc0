"""What a virtual instrument reads on solved circuits is what the same class says it shows there."""

from __future__ import annotations

import pytest

from electrics.circuit.elements import Battery, BrakeController, Bus, Lamp, Resistor
from electrics.circuit.network import Network
from electrics.document.places import AccessPoint, Evidence, Setup, Side, Wire
from electrics.errors import CircuitError
from electrics.formats.reading_text import Word
from electrics.identify.belief import identify
from electrics.identify.conditions import LampKind, conditions
from electrics.identify.likelihood import LAMP_KINDS
from electrics.instruments.every import INSTRUMENTS, meter_for, shown_in
from electrics.instruments.meter import Probe
from electrics.lighting.vehicle import Lamps, VehicleDescription, factory_circuit
from electrics.signals import Scenario
from electrics.vocabulary import Arrangement, Instrument, Load, parse_state

SUPPLY_V = 12.6
STATES = ("rest", "park", "brake", "left", "right", "hazard", "reverse", "low", "high", "key", "engine", "brake+left")
TELLS = [instrument for instrument, meter in INSTRUMENTS.items() if meter.is_evidence]
NO_LESS = 0.25
"""How likely a reading must at least be where it was read, against as a mistake [-]."""


def factory(arrangement, lamps, system_v=12):
    """With LED lamps neither pilot nor markers between two feeds: what they feed back is a fault of its own."""
    filament = lamps is Lamps.FILAMENT
    has = {"has_side_markers": filament, "has_trailer_socket": True, "has_fogs": True, "low_stays": True}
    has["pilot"] = "two" if filament else ""
    return factory_circuit(
        VehicleDescription(system_v=system_v, scenario=Scenario(arrangement), rear=lamps, front=lamps, **has)
    )


VEHICLES = [(arrangement, lamps, 12) for arrangement in Arrangement for lamps in Lamps]
VEHICLES += [(Arrangement.SEPARATE, Lamps.FILAMENT, system_v) for system_v in (6, 24)]


@pytest.mark.parametrize(("arrangement", "lamps", "system_v"), VEHICLES)
def test_no_reading_of_a_solved_circuit_surprises_the_instrument_that_made_it(arrangement, lamps, system_v):
    """Every point of a factory circuit, every instrument: never four times likelier as a mistake than as it is."""
    found, supply_v = factory(arrangement, lamps, system_v), SUPPLY_V * system_v / 12
    surprises = []
    for name, spot in found.spots.items():
        for instrument in set(TELLS) - {Instrument.CLAMP}:
            meter = meter_for(instrument)
            states = ("rest",) if instrument in (Instrument.OHMS, Instrument.LOADED_DROP) else STATES
            for state, reading in zip(states, meter.read(Probe(found.network, spot.node), states), strict=True):
                asked = spot.function, spot.variant, parse_state(state), Scenario(arrangement)
                shown = (shown_in(instrument, conditions(*asked, kind, Load.IN), supply_v) for kind, _ in LAMP_KINDS)
                likely = max(meter.likelihood(reading, each, supply_v) for each in shown)
                mistaken = meter.likelihood(reading, meter.mistaken(supply_v), supply_v)
                if likely < NO_LESS * mistaken:
                    surprises.append(f"{name}: {instrument} {state} {reading}")
    assert not surprises


@pytest.mark.parametrize(("arrangement", "lamps", "system_v"), VEHICLES)
def test_a_lamp_measured_out_on_its_solved_circuit_is_identified(arrangement, lamps, system_v):
    found, supply_v = factory(arrangement, lamps, system_v), SUPPLY_V * system_v / 12
    pins = {name: spot for name, spot in found.spots.items() if name.startswith("rear left: ")}
    setups = [Setup(parse_state(state)) for state in (*STATES, "fog_rear")]
    if lamps is Lamps.FILAMENT:
        setups += [Setup(parse_state("rest"), how) for how in (Instrument.LOADED_DROP, Instrument.OHMS)]
    evidence = tuple(
        Evidence(pin, setup, reading, supply_v)
        for pin, spot in pins.items()
        for setup in setups
        for reading in meter_for(setup.instrument).read(Probe(found.network, spot.node), [setup.state])
    )
    wires = tuple(map(Wire, pins))
    (belief,) = identify([AccessPoint("rear lamp", wires, evidence, "rear_lamp", Side.LEFT)])
    assert {wire.pin: wire.function for wire in belief.wires} == {pin: spot.function for pin, spot in pins.items()}
    assert len(pins) >= 5


def wired(*elements):
    return Network((Battery(name="battery", nodes={"+": "bat", "-": "gnd"}, volts=SUPPLY_V), *elements))


def reads(instrument, *elements, state="brake", node="pin"):
    return meter_for(instrument).read(Probe(wired(*elements), node), [state])[0]


def lamp(**more):
    return Lamp(name="lamp", nodes={"from": "pin", "to": "gnd"}, **more)


def test_a_voltmeter_takes_a_leak_for_a_ghost_and_a_test_lamp_does_not():
    """10 MOhm against a leak of 30 MOhm: a quarter of 12.6 V (voltage divider); a filament draws it down."""
    leak = Resistor(name="leak", nodes={"from": "bat", "to": "pin"}, ohm=30e6)
    assert reads(Instrument.DMM, leak).low == pytest.approx(12.6 * 10 / 40, abs=0.01)
    assert reads(Instrument.TEST_LAMP, leak).word is Word.OFF


def test_pulses_are_an_average_to_a_voltmeter_both_colours_to_a_probe_and_hertz_to_a_counter():
    """Mean d V and ripple V sqrt(d (1 - d)) of a square wave (any textbook on signals)."""
    pulsed = BrakeController(name="output", nodes={"supply": "bat", "out": "pin"}, duty=0.25, pulse_hz=200.0), lamp()
    assert reads(Instrument.DMM, *pulsed).low == pytest.approx(0.25 * 12.6, rel=0.03)
    assert reads(Instrument.DMM_AC, *pulsed).low == pytest.approx(12.6 * (0.25 * 0.75) ** 0.5, rel=0.03)
    assert reads(Instrument.LED_PROBE, *pulsed).word is Word.BOTH
    assert reads(Instrument.HERTZ, *pulsed).low == 200.0
    assert reads(Instrument.TEST_LAMP, *pulsed).word is Word.DIM


def test_an_ohmmeter_adds_its_leads_and_a_bus_talks_while_it_is_awake():
    assert reads(Instrument.OHMS, lamp(), state="rest").low == pytest.approx(0.2 + 12.8 / 2.1 / 15, abs=0.06)
    bus = Bus(name="bus", nodes={"line": "pin", "31": "gnd"})
    assert reads(Instrument.DMM, bus).low == pytest.approx(2.5, abs=0.01)
    assert reads(Instrument.HERTZ, bus).low > 1e3
    assert reads(Instrument.HERTZ, bus, state="asleep").word is Word.NONE


def test_an_instrument_held_where_nothing_is_says_so():
    with pytest.raises(CircuitError):
        reads(Instrument.OHMS, lamp(), node="nowhere")
    with pytest.raises(KeyError):
        reads(Instrument.THERMOMETER, lamp())
    assert LampKind.LED in dict(LAMP_KINDS)
