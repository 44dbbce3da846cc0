"""The job file as it is written makes the same plan when it is read back."""

from __future__ import annotations

import json
from pathlib import Path

import jsonschema
import pytest

from electrics.formats.json_file import schema_of
from electrics.hookup.accessories import accessories
from electrics.job.correction import correct
from electrics.job.facts import CureDecision, HookUpDecisions
from electrics.job.job_document import job_document
from electrics.job.job_file import read_job_file
from electrics.job.plan import plan
from hailstone.plan_file import best_plan
from said import facts_of, with_best

EXAMPLES = sorted((Path(__file__).parents[3] / "docs/formats/examples").glob("job-*.json"))


def outline(found):
    """What a plan comes to, by names."""
    build = found.build
    return {
        "wires": sorted((w.role, w.conductor.name, round(w.cut_m, 2), *(e.what for e in w.ends)) for w in build.wires)
        if build
        else [],
        "parts": sorted((p.id, p.count, p.detail) for p in build.parts if p.id != "lamp") if build else [],
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
    document = job_document(facts, "again")
    jsonschema.Draft202012Validator(schema_of("job")).validate(document)
    return read_job_file(json.dumps(document))


@pytest.mark.parametrize("path", EXAMPLES, ids=lambda path: path.stem)
def test_every_example_is_written_as_it_was_read(path):
    found = best_plan(read_job_file(path.read_text()))
    assert outline(plan(again(found.facts))) == outline(found)


@pytest.mark.parametrize("accessory", [each.id for each in accessories()])
def test_every_kind_of_the_brief_is_written_thing_by_thing(accessory):
    found = with_best(facts_of(accessory))
    ours, theirs = outline(found), outline(plan(again(found.facts)))
    assert theirs["parts"] == ours["parts"]
    assert [way[1:] for way in theirs["ways"]] == [way[1:] for way in ours["ways"]]
    assert theirs["upsets"] == ours["upsets"]


def test_a_cure_is_written_and_read():
    found = with_best(facts_of("led_bulbs"))
    decision = CureDecision("load_resistor", ("left-turn", "right-turn"), 6.0, 50.0, "metal")
    facts = plan(found.facts).facts
    cured = HookUpDecisions(dict(facts.hookup.ways), cures=(decision,))
    back = again(type(facts)(**{**facts.__dict__, "hookup": cured}))
    (cure,) = back.hookup.cures
    assert (cure.cure, cure.ohm, cure.case_w, cure.mount, len(cure.leads)) == ("load_resistor", 6.0, 50.0, "metal", 2)
    assert correct(plan(back)).now == ()
