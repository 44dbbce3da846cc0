"""Readings that sloppy people, tired vehicles and slow meters make: what they must be taken for."""

from __future__ import annotations

from dataclasses import replace

import pytest

from electrics.document.places import AccessPoint, Evidence, Setup, Side, Wire
from electrics.formats.reading_text import parse_reading
from electrics.identify.belief import Lack, identify
from electrics.identify.families import Slip
from electrics.identify.plan import next_steps
from electrics.vocabulary import Arrangement, Control, Function, Instrument, parse_state

GRID = {
    "rest": ("0", "0", "0", "0", "0"),
    "park": ("0", "12.3", "0", "0", "0"),
    "brake": ("0", "0", "12.3", "0", "0"),
    "left": ("0", "0", "0", "0-12", "0"),
    "reverse": ("0", "0", "0", "0", "12.2"),
    "brake+left": ("0", "0", "12.3", "0-12", "0"),
}
"""Ground, tail, stop, turn left and reverse of a separate rear lamp."""
TRUE = (Function.GROUND, Function.TAIL, Function.STOP, Function.TURN_LEFT, Function.REVERSE)


def read(pin, state, text, supply_v=12.6):
    return Evidence(pin, Setup(parse_state(state)), parse_reading(text, Instrument.DMM), supply_v)


def believed(*evidence, pins=("1",)):
    return identify([AccessPoint("lamp", tuple(Wire(pin) for pin in pins), evidence, "rear_lamp", Side.LEFT)])[0]


def one_wire(supply_v=12.6, **cells):
    return believed(*(read("1", state.replace("_and_", "+"), text, supply_v) for state, text in cells.items()))


def grid(*more):
    rows = [read(str(n), state, text) for state, row in GRID.items() for n, text in enumerate(row, start=1)]
    return believed(*rows, *more, pins=tuple("12345"))


def column(state, *texts):
    return [read(str(n), state, text) for n, text in enumerate(texts, start=1) if text]


def test_with_the_engine_running_the_battery_reads_up_to_15_v_whatever_supply_was_typed():
    """12.2 to 15.0 V with today's alternators (common practice)."""
    found = one_wire(rest="0", brake="14.1", brake_and_left="14.2", brake_and_right="14.1").wires[0]
    assert found.function is Function.STOP
    assert found.probability > 0.7


def test_a_feed_that_sags_alike_in_every_state_is_a_tired_feed_and_no_brake_controller():
    """What lasts is one fact, not a chance drawn anew at every reading (common practice)."""
    cells = {
        "rest": "0",
        "park": "0",
        "left": "0",
        "brake": "10.7",
        "brake_and_left": "10.7",
        "brake_and_right": "10.7",
    }
    assert one_wire(12.4, **cells).wires[0].function is Function.STOP
    varying = one_wire(12.4, **{**cells, "brake": "4.1", "brake_and_left": "7.9", "brake_and_right": "10.7"}).wires[0]
    assert varying.function is Function.BRAKE_CONTROLLER


def test_a_slow_meter_swings_less_far_and_still_shows_a_flasher():
    found = one_wire(rest="0", park="0", brake="0", left="0-6", hazard="1-5").wires[0]
    assert found.function is Function.TURN_LEFT
    assert found.probability > 0.8


def test_a_lifted_ground_is_a_ground():
    """A bad ground is lifted by what flows through it: some tenths of a volt (common practice)."""
    found = one_wire(rest="0", brake="0.35", left="0.35", park="0.2", reverse="0.3").wires[0]
    assert found.function is Function.GROUND


def test_part_voltage_on_a_feed_that_is_off_is_named_as_a_back_feed():
    belief = one_wire(rest="0", park="12.3", brake="7.9", left="0", reverse="0")
    (road,) = belief.back_feeds
    assert (road.function, str(road.evidence.setup.state)) == (Function.TAIL, "brake")
    assert road.share == pytest.approx(7.9 / 12.6)
    assert belief.contradictions == ()


def test_the_same_cell_read_again_and_again_counts_twice_at_most():
    """Readings of one cell share their mistake: confirmation comes from another state."""
    chances = [
        believed(*[read("1", "rest", "0")], *[read("1", "brake", "12.3")] * count)
        .wires[0]
        .probability_of(Function.STOP)
        for count in (1, 2, 9)
    ]
    assert chances[0] < chances[1]
    assert chances[2] == pytest.approx(chances[1])


