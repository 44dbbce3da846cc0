"""What is one's own: offered when it is spoken of, and live on the circuit just when it says it is."""

from __future__ import annotations

from itertools import combinations

import pytest

from electrics.circuit.elements import Led
from electrics.circuit.simulate import simulate
from electrics.design.sources import OWN, own_feed, own_sources
from electrics.design.states import TABLE_STATES, controls_of, every_state, states_for
from electrics.design.wanted import parse_wanted
from electrics.lighting.vehicle import VehicleDescription, factory_circuit
from electrics.signals import Level, Scenario, signal, variants
from electrics.vocabulary import Arrangement, Control, Function, State, parse_state
from hookup_jobs import REAR, job, judged

ALONE = (Control.REST, Control.ASLEEP)
EVERYTHING = parse_wanted("reverse or own_switch and ignition")


@pytest.mark.parametrize(
    ("wish", "offered"),
    [
        ("reverse", ["@battery"]),
        ("reverse or own_switch", ["@battery", "@switch"]),
        ("ignition and not reverse", ["@battery", "@ignition"]),
        (EVERYTHING.text, ["@battery", "@switch", "@ignition"]),
    ],
)
def test_what_is_ones_own_is_offered_where_a_wish_speaks_of_it(wish, offered):
    wishes = [parse_wanted("tail"), parse_wanted(wish)]
    assert [source.key for source in own_sources(wishes, 1, states_for(wishes))] == offered


@pytest.mark.parametrize("key", list(OWN))
@pytest.mark.parametrize("system_v", [6, 12, 24])
def test_on_the_circuit_it_lights_a_lamp_in_just_the_states_that_it_claims(key, system_v):
    states = states_for([EVERYTHING])
    factory = factory_circuit(VehicleDescription(system_v=system_v))
    parts, node = own_feed(key, "added")
    scale = system_v / 12
    lamp = Led(name="lamp", nodes={"from": node, "to": "gnd"}, amps_a=0.3, at_v=13.5 * scale, threshold_v=7.5 * scale)
    simulation = simulate(factory.network.with_elements(*parts, lamp), states)
    (source,) = (each for each in own_sources([EVERYTHING], 1, states) if each.key == key)
    for n, state in enumerate(states):
        for phase, lit in enumerate((True, False)):
            shines = simulation.at(state, lit=lit).light("lamp") > 0.5
            assert shines == bool(source.levels[0, n, phase]), f"{state}, {'lit' if lit else 'dark'}"


@pytest.mark.parametrize("function", list(Function))
def test_only_the_controls_that_it_hangs_on_change_a_circuit(function):
    """Held against pairs of controls: two states that agree in these look the same on every vehicle."""
    controls = controls_of(function)
    states = [State(pair) for pair in combinations([c for c in Control if c not in ALONE], 2)]
    for variant, _ in variants(function):
        seen = {}
        for state in states:
            shown = signal(function, state, Scenario(Arrangement.COMBINED), variant)
            assert seen.setdefault(controls & state.effective, shown) == shown, f"{variant} in {state}"


def test_a_daytime_lamp_hangs_on_what_lights_it_dims_it_and_drops_it():
    assert controls_of(Function.DRL) == {"key", "engine", "park", "left", "right", "hazard", "park_brake"}
    assert controls_of(Function.BATTERY) == set()
    assert controls_of(Function.STOP_TURN_LEFT) == {"brake", "left", "hazard"}


def test_on_the_circuit_controls_meet_in_pairs_and_where_three_circuits_meet_in_threes():
    """Of the wish and of the circuits that its way taps; what brings along the same is one state."""
    assert states_for([parse_wanted("tail and not reverse")]) == TABLE_STATES
    turn = set(states_for([parse_wanted("over(turn_left, tail)")])) - set(TABLE_STATES)
    assert turn == {parse_state("left+hazard")}
    high = set(states_for([parse_wanted("high_beam")], [{Function.FOG_FRONT}])) - set(TABLE_STATES)
    assert high == {parse_state(text) for text in ("high", "fog_front", "high+fog_front")}
    three = set(states_for([parse_wanted("tail and stop and not reverse")])) - set(TABLE_STATES)
    assert three == {parse_state("park+brake+reverse")}


def test_every_possible_state_is_one_of_each_set_of_controls_that_can_be_on_together():
    """Counted by hand: left and right exclude each other, either brings the key along, so key+left is left."""
    states = every_state(frozenset({Control.LEFT, Control.RIGHT, Control.KEY, Control.BRAKE}))
    assert [str(state) for state in states] == [
        *("rest", "brake", "key", "left", "right"),
        *("key+brake", "brake+left", "brake+right"),
    ]


@pytest.mark.parametrize(
    ("wanted", "winner"),
    [("ignition", "direct:@ignition"), ("own_switch and ignition", "and:@ignition,@switch")],
)
def test_what_runs_with_the_key_takes_a_fuse_live_with_it_where_no_such_wire_was_found(wanted, winner):
    best = judged(job(REAR, leads=[{"lead": "camera", "wanted": wanted, "each_a": 0.2}]))[0]
    assert best.candidate.key == winner
    assert best.is_right
    assert best.upsets == ()
    assert best.trial.shows[parse_state("rest")].lit is Level.OFF
