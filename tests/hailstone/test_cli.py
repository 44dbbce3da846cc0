"""The command line: its JSON contract, its refusals and its exit codes."""

from __future__ import annotations

import io
import json
import re
import socket
import subprocess
import sys
from functools import cache
from pathlib import Path

import jsonschema
import pytest

from electrics.circuit.findings import RULES, CircuitFinding
from electrics.design.accessories import accessories
from hailstone.cli import main
from hailstone.cli.identify import guess_place
from hailstone.wording.circuit import finding_sentence

ROOT = Path(__file__).parents[2]
SCHEMA = json.loads((ROOT / "docs/formats/identify.schema.json").read_text())
READINGS = """access_point,pin,colour,state,instrument,reading,load,supply,against,note
left tail lamp,1,BK,rest,ohms,0.3 ohm,in,12.6,,
left tail lamp,1,BK,reverse,dmm,0.0,in,12.6,,
left tail lamp,2,GR,reverse,dmm,0.0,in,12.6,,
left tail lamp,3,WH/GN,rest,dmm,0.0,in,12.6,,
left tail lamp,3,WH/GN,reverse,dmm,12.2,in,12.6,,engine off
left tail lamp,2,GR,low,dmm,12.1,in,12.6,,
left tail lamp,2,GR,park,dmm,0.0,in,12.6,,
left tail lamp,2,GR,high,dmm,12.2,in,12.6,,
"""


@pytest.fixture
def readings(tmp_path):
    path = tmp_path / "readings.csv"
    path.write_text(READINGS)
    return path


def test_json_keeps_the_contract(readings, capsys):
    assert main(["identify", str(readings), "--json"]) == 0
    printed = capsys.readouterr()
    found = json.loads(printed.out)
    jsonschema.validate(found, SCHEMA)
    assert printed.err == ""
    (lamp,) = found["access_points"]
    assert lamp["name"] == "left tail lamp"
    assert lamp["arrangement"]["separate"] + lamp["arrangement"]["combined"] == pytest.approx(1, abs=1e-3)
    wires = {wire["pin"]: wire for wire in lamp["wires"]}
    assert wires["3"]["function"] == "reverse"
    assert wires["3"]["tappable"] is wires["3"]["settled"]
    (odd,) = lamp["contradictions"]
    assert (odd["pin"], odd["state"], odd["reading"]) == ("2", "park", "0 V")
    assert "every other reading says tail" in odd["why"]
    assert not wires["2"]["settled"]
    assert any("grey or green" in warning for warning in wires["2"]["warnings"])
    assert lamp["next"][0]["pins"] == ["2"]


def test_advice_for_a_tap_asks_for_that_alone_and_ends_when_it_is_enough(tmp_path, capsys):
    path, needed = tmp_path / "readings.csv", ["--for", "reverse", "--all-wires", "--json"]
    lines = ["access_point,pin,state,reading", *(f"left tail lamp,{n},reverse,0.0" for n in (1, 3, 4, 5))]
    lines.append("left tail lamp,2,reverse,12.2")

    def found(*more):
        path.write_text("\n".join([*lines, *more]))
        assert main(["identify", str(path), *needed]) == 0
        document = json.loads(capsys.readouterr().out)
        jsonschema.validate(document, SCHEMA)
        return document["access_points"][0]

    first = found()
    assert next((need["function"], need["pin"]) for need in first["needs"]) == ("reverse", "2")
    assert not first["enough"]
    assert first["next"]
    needed.append("--no-ground")
    assert not found()["enough"], "nobody has seen pin 2 dark"
    last = found("left tail lamp,2,rest,0.0", "left tail lamp,2,brake,0.0")
    assert last["enough"]
    assert last["next"] == []
    assert not last["settled"], "the other wires stay open"


@pytest.mark.parametrize(
    ("options", "code"),
    [
        (["--for", "reverse", "--not-fitted", "reverse"], 1),
        (["--for", "data"], 1),
        (["--no-ground"], 2),
        (["--for", "headlamp"], 2),
    ],
)
def test_what_cannot_be_tapped_is_refused(readings, capsys, options, code):
    try:
        assert main(["identify", str(readings), *options]) == code
    except SystemExit as stopped:
        assert stopped.code == code
    printed = capsys.readouterr()
    assert printed.out == ""
    assert printed.err


