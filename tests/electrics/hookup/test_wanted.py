"""Wanted behaviour as an expression."""

from __future__ import annotations

import pytest

from electrics.errors import FactError
from electrics.hookup.accessories import accessories
from electrics.hookup.wanted import parse_wanted
from electrics.signals import DARK, FLASHING, LIT, Level, Scenario, Signal
from electrics.vocabulary import Arrangement, BrakeWithHazard, Function, parse_state

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
