"""A contact that is held open while its trigger flashes: through the dark of each flash, over time, and without a feed."""

from __future__ import annotations

import numpy as np
import pytest

from electrics.circuit.elements import Battery, Diode, Flasher, Lamp, Switch, TimedRelay
from electrics.circuit.network import Network
from electrics.circuit.simulate import simulate
from electrics.circuit.timeline import timeline

DAYTIME = Switch(name="daytime switch", nodes={"from": "bat", "to": "daytime"}, closed_with=("engine",))
HELD = TimedRelay(name="K", nodes={"30": "daytime", "87a": "held", "trigger": "turn", "31": "gnd"})


def front_lamp(*, by_relay=True):
    """Turn and daytime on one bulb, a diode each; the daytime feed through the contact, or straight."""
    return Network((
        Battery(name="B", nodes={"+": "bat", "-": "gnd"}, volts=13.5, resistance_ohm=0.01),
        DAYTIME,
        Switch(name="turn switch", nodes={"from": "bat", "to": "flasher_in"}, closed_with=("left", "hazard")),
        Flasher(name="flasher", nodes={"49": "flasher_in", "49a": "turn"}, type="fixed"),
        *((HELD,) if by_relay else ()),
        Diode(name="D1", nodes={"anode": "turn", "cathode": "bulb"}, part="6A4"),
        Diode(name="D2", nodes={"anode": "held" if by_relay else "daytime", "cathode": "bulb"}, part="6A4"),
        Lamp(name="bulb", nodes={"from": "bulb", "to": "gnd"}, bulb="P21W"),
    ))  # fmt: skip


@pytest.mark.parametrize(
    ("state", "lit", "dark"),
    [
        ("rest", False, False),
        ("engine", True, True),
        ("left", True, False),
        ("engine+left", True, False),
        ("engine+hazard", True, False),
    ],
)
def test_the_bulb_burns_by_day_and_goes_dark_between_flashes(state, lit, dark):
    seen = simulate(front_lamp(), [state])
    assert [seen.at(state, lit=each).light("bulb") > 0.3 for each in (True, False)] == [lit, dark]


def test_diodes_alone_leave_it_lit_between_flashes():
    """Steady wins in a diode-OR (common practice)."""
    seen = simulate(front_lamp(by_relay=False), ["engine+left"])
    assert all(seen.at("engine+left", lit=each).light("bulb") > 0.3 for each in (True, False))


def test_over_some_seconds_the_daytime_never_shows_between_flashes_and_is_back_afterwards():
    seen = timeline(front_lamp(), [(0.0, "engine"), (1.0, "engine+left"), (6.0, "engine")], 8.0)
    light, at = seen.light["bulb"], seen.times_s
    darkened = [event.at_s for event in seen.events if event.what == "dark"]
    assert len(darkened) >= 6
    for start in darkened:
        end_of_dark = light[(at > start) & (at < start + 0.3)]
        assert end_of_dark[-1] < 0.1, f"still {end_of_dark[-1]:.2f} after {start:.2f} s"
    assert light[at > 7.5].min() > 0.3
    assert light[(at > 0.5) & (at < 1.0)].min() > 0.3


def test_a_turn_feed_never_runs_back_into_a_daytime_feed_that_is_off():
    seen = simulate(front_lamp(), ["left"])
    assert abs(seen.at("left").volts("daytime")) < 0.1
    assert abs(seen.at("left").amps("K", "87a")) < 1e-3


def test_what_hangs_on_the_trigger_is_milliamps():
    """A sensing input must not load a monitored turn feed (common practice)."""
    seen = simulate(front_lamp(), ["engine+left"])
    assert 0 < seen.at("engine+left").amps("K", "trigger") < 5e-3
    assert np.isclose(seen.at("engine+left").amps("K", "87a"), 0, atol=1e-6)
