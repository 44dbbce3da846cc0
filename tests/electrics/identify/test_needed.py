"""Advice for what a job taps: stops when that is sure, asks for nothing else, and never in circles."""

from __future__ import annotations

import random
from collections import Counter
from dataclasses import replace

import pytest
from bench.best_wish import against_every_plan
from bench.taps import Hands, by_advice, by_routine, drawn, play
from bench.vehicles import PLUGS, generate, measure
from hypothesis import given, settings
from hypothesis import strategies as st

from electrics.document.places import AccessPoint, Claim, Evidence, Origin, Setup, Side, Wire
from electrics.formats.reading_text import parse_reading
from electrics.identify.belief import identify
from electrics.identify.needed import NOTHING, Needed, enough, most_doubt, needs_of, sought
from electrics.identify.needed_plan import next_for
from electrics.identify.reach import out_of_reach
from electrics.identify.setups import MOST_READ
from electrics.vocabulary import Function, Instrument, parse_state

REVERSE = Needed.each([Function.REVERSE])


def place(*columns, pins="12345", kind="rear_lamp", side=Side.LEFT):
    """A place with columns of (state, {pin: text}, instrument)."""
    evidence = tuple(
        Evidence(pin, Setup(parse_state(state), instrument), parse_reading(text, instrument), 12.6)
        for state, cells, *rest in columns
        for instrument in [rest[0] if rest else Instrument.DMM]
        for pin, text in cells.items()
    )
    return AccessPoint("lamp", tuple(map(Wire, pins)), evidence, kind, side)


def believe(point, **facts):
    return identify([point], **facts)[0]


def test_a_job_that_taps_nothing_asks_for_nothing_not_even_a_ground():
    belief = believe(place())
    for needed in (NOTHING, Needed()):
        assert enough(belief, needed)
        assert next_for(belief, needed) == ()


def test_a_practised_persons_readings_are_enough():
    """Reverse on, all pins; the one that lights with its double; a loaded drop on the ground, twice (common
    practice)."""
    lit = {"1": "0.0", "2": "12.2", "3": "0.02", "4": "0.0", "5": "0.01"}
    columns = [
        ("reverse", lit),
        ("rest", {"2": "0.0"}),
        ("low+brake", {"2": "0.02"}),
        ("rest", {"4": "4 mV"}, Instrument.LOADED_DROP),
        ("rest", {"4": "4 mV"}, Instrument.LOADED_DROP),
    ]
    assert enough(believe(place(*columns)), REVERSE)
    assert next_for(believe(place(*columns)), REVERSE) == ()
    assert not enough(believe(place(*columns[:3])), REVERSE), "a ground that nobody loaded is none"
    assert enough(believe(place(*columns[:3])), replace(REVERSE, ground=False))


def test_what_overthrows_it_is_said_at_once():
    lit = {"1": "0.0", "2": "12.2", "3": "0.02", "4": "0.0", "5": "0.01"}
    columns = [("reverse", lit), ("rest", {"2": "0.0"}), ("low+brake", {"2": "0.02"})]
    needed = replace(REVERSE, ground=False)
    assert enough(believe(place(*columns)), needed)
    after = believe(place(*columns, ("brake", {"2": "12.2"}), ("key", {"2": "12.2"})))
    assert not enough(after, needed)
    assert next_for(after, needed)


def test_a_stop_tap_needs_two_states_however_sure_one_makes_it():
    needed = Needed.each([Function.STOP], ground=False)
    columns = [("brake", {"1": "12.2", "2": "0.0", "3": "0.0"})]
    only = believe(place(*columns, pins="123", kind="high_stop", side=Side.NONE))
    (need,) = needs_of(only, needed)
    assert need.pin == "1"
    assert not need.is_met


@pytest.mark.parametrize(("kind", "side"), [("flat_4", Side.NONE), ("fuse_box", Side.NONE), ("rear_lamp", Side.LEFT)])
def test_nothing_is_asked_that_a_place_cannot_answer(kind, side):
    """No lamp to pull at plugs and fuse boxes."""
    belief = believe(place(kind=kind, side=side))
    steps = next_for(belief, Needed.each([Function.TAIL]), limit=40)
    assert steps
    if kind != "rear_lamp":
        assert all(step.setup.load == "in" for step in steps)


def test_order_of_pins_changes_nothing():
    cells = {"1": "0.0", "2": "12.2", "3": "0.02", "4": "0.0", "5": "0.01"}
    points = [place(("reverse", cells), pins=pins) for pins in ("12345", "53142")]
    first, second = (next_for(believe(point), REVERSE, limit=3) for point in points)
    assert [(step.setup, set(step.pins)) for step in first] == [(step.setup, set(step.pins)) for step in second]


@settings(max_examples=12, deadline=None)
@given(st.integers(0, 10**6))
def test_no_cell_is_asked_a_third_time_and_the_advice_ends(seed):
    rng = random.Random(seed)
    truth, needed = drawn(1, rng.choice([1, 2]), seed=seed)[0]
    asked = Counter()
    hands = Hands(truth, rng, 0.15)
    read = hands.read
    hands.read = lambda pin, setup, **how: (asked.update([(pin, setup)]), read(pin, setup, **how))[1]
    played = by_advice(truth, needed, hands)
    assert max(asked.values(), default=0) <= MOST_READ
    assert played.readings < 80


