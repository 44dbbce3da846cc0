"""What may be called settled: not on a claim, not on zeros, not on what a bus could be."""

from __future__ import annotations

from dataclasses import replace

import numpy as np
import pytest

from electrics.document.places import AccessPoint, Claim, Evidence, Origin, Setup, Side, Wire
from electrics.formats.reading_text import parse_reading
from electrics.identify.belief import identify
from electrics.identify.kinds import pin_out
from electrics.identify.plan import next_steps
from electrics.identify.settle import (
    LEAST_WITHOUT,
    READING_COST,
    Lack,
    cost_of_error,
    is_tappable,
    least_sure,
    proves_ground,
)
from electrics.identify.setups import dead_pins, possible_setups
from electrics.vocabulary import Control, Function, Instrument, Load, parse_state
from lamps import GRID, all_pins, point

PINS = tuple("1234567")
DEAD, LIVE = dict.fromkeys(PINS, "0.0") | {"4": "12.5"}, {"4": "12.5"}


def blade(*columns, kind="blade_7"):
    return identify([point(*columns, pins=PINS, kind=kind, side=Side.NONE)])[0]


def test_a_standard_settles_no_contact_that_its_own_readings_have_not_spoken_for():
    """All at rest, the brake, high beam: no reading with an indicator or in reverse."""
    belief = blade(
        ("rest", DEAD), ("brake", DEAD | {"5": "12.2", "6": "12.2", "2": "8.0"}), ("high", DEAD | {"3": "12.2"})
    )
    for pin in "567":
        assert belief.wire(pin).probability > 0.9, "the standard is believed"
        assert belief.wire(pin).lack is Lack.OWN_READINGS
    asked = {pin for step in next_steps(belief) for pin in step.pins}
    assert {"5", "6", "7"} <= asked, "and measured all the same"


def test_a_verdict_stands_when_its_error_costs_no_more_than_a_reading():
    """A wrong tap for a lamp that brakes or turns costs more than one for a tail lamp; a bus tapped costs most."""
    assert least_sure(Function.STOP) > least_sure(Function.TAIL) > least_sure(Function.SPARE)
    sure = least_sure(Function.TAIL)
    assert cost_of_error(Function.TAIL, sure, [(Function.STOP, 1 - sure)]) == pytest.approx(READING_COST)
    assert cost_of_error(Function.TAIL, sure, [(Function.DATA, 1 - sure)]) > 2 * READING_COST


def test_volts_alone_make_no_bus():
    """A ghost may stand at 2.5 V in every state: a counter tells."""
    states = ("rest", "park", "brake", "left", "reverse", "key", "hazard")
    columns = [(state, {"1": "2.5", "2": "0.0"}) for state in states]
    alone = identify([point(*columns, pins=("1", "2"))])[0].wire("1")
    assert not alone.is_settled
    talking = identify([point(*columns, ("key", {"1": "40 kHz"}, Instrument.HERTZ), pins=("1", "2"))])[0].wire("1")
    assert talking.function is Function.DATA
    assert talking.is_settled


@pytest.mark.parametrize("swapped", [("5", "6"), ("3", "7"), ("6", "7")])
def test_two_contacts_that_somebody_swapped_are_never_settled_as_the_standard_has_them(swapped):
    """Followed advice to its end, on a plug whose readings are what the swapped wires carry."""
    truth = {pin.pin: pin.function for pin in pin_out("blade_7")}
    a, b = swapped
    truth[a], truth[b] = truth[b], truth[a]
    live = {
        Function.TAIL: {"park"},
        Function.BATTERY: {""},
        Function.REVERSE: {"reverse"},
        Function.STOP_TURN_LEFT: {"brake"},
        Function.STOP_TURN_RIGHT: {"brake"},
        Function.BRAKE_CONTROLLER: {"brake", "trailer_lever"},
    }

    def volts(function, state):
        on = {str(control) for control in state.effective} | {""}
        side = function.rpartition("_")[2]
        if function.startswith("stop_turn") and on & {side, "hazard"}:
            return "0-12"
        if function is Function.BRAKE_CONTROLLER and on & live[function]:
            return "7.5"
        return "12.3" if on & live.get(function, set()) else "0.0"

    def shown(function, setup):
        if setup.instrument is Instrument.OHMS:  # leads alone, or with a cold 21 W filament
            return "0.2" if function is Function.GROUND else "0.6"
        return "none" if setup.instrument is Instrument.HERTZ else volts(function, setup.state)

    columns, current = [("rest", {pin: volts(truth[pin], parse_state("rest")) for pin in PINS})], None
    for _ in range(25):
        belief = blade(*columns)
        steps = next_steps(belief, current=current)
        if not steps:
            break
        current = steps[0].setup
        columns.append(
            (
                str(current.state),
                {p: shown(truth[p], current) for p in steps[0].pins},
                current.instrument,
                current.load,
            )
        )
    for wire in belief.wires:
        assert not wire.is_settled or wire.function is truth[wire.pin], wire.pin
    assert all(belief.wire(pin).is_settled for pin in swapped)


