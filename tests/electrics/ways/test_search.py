"""The search: jobs that people do, traps that people fall into, and an evaluation that shares no code with it."""

from __future__ import annotations

from dataclasses import replace
from itertools import permutations, product

import pytest

from electrics.design.accessories import accessories
from electrics.design.forms import FORMS
from electrics.design.sources import Source
from electrics.design.states import TABLE_STATES, states_for
from electrics.design.units import Lead
from electrics.design.wanted import parse_wanted
from electrics.document.vehicle import VehicleFacts
from electrics.signals import GROUND_SWITCHED, Level, Scenario, signal
from electrics.vocabulary import Arrangement, BrakeWithHazard, Function, Polarity, parse_state
from electrics.ways.search import scenarios_of, search, source_levels
from electrics.ways.trial import places_of, try_out
from electrics.ways.vehicles import node_of, vehicle_with

F = Function
SEPARATE, COMBINED = Arrangement.SEPARATE, Arrangement.COMBINED
REAR = (F.TAIL, F.STOP, F.TURN_LEFT, F.TURN_RIGHT, F.REVERSE)
REAR_COMBINED = (F.TAIL, F.STOP_TURN_LEFT, F.STOP_TURN_RIGHT, F.REVERSE)


def sources(functions, arrangement, who=None, variants=None, by_states=TABLE_STATES, **facts):
    scenarios = scenarios_of(arrangement, who, (variants or {}).items())
    found = []
    for function in functions:
        variant = (variants or {}).get(function, "")
        polarity = Polarity.GROUND if variant == GROUND_SWITCHED else Polarity.POSITIVE
        found.append(
            Source(
                str(function),
                source_levels(function, variant, scenarios, by_states),
                polarity,
                function=function,
                variant=variant,
                **facts,
            )
        )
    return found, scenarios


def lead(wanted, polarity=Polarity.POSITIVE, technology="led", amps=0.3):
    return Lead("lead", parse_wanted(wanted), polarity, technology, amps)


def candidates(wanted, functions, arrangement, who=None, **more):
    own = wanted if isinstance(wanted, Lead) else lead(wanted)
    by_states = states_for([own.wanted])
    found, scenarios = sources(functions, arrangement, who, by_states=by_states, **more)
    return {each.key: each for each in search(own, found, scenarios, by_states)}


def best(*arguments, **more):
    return next(iter(candidates(*arguments, **more).values()))


def states(*texts):
    return {parse_state(text) for text in texts}


JOBS = [
    ("high_stop", "stop", SEPARATE, REAR, "direct:stop"),
    ("reverse_lamps", "reverse", SEPARATE, REAR, "direct:reverse"),
    ("camera_trigger", "trigger", COMBINED, REAR_COMBINED, "direct:reverse"),
    ("mirror_turn_pair", "left", SEPARATE, REAR, "direct:turn_left"),
    ("light_bar", "left", COMBINED, REAR_COMBINED, "direct:stop_turn_left"),
    ("light_bar", "left", SEPARATE, REAR, "converter:stop,turn_left"),
    ("grille_lamps", "tail", SEPARATE, REAR, "direct:tail"),
    ("combined_tail_lamps", "right", SEPARATE, REAR, "converter:stop,turn_right"),
    ("front_both", "left", SEPARATE, REAR, "self_switching:turn_left,tail"),
    ("front_daytime", "right", SEPARATE, (*REAR, F.DRL), "self_switching:turn_right,drl"),
    ("licence_cutout", "licence", SEPARATE, REAR, "and_not:reverse,tail"),
    ("ground_switched_lamp", "ground", SEPARATE, REAR, "to_ground:reverse"),
    ("towed_car", "left", COMBINED, REAR_COMBINED, "direct:stop_turn_left"),
    ("rear_loom", "stop", SEPARATE, REAR, "direct:stop"),
]


