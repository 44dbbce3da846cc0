"""The next step: what a tradesman would ask for, what it may never ask for, and when to stop."""

from __future__ import annotations

import pytest

from electrics.document.places import Setup, Side
from electrics.identify.belief import identify
from electrics.identify.plan import next_steps
from electrics.identify.setups import control_efforts, wants_helper
from electrics.vocabulary import Arrangement, Control, Function, Instrument, Load, parse_state
from lamps import GRID, all_pins, point


def steps_for(*columns, **options):
    shape = {name: options.pop(name) for name in ("pins", "kind", "side") if name in options}
    (belief,) = identify([point(*columns, **shape)])
    return belief, next_steps(belief, **options)


def test_nothing_is_asked_when_everything_is_settled():
    belief, steps = steps_for(*GRID)
    assert belief.is_settled
    assert steps == ()


def test_brake_seen_asks_for_the_state_that_parts_stop_from_stop_and_turn():
    """`brake+left`, `left` or `hazard` do; no other single control does (common practice)."""
    columns = (("rest", all_pins()), ("brake", all_pins(p4="12.2")), ("park", all_pins(p2="12.3")))
    _, steps = steps_for(*columns, current=Setup(parse_state("park")))
    asked = {control for step in steps for control in step.setup.state.controls if "4" in step.pins}
    assert asked & {Control.LEFT, Control.HAZARD}


def test_settled_wires_are_left_alone():
    belief, steps = steps_for(*GRID[:3], ("reverse", all_pins(p3="12.2")), ("brake+reverse", {"3": "12.1"}))
    settled = {wire.pin for wire in belief.wires if wire.is_settled}
    assert "3" in settled
    assert not any(settled & set(step.pins) for step in steps)


def test_a_contradiction_is_measured_again_first():
    belief, steps = steps_for(*GRID, ("low", {"2": "12.2"}), ("high", {"2": "0.0"}))
    assert belief.contradictions
    assert steps[0].is_repeat
    assert (str(steps[0].setup.state), steps[0].pins) == ("high", ("2",))


def test_alone_the_brake_costs_more_than_with_a_helper():
    solo, helped = control_efforts()["brake"].solo, control_efforts()["brake"].helped
    assert solo > helped
    _, alone = steps_for(("rest", all_pins()), solo=True)
    _, two = steps_for(("rest", all_pins()), solo=False)
    braking = [sum(Control.BRAKE in step.setup.state.controls for step in steps) for steps in (alone, two)]
    assert braking[0] < braking[1]
    assert wants_helper(parse_state("brake+left"))
    assert not wants_helper(parse_state("park+left"))


def test_the_state_already_set_is_free():
    columns = (("rest", all_pins()), ("brake", {"2": "0.0", "3": "0.0"}))
    _, here = steps_for(*columns, current=Setup(parse_state("brake")), limit=1)
    assert str(here[0].setup.state) == "brake"


@pytest.mark.parametrize(
    "columns", [(), (("rest", {"1": "12.6", "2": "12.6"}),), (("rest", {"1": "12.6", "2": "0"}),)]
)
def test_ohms_are_never_offered_on_a_pin_that_has_not_read_dead(columns):
    _, steps = steps_for(*columns, pins="12", limit=60)
    ohms = [step for step in steps if step.setup.instrument is Instrument.OHMS]
    assert all(set(step.pins) <= {"2"} for step in ohms)
    assert len(ohms) <= (1 if columns and columns[0][1]["2"] == "0" else 0)


def test_no_filament_test_lamp_where_a_computer_may_be_behind_the_wire():
    columns = (("rest", {"1": "0.0", "2": "0.0"}),)
    for computer_fed, offered in ((True, False), (False, True)):
        _, steps = steps_for(*columns, pins="12", computer_fed=computer_fed, limit=60, side=Side.LEFT)
        instruments = {step.setup.instrument for step in steps}
        loads = {step.setup.load for step in steps}
        assert (Instrument.LOADED_DROP in instruments or Load.OUT in loads) or not offered
        assert not instruments & {Instrument.TEST_LAMP, Instrument.TEST_LAMP_PLUS}
        if computer_fed:
            assert Instrument.LOADED_DROP not in instruments


def test_what_a_step_tells_apart_is_two_functions_that_are_open():
    belief, steps = steps_for(("rest", all_pins()), ("brake", all_pins(p4="12.2")))
    for step in steps:
        first, second = step.tells
        assert first is not second
        assert all(any(wire.probability_of(function) > 0.01 for wire in belief.wires) for function in (first, second))
        assert step.bits > 0


def test_following_the_advice_settles_a_lamp_in_under_half_the_grid():
    """Of five wires by ten columns; the ground, too, which only a reading that no feed could give settles."""
    truth = {"park": {"2": "12.3"}, "brake": {"4": "12.2"}, "left": {"5": "0-12"}, "reverse": {"3": "12.2"}}
    other = {Instrument.OHMS: {"1": "0.2"}, Instrument.LOADED_DROP: {"1": "0.004"}}
    for computer_fed in (True, False):
        columns, current, taken = [], None, 0
        for _ in range(12):
            (belief,) = identify([point(*columns)])
            steps = next_steps(belief, current=current, computer_fed=computer_fed)
            if not steps:
                break
            current = steps[0].setup
            on = other.get(current.instrument, {})
            if not on:
                on = {
                    pin: text for control in current.state.effective for pin, text in truth.get(control, {}).items()
                }
            off = {Instrument.OHMS: "OL", Instrument.LOADED_DROP: "0.2"}.get(current.instrument, "0.0")
            read = {pin: on.get(pin, off) for pin in steps[0].pins}
            columns.append((str(current.state), read, current.instrument, current.load))
            taken += len(read)
        assert belief.is_settled
        assert belief.wire("3").function is Function.REVERSE
        assert taken <= 22


PROBE = frozenset({"led_probe"})


def test_the_proof_that_a_verdict_needs_in_any_case_is_taken_first_because_it_tells_most():
    """Common practice: a ground is proven under load. Taken late, other readings are asked that it spares."""
    seen = point(
        ("park+left", {"1": "0.0", "2": "0-12", "3": "0.0", "4": "12.3"}),
        ("reverse", {"1": "0.0", "3": "12.2", "4": "0.0"}),
        pins=tuple("1234"),
    )
    (belief,) = identify([seen], arrangement=Arrangement.COMBINED)
    assert belief.wire("1").function is Function.GROUND
    assert not belief.wire("1").is_settled
    step = next_steps(belief, current=Setup(parse_state("reverse")), computer_fed=False)[0]
    assert (step.setup.instrument, step.pins) == (Instrument.LOADED_DROP, ("1",))


def test_only_what_the_instruments_at_hand_can_read_is_asked_for():
    """Whoever has a probe alone is asked for on, off and flashing, and comes to the same verdicts of feeds."""
    belief, steps = steps_for(limit=60, tools=PROBE)
    assert steps
    assert {step.setup.instrument for step in steps} == {Instrument.LED_PROBE}
    _, with_lamp = steps_for(limit=60, tools=frozenset({"test_lamp"}), computer_fed=True)
    assert with_lamp == (), "a filament test lamp is never asked for where a computer may feed"
    _, both = steps_for(limit=60, tools=frozenset({"multimeter"}), computer_fed=False)
    assert Instrument.LOADED_DROP not in {step.setup.instrument for step in both}, "that takes a test lamp as well"
    assert belief.wires
