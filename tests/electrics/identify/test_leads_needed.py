"""Trials on the bench for what a job feeds: fewer than for every lead, and never a wrong lead for it."""

from __future__ import annotations

from itertools import permutations

import pytest

from electrics.document.lamp import Light, Seen, Trial
from electrics.identify.leads import MOST_TIMES, Role, identify_leads, next_trials
from electrics.identify.leads_needed import enough_for, leads_for, next_trials_for
from electrics.vocabulary import Function

LAMP = {"1": Role.TAIL, "2": Role.COMMON, "3": Role.RED, "4": Role.WHITE, "5": Role.AMBER}
SHOWN = {
    Role.TAIL: (Seen.DIM, Light.RED, 0.05),
    Role.RED: (Seen.LIT, Light.RED, 0.3),
    Role.AMBER: (Seen.LIT, Light.AMBER, 0.3),
    Role.WHITE: (Seen.LIT, Light.WHITE, 0.9),
}
"""What each lead of an LED lamp shows and draws, the common on negative [A] (common practice)."""


def shown(lamp, step):
    if lamp[step.minus] is Role.COMMON and lamp[step.plus] in SHOWN:
        return Trial(step.plus, step.minus, *SHOWN[lamp[step.plus]], step.fuse_a)
    return Trial(step.plus, step.minus, Seen.DARK, fuse_a=step.fuse_a)


def played(lamp, wanted):
    trials = []
    while steps := next_trials_for(identify_leads(list(lamp), trials), wanted, limit=1):
        trials.append(shown(lamp, steps[0]))
    return trials, identify_leads(list(lamp), trials)


@pytest.mark.parametrize("order", list(permutations("12345"))[::17])
@pytest.mark.parametrize(
    ("wanted", "leads"),
    [([Function.REVERSE], "4"), ([Function.TAIL, Function.STOP], "13"), ([Function.TURN_LEFT, Function.STOP], "53")],
)
def test_a_job_is_told_its_leads_in_no_more_trials_than_the_whole_lamp_takes(wanted, leads, order):
    lamp = {lead: LAMP[lead] for lead in order}
    trials, found = played(lamp, wanted)
    assert enough_for(found, wanted)
    assert leads_for(found, wanted) == tuple(leads)
    assert found.common.lead == "2"
    assert len(trials) <= len(played(lamp, ())[0]) + 1  # a trial that tells of the job may tell less of the rest


def test_only_the_reverse_lead_of_five_takes_fewer_trials_on_the_whole():
    orders = list(permutations(LAMP))[::7]
    for_all = [len(played({lead: LAMP[lead] for lead in order}, ())[0]) for order in orders]
    for_one = [len(played({lead: LAMP[lead] for lead in order}, [Function.REVERSE])[0]) for order in orders]
    assert sum(for_one) < 0.9 * sum(for_all)


def test_a_wish_of_nothing_asks_what_every_lead_asks():
    found = identify_leads(list(LAMP), [Trial("4", "2", Seen.LIT, Light.WHITE, 0.9)])
    assert next_trials_for(found, ()) == next_trials(found)


def test_a_red_lead_is_no_turn_signal_while_an_open_one_may_be_the_amber_one():
    lamp = {"red": Role.RED, "black": Role.COMMON, "blue": Role.AMBER}
    trials = [
        Trial("red", "black", Seen.LIT, Light.RED, 0.3),
        Trial("black", "red", Seen.DARK),
        Trial("red", "black", Seen.LIT, Light.RED, 0.31),
        Trial("red", "blue", Seen.DARK),
        Trial("blue", "red", Seen.DARK),
    ]
    found = identify_leads(list(lamp), trials)
    assert found.lead("red").is_settled
    assert not enough_for(found, [Function.TURN_LEFT])
    assert enough_for(played(lamp, [Function.TURN_LEFT])[1], [Function.TURN_LEFT])


@pytest.mark.parametrize("seen", [Seen.DARK, Seen.DIM, Seen.BLEW])
def test_no_pair_is_asked_a_third_time_through_one_fuse(seen):
    """Whatever a lamp shows, the same again and again too, testing comes to an end."""
    trials = []
    while steps := next_trials_for(identify_leads(["a", "b", "c"], trials), [Function.REVERSE], limit=1):
        step = steps[0]
        trials.append(Trial(step.plus, step.minus, seen, fuse_a=step.fuse_a))
        same = [t for t in trials if (t.plus, t.minus, t.fuse_a) == (step.plus, step.minus, step.fuse_a)]
        assert len(same) <= MOST_TIMES


def test_the_one_live_lead_among_spares_is_found_as_in_a_lamp_of_two_leads():
    """An LED turned round is the same lamp: which of its two leads is called common is told by where minus was."""
    lamp = {"a": Role.WHITE, "b": Role.UNUSED, "c": Role.COMMON}
    _, found = played(lamp, [Function.REVERSE])
    assert enough_for(found, [Function.REVERSE])
    assert (found.common.lead, leads_for(found, [Function.REVERSE])) == ("c", ("a",))
    assert found.way_round[0] == "common_minus"
