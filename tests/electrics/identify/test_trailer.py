"""Fuses and socket contacts that are live with a trailer only: named by readings, never a source for the car."""

from __future__ import annotations

import pytest

from electrics.document.places import AccessPoint, Evidence, Setup, Wire
from electrics.formats.reading_text import parse_reading
from electrics.identify.belief import identify
from electrics.identify.needed import Needed, needs_of
from electrics.identify.plan import next_steps
from electrics.reference.functions import Tap, kind_of
from electrics.signals import DARK, FLASHING, LIT, Scenario, signal
from electrics.vocabulary import Arrangement, Control, Function, parse_state

ASKED = (
    "rest",
    "key",
    "park",
    "brake",
    "left",
    "right",
    "reverse",
    "low",
    "trailer",
    "high",
    "low+brake+left+reverse",
    "park+right",
)
WITH = {
    Function.TRAILER_TAIL: "park",
    Function.TRAILER_STOP: "brake",
    Function.TRAILER_TURN_LEFT: "left",
    Function.TRAILER_TURN_RIGHT: "right",
    Function.TRAILER_REVERSE: "reverse",
}
PLUGGED_IN = (
    *ASKED,
    *(f"trailer+{on}" for on in WITH.values()),
    "trailer+low+brake+left+reverse",
    "trailer+park+right",
)


def box(function, kind="fuse_box", states=PLUGGED_IN):
    """Two positions of a fuse box, the first live all the time, the second as the function has it."""
    there = [(pin, state) for pin in "12" for state in states]
    return AccessPoint("box", tuple(map(Wire, "12")), tuple(read(*each, function) for each in there), kind)


def read(pin, state, function):
    now = signal(function, parse_state(state), Scenario(Arrangement.SEPARATE))
    text = "12.4" if pin == "1" or now == LIT else "0-12" if now == FLASHING else "0.0"
    return Evidence(pin, Setup(parse_state(state)), parse_reading(text), 12.6)


@pytest.mark.parametrize("kind", ["fuse_box", "connector", "blade_7"])
@pytest.mark.parametrize("function", WITH)
def test_what_is_live_with_a_trailer_only_is_named_and_never_tapped(function, kind):
    (belief,) = identify([box(function, kind)], arrangement=Arrangement.SEPARATE)
    assert belief.wire("2").function is function
    assert not belief.is_tappable(belief.wire("2"))
    assert kind_of(function).tap is Tap.NEVER
    car = Function(function.removeprefix("trailer_"))
    needed = Needed.each([car], ground=False)
    assert belief.wire("2").probability_of(car) < 0.2
    assert not any(wire.is_settled and wire.function is car for wire in belief.wires)
    assert all(not need.is_met or not need.is_here for need in needs_of(belief, needed))


def test_at_a_fuse_box_the_advice_asks_to_plug_a_trailer_in_until_there_is_none():
    dark = [state for state in ASKED if state != "trailer"]
    point = box(Function.TRAILER_REVERSE, states=[*dark, "hazard", "fog_rear", "fog_front", "engine", "park_left"])

    def asked(**facts):
        (belief,) = identify([point], **facts)
        return {control for step in next_steps(belief, limit=60) for control in step.setup.state.controls}

    assert Control.TRAILER in asked()
    assert Control.TRAILER not in asked(not_fitted=frozenset({Control.TRAILER}))


def test_a_trailers_turn_fuse_brakes_where_the_rear_signals_are_combined():
    """Common practice: a mirror turn lamp fed from it would light under braking."""
    braking = parse_state("trailer+brake")
    for arrangement in Arrangement:
        found = signal(Function.TRAILER_TURN_LEFT, braking, Scenario(arrangement))
        assert found == (LIT if arrangement is Arrangement.COMBINED else DARK)
    assert signal(Function.TRAILER_TURN_LEFT, parse_state("brake"), Scenario(Arrangement.COMBINED)) != LIT
