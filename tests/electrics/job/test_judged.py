"""What is told, taken or kept is judged as what is proposed: each rule on a job file that breaks it."""

import json
from dataclasses import replace
from pathlib import Path

import pytest

from electrics.document.decisions import CureDecision
from electrics.document.vehicle import Computer, FlasherKind
from electrics.formats.json_file import FileError
from electrics.job.correction import correct
from electrics.job.file.reading import read_job_file
from electrics.job.judging import findings_of
from electrics.job.plan import plan
from electrics.judge.finding import Severity
from electrics.judge.rule import Rule, look_at
from electrics.vocabulary import Function

EXAMPLES = Path(__file__).parents[3] / "docs/formats/examples"
REAR = [("1", "ground"), ("2", "tail"), ("3", "stop"), ("4", "turn_{side}")]
COMBINED = [("1", "ground"), ("2", "tail"), ("3", "stop_turn_{side}")]


def job(pins=REAR, leads=(("turn", "turn_left", 0.3),), kind="led_bulb_set", vehicle=(), **parts):
    """A job file: both rear lamps by what somebody says, LEDs in the left one."""
    places = [
        {
            "name": f"{side} rear lamp",
            "kind": "rear_lamp",
            "side": side,
            "wires": [{"pin": pin, "function": function.format(side=side)} for pin, function in pins],
        }
        for side in ("left", "right")
    ]
    unit = {
        "name": "left LED",
        "kind": kind,
        "side": "left",
        "instead_of": "left rear lamp",
        "leads": [
            *({"lead": n, "wants": wants, "amps": amps, "technology": "led"} for n, wants, amps in leads),
            {"lead": "shell", "wants": "ground"},
        ],
    }
    facts = {"computer": "no", "flasher": {"kind": "electronic"}, **dict(vehicle)}
    document = {"format": "hailstone-job", "version": 1, "vehicle": facts, "places": places, "units": [unit], **parts}
    return json.dumps(document)


def planned(text):
    """The plan of a job file with the best hook-up for every lead."""
    found = plan(read_job_file(text))
    return found.taking({lead.lead.id: lead.shown.key for lead in found.hookup.leads if lead.shown})


def forbidden(text):
    return {each.rule for each in findings_of(planned(text)) if each.severity is Severity.FORBIDS}


def at_turn(cure, **values):
    return {"cure": cure, "leads": [{"unit": "left LED", "lead": "turn"}], **values}


def test_a_ground_that_reads_battery_is_no_ground():
    """Said ground, read 12.4 V: whatever hangs on it would be fed from both sides."""
    document = json.loads(job())
    document["places"][0]["readings"] = [
        {"pin": "1", "state": state, "reading": "12.4 V"} for state in ("rest", "park", "brake", "key")
    ]
    assert "said_against_readings" in forbidden(json.dumps(document))
    document["places"][0]["wires"][0].pop("function")  # taken back: the readings stand alone
    assert "said_against_readings" not in forbidden(json.dumps(document))
    document["places"][0]["readings"] = [{"pin": "1", "state": "rest", "reading": "0.1 ohm", "instrument": "ohms"}]
    document["places"][0]["wires"][0]["function"] = "ground"
    assert "said_against_readings" not in forbidden(json.dumps(document))


@pytest.mark.parametrize(
    ("text", "rule"),
    [
        (job(cures=[at_turn("load_resistor", ohm=8, case_w=100, mount="free_air")]), "free_air"),
        (job(cures=[at_turn("load_resistor", ohm=6, case_w=10)]), "too_hot"),
        (job(cures=[at_turn("load_resistor", ohm=6, case_w=100, mount="painted")]), "paint_too_hot"),
        (job(cures=[at_turn("decoder", ohm=6, case_w=10, microfarad=470)]), "too_hot"),
        (
            job(vehicle={"computer": "yes", "flasher": {"kind": "computer"}}, cures=[{"cure": "flasher"}]),
            "no_flasher",
        ),
        (job(vehicle={"body": "trailer"}, cures=[{"cure": "flasher"}]), "flasher_tows"),
        (job(leads=[("turn", "turn_left", 3.0)], cures=[at_turn("diode", part="1N4004")]), "diode_too_small"),
        (job(cures=[at_turn("diode", part="1N4001")]), "diode_breaks_down"),
        (job(cures=[at_turn("load_resistor", ohm=6)]), None),
        (job(cures=[{"cure": "flasher"}]), None),
        (job(cures=[at_turn("diode", part="1N4004")]), None),
    ],
)
def test_a_fix_that_is_used_is_judged_as_one_that_is_proposed(text, rule):
    """Free air never, paint under 80 C, a case under 200 C, a diode 1.5 times the current and 200 V (handbook)."""
    assert forbidden(text) == ({rule} if rule else set())


