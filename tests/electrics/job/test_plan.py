"""From facts to plan, as in a notebook: no database, no pages."""

from __future__ import annotations

from dataclasses import replace

import pytest

from electrics.document.circuits import CircuitNotes, FedBy
from electrics.document.decisions import HookUpDecisions, RunDecision
from electrics.document.job import JobFacts, Wish
from electrics.document.places import PlaceFacts
from electrics.document.vehicle import Computer, VehicleFacts
from electrics.errors import FactError
from electrics.job.plan import plan
from electrics.vocabulary import Arrangement, Function
from lamps import GRID, REAR, point
from said import facts_of, with_best

NOTES = CircuitNotes(FedBy.PLAIN, "P21W", 2, 10.0, "18")
DECIDED = HookUpDecisions(
    {"reverse": "direct:lamp 3"}, run=RunDecision(out_m=3.4, back_m=0.6), circuits={Function.REVERSE: NOTES}
)
FACTS = JobFacts(
    VehicleFacts(arrangement=Arrangement.SEPARATE, computer=Computer.NO),
    (PlaceFacts("left", point(*GRID), tuple(f"lamp {pin}" for pin in REAR)),),
    Wish("reverse_lamps", count=1, each_a=2.4),
    hookup=DECIDED,
)


def test_a_plan_follows_from_facts_alone():
    """2 x 1.2 A over 4 m: 18 AWG loses 0.25 V hot (20.95 ohm/km at 20 C, ASTM B258), 3 A bears 1.25 x 2.4 A."""
    found = plan(FACTS)
    assert found.beliefs[0].wire("3").function is Function.REVERSE
    (lead,) = found.hookup.leads
    assert lead.chosen.is_right
    assert lead.chosen.main.key == "lamp 3"
    assert found.hookup.missing + found.hookup.faults == ()
    assert lead.sized.option.conductor.name == "18 AWG"
    assert lead.sized.option.drop_v == pytest.approx(0.25, abs=0.01)
    assert lead.sized.fuse.rating_a == 3
    assert [wire.role for wire in found.build.wires] == ["feed", "ground"]
    assert {"added", "factory:reverse"} <= {line.lamp.id for line in found.sheet.lines if line.lamp}


@pytest.mark.parametrize(
    ("changed", "missing"),
    [
        ({"ways": {}}, {"tap"}),
    ],
    ids=["no way"],
)
def test_what_is_not_decided_is_missing_and_nothing_is_built(changed, missing):
    found = plan(replace(FACTS, hookup=replace(DECIDED, **changed)))
    assert {each.rule for each in found.hookup.missing} == missing
    assert found.build is None


def test_what_nobody_noted_of_a_circuit_is_assumed_but_never_that_no_computer_feeds_it():
    """A usual reverse circuit has two 21 W bulbs on 10 A (estimate); a mistaken tap behind a computer does harm."""
    found = plan(replace(FACTS, hookup=replace(DECIDED, circuits={})))
    (circuit,) = found.hookup.circuits
    assert circuit.assumed == {
        "fed_by": FedBy.PLAIN, "host_bulb": "P21W", "host_count": 2, "host_fuse_a": 10.0, "host_wire": "18"
    }  # fmt: skip
    assert circuit.load.present_a > 3
    assert found.build is not None
    unknown = replace(FACTS, vehicle=replace(FACTS.vehicle, computer=Computer.UNKNOWN))
    blind = plan(replace(unknown, hookup=replace(DECIDED, circuits={})))
    assert {each.rule for each in blind.hookup.missing} == {"fed_by"}
    assert blind.build == found.build  # it is shown, and not to be joined yet
    assert not blind.hookup.is_complete
    watched = replace(unknown, vehicle=replace(FACTS.vehicle, computer=Computer.YES))
    with_computer = plan(replace(watched, hookup=replace(DECIDED, circuits={})))
    assert {each.rule for each in with_computer.hookup.faults} == {"computer"}
    assert blind.hookup.design is not None


@pytest.mark.parametrize("key", ["diode_or:lamp 3,lamp 4", "diode_or:lamp 4,lamp 3"])
def test_two_that_have_the_same_part_in_a_way_are_chosen_in_any_order(key):
    wish = Wish("own", own_leads="both = reverse or stop; 0.4 A")
    (lead,) = plan(replace(FACTS, wish=wish, hookup=replace(DECIDED, ways={"both": key}))).hookup.leads
    assert lead.chosen.is_right
    assert not lead.is_gone


@pytest.mark.parametrize("key", ["and_not:lamp 2,lamp 3", "and_not:lamp 3,lamp 2"])
def test_a_way_whose_sources_do_different_things_is_chosen_in_its_order_only(key):
    wish = Wish("own", own_leads="dim = tail and not reverse; 0.4 A")
    (lead,) = plan(replace(FACTS, wish=wish, hookup=replace(DECIDED, ways={"dim": key}))).hookup.leads
    assert (lead.chosen is not None and lead.chosen.is_right) is (key == "and_not:lamp 3,lamp 2")


