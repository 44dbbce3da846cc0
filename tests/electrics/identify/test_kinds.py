"""Plugs with a standard pin-out, ground-switched lamps, markers between two feeds, claims by their origin."""

from __future__ import annotations

from dataclasses import replace

import pytest

from electrics.document.places import AccessPoint, Claim, Origin, Side, Wire
from electrics.identify.belief import identify
from electrics.identify.kinds import access_kinds, pin_out, plug_pins
from electrics.identify.plan import next_steps, plan_ahead
from electrics.identify.weighing import CLAIM_FACTORS
from electrics.vocabulary import Function, Instrument, Polarity, parse_state
from lamps import GRID, all_pins, point


@pytest.mark.parametrize(
    ("kind", "pin", "function"),
    [
        ("flat_4", "1", Function.GROUND),  # SAE J1239, from memory: white ground
        ("flat_4", "4", Function.STOP_TURN_RIGHT),  # green right
        ("blade_7", "7", Function.REVERSE),  # SAE J2863, from memory: the centre pin is reverse
        ("blade_7", "2", Function.BRAKE_CONTROLLER),
        ("plug_12n", "6", Function.STOP),  # ISO 1724, from memory
        ("plug_12n", "2", Function.FOG_REAR),
        ("plug_24n", "5", Function.TURN_RIGHT),  # ISO 1185, numbered otherwise than 12N
        ("plug_13", "9", Function.BATTERY),  # ISO 11446, from memory
        ("heavy_7", "4", Function.STOP),  # SAE J560, from memory
    ],
)
def test_a_standard_plug_expects_its_standard_before_any_reading(kind, pin, function):
    (belief,) = identify([AccessPoint("plug", tuple(Wire(p.pin) for p in pin_out(kind)), (), kind)])
    wire = belief.wire(pin)
    assert wire.function is function
    assert not wire.is_settled, "a standard is an expectation, never a verdict"


def test_the_centre_of_a_7_blade_socket_is_in_the_centre():
    """Common practice: the centre pin of a 7-blade plug is reverse."""
    centre = [p for p in plug_pins() if p.plug == "blade_7" and (p.x, p.y) == (50, 50)]
    assert [p.function for p in centre] == [Function.REVERSE]


@pytest.mark.parametrize("kind", [kind.id for kind in access_kinds() if pin_out(kind.id)])
def test_contacts_of_a_face_do_not_touch(kind):
    pins = pin_out(kind)
    assert len({p.pin for p in pins}) == len(pins)
    for a in pins:
        for b in pins:
            assert a is b or (a.x - b.x) ** 2 + (a.y - b.y) ** 2 > 15**2


def test_a_contact_of_a_plug_that_shows_nothing_is_dead_and_no_lamp_of_the_front():
    """Common practice: no trailer plug carries beams, front fog or daytime lamps; fused contacts that died are usual."""
    pins = [p.pin for p in pin_out("blade_7")]
    fed = {"rest": "", "park": "3", "brake": "56", "left": "5", "right": "6", "hazard": "56", "reverse": "7"}
    shown = [
        (state, {pin: "12.2" if pin in live else "0.0" for pin in pins} | dict.fromkeys(live, "0-12"))
        if state in ("left", "right", "hazard")
        else (state, {pin: "12.2" if pin in live else "0.0" for pin in pins})
        for state, live in fed.items()
    ]
    (belief,) = identify([point(*shown, pins=pins, kind="blade_7", side=Side.NONE)])
    front = (Function.LOW_BEAM, Function.HIGH_BEAM, Function.FOG_FRONT, Function.DRL)
    dead = belief.wire("4")  # the standard has battery there, which would be live at rest
    assert sum(map(dead.probability_of, front)) < 0.05 < dead.probability_of(Function.DEAD_FEED)
    assert not dead.is_settled


def test_a_measured_plug_overrules_its_standard_loudly():
    """A second convention on the same contacts exists: what is measured counts."""
    pins = [p.pin for p in pin_out("blade_7")]
    swapped = point(
        ("park", dict.fromkeys(pins, "0.0") | {"4": "12.5", "6": "12.2"}),
        ("right", dict.fromkeys(pins, "0.0") | {"4": "12.5", "3": "0-12"}),
        ("brake", dict.fromkeys(pins, "0.0") | {"4": "12.5", "3": "12.1", "5": "12.2"}),
        ("left", dict.fromkeys(pins, "0.0") | {"4": "12.5", "5": "0-12"}),
        ("low", {"6": "12.2"}),
        ("park_left", {"6": "0.0"}),
        ("park_right", {"6": "0.0"}),
        pins=pins,
        kind="blade_7",
        side=Side.NONE,
    )
    (belief,) = identify([swapped])
    assert belief.wire("6").function is Function.TAIL
    assert [claim.origin for claim in belief.wire("6").disputed] == [Origin.PIN_OUT]
    assert belief.wire("3").function is Function.STOP_TURN_RIGHT