@pytest.mark.parametrize(
    "columns",
    [
        [("rest", {"4": "27 mV"}, Instrument.LOADED_DROP)],
        [("rest", {"4": "4 mV"}, Instrument.LOADED_DROP)],
        [(state, {"4": "0.00"}) for state in ("rest", "key", "park", "left", "right", "brake", "reverse")],
        [("rest", {"4": "0.00"}), ("park", {"4": "0.0"}), ("rest", {"4": "43 mV"}, Instrument.LOADED_DROP)],
        [("rest", {"4": "0.00"}), ("park", {"4": "0.0"}), ("rest", {"4": "0.2 ohm"}, Instrument.OHMS)],
    ],
    ids=["two headlamp filaments", "one reading", "zeros alone", "three filaments of 21 W", "ohms, lamp in"],
)
def test_no_ground_is_settled_on_what_a_resting_feed_could_show_or_on_one_reading(columns):
    """27 mV are two cold headlamp filaments, 43 mV three of 21 W at a lamp of 0.25 A (calculated)."""
    (belief,) = identify([point(*columns, pins="4", kind="front_lamp", side=Side.RIGHT)])
    assert not belief.wire("4").is_settled
    assert not belief.is_tappable(belief.wire("4"))


def test_one_reading_settles_nothing_and_another_that_agrees_is_asked_for():
    """A wire lit in one column only: that reading may have been taken on the wrong pin."""
    live = {"park": "3", "left": "", "right": "2", "low": "3", "high": "3", "fog_front": "34"}
    texts = {"2": "0-12", "3": "12.2", "4": "12.2"}
    columns = [
        *((state, dict.fromkeys("1234", "0.01")) for state in ("rest", "key", "engine")),
        *((state, {pin: texts[pin] if pin in on else "0.01" for pin in "1234"}) for state, on in live.items()),
        ("rest", {"1": "0.005", "2": "0.08", "3": "0.12", "4": "0.02"}, Instrument.LOADED_DROP),
    ]
    lamp = {"pins": tuple("1234"), "kind": "front_lamp", "side": Side.RIGHT}
    (before,) = identify([point(*columns, **lamp)])
    assert before.wire("4").function is Function.FOG_FRONT
    assert before.wire("4").lack is Lack.CONFIRMATION
    unread = [
        (state, {p: t for p, t in texts.items() if (state, p) != ("fog_front", "4")}, *r)
        for state, texts, *r in columns
    ]
    (without,) = identify([point(*unread, **lamp)])
    assert without.wire("4").probability_of(Function.FOG_FRONT) < LEAST_WITHOUT
    assert np.allclose(before.unclaimed[3], without.unclaimed[3], atol=0.02)
    step = next_steps(before, computer_fed=False)[0]
    assert "4" in step.pins
    assert Control.FOG_FRONT in step.setup.state.controls
    (after,) = identify([point(*columns, (str(step.setup.state), {"3": "12.2", "4": "12.2"}), **lamp)])
    assert after.wire("4").is_settled


@pytest.mark.parametrize(
    "proof", [("0.2 ohm", Instrument.OHMS, Load.OUT), ("4 mV", Instrument.LOADED_DROP, Load.IN)], ids=["ohms", "drop"]
)
def test_a_ground_settles_on_what_no_feed_could_show_and_that_is_asked_for(proof):
    text, instrument, load = proof
    columns = (*GRID[:-1], ("fog_rear", {"1": "0.0"}), ("low", {"1": "0.0", "2": "12.2"}))
    (before,) = identify([point(*columns)])
    assert before.wire("1").lack is Lack.GROUND_PROOF
    steps = next_steps(before, computer_fed=instrument is Instrument.OHMS)
    assert (steps[0].setup.instrument, steps[0].setup.load, steps[0].pins) == (instrument, load, ("1",))
    (after,) = identify([point(*columns, ("rest", {"1": text}, instrument, load))])
    assert after.wire("1").is_settled


def test_the_proof_follows_the_system_voltage():
    item = Evidence(
        "1", Setup(parse_state("rest"), Instrument.LOADED_DROP), parse_reading("15 mV", Instrument.LOADED_DROP), 25.2
    )
    other = Evidence("1", Setup(parse_state("park")), parse_reading("0.0"), 25.2)
    assert proves_ground([item, other])
    assert not proves_ground([replace(item, supply_v=12.6), replace(other, supply_v=12.6)])


BUS = (("key", {"1": "2.63", "2": "2.30"}), ("brake", {"1": "2.51", "2": "2.31"}))


