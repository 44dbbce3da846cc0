"""Swapped leads are named from the lines that failed, and nothing else is taken for them."""

from __future__ import annotations

from itertools import combinations

import pytest

from electrics.design.wanted import parse_wanted
from electrics.prove.sheet import Outcome, make_sheet
from electrics.prove.swapped import swapped_lamps
from electrics.signals import Scenario
from electrics.vocabulary import Arrangement, Function

WANTED = {"lt": "tail", "ls": "stop", "lf": "turn_left", "rt": "tail", "rs": "stop", "rf": "turn_right"}
SHEET = make_sheet(
    [Function.TAIL], {id: parse_wanted(text) for id, text in WANTED.items()}, Scenario(Arrangement.SEPARATE)
)
UNITS = {f"added:{id}": id[0] for id in WANTED}


def seen(shows):
    """Every line as it comes out where each lamp does what `shows` says: another lamp's light, or nothing."""
    light = {(line.lamp.id, line.state): line.expected for line in SHEET.lines if line.lamp}
    dark = next(line.expected for line in SHEET.lines if line.key == "rest|added:lt")
    found = {}
    for line in SHEET.lines:
        if line.lamp is not None:
            of = shows.get(line.lamp.id.removeprefix("added:"), line.lamp.id.removeprefix("added:"))
            now = light.get((f"added:{of}", line.state), light.get((line.lamp.id, line.state))) if of else dark
            found[line.key] = Outcome.PASS if now == line.expected else Outcome.FAIL
    return found


def named(outcomes):
    return {
        frozenset(lamp.id.removeprefix("added:") for lamp in pair) for pair in swapped_lamps(SHEET, outcomes, UNITS)
    }


@pytest.mark.parametrize("pair", [p for p in combinations(WANTED, 2) if WANTED[p[0]] != WANTED[p[1]]])
def test_any_two_swapped_leads_are_named_on_one_side_or_across(pair):
    a, b = pair
    assert named(seen({a: b, b: a})) == {frozenset(pair)}


def test_the_same_swap_on_both_sides_is_named_on_both():
    found = named(seen({"lt": "ls", "ls": "lt", "rt": "rs", "rs": "rt"}))
    assert found == {frozenset(("lt", "ls")), frozenset(("rt", "rs"))}


@pytest.mark.parametrize(
    "shows",
    [{}, {"lt": ""}, {"lt": "", "ls": ""}, {"lt": "ls"}, {"lt": "ls", "ls": "lf", "lf": "lt"}],
    ids=["all right", "dead tail", "both dead", "tail on stop", "all three turned round"],
)
def test_what_is_no_plain_swap_is_not_called_one(shows):
    assert named(seen(shows)) == set()


def test_two_states_are_enough_and_a_line_that_speaks_against_it_ends_it():
    swapped = seen({"lt": "ls", "ls": "lt"})
    few = {key: swapped[key] for key in swapped if key.partition("|")[0] in ("park", "brake")}
    assert named(few) == {frozenset(("lt", "ls"))}
    assert named({**few, "park|added:lt": Outcome.PASS}) == set()
