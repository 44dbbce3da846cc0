"""A ground by what it does under load: what others lift it by is taken off."""

from __future__ import annotations

import pytest

from electrics.document.places import AccessPoint, Evidence, Setup, Wire
from electrics.formats.reading_text import parse_reading
from electrics.identify.belief import identify
from electrics.identify.grounds import good_for_a, less_at_rest
from electrics.vocabulary import Function, Instrument, parse_state


def read(state, text, instrument=Instrument.DMM, supply_v=12.6):
    return Evidence("1", Setup(parse_state(state), instrument), parse_reading(text, instrument), supply_v)


def dropped(text, supply_v=12.6):
    return read("rest", text, Instrument.LOADED_DROP, supply_v)


def believed(*evidence):
    place = AccessPoint("lamp", (Wire("1"), Wire("2")), evidence, "rear_lamp", "left")
    (found,) = identify([place])
    return found.wire("1")


def test_a_column_ground_lifted_by_others_is_ground_by_its_rise_under_the_test_lamp():
    """60 mV on a shared ground, 65 mV with a test lamp on it: 5 mV are the lamp's (common practice)."""
    states = [read(state, "0.06 V") for state in ("rest", "brake", "left", "park")]
    assert believed(*states, dropped("0.065 V")).probability_of(Function.GROUND) > 0.95
    assert believed(*[read("brake", "0.00 V")], dropped("0.065 V")).probability_of(Function.GROUND) < 0.5


@pytest.mark.parametrize("lifted", ["0.03", "0.06", "0.10"])
def test_a_cold_filament_on_a_lifted_ground_is_no_ground(lifted):
    """One of 21 W drops 0.11 to 0.34 V under a test lamp of 0.25 A (worked out from its cold resistance)."""
    drop = dropped(f"{float(lifted) + 0.17:.3f} V")
    states = [read(state, f"{lifted} V") for state in ("rest", "park")]
    assert believed(*states, drop).probability_of(Function.GROUND) < 0.05


@pytest.mark.parametrize(
    ("rest", "drop", "rise_v"),
    [
        ([("rest", "0.06")], "0.065", 0.005),
        ([("rest", "0.00")], "0.03", 0.03),
        ([("rest", "0.4")], "0.45", 0.45),  # no ground reads that much: nothing is taken off
        ([("brake", "0.06")], "0.065", 0.065),  # one other state alone says little of rest
        ([("brake", "0.06"), ("park", "0.04")], "0.065", 0.025),
        ([("rest", "0.09")], "0.02", 0.02),  # less with the lamp on than without: something else was measured
    ],
)
def test_only_what_the_test_lamp_adds_counts(rest, drop, rise_v):
    evidence = (*(read(state, f"{text} V") for state, text in rest), dropped(f"{drop} V"))
    assert less_at_rest(evidence)[-1].reading.low == pytest.approx(rise_v)
    assert less_at_rest(evidence)[:-1] == evidence[:-1]


@pytest.mark.parametrize(("supply_v", "drop", "amps"), [(12.6, "0.030", 0.1 / 0.12), (25.2, "0.030", 0.2 / 0.24)])
def test_what_a_ground_carries_is_its_resistance_into_what_may_be_lost(supply_v, drop, amps):
    """30 mV at 0.25 A are 0.12 ohm: 0.8 A within 0.1 V; a 24 V test lamp of the same watts draws half (by hand)."""
    assert good_for_a([dropped(f"{drop} V", supply_v)]) == pytest.approx(amps, rel=0.02)
    assert good_for_a([read("rest", "0.03 V")]) is None
    lifted = [read("rest", "0.06 V", supply_v=supply_v), dropped("0.065 V", supply_v)]
    assert good_for_a(lifted) > amps
