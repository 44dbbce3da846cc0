"""Cut list, joints, parts and steps of a design."""

from __future__ import annotations

from dataclasses import replace
from pathlib import Path

import pytest

from electrics.build.sheet import build_of, spool_length_m
from electrics.circuit.elements import Resistor
from electrics.design.design import EndKind
from electrics.document.circuits import CircuitNotes, FedBy
from electrics.document.decisions import HookUpDecisions, RunDecision
from electrics.document.job import JobFacts, Wish
from electrics.document.vehicle import Computer, VehicleFacts
from electrics.document.way import UNUSED
from electrics.job.file.reading import read_job_file
from electrics.job.plan import plan
from electrics.job.trials import try_design
from electrics.reference.habits import stated_of
from electrics.vocabulary import Arrangement, Function
from hailstone.wording.build import lost_sentence
from said import facts_of, place, vehicle, with_best

NOTES = {"reverse": CircuitNotes(FedBy.PLAIN, "P21W", 2, 10.0, "18")}


def built(facts):
    found = with_best(facts)
    return found, build_of(found.hookup.design, found.hookup.accessory)


def pods(**decided):
    """Two reverse pods of 3 A: more than the factory fuse bears beside its own bulbs."""
    facts = facts_of("reverse_lamps", circuits=NOTES, **decided)
    return replace(facts, wish=Wish("reverse_lamps", count=2, each_a=3.0))


def ends(wire, build):
    """Both ends of a wire by what they are joined to."""
    joined = {join.label: {member.what for member in join.members} for join in build.joins}
    return [joined.get(end.what, {end.what}) for end in wire.ends]


def test_a_pair_by_relay_has_battery_feed_trigger_coil_ground_and_a_ground_for_each_lamp():
    """6 A over 5 m: 3 % of 13.5 V wants 14 AWG (8.3 mohm/m, ASTM B258) and 7.5 A; fuse within 20 cm (common practice)."""
    found, build = built(pods())
    (relay,) = (part for part in found.hookup.design.parts if part.part == "relay")
    by_role = {
        role: [wire for wire in build.wires if wire.role == role] for role in ("supply", "trigger", "feed", "ground")
    }
    first = next(wire for wire in by_role["supply"] if wire.ends[0].what == "battery")
    assert first.routed_m <= 0.2
    assert "fuse 1" in ends(first, build)[1]
    assert {wire.conductor.size for wire in by_role["supply"]} == {"14"}
    (trigger,) = by_role["trigger"]
    assert (trigger.ends[1].what, trigger.ends[1].terminal) == (relay.label, "86")
    assert len(by_role["ground"]) == 3
    assert [wire.ends[0].terminal for wire in by_role["ground"] if wire.ends[0].what == relay.label] == ["85"]
    listed = {part.id: part for part in build.parts}
    assert (listed["lamp"].count, listed["relay"].count, listed["relay_socket"].count) == (2, 1, 1)
    assert listed["fuse"].detail.startswith("7.5 A")
    assert listed["fuse_holder"].count == 1
    rings = [part.count for part in build.parts if part.id == "ring_terminal"]
    assert sum(rings) == 4  # the battery's post and three grounds


def test_lamps_in_place_of_the_old_ones_are_joined_at_their_own_pigtails():
    """Three joints a side, no wire, no fuse of their own; the reverse feed of the old lamp is capped."""
    facts = facts_of("combined_tail_lamps")
    _, build = built(facts)
    assert build.wires == ()
    assert len(build.joins) == 6
    for join in build.joins:
        side = join.spot.name.partition(" ")[0]
        assert {member.what for member in join.members} == {f"{side} rear lamp", f"{side} tail lamp"}
    assert {(end.what, end.terminal) for end in build.capped} == {("left rear lamp", "3"), ("right rear lamp", "3")}
    assert {end.lost for end in build.capped} == {Function.REVERSE}
    assert "Reverse no longer shows at left rear lamp and right rear lamp" in lost_sentence(build.capped)
    assert not {"fuse", "wire", "ring_terminal"} & {part.id for part in build.parts}


def test_what_other_lamps_of_the_job_show_is_not_lost_with_the_old_ones():
    facts = facts_of("combined_tail_lamps")
    facts = replace(facts, wish=replace(facts.wish, also=("reverse_lamps",)))
    _, build = built(facts)
    assert {end.lost for end in build.capped} <= {None}


