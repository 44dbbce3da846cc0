"""The lamp to be fitted: roles and polarity out of trials, and a plan that ends."""

from __future__ import annotations

from itertools import permutations

import pytest

from electrics.document.lamp import Light, Seen, Trial
from electrics.errors import FactError
from electrics.identify.leads import Role, Technology, identify_leads, next_trials, roles_of
from electrics.vocabulary import Function

RED_LED = {"black": Role.COMMON, "white": Role.TAIL, "red": Role.RED}
"""A two-function LED lamp whose colours mislead; tail 0.03 to 0.1 A, stop 0.15 to 0.5 A (common practice)."""


def shown(lamp, plus, minus, *, is_one_way=True):
    """What a bench shows of an LED lamp with a common minus, by diode logic."""
    feed = lamp[plus] if lamp[minus] is Role.COMMON else lamp[minus] if lamp[plus] is Role.COMMON else None
    if feed is None or (is_one_way and lamp[plus] is Role.COMMON):
        return Trial(plus, minus, Seen.DARK)
    amps = {Role.TAIL: 0.05, Role.RED: 0.3, Role.WHITE: 1.1, Role.AMBER: 0.3}[feed]
    light = {Role.WHITE: Light.WHITE, Role.AMBER: Light.AMBER}.get(feed, Light.RED)
    return Trial(plus, minus, Seen.DIM if feed is Role.TAIL else Seen.LIT, light, amps)


@pytest.mark.parametrize(
    "lamp",
    [
        {"white": Role.WHITE, "black": Role.COMMON},
        RED_LED,
        {"yellow": Role.AMBER, "red": Role.RED, "brown": Role.TAIL, "white": Role.COMMON},
        {"1": Role.TAIL, "2": Role.COMMON, "3": Role.RED, "4": Role.WHITE, "5": Role.AMBER},
    ],
    ids=lambda lamp: f"{len(lamp)} leads",
)
def test_following_the_plan_finds_every_lead_before_all_pairs_are_tried(lamp):
    trials = []
    pairs = len(list(permutations(lamp, 2)))
    while steps := next_trials(identify_leads(list(lamp), trials), limit=1):
        assert len(trials) < pairs, "tried everything"
        assert steps[0].fuse_a <= 1.0
        trials.append(shown(lamp, steps[0].plus, steps[0].minus))
    found = identify_leads(list(lamp), trials)
    assert {lead.lead: lead.role for lead in found.leads} == lamp
    assert found.way_round[0] == "common_minus"


def test_a_lamp_that_lights_both_ways_round_is_no_one_way_led():
    trials = [shown(RED_LED, "red", "black"), shown(RED_LED, "black", "red", is_one_way=False)]
    found = identify_leads(list(RED_LED), trials)
    assert found.way_round[0] == "either"
    assert found.way_round[1] > 0.9


def test_a_blown_fuse_and_filament_current_mean_a_filament():
    """21 W draws about 2 A and blows a 1 A fuse; an LED lamp does not (SAE J573 currents, from memory)."""
    found = identify_leads(
        ["a", "b"], [Trial("a", "b", Seen.BLEW), Trial("a", "b", Seen.LIT, Light.RED, 2.0, fuse_a=5.0)]
    )
    assert found.technology[0][0] is Technology.FILAMENT
    assert found.technology[0][1] > 0.9


def test_a_lead_that_burns_amber_and_draws_a_turn_lamps_current_is_turn():
    """Amber at 0.15 to 0.5 A is a turn lamp (common practice): two trials say so, no third is asked for."""
    trials = (Trial("black", "yellow", Seen.DARK), Trial("yellow", "black", Seen.LIT, Light.AMBER, 0.28))
    belief = identify_leads(("black", "yellow"), trials)
    assert belief.is_settled
    assert belief.lead("yellow").role is Role.AMBER


def test_a_trial_against_all_others_is_named_and_asked_for_again():
    good = [shown(RED_LED, *pair) for pair in permutations(RED_LED, 2)]
    odd = Trial("red", "black", Seen.DARK)
    found = identify_leads(list(RED_LED), [*good, odd])
    assert odd in found.odd
    assert not found.lead("red").is_settled
    assert (next_trials(found)[0].plus, next_trials(found)[0].minus) == ("red", "black")


@pytest.mark.parametrize(
    ("leads", "trials", "complaint"),
    [
        (["a"], [], "Expected 2 to 7"),
        (list("abcdefgh"), [], "Expected 2 to 7"),
        (["a", "a"], [], "same name"),
        (["a", "b"], [Trial("a", "a", Seen.LIT)], "both posts"),
        (["a", "b"], [Trial("a", "c", Seen.LIT)], "no lead"),
        (["a", "b"], [Trial("a", "b", Seen.LIT, amps_a=-1.0)], "cannot be a lamp's current"),
    ],
)
def test_what_cannot_be_is_refused_with_what_was_expected(leads, trials, complaint):
    with pytest.raises(FactError, match=complaint):
        identify_leads(leads, trials)


@pytest.mark.parametrize("chart", list(permutations((Function.GROUND, Function.TAIL, Function.STOP))))
def test_a_chart_shifts_the_verdict_settles_nothing_and_is_overruled_by_trials(chart):
    """However it names the leads, the same trials settle the same lamp; where it is wrong, that is said."""
    claims = tuple(zip(RED_LED, chart, strict=True))
    before = identify_leads(list(RED_LED), [], claims)
    assert not any(lead.is_settled for lead in before.leads)
    said = next(lead for lead, function in claims if function is Function.GROUND)
    assert before.lead(said).role is Role.COMMON
    assert next_trials(before)[0].minus == said
    trials = []
    while steps := next_trials(identify_leads(list(RED_LED), trials, claims), limit=1):
        trials.append(shown(RED_LED, steps[0].plus, steps[0].minus))
    found = identify_leads(list(RED_LED), trials, claims)
    assert {lead.lead: lead.role for lead in found.leads} == RED_LED
    disputed = {lead.lead for lead in found.leads if lead.is_disputed}
    assert disputed == {lead for lead, function in claims if RED_LED[lead] not in roles_of(function)}
