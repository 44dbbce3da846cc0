"""The build sheet's steps: complete for the design, in an order that holds, each known by a key of its own."""

from __future__ import annotations

from dataclasses import replace
from itertools import product

import pytest

from electrics.build.proofs import Tapped, proof_of
from electrics.build.step_kinds import FORMER, Stage, step_kinds
from electrics.build.steps import minutes_of
from electrics.build.ticks import stands
from electrics.design.accessories import accessories
from electrics.design.design import End, EndKind
from electrics.design.routes import Spot
from electrics.design.units_of_facts import unit_facts_of
from electrics.job.plan import plan
from electrics.job.rests import step_rests, whole
from electrics.signals import Scenario
from electrics.vocabulary import Arrangement, Function
from said import facts_of, with_best

REFUSED = ("front_both",)
"""Forbidden on the vehicle of these tests: nothing is built."""


@pytest.fixture(scope="module", params=[each.id for each in accessories() if each.id not in REFUSED])
def found(request):
    return with_best(facts_of(request.param))


def kinds(found):
    return [step.kind.id for step in found.steps]


def test_each_step_has_a_key_of_its_own(found):
    keys = [step.key for step in found.steps]
    assert len(set(keys)) == len(keys)


def test_every_line_of_the_lists_is_in_a_step_and_no_step_names_what_is_not_there(found):
    """Who follows the steps alone makes every joint, bolts down every wire and fits every part."""
    build, steps = found.build, found.steps

    def handled(kind, what):
        return [label for step in steps if step.kind.id in kind for label in what(step)]

    def joints(step):
        return [join.label for join in step.joins]

    def wires(step):
        return [wire.label for wire in step.wires]

    made = {join.label for join in build.joins if join.method not in ("socket", "stays")}
    assert sorted(handled(["connect"], joints)) == sorted(made)
    assert sorted(handled(["cut_wires"], wires)) == sorted(wire.label for wire in build.wires)
    for kind, end_kind in (("ground", EndKind.GROUND), ("battery_post", EndKind.BATTERY)):
        ending = {wire.label for wire in build.wires if any(end.kind is end_kind for end in wire.ends)}
        assert set(handled([kind], wires)) == ending
    in_terminals = {
        wire.label for wire in build.wires if any(end.kind is EndKind.PART and not end.is_flying for end in wire.ends)
    }
    assert set(handled(["terminals"], wires)) == in_terminals
    far = {wire.label for wire in build.wires if len(wire.by) > 1}
    assert set(handled(["pull"], wires)) == far
    fuses = [part.label for part in build.fitted if part.part in ("fuse", "fuse_tap")]
    assert handled(["fit_fuse"], lambda step: [part.label for part in step.parts]) == fuses
    assert {part.label for part in build.fitted if part.part == "relay"} <= set(
        handled(["mount_part"], lambda step: [part.label for part in step.parts])
    )


def test_what_hangs_on_what_comes_after_it(found):
    """Proven before cut, safe before joined, mounted and checked before wired, battery on before the fuse: practice."""
    at = {}
    for n, step in enumerate(found.steps):
        at.setdefault(step.kind.id, []).append(n)
    before = [
        (("open_up", "prove_tap", "prove_ground"), ("make_safe",)),
        (("make_safe",), ("take_out", "drill", "connect", "ground", "terminals", "battery_post")),
        (("check_part", "mount_part", "cut_wires", "drill"), ("pull", "connect", "terminals", "ground")),
        (("connect", "ground", "terminals", "cap", "seal"), ("battery_on",)),
        (("battery_post",), ("battery_on",)),
        (("battery_on",), ("fit_fuse", "test_loose")),
        (("fit_fuse",), ("test_loose",)),
        (("test_loose",), ("secure", "close")),
        (("secure", "close"), ("test_again",)),
    ]
    for firsts, thens in before:
        for first, then in product(firsts, thens):
            if first in at and then in at:
                assert max(at[first]) < min(at[then]), (first, then)
    stages = [list(Stage).index(step.kind.stage) for step in found.steps]
    assert stages == sorted(stages)


def test_every_factory_wire_that_is_cut_is_proven_first_live_and_dead(found):
    """A tap is live in one state and dead in one that it could be mistaken for (common practice)."""
    proven = {step.ends[0].node: step.proof for step in found.steps if step.kind.id == "prove_tap"}
    grounds = {step.ends[0].node for step in found.steps if step.kind.id == "prove_ground"}
    for join in found.build.joins:
        for end in join.members:
            if end.kind is EndKind.PIN and join.method not in ("socket", "stays") and not end.is_cut:
                assert end.node in proven or end.node in grounds, end
    for proof in proven.values():
        assert proof.live
        assert proof.dead or proof.function == "battery"
        assert set(proof.live).isdisjoint(proof.dead)