@pytest.mark.parametrize(("accessory", "lead_id", "arrangement", "functions", "winner"), JOBS)
def test_the_usual_jobs_find_their_usual_hook_up(accessory, lead_id, arrangement, functions, winner):
    """Common practice, job by job."""
    own = next(each for each in accessories()[accessory].leads if each.id == lead_id)
    found = best(own, functions, arrangement)
    assert found.key == winner
    assert found.is_right


def test_a_third_brake_lamp_from_both_combined_feeds_is_wrong_in_four_states_by_and_and_in_others_by_or():
    """Left AND right flashes with hazard, and with brake + left, right or hazard, where it must be steady (common practice)."""
    for who in BrakeWithHazard:
        found = candidates("stop", REAR_COMBINED, COMBINED, who)
        both = found["and:stop_turn_left,stop_turn_right"]
        expected = states("hazard", "park+hazard", "brake+left", "brake+right", "brake+hazard")
        assert set(both.wrong) == (
            expected if who is BrakeWithHazard.FLASH_WINS else expected - states("brake+hazard")
        )
        either = found["diode_or:stop_turn_left,stop_turn_right"]
        assert states("left", "right", "hazard") <= set(either.wrong)
    with_true_stop = best("stop", (*REAR_COMBINED, F.STOP), COMBINED)
    assert with_true_stop.key == "direct:stop"
    assert with_true_stop.is_right


def test_steady_wins_in_a_diode_or_so_park_hides_the_turn_on_one_filament():
    found = candidates("over(turn_left, tail)", REAR, SEPARATE)["diode_or:tail,turn_left"]
    assert set(found.wrong) == states("park+left", "park+hazard")
    assert found.signal(parse_state("park+left")).dark is Level.ON


DAYTIME_PAIRS = ("key+hazard", "left+hazard", "right+hazard", "left+park_brake")


@pytest.mark.parametrize(
    ("variant", "wrong"),
    [("key", {"left", "brake+left", "engine+left", "engine+hazard", *DAYTIME_PAIRS}), ("key_drops_left", set())],
)
def test_diodes_keep_daytime_only_where_the_vehicle_drops_it_while_turning(variant, wrong):
    """Else steady wins, and a contact held open while the turn is active, or a bulb that does so, is needed (common
    practice)."""
    lamp = accessories()["front_daytime"].leads[1]
    found = candidates(lamp, (F.TURN_LEFT, F.DRL), SEPARATE, variants={F.DRL: variant})
    assert set(found["diode_or:turn_left,drl"].wrong) == states(*wrong)
    assert found["held_open:turn_left,drl"].is_right
    assert found["self_switching:turn_left,drl"].is_right
    dark = found["held_open:turn_left,drl"].signal(parse_state("engine+left")).dark
    assert dark is Level.OFF, "held over the dark of the flash, where a plain break contact lets daytime through"


def test_a_bulb_that_switches_itself_is_no_way_to_feed_a_lamp_that_is_none():
    assert not [key for key in candidates("stop_turn_left", REAR, SEPARATE) if key.startswith("self_switching")]


def test_on_the_circuit_a_held_contact_beats_the_bulb_whose_few_milliamps_the_flasher_takes_for_a_dead_one():
    lamp = accessories()["front_daytime"].leads[1]
    functions = (F.TURN_LEFT, F.TURN_RIGHT, F.TAIL, F.DRL)
    scenario = Scenario(SEPARATE, drl="key")
    factory = vehicle_with(frozenset((f, "key" if f is F.DRL else "plain") for f in functions), scenario)
    by_states = states_for([lamp.wanted])
    nodes = [node_of(factory, function, "", places_of(lamp)) for function in (F.TURN_LEFT, F.DRL)]
    tried = {
        form.id: try_out(form, lamp, nodes, [factory], states=by_states)
        for form in FORMS
        if form.id in ("held_open", "self_switching", "diode_or")
    }
    wrong = states("left", "brake+left", "engine+left", "engine+hazard", *DAYTIME_PAIRS)
    assert set(tried["diode_or"].wrong) == wrong
    assert tried["held_open"].wrong + tried["self_switching"].wrong == ()
    assert tried["held_open"].upsets == ()
    assert {upset.rule for upset in tried["self_switching"].upsets} == {"flash_rate"}


