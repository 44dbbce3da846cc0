"""A wire on the unit's own side that is not settled yet is named where the plan goes to the other side for it."""

from __future__ import annotations

from dataclasses import replace

from electrics.document.places import PlaceFacts, Side
from electrics.job.own_side import own_side_wires
from electrics.vocabulary import Function
from lamps import point
from said import facts_of, with_best


def seen_right(*columns):
    """The right tail lamp as it was measured, beside a left one of which somebody says what every wire does."""
    pins = tuple("1234")
    measured = point(*columns, pins=pins, side=Side.RIGHT, name="right rear lamp")
    return PlaceFacts("right rear lamp", measured, tuple(f"right rear lamp {pin}" for pin in pins))


PARK = ("park", {"1": "0.0", "2": "12.3", "3": "0.0", "4": "0.0"})
REST = ("rest", dict.fromkeys("1234", "0.0"))


def planned(*columns):
    facts = facts_of("running_lamps")
    left = next(each for each in facts.places if each.key == "left rear lamp")
    return with_best(replace(facts, places=(left, seen_right(*columns))))


def test_the_far_wire_is_taken_and_the_open_one_nearby_is_worth_measuring_on():
    """Common practice: own side first. Park seen once on a wire is tail most likely, and no verdict yet."""
    found = planned(REST, PARK)
    right = next(lead for lead in found.hookup.leads if lead.lead.side == "right")
    assert right.shown.main.side == "left"
    (nearer,) = own_side_wires(found)
    assert nearer.function is Function.TAIL
    assert (nearer.lead.side, nearer.place, nearer.pin, nearer.far) == (
        "right",
        "right rear lamp",
        "2",
        "left rear lamp",
    )


def test_nothing_is_said_where_every_lamp_has_its_own_wire_or_none_is_likely():
    assert own_side_wires(with_best(facts_of("running_lamps"))) == ()
    assert own_side_wires(planned(REST)) == ()
