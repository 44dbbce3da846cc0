"""The job file as it is written makes the same plan when it is read back."""

from __future__ import annotations

import json
from dataclasses import replace
from pathlib import Path

import jsonschema
import pytest

from electrics.design.accessories import accessories
from electrics.design.units_of_facts import unit_facts_of, unit_of
from electrics.document.circuits import CircuitNotes
from electrics.document.decisions import CureDecision, HookUpDecisions
from electrics.document.units import LeadFacts, UnitFacts
from electrics.formats.json_file import schema_of
from electrics.job.better import best_plan
from electrics.job.correction import correct
from electrics.job.file.reading import read_job_file
from electrics.job.file.writing import job_document
from electrics.job.plan import plan
from said import facts_of, with_best

EXAMPLES = sorted((Path(__file__).parents[3] / "docs/formats/examples").glob("job-*.json"))


def outline(found):
    """What a plan comes to, by names."""
    build = found.build
    return {
        "wires": sorted((w.role, w.conductor.name, round(w.cut_m, 2), *(e.what for e in w.ends)) for w in build.wires)
        if build
        else [],
        "parts": sorted((p.id, p.count, p.detail) for p in build.parts) if build else [],
        "ways": [
            (lead.lead.label, lead.shown.candidate.form.id, [(w.place, w.wire.pin) for w in lead.shown.wires])
            for lead in found.hookup.leads
            if lead.shown
        ],
        "upsets": sorted((upset.rule, upset.state) for upset in found.hookup.upsets),
        "beliefs": [[(w.pin, w.function, w.is_settled) for w in belief.wires] for belief in found.beliefs],
        "lines": len(found.sheet.lines) if found.sheet else 0,
    }


def again(facts):
    document = job_document(facts, {"job": {"title": "again"}})
    jsonschema.Draft202012Validator(schema_of("job")).validate(document)
    return read_job_file(json.dumps(document))


@pytest.mark.parametrize("path", EXAMPLES, ids=lambda path: path.stem)
def test_every_example_is_written_as_it_was_read(path):
    found = best_plan(plan(read_job_file(path.read_text())))
    assert outline(plan(again(found.facts))) == outline(found)


def test_a_thing_with_a_feed_for_good_is_written_with_its_ground():
    """Whichever of its leads comes first, and though another is switched by ground."""
    trigger = LeadFacts("yellow", "reverse", 0.05, "led", "ground")
    memory = LeadFacts("red", "battery", 0.2, "led", "positive")
    unit = unit_of(UnitFacts("camera", leads=(LeadFacts("ground", "ground"), trigger, memory)), {}, 12)
    assert [lead.label for lead in unit.leads] == ["yellow", "red"]
    assert unit_of(unit_facts_of(unit), {}, 12) == unit


ALIKE = {"reverse_lamps", "turn_left", "turn_right", "mirror_turn_pair", "running_lamps", "grille_lamps"}
ALIKE |= {"separate_tail_lamps", "led_bulbs_combined", "front_both", "towed_car"}
"""Kinds of which another one has the same and more."""


@pytest.mark.parametrize("accessory", [each.id for each in accessories() if each.id not in ALIKE])
def test_every_kind_of_the_brief_is_written_thing_by_thing(accessory):
    found = with_best(facts_of(accessory))
    ours, theirs = outline(found), outline(plan(again(found.facts)))
    assert theirs["parts"] == ours["parts"]
    assert [way[1:] for way in theirs["ways"]] == [way[1:] for way in ours["ways"]]
    assert theirs["upsets"] == ours["upsets"]


def test_what_was_measured_of_the_vehicle_is_written_and_read():
    found = with_best(facts_of("led_bulbs"))
    stated = (("warns_share", 0.6), ("air_c", 45.0))
    for prongs in ("two", "three", "ground"):
        vehicle = replace(found.facts.vehicle, habits=stated, prongs=prongs)
        back = again(replace(found.facts, vehicle=vehicle)).vehicle
        assert (back.habits, back.prongs) == (stated, prongs)


AT = ("left-turn", "right-turn")


@pytest.mark.parametrize(
    "decision",
    [
        CureDecision("flasher"),
        CureDecision("pilot_diodes"),
        CureDecision("load_resistor", AT, 6.0, 50.0, "metal"),
        CureDecision("tail_resistor", AT, 50.0, 10.0, "metal"),
        CureDecision("diode", AT, part="1N5404"),
        CureDecision("ghost_resistor", AT, 470.0),
        CureDecision("decoder", AT, 6.0, 50.0, microfarad=470.0, series_ohm=10.0, bleed_ohm=330.0),
        CureDecision("plug_turned", AT),
        CureDecision("other_bulb", AT),
    ],
    ids=lambda decision: decision.cure,
)
def test_a_cure_is_written_and_read(decision):
    found = with_best(facts_of("led_bulbs"))
    cured = HookUpDecisions(dict(found.facts.hookup.ways), cures=(decision,))
    facts = replace(found.facts, hookup=cured)
    back = again(facts)
    (cure,) = back.hookup.cures
    assert replace(cure, leads=()) == replace(decision, leads=())
    assert len(cure.leads) == len(decision.leads)
    assert outline(plan(back))["parts"] == outline(plan(facts))["parts"]
    if decision.cure == "load_resistor":
        assert correct(plan(back)).now == ()


@pytest.mark.parametrize("noted", [{"host_bulb": "LED main"}, {"host_count": 2}])
def test_what_is_noted_of_a_circuit_in_part_goes_into_the_file(noted):
    facts = with_best(facts_of("combined_tail_lamps")).facts
    notes = {"stop_turn_left": CircuitNotes(**noted)}
    facts = replace(facts, hookup=replace(facts.hookup, circuits=notes))
    assert outline(plan(again(facts))) == outline(plan(facts))


def test_where_a_plug_and_a_canopy_are_is_written_once_and_read_again():
    document = json.loads(EXAMPLES[0].read_text())
    document["places"][0]["zone"] = "behind cab"
    document["places"].append({"name": "canopy", "zone": "rear centre"})
    facts = read_job_file(json.dumps(document))
    assert (facts.places[0].point.zone, facts.zones) == ("behind cab", {"canopy": "rear centre"})
    assert "canopy" not in [place.point.name for place in facts.places]
    found = again(facts)
    assert (found.places[0].point.zone, found.zones) == ("behind cab", {"canopy": "rear centre"})