def test_a_known_arrangement_is_used(readings, capsys):
    assert main(["identify", str(readings), "--json", "--arrangement", "combined"]) == 0
    (lamp,) = json.loads(capsys.readouterr().out)["access_points"]
    assert lamp["arrangement"] == {"separate": 0.0, "combined": 1.0}


def test_text_says_the_same_in_words(readings, capsys):
    assert main(["identify", str(readings)]) == 0
    text = capsys.readouterr().out
    assert "Reverse" in text
    assert "measure pin 2 again" in text


def test_a_bad_file_is_refused_with_a_reason_a_line(tmp_path, capsys):
    path = tmp_path / "bad.csv"
    path.write_text("pin,state,reading\n1,rest,zero\n1,clutch,0\n2,rest,0\n")
    assert main(["identify", str(path), "--json"]) == 1
    printed = capsys.readouterr()
    assert printed.out == ""
    assert [line[:7] for line in printed.err.splitlines()] == ["line 2:", "line 3:"]


@pytest.mark.parametrize(
    "arguments",
    [["identify"], ["identify", "x.csv", "--arrangement", "sideways"], ["paint"], [], ["serve", "--port", "0"]],
)
def test_wrong_usage_ends_with_2(arguments):
    with pytest.raises(SystemExit) as ended:
        main(arguments)
    assert ended.value.code == 2


def test_a_file_that_is_not_there_is_wrong_usage(tmp_path, capsys):
    assert main(["identify", str(tmp_path / "none.csv")]) == 2
    assert "cannot be read" in capsys.readouterr().err


@pytest.mark.parametrize(
    "arguments",
    [
        ["identify", "{readings}"],
        ["hookup", str(ROOT / "docs/formats/examples/mirror-turn.json")],
        ["simulate", str(ROOT / "docs/formats/examples/two-reverse-lamps.json")],
        ["size", "wire", "--amps", "2", "--out", "3"],
    ],
    ids=lambda arguments: arguments[0],
)
def test_what_reads_and_answers_needs_neither_django_nor_a_database(readings, arguments):
    code = "import sys; from hailstone.cli import main; main(sys.argv[1:]); sys.exit('django' in sys.modules)"
    filled = [argument.format(readings=readings) for argument in arguments]
    done = subprocess.run([sys.executable, "-c", code, *filled], capture_output=True, check=False)
    assert done.returncode == 0, done.stderr


def test_a_way_that_is_wrong_on_other_vehicles_only_says_on_which(capsys):
    """From combined to separate no module sees the hazards where the brake wins over them."""
    assert main(["hookup", str(ROOT / "docs/formats/examples/mirror-turn.json")]) == 0
    text = capsys.readouterr().out
    assert "on a vehicle whose brake wins over the hazards" in text


@pytest.mark.parametrize("command", ["identify", "demo", "serve", "user"])
def test_every_subcommand_has_help(command, capsys):
    with pytest.raises(SystemExit) as ended:
        main([command, "--help"])
    assert ended.value.code == 0
    assert "usage" in capsys.readouterr().out


@pytest.mark.parametrize(
    ("name", "place"),
    [
        ("left tail lamp", ("rear_lamp", "left")),
        ("Rear light right", ("rear_lamp", "right")),
        ("left headlamp", ("front_lamp", "left")),
        ("main", ("connector", "")),
        ("high stop lamp", ("high_stop", "")),
        ("licence plate light", ("licence_lamp", "")),
        ("right mirror", ("mirror", "right")),
        ("side marker lamp left", ("side_lamp", "left")),
        ("right rear signal", ("rear_lamp", "right")),
        ("front indicator LH", ("front_lamp", "left")),
        ("left side marker", ("side_lamp", "left")),
        ("left loom plug", ("connector", "")),
    ],
)
def test_a_name_that_says_where_it_is_is_believed(name, place):
    assert guess_place(name) == place


@pytest.mark.django_db
def test_a_person_is_let_in_and_a_weak_password_is_refused(monkeypatch, client, capsys):
    for typed, code in (("short", 1), ("low-tide-12V", 0)):
        monkeypatch.setattr("sys.stdin", io.StringIO(typed + "\n"))
        assert main(["user", "odd"]) == code
    assert "too short" in capsys.readouterr().err
    assert client.login(username="odd", password="low-tide-12V")