@pytest.mark.parametrize(
    "columns", [BUS, (("rest", {"1": "0.0", "2": "0.0"}), *BUS)], ids=["awake", "asleep at rest"]
)
def test_a_bus_pair_is_never_settled_as_something_else_nor_tappable(columns):
    """Two lines either side of 2.5 V while awake, near zero asleep (ISO 11898-2)."""
    (belief,) = identify([point(*columns, pins="12", kind="rear_lamp")])
    for wire in belief.wires:
        assert wire.function is Function.DATA or not wire.is_settled
        assert not belief.is_tappable(wire)
    (alone,) = identify([point(("key", {"1": "2.63"}), ("brake", {"1": "2.51"}), pins="12", kind="rear_lamp")])
    assert belief.wire("1").probability_of(Function.DATA) > alone.wire("1").probability_of(Function.DATA)


def test_one_unexplained_reading_of_a_bus_keeps_any_verdict_open():
    """Battery at rest in both, then 2.6 V: a tail feed does not do that; a pulsed one does."""
    columns = [*GRID, ("low", {"2": "12.3"}), ("engine", {"2": "2.6"})]
    (belief,) = identify([point(*columns)])
    assert not belief.wire("2").is_settled
    pulsed = [(state, {"1": "0", "2": text}) for state, text in (("park", "2.9"), ("low", "3.0"), ("brake", "12.2"))]
    pulsed += [
        ("left", {"2": "0-12"}),
        ("rest", {"2": "0.0"}),
        ("reverse", {"2": "0"}),
        ("brake+left", {"2": "0-12"}),
    ]
    (dimmed,) = identify([point(*pulsed, pins="12")])
    assert dimmed.wire("2").lack is not Lack.BUS


@pytest.mark.parametrize(
    ("function", "lack", "chance", "is_fused", "may"),
    [
        (Function.STOP, Lack.NOTHING, 0.0, False, True),
        (Function.STOP, Lack.NOTHING, 0.011, False, False),
        (Function.STOP, Lack.CHANCE, 0.0, False, False),
        (Function.BATTERY, Lack.NOTHING, 0.0, False, False),
        (Function.BATTERY, Lack.NOTHING, 0.0, True, True),
        *((function, Lack.NOTHING, 0.0, True, False) for function in ("ground", "data", "spare", "dead_feed")),
        *((function, Lack.NOTHING, 0.0, True, False) for function in ("marker_between", "brake_controller")),
    ],
)
def test_what_may_be_tapped(function, lack, chance, is_fused, may):
    assert is_tappable(Function(function), lack, chance, is_fused=is_fused) is may


@pytest.mark.parametrize(
    "later",
    [
        [("rest", {"1": "12.5"})],
        [("brake", {"1": "12.2"})],
        [("left", {"1": "0-12"})],
        [("park", {"1": "lit"}, Instrument.TEST_LAMP)],
    ],
)
def test_ohms_are_never_asked_of_a_pin_that_has_been_live(later):
    (before,) = identify([point(("rest", {"1": "0.0", "2": "0.0"}), pins="12")])
    assert dead_pins(before) == {"1", "2"}
    (after,) = identify([point(("rest", {"1": "0.0", "2": "0.0"}), *later, pins="12")])
    assert dead_pins(after) == {"2"}
    ohms = [step for step in next_steps(after, limit=60) if step.setup.instrument is Instrument.OHMS]
    assert not any("1" in step.pins for step in ohms)


def test_what_the_vehicle_lacks_is_neither_asked_for_nor_believed():
    lacks = frozenset({Control.FOG_REAR, Control.PARK_LEFT, Control.PARK_RIGHT, Control.TRAILER_LEVER})
    lamp = point(("rest", all_pins()), ("park", all_pins(p2="12.3")), ("low", {"2": "12.2"}))
    (free,), (told,) = identify([lamp]), identify([lamp], not_fitted=lacks)
    assert not told.wire("2").probability_of(Function.TAIL_LEFT) > 1e-6
    assert told.wire("2").is_settled
    assert not free.wire("2").is_settled
    asked = {c for setup in possible_setups(lamp, True, lacks) for c in setup.state.controls}
    assert not asked & lacks
    assert lacks <= {c for setup in possible_setups(lamp, True) for c in setup.state.controls}


def test_no_claim_settles_a_wire_however_strong():
    wires = tuple(Wire(pin, "", (Claim(Function.TAIL, Origin.WIRE_BOOK),) * 3) for pin in "12")
    evidence = tuple(Evidence(pin, Setup(parse_state("rest")), parse_reading("0.0"), 12.6) for pin in "12")
    (belief,) = identify([AccessPoint("x", wires, evidence, "rear_lamp", Side.LEFT)])
    assert not any(wire.is_settled for wire in belief.wires)
