"""The truth table of each function, against facts of the trade (common practice, no source)."""

from __future__ import annotations

import pytest

from electrics.signals import Level, Scenario, daytime_of, signal, variants
from electrics.vocabulary import Arrangement, BrakeWithHazard, Function, parse_state

SEPARATE = Scenario(Arrangement.SEPARATE)
FLASH_WINS = Scenario(Arrangement.COMBINED, BrakeWithHazard.FLASH_WINS)
BRAKE_WINS = Scenario(Arrangement.COMBINED, BrakeWithHazard.BRAKE_WINS)

TABLE = """
function                    rest  key  park  brake left  right hazard reverse brake+left brake+hazard high  park+left
tail                        off   off  on    off   off   off   off    off     off        off          on    on
stop                        off   off  off   on    off   off   off    off     on         on           off   off
turn_left                   off   off  off   off   flash off   flash  off     flash      flash        off   flash
turn_right                  off   off  off   off   off   flash flash  off     off        flash        off   off
stop_turn_left              off   off  off   on    flash off   flash  off     flash      flash        off   flash
stop_turn_right             off   off  off   on    off   flash flash  off     on         flash        off   off
reverse                     off   off  off   off   off   off   off    on      off        off          off   off
tail_stop_dimmed            off   off  part  on    off   off   off    off     on         on           part  part
tail_stop_turn_dimmed_left  off   off  part  on    flash off   flash  off     flash      flash        part  flash
turn_park_dimmed_right      off   off  part  off   off   flash flash  off     off        flash        part  part
drl                         off   on   off   off   on    on    off    on      on         off          off   off
ignition                    off   on   off   off   on    on    off    on      on         off          on    on
battery                     on    on   on    on    on    on    on     on      on         on           on    on
brake_controller            off   off  off   varying off off   off    off     varying    varying      off   off
ground                      off   off  off   off   off   off   off    off     off        off          off   off
data                        bus   bus  bus   bus   bus   bus   bus    bus     bus        bus          bus   bus
"""


def _cells():
    header, *rows = (line.split() for line in TABLE.strip().splitlines())
    for name, *levels in rows:
        for state, level in zip(header[1:], levels, strict=True):
            yield name, state, level


@pytest.mark.parametrize(("function", "state", "level"), list(_cells()))
def test_function_carries_what_it_must(function, state, level):
    assert signal(Function(function), parse_state(state), FLASH_WINS).word == level


def test_older_combined_lamps_burn_steady_when_braked_with_hazards():
    state = parse_state("brake+hazard")
    assert signal(Function.STOP_TURN_LEFT, state, BRAKE_WINS).word == "on"
    assert signal(Function.STOP_TURN_LEFT, parse_state("brake+left"), BRAKE_WINS).word == "flash"


def test_parking_lamps_of_one_side_light_that_side_only():
    state = parse_state("park_left")
    lit = [f for f in ("tail", "tail_left", "tail_right") if signal(Function(f), state, SEPARATE).lit is Level.ON]
    assert lit == ["tail_left"]


def test_a_bus_sleeps():
    assert signal(Function.DATA, parse_state("asleep"), SEPARATE).word == "off"


@pytest.mark.parametrize("function", list(Function)[:15])
def test_variant_weights_are_a_distribution(function):
    assert sum(weight for _, weight in variants(function)) == pytest.approx(1.0)


@pytest.mark.parametrize(
    ("circuits", "burns"),
    [
        ([], ""),
        ([(Function.TAIL, "plain")], ""),
        ([(Function.TAIL, "plain"), (Function.DRL, "engine_dims")], "engine_dims"),
        ([(Function.DRL, "key_drops_left"), (Function.DRL, "key_drops_right")], "key"),
    ],
)
def test_a_lamp_is_wanted_lit_by_day_even_where_its_feed_drops_while_turning(circuits, burns):
    """Only the feed goes dark with its side's indicator (common practice); what is wanted of the lamp does not."""
    assert daytime_of(circuits) == burns
    wanted = signal(
        Function.DRL, parse_state("engine+left"), Scenario(Arrangement.SEPARATE, drl=daytime_of(circuits))
    )
    assert wanted.lit is Level.ON
