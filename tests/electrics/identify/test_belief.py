"""Belief from readings: facts of the trade, contradictions, and the laws of probability."""

from __future__ import annotations

import random

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from electrics.document.places import AccessPoint, Claim, Evidence, Origin, Setup, Side, Wire
from electrics.formats.reading_text import parse_reading
from electrics.identify.belief import identify
from electrics.identify.settle import least_sure
from electrics.identify.weighing import CLAIM_FACTORS
from electrics.vocabulary import Arrangement, Function, Instrument, Load, parse_state
from lamps import GRID, REAR, all_pins, point


def functions(belief):
    return {wire.pin: wire.function for wire in belief.wires}


def test_a_plain_rear_lamp_is_settled_by_five_columns():
    (belief,) = identify([point(*GRID)])
    assert functions(belief) == REAR
    assert belief.is_settled
    assert belief.arrangement[Arrangement.SEPARATE] > 0.95


def test_at_rest_nothing_tells_ground_from_a_resting_feed():
    """Both wires of a reverse lamp read ground at rest (common practice)."""
    (belief,) = identify([point(("rest", {"1": "0.0", "2": "0.0"}), pins="12")])
    assert not any(wire.is_settled for wire in belief.wires)
    (belief,) = identify([point(("rest", {"1": "green", "2": "green"}, Instrument.LED_PROBE), pins="12")])
    assert not any(wire.is_settled for wire in belief.wires)


def test_the_loaded_drop_tells_ground_from_feed_at_rest():
    (belief,) = identify([point(("rest", {"1": "0.02", "2": "0.22"}, Instrument.LOADED_DROP), pins="12")])
    assert belief.wire("1").function is Function.GROUND
    assert belief.wire("2").probability_of(Function.GROUND) < 0.05


def test_brake_alone_leaves_stop_and_stop_turn_open():
    (belief,) = identify([point(("brake", all_pins(p4="12.2")))])
    wire = belief.wire("4")
    assert not wire.is_settled
    assert {function for function, _ in wire.ranked[:2]} == {Function.STOP, Function.STOP_TURN_LEFT}


@pytest.mark.parametrize(
    ("with_left", "function", "arrangement"),
    [
        ("0-12", Function.STOP_TURN_LEFT, Arrangement.COMBINED),
        ("12.2", Function.STOP, Arrangement.SEPARATE),
    ],
)
def test_brake_and_left_together_part_them(with_left, function, arrangement):
    columns = (("brake", all_pins(p4="12.2")), ("brake+left", {"4": with_left}))
    (belief,) = identify([point(*columns)])
    assert belief.wire("4").function is function
    assert belief.arrangement[arrangement] > 0.9


def test_access_points_of_one_vehicle_share_the_arrangement():
    left = point(("brake", all_pins(p4="12.2")), ("left", {"4": "flash"}), name="left")
    right = point(("brake", all_pins(p4="12.2")), side=Side.RIGHT, name="right")
    _, belief = identify([left, right])
    (alone,) = identify([right])
    assert belief.wire("4").function is Function.STOP_TURN_RIGHT
    assert belief.wire("4").probability > alone.wire("4").probability_of(Function.STOP_TURN_RIGHT) + 0.2


def test_a_known_arrangement_is_taken_as_known():
    (belief,) = identify([point(("brake", all_pins(p4="12.2")))], arrangement=Arrangement.COMBINED)
    assert belief.arrangement[Arrangement.SEPARATE] < 1e-6
    assert belief.wire("4").function is Function.STOP_TURN_LEFT


def test_one_odd_reading_is_named_and_does_not_settle():
    odd = (*GRID, ("low", {"2": "12.2"}), ("high", {"2": "0.0"}))
    (belief,) = identify([point(*odd)])
    (contradiction,) = belief.contradictions
    assert (contradiction.evidence.pin, str(contradiction.evidence.setup.state)) == ("2", "high")
    assert contradiction.function is Function.TAIL
    assert belief.wire("2").function is Function.TAIL
    assert not belief.wire("2").is_settled


def test_what_all_else_says_is_never_what_the_odd_reading_says():
    """Nothing in brake but battery in brake and left: one of the two is wrong, and the sentence must not eat itself."""
    columns = [(state, all_pins(p4="0.0")) for state in ("rest", "key", "park", "brake", "left", "right", "hazard")]
    columns += [("brake+left", all_pins(p4="12.2", p5="0-12")), ("reverse", all_pins(p3="12.2"))]
    (belief,) = identify([point(*columns, kind="connector", side=Side.NONE)])
    named = {
        str(item.evidence.setup.state): item.function for item in belief.contradictions if item.evidence.pin == "4"
    }
    assert named.get("brake+left", Function.GROUND) not in (Function.STOP, Function.BATTERY)
    assert named.get("brake", Function.STOP) is Function.STOP
    assert not belief.wire("4").is_settled