def test_combined_from_separate_with_only_diodes_cannot_show_the_indicator_with_the_brake_held():
    found = candidates("stop_turn_left", REAR, SEPARATE)
    assert set(found["diode_or:stop,turn_left"].wrong) == states("brake+left", "brake+hazard")
    assert found["converter:stop,turn_left"].is_right


def test_a_relay_driven_by_the_flashing_feed_fails_in_the_dark_half_of_each_flash():
    found = candidates("stop_turn_left", REAR, SEPARATE)
    assert parse_state("brake+left") in found["and_not:turn_left,stop"].wrong


def test_a_mirror_turn_lamp_on_a_combined_rear_feed_or_its_trailer_fuse_lights_under_braking():
    found = candidates("turn_left", (*REAR_COMBINED, F.TURN_LEFT), COMBINED, is_at_fuse=True)
    trailer = found["direct:stop_turn_left"]
    assert parse_state("brake") in trailer.wrong
    assert trailer.signal(parse_state("brake")).lit is Level.ON
    assert next(iter(found)) == "direct:turn_left"


def test_only_a_module_whose_input_bears_pulses_goes_on_a_variable_voltage_feed():
    """Plain relays chatter and diodes are ruled out on pulsed feeds (common practice)."""
    found = candidates("tail", (F.TAIL, F.REVERSE), SEPARATE, variants={F.TAIL: "pulsed"})
    assert "pulsed" in found["direct:tail"].refusals
    assert "pulsed_coil" in found["relay:tail"].refusals
    assert {key for key, each in found.items() if each.is_right} == {"pulse_module:tail"}


def test_a_circuit_fed_by_a_computer_bears_a_coil_and_no_lamp():
    found = candidates("reverse", REAR, SEPARATE, is_computer_fed=True)
    assert "computer" in found["direct:reverse"].refusals
    assert next(iter(found)) == "relay:reverse"
    assert found["relay:reverse"].is_right


def test_a_bus_line_is_never_a_source():
    found = candidates("tail", (F.DATA, F.TAIL), SEPARATE)
    assert all("never" in each.refusals for key, each in found.items() if "data" in key)


def test_a_ground_switched_stop_feeds_a_positive_lamp_only_through_a_relay():
    found = candidates("stop", (F.STOP, F.TAIL), SEPARATE, variants={F.STOP: GROUND_SWITCHED})
    assert next(iter(found)) == "from_ground:stop"
    assert "direct:stop" not in found


@pytest.mark.parametrize("arrangement", list(Arrangement))
def test_the_best_is_as_good_as_an_exhaustive_search_by_other_means(arrangement):
    """Truth tables as sets of (state, phase), built here from Python's own logic; no form, level or rank of the search."""
    functions = (F.TAIL, F.STOP, F.TURN_LEFT, F.REVERSE) + ((F.STOP_TURN_LEFT,) if arrangement is COMBINED else ())
    scenario = Scenario(arrangement, BrakeWithHazard.FLASH_WINS)

    def on(function):
        moments = set()
        for state in TABLE_STATES:
            found = signal(function, state, scenario)
            moments |= {(state, True)} if found.lit is Level.ON else set()
            moments |= {(state, False)} if found.dark is Level.ON else set()
        return moments

    every = {(state, lit) for state in TABLE_STATES for lit in (True, False)}
    flashing = {
        f: {(s, lit) for s in TABLE_STATES for lit in (True, False) if signal(f, s, scenario).is_flashing}
        for f in functions
    }
    tables = {f: on(f) for f in functions}
    reach = {(f,): tables[f] for f in functions}
    for a, b in permutations(functions, 2):
        reach["or", a, b] = tables[a] | tables[b]
        reach["and", a, b] = tables[a] & tables[b]
        reach["and_not", a, b] = tables[b] - tables[a]
        reach["converter", a, b] = tables[b] | (tables[a] - flashing[b])
        active = {state for state, _ in tables[a]}
        reach["held open", a, b] = tables[a] | {(state, lit) for state, lit in tables[b] if state not in active}
    for f in functions:
        reach["separate", f] = tables[f] & flashing[f]
    chained = []
    for (a, b), c in product(permutations(functions, 2), functions):
        if c not in (a, b):
            fronts = [reach[how, a, b] for how in ("or", "and", "and_not", "held open")]
            chained += [each for front in fronts for each in (front | tables[c], front & tables[c])]
            chained += [each for front in fronts for each in (front - tables[c], tables[c] - front)]
    for wanted in (
        "stop",
        "turn_left",
        "tail",
        "reverse",
        "tail and not reverse",
        "over(turn_left, tail)",
        "stop_turn_left",
        "tail or stop",
        "stop and not tail",
        "stop or tail or reverse",
        "stop and tail and not reverse",
        "tail and not stop and not reverse",
    ):
        own = lead(wanted)
        wish = set()
        for state in TABLE_STATES:
            found = own.wanted.signal(state, scenario)
            wish |= {(state, True)} if found.lit is Level.ON else set()
            wish |= {(state, False)} if found.dark is Level.ON else set()
        assert wish <= every
        fewest = min(len({state for state, _ in got ^ wish}) for got in reach.values())
        fewest = 0 if wish in chained else fewest
        assert len(best(own, functions, arrangement, BrakeWithHazard.FLASH_WINS).wrong) == fewest, wanted


