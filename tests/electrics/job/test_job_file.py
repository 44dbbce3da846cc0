"""Job files: the seven jobs of the examples, and what is refused."""

from __future__ import annotations

import copy
import json
from functools import cache
from pathlib import Path

import jsonschema
import pytest

from electrics.build.sheet import build_of
from electrics.formats.json_file import FileError
from electrics.job.better import best_plan
from electrics.job.file.reading import read_job_file
from electrics.job.plan import plan
from electrics.signals import DARK
from electrics.vocabulary import Function, parse_state
from hailstone.cli.hookup import hookup_document
from hailstone.cli.plan import plan_document
from sheet_light import lights_as_wanted

EXAMPLES = Path(__file__).parents[3] / "docs/formats/examples"
JOBS = sorted(path.stem for path in EXAMPLES.glob("job-*.json"))


def text_of(name):
    return (EXAMPLES / f"{name}.json").read_text()


@cache
def document_of(name):
    return plan_document(text_of(name))


@cache
def planned(name):
    found = best_plan(plan(read_job_file(text_of(name))))
    return found, build_of(found.hookup.design, found.hookup.accessory)


def meets(build, end):
    """What an end of a wire is joined to, other wires left out."""
    join = next((join for join in build.joins if join.label == end.what), None)
    return {(member.what, member.terminal) for member in join.members} if join else {(end.what, end.terminal)}


def test_there_are_seven():
    assert len(JOBS) == 7


@pytest.mark.parametrize("name", JOBS)
def test_every_example_lights_as_wanted_from_its_sheet_alone(name, tmp_path):
    found, _ = planned(name)
    assert not any(found.hookup.together.wrong)
    assert not found.hookup.faults
    lights_as_wanted(found, tmp_path)


def test_led_tail_lamps_have_three_joints_a_side_and_the_old_lamps_are_off_the_sheet():
    """Both sides' fast flash is named: LEDs look like dead bulbs (common practice)."""
    found, build = planned("job-led-tail-lamps")
    assert [len([join for join in build.joins if join.spot.name.startswith(side)]) for side in ("left", "right")] == [
        3,
        3,
    ]
    assert not build.wires
    assert not [part for part in build.parts if part.id == "fuse"]
    fast = {upset.state for upset in found.hookup.upsets if upset.rule == "flash_rate"}
    assert fast == {"left", "right"}
    lamps = {line.lamp.id for line in found.sheet.lines if line.lamp}
    assert not {"factory:stop_turn_left", "factory:stop_turn_right"} & lamps
    assert len([lamp for lamp in lamps if lamp.startswith("added:")]) == 4


def test_lit_mirrors_take_fuse_taps_and_the_far_side_is_longer_by_the_distance():
    found, build = planned("job-lit-mirrors")
    far = {lead.lead.label: lead.out_m for lead in found.hookup.leads if lead.lead.side == "right"}
    near = {lead.lead.label: lead.out_m for lead in found.hookup.leads if lead.lead.side == "left"}
    assert far["tail"] - near["tail"] == pytest.approx(2.1)
    assert next(part.count for part in build.parts if part.id == "fuse_tap") == 2
    assert len([wire for wire in build.wires if wire.role == "ground"]) == 2


def test_reverse_pods_have_battery_feed_trigger_coil_ground_and_a_harness():
    _, build = planned("job-reverse-pods")
    roles = [wire.role for wire in build.wires]
    assert (roles.count("supply"), roles.count("trigger"), roles.count("ground")) == (2, 1, 3)
    feed = max((wire for wire in build.wires if wire.role == "supply"), key=lambda wire: wire.routed_m)
    # 5 and 0.7 m with 6 A, 1.2 m with 3 A on the longest road: 37.8 A m lose 0.39 V of 0.40 in 14 AWG, its ground more
    assert (feed.routed_m, feed.conductor.size) == (5.0, "12")
    assert {part.id for part in build.parts} >= {"t_harness", "relay_socket", "fuse_holder", "ring_terminal"}


def test_licence_lamps_share_one_feed_through_30_and_87a_and_the_other_is_capped():
    found, build = planned("job-licence-out-in-reverse")
    (relay,) = (part for part in found.hookup.design.parts if part.part == "relay")
    wires = {end.terminal: wire for wire in build.wires for end in wire.ends if end.what == relay.label}
    assert set(wires) == {"86", "85", "30", "87a"}
    assert ("left licence lamp", "2") in meets(build, wires["30"].ends[0])
    assert [(end.what, end.terminal) for end in build.capped] == [("right licence lamp", "2")]
    assert [(end.what, end.terminal) for end in build.sealed] == [(relay.label, "87")]
    assert ("left tail lamp", "5") in meets(build, wires["86"].ends[0])
    assert "ground" in wires["85"].ends[1].what


