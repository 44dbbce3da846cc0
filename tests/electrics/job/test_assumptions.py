"""What was assumed, and the value at which the plan would be another."""

from __future__ import annotations

from dataclasses import replace

import pytest

from electrics.document.circuits import CircuitNotes, FedBy
from electrics.document.decisions import HookUpDecisions
from electrics.document.job import Wish
from electrics.document.vehicle import Computer, Idle, VehicleFacts
from electrics.job.assumptions import About, assumptions
from electrics.job.correction import correct, with_cure
from electrics.job.plan import plan
from electrics.reference.usual import usual_circuit
from electrics.vocabulary import Arrangement
from said import facts_of, with_best

VEHICLE = VehicleFacts(arrangement=Arrangement.SEPARATE, computer=Computer.NO)
REAR = facts_of("reverse_lamps").places[:2]
PODS = replace(
    facts_of("reverse_lamps"), vehicle=VEHICLE, places=REAR, wish=Wish("reverse_lamps", count=2, each_a=3.0)
)


def ways(facts):
    return {lead.shown.candidate.form.id for lead in plan(facts).hookup.leads}


def with_notes(**values):
    notes = CircuitNotes(FedBy.PLAIN, "P21W", 2, 10.0, "18")
    return replace(PODS, hookup=HookUpDecisions(circuits={"reverse": replace(notes, **values)}))


def test_the_fuse_from_which_the_pods_need_no_relay_is_the_most_telling():
    """Two 21 W bulbs and 6 A are 9.8 A: 80 % of 10 A is too little, of 15 A enough (common practice)."""
    (fuse,) = (each for each in assumptions(PODS) if each.about is About.FUSE)
    assert (fuse.where, fuse.value, fuse.changes_at) == ("reverse", 10.0, 15.0)
    assert ways(with_notes(host_fuse_a=10.0)) == {"relay"}
    assert ways(with_notes(host_fuse_a=15.0, host_wire="14")) == {"direct"}


def test_a_length_says_where_a_thicker_wire_begins():
    found = [each for each in assumptions(with_notes()) if each.about is About.LENGTH]
    supply = next(each for each in found if each.where.startswith("battery to"))
    assert supply.changes_at is not None
    first, _, second = supply.where.partition(" to ")
    pair = frozenset((first, second))

    def sizes(m):
        return sorted(
            wire.conductor.size for wire in plan(replace(with_notes(), distances={pair: m})).hookup.design.wires
        )

    beyond = supply.changes_at + (0.05 if supply.changes_at > supply.value else -0.05)
    assert sizes(supply.value) != sizes(beyond)


def test_whether_a_computer_feeds_it_is_never_taken_for_granted():
    unknown = replace(PODS, vehicle=replace(VEHICLE, computer=Computer.UNKNOWN))
    first = assumptions(unknown)[0]
    assert (first.about, first.is_dangerous) == (About.COMPUTER, True)
    assert not any(each.about is About.COMPUTER for each in assumptions(PODS))


def test_what_is_noted_is_not_assumed():
    assert {each.about for each in assumptions(with_notes())} <= {About.LENGTH, About.HABIT}


def test_a_pull_up_says_from_which_ohms_on_another_lamp_would_glow():
    """1 kohm across an LED leaves it 4.7 V behind 2.2 kohm and 7.5 V behind 1 kohm (closed form, at 15 V)."""
    facts = facts_of("led_turns", Arrangement.SEPARATE)
    vehicle = replace(
        facts.vehicle, computer=Computer.YES, idle=Idle.LEAK, habits=(("warns_share", 0.5), ("watches_all", 0.0))
    )
    found = with_best(replace(facts, vehicle=vehicle))
    ghost = next(each for each in correct(found).open if each.cure == "ghost_resistor")
    cured = with_cure(found.facts, replace(ghost.decision, ohm=1000.0))
    found = [each for each in assumptions(cured) if each.about is About.HABIT]
    (pull_up,) = found  # what was measured is not assumed
    assert pull_up.where == "leak_ohm"
    assert (pull_up.value, pull_up.low) == (2200.0, 1000.0)
    assert 1000.0 < pull_up.changes_at < 1500.0


def leds_everywhere(facts):
    """The same vehicle, LED lamps noted on each tapped circuit and nothing else."""
    tapped = [str(each.function) for each in plan(facts).hookup.circuits]
    return replace(facts, hookup=replace(facts.hookup, circuits={
        function: CircuitNotes(host_bulb=usual_circuit(function, 12).led) for function in tapped
    }))  # fmt: skip


@pytest.mark.parametrize("computer", [Computer.NO, Computer.YES])
@pytest.mark.parametrize("kind", ["combined_tail_lamps", "separate_tail_lamps", "led_bulbs"])
def test_an_led_in_place_of_an_led_upsets_nothing_and_the_assumption_of_bulbs_says_so(kind, computer):
    """What flashes and watches LEDs waits for their current (common practice)."""
    facts = facts_of(kind)
    facts = with_best(replace(facts, vehicle=replace(facts.vehicle, computer=computer))).facts
    assert {upset.rule for upset in plan(facts).hookup.upsets} & {"flash_rate", "outage_warning"}
    found = next(each for each in assumptions(facts) if not each.is_dangerous)
    assert (found.about, found.changes_at) == (About.LED, 1.0)
    said = leds_everywhere(facts)
    left = {name: notes for name, notes in said.hookup.circuits.items() if not name.endswith("_right")}
    for circuits in (said.hookup.circuits, left):  # one side is as the other
        after = plan(replace(said, hookup=replace(said.hookup, circuits=circuits))).hookup
        assert (after.upsets, [fault.rule for fault in after.faults]) == ((), [])


def test_a_bulb_in_place_of_a_factory_led_is_too_much_for_a_computer():
    """The output was sized for a tenth of the current (common practice)."""
    facts = facts_of("combined_tail_lamps")
    watched = replace(facts.vehicle, computer=Computer.YES)
    facts = with_best(replace(facts, vehicle=watched)).facts
    heavy = {lead: replace(facts.hookup.run, overrides={"load_a": 2.1}) for lead in ("left-turn", "right-turn")}
    facts = leds_everywhere(replace(facts, hookup=replace(facts.hookup, runs=heavy)))
    assert "computer" in {fault.rule for fault in plan(facts).hookup.faults}
