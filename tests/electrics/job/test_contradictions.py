"""A job file with one contradiction each is refused with its place; nothing of it is used."""

import json

import pytest

from electrics.errors import ReadingsFileError
from electrics.formats.json_file import FileError
from electrics.formats.readings_csv import read_readings
from electrics.job.file.reading import read_job_file
from electrics.job.file.writing import job_document
from electrics.job.judging import findings_of
from electrics.job.plan import plan

POD = {
    "name": "pod",
    "leads": [
        {"lead": "red", "wants": "reverse", "amps": 1, "technology": "led"},
        {"lead": "black", "wants": "ground"},
    ],
}
LAMP = {
    "name": "left tail lamp",
    "kind": "rear_lamp",
    "side": "left",
    "wires": [{"pin": "1", "function": "ground"}, {"pin": "3", "function": "reverse"}],
}
REVERSE = {"place": "left tail lamp", "pin": "3"}
AT = {"unit": "pod", "lead": "red"}


def file_with(**parts):
    document = {"format": "hailstone-job", "version": 1, "vehicle": {"computer": "no"}, "places": [LAMP]}
    return json.dumps({**document, "units": [POD], **parts})


@pytest.mark.parametrize(
    ("parts", "place"),
    [
        ({"distances": [{"between": ["Left tail lamp", "pod"], "m": 1}]}, "Did you mean “left tail lamp”"),
        ({"distances": [{"between": ["canopy", "pod"], "m": 1}]}, "distances: “canopy”"),
        (
            {
                "distances": [
                    {"between": ["pod", "left tail lamp"], "m": 1},
                    {"between": ["left tail lamp", "pod"], "m": 6},
                ]
            },
            "1 m and 6 m",
        ),
        ({"choices": [{**AT, "way": "direct", "from": [REVERSE]}] * 2}, "choices: “pod red”"),
        ({"choices": [{**AT, "way": "magic", "from": [REVERSE]}]}, "choices 1.*no hook-up “magic”"),
        ({"choices": [{**AT, "way": "diode_or", "from": [REVERSE]}]}, "choices 1.*needs 2 sources"),
        ({"choices": [{**AT, "way": "direct", "from": [{**REVERSE, "pin": "1"}]}]}, "pin 1 is ground"),
        ({"circuits": [{"function": "reverse", "fuse_a": 10}, {"function": "reverse"}]}, "circuits: “reverse”"),
        ({"runs": [{"joint": "solder"}, {"joint": "crimp_butt"}]}, "runs: “all leads”"),
        ({"runs": [{**AT, "joint": "solder"}] * 2}, "runs: “pod red”"),
        ({"runs": [{"wire_size": "17.5"}]}, "runs: 17.5 is not sold"),
        ({"runs": [{**AT, "wire_size": "17.5"}]}, "runs 1.*17.5 is not sold"),
        ({"vehicle": {"computer": "no", "flasher": {"kind": "computer"}}}, "vehicle: computer is “no”"),
        ({"title": "pod\x07"}, "title: holds the character U\\+0007"),
        ({"units": [{**POD, "name": "po\ud800d"}]}, "units 1, name: holds the character U\\+D800"),
    ],
)
def test_one_contradiction_is_refused_with_its_place(parts, place):
    with pytest.raises(FileError, match=place):
        read_job_file(file_with(**parts))


def test_a_place_on_the_way_to_another_is_no_misspelt_name():
    between = (("battery", "canopy", 3.0), ("canopy", "pod", 1.0))
    stated = [{"between": [first, second], "m": m} for first, second, m in between]
    assert read_job_file(file_with(distances=stated)).distances


@pytest.mark.parametrize(
    ("rows", "says"),
    [
        ([f"place {n},1,rest,0" for n in range(41)], "line 42: place 40 is place 41"),
        ([f"lamp,{n},rest,0" for n in range(61)], "line 62: pin 60 is number 61"),
        (["lamp,1,rest,0"] * 5001, "line 5002: is row 5001"),
        (["lamp,1\x02,rest,0"], "line 2: pin holds the control character"),
    ],
)
def test_an_import_has_the_limits_of_the_pages(rows, says):
    text = "\n".join(["access_point,pin,state,reading", *rows])
    with pytest.raises(ReadingsFileError, match=says):
        read_readings(text)