def test_a_ground_switched_lamp_has_battery_at_rest_and_falls_to_zero_when_on():
    """Common practice: battery at rest on both wires, one falls to zero when on."""
    pins = ("1", "2", "3")
    columns = [
        ("rest", {"1": "12.5", "2": "12.5", "3": "0"}),
        ("reverse", {"1": "12.4", "2": "0.1", "3": "0"}),
        ("park", {"1": "12.5", "2": "12.5", "3": "0"}),
        ("brake", {"1": "12.5", "2": "12.5", "3": "0"}),
    ]
    (belief,) = identify([point(*columns, pins=pins)])
    assert belief.wire("2").function is Function.REVERSE
    assert belief.wire("2").polarity is Polarity.GROUND
    assert belief.wire("1").function is Function.BATTERY


def test_a_marker_between_two_feeds_is_told_from_tail_by_its_phase():
    """Common practice: it goes dark while the turn lamp is lit."""
    pins = ("1", "2")
    steady = [("park", {"1": "12.3", "2": "0"}), ("left", {"1": "0-2", "2": "0-12"})]
    (open_,) = identify([point(*steady, pins=pins, kind="side_lamp")])
    clamp = ("park+left", {"1": "flash"}, Instrument.CLAMP)
    (belief,) = identify([point(*steady, clamp, pins=pins, kind="side_lamp")])
    marker = Function.MARKER_BETWEEN
    assert belief.wire("1").function is marker
    assert belief.wire("1").probability_of(marker) > open_.wire("1").probability_of(marker)


def test_what_the_shop_has_proven_weighs_more_than_hearsay_and_no_claim_settles_anything():
    assert CLAIM_FACTORS[Origin.WIRE_BOOK] > CLAIM_FACTORS[Origin.SAID] > CLAIM_FACTORS[Origin.OTHER_SIDE]
    lamp = point()
    chances = []
    for origin in (Origin.OTHER_SIDE, Origin.SAID, Origin.WIRE_BOOK):
        wires = (replace(lamp.wires[0], claims=(Claim(Function.REVERSE, origin),)), *lamp.wires[1:])
        (belief,) = identify([replace(lamp, wires=wires)])
        chances.append(belief.wire("1").probability_of(Function.REVERSE))
        assert not belief.wire("1").is_settled
    assert chances == sorted(chances)


def test_three_states_ahead_are_three_states_in_an_order_that_goes_on_telling():
    (belief,) = identify([point(("rest", all_pins()))])
    ahead = plan_ahead(belief, count=3)
    assert len({step.setup for step in ahead}) == 3
    assert ahead[0].setup == next_steps(belief, limit=1)[0].setup
    (done,) = identify([point(*GRID)])
    assert plan_ahead(done) == ()


def test_where_no_state_parts_two_functions_the_reading_that_can_is_asked_for():
    """Ground and a dead feed look alike in every state; lamp out and ohms parts them (common practice)."""
    zeros = {"1": "0.0", "2": "0.0", "3": "0.0"}
    with_park = ("park", "fog_rear", "low")
    states = (*with_park, "rest", "brake", "left", "right", "hazard", "reverse", "key", "park_left")
    columns = [(state, zeros | ({"3": "12.3"} if state in with_park else {})) for state in states]
    (belief,) = identify([point(*columns, pins=("1", "2", "3"))])
    step = next_steps(belief, computer_fed=True, limit=1)[0]
    assert step.setup.instrument is Instrument.OHMS
    assert step.setup.state == parse_state("rest")
    assert "3" not in step.pins


def test_ohms_are_never_asked_for_on_a_live_pin():
    columns = [("rest", {"1": "12.5", "2": "0.0", "3": "0.0"})]
    (belief,) = identify([point(*columns, pins=("1", "2", "3"))])
    for step in next_steps(belief, limit=50):
        assert step.setup.instrument is not Instrument.OHMS or "1" not in step.pins