@pytest.mark.parametrize("form", FORMS, ids=lambda form: form.id)
@pytest.mark.parametrize("arrangement", list(Arrangement))
def test_what_the_search_says_by_logic_the_solved_circuit_shows(form, arrangement):
    """Every form on several pairs of sources: wrong in the same states, and nothing else is upset where it is right."""
    functions = (
        (F.STOP, F.TURN_LEFT, F.TAIL, F.REVERSE) if arrangement is SEPARATE else (F.STOP_TURN_LEFT, F.STOP, F.REVERSE)
    )
    if form.takes == (Polarity.GROUND,):
        functions = (F.STOP,)
    variants = {F.STOP: GROUND_SWITCHED} if form.takes == (Polarity.GROUND,) else None
    scenario = Scenario(arrangement, BrakeWithHazard.FLASH_WINS)
    factory = vehicle_with(frozenset((f, (variants or {}).get(f, "plain")) for f in functions), scenario)
    for wanted in ("stop", "turn_left"):
        own = replace(lead(wanted, form.gives), switches_itself=True)
        found = candidates(own, functions, arrangement, BrakeWithHazard.FLASH_WINS, variants=variants)
        for candidate in found.values():
            if candidate.form is form:
                nodes = [node_of(factory, Function(source.key)) for source in candidate.sources]
                trial = try_out(candidate.form, own, nodes, [factory], states=candidate.states)
                assert trial.wrong == candidate.wrong, candidate.key
                if candidate.is_right:
                    assert trial.upsets == ()


def test_a_trial_finds_what_logic_cannot_an_overloaded_fuse():
    own = lead("turn_left", technology="filament", amps=2.1)
    scenario = Scenario(SEPARATE)
    factory = vehicle_with(frozenset((f, "plain") for f in REAR), scenario)
    found = candidates(own, REAR, SEPARATE)
    direct = try_out(found["direct:turn_left"].form, own, ["turn_left"], [factory], count=3)
    assert "fuse_load" in {upset.rule for upset in direct.upsets}
    relay = try_out(found["relay:turn_left"].form, own, ["turn_left"], [factory], count=3)
    assert relay.wrong == ()
    assert "turn fuse" not in {upset.subject for upset in relay.upsets}


@pytest.mark.parametrize("system_v", [6, 24])
def test_relays_and_lamps_follow_the_system_voltage(system_v):
    own = lead("reverse")
    factory = vehicle_with(frozenset((f, "plain") for f in REAR), Scenario(SEPARATE), VehicleFacts(system_v))
    found = candidates(own, REAR, SEPARATE)["relay:reverse"]
    assert try_out(found.form, own, ["reverse"], [factory]).wrong == ()