def test_a_number_typed_in_for_one_lead_stays_with_it():
    """The others follow its run, and keep the current of their own lamps: for circuit, wire and fuse alike."""
    wish = Wish("own", own_leads="dim = tail; 2.1 A; filament\nbright = stop; 2.1 A; filament")
    run = replace(DECIDED.run, overrides={"load_a": 0.1})
    circuits = dict.fromkeys(("tail", "stop"), NOTES)
    found = plan(replace(FACTS, wish=wish, hookup=HookUpDecisions(run=run, circuits=circuits))).hookup
    dim, bright = found.leads
    assert (dim.amps_a, bright.amps_a) == (0.1, 2.1)
    assert [lead.sized.assumed["load_a"] for lead in found.leads] == [0.1, 2.1]
    assert [lead.sized.fuse.rating_a for lead in found.leads] == [1, 3]
    assert {circuit.function: circuit.added_a for circuit in found.circuits} == {"tail": 0.1, "stop": 2.1}
    assert bright.follows
    assert bright.run.out_m == 3.4


def test_a_way_that_cannot_be_had_any_more_is_said():
    gone = replace(DECIDED, ways={"reverse": "direct:lamp 9"})
    assert {each.rule for each in plan(replace(FACTS, hookup=gone)).hookup.faults} == {"way_gone"}


def test_what_no_lamp_circuit_carries_is_refused():
    with pytest.raises(FactError, match="A"):
        plan(replace(FACTS, wish=Wish("reverse_lamps", count=12, each_a=9.0)))


@pytest.mark.parametrize(("system_v", "stop_a"), [(6, 4.2), (12, 2.1), (24, 1.05)])
def test_the_watts_of_a_kind_stay_and_the_amps_follow_the_system(system_v, stop_a):
    """A stop bulb has 21 W on 12 and on 24 V (UN R37)."""
    vehicle = replace(FACTS.vehicle, system_v=system_v)
    found = plan(JobFacts(vehicle, (), Wish("rear_loom", count=2))).hookup
    assert found.lead("right-stop").each_a == pytest.approx(stop_a)


@pytest.mark.parametrize(("each_a", "form"), [(0.4, "diode_or"), (3.0, "relay_or")])
def test_the_best_way_is_one_whose_parts_bear_the_load(each_a, form):
    """A diode each up to some 2 A; above its sleeve would melt, and relays come first."""
    wish = Wish("own", own_leads="both = reverse or stop", each_a=each_a)
    (lead,) = plan(replace(FACTS, wish=wish, hookup=replace(DECIDED, ways={}))).hookup.leads
    assert lead.right[0].candidate.form.id == form


def test_a_current_written_beside_a_lead_counts_and_that_of_the_brief_where_none_is():
    wish = Wish("own", own_leads="dim = tail; 0.2 A\nbright = stop", each_a=0.7)
    assert [lead.each_a for lead in plan(replace(FACTS, wish=wish)).hookup.leads] == [0.2, 0.7]
    alone = replace(wish, own_leads="dim = tail; 0.2 A")
    assert [lead.each_a for lead in plan(replace(FACTS, wish=alone)).hookup.leads] == [0.2]


def test_a_measured_run_to_a_lamp_that_has_the_name_of_the_place_is_as_long_as_it_was_measured():
    facts = facts_of("combined_tail_lamps")
    names = {f"{side} rear lamp": f"{side} tail lamp" for side in ("left", "right")}
    places = tuple(
        replace(place, point=replace(place.point, name=names.get(place.point.name, place.point.name)))
        for place in facts.places
    )
    run = replace(facts.hookup.run, out_m=0.4)
    found = with_best(replace(facts, places=places, hookup=replace(facts.hookup, run=run)))
    assert {wire.routed_m for wire in found.build.wires if wire.role == "feed"} == {0.4}


def test_a_bulb_in_its_socket_gets_no_wire_whatever_run_was_typed_in():
    facts = facts_of("led_bulbs")
    found = with_best(replace(facts, hookup=replace(facts.hookup, run=replace(facts.hookup.run, out_m=0.4))))
    assert found.build.wires == ()


def test_bulbs_in_sockets_that_nobody_opened_plug_in_and_are_wired_to_nothing():
    """Common practice: a bulb in a socket of the circuit needs no wire, wherever that circuit was measured."""
    facts = facts_of("led_turns")
    rear = tuple(place for place in facts.places if place.point.kind == "rear_lamp")
    found = with_best(replace(facts, places=rear))
    assert found.build.wires == ()
    assert {join.method for join in found.build.joins} == {"socket"}
    assert not any(found.hookup.together.wrong)
