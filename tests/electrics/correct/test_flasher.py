"""Which flasher it is: the trade's table of looks and tests, and the belief engine against brute force."""

from __future__ import annotations

from itertools import product
from math import log2

import pytest

from electrics.correct.flasher import SURE, believe_flasher, flasher_questions, rate_of
from electrics.errors import FactError
from electrics.inference.naive import SLIP, Question, expected_bits, posterior
from electrics.lighting.description import FlasherKind


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


def test_posterior_and_information_are_those_of_brute_force():
    """Every joint outcome of three questions listed, without slips and with."""
    questions = [
        Question("a", ("x", "y"), {"p": (0.9, 0.1), "q": (0.3, 0.7), "r": (0.5, 0.5)}),
        Question("b", ("x", "y", "z"), {"p": (0.2, 0.3, 0.5), "q": (0.6, 0.3, 0.1), "r": (1.0, 0.0, 0.0)}),
    ]
    prior = {"p": 0.5, "q": 0.3, "r": 0.2}

    def chance(question, hypothesis, answer):
        at = question.answers.index(answer)
        return (1 - SLIP) * question.chances[hypothesis][at] + SLIP / len(question.answers)

    for first, second in product(questions[0].answers, questions[1].answers):
        joint = {h: prior[h] * chance(questions[0], h, first) * chance(questions[1], h, second) for h in prior}
        expected = {h: share / sum(joint.values()) for h, share in joint.items()}
        assert posterior(prior, questions, {"a": first, "b": second}) == pytest.approx(expected)
    for question in questions:
        bits = 0.0
        for answer in question.answers:
            total = sum(prior[h] * chance(question, h, answer) for h in prior)
            for h in prior:
                joint = prior[h] * chance(question, h, answer)
                bits += joint * log2(joint / (prior[h] * total)) if joint else 0.0
        assert expected_bits(prior, question) == pytest.approx(bits)


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