def test_measuring_the_odd_cell_again_closes_the_contradiction():
    again = (*GRID, ("low", {"2": "12.2"}), ("high", {"2": "0.0"}), ("high", {"2": "12.3"}))
    (belief,) = identify([point(*again)])
    assert belief.contradictions == ()
    assert belief.wire("2").is_settled


def test_two_wires_of_one_bulb_are_not_both_reverse_on_weak_evidence():
    (belief,) = identify([point(("reverse", {"1": "0.0", "2": "0.0", "3": "12.2"}), pins="123")])
    assert list(functions(belief).values()).count(Function.REVERSE) == 1


def test_two_wires_that_both_are_reverse_are_called_so():
    on = {"1": "0.0", "2": "12.2", "3": "12.2"}
    columns = [
        (state, on if state == "reverse" else dict.fromkeys("123", "0.0"))
        for state in ("rest", "reverse", "park", "left", "brake", "fog_rear", "key")
    ]
    (belief,) = identify([point(*columns, pins="123")])
    assert [belief.wire(pin).function for pin in "23"] == [Function.REVERSE, Function.REVERSE]


def test_a_dead_feed_is_found_by_pulling_the_lamp():
    """Two grounds at one bulb raise the suspicion; lamp out and ohms settles it (common practice)."""
    columns = [
        (state, {"1": "0.0", "2": "0.0"}) for state in ("rest", "park", "brake", "left", "reverse", "fog_rear")
    ]
    before = identify([point(*columns, pins="12")])[0]
    columns.append(("rest", {"1": "0.2 ohm", "2": "OL"}, Instrument.OHMS, Load.OUT))
    after = identify([point(*columns, pins="12")])[0]
    assert after.wire("1").function is Function.GROUND
    assert after.wire("2").probability_of(Function.DEAD_FEED) > before.wire("2").probability_of(Function.DEAD_FEED)
    assert after.wire("2").probability_of(Function.GROUND) < 0.06


def test_a_pair_near_two_and_a_half_volts_that_sleeps_is_data():
    """ISO 11898-2 levels; asleep they read about zero (common practice)."""
    columns = [(state, {"1": "2.6", "2": "2.4"}) for state in ("rest", "key", "brake")]
    columns.append(("asleep", {"1": "0.0", "2": "0.0"}))
    (belief,) = identify([point(*columns, pins="12", kind="connector", side=Side.NONE)])
    assert [wire.function for wire in belief.wires] == [Function.DATA, Function.DATA]


def test_part_voltage_in_park_and_full_with_brake_is_one_wire():
    """About 2.5 to 3.5 V on a dimmed 21 W filament (common practice)."""
    columns = (("park", all_pins(p4="3.1")), ("brake", all_pins(p4="12.2")), ("left", all_pins(p5="flash")))
    (belief,) = identify([point(*columns)])
    assert belief.wire("4").function is Function.TAIL_STOP_DIMMED


def test_readings_against_a_live_pin_are_turned_round():
    """From a battery pin to ground the meter shows minus battery."""
    live = [(state, {"1": "12.6"}) for state in ("rest", "key", "park", "brake")]
    base = point(*live, pins="12", kind="connector", side=Side.NONE)
    against = Evidence("2", Setup(parse_state("rest")), parse_reading("-12.6"), 12.6, against="1")
    (belief,) = identify([AccessPoint("x", base.wires, (*base.evidence, against))])
    assert belief.wire("2").probability_of(Function.BATTERY) < 0.05
    assert belief.wire("2").probability_of(Function.GROUND) > 0.05


@pytest.mark.parametrize(("supply_v", "scale"), [(6.3, 0.5), (25.2, 2.0)])
def test_6_and_24_volt_lamps_read_alike(supply_v, scale):
    scaled = [
        (state, {pin: f"{float(text) * scale:.2f}" if "-" not in text else text for pin, text in cells.items()})
        for state, cells, *how in GRID
        if state != "left" and not how
    ]
    columns = [*scaled, ("left", all_pins(p5="flash")), GRID[-1]]
    (belief,) = identify([point(*columns, supply_v=supply_v)])
    assert functions(belief) == REAR


