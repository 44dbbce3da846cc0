"""Wanted behaviour as an expression."""

from __future__ import annotations

import re

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from electrics.design.accessories import accessories
from electrics.design.states import TABLE_STATES
from electrics.design.wanted import parse_wanted
from electrics.errors import FactError
from electrics.signals import DARK, FLASHING, LIT, Level, Scenario, Signal, signal
from electrics.vocabulary import Arrangement, BrakeWithHazard, Control, Function, parse_state

SEPARATE = Scenario(Arrangement.SEPARATE)


@pytest.mark.parametrize(
    ("text", "state", "signal"),
    [
        ("reverse", "reverse", LIT),
        ("tail and not reverse", "park", LIT),
        ("tail and not reverse", "park+reverse", DARK),
        ("tail or stop", "brake", LIT),
        ("turn_left or tail", "park+left", LIT),
        ("over(turn_left, tail)", "park+left", FLASHING),
        ("over(turn_left, tail)", "park", LIT),
        ("not turn_left", "left", Signal(Level.OFF, Level.ON)),
        ("(tail or stop) and not (reverse or turn_left)", "brake+left", Signal(Level.OFF, Level.ON)),
    ],
)
def test_expressions_mean_what_they_say_in_each_phase(text, state, signal):
    assert parse_wanted(text).signal(parse_state(state), SEPARATE) == signal


def test_a_combined_lamp_wants_what_its_vehicle_does_with_the_hazards():
    wanted = parse_wanted("stop_turn_left")
    state = parse_state("brake+hazard")
    assert wanted.signal(state, Scenario(Arrangement.COMBINED, BrakeWithHazard.BRAKE_WINS)) == LIT
    assert wanted.signal(state, SEPARATE) == FLASHING


TERMS = ("tail", "stop", "turn_left", "turn_right", "reverse", "own_switch")


def expressions():
    """Wishes that Python reads the same way: its `not` binds tightest, then `and`, then `or`."""
    one = st.sampled_from(TERMS)
    return st.recursive(
        one,
        lambda inner: st.one_of(
            inner.map(lambda a: f"not ({a})"),
            st.tuples(inner, inner).map(lambda pair: f"{pair[0]} and {pair[1]}"),
            st.tuples(inner, inner).map(lambda pair: f"({pair[0]} or {pair[1]})"),
            st.tuples(inner, inner).map(lambda pair: f"{pair[0]} or {pair[1]}"),
        ),
        max_leaves=6,
    )


@given(expressions())
@settings(max_examples=150, deadline=None)
def test_any_expression_means_what_python_makes_of_it(text):
    if set(re.findall(r"[a-z_]+", text)) <= {"own_switch", "not", "and", "or"}:
        with pytest.raises(FactError, match="needs nothing of the vehicle"):
            parse_wanted(text)
        return
    wanted = parse_wanted(text)
    for state in (*TABLE_STATES, parse_state("own_switch"), parse_state("park+reverse+own_switch")):
        for is_lit in (True, False):
            carried = {f: signal(Function(f), state, SEPARATE) for f in TERMS[:-1]}
            on = {f: (each.lit if is_lit else each.dark) is Level.ON for f, each in carried.items()}
            on["own_switch"] = Control.OWN_SWITCH in state.controls
            got = wanted.signal(state, SEPARATE)
            assert ((got.lit if is_lit else got.dark) is Level.ON) == eval(text, {}, on), state


@pytest.mark.parametrize(
    "text", ["", "reverse and", "disco", "tail stop", "(tail", "over(tail)", "tail & stop", "not"]
)
def test_what_cannot_be_read_is_refused_with_the_place(text):
    with pytest.raises(FactError, match=r"expected|cannot be read|no function"):
        parse_wanted(text)


def test_every_accessory_has_leads_with_a_load_and_speaks_of_known_functions():
    for accessory in accessories():
        assert accessory.leads
        for lead in accessory.leads:
            assert 0 < lead.each_a < 10
            assert lead.technology in ("led", "filament")
            assert set(lead.wanted.functions) <= set(Function)
            assert any(
                lead.wanted.signal(parse_state(s), SEPARATE) != DARK
                for s in ("park", "brake", "left", "right", "reverse")
            )