def test_every_fix_that_is_refused_when_proposed_is_refused_when_used():
    """On a computer-fed lamp, a pulsed tail and a brake that holds a resistor: nothing passes by being used."""
    pulsed = [("1", "ground"), ("2", "tail"), ("3", "stop"), ("4", "turn_{side}")]
    texts = (
        job(vehicle={"computer": "yes", "flasher": {"kind": "computer"}}, pins=pulsed),
        job(COMBINED, [("turn", "stop_turn_left", 0.3)], "led_bulb_set_combined"),
    )
    seen = 0
    for text in texts:
        found = planned(text)
        for proposal in correct(found).open:
            if proposal.fit is None:
                continue
            decision = CureDecision(
                proposal.cure,
                proposal.leads,
                proposal.fit.ohm,
                proposal.fit.case_w or 100.0,
                proposal.mount,
                microfarad=470.0,
                bleed_ohm=330.0,
            )
            used = replace(found.facts, hookup=replace(found.facts.hookup, cures=(decision,)))
            rules = {each.rule for each in plan(used).hookup.faults if each.cure}
            assert bool(rules) == bool(proposal.refusal), (proposal.cure, proposal.mount, rules)
            seen += 1
    assert seen > 8


def test_what_is_forbidden_is_only_excused_where_the_rule_allows_it():
    """A written reason lets plain diodes on pulses pass, never a resistor that destroys itself."""
    document = json.loads(job(cures=[at_turn("load_resistor", ohm=8, case_w=100, mount="free_air")]))
    document["override"] = "The customer insists."
    assert "free_air" in forbidden(json.dumps(document))


def test_a_noted_fuse_blows_where_the_usual_one_would_hold():
    """3 ohm on both sides draws 9 A with the hazards (13.5 V / 3 ohm, twice): over a 7.5 A fuse, under 15 A."""
    sets = [("turn", "stop_turn_left", 0.3)]
    resistor = at_turn("load_resistor", ohm=3, case_w=100)
    for fuse_a, blows in ((7.5, True), (20, False)):
        circuits = [
            {"function": f"stop_turn_{side}", "fed_by": "plain", "fuse_a": fuse_a} for side in ("left", "right")
        ]
        text = job(COMBINED, sets, "led_bulb_set_combined", circuits=circuits, cures=[resistor])
        rules = {each.rule for each in findings_of(planned(text))}
        assert bool(rules & {"blown_fuse", "fuse_load"}) == blows


def test_a_flashing_computer_is_a_computer():
    """Left out it is assumed, and said; denied it is refused with its place."""
    unknown = planned(job(vehicle={"computer": "unknown", "flasher": {"kind": "computer"}}))
    found = {each.rule: each.severity for each in findings_of(unknown)}
    assert found["computer_assumed"] is Severity.DOUBT
    assert found["outage_warning"] is Severity.UPSET
    with pytest.raises(FileError, match="computer"):
        read_job_file(job(vehicle={"computer": "no", "flasher": {"kind": "computer"}}))
    kept = replace(unknown.facts, vehicle=replace(unknown.facts.vehicle, computer=Computer.NO))
    assert kept.vehicle.flasher is FlasherKind.COMPUTER
    assert "computer_contradicted" in {each.rule for each in plan(kept).hookup.faults}


def test_a_reason_turns_only_what_allows_it_into_a_doubt():
    class Strict(Rule):
        id = "strict"

        def look(self, case):
            yield self.found()

    class Mild(Strict):
        id, allows_reason = "mild", True

    found = look_at(None, [Strict(), Mild()], "because")
    assert [(each.rule, each.severity, each.reason) for each in found] == [
        ("strict", Severity.FORBIDS, ""),
        ("mild", Severity.DOUBT, "because"),
    ]


