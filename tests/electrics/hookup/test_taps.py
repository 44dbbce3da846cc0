"""Truth tables and taps, against mistakes that people make by hand (common practice, no source)."""

from __future__ import annotations

import pytest

from electrics.hookup.joints import fit_joint, joint_methods
from electrics.hookup.taps import additions, rank_taps, truth_table
from electrics.identify.belief import identify
from electrics.reference.conductor import WireStandard, conductor
from electrics.signals import Scenario
from electrics.vocabulary import Arrangement, BrakeWithHazard, Function
from lamps import GRID, all_pins, point

SEPARATE = Scenario(Arrangement.SEPARATE)
COMBINED = Scenario(Arrangement.COMBINED, BrakeWithHazard.FLASH_WINS)


def wrong(wanted, source, scenario=SEPARATE):
    return {str(row.state) for row in truth_table(wanted, source, scenario) if not row.agrees}


@pytest.mark.parametrize("function", [Function.REVERSE, Function.STOP, Function.TAIL, Function.TURN_LEFT])
def test_a_circuit_of_the_same_kind_is_right_in_every_state(function):
    assert wrong(function, function) == set()


def test_mirror_turn_from_a_combined_rear_feed_lights_under_braking():
    states = wrong(Function.TURN_LEFT, Function.STOP_TURN_LEFT, COMBINED)
    assert "brake" in states
    assert "left" not in states


def test_stop_lamp_from_a_combined_feed_flashes_with_left_and_hazard():
    assert {"left", "hazard", "brake+left", "brake+hazard"} <= wrong(Function.STOP, Function.STOP_TURN_LEFT, COMBINED)


def test_marker_taken_for_turn_just_stays_lit():
    assert {"park", "left", "hazard"} <= wrong(Function.TURN_LEFT, Function.TAIL)


def test_reverse_lamps_from_ignition_burn_with_the_key():
    assert {"key", "left"} <= wrong(Function.REVERSE, Function.IGNITION)


def test_the_reverse_feed_is_proposed_and_every_loser_has_a_reason():
    (belief,) = identify([point(*GRID)])
    best, *losers = rank_taps(belief, Function.REVERSE)
    assert best.wire.pin == "3"
    assert best.is_right
    assert all(loser.refusals for loser in losers)
    assert {loser.wire.pin: loser.refusals[0] for loser in losers} == {
        "1": "never",
        "2": "differs",
        "4": "differs",
        "5": "differs",
    }


def test_an_unsettled_wire_is_not_offered():
    (belief,) = identify([point(("rest", all_pins()), ("reverse", {"3": "12.2"}))])
    tap = next(tap for tap in rank_taps(belief, Function.REVERSE) if tap.wire.pin == "3")
    assert tap.wire.function is Function.REVERSE
    assert tap.refusals == ("unsettled",)


def test_a_data_line_is_never_a_tap():
    columns = [(state, {"1": "2.6", "2": "2.4"}) for state in ("rest", "key", "brake", "reverse")]
    (belief,) = identify([point(*columns, ("asleep", {"1": "0.0", "2": "0.0"}), pins="12", kind="connector")])
    for wanted in (Function.REVERSE, Function.STOP, Function.DATA):
        assert all("never" in tap.refusals for tap in rank_taps(belief, wanted))


def test_a_pulsed_feed_is_refused_even_where_it_seems_to_fit():
    columns = (("park", all_pins(p4="3.1")), ("brake", all_pins(p4="12.2")), ("left", all_pins(p5="flash")))
    (belief,) = identify([point(*columns)])
    tap = next(tap for tap in rank_taps(belief, Function.STOP) if tap.wire.pin == "4")
    assert "pulsed" in tap.refusals


def test_running_lamps_are_not_tapped_to_a_tail_feed_in_pulses():
    """A pulsed feed flickers LEDs (common practice): the wire is tail, and yet no tap."""
    park, low = ({**all_pins(), "2": volts} for volts in ("2.9", "3.0"))
    columns = (*(c for c in GRID if c[0] != "park"), ("park", park), ("low", low), ("fog_rear", low))
    (belief,) = identify([point(*columns)])
    tap = next(tap for tap in rank_taps(belief, Function.TAIL) if tap.wire.pin == "2")
    assert (tap.wire.function, tap.wire.variant) == (Function.TAIL, "pulsed")
    assert "pulsed" in tap.refusals


@pytest.mark.parametrize("addition", list(additions()), ids=lambda addition: addition.id)
def test_every_addition_wants_what_some_circuit_gives(addition):
    assert wrong(addition.wanted, addition.wanted) == set()
    assert addition.count >= 1


@pytest.mark.parametrize(
    ("method", "host", "branch", "exposed", "warnings"),
    [
        ("displacement_tap", "18", "16", True, ("exposed", "unlike_gauges")),
        ("displacement_tap", "18", "18", False, ()),
        ("solder", "20", "16", True, ()),
        ("fuse_tap", "18", "18", True, ("exposed",)),
        ("crimp_butt", "18", "16", True, ()),
    ],
)
def test_joints_that_do_not_fit_are_warned_of(method, host, branch, exposed, warnings):
    """Never insulation-displacement taps in spray; they must match the host gauge (common practice)."""
    wires = [conductor(WireStandard.AWG, size) for size in (host, branch)]
    assert fit_joint(joint_methods()[method], *wires, exposed=exposed).warnings == warnings


def test_the_connector_fits_the_thicker_wire():
    """Red 22 to 18, blue 16 to 14, yellow 12 to 10 AWG (common practice)."""
    colours = [
        fit_joint(
            joint_methods()["crimp_butt"],
            conductor(WireStandard.AWG, "18"),
            conductor(WireStandard.AWG, size),
            exposed=True,
        ).connector_colour
        for size in ("20", "16", "12")
    ]
    assert colours == ["red", "blue", "yellow"]
