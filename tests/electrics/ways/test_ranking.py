"""Candidates on the vehicle: sources of one's own, replaced lamps, converters both ways, and the order of merit."""

from __future__ import annotations

import pytest

from electrics.design.accessories import accessories
from electrics.signals import Level
from electrics.vocabulary import parse_state
from electrics.ways.ranking import Judged, rank
from electrics.ways.trial import Attachment, try_together
from electrics.ways.vehicles import vehicle_with
from hookup_jobs import COMBINED, REAR, job, judged, states, tried


def test_a_switch_in_parallel_feeds_the_factory_reverse_lamp_and_a_diode_each_does_not():
    """A switch in parallel back-feeds the factory circuit unless a diode or relay keeps them apart (common practice)."""
    found = job(REAR, accessory="reverse_switch")
    tied, trial = tried(found, "joined:reverse,@switch")
    assert "back_feed" in tied.refusals
    lit = [upset for upset in trial.upsets if upset.rule == "factory_lamp"]
    assert [(upset.subject, upset.state) for upset in lit] == [
        (f"{side} reverse lamp", "own_switch") for side in ("left", "right")
    ]
    best = judged(found)[0]
    assert best.candidate.key == "diode_or:reverse,@switch"
    assert best.is_right
    assert best.upsets == ()
    relay, trial = tried(found, "relay_or:reverse,@switch")
    assert relay.wrong == trial.wrong == () == trial.upsets


def test_without_the_switch_among_its_wishes_no_state_speaks_of_it():
    plain, switched = job(REAR, accessory="reverse_lamps"), job(REAR, accessory="reverse_switch")
    assert len(plain.states) < len(switched.states)
    assert not any("@switch" in each.candidate.key for each in judged(plain))


def test_a_second_source_tied_to_a_stop_feed_is_refused():
    """It upsets cruise, ABS, gear lock and the trailer-brake controller (common practice)."""
    tied, trial = tried(job(REAR, accessory="reverse_lamps"), "joined:stop,reverse")
    assert "back_feed" in tied.refusals
    assert {"left stop lamp", "left reverse lamp", "right reverse lamp"} <= {upset.subject for upset in trial.upsets}


def test_what_must_burn_unless_something_else_does_comes_from_the_battery_through_a_break_contact():
    own = [{"lead": "white", "wanted": "not reverse", "each_a": 0.2}]
    best = judged(job(REAR, leads=own))[0]
    assert best.candidate.key == "and_not:reverse,@battery"
    assert best.candidate.cuts == 0, "no factory wire is opened"
    assert best.is_right
    assert best.trial.shows[parse_state("rest")].lit is Level.ON


def test_while_nobody_knows_who_wins_of_brake_and_hazards_the_circuit_is_tried_both_ways():
    own = [{"lead": "turn", "wanted": "turn_left", "each_a": 0.3}]
    for who, wrong in ((None, {"brake+hazard"}), ("flash_wins", set()), ("brake_wins", {"brake+hazard"})):
        known = {"brake_with_hazard": who} if who else {}
        found = job(COMBINED, "combined", leads=own, **known)
        _, trial = tried(found, "separate_turn:stop_turn_left")
        assert set(trial.wrong) == states(*wrong), who
        winning = {str(trial.seen_on[state].brake_with_hazard) for state in trial.wrong}
        assert winning == ({"brake_wins"} if wrong else set())


@pytest.mark.parametrize("who", ["flash_wins", "brake_wins"])
def test_separate_signals_out_of_combined_feeds_are_wrong_only_where_brake_and_hazard_meet(who):
    """While both sides flash no module can see the brake; while both burn none can see the hazards (common practice)."""
    own = [
        {"lead": "amber", "wanted": "turn_left", "each_a": 0.3},
        {"lead": "red", "wanted": "stop", "each_a": 0.3},
    ]
    found = job(COMBINED, "combined", leads=own, brake_with_hazard=who)
    blind = {"flash_wins": (set(), states("brake+hazard")), "brake_wins": (states("brake+hazard"), set())}[who]
    for lead, key in ((0, "separate_turn:stop_turn_left"), (1, "separate_stop:stop_turn_left,stop_turn_right")):
        candidate, trial = tried(found, key, lead)
        assert set(candidate.wrong) == blind[lead]
        assert bool(trial.wrong) == bool(blind[lead])
        assert all({"brake", "hazard"} <= set(state.controls) for state in trial.wrong)
        assert trial.upsets == ()


