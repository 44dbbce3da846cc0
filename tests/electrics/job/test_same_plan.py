"""Names, order, pin numbers and sides change nothing but names: random jobs said another way have the same plan.

A fact of the trade (common practice): a wire is what it does, not what it is called or where it stands in a list.
"""

from __future__ import annotations

import copy
import json
import random

import pytest

from electrics.build.sheet import build_of
from electrics.errors import FactError
from electrics.formats.json_file import FileError
from electrics.job.better import best_plan
from electrics.job.file.reading import read_job_file
from electrics.job.judging import findings_of
from electrics.job.plan import plan
from random_jobs import a_job

JOBS = 40
OTHER = {"left": "right", "right": "left"}


def renamed(document, rng):
    """Every place and unit under a name that sorts elsewhere; `fuse box` is where every vehicle has one, by its name."""
    places = [
        *(place["name"] for place in document["places"]),
        *(u["place"] for u in document["units"] if "place" in u),
    ]
    words = rng.sample(["ash", "birch", "cedar", "elm", "fir", "hazel", "larch", "maple", "oak", "pine", "rowan"], 11)
    names = dict(zip(dict.fromkeys(places), words, strict=False)) | {"fuse box": "fuse box"}
    for place in document["places"]:
        place["name"] = names[place["name"]]
    for n, unit in enumerate(document["units"]):
        unit["name"] = f"{words[-1 - n]} lamp"
        for key in ("place", "instead_of"):
            if unit.get(key):
                unit[key] = names[unit[key]]
    for distance in document["distances"]:
        distance["between"] = [names[name] for name in distance["between"]]
    return document


def reordered(document, rng):
    """Places, units and wires listed in another order."""
    for listed in (document["places"], document["units"], *(place["wires"] for place in document["places"])):
        rng.shuffle(listed)
    for unit in document["units"]:
        if "leads" in unit:
            rng.shuffle(unit["leads"])
    return document


def repinned(document, rng):
    """Every wire of a place in another pin."""
    for place in document["places"]:
        pins = [wire["pin"] for wire in place["wires"]]
        rng.shuffle(pins)
        for wire, pin in zip(place["wires"], pins, strict=True):
            wire["pin"] = pin
    return document


def mirrored(document, rng):
    """Left is right: sides, and what a wire does there."""

    def turned(value):
        if isinstance(value, dict):
            return {key: turned(each) for key, each in value.items()}
        if isinstance(value, list):
            return [turned(each) for each in value]
        if isinstance(value, str):
            return value.replace("left", "\0").replace("right", "left").replace("\0", "right")
        return value

    return turned(document)


def logic(found, turn):
    """What a plan is but for names and lengths: a battery sits on one side of a vehicle."""
    leads = sorted(
        (
            turn(lead.lead.wanted.text),
            lead.shown.candidate.form.id if lead.shown else "",
            sorted(turn(str(place.wire.function)) for place in lead.shown.tapped) if lead.shown else [],
        )
        for lead in found.hookup.leads
    )
    rules = {(each.rule, str(each.severity)) for each in findings_of(found) if each.rule not in BY_LENGTH}
    return leads, rules


BY_LENGTH = (
    "better_way",
    "sides_differ",
    "feed_drop",
    "ground_drop",
    "drop",
    "no_wire",
    "no_fuse",
    "joint",
    "ground",
)


def shape(found, turn):
    """What a plan is but for names: hook-ups, sizes, parts, joints, wires, findings."""

    def sided(text):
        return turn(str(text))

    leads = sorted(
        (
            sided(lead.lead.wanted.text),
            lead.lead.each_a,
            lead.shown.candidate.form.id if lead.shown else "",
            sorted(sided(place.wire.function) for place in lead.shown.tapped) if lead.shown else [],
            lead.sized.option.conductor.size if lead.sized.option else "",
            sorted(lead.sized.faults),
        )
        for lead in found.hookup.leads
    )
    findings = sorted(
        (
            each.rule,
            str(each.severity),
            sided(each.function or ""),
            sorted(map(sided, each.states)),
            round(each.value or 0, 2),
            round(each.limit or 0, 2),
        )
        for each in findings_of(found)
        if each.rule not in ("better_way", "sides_differ")
    )
    if found.hookup.design is None:
        return leads, findings
    build = build_of(found.hookup.design, found.hookup.accessory)
    parts = sorted((part.id, part.detail if part.id in ("fuse", "wire") else "", part.count) for part in build.parts)
    wires = sorted((wire.role, wire.conductor.size, round(wire.cut_m, 2)) for wire in build.wires)
    joins = sorted((len(join.members), sorted(str(member.kind) for member in join.members)) for join in build.joins)
    return leads, findings, parts, wires, joins


def told(document):
    try:
        return best_plan(plan(read_job_file(json.dumps(document))))
    except (FileError, FactError):
        return None


@pytest.mark.parametrize("said", [renamed, reordered, repinned, mirrored], ids=lambda said: said.__name__)
def test_a_job_said_another_way_has_the_same_plan(said):
    rng, seen = random.Random(20261201), 0
    while seen < JOBS:
        document = a_job(rng)
        found = told(document)
        if found is None:
            continue
        other = told(said(copy.deepcopy(document), rng))
        assert other is not None
        if said is mirrored:
            assert logic(other, lambda text: mirrored(text, rng)) == logic(found, str), json.dumps(document)
        else:
            assert shape(other, str) == shape(found, str), json.dumps(document)
        seen += 1
