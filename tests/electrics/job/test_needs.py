"""What a job needs of its places: its taps and a ground, each where it can be."""

from __future__ import annotations

from dataclasses import replace

import pytest

from electrics.document.job import JobFacts, Wish
from electrics.document.places import AccessPoint, Evidence, PlaceFacts, Setup, Side, Wire
from electrics.document.vehicle import VehicleFacts
from electrics.formats.reading_text import parse_reading
from electrics.identify.needed import NOTHING, enough
from electrics.job.needs import beliefs_of, needed_of
from electrics.job.plan import plan
from electrics.vocabulary import Arrangement, Control, Function, Instrument, parse_state
from said import facts_of

F = Function
PINS = "12345"


def place(name, kind="rear_lamp", side=Side.LEFT, *columns):
    evidence = tuple(
        Evidence(pin, Setup(parse_state(state), instrument), parse_reading(text, instrument), 12.6)
        for state, cells, instrument in columns
        for pin, text in cells.items()
    )
    point = AccessPoint(name, tuple(map(Wire, PINS)), evidence, kind, side, True)
    return PlaceFacts(name, point, tuple(f"{name} {pin}" for pin in PINS))


def job(kind, *places, **vehicle):
    return JobFacts(VehicleFacts(**vehicle), places, Wish(kind, count=1, each_a=1.0))


def needed(facts):
    return needed_of(facts, beliefs_of(facts))


def test_a_reverse_lamp_needs_the_reverse_wire_and_a_ground_and_nothing_else():
    (found,) = needed(job("reverse_lamps", place("left tail lamp")))
    assert found.functions == {F.REVERSE, F.GROUND}


def test_a_turn_lamp_is_looked_for_on_its_own_side():
    """At the left lamp nobody looks for the right one's wire."""
    front = [place(f"{side} front lamp", "front_lamp", side) for side in (Side.LEFT, Side.RIGHT)]
    left, right = needed(job("mirror_turn_pair", *front))
    assert F.TURN_LEFT in left.functions
    assert F.TURN_RIGHT not in left.functions
    assert F.TURN_RIGHT in right.functions
    assert F.TURN_LEFT not in right.functions


@pytest.mark.parametrize(
    ("arrangement", "there"),
    [(None, True), (Arrangement.SEPARATE, False), (Arrangement.COMBINED, True)],
)
def test_where_turn_and_brake_share_a_wire_it_stands_in(arrangement, there):
    rear = [place(f"{side} tail lamp", "rear_lamp", side) for side in (Side.LEFT, Side.RIGHT)]
    left, _ = needed(job("mirror_turn_pair", *rear, arrangement=arrangement))
    assert (F.STOP_TURN_LEFT in left.functions) is there


def test_what_the_vehicle_lacks_is_not_looked_for():
    lacks = frozenset({Control.REVERSE})
    assert needed(job("reverse_lamps", place("left tail lamp"), not_fitted=lacks)) == (NOTHING,)


def test_what_was_found_at_one_place_is_not_looked_for_at_another():
    """A reverse bar has no side: one reverse wire will do."""
    volts, drop = Instrument.DMM, Instrument.LOADED_DROP
    columns = [
        ("reverse", {"1": "0.0", "2": "12.2", "3": "0.0", "4": "0.0", "5": "0.0"}, volts),
        ("rest", {"1": "0.0", "2": "0.0"}, volts),
        ("low+brake", {"2": "0.0"}, volts),
        ("rest", {"1": "4 mV"}, drop),
        ("rest", {"1": "4 mV"}, drop),
    ]
    first, second = place("left tail lamp", "rear_lamp", Side.LEFT, *columns), place("right", side=Side.RIGHT)
    facts = replace(job("reverse_lamps", first, second), units=())
    beliefs = beliefs_of(facts)
    assert enough(beliefs[0], needed_of(facts, beliefs)[0])
    sure = {wire.pin for wire in beliefs[0].wires if wire.is_settled}
    assert sure == {"1", "2"}, "what the job taps may be hooked up; the rest stays open"
    assert any(way.is_right for lead in plan(facts).hookup.leads for way in lead.ways)


def test_what_a_person_decided_is_enough():
    facts = facts_of("reverse_lamps")
    for belief, each in zip(beliefs_of(facts), needed(facts), strict=True):
        assert enough(belief, each)


def test_a_wish_that_cannot_be_read_needs_nothing():
    facts = replace(job("own", place("left tail lamp")), wish=Wish("own", own_leads="red = nonsense"))
    assert needed_of(facts, beliefs_of(facts)) == (NOTHING,)


def test_what_such_a_vehicle_hardly_ever_has_is_not_asked_until_somebody_measures_with_it():
    """No parking lamps of one side on a motorcycle (common practice)."""
    at_rest = ("rest", {"1": "0.0"}, Instrument.DMM)
    with_it = ("park_left", {"1": "12.2"}, Instrument.DMM)
    for columns, lacks in (([at_rest], True), ([at_rest, with_it], False)):
        facts = job("reverse_lamps", place("rear lamp", "rear_lamp", Side.LEFT, *columns), body="motorcycle")
        (belief,) = beliefs_of(facts)
        assert (Control.PARK_LEFT in belief.not_fitted) is lacks