def test_a_towed_car_has_eight_conductors():
    """Four from the front to the left lamp, green and brown on to the right, a ground each."""
    found, build = planned("job-towed-car")
    lines = {line.expected for line in found.sheet.lines if line.lamp and line.lamp.id == "added:towed_own"}
    assert lines == {DARK}  # bulbs of their own leave the car's lamps alone
    assert {"factory:tail", "factory:stop_turn_left"} <= {line.lamp.id for line in found.sheet.lines if line.lamp}
    front, left = "socket at the front", "left lamp of the towed car"
    right = "right lamp of the towed car"
    first = [wire for wire in build.wires if front in wire.by and left in wire.by]
    second = [wire for wire in build.wires if left in wire.by and right in wire.by]
    grounds = [wire for wire in build.wires if wire.role == "ground" and front not in wire.by]
    assert (len(first), len(second), len(grounds)) == (4, 2, 2)


def test_a_lamp_on_a_canopy_goes_through_a_plug_and_its_ground_is_a_wire():
    document = document_of("job-canopy-stop-lamp")
    assert {"count": 1, "part": "Sealed plug and socket, the live half shrouded", "detail": "2 poles"} in document[
        "parts_list"
    ]
    plug = next(step for step in document["steps"] if step["key"]["kind"] == "plug_half")
    assert any("Drip loop" in line and "shrouded half goes on the vehicle's side" in line for line in plug["details"])
    job = json.loads(text_of("job-canopy-stop-lamp"))
    job["runs"] = [{"ground": "body"}]
    assert "ground" in {fault["id"] for fault in plan_document(json.dumps(job))["faults"]}


def test_a_lorry_loom_feeds_both_lamps_and_the_socket_and_maps_old_to_new():
    """21 W bulbs on 24 V draw 0.9 A (UN R37); the kind's 2.1 A on 12 V are 1.05 A here."""
    document = document_of("job-lorry-loom")
    mapped = {
        (unit["name"], lead["lead"]): lead["chosen"]["from"][0]["pin"]
        for unit in document["units"]
        for lead in unit["leads"]
    }
    assert mapped["left lamp", "stop"] == mapped["right lamp", "stop"] == mapped["trailer socket", "54"] == "3"
    assert {mapped["left lamp", "turn"], mapped["trailer socket", "L"]} == {"4"}
    amps = {(unit["name"], lead["lead"]): lead["amps"] for unit in document["units"] for lead in unit["leads"]}
    assert amps["left lamp", "stop"] == pytest.approx(1.05)


def changed(name, change):
    document = copy.deepcopy(json.loads(text_of(name)))
    change(document)
    return json.dumps(document)


@pytest.mark.parametrize(
    ("change", "says"),
    [
        (lambda d: d["units"][0]["leads"].pop(), "none of its leads is its ground"),
        (
            lambda d: d["units"][0]["leads"].append({"lead": "black", "wants": "ground"}),
            "has 2 leads that want ground",
        ),
        (lambda d: d["units"][0]["leads"].append({"lead": "plus", "wants": "battery"}), "plus: amps is missing"),
        (lambda d: d["units"][0]["leads"][0].update(wants="own_switch"), "“battery and own_switch”"),
        (
            lambda d: (d["units"][0].pop("instead_of"), d["units"][0].update(place="roof")),
            "nothing says where “roof” is",
        ),
        (lambda d: d["distances"][0].update(m=0), "Expected 0.05 to 60"),
        (lambda d: d["distances"][0].update(m=1000), "Expected 0.05 to 60"),
        (
            lambda d: d["units"][1].update(instead_of="left tail lamp", side="left"),
            "both replace the lamp at left tail lamp",
        ),
        (lambda d: d["units"][0].update(instead_of="middle tail lamp"), "there is no place “middle tail lamp”"),
        (lambda d: d["choices"][0].update(unit="third lamp"), "there is no unit “third lamp”"),
        (lambda d: d["choices"][0]["from"][0].update(pin="9"), "there is no pin “9” in left tail lamp"),
        (lambda d: d["units"][1].update(name="left lamp"), "“left lamp” is listed twice"),
        (lambda d: d["places"][0]["wires"][1].update(pin="1"), "pin 1 is listed twice"),
        (lambda d: d["units"][0].update(kind="disco_ball"), "there is no kind of unit “disco_ball”"),
        (lambda d: d["units"][0]["leads"][0].update(wants="disco"), "is no function of a wire"),
        (lambda d: d["units"][0]["leads"][0].update(wants="tail and not tail"), "is never lit"),
        (lambda d: d["circuits"][0]["bulbs"][0].update(bulb="H99"), "there is no bulb “H99”"),
        (lambda d: d["units"].clear(), "there is nothing to plan"),
        (lambda d: d["vehicle"].update(wheels=5), "there is no “wheels” here"),
        (lambda d: d["places"][0].update(readings=[{"pin": "2", "state": "park", "reading": "banana"}]), "“banana”"),
    ],
)
def test_what_cannot_be_is_refused_with_its_place_and_what_would_do(change, says):
    with pytest.raises(FileError) as refused:
        plan_document(changed("job-led-tail-lamps", change))
    assert says in str(refused.value)