def test_a_reverse_wire_is_proven_in_reverse_and_dead_with_the_brake():
    steps = [step for step in with_best(facts_of("reverse_lamps")).steps if step.kind.id == "prove_tap"]
    assert steps
    for step in steps:
        assert ([str(each) for each in step.proof.live], "brake" in map(str, step.proof.dead)) == (["reverse"], True)


def test_the_same_at_24_v_has_the_same_steps_and_twice_the_ground_limit():
    """0.1 V on 12 V in proportion (common practice)."""
    twelve, facts = with_best(facts_of("reverse_lamps")), facts_of("reverse_lamps")
    other = with_best(replace(facts, vehicle=replace(facts.vehicle, system_v=24)))
    limits = [{step.loss_v for step in each.steps if step.kind.id == "prove_ground"} for each in (twelve, other)]
    assert limits == [{0.1}, {0.2}]
    assert {step.kind.id for step in twelve.steps} == {step.kind.id for step in other.steps}


def test_a_wait_is_filled_by_the_bench_work_beside_it():
    """By hand: 3 min to make safe and 10 to wait, of which 8 wires at 1 min fill 8; so 3 + 8 + 2."""
    steps = with_best(facts_of("reverse_lamps")).steps
    safe = next(step for step in steps if step.kind.id == "make_safe")
    cut = next(step for step in steps if step.kind.id == "cut_wires")
    assert minutes_of([safe, replace(cut, count=8)]) == 3 + 8 + 2
    assert minutes_of([safe, replace(cut, count=30)]) == 3 + 30
    assert minutes_of([safe]) == 13


class Tick(str):
    """What was handled when somebody ticked a step."""


def test_ticks_of_earlier_versions_stand_for_the_steps_that_were_part_of_them():
    found = with_best(facts_of("reverse_lamps"))
    rests = step_rests(found)
    done = stands(found.steps, {former: Tick(whole(found)) for former in FORMER}, str, rests, whole(found))
    assert all(stand.is_done for stand in done)
    joined = stands(found.steps, {"join": Tick("")}, str, rests, whole(found))
    assert {stand.step.kind.former for stand in joined if stand.is_done} == {"join"}
    changed = stands(found.steps, {former: Tick("another plan") for former in FORMER}, str, rests, whole(found))
    assert {stand.step.kind.id for stand in changed if stand.is_done} == {"make_safe", "open_up"}


def test_a_tick_falls_with_what_it_handled_and_with_nothing_else():
    """Another length: its wire is cut and pulled again; what was proven, drilled or joined elsewhere stands."""
    facts = facts_of("mirror_turn_pair")
    before = with_best(facts)
    ticks = {key: Tick(rest) for key, rest in step_rests(before).items()}
    name = next(step.place for step in before.steps if step.kind.id == "open_up")
    lamp = next(step.place for step in before.steps if step.kind.id == "mount_lamp")
    after = with_best(replace(before.facts, distances={frozenset((name, lamp)): 2.5}))
    found = stands(after.steps, ticks, str, step_rests(after), whole(after))
    fallen = {stand.step.kind.id for stand in found if not stand.is_done}
    assert {"cut_wires", "pull"} <= fallen
    assert {"prove_tap", "prove_ground", "make_safe", "open_up", "check_part"}.isdisjoint(fallen)


def test_every_kind_of_step_is_made_somewhere():
    made = {step.kind.id for each in accessories() for step in with_best(facts_of(each.id)).steps}
    assert {kind.id for kind in step_kinds()} - made <= {"fix", "cap", "check_part", "mount_part"}


@pytest.mark.parametrize("place", ["", "rear bumper"])
def test_a_row_of_lamps_keeps_its_spacing_wherever_it_is_put_and_its_links_are_cut_short(place):
    """Eight lamps 0.13 m apart: seven links, each 0.13 m and 0.1 m to join (common practice), not a star of 1 m wires."""
    facts = facts_of("running_lamps")
    found = plan(facts)
    (unit, *_) = found.hookup.accessory.units
    row = replace(unit_facts_of(replace(unit, lamps=8, spacing_m=0.13)), place=place)
    found = with_best(replace(facts, units=(row,)))
    feeds = [wire for wire in found.build.wires if wire.role == "feed" and len(wire.by) == 1]
    assert len(feeds) == 7
    assert {(round(wire.routed_m, 2), round(wire.cut_m, 2)) for wire in feeds} == {(0.13, 0.23)}


@pytest.mark.parametrize(
    ("function", "variant", "looks"),
    [
        (Function.TAIL, "plain", "on"),
        (Function.TAIL, "pulsed", "part"),
        (Function.TURN_LEFT, "plain", "flash"),
        (Function.REVERSE, "ground", "on"),
    ],
)
def test_a_tap_is_proven_by_what_a_meter_shows_of_it(function, variant, looks):
    """A pulsed feed never reads battery voltage: a meter shows the mean of its pulses (common practice)."""
    end = End(EndKind.PIN, "left tail lamp", "2", Spot("left tail lamp", "rear left"))
    assert proof_of(end, Tapped(function, variant), [Scenario(Arrangement.SEPARATE)]).looks == looks