def test_a_car_that_watches_every_lamp_misses_the_one_whose_wire_is_capped():
    """New lamps without a stop light: the stop feed hangs in the air (common practice)."""
    facts = facts_of("separate_tail_lamps")
    watching = replace(facts.vehicle, computer=Computer.YES, habits=stated_of({"watches_all": 1.0}))
    facts = replace(facts, vehicle=watching)
    found = plan(replace(facts, hookup=HookUpDecisions(dict.fromkeys(("left-stop", "right-stop"), UNUSED))))
    taken = found.taking({lead.lead.id: lead.shown.key for lead in found.hookup.leads if lead.shown})
    assert Function.STOP in {end.lost for end in taken.hookup.design.capped}
    assert ("outage_warning", "stop output") in {(each.rule, each.subject) for each in taken.hookup.together.upsets}


def test_every_run_gets_slack_of_60_to_90_cm_and_a_loop_and_spools_are_whole_metres():
    """Common practice."""
    _, build = built(pods())
    for wire in build.wires:
        if len(wire.by) > 1:
            assert 0.6 <= wire.cut_m - wire.routed_m - 0.25 <= 0.9
    assert spool_length_m(build.wires) >= sum(wire.cut_m for wire in build.wires)
    assert len({wire.label for wire in build.wires}) == len(build.wires)


def test_a_length_measured_by_hand_is_that_lamps_and_the_far_one_is_longer_by_the_distance():
    """Said once: the lamps are 1.8 m apart, the near one 0.9 m from its tap."""
    only_left = vehicle(Arrangement.SEPARATE)[0]
    runs = {"left-reverse": RunDecision(out_m=0.9, back_m=0.3)}
    facts = replace(
        pods(runs=runs),
        wish=Wish("reverse_lamps", count=2, each_a=0.5),
        places=(only_left,),
        distances={
            frozenset(("left reverse lamp", "right reverse lamp")): 1.8,
            frozenset(("left rear lamp", "left reverse lamp")): 0.9,
        },
    )
    found, build = built(facts)
    feeds = [wire.routed_m for wire in build.wires if wire.role == "feed"]
    assert feeds == [0.9, 1.8]
    assert [lead.out_m for lead in found.hookup.leads] == [0.9, pytest.approx(2.7)]


def test_a_tap_at_the_fuse_box_has_a_fuse_tap_and_a_harness_is_one_for_a_plug():
    box = place("fuse box", "fuse_box", "", ["tail", "reverse"])
    facts = JobFacts(
        VehicleFacts(arrangement=Arrangement.SEPARATE), (box,), Wish("running_lamps", count=2, each_a=0.1)
    )
    _, build = built(facts)
    listed = {part.id: part for part in build.parts}
    assert (listed["fuse_tap"].count, listed["fuse"].count, "fuse_holder" in listed) == (1, 1, False)
    harness = facts_of("mirror_turn_pair", run=RunDecision(joint="t_harness"))
    _, build = built(harness)
    assert [part.detail for part in build.parts if part.id == "t_harness"] == ["left front lamp", "right front lamp"]


def test_two_sides_of_one_converter_are_one_module():
    """A light bar on separate signals: stop in common, a turn input and an output each."""
    found, build = built(facts_of("light_bar"))
    (module,) = (part for part in found.hookup.design.parts if part.part == "converter")
    assert {"stop_in", "left_in", "right_in", "left_out", "right_out", "supply", "31"} == set(module.ends)
    assert next(part.count for part in build.parts if part.id == "converter") == 1


def test_a_fuse_of_its_own_only_where_the_hosts_does_not_protect_the_wire():
    """18 AWG bears 10 A (common practice): protected behind 10 A, not behind 15 A."""
    for fuse_a, fuses in ((10.0, 0), (15.0, 2)):
        noted = {
            "turn_left": CircuitNotes(FedBy.PLAIN, "P21W", 1, fuse_a),
            "turn_right": CircuitNotes(FedBy.PLAIN, "P21W", 1, fuse_a),
        }
        found, _ = built(facts_of("mirror_turn_pair", circuits=noted))
        assert sum(part.part == "fuse" for part in found.hookup.design.parts) == fuses