@pytest.mark.django_db
def test_a_port_that_is_taken_is_named(capsys):
    with socket.socket() as taken:
        taken.bind(("127.0.0.1", 0))
        taken.listen()
        port = str(taken.getsockname()[1])
        assert main(["serve", "--host", "127.0.0.1", "--port", port]) == 1
    assert f"127.0.0.1:{port}" in capsys.readouterr().err


CIRCUIT = ROOT / "docs/formats/examples/two-reverse-lamps.json"


def test_simulate_prints_one_document_that_fits_its_schema(capsys):
    assert main(["simulate", str(CIRCUIT), "--state", "rest", "--state", "reverse", "--json"]) == 0
    document = json.loads(capsys.readouterr().out)
    jsonschema.validate(document, json.loads((ROOT / "docs/formats/simulation.schema.json").read_text()))
    light = {point["state"]: point["elements"]["left"]["light"]["main"] for point in document["points"]}
    assert light["rest"] < 0.01 < 0.9 < light["reverse"]


def test_simulate_says_in_words_what_is_wrong(capsys, tmp_path):
    circuit = json.loads(CIRCUIT.read_text())
    circuit["elements"][5]["size"] = "22"
    circuit["elements"][3]["rating_a"] = 2
    path = tmp_path / "circuit.json"
    path.write_text(json.dumps(circuit))
    assert main(["simulate", str(path)]) == 0
    assert "F1 carries 2.4 A with reverse; 1.6 A is its continuous limit." in capsys.readouterr().out


@pytest.mark.parametrize(
    ("arguments", "text", "code", "complaint"),
    [
        (["simulate"], "{", 1, "no JSON"),
        (["simulate", "--state", "clutch"], CIRCUIT.read_text(), 1, "clutch"),
        (["spice", "--state", "rest"], CIRCUIT.read_text().replace('"F1"', '"K1"'), 1, "K1: stands twice"),
    ],
)
def test_a_circuit_that_makes_no_sense_is_refused_in_a_line(arguments, text, code, complaint, capsys, tmp_path):
    path = tmp_path / "circuit.json"
    path.write_text(text)
    assert main([arguments[0], str(path), *arguments[1:]]) == code
    said = capsys.readouterr()
    assert complaint in said.err
    assert said.out == ""


def test_a_circuit_that_is_not_there_is_wrong_usage(capsys):
    assert main(["simulate", "nowhere.json"]) == 2
    assert "cannot be read" in capsys.readouterr().err


def test_spice_writes_a_deck_for_a_state(capsys):
    assert main(["spice", str(CIRCUIT), "--state", "reverse"]) == 0
    deck = capsys.readouterr().out
    assert deck.startswith("* Hailstone circuit: reverse, lit phase")
    assert deck.rstrip().endswith(".end")


@pytest.mark.parametrize("rule", RULES)
def test_every_finding_has_a_sentence(rule):
    sentence = finding_sentence(CircuitFinding(rule, "error", "F1", "brake", "lit", 1.0, 2.0, "A"))
    assert sentence.endswith(".")
    assert "{" not in sentence


MIRROR = ROOT / "docs/formats/examples/mirror-turn.json"


@cache
def validator(name):
    return jsonschema.Draft202012Validator(schema(name))


def schema(name):
    return json.loads((ROOT / f"docs/formats/{name}.schema.json").read_text())


def test_hookup_prints_one_document_that_fits_its_schema_and_names_the_trap(capsys):
    """The trailer fuse of a combined vehicle also comes on with the brake (common practice)."""
    jsonschema.validate(json.loads(MIRROR.read_text()), schema("hookup-job"))
    assert main(["hookup", str(MIRROR), "--json"]) == 0
    document = json.loads(capsys.readouterr().out)
    jsonschema.validate(document, schema("hookup"))
    ways = {each["text"]: each for each in document["leads"][0]["candidates"]}
    assert next(iter(ways)) == "Direct from front 4"
    trap = ways["Direct from trailer fuse 7"]
    assert not trap["right"]
    assert trap["wrong"][0] == "brake"
    row = next(row for row in trap["truth"] if row["state"] == "brake")
    assert (row["wanted"], row["got"]) == ("dark", "lit")