SLIPS = [
    (column("park+brake", "0", "0", "0", "0", "0"), Slip.NOT_ON),
    (column("park+brake", "0", "0", "12.3", "0", "0"), None),  # one odd reading is one mistake
    (column("park+left", "-12.5", "-0.2", "-12.5", "-12.4", "-12.5"), Slip.CLIP_ON_PLUS),
    (column("park+left", "0", "0-12", "0", "12.3", "0"), Slip.SWAPPED),
    (column("park+brake+reverse", "0", "12.3", "0", "0", "12.2"), None),
    (column("brake+reverse+park", "0", "0", "12.3", "0", "12.2"), None),
]


@pytest.mark.parametrize(("rows", "slip"), SLIPS)
def test_several_odd_readings_of_a_state_are_one_slip_and_one_is_one_mistake(rows, slip):
    belief = grid(*rows)
    assert [wire.function for wire in belief.wires] == list(TRUE)
    assert [family.slip for family in belief.families] == ([slip] if slip else [])
    if slip is None:
        assert len(belief.contradictions) == 1
        return
    assert belief.contradictions == ()
    (family,) = belief.families
    assert all(belief.wire(pin).lack is Lack.ODD for pin in family.pins)
    first = next_steps(belief)[0]
    assert first.is_repeat
    assert (first.setup, set(first.pins)) == (family.setup, set(family.pins))


COMBINED = {
    "rest": ("0", "0", "0"),
    "brake": ("12.3", "12.3", "0"),
    "left": ("0-12", "0", "0"),
    "right": ("0", "0-12", "0"),
    "reverse": ("0", "0", "12.2"),
    "brake+left": ("0-12", "12.3", "0"),
}
"""Both combined feeds and reverse, in a connector."""


def test_a_control_that_was_not_on_is_named_and_the_state_read_again_ends_it():
    rows = [item for state, texts in COMBINED.items() for item in column(state, *texts)]
    spoilt, right = column("brake+reverse", "0", "0", "12.2"), column("brake+reverse", "12.2", "12.3", "12.2")
    (family,) = believed(*rows, *spoilt, pins=tuple("123")).families
    assert (family.slip, family.control) == (Slip.NOT_ON, Control.BRAKE)
    again = believed(*rows, *spoilt, *right, pins=tuple("123"))
    assert again.families == ()
    assert again.contradictions == ()


@pytest.mark.parametrize("count", [1, 3, 7])
def test_a_list_that_nobody_called_whole_says_nothing_of_the_arrangement_by_its_length(count):
    """Wires that read nothing at rest are no evidence: what is not listed may still be there."""
    pins = tuple(str(n) for n in range(1, count + 1))
    rows = tuple(read(pin, "rest", "0") for pin in pins)
    some, whole = (
        identify([AccessPoint("lamp", tuple(map(Wire, pins)), rows, "rear_lamp", Side.LEFT, all_wires)])[0]
        for all_wires in (False, True)
    )
    assert some.arrangement[Arrangement.COMBINED] == pytest.approx(0.5, abs=0.06)
    assert abs(whole.arrangement[Arrangement.COMBINED] - 0.5) > 0.1


LOOM = {
    "rest": ("0", "12.5", "0"),
    "brake": ("0", "12.4", "12.4"),
    "left": ("0-12", "12.4", "0"),
    "right": ("0-12", "12.4", "0"),
    "hazard": ("0-12", "12.4", "0"),
    "brake+left": ("0-12", "12.4", "12.3"),
    "reverse": ("0", "12.4", "0"),
    "park": ("0", "12.4", "0"),
}


def test_the_wires_of_a_turn_switch_loom_that_no_lamp_has_are_what_they_are():
    """Flasher output with either indicator, hazard feed always, stop switch blind to the indicators (common practice)."""
    rows = [item for state, texts in LOOM.items() for item in column(state, *texts)]
    point = AccessPoint("loom", tuple(map(Wire, "123")), tuple(rows), "turn_switch_loom")
    (belief,) = identify([point], not_fitted=frozenset({Control.TRAILER_LEVER}))
    assert [wire.function for wire in belief.wires] == [
        Function.FLASHER_OUT,
        Function.HAZARD_FEED,
        Function.STOP_SWITCH,
    ]
    assert not any(belief.is_tappable(wire) for wire in belief.wires)
    lamp = identify([replace(point, kind="rear_lamp", side=Side.LEFT)])[0]
    assert lamp.wires[2].function is Function.STOP
