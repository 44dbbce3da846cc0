"""The test sheet: what must and must not happen, and a verdict that never flatters."""

from __future__ import annotations

import pytest

from electrics.design.wanted import parse_wanted
from electrics.errors import ReadingError
from electrics.prove.sheet import CheckKind, Outcome, SheetVerdict, judge_reading, make_sheet
from electrics.signals import Scenario
from electrics.vocabulary import Arrangement, Control, Function

FACTORY = [Function.GROUND, Function.TAIL, Function.REVERSE, Function.STOP, Function.TURN_LEFT]
SHEET = make_sheet(FACTORY, {"": parse_wanted(str(Function.REVERSE))}, Scenario(Arrangement.SEPARATE))


def passed(sheet):
    return {line.key: Outcome.PASS for line in sheet.lines}


def test_every_lamp_has_a_line_in_every_state():
    lamps = {line.lamp.id for line in SHEET.lines if line.lamp}
    assert lamps == {"added", "factory:tail", "factory:reverse", "factory:stop", "factory:turn_left"}
    assert len([line for line in SHEET.lines if line.lamp]) == len(lamps) * len(SHEET.states)


def test_added_reverse_lamps_must_light_in_reverse_and_nowhere_else():
    must = {
        str(line.state) for line in SHEET.lines if line.lamp and line.lamp.is_added and line.kind is CheckKind.MUST
    }
    assert must == {"reverse", "park+reverse"}


@pytest.mark.parametrize(
    ("wanted", "state"),
    [
        # negative checks of the trade (common practice)
        (Function.TURN_LEFT, "brake"),
        (Function.STOP, "hazard"),
        (Function.TAIL, "brake"),
        (Function.REVERSE, "rest"),
    ],
)
def test_what_must_not_happen_is_asked(wanted, state):
    sheet = make_sheet([Function.TAIL], {"": parse_wanted(str(wanted))}, Scenario(Arrangement.SEPARATE))
    assert sheet.line(f"{state}|added").kind is CheckKind.MUST_NOT


@pytest.mark.parametrize(
    ("wanted", "asked"),
    [
        ("reverse or own_switch", {"own_switch", "key+own_switch", "reverse+own_switch", "brake+own_switch"}),
        (
            "over(turn_left, drl)",
            {"key", "park_brake", "engine", "engine+left", "engine+right", "engine+hazard", "engine+park+left"},
        ),
        ("tail and stop and not reverse", {"park+brake+reverse"}),
        ("tail and not reverse", set()),
    ],
)
def test_what_a_hook_up_is_compared_in_beyond_the_usual_is_proven_too(wanted, asked):
    plain = make_sheet(FACTORY, {"": parse_wanted("reverse")}, Scenario(Arrangement.SEPARATE))
    sheet = make_sheet(FACTORY, {"": parse_wanted(wanted)}, Scenario(Arrangement.SEPARATE))
    assert {str(state) for state in set(sheet.states) - set(plain.states)} == asked


def test_one_untested_line_keeps_the_sheet_unfinished():
    results = passed(SHEET)
    assert SHEET.verdict(results) is SheetVerdict.PASSED
    for line in SHEET.lines:
        assert SHEET.verdict({k: v for k, v in results.items() if k != line.key}) is SheetVerdict.UNFINISHED


def test_one_failed_line_fails_the_sheet():
    assert SHEET.verdict(passed(SHEET) | {SHEET.lines[3].key: Outcome.FAIL}) is SheetVerdict.FAILED


def test_nothing_tested_is_not_passed():
    assert SHEET.verdict({}) is SheetVerdict.UNFINISHED


@pytest.mark.parametrize(
    ("line", "text", "outcome"),
    [
        # feed side at most 0.5 V, ground side at most 0.1 V, lamp on (common practice); rate SAE J590
        ("feed_drop", "0.49", Outcome.PASS),
        ("feed_drop", "510 mV", Outcome.FAIL),
        ("ground_drop", "0,1", Outcome.PASS),
        ("ground_drop", "0.11", Outcome.FAIL),
        ("flash_rate_left", "60 /min", Outcome.PASS),
        ("flash_rate_left", "148 /min", Outcome.FAIL),
    ],
)
def test_measured_lines_are_judged_by_their_limits(line, text, outcome):
    assert judge_reading(SHEET.line(f"measure|{line}").measure, text) is outcome


@pytest.mark.parametrize(("line", "text"), [("feed_drop", "flash"), ("feed_drop", ""), ("flash_rate_left", "25 %")])
def test_a_reading_that_cannot_be_judged_is_refused(line, text):
    with pytest.raises(ReadingError, match="Expected"):
        judge_reading(SHEET.line(f"measure|{line}").measure, text)


def test_drops_on_24_volts_are_judged_in_proportion():
    sheet = make_sheet(FACTORY, {"": parse_wanted(str(Function.REVERSE))}, Scenario(Arrangement.SEPARATE), 24)
    assert sheet.line("measure|feed_drop").measure.high == pytest.approx(1.0)


@pytest.mark.parametrize(
    ("text", "outcome"),
    [("90", "pass"), ("182", "fail"), ("90 /min", "pass"), ("1.5 Hz", "pass"), ("3 Hz", "fail"), ("90,5", "pass")],
)
def test_a_bare_number_is_in_the_unit_that_is_asked_for(text, outcome):
    """60 to 120 a minute (SAE J590); 1.5 Hz is 90 a minute."""
    sheet = make_sheet(FACTORY, {"": parse_wanted("turn_left")}, Scenario(Arrangement.SEPARATE))
    measure = sheet.line("measure|flash_rate_left").measure
    assert judge_reading(measure, text) == outcome


def test_a_state_that_the_vehicle_lacks_is_not_proven():
    lacks = frozenset({Control.REVERSE})
    sheet = make_sheet(FACTORY, {"": parse_wanted("tail")}, Scenario(Arrangement.SEPARATE), not_fitted=lacks)
    assert not [state for state in sheet.states if Control.REVERSE in state.controls]


def test_the_drop_of_a_feed_is_measured_while_that_feed_is_on():
    """Common practice: a drop is read under load; a fog lamp's feed carries nothing in reverse."""
    sheet = make_sheet({Function.FOG_REAR}, {"": parse_wanted("fog_rear")}, Scenario(Arrangement.SEPARATE))
    drop = next(line.measure for line in sheet.lines if line.measure and line.measure.id == "feed_drop")
    assert str(drop.state) == "fog_rear"