@pytest.mark.parametrize("noted", [{"bulbs": [{"bulb": "P21W", "count": 2}]}, {"measured_a": 3.9}])
@pytest.mark.parametrize("sides", [("left",), ("left", "right")])
def test_a_lamp_that_goes_takes_its_load_along_counted_or_measured(noted, sides):
    """Two 21 W bulbs draw some 4 A; with LEDs of 0.4 A in place of one or both, a 5 A fuse is enough (ECE R37)."""
    document = json.loads(job(leads=[("stop", "stop", 0.4)], kind=""))
    left = document["units"][0]
    document["units"] = [
        {**left, "name": f"{side} LED", "side": side, "instead_of": f"{side} rear lamp"} for side in sides
    ]
    document["circuits"] = [{"function": "stop", "fuse_a": 5, "wire": "20 AWG", **noted}]
    found = planned(json.dumps(document))
    (stop,) = (each for each in found.hookup.circuits if each.function == "stop")
    assert stop.load.present_a == pytest.approx(3.93 - 1.96 * len(sides), abs=0.05)
    assert {each.rule for each in findings_of(found)} & {"fuse_load", "wire_load"} == set()


def test_a_source_that_reads_as_never_to_be_tapped_now_is_named():
    """Chosen while the wire was said to be turn; since then it reads as a ground, as a bus, as dead."""
    taken = planned(job())
    facts = taken.facts
    for function in ("ground", "data", "spare"):
        place = facts.places[0]
        said = tuple((pin, Function(function) if pin == "4" else was, how) for pin, was, how in place.said)
        now = plan(replace(facts, places=(replace(place, said=said), *facts.places[1:])))
        (gone,) = (each for each in now.hookup.findings if each.rule == "way_gone")
        assert (gone.severity, gone.function, gone.place, gone.pin) == ("forbids", function, "left rear lamp", "4")


@pytest.mark.parametrize(
    ("system_v", "drop", "good_for"),
    [
        (12, "0.03 V", 0.1 / 0.12),  # 30 mV at 0.25 A is 0.12 ohm: 0.8 A within 0.1 V (worked by hand)
        (12, "0.004 V", 6.25),
        (24, "0.03 V", 0.2 / 0.24),  # at 0.125 A 0.24 ohm, and 0.2 V may be lost on 24 V
    ],
)
def test_a_ground_is_asked_to_carry_what_its_drop_under_the_test_lamp_allows(system_v, drop, good_for):
    document = json.loads((EXAMPLES / "job-led-tail-lamps.json").read_text())
    document["vehicle"]["system_v"] = system_v
    document.pop("circuits")
    document["places"][0]["readings"] = [
        {"pin": "1", "state": "rest", "instrument": "loaded_drop", "reading": drop, "supply": f"{system_v * 1.05:g}"}
    ]
    for amps in (good_for * 0.6, good_for * 1.1):
        for lead in document["units"][0]["leads"]:
            if lead["wants"] != "ground":
                lead["amps"] = round(amps / 2, 3)  # both of its leads return through one ground
        found = [each for each in findings_of(planned(json.dumps(document))) if each.rule == "ground_share"]
        assert len(found) == (amps > good_for)
        if found:
            assert (found[0].place, found[0].pin, found[0].severity) == ("left tail lamp", "1", Severity.DOUBT)
            assert found[0].value == pytest.approx(amps, rel=0.01)
            assert found[0].limit == pytest.approx(good_for, rel=0.2)  # the display rounds to 1 mV or 10 mV


@pytest.mark.parametrize(
    ("wants", "lacks", "struck"),
    [
        ("reverse", ["reverse"], "reverse"),
        ("reverse or own_switch", ["reverse"], ""),
        ("tail", ["low", "high", "fog_front", "fog_rear"], ""),
        ("tail", ["park", "low", "high", "fog_front", "fog_rear"], "park"),
        ("fog_rear", ["fog_rear", "park_left"], "fog_rear"),
        ("turn_left", ["park_left"], ""),
    ],
)
def test_a_lead_that_follows_a_control_the_vehicle_is_said_to_lack_is_refused(wants, lacks, struck):
    text = job(leads=(("turn", wants, 0.3),), kind="", vehicle=[("not_fitted", lacks)])
    found = [each for each in findings_of(plan(read_job_file(text))) if each.rule == "control_lacking"]
    assert [each.detail for each in found] == ([struck] if struck else [])
    assert all(each.severity is Severity.FORBIDS for each in found)
