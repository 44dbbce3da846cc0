"""Sets of fixes: the first that ends everything, found without trying every fix by itself; its circuit by ngspice."""

from __future__ import annotations

from itertools import combinations

import pytest

from electrics.circuit.spice import node_names, spice_deck
from electrics.document.vehicle import Computer, FlasherKind, Idle
from electrics.job.correction import compared, correct, effects_of, try_proposal, with_cure
from electrics.job.cures.registry import cure_of
from electrics.job.plan import plan
from electrics.job.sets import MOST_AT_ONCE, first_set
from electrics.reference.habits import WATCHES_ALL
from electrics.vocabulary import Arrangement
from ngspice import MISSING, NGSPICE, operating_points
from said import job

SEPARATE, COMBINED = Arrangement.SEPARATE, Arrangement.COMBINED
WATCHED = {"computer": Computer.YES, "flasher": FlasherKind.COMPUTER}
JOBS = {
    "fast flash": ("led_bulbs", SEPARATE, {}, {}),
    "fast flash at 24 V": ("led_bulbs", SEPARATE, {"system_v": 24}, {}),
    "fast flash at 6 V": ("led_bulbs", SEPARATE, {"system_v": 6}, {}),
    "in backward": ("led_bulbs", SEPARATE, {}, {"turned": True}),
    "leads that feed each other": ("combined_tail_lamps", COMBINED, {}, {"backfeed_v": 2.0}),
    "a computer": ("led_bulbs", SEPARATE, WATCHED, {}),
    "a computer that tests cold": ("led_bulbs", SEPARATE, {**WATCHED, "idle": Idle.PULSES}, {}),
    "every lamp watched": ("led_bulbs", SEPARATE, {**WATCHED, "habits": ((WATCHES_ALL, 1.0),)}, {}),
    "watched and backward": ("led_bulbs", SEPARATE, WATCHED, {"turned": True}),
}


def corrected(name):
    accessory, arrangement, vehicle, found = JOBS[name]
    planned = job(accessory, arrangement, vehicle, **found)
    return planned, correct(planned)


@pytest.mark.parametrize("name", JOBS)
def test_the_first_set_ends_everything_on_a_plan_made_anew(name):
    found, correction = corrected(name)
    several, tried = first_set(found, correction)
    assert tried.is_clean
    assert len({each.cure for each in several}) == len(several) <= MOST_AT_ONCE
    facts = found.facts
    for each in several:
        facts = with_cure(facts, each.decision)
    assert effects_of(plan(facts)) == ()


@pytest.mark.parametrize("name", ["fast flash", "in backward", "leads that feed each other", "watched and backward"])
def test_no_cooler_or_smaller_set_would_do(name):
    """Against all sets of quick fixes of its size and smaller, tried one by one."""
    found, correction = corrected(name)
    several, _ = first_set(found, correction)
    is_warm = any(each.fit for each in several)
    offered = {each.cure: each for each in reversed(correction.open) if each.decision}
    quick = [each for each in offered.values() if not cure_of(each.cure).is_slow and cure_of(each.cure).keeps_wish]
    for count in range(1, len(several) + is_warm):
        for others in combinations(quick, count):
            if is_warm and any(each.fit for each in others) and count == len(several):
                continue
            facts = found.facts
            for each in others:
                facts = with_cure(facts, each.decision)
            left = compared(others[0], effects_of(plan(facts)), correction.before)
            assert not left.is_clean, [each.cure for each in others]


def test_nothing_is_found_where_nothing_is_wrong_or_a_fix_is_used_already():
    found, correction = corrected("fast flash")
    (flasher,) = (each for each in correction.open if each.cure == "flasher")
    cured = plan(with_cure(found.facts, flasher.decision))
    assert first_set(cured, correct(cured)) is None
    assert try_proposal(found, flasher, correction.before).is_clean
    plain = job("reverse_lamps", SEPARATE)
    assert first_set(plain, correct(plain)) is None


@pytest.mark.skipif(NGSPICE is None, reason=MISSING)
@pytest.mark.parametrize("name", ["leads that feed each other", "watched and backward", "every lamp watched"])
def test_the_circuit_of_a_set_is_as_ngspice_solves_it(name, tmp_path):
    """Every node of every solved state within 0.5 % or 5 mV of a general-purpose simulator."""
    found, correction = corrected(name)
    facts = found.facts
    for each in first_set(found, correction)[0]:
        facts = with_cure(facts, each.decision)
    simulation = plan(facts).hookup.together.simulation
    seen = operating_points([spice_deck(point) for point in simulation.points], tmp_path)
    assert sum(each is not None for each in seen) >= 0.9 * len(seen)
    for point, each in zip(simulation.points, seen, strict=True):
        if each is not None:
            for node, safe in node_names(point).items():
                if safe != "0":
                    ours = simulation.solution.volts(node)[point.row]
                    assert each[safe] == pytest.approx(ours, rel=5e-3, abs=5e-3), f"{node} in {point.case}"