REAR_WIRES = {
    "separate": ("tail", "stop", "turn_left", "turn_right", "reverse"),
    "combined": ("tail", "stop", "stop_turn_left", "stop_turn_right", "reverse"),
}


ASKED = [
    (each.id, arrangement)
    for each in accessories()
    for arrangement in REAR_WIRES
    if arrangement == "separate"
    or any("turn" in lead.wanted.text or "stop" in lead.wanted.text for lead in each.leads)
]
"""Where neither stop nor turn is wanted, a combined vehicle is no other."""


@pytest.mark.parametrize(("accessory", "arrangement"), ASKED)
def test_every_accessory_is_answered_for_each_lead_in_the_published_form(accessory, arrangement, tmp_path, capsys):
    """The best comes first; what is called right differs nowhere; what is wrong says where and how it would look."""
    sources = [{"name": each, "function": each} for each in (*REAR_WIRES[arrangement], "drl")]
    document = {"format": "hailstone-hookup", "version": 1, "arrangement": arrangement, "accessory": accessory}
    file = tmp_path / "job.json"
    file.write_text(json.dumps(document | {"sources": sources}))
    validator("hookup-job").validate(json.loads(file.read_text()))
    assert main(["hookup", str(file), "--json"]) == 0
    answer = json.loads(capsys.readouterr().out)
    validator("hookup").validate(answer)
    assert [lead["lead"] for lead in answer["leads"]] == [lead.id for lead in accessories()[accessory].leads]
    for lead in answer["leads"]:
        rights = [each["right"] for each in lead["candidates"]]
        assert rights == sorted(rights, reverse=True)
        for each in lead["candidates"]:
            differs = {row["state"] for row in each["truth"] if row["wanted"] != row["got"]}
            assert differs <= set(each["wrong"])
            assert each["right"] is (not each["wrong"] and not each["refusals"])
            if each["wrong"]:
                assert re.search(r" in .+, where the lamp must be ", each["first_wrong"])


def test_a_chain_is_written_and_read_as_two_ways_in_order(tmp_path, capsys):
    job = tmp_path / "job.json"
    leads = [{"lead": "mode", "wanted": "own_switch and ignition and not reverse", "each_a": 0.5}]
    job.write_text(a_job(accessory=None, leads=leads, sources=[{"name": "rear 3", "function": "reverse"}]))
    assert main(["hookup", str(job), "--json"]) == 0
    answer = json.loads(capsys.readouterr().out)
    jsonschema.validate(answer, schema("hookup"))
    best = answer["leads"][0]["candidates"][0]
    assert (best["way"], best["sources"]) == ("and-1-and_not", ["rear 3", "@ignition", "@switch"])
    assert best["text"].startswith("First a key-on fuse through a relay's NC contact (87a), coil on rear 3; then")
    assert best["cuts"] == 0


def test_hookup_says_the_same_in_words(capsys):
    assert main(["hookup", str(MIRROR)]) == 0
    assert "fits: Direct from front 4" in capsys.readouterr().out


def a_job(**changes):
    job = json.loads(MIRROR.read_text()) | changes
    return json.dumps({key: value for key, value in job.items() if value is not None})


