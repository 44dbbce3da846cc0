"""What somebody says a wire does, held against what a meter shows at a solved vehicle's own pins."""

import pytest
from hypothesis import given
from hypothesis import strategies as st

from electrics.document.places import Evidence, Setup
from electrics.formats.reading_text import parse_reading
from electrics.identify.against import likeliest_variant, speaking_against
from electrics.instruments.every import meter_for
from electrics.instruments.meter import Probe
from electrics.lighting.vehicle import Lamps, VehicleDescription, factory_circuit
from electrics.signals import Scenario
from electrics.vocabulary import Arrangement, Function, Instrument, parse_state

F = Function
STATES = ("rest", "park", "brake", "left", "right", "hazard", "reverse", "key", "brake+left", "park+reverse")
AT_THE_REAR = (F.GROUND, F.TAIL, F.STOP, F.TURN_LEFT, F.TURN_RIGHT, F.REVERSE, F.BATTERY, F.IGNITION)


def measured(function, states=STATES, system_v=12, rear=Lamps.FILAMENT):
    """Volts of one wire in some states, as a meter reads the solved circuit."""
    found = factory_circuit(VehicleDescription(system_v=system_v, scenario=Scenario(Arrangement.SEPARATE), rear=rear))
    node = next(spot.node for spot in found.spots.values() if spot.function is function)
    readings = meter_for(Instrument.DMM).read(Probe(found.network, node), states)
    supply_v = 12.6 * system_v / 12
    return [
        Evidence("1", Setup(parse_state(state)), parse_reading(str(reading), Instrument.DMM), supply_v)
        for state, reading in zip(states, readings, strict=True)
    ]


@given(st.sampled_from(AT_THE_REAR), st.sampled_from((6, 12, 24)), st.sampled_from(list(Lamps)), st.data())
def test_a_wire_is_never_held_against_what_it_is(function, system_v, rear, data):
    """Whatever part of the grid was read."""
    states = data.draw(st.lists(st.sampled_from(STATES), min_size=1, unique=True))
    assert speaking_against(measured(function, states, system_v, rear), function, "plain") == ()


@pytest.mark.parametrize("said", AT_THE_REAR)
@pytest.mark.parametrize("function", AT_THE_REAR)
def test_a_wire_is_held_against_what_it_is_not(function, said):
    """Every wire of a rear lamp differs from every other in some state of the grid (common practice)."""
    if function is not said:
        assert speaking_against(measured(function), said, "plain")


def test_one_reading_that_was_read_again_and_then_fits_counts_for_nothing():
    slip, right = measured(F.STOP, ["brake"]), measured(F.REVERSE, ["brake"])
    assert speaking_against([*slip], F.REVERSE, "plain")
    assert not speaking_against([*slip, *right], F.REVERSE, "plain")


def test_a_variant_that_nobody_named_is_the_one_that_was_read():
    pulsed = [Evidence("1", Setup(parse_state("park")), parse_reading("3.1 V", Instrument.DMM), 12.6)]
    assert likeliest_variant(pulsed, F.TAIL) == "pulsed"
    heard = Evidence(
        "1", Setup(parse_state("park"), Instrument.HERTZ), parse_reading("110 Hz", Instrument.HERTZ), 12.6
    )
    high = Evidence("1", Setup(parse_state("park")), parse_reading("9.1 V", Instrument.DMM), 12.6)
    assert likeliest_variant([high, heard], F.TAIL) == "pulsed"  # a computer holds some tail lamps at 9 V
    assert likeliest_variant([], F.TAIL) == "plain"
    assert likeliest_variant(measured(F.STOP), F.REVERSE) == "plain"  # never turned round by a reading alone
