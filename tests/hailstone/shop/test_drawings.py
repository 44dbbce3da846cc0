"""Drawings as shapes, and words as people say them."""

from __future__ import annotations

import pytest

from electrics.document.places import Setup
from electrics.signals import DARK, FLASHING, LIT, PARTLY
from electrics.vocabulary import Function, Instrument, parse_state
from hailstone.layers.progress import Layer, LayerStatus
from hailstone.shop import svg
from hailstone.wording import advice, words


def test_a_tracer_is_drawn_inside_the_jacket():
    drawing = svg.wire("WH/GN")
    assert drawing.name == "white with a green stripe"
    assert len(drawing.stripes) >= 3
    for stripe in drawing.stripes:
        for corner in stripe.split():
            x, y = map(float, corner.split(","))
            assert svg.BODY_LEFT < x < svg.BODY_RIGHT
            assert svg.BODY_TOP <= y <= svg.BODY_BOTTOM


@pytest.mark.parametrize("colour", ["GR", "mauve", ""])
def test_an_unknown_colour_is_hatched_and_named_as_typed(colour):
    drawing = svg.wire(colour)
    assert not drawing.is_known
    assert drawing.name == (colour or "color not entered")


def test_rings_grow_outwards_and_say_how_far_each_layer_is():
    layers = [Layer(str(n), f"L{n}", "/", n / 5, LayerStatus.OPEN, f"{n} of 5") for n in range(6)]
    radii = [ring.radius for ring in svg.rings(layers)]
    assert radii == sorted(radii)
    assert radii[-1] + 2.5 <= 50
    assert [ring.share for ring in svg.rings(layers)] == [0, 20, 40, 60, 80, 100]
    assert "L3: 3 of 5" in svg.rings_title(layers)


@pytest.mark.parametrize(
    ("state", "name", "action"),
    [
        ("rest", "All off", "Switch everything off"),
        ("brake+left", "Brake + left", "Hold the brake and turn the left signal on"),
        ("park_left", "Park left", "Set the left parking lamp"),
    ],
)
def test_states_in_words(state, name, action):
    assert words.state_name(parse_state(state)) == name
    assert words.state_action(parse_state(state)) == action


@pytest.mark.parametrize(("pins", "text"), [("2", "pin 2"), ("24", "pins 2 and 4"), ("245", "pins 2, 4 and 5")])
def test_pins_in_words(pins, text):
    assert words.pins_text(pins) == text


@pytest.mark.parametrize(("chance", "text"), [(0.9499, "94 %"), (0.95, "95 %"), (0.9999, "99 %"), (0.001, "1 %")])
def test_nothing_looks_surer_than_it_is(chance, text):
    assert words.percent(chance) == text


def test_signals_in_words():
    assert [words.signal_name(s) for s in (DARK, LIT, FLASHING, PARTLY)] == ["dark", "lit", "flashing", "dim"]


def test_every_function_has_a_name():
    assert set(words.FUNCTIONS) == set(Function)


@pytest.mark.parametrize(
    ("state", "instrument", "said"),
    [
        ("reverse", Instrument.DMM, "Chock the wheels"),
        ("engine", Instrument.DMM, "ventilate"),
        ("brake+left", Instrument.DMM, "prop that cannot slip"),
        ("rest", Instrument.OHMS, "under 0.3 V"),
        ("park", Instrument.OHMS, "Ohms need a dead circuit"),
        ("rest", Instrument.LOADED_DROP, "not for airbag"),
        ("park", Instrument.TEST_LAMP, "not for airbag"),
    ],
)
def test_a_step_that_can_hurt_carries_its_caution(state, instrument, said):
    assert said in " ".join(advice.cautions(Setup(parse_state(state), instrument)))


def test_a_harmless_step_carries_none():
    assert advice.cautions(Setup(parse_state("park"))) == []