def test_the_thermometer_says_nothing_about_function():
    before, after = (
        identify([point(*columns)])[0]
        for columns in (GRID, (*GRID, ("brake", {"1": "85 C"}, Instrument.THERMOMETER)))
    )
    assert after.marginals == pytest.approx(before.marginals)


def test_weights_say_which_reading_speaks_for_the_verdict():
    (belief,) = identify([point(*GRID)])
    strongest = max(belief.wire("3").weights, key=lambda weight: weight.bits)
    assert str(strongest.evidence.setup.state) == "reverse"
    assert strongest.bits > 2


@pytest.mark.parametrize(
    ("kind", "columns", "function"),
    [
        # common practice: the high stop lamp stays a pure stop lamp in both arrangements, the licence lamp is a tail feed,
        # a mirror's turn lamp is blind to the brake
        ("high_stop", (("rest", {"1": "0", "2": "0"}), ("brake", {"1": "0", "2": "12.2"})), Function.STOP),
        ("licence_lamp", (("rest", {"1": "0", "2": "0"}), ("park", {"1": "0", "2": "12.3"})), Function.TAIL),
        ("mirror", (("rest", {"1": "0", "2": "0"}), ("left", {"1": "0", "2": "0-12"})), Function.TURN_LEFT),
        ("side_lamp", (("park", {"1": "0", "2": "0"}), ("left", {"1": "0", "2": "flash"})), Function.TURN_LEFT),
    ],
)
def test_the_kind_of_place_tells_what_to_expect(kind, columns, function):
    (belief,) = identify([point(*columns, pins="12", kind=kind)])
    assert belief.wire("2").function is function
    (anywhere,) = identify([point(*columns, pins="12", kind="connector")])
    assert belief.wire("2").probability > anywhere.wire("2").probability_of(function)


def claimed(base, claims):
    wires = tuple(
        Wire(wire.pin, claims=(Claim(claims[wire.pin]),) if wire.pin in claims else ()) for wire in base.wires
    )
    return AccessPoint(base.name, wires, base.evidence, base.kind, base.side)


def test_a_claim_is_a_starting_belief_of_stated_strength():
    """Before any reading the odds of the claimed function rise by about its factor."""
    base = point(pins="1", kind="connector", side=Side.NONE)
    chances = [
        identify([claimed(base, claims)])[0].wire("1").probability_of(Function.REVERSE)
        for claims in ({}, {"1": Function.REVERSE})
    ]
    odds = [chance / (1 - chance) for chance in chances]
    assert odds[1] / odds[0] == pytest.approx(CLAIM_FACTORS[Origin.SAID], rel=0.01)


def test_the_measurement_wins_over_a_wrong_claim():
    (belief,) = identify([claimed(point(*GRID), {"4": Function.TAIL, "3": Function.REVERSE})])
    assert functions(belief) == REAR
    assert [wire.pin for wire in belief.wires if wire.disputed] == ["4"]


def test_a_claim_alone_never_settles_a_wire():
    (belief,) = identify([claimed(point(("rest", all_pins())), dict(REAR))])
    assert not any(wire.is_settled for wire in belief.wires)


def test_no_wires_is_no_error():
    (belief,) = identify([AccessPoint("empty", ())])
    assert belief.wires == ()


CELLS = st.tuples(
    st.sampled_from("123"),
    st.sampled_from(["rest", "park", "brake", "left", "brake+left", "reverse", "asleep", "hazard"]),
    st.sampled_from(["0.0", "12.2", "3.0", "0-12", "flash", "OL", "-12.4", "14.9", "7"]),
)


@settings(max_examples=40, deadline=None)
@given(st.lists(CELLS, max_size=25), st.randoms(use_true_random=False))
def test_any_readings_give_a_belief_and_their_order_does_not_matter(cells, rng: random.Random):
    columns = [(state, {pin: text}) for pin, state, text in cells]
    (belief,) = identify([point(*columns, pins="123")])
    rng.shuffle(columns)
    (shuffled,) = identify([point(*columns, pins="123")])
    assert belief.marginals.sum(axis=1) == pytest.approx(1.0)
    assert shuffled.marginals == pytest.approx(belief.marginals, abs=1e-9)
    for wire in belief.wires:
        assert sum(chance for _, chance in wire.ranked) == pytest.approx(1.0)
        assert not wire.is_settled or wire.probability >= least_sure(wire.function)
