"""Numbers stay with what they stand on, whatever else is changed."""

from __future__ import annotations

from dataclasses import replace

import pytest

from electrics.design.labels import label_keys
from electrics.document.decisions import HookUpDecisions, RunDecision
from electrics.job.plan import plan
from said import facts_of, with_best
from sheet_light import lights_as_wanted


def kept(design):
    return tuple((*key, label) for key, label in label_keys(design).items())


def numbered(design):
    """Every number by what it stands on."""
    return label_keys(design)


@pytest.mark.parametrize("accessory", ["reverse_switch", "mirror_turn_pair", "towed_car"])
def test_each_number_stands_on_one_thing_and_nothing_changes_by_keeping_them(accessory):
    found = with_best(facts_of(accessory))
    design = found.hookup.design
    keys = label_keys(design)
    assert len(keys) == len(design.wires) + len(design.joins)
    same = plan(replace(found.facts, hookup=replace(found.facts.hookup, labels=kept(design)))).hookup.design
    assert same == design


def test_when_a_lamp_comes_on_top_the_others_keep_their_numbers_and_nothing_is_used_twice(tmp_path):
    """Labels are on the wires already: wire 3 stays wire 3."""
    facts = facts_of("reverse_lamps")
    before = with_best(facts)
    labels = kept(before.hookup.design)
    more = replace(facts, wish=replace(facts.wish, kind="mirror_turn_pair", count=2, also=("reverse_lamps",)))
    after = with_best(replace(more, hookup=HookUpDecisions(labels=labels)))
    now, was = numbered(after.hookup.design), numbered(before.hookup.design)
    both = set(now) & set(was)
    assert both
    assert {key: now[key] for key in both} == {key: was[key] for key in both}
    for kind in ("wire", "joint"):
        used = [label for key, label in now.items() if key.kind.startswith(kind)]
        assert len(set(used)) == len(used)
        new = {label for key, label in now.items() if key.kind.startswith(kind) and key not in was}
        assert new.isdisjoint(label for key, label in was.items() if key.kind.startswith(kind))
    lights_as_wanted(after, tmp_path)


def test_when_a_wire_goes_its_number_is_given_to_no_other():
    facts = facts_of("reverse_switch")
    before = with_best(facts)
    labels = kept(before.hookup.design)
    fewer = facts_of("reverse_lamps")
    after = with_best(replace(fewer, hookup=HookUpDecisions(labels=labels, run=RunDecision())))
    now, was = numbered(after.hookup.design), numbered(before.hookup.design)
    for key, label in now.items():
        if key not in was:
            assert label not in [other for it, other in was.items() if it.kind[:4] == key.kind[:4]]


def test_one_number_said_of_two_things_counts_once():
    found = with_best(facts_of("reverse_lamps"))
    labels = tuple((kind, place, what, "1") for kind, place, what, _ in kept(found.hookup.design))
    design = plan(replace(found.facts, hookup=replace(found.facts.hookup, labels=labels))).hookup.design
    numbers = [wire.label for wire in design.wires]
    assert len(set(numbers)) == len(numbers)
