"""What was assumed, and the value at which the plan would be another."""

from __future__ import annotations

from dataclasses import replace

from electrics.job.assumptions import About, assumptions
from electrics.job.facts import CircuitNotes, Computer, FedBy, HookUpDecisions, VehicleFacts, Wish
from electrics.job.plan import plan
from electrics.vocabulary import Arrangement
from said import facts_of

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
    assert {each.about for each in assumptions(with_notes())} == {About.LENGTH}
