"""The circuit as it is drawn: nothing over anything else, every wire in its colours, every figure the solved one."""

from __future__ import annotations

import re
from itertools import combinations

import pytest

from briefs import BRIEF
from electrics.formats.colour import parse_colour
from electrics.hookup.accessories import accessories
from electrics.job.trying import try_way
from electrics.signals import Scenario
from electrics.vocabulary import Arrangement, parse_state
from hailstone.hookup.circuit_view import BOX_W, RED, circuit_view
from hailstone.jobs.services import begin_job
from hailstone.layers.overviews import job_overview
from measured import SEPARATE, F, measured

pytestmark = pytest.mark.django_db
BOX_H = 52.0
KINDS = ("reverse_lamps", "reverse_switch", "licence_cutout", "combined_tail_lamps", "front_daytime", "led_bulbs")
COLOURS = ("BK", "BN", "RD/WH", "GY/BK", "GY/GN", "WH/GN", "BU")
STATES = ("rest", "park", "brake+left", "reverse", "hazard", "low")


@pytest.fixture(params=KINDS)
def plan(request, who):
    """A vehicle measured out, whose wires have colours, and something to add."""
    kind = accessories()[request.param]
    facts = {"addition": kind.id, "added_count": kind.count, "added_each_a": kind.leads[0].each_a}
    job = begin_job(who, BRIEF | facts)
    functions = (*SEPARATE, F.DRL) if request.param == "front_daytime" else SEPARATE
    measured(job, who, functions, Scenario(Arrangement.SEPARATE), 1)
    for pin, colour in zip(job.points.get().pins.order_by("id"), COLOURS, strict=False):
        pin.colour = colour
        pin.save()
    return job_overview(job.id).plan


def drawings(plan):
    """Every way that fits of every lead, in some states, lit and dark, with the solved circuit behind it."""
    for lead in plan.leads:
        for way in lead.right[:5]:
            trial = try_way(plan.bench, lead.lead, lead.lamps, lead.each_a, way)
            for text in STATES:
                for lit in (True, False):
                    state = parse_state(text)
                    yield (
                        circuit_view(trial, lead, way, state, lit=lit),
                        trial.simulation.at(state, lit=lit),
                        way,
                        trial,
                    )


def corners(path):
    return [tuple(map(float, point.split())) for point in re.split("[ML]", path.replace(" L", "L"))[1:]]


def test_no_part_lies_over_another_and_every_wire_stays_in_the_drawing(plan):
    for drawn, _, way, _ in drawings(plan):
        for a, b in combinations([*drawn.boxes, drawn.lamp], 2):
            assert abs(a.x - b.x) >= BOX_W or abs(a.y - b.y) >= BOX_H, f"{way.key}: {a.name} over {b.name}"
        for run in drawn.runs:
            for x, y in corners(run.path):
                assert 0 <= x <= drawn.width, way.key
                assert 0 <= y <= drawn.height, way.key


def test_every_tapped_wire_has_its_colours_and_a_named_joint_with_the_solved_volts(plan):
    for drawn, point, way, trial in drawings(plan):
        assert [joint.text for joint in drawn.joints] == [f"J{n}" for n in range(1, len(way.tapped) + 1)]
        texts = {label.text for label in drawn.labels}
        for place, node in zip(way.wires, trial.nodes, strict=True):
            if place.is_own:
                continue
            parts = parse_colour(place.wire.colour).parts
            own = (parts[0].hex, parts[1].hex if len(parts) > 1 else "")
            assert own in {(run.base, run.tracer) for run in drawn.runs}, way.key
            assert f"pin {place.wire.pin} · {abs(point.volts(node)):.1f} V" in texts, way.key


def test_what_is_live_moves_and_what_is_dark_stands_still(plan):
    """From the supply to the fuse always; to the lamp just when it has light; each lane by its own volts."""
    for drawn, point, way, trial in drawings(plan):
        lit = point.light("added lamp 1") > 0.01
        assert drawn.lamp.is_live == lit
        assert ("dark" in drawn.lamp.note) is not lit
        assert (drawn.glow > 0.01) == lit
        supplies = [run for run in drawn.runs if (run.base, run.tracer) == RED and run.path.startswith("M88 ")]
        assert supplies, way.key
        assert all(run.is_live for run in supplies), way.key
        for place, node in zip(way.wires, trial.nodes, strict=True):
            if not place.is_own:
                base = parse_colour(place.wire.colour).parts[0].hex
                lanes = [run for run in drawn.runs if run.base == base]
                assert any(run.is_live for run in lanes) == (point.volts(node) > 0.5), f"{way.key} {place.wire.pin}"