def test_a_relay_that_a_pulsed_feed_holds_shows_what_the_order_of_operations_left():
    """By average coil current against pull-in and drop-out: a quarter of 13.5 V is between 1.2 and 8 V (common practice)."""
    found = job(("tail", "stop"), accessory="running_lamps", variants={"tail": "pulsed"})
    candidate, trial = tried(found, "relay:tail")
    assert "pulsed_coil" in candidate.refusals
    upset = next(upset for upset in trial.upsets if upset.rule == "order_matters")
    assert upset.state == "park"
    assert 1.2 < upset.value < 8
    _, plain = tried(found, "relay:stop")
    assert "order_matters" not in {upset.rule for upset in plain.upsets}


def test_led_bulbs_make_the_flasher_hurry_whatever_way_is_taken():
    """LED current looks like a dead bulb: about twice the rate (common practice)."""
    found = job(REAR, accessory="led_bulbs")
    turn = [lead.id for lead in found.leads].index("left")
    best, *others = judged(found, turn)
    assert best.candidate.key == "direct:turn_left"
    assert all(other.cost >= best.cost for other in others)
    (fast,) = best.upsets
    assert fast.rule == "flash_rate"
    assert fast.value == pytest.approx(180)


def test_two_leads_that_each_fit_alone_overload_their_fuse_together():
    """80 % of a 10 A fuse is 8 A (common practice): the reverse lamp's 1.4 A and 4 A more fit, and 8 A more do not."""
    own = [{"lead": name, "wanted": "reverse", "each_a": 4.0} for name in ("left", "right")]
    found = job(REAR, leads=own)
    candidate, alone = tried(found, "direct:reverse")
    assert alone.upsets == ()
    factory = vehicle_with(frozenset(found.functions.values()), found.scenarios[0])
    taken = [Attachment(candidate.form, lead, ("reverse",), 1, 4.0) for lead in found.leads]
    both = try_together(taken, [factory])
    assert both.wrong == ((), ())
    assert [(upset.rule, upset.subject) for upset in both.upsets] == [("fuse_load", "reverse fuse")]


@pytest.mark.parametrize("system_v", [6, 12, 24])
def test_a_flasher_misses_one_of_two_bulbs_at_every_system_voltage(system_v):
    found = job(REAR, accessory="led_bulbs", system_v=system_v)
    _, trial = tried(found, "direct:turn_left", [lead.id for lead in found.leads].index("left"))
    assert [upset.rule for upset in trial.upsets] == ["flash_rate"]


@pytest.mark.parametrize("accessory", ["led_bulbs", "front_both", "licence_cutout", "rear_loom"])
def test_what_replaces_a_factory_lamp_takes_its_place(accessory):
    """Its light and its current are gone from the circuit; the lamps of the other side stay."""
    found = job(REAR, accessory=accessory)
    own = found.leads[0]
    factory = {"led_bulbs": "left tail lamp", "front_both": "left front turn lamp", "licence_cutout": "license lamp"}
    name = factory.get(accessory, "left tail lamp")
    trial = judged(found)[0].trial
    assert own.replaces
    assert not any(element.name == name for element in trial.simulation.network.elements)
    assert any(element.name == "right front turn lamp" for element in trial.simulation.network.elements)


def ranked(each):
    """By hand: a hurrying flasher is cured by one part, everything else that is upset by another way."""
    curable = sum(upset.rule in ("flash_rate", "outage_warning") for upset in each.upsets)
    parts = each.candidate.form.parts + bool(curable)
    return len(each.wrong), len(each.candidate.refusals), len(each.upsets) - curable, parts


@pytest.mark.parametrize("accessory", [each.id for each in accessories()])
def test_the_winner_is_the_one_that_trying_every_right_candidate_finds(accessory):
    """Trying stops early; a trial of all of them, ranked here by hand, agrees. The right side is the left one mirrored."""
    for arrangement, functions in (("separate", REAR), ("combined", (*COMBINED, "stop"))):
        found = job(functions, arrangement, accessory=accessory)
        for lead in (each for each in found.leads if "right" not in each.id):

            def tries(candidate, found=found, lead=lead):
                return found.trial(lead, candidate)

            everything = [
                Judged(candidate, tries(candidate) if candidate.is_right else None)
                for candidate in found.candidates(lead)
            ]
            least = min(ranked(each) for each in everything)
            cured = {"flash_rate": 1, "outage_warning": 1}
            assert ranked(rank(found.candidates(lead), tries, curable=cured)[0]) == least
