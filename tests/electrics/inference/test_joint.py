"""Joint weighing against brute force, and belief propagation against the exact sum."""

from __future__ import annotations

from itertools import product

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from electrics.document.places import Side
from electrics.identify.kinds import count_prior
from electrics.inference.joint import most_probable, weigh_approximately, weigh_exactly, weigh_jointly
from electrics.vocabulary import FUNCTIONS, Arrangement, Function


def random_case(seed, n_wires, n_functions, sharpness, n_scenarios=1):
    rng = np.random.default_rng(seed)
    likelihood = np.exp(sharpness * rng.normal(size=(n_scenarios, n_wires, n_functions)))
    return likelihood, rng.uniform(0.05, 1.0, size=(n_scenarios, n_functions, n_wires + 1))


def brute_force(likelihood, prior):
    """Every assignment in turn: the definition itself."""
    n_wires, n_functions = likelihood.shape
    total, marginals = 0.0, np.zeros_like(likelihood)
    for assignment in product(range(n_functions), repeat=n_wires):
        weight = np.prod([likelihood[w, f] for w, f in enumerate(assignment)])
        weight *= np.prod([prior[f, assignment.count(f)] for f in range(n_functions)])
        total += weight
        for w, f in enumerate(assignment):
            marginals[w, f] += weight
    return np.log(total), marginals / total


@pytest.mark.parametrize("seed", range(4))
def test_exact_sum_equals_brute_force(seed):
    likelihood, prior = random_case(seed, 4, 3, 1.5, n_scenarios=2)
    joint = weigh_exactly(likelihood, prior)
    for g in range(2):
        log_weight, marginals = brute_force(likelihood[g], prior[g])
        assert joint.log_weight[g] == pytest.approx(log_weight)
        assert joint.marginals[g] == pytest.approx(marginals)


@pytest.mark.parametrize("sharpness", [0.0, 1.0, 3.0, 8.0])
def test_propagation_stays_near_the_exact_sum(sharpness):
    """On the real prior: marginals within 5 points, scenarios' odds within a factor of 1.5."""
    rng = np.random.default_rng(7)
    prior = np.stack([count_prior("rear_lamp", Side.LEFT, kind, 6) for kind in Arrangement])
    likelihood = np.exp(sharpness * rng.normal(size=(2, 6, len(FUNCTIONS))))
    exact, near = weigh_exactly(likelihood, prior), weigh_approximately(likelihood, prior)
    assert np.abs(exact.marginals - near.marginals).max() < 0.05
    assert abs(np.diff(exact.log_weight) - np.diff(near.log_weight)) < np.log(1.5)


def test_many_wires_of_one_function_are_counted_like_few():
    """Seven spares: beyond five of a kind the geometric tail is summed, not dropped."""
    prior = count_prior("connector", Side.NONE, Arrangement.SEPARATE, 7)[None]
    likelihood = np.full((1, 7, len(FUNCTIONS)), 1e-3)
    likelihood[:, :, FUNCTIONS.index(Function.SPARE)] = 1.0
    exact, near = weigh_exactly(likelihood, prior), weigh_approximately(likelihood, prior)
    assert near.marginals == pytest.approx(exact.marginals, abs=0.01)
    assert near.log_weight == pytest.approx(exact.log_weight, abs=0.05)


@settings(max_examples=30, deadline=None)
@given(st.integers(0, 10_000), st.integers(1, 12), st.floats(0, 40))
def test_beliefs_are_distributions_whatever_the_evidence(seed, n_wires, sharpness):
    rng = np.random.default_rng(seed)
    prior = count_prior("connector", Side.NONE, Arrangement.SEPARATE, n_wires)[None]
    joint = weigh_jointly(np.exp(sharpness * rng.normal(size=(1, n_wires, len(FUNCTIONS)))), prior)
    assert np.isfinite(joint.log_weight).all()
    assert joint.marginals.min() >= 0
    assert joint.marginals.sum(axis=2) == pytest.approx(1.0)


def test_order_of_wires_does_not_matter():
    likelihood, prior = random_case(3, 5, 4, 2.0)
    order = [3, 0, 4, 1, 2]
    straight, turned = weigh_exactly(likelihood, prior), weigh_exactly(likelihood[:, order], prior)
    assert turned.marginals == pytest.approx(straight.marginals[:, order])


def test_two_wires_do_not_both_take_what_there_is_one_of():
    marginals = np.array([[0.51, 0.49], [0.52, 0.48]])
    once = np.array([[0.1, 0.89, 0.01], [0.1, 0.89, 0.01]])
    assert sorted(most_probable(marginals, once)) == [0, 1]


def test_strong_evidence_makes_two_of_a_kind():
    marginals = np.array([[0.999, 0.001], [0.999, 0.001]])
    once = np.array([[0.1, 0.85, 0.05], [0.1, 0.85, 0.05]])
    assert list(most_probable(marginals, once)) == [0, 0]
