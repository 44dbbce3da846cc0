"""Two networks one behind the other, held against plain logic in every combination of the controls there are."""

from __future__ import annotations

from itertools import combinations

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from electrics.design.sources import CODES, ON
from electrics.errors import StateError
from electrics.signals import Level, Scenario, signal
from electrics.vocabulary import Arrangement, Function, parse_state
from electrics.ways.chains import Chain, ThreeDiodes
from hookup_jobs import CHAINS, REAR, job, judged

SEPARATE = Scenario(Arrangement.SEPARATE)


@pytest.mark.parametrize(("wanted", "winner"), CHAINS)
def test_where_no_single_network_will_do_two_of_them_are_chained_and_work_on_the_circuit(wanted, winner):
    found = job((*REAR, "drl"), leads=[{"lead": "own", "wanted": wanted, "each_a": 0.5}])
    right = [each for each in judged(found) if each.candidate.is_right]
    assert right[0].candidate.form.id == winner
    for each in right:
        trial = found.trial(found.leads[0], each.candidate)
        assert trial.wrong == () == trial.upsets, each.candidate.key


def test_two_diodes_are_no_way_to_a_flash_over_the_brake_whatever_else_they_pass_through():
    """Steady wins in a diode-OR (common practice); only with park, brake and turn at once is it seen here."""
    found = job(REAR, leads=[{"lead": "own", "wanted": "over(turn_left, stop) and tail", "each_a": 0.5}])
    assert parse_state("park+brake+left") in found.states
    right = [each.form for each in found.candidates(found.leads[0]) if each.is_right]
    assert right
    assert not [form.id for form in right if "diode_or" in form.id]


def test_a_chain_stands_only_on_circuits_that_the_wish_hangs_on():
    """What else they do shows in states that are not compared: `fog_rear` brings park along, `park` not the fog lamp."""
    found = job(
        (*REAR, "fog_rear", "low_beam"), leads=[{"lead": "own", "wanted": "stop or reverse or tail", "each_a": 0.5}]
    )
    chained = [each for each in found.candidates(found.leads[0]) if len(each.sources) > 2]
    assert [each.key for each in chained if each.form.is_symmetric] == ["three_diodes:reverse,stop,tail"]
    assert {source.key for each in chained for source in each.sources} == {"tail", "stop", "reverse"}


@st.composite
def wishes(draw):
    """A wish over three circuits, and the same as a function of what is on."""
    a, b, c = draw(st.permutations(["tail", "stop", "reverse", "turn_left"]))[:3]
    texts = {
        f"{a} and {b} and {c}": lambda on: on[a] and on[b] and on[c],
        f"{a} or {b} or {c}": lambda on: on[a] or on[b] or on[c],
        f"{a} and not ({b} or {c})": lambda on: on[a] and not (on[b] or on[c]),
        f"{a} and ({b} or {c})": lambda on: on[a] and (on[b] or on[c]),
        f"{a} and {b} and not {c}": lambda on: on[a] and on[b] and not on[c],
        f"({a} or {b}) and not {c}": lambda on: (on[a] or on[b]) and not on[c],
    }
    text = draw(st.sampled_from(sorted(texts)))
    return text, texts[text]


def every_state():
    """All that can be set together out of what these circuits hang on: far more than a hook-up is compared in."""
    controls = ("park", "brake", "left", "right", "hazard", "reverse", "low", "engine")
    for count in range(len(controls) + 1):
        for on in combinations(controls, count):
            try:
                yield parse_state("+".join(on) or "rest")
            except StateError:
                continue


EVERY = tuple(every_state())


@given(wishes())
@settings(max_examples=40, deadline=None)
def test_whatever_is_called_right_is_right_in_every_state_there_is(wish):
    """The form's own truth table against Python's `and`, `or`, `not` on what each wire carries, phase by phase."""
    text, meaning = wish
    found = job(REAR, leads=[{"lead": "own", "wanted": text, "each_a": 0.5}])
    right = [each for each in found.candidates(found.leads[0]) if each.is_right]
    chained = [each for each in right if isinstance(each.form, (Chain, ThreeDiodes))]
    assert chained or right, text
    for candidate in right:
        names = [source.key for source in candidate.sources]
        for state in EVERY:
            carried = {f: signal(Function(f), state, SEPARATE) for f in REAR}
            levels = [_levels(carried[name], found, state) if name in carried else _always() for name in names]
            got = candidate.form.got(levels)[0, 0]
            for phase, is_lit in enumerate((True, False)):
                on = {f: (each.lit if is_lit else each.dark) is not Level.OFF for f, each in carried.items()}
                assert bool(got[phase]) == bool(meaning(on)), f"{candidate.key} in {state}"


def _levels(found, job, state):
    return np.array([[[CODES[found.lit], CODES[found.dark]]]], dtype=np.int8)


def _always():
    return np.array([[[ON, ON]]], dtype=np.int8)


def test_a_chain_bears_what_its_forms_bear():
    """The relay in front carries only the coil of the one behind; every part of both is on the list."""
    found = job((*REAR, "ignition"), leads=[{"lead": "own", "wanted": CHAINS[0][0], "each_a": 0.5}])
    chain = next(each for each in judged(found) if each.candidate.form.id == "and-1-and_not").candidate
    assert chain.form.loads == ("coil", "coil", "lamp")
    assert dict(chain.form.brings) == {"relay": 2, "relay_socket": 2}
    assert chain.form.parts == chain.form.outer.parts + chain.form.inner.parts