def _bridged(part):
    """A diode that carries both ways."""
    nodes = {"from": part.ends["anode"].node, "to": part.ends["cathode"].node} if part.part == "diode" else {}
    return replace(part, element=Resistor(name=part.label, nodes=nodes, ohm=0.01)) if nodes else part


def test_a_towed_cars_own_lamps_follow_through_two_diodes_each_and_wake_nothing_else():
    """Common practice: a diode in each feed, the stripe to the lamp; the towed car's other lamps stay dark."""
    found = with_best(facts_of("towed_car_diodes", Arrangement.COMBINED))
    design = found.hookup.design
    fed = {light.element.nodes["from"] for light in design.lights}
    meets = {member.node: join.label for join in design.joins for member in join.members}
    for lamp in fed:
        striped = [
            d.label for d in design.parts if d.part == "diode" and meets[d.ends["cathode"].node] == meets[lamp]
        ]
        assert len(striped) == 2
    assert not any(found.hookup.together.wrong)
    assert "factory_lamp" not in {upset.rule for upset in found.hookup.upsets}
    assert any(line.key == "park|added:towed_own" for line in found.sheet.lines)
    taken = [(lead.lead, lead.shown) for lead in found.hookup.leads]
    bridged = replace(design, parts=tuple(_bridged(part) for part in design.parts))
    lit = {u.subject for u in try_design(found.hookup.bench, bridged, taken).upsets if u.rule == "factory_lamp"}
    assert any(name.startswith("other lamps of the towed car") for name in lit)


def test_a_towed_cars_ground_comes_back_by_the_plug():
    """Its lamps stand on its own body, which is joined to the ground pin that feeds it: without, they are dark."""
    plug = place("socket at the front", "flat_4", "", ["ground", "tail", "stop_turn_left", "stop_turn_right"])
    facts = JobFacts(VehicleFacts(arrangement=Arrangement.COMBINED), (plug,), Wish("towed_car"))
    found = plan(
        replace(
            facts, hookup=HookUpDecisions(ways={lead.lead.id: lead.shown.key for lead in plan(facts).hookup.leads})
        )
    )
    assert not any(found.hookup.together.wrong)
    build = build_of(found.hookup.design, found.hookup.accessory)
    back = [wire for wire in build.wires if {"socket at the front"} & ends(wire, build)[0] and wire.role == "ground"]
    assert len(back) == 1


def test_the_plan_of_a_plan_is_the_same():
    """A plan is a pure function: twice the same facts, twice the same lines."""
    first, second = (built(pods())[1] for _ in range(2))
    assert first == second


@pytest.mark.parametrize(
    ("kind", "stay"), [("towed_car_diodes", 2), ("licence_cutout", 2), ("combined_tail_lamps", 0)]
)
def test_lamps_that_are_there_already_are_wired_anew_and_not_in_the_parts_list(kind, stay):
    """Common practice: a lamp that is cut out of its feed is the factory's own; a new tail lamp makes the old one go."""
    build = with_best(facts_of(kind, Arrangement.COMBINED)).build
    assert ("lamp" in {part.id for part in build.parts}) is (stay == 0)
    assert (len(build.rewired), len(build.instead)) == (stay, 2 - stay)


@pytest.mark.parametrize("is_open", [True, False])
def test_a_lamp_that_stays_keeps_its_ground_and_that_takes_no_part(is_open):
    facts = facts_of("licence_cutout")
    licence = place("licence lamp", "licence_lamp", "", ["ground", "tail"])
    found = with_best(replace(facts, places=(*facts.places, licence)) if is_open else facts)
    assert [wire.ends[0].terminal for wire in found.build.wires if wire.role == "ground"] == ["85"]
    joins = {join.method: [end.terminal for end in join.members] for join in found.build.joins}
    assert joins["stays"][0] == "ground"
    crimps = [join for join in found.build.joins if join.method != "stays"]
    assert sum(part.count for part in found.build.parts if part.id == "joint") == len(crimps)