STATES = [
    "rest",
    "park",
    "brake",
    "left",
    "right",
    "hazard",
    "reverse",
    "low",
    "high",
    "key",
    "brake+left",
    "brake+right",
    "park+reverse",
    "brake+hazard",
    "asleep",
    "fog_rear",
    "park_left",
    "park_right",
    "fog_front",
]
LIT = {"park", "low", "high", "fog_rear", "fog_front"}


def measured_tail(claim):
    """A lamp of two wires, read through: tail and its ground, the tail said to be something by a chart."""
    readings = [
        {"pin": pin, "state": state, "instrument": "dmm", "reading": reading, "supply": "12.6"}
        for state in STATES
        for pin, reading in (("1", "12.3" if LIT & set(state.split("+")) else "0"), ("2", "0"))
    ]
    for pin, drop in (("1", "0.25"), ("2", "0.004")):
        readings.append({"pin": pin, "state": "rest", "instrument": "loaded_drop", "reading": drop, "supply": "12.6"})
    wires = [{"pin": "1", "claim": claim, "claim_from": "chart"}, {"pin": "2"}]
    place = {**LAMP, "wires": wires, "readings": readings}
    lead = {"lead": "red", "wants": "tail", "amps": 0.3, "technology": "led"}
    unit = {"name": "pod", "side": "left", "leads": [lead, {"lead": "black", "wants": "ground"}]}
    vehicle = {"computer": "no", "arrangement": "separate"}
    return plan(read_job_file(file_with(vehicle=vehicle, places=[place], units=[unit])))


def test_what_an_earlier_job_found_is_a_claim_with_its_date_and_settles_nothing():
    earlier = [{"place": "left tail lamp", "pin": "1", "function": "stop", "date": "2026-03-01"}]
    wires = [{"pin": "1"}, {"pin": "2", "function": "ground"}, {"pin": "3", "function": "reverse"}]
    vehicle = {"computer": "no", "earlier": earlier}
    facts = read_job_file(file_with(vehicle=vehicle, places=[{**LAMP, "wires": wires}]))
    (belief,) = plan(facts).beliefs
    assert belief.wire("1").function == "stop"
    assert [claim.who for claim in belief.wire("1").claims] == ["2026-03-01"]
    assert not belief.wire("1").is_settled
    assert job_document(facts)["vehicle"]["earlier"] == earlier
    with pytest.raises(FileError, match="vehicle, earlier: left tail lamp, pin 1: “stopp”"):
        read_job_file(file_with(vehicle={"earlier": [{**earlier[0], "function": "stopp"}]}))


def test_a_lead_used_for_something_else_than_its_chart_says_is_a_doubt():
    leads = [
        {"lead": "red", "wants": "tail", "amps": 0.3, "claim": "stop", "claim_from": "seller"},
        {"lead": "white", "wants": "reverse", "amps": 0.3, "claim": "reverse"},
        {"lead": "black", "wants": "ground", "claim": "tail"},
    ]
    facts = read_job_file(file_with(units=[{"name": "pod", "side": "left", "leads": leads}]))
    found = [each for each in findings_of(plan(facts)) if each.rule == "lead_chart"]
    assert [(each.about, each.detail, each.source) for each in found] == [
        ("pod, red", "stop", "seller"),
        ("pod, black", "tail", "the chart"),
    ]
    leads[0]["claim"] = "stopp"
    with pytest.raises(FileError, match="stopp"):
        read_job_file(file_with(units=[{"name": "pod", "side": "left", "leads": leads}]))


@pytest.mark.parametrize(("claim", "disputed"), [("tail", []), ("stop", ["stop"]), ("reverse", ["reverse"])])
def test_a_chart_that_the_readings_have_settled_against_is_a_doubt(claim, disputed):
    found = [each for each in findings_of(measured_tail(claim)) if each.rule == "claim_disputed"]
    assert [each.detail for each in found] == disputed
    assert all((each.pin, each.function, each.severity) == ("1", "tail", "doubt") for each in found)
