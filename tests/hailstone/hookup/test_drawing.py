"""The circuit as it is drawn: all that the design has, nothing over anything else, every figure the solved one."""

from __future__ import annotations

import re
from dataclasses import replace
from itertools import combinations

import pytest

from electrics.formats.colour import parse_colour
from electrics.job.plan import plan
from electrics.vocabulary import parse_state
from hailstone.hookup.circuit_view import circuit_view
from said import facts_of

KINDS = (
    *("reverse_lamps", "reverse_switch", "licence_cutout", "combined_tail_lamps", "front_daytime", "led_bulbs"),
    *("towed_car_diodes", "ground_switched_lamp", "light_bar", "lit_mirrors"),
)
COLOURS = ("BK", "BN", "RD/WH", "GY/BK", "GY/GN", "WH/GN", "BU")
STATES = ("rest", "park", "brake+left", "reverse", "hazard")


def coloured(facts):
    """The wires of a vehicle in colours, to tell them apart."""
    places = [
        replace(
            place,
            point=replace(
                place.point,
                wires=tuple(replace(wire, colour=COLOURS[n]) for n, wire in enumerate(place.point.wires)),
            ),
        )
        for place in facts.places
    ]
    return replace(facts, places=tuple(places))


@pytest.fixture(params=[(kind, n) for kind in KINDS for n in (0, 1)], ids=lambda param: f"{param[0]}-{param[1]}")
def drawings(request):
    """Each lead of an accessory with its best way, or the next best, in some states, lit and dark."""
    kind, n = request.param
    facts = coloured(facts_of(kind))
    ways = {
        each.lead.id: [*each.right, each.shown][min(n, len(each.right) - 1)].key for each in plan(facts).hookup.leads
    }
    found = plan(replace(facts, hookup=replace(facts.hookup, ways=ways))).hookup
    assert found.pictured is not None
    assert found.drawn is not None
    states = [parse_state(each) for each in STATES if parse_state(each) in found.pictured.shows[0]]
    return [
        (found, lead, state, lit, circuit_view(found, found.drawn, found.pictured, lead, state, lit=lit))
        for lead in found.leads
        for state in states
        for lit in (True, False)
    ]


def corners(path):
    return [tuple(map(float, point.split())) for point in re.split("[ML]", path.replace(" L", "L"))[1:]]


def test_no_part_lies_over_another_and_everything_stays_in_the_drawing(drawings):
    for _, lead, _, _, drawn in drawings:
        for a, b in combinations([*drawn.boxes, drawn.lamp], 2):
            apart = abs(a.x - b.x) >= (a.w + b.w) / 2 or abs(a.y - b.y) >= (a.h + b.h) / 2
            assert apart, f"{lead.lead.id}: {a.name} over {b.name}"
        for a, b in combinations(drawn.joints, 2):
            assert abs(a.x - b.x) >= 14 or abs(a.y - b.y) >= 14, f"{lead.lead.id}: {a.text} over {b.text}"
        marks = [corner for run in drawn.runs for corner in corners(run.path)]
        marks += [(each.x, each.y) for each in (*drawn.boxes, *drawn.joints, *drawn.labels)]
        for x, y in marks:
            assert 0 <= x <= drawn.width, lead.lead.id
            assert 0 <= y <= drawn.height, lead.lead.id


def test_every_part_that_serves_a_lead_is_drawn_and_every_joint_is_one_of_the_build_sheet(drawings):
    for found, lead, _, _, drawn in drawings:
        boxes = {box.name.lower() for box in drawn.boxes}
        assert {part.label for part in found.drawn.parts if lead.lead.id in part.leads} <= boxes
        assert {dot.text for dot in drawn.joints} <= {"J" + join.label.split()[1] for join in found.drawn.joins}
        assert len({dot.text for dot in drawn.joints}) == len(drawn.joints), "each joint once"


def test_every_tapped_wire_has_its_colours_and_its_joint_the_solved_volts(drawings):
    for found, lead, state, lit, drawn in drawings:
        point = found.pictured.simulation.at(state, lit=lit)
        texts = {label.text for label in drawn.labels}
        for place in lead.shown.tapped:
            taps = [join for join in found.drawn.joins if any(end.key == place.key for end in join.members)]
            if not any(end.colour for join in taps for end in join.members):
                continue  # a bulb in its socket
            parts = parse_colour(place.wire.colour).parts
            own = (parts[0].hex, parts[1].hex if len(parts) > 1 else "")
            assert own in {(run.base, run.tracer) for run in drawn.runs}, lead.shown.key
            nodes = [point.simulation.network[f"{join.label} tap 1"].nodes["from"] for join in taps]
            assert texts & {f"pin {place.wire.pin} · {abs(point.volts(node)):.1f} V" for node in nodes}, (
                lead.shown.key
            )


def test_what_is_live_moves_and_what_is_dark_stands_still(drawings):
    """From the supply to the fuse always; to the lamp just when it has light."""
    for found, lead, state, lit, drawn in drawings:
        point = found.pictured.simulation.at(state, lit=lit)
        names = [light.element.name for light in found.drawn.lights if light.lead == lead.lead.id]
        is_lit = any(point.light(name) > 0.01 for name in names)
        assert drawn.lamp.is_live == is_lit
        assert (drawn.lamp.note == "dark") is not is_lit
        assert (drawn.glow > 0.01) == is_lit
        supplies = [
            box
            for box in drawn.boxes
            if box.name.startswith(("Fuse", "Battery", "Factory fuse")) and " V" in box.note
        ]
        assert supplies, lead.shown.key
        assert all(box.is_live for box in supplies)
