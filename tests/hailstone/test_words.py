"""Words that people use, and sentences that must not count wrong."""

from __future__ import annotations

import pytest

from electrics.circuit.findings import CircuitFinding
from electrics.design.accessories import mid_sentence
from electrics.design.units import unit_kinds
from electrics.vocabulary import Function
from hailstone.wording.circuit import finding_sentence
from hailstone.wording.kinds import kind_title
from hailstone.wording.words import counted, function_called


@pytest.mark.parametrize(
    ("word", "function"),
    [
        ("side marker", Function.TAIL),
        ("position lamp", Function.TAIL),
        ("left blinker", Function.TURN_LEFT),
        ("backup", Function.REVERSE),
        ("Earth", Function.GROUND),
    ],
)
def test_common_words_are_understood(word, function):
    """Common practice: what these lamps are called in workshops."""
    assert function_called(word) is function


def test_a_flasher_that_does_not_flash_is_not_given_a_rate_of_nought():
    steady = CircuitFinding("flash_rate", "warning", "flasher", "brake+left", "lit", 0.0, 90.0, "/min")
    said = finding_sentence(steady)
    assert said == "Flasher doesn't flash with brake + left: its lamps stay lit or dark. Normal is 90 a minute."


def test_one_is_one_and_names_keep_their_capitals():
    assert (counted(1, "step"), counted(2, "step")) == ("1 step", "2 steps")
    assert (mid_sentence("LED bulbs"), mid_sentence("Light bar")) == ("LED bulbs", "light bar")


def test_no_two_kinds_in_the_list_are_called_the_same():
    titles = [kind_title(kind) for kind in unit_kinds()]
    assert len(set(titles)) == len(titles)
