"""What is built from the sheet alone lights what the plan says: every kind of unit, every way, against ngspice too.

From nothing but cut list, joint list and parts list a circuit is made, put on the vehicle and solved in every state:
what is missing on the sheet shows as a dark lamp.
"""

from __future__ import annotations

from dataclasses import replace

import pytest

from electrics.design.accessories import accessories
from electrics.document.decisions import HookUpDecisions
from electrics.document.job import JobFacts, Wish
from electrics.document.vehicle import VehicleFacts
from electrics.job.plan import plan
from electrics.vocabulary import Arrangement
from said import facts_of, vehicle, with_best
from sheet_light import STATES, lights_as_wanted


@pytest.mark.parametrize("accessory", [each.id for each in accessories()])
def test_the_best_ways_of_every_kind_light_from_the_sheet_alone(accessory, tmp_path):
    found = with_best(facts_of(accessory))
    assert all(lead.chosen is not None and lead.chosen.is_right for lead in found.hookup.leads)
    assert not any(found.hookup.together.wrong)
    lights_as_wanted(found, tmp_path)


@pytest.mark.parametrize(
    ("first", "also"),
    [("reverse_lamps", "reverse_switch"), ("mirror_turn_pair", "turn_left"), ("led_turns", "grille_lamps")],
)
def test_what_is_added_along_with_something_of_the_same_name_has_a_name_of_its_own(first, also, tmp_path):
    facts = facts_of(first)
    found = with_best(replace(facts, wish=replace(facts.wish, also=(also,))))
    names = [unit.name for unit in found.hookup.accessory.units]
    assert len(set(names)) == len(names)
    lights_as_wanted(found, tmp_path)


def forms_of(wish, arrangement, polarity="", system_v=12):
    """One right way of each form for a wish."""
    facts = JobFacts(
        VehicleFacts(arrangement=arrangement, system_v=system_v),
        vehicle(arrangement),
        Wish("own", own_leads=f"x = {wish}; 0.4 A{polarity}"),
    )
    (lead,) = plan(facts).hookup.leads
    kinds = {}
    for way in lead.right:
        kinds.setdefault(way.candidate.form.id, way.key)
    return facts, kinds


WISHES = (
    ("reverse", Arrangement.SEPARATE, ""),
    ("reverse", Arrangement.SEPARATE, "; ground"),
    ("tail or stop", Arrangement.SEPARATE, ""),
    ("tail and not reverse", Arrangement.SEPARATE, ""),
    ("stop_turn_left", Arrangement.SEPARATE, ""),
    ("over(turn_left, tail)", Arrangement.SEPARATE, ""),
    ("reverse or own_switch", Arrangement.SEPARATE, ""),
    ("reverse and ignition", Arrangement.SEPARATE, ""),
    ("tail and stop and reverse", Arrangement.SEPARATE, ""),
    ("(tail and stop) or reverse", Arrangement.SEPARATE, ""),
    ("tail or stop or reverse", Arrangement.SEPARATE, ""),
)


@pytest.mark.parametrize(("wish", "arrangement", "polarity"), WISHES, ids=[f"{w}{p}" for w, _, p in WISHES])
def test_every_way_to_a_wish_lights_from_the_sheet_alone(wish, arrangement, polarity, tmp_path):
    facts, kinds = forms_of(wish, arrangement, polarity)
    assert kinds
    for key in kinds.values():
        found = plan(replace(facts, hookup=HookUpDecisions(ways={"x": key})))
        lights_as_wanted(found, tmp_path, states=(*STATES, "own_switch", "brake+park", "park+brake+reverse"))


@pytest.mark.parametrize("system_v", [6, 24])
@pytest.mark.parametrize("wish", ["over(turn_left, stop)", "over(turn_left, drl)", "stop_turn_left", "stop or tail"])
def test_what_is_right_on_another_system_lights_there(wish, system_v, tmp_path):
    """Modules, timed relays and bulbs that think are made for 12 and 24 V (common practice): none on 6 V."""
    facts, kinds = forms_of(wish, Arrangement.SEPARATE, system_v=system_v)
    assert {"held_open", "self_switching", "converter"}.isdisjoint(kinds) or system_v == 24
    assert kinds or system_v == 6
    for key in kinds.values():
        found = plan(replace(facts, hookup=HookUpDecisions(ways={"x": key})))
        lights_as_wanted(found, tmp_path)
        relays = [part.detail for part in found.build.parts if part.id == "timed_relay"] if found.build else []
        assert relays in ([], ["24 V, 10 A"])


def test_a_wire_that_is_missing_on_the_sheet_is_a_dark_lamp(tmp_path):
    """The test above can fail: without any one wire some lamp is wrong."""
    found = with_best(facts_of("mirror_turn_pair"))
    design = found.hookup.design
    for n in range(len(design.wires)):
        less = replace(design, wires=design.wires[:n] + design.wires[n + 1 :])
        with pytest.raises(AssertionError):
            lights_as_wanted(
                replace(found, hookup=replace(found.hookup, design=less)), tmp_path, states=("left", "right")
            )