def test_battery_beside_a_ground_is_fed_for_good_from_its_own_fuse_and_drains(tmp_path):
    """Joined to the ground it would be a short circuit. 50 mA is what a parked vehicle may draw (common practice)."""
    memory = {"lead": "memory", "wants": "battery", "amps": 0.2, "technology": "led"}
    text = changed("job-canopy-stop-lamp", lambda d: d["units"][0]["leads"].append(memory))
    found = best_plan(plan(read_job_file(text)))
    assert [lead.chosen.key for lead in found.hookup.leads][-1] == "direct:@battery"
    assert "drain" in {finding.rule for finding in found.hookup.upsets}
    lights_as_wanted(found, tmp_path)


def test_readings_are_weighed_and_a_persons_word_is_an_assumption():
    facts = read_job_file(text_of("job-led-tail-lamps"))
    assert facts.places[0].said[2] == ("3", Function.STOP_TURN_LEFT, "")
    said = [line["text"] for line in document_of("job-led-tail-lamps")["assumptions"]]
    assert "left tail lamp, pin 3 is stop turn left: said, not measured." in said
    measured = json.loads(text_of("job-led-tail-lamps"))
    for place in measured["places"]:
        for wire in place["wires"]:
            wire.pop("function")
        place["readings"] = [{"pin": "2", "state": "park", "reading": "12.3"}]
    measured["choices"] = []
    document = plan_document(json.dumps(measured))
    assert document["design"] is None
    assert {item["id"] for item in document["open"]} == {"tap"}


def two_bulbs_a_side(sockets):
    """A lamp with two turn bulbs on one pin a side, LED bulbs in some of them."""

    def place(side):
        wires = [{"pin": "1", "function": "ground"}, {"pin": "4", "function": f"turn_{side}"}]
        return {"name": f"{side} tail lamp", "kind": "rear_lamp", "side": side, "wires": wires}

    def unit(side):
        turn = {"lead": "turn", "wants": f"turn_{side}", "amps": 0.3, "sockets": sockets}
        leads = [turn, {"lead": "black", "wants": "ground"}]
        return {"name": f"{side} bulbs", "kind": "led_turn_rear", "side": side, "instead_of": f"{side} tail lamp"} | {
            "leads": leads
        }

    sides = ("left", "right")
    circuits = [{"function": f"turn_{side}", "bulbs": [{"bulb": "P21W", "count": 3}]} for side in sides]
    document = {"format": "hailstone-job", "version": 1, "vehicle": {"arrangement": "separate", "computer": "no"}}
    document |= {"places": list(map(place, sides)), "units": list(map(unit, sides)), "circuits": circuits}
    return best_plan(plan(read_job_file(json.dumps(document))))


def test_of_two_bulbs_in_one_lamp_as_many_make_way_as_were_counted(tmp_path):
    """P21W is 21 W at 12 V, its current goes with V^0.54: the one that stays is what the flasher still sees of the rear."""
    one, both = two_bulbs_a_side(1), two_bulbs_a_side(2)
    stays = {"left rear turn lamp", "left rear turn lamp, bulb 2"}
    left = [stays & {lamp.name for lamp in each.hookup.together.simulation.network.elements} for each in (one, both)]
    assert [len(names) for names in left] == [1, 0]
    amps = [abs(each.hookup.together.simulation.at(parse_state("left")).amps("flasher")) for each in (one, both)]
    assert amps[0] - amps[1] == pytest.approx(21 / 12 * (13.5 / 12) ** 0.54 - 0.3, abs=0.06)
    (lamps,) = (part for part in both.build.parts if part.id == "lamp")
    assert lamps.count == 4
    joined = next(join for join in both.hookup.design.joins if join.is_tap and join.spot.name == "left tail lamp")
    assert (joined.method, len(joined.members)) == ("socket", 3)
    lights_as_wanted(both, tmp_path)


@pytest.mark.parametrize("name", JOBS)
def test_what_is_printed_keeps_to_its_schema(name):
    schema = json.loads((EXAMPLES.parent / "plan.schema.json").read_text())
    jsonschema.validate(document_of(name), schema)


def test_hook_up_reads_a_job_file_as_well():
    document = hookup_document(text_of("job-reverse-pods"))
    assert [lead["lead"] for lead in document["leads"]] == ["left pod: red", "right pod: red"]
    best = document["leads"][0]["candidates"][0]
    assert (best["way"], best["sources"], best["right"]) == ("relay", ["left tail lamp / 5"], True)
