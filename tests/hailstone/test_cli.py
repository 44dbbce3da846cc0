"""The command line: its JSON contract, its refusals and its exit codes."""

from __future__ import annotations

import io
import json
import socket
import subprocess
import sys
from pathlib import Path

import jsonschema
import pytest

from electrics.circuit.findings import RULES, Finding
from hailstone.cli import main
from hailstone.identify_file import guess_place
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
    assert "all else says tail" in odd["why"]
    assert not wires["2"]["settled"]
    assert any("grey or green" in warning for warning in wires["2"]["warnings"])
    assert lamp["next"][0]["pins"] == ["2"]


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


def test_identify_needs_neither_django_nor_a_database(readings):
    code = "import sys; from hailstone.cli import main; main(sys.argv[1:]); sys.exit('django' in sys.modules)"
    done = subprocess.run([sys.executable, "-c", code, "identify", str(readings)], capture_output=True, check=False)
    assert done.returncode == 0, done.stderr


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
    assert "F1 carries 2.4 A with reverse; for long it should carry no more than 1.6 A." in capsys.readouterr().out


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
    sentence = finding_sentence(Finding(rule, "error", "F1", "brake", "lit", 1.0, 2.0, "A"))
    assert sentence.endswith(".")
    assert "{" not in sentence