@pytest.mark.parametrize(
    ("text", "complaint"),
    [
        ("{", "no JSON"),
        ("{}", "format is missing"),
        (a_job(sources=[]), "sources: [] cannot be. Expected at least 1"),
        (a_job(sources=[{"name": "a", "function": "disco"}]), "“disco” is no function"),
        (a_job(sources=[{"name": "a:b", "function": "tail"}]), "Expected words without comma, : or @."),
        (a_job(sources=[{"name": "a", "function": "tail"}] * 2), "stands twice"),
        (a_job(sources=[{"name": "a", "function": "data"}]), "nothing here may be tapped"),
        (a_job(sources=[{"name": "a", "function": "stop", "variant": "soft"}]), "no variant “soft”"),
        (a_job(leads=None, accessory="anchor"), "there is no accessory “anchor”"),
        (a_job(leads=[{"lead": "a", "wanted": "tail and", "each_a": 1}]), "expected a function"),
        (a_job(leads=[{"lead": "a", "wanted": "tail", "each_a": 99}]), "each_a: 99 cannot be. Expected 0.001 to 30"),
        (
            a_job(leads=[{"lead": "a", "wanted": "tail", "each_a": 1, "technology": "gas"}]),
            "Expected one of: led, filament",
        ),
        (a_job(leads=[{"lead": "", "wanted": "tail", "each_a": 1}]), "lead: “” cannot be"),
        (a_job(system_v=48), "system_v: 48 cannot be. Expected one of: 6, 12, 24"),
        (a_job(computer="no"), "computer: “no” cannot be. Expected true or false"),
        (a_job(sauce="brown"), "there is no “sauce” here"),
        (a_job(accessory="turn_left"), "expected either accessory or leads"),
        (a_job(leads=None, accessory=["x"]), "accessory: [“x”]".replace("“", '"').replace("”", '"')),
        (a_job(leads=[{"lead": "a", "wanted": "tail", "each_a": 1, "count": "two"}]), "count: “two” cannot be"),
        (
            a_job(leads=[{"lead": "a", "wanted": "tail", "each_a": 1, "count": 0}]),
            "count: 0 cannot be. Expected 1 to 20",
        ),
        (a_job(leads=[{"lead": "a", "wanted": "tail", "each_a": 1}] * 2), "leads 2 (“a”): stands twice"),
        (a_job(arrangement="upside down"), "Expected one of: separate, combined"),
    ],
)
def test_a_hook_up_job_that_makes_no_sense_is_refused(text, complaint, capsys, tmp_path):
    path = tmp_path / "job.json"
    path.write_text(text)
    assert main(["hookup", str(path)]) == 1
    assert complaint in capsys.readouterr().err


@pytest.mark.parametrize(
    ("arguments", "result"),
    [
        (["wire", "--amps", "2.4", "--out", "3.4", "--back", "0.6"], {"wire": "18 AWG", "fuse_a": 3}),
        (["fuse", "--amps", "2.4", "--size", "18"], {"fuse_a": 3, "colour": "violet", "wire_limit_a": 10}),
        (["drop", "--amps", "2", "--out", "5", "--size", "16"], {"drop_v": 0.3308}),
        (["drop", "--amps", "2", "--out", "5", "--chassis", "--size", "16"], {"drop_v": 0.1654}),
        (["drop", "--amps", "2", "--out", "5", "--back", "0", "--size", "16"], {"drop_v": 0.1654}),
        (["diode", "--amps", "2.1"], {"part": "6A4"}),
        (["relay", "--amps", "10"], {"contact_a": 20, "coil_ohm": 85}),
    ],
)
def test_sizes_come_with_rule_inputs_and_source(arguments, result, capsys):
    """16 AWG is 13.17 mohm/m at 20 C (AWG copper tables), x 1.255 at 85 C: 2 A over 5 m lose 0.165 V, by hand;
    there and back twice that, unless the chassis is the way back."""
    assert main(["size", *arguments, "--json"]) == 0
    document = json.loads(capsys.readouterr().out)
    jsonschema.validate(document, schema("size"))
    for name, value in result.items():
        assert document["result"][name] == (pytest.approx(value, rel=0.002) if isinstance(value, float) else value)


@pytest.mark.parametrize(
    ("arguments", "complaint"),
    [
        (["wire", "--amps", "2", "--out", "900"], "Expected 0.01 to 100 m"),
        (["fuse", "--amps", "40", "--size", "22"], "Take a thicker wire"),
        (["diode", "--amps", "20"], "No generic diode"),
        (["diode", "--amps", "4.2"], "K warmer in a sleeve"),
        (["relay", "--amps", "59"], "Split the load"),
        (["drop", "--amps", "2", "--size", "3"], "Sizes are"),
        (["fuse", "--amps", "-5"], "amps: -5 cannot be. Expected 0.001 to 200 A"),
        (["wire", "--amps", "nan"], "amps: nan cannot be"),
    ],
)
def test_a_size_that_cannot_be_says_what_would_work(arguments, complaint, capsys):
    assert main(["size", *arguments]) == 1
    assert complaint in capsys.readouterr().err
