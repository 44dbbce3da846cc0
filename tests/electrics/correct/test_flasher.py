"""Which flasher it is: the trade's table of looks and tests."""

from __future__ import annotations

import pytest

from electrics.correct.flasher import SURE, believe_flasher, flasher_questions, rate_of
from electrics.document.vehicle import FlasherKind
from electrics.errors import FactError


@pytest.mark.parametrize(
    ("answers", "kind"),
    [
        ({"clicks": "can", "one_out": "twice", "prongs": "three"}, FlasherKind.ELECTRONIC),
        ({"clicks": "soft", "one_out": "steady", "volts": "faster"}, FlasherKind.BIMETAL),
        ({"clicks": "can", "one_out": "same", "prongs": "ground"}, FlasherKind.FIXED),
        ({"clicks": "board", "one_out": "twice", "message": "yes"}, FlasherKind.COMPUTER),
        ({"clicks": "board", "prongs": "none"}, FlasherKind.COMPUTER),
    ],
)
def test_the_table_of_the_trade_is_read_back(answers, kind):
    """Common practice: where it clicks, its prongs, one main bulb pulled, rate against voltage."""
    found = believe_flasher(answers)
    assert found.best is kind
    assert found.is_sure
    assert found.ask == ""


def test_no_look_alone_proves_it_and_a_variable_load_one_is_not_taken_for_fixed_rate():
    """Open at rest, heater across the contact: unchanged with a bulb out, easily taken for fixed rate."""
    for question in flasher_questions():
        for answer in question.answers:
            assert believe_flasher({question.id: answer}).chances[0][1] < 0.99
    alone = believe_flasher({"one_out": "same"}, "no")
    assert not alone.is_sure
    assert alone.ask in {question.id for question in flasher_questions()}
    assert believe_flasher({"one_out": "same", "volts": "faster", "clicks": "soft"}, "no").best is FlasherKind.BIMETAL


def test_chances_of_every_test_sum_to_one():
    for question in flasher_questions():
        for chances in question.chances.values():
            assert sum(chances) == pytest.approx(1.0, abs=0.011)


def test_the_rate_is_the_median_of_the_last_beats_with_its_spread():
    steady = tuple(n * 60 / 90 for n in range(8))
    assert rate_of(steady) == pytest.approx((90, 0))
    slipped = (*steady, steady[-1] + 60 / 180, steady[-1] + 60 / 180 + 60 / 90)
    rate, spread = rate_of(slipped)
    assert rate == pytest.approx(90)
    assert spread == pytest.approx(45)


@pytest.mark.parametrize(
    "beats", [(), (0.0, 1.0), (0.0, 9.0, 18.0, 27.0, 36.0, 45.0), (0.0, 0.01, 0.02, 0.03, 0.04, 0.05)]
)
def test_too_few_taps_are_no_rate(beats):
    with pytest.raises(FactError, match="Tap along"):
        rate_of(beats)


def test_what_is_no_look_is_refused():
    for wrong in ({"smell": "yes"}, {"clicks": "loud"}):
        with pytest.raises(FactError):
            believe_flasher(wrong)
    assert SURE < 1