@pytest.mark.parametrize(
    "named",
    [("left license lamp",), ("left license lamp", "right license lamp"), ("RH plate lamp", "plate lamp, LH"),
     ("plate lamp 1", "plate lamp 2")],
    ids=" and ".join,
)  # fmt: skip
def test_each_of_two_lamps_is_wired_at_its_own_place_whichever_was_measured_first(named):
    """A lamp that stays keeps its ground: at its own place, or where nobody looked; never at the other one's."""
    facts = facts_of("licence_cutout")
    opened = [place(name, "licence_lamp", "", ["ground", "tail"]) for name in named]
    for places in ((*facts.places, *opened), (*opened[::-1], *facts.places)):
        build = with_best(replace(facts, places=places)).build
        left = next((name for name in named if "left" in name or "LH" in name or "1" in name), "left license lamp")
        right = next((name for name in named if name != left), "right license lamp")
        grounds = {join.members[0].what: join.members[1].what for join in build.joins if join.method == "stays"}
        assert {what: at for what, at in grounds.items() if "license" in what} == {
            "left license lamp": left, "right license lamp": right,
        }  # fmt: skip
        feeds = [join.spot.name for join in build.joins for end in join.members if end.terminal == "licence"]
        assert sorted(feeds) == sorted([left, right])


def test_a_bulb_that_switches_itself_is_one_line_of_the_parts_list():
    listed = {part.id: part.count for part in with_best(facts_of("front_daytime")).build.parts}
    assert (listed["self_switching_bulb"], listed.get("lamp", 0)) == (2, 0)


def test_every_connector_is_for_the_wires_that_meet_in_it():
    """Red to 1.5 mm2, blue to 2.5, yellow to 6 (DIN 46237, from memory): 14 AWG is 2.08 mm2, two of 18 AWG are 1.65;
    a tap has both halves of the cut wire, one of them beside the branch: 2.9 mm2."""
    notes = {"reverse": CircuitNotes(FedBy.PLAIN, "P21W", 2, 15.0, "14")}
    found = with_best(facts_of("reverse_lamps", circuits=notes))
    thin = {f"wire {wire.label}" for wire in found.build.wires if wire.conductor.size == "18"}
    assert len(thin) == len(found.build.wires)
    for join in found.build.joins:
        assert join.fit.connector_colour == ("yellow" if join.is_tap else "red"), join
        assert [end.kind for end in join.halved] == [EndKind.PIN] * join.is_tap
    listed = {part.detail: part.count for part in found.build.parts if part.id == "joint"}
    assert listed["yellow"] == sum(join.is_tap for join in found.build.joins)
    assert [part.detail for part in found.build.parts if part.id == "ring_terminal"] == ["red"]


def test_a_tap_names_both_halves_of_what_it_cuts_and_only_of_a_wire_that_goes_on():
    """Three ends meet where a lamp that stays is tapped; two where the old lamp is gone (common practice)."""
    tapped = [join for join in with_best(facts_of("reverse_lamps")).build.joins if join.is_tap]
    assert tapped
    assert all(join.halved for join in tapped)
    examples = Path(__file__).parents[3] / "docs/formats/examples"
    found = with_best(read_job_file((examples / "job-led-tail-lamps.json").read_text()))
    assert not any(join.halved for join in found.build.joins)  # both old lamps make way


@pytest.mark.parametrize(
    ("kind", "said", "system_v", "count", "names"),
    [
        ("reverse_lamps", 3, 12, 3, ("left reverse lamp (2)", "right reverse lamp")),
        ("motorcycle_signals", 2, 6, 3, ("tail lamp", "left signal", "right signal")),
        ("led_bulbs", 7, 24, 8, ("left set of LED bulbs (4)", "right set of LED bulbs (4)")),
        ("lit_mirrors", 1, 12, 2, ("left lit mirror", "right lit mirror")),
    ],
)
def test_new_lamps_are_in_the_parts_list_by_name_as_many_as_are_wired(kind, said, system_v, count, names):
    """Where a set is what it is, the number in the brief changes nothing that is built."""
    facts = facts_of(kind)
    vehicle = replace(facts.vehicle, system_v=system_v)
    found = with_best(replace(facts, vehicle=vehicle, wish=replace(facts.wish, count=said)))
    (lamps,) = [part for part in found.build.parts if part.id == "lamp"]
    assert (lamps.count, lamps.detail, lamps.labels) == (count, f"{system_v} V", names)