def test_asking_for_more_never_lowers_the_proof_of_one():
    for truth, both in drawn(8, 2, seed=5):
        evidence, current, rng = [], None, random.Random(7)
        for _ in range(60):
            belief = believe(replace(truth.empty(), evidence=tuple(evidence)), not_fitted=truth.not_fitted)
            steps = next_for(belief, both, current=current, computer_fed=False, limit=1)
            if not steps:
                break
            current = steps[0].setup
            wire = next(wire for wire in truth.wires if wire.pin == steps[0].pins[0])
            evidence.append(measure(truth, wire, current, rng, 0.0))
        for group in both.groups:
            (need,) = needs_of(belief, Needed((group,), ground=False))
            assert need.doubt <= 1.1 * most_doubt(need.function)


def test_a_wire_of_a_plug_that_was_rewired_is_not_tapped_by_its_standard():
    """Two contacts swapped, nothing mistaken: what the standard says is a claim."""
    rng = random.Random(3)
    wrong = played = 0
    while played < 15:
        truth = generate(rng, PLUGS, swapped=1.0)
        there = sorted({wire.function for wire in truth.wires} & {Function.TAIL, Function.REVERSE, Function.STOP})
        if there:
            found = by_advice(truth, Needed.each(there[:1]), Hands(truth, rng, 0.0))
            wrong, played = wrong + found.is_wrong(truth), played + 1
    assert not wrong


@given(seed=st.integers(0, 10_000))
@settings(max_examples=15, deadline=None)
def test_claims_change_nothing_of_what_a_job_may_tap(seed):
    """The same readings with a chart that is right, wrong or full of turn-and-stop: the same doubts."""
    rng = random.Random(seed)
    truth = generate(rng, ("rear_lamp",))
    setups = rng.sample(truth.full_grid(), 4)
    evidence = tuple(measure(truth, wire, setup, rng, 0.05) for setup in setups for wire in truth.wires)
    plain = replace(truth.empty(), evidence=evidence)
    said = [
        rng.choice([Function.TAIL, Function.STOP, Function.STOP_TURN_LEFT, Function.TURN_RIGHT]) for _ in plain.wires
    ]
    chart = tuple(
        replace(wire, claims=(Claim(function, Origin.WIRE_BOOK),))
        for wire, function in zip(plain.wires, said, strict=True)
    )
    needed = Needed.each([Function.TAIL, Function.STOP, Function.REVERSE])
    free, claimed = (sought(believe(point), *needed.all_groups) for point in (plain, replace(plain, wires=chart)))
    assert claimed.measured == pytest.approx(free.measured, abs=1e-9)


def test_advice_takes_no_more_than_a_practised_person_and_taps_more_surely():
    """A small sample of what `make bench` measures; the routine is common practice, one reading in twenty a slip."""
    places = drawn(30, 2)
    tool, routine = play(by_advice, places, solo=True), play(by_routine, places, solo=True)
    assert tool.readings <= routine.readings
    assert tool.unfound <= 2
    assert tool.wrong <= 1


@pytest.mark.parametrize("function", [Function.REVERSE, Function.TURN_LEFT])
def test_on_two_wires_no_plan_of_five_readings_in_four_states_is_much_better(function):
    """Every plan is tried, by dynamic programming; a quarter more is what the advice may take."""
    assert against_every_plan(function, 2).ratio <= 1.25


def test_what_nothing_at_hand_can_settle_is_said_before_the_first_reading():
    """A probe alone proves no ground; at a turn-switch loom no state parts a battery feed from the hazards' feed."""
    lamp, probe = believe(place()), frozenset({"led_probe"})
    assert [need.function for need in out_of_reach(lamp, REVERSE, tools=probe)] == [Function.GROUND]
    assert out_of_reach(lamp, REVERSE) == ()
    loom = believe(place(kind="turn_switch_loom", side=Side.NONE))
    battery = Needed.each([Function.BATTERY, Function.TURN_LEFT], ground=False)
    assert [need.function for need in out_of_reach(loom, battery)] == [Function.BATTERY]
    assert all(Function.BATTERY is not step.tells[0] for step in next_for(loom, battery, limit=20))


def test_a_wire_that_was_never_seen_on_is_no_tap_however_sure_ohms_and_dark_states_make_it():
    needed = Needed.each([Function.TAIL], ground=False)
    dark = [(state, {"2": "0.0"}) for state in ("rest", "key", "brake+left", "brake+right", "hazard", "reverse")]
    filament = [("rest", {"1": "0.2 ohm", "2": "2.0 ohm"}, Instrument.OHMS)]
    (need,) = needs_of(believe(place(*dark, *filament, pins="12")), needed)
    assert not need.is_met
    lit = believe(place(*dark, *filament, ("park", {"2": "12.3"}), ("park_left", {"2": "0.0"}), pins="12"))
    assert needs_of(lit, needed)[0].is_met


def test_a_lamp_that_is_switched_by_its_ground_is_seen_on_where_its_wire_falls_to_ground():
    states = {"rest": "12.4", "low+brake": "12.4", "key": "12.4", "reverse": "0.05", "brake+reverse": "0.1"}
    columns = [(state, {"1": text, "2": "12.4" if "brake" in state else "0.0"}) for state, text in states.items()]
    (need,) = needs_of(believe(place(*columns, pins="12")), replace(REVERSE, ground=False))
    assert (need.pin, need.is_met) == ("1", True)
