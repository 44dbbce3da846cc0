"""The belief engine against brute force: every pattern of mistakes and every course of outcomes listed."""

from __future__ import annotations

from itertools import product
from math import log2

import numpy as np
import pytest

from electrics.inference.evidence import allowing_mistakes, as_mistakes, weigh, without_one
from electrics.inference.questions import SLIP, Question, expected_bits, posterior
from electrics.inference.telling import Course, entropy, information, most_for_the_effort

RATE = 0.1


@pytest.fixture(params=range(5))
def case(request):
    """Prior of four hypotheses, four observations, what each says under each, and as a mistake."""
    rng = np.random.default_rng(request.param)
    return rng.dirichlet(np.ones(4)), rng.uniform(0.01, 1, size=(4, 4)), rng.uniform(0.05, 0.5, size=(4, 1))


def listed(prior, right, mistaken):
    """The definition itself: weight of each hypothesis with each pattern of mistakes."""
    weights = {}
    for h, pattern in product(range(len(prior)), product((False, True), repeat=len(right))):
        weight = prior[h]
        for n, is_mistake in enumerate(pattern):
            weight *= RATE * mistaken[n, 0] if is_mistake else (1 - RATE) * right[n, h]
        weights[h, pattern] = weight
    total = sum(weights.values())
    return {key: weight / total for key, weight in weights.items()}


def test_belief_and_mistakes_are_the_sum_over_every_pattern_of_mistakes(case):
    prior, right, mistaken = case
    truth = listed(prior, right, mistaken)
    likelihood = allowing_mistakes(right, mistaken, RATE)
    belief = weigh(prior, likelihood)
    assert belief == pytest.approx([sum(p for (h, _), p in truth.items() if h == each) for each in range(4)])
    odd = as_mistakes(belief, likelihood, RATE * mistaken)
    for n, h in product(range(4), range(4)):
        assert odd[n, h] == pytest.approx(sum(p for (each, m), p in truth.items() if each == h and m[n]))


def test_without_one_observation_is_the_belief_from_the_others(case):
    prior, right, mistaken = case
    likelihood = allowing_mistakes(right, mistaken, RATE)
    left = without_one(weigh(prior, likelihood), likelihood)
    for n in range(4):
        assert left[n] == pytest.approx(weigh(prior, np.delete(likelihood, n, axis=0)))


def test_hundreds_of_observations_stay_within_floating_point_and_nothing_impossible_comes_back():
    belief = weigh([0.5, 0.5, 0.0], np.tile([1e-9, 2e-9, 1.0], (400, 1)))
    assert belief == pytest.approx([0.0, 1.0, 0.0])


def test_a_plan_of_two_observations_tells_what_their_joint_outcome_does(case):
    """Chain rule of information, every course of outcomes listed."""
    prior, first, _ = case
    first = first / first.sum(axis=1, keepdims=True)
    second = np.roll(first, 1, axis=0)
    joint = (first[:, :, None] * second[:, None, :]).reshape(4, -1)
    doubt = -sum(p * log2(p) for p in prior)
    after = 0.0
    for outcome in range(joint.shape[1]):
        column = prior * joint[:, outcome]
        after += sum(-p * log2(p / column.sum()) for p in column)
    assert entropy(prior) == pytest.approx(doubt)
    assert information(prior, joint) == pytest.approx(doubt - after)
    course = Course.start(prior)
    told = course.bits(first) + course.after(first).bits(second)
    assert told == pytest.approx(doubt - after, abs=0.02)  # rare courses are dropped


def test_what_is_cheap_to_add_is_added():
    """Bits for the effort by hand: 1/3, 1.9/4, 2.0/5 bit for each thing touched."""
    assert most_for_the_effort(np.array([1.0, 0.9, 0.1]), effort=2.0) == 1
    assert most_for_the_effort(np.array([1.0, 0.1]), effort=0.0) == 0


def test_posterior_and_information_are_those_of_brute_force():
    """Every joint outcome of two questions listed, slips and all."""
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
    assert posterior(prior, questions, {}) == pytest.approx(prior)
    for question in questions:
        bits = 0.0
        for answer in question.answers:
            total = sum(prior[h] * chance(question, h, answer) for h in prior)
            for h in prior:
                joint = prior[h] * chance(question, h, answer)
                bits += joint * log2(joint / (prior[h] * total)) if joint else 0.0
        assert expected_bits(prior, question) == pytest.approx(bits)
