"""Whatever is done to a file, it is read or refused: one line a fault with its place, and no traceback."""

from __future__ import annotations

import json
import random
import re
from pathlib import Path

import pytest

from electrics.errors import InputError, ReadingsFileError
from electrics.formats.csv_rows import decode
from electrics.formats.wire_book_csv import read_wire_book
from electrics.identify.kinds import access_kinds
from hailstone.cli import main
from hailstone.cli.circuit import simulate_text
from hailstone.wirebook.views import MOST_CSV_BYTES

DOCS = Path(__file__).parents[2] / "docs/formats/examples"
SPOILT = 300
READINGS = """access_point,pin,colour,state,instrument,reading,load,supply,against,note
left tail lamp,1,BK,rest,ohms,0.3 ohm,out,12.6,,
left tail lamp,3,WH/GN,reverse,dmm,12.2,in,12.6,,engine off
left tail lamp,4,YE,brake+left,dmm,0-12,in,12.4,,"a, b"
"""
WIRE_BOOK = """make,model,year_from,year_to,access_point,kind,side,pin,colour,function,how,measured_on
Dunlin,Five,2011,2015,left tail lamp,rear_lamp,left,1,BN,ground,"4 readings: volts DC, ohms",2025-03-11
Dunlin,Five,2011,2015,left tail lamp,rear_lamp,left,2,GY/BK,tail,4 readings: volts DC,2025-03-11
"""
CIRCUIT = (DOCS / "two-reverse-lamps.json").read_text()
JOB = (DOCS / "mirror-turn.json").read_text()
RECORDS = {
    "ticks": [{"step": "open_up", "needed": False, "who": "ina", "at": "2026-01-05T08:00:00"}],
    "results": [
        {"state": "reverse", "unit": "licence lamp", "lead": "black", "asked": "must:off", "outcome": "pass"}
    ],
    "signatures": [{"revision": 1, "who": "ina", "at": "2026-01-05T09:00:00", "verdict": "passed"}],
}
PLAN = json.dumps(json.loads((DOCS / "job-licence-out-in-reverse.json").read_text()) | RECORDS)

ODD = (
    *("", " ", "²", "½", "٣", "NaN", "1e999", "-1e308", "1,200 ohm", "0x1F", "‮", "\0", "🔥", "a" * 5000),
    *(
        "12..",
        "--",
        "+",
        "0-",
        "-0-12",
        "12-0-12",
        "brake+",
        "+left",
        "left+right",
        "rest+left",
        "=1+1",
        '"',
        "'",
        ";",
    ),
)
ODD_VALUES = (
    *(None, True, -1, 0, 1e308, 10**400, -0.0, "", "two", "²", "a" * 5000, [], {}, ["x"], {"a": 1}, [[[[]]]]),
    *("brake", "battery", "@battery", "stop and not stop", "(" * 300, "over(" * 60, "not " * 3000),
)


def spoil_text(rng, text):
    """One or several cuts, swaps, doublings or strange signs, at the level of characters, lines and cells."""
    for _ in range(rng.choice([1, 1, 2, 5])):
        at = rng.randrange(len(text) + 1)
        lines = text.split("\n")
        how = rng.randrange(8)
        if how == 0:
            text = text[:at]
        elif how == 1:
            text = text[:at] + rng.choice(ODD) + text[at:]
        elif how == 2:
            text = text[:at] + rng.choice(',;"\t\n\r{}[]:0') + text[at + 1 :]
        elif how == 3:
            rng.shuffle(lines)
            text = "\n".join(lines)
        elif how == 4:
            text = "\n".join([*lines, *lines[1:]] * rng.choice([1, 8]))
        elif how == 5:
            cells = rng.choice(lines).split(",")
            cells[rng.randrange(len(cells))] = rng.choice(ODD)
            text = "\n".join([lines[0], ",".join(cells)])
        elif how == 6:
            text = text.replace(rng.choice(text.split() or ["x"]), rng.choice(ODD))
        else:
            text = text.replace(",", rng.choice([";", "\t", "|"]))
        text = text or "\n"
    return text


def spoil_json(rng, text):
    """A value, a name or a part of a document put into something else, dropped or doubled."""
    if rng.random() < 0.3:
        return spoil_text(rng, text)
    document = json.loads(text)
    for _ in range(rng.choice([1, 1, 2, 4])):
        at, parent, step = document, None, None
        while isinstance(at, (dict, list)) and at and (parent is None or rng.random() < 0.8):
            parent, step = at, rng.choice(list(at) if isinstance(at, dict) else range(len(at)))
            at = parent[step]
        how = rng.randrange(5)
        if parent is None:
            continue
        if how == 0:
            del parent[step]
        elif how == 1 and isinstance(parent, dict):
            parent[rng.choice(["sauce", "kind", "name", "²", ""])] = at
        elif how == 2 and isinstance(parent, list):
            parent.extend(parent[: rng.choice([1, 3])])
        else:
            parent[step] = rng.choice(ODD_VALUES)
    return json.dumps(document)


def outcome(capsys, arguments, path, data):
    path.write_bytes(data)
    code = main([arguments[0], str(path), *arguments[1:]])
    return code, capsys.readouterr().err


CSV_PLACE = re.compile(r"line \d+: .+")


@pytest.mark.parametrize(
    ("command", "good", "spoil", "suffix"),
    [
        (["identify"], READINGS, spoil_text, "csv"),
        (["simulate", "--state", "reverse"], CIRCUIT, spoil_json, "json"),
        (["spice", "--state", "reverse"], CIRCUIT, spoil_json, "json"),
        (["hookup"], JOB, spoil_json, "json"),
        (["plan"], PLAN, spoil_json, "json"),
    ],
    ids=["readings", "circuit", "deck", "hook-up job", "job"],
)
def test_a_spoilt_file_is_read_or_refused_in_lines(command, good, spoil, suffix, tmp_path, capsys):
    rng = random.Random(f"{command} {SPOILT}")
    path = tmp_path / f"spoilt.{suffix}"
    refused = 0
    for _ in range(SPOILT if command[0] != "spice" else SPOILT // 3):
        data = spoil(rng, good).encode("utf-8", "surrogatepass")
        if rng.random() < 0.05:
            data = bytes(rng.randrange(256) for _ in range(80)) + data
        code, said = outcome(capsys, command, path, data)
        assert code in (0, 1)
        if code == 1:
            refused += 1
            lines = said.rstrip("\n").splitlines()
            assert lines, data
            assert all(line.strip() for line in lines), said
            if suffix == "csv":
                assert all(CSV_PLACE.fullmatch(line) for line in lines), said
            assert "Traceback" not in said
            assert len(lines) <= 1000
    assert refused > SPOILT / 6


def test_a_spoilt_wire_book_is_read_or_refused_in_lines():
    rng = random.Random(SPOILT)
    kinds = [kind.id for kind in access_kinds()]
    refused = 0
    for _ in range(SPOILT):
        data = spoil_text(rng, WIRE_BOOK).encode("utf-8", "surrogatepass")
        try:
            read_wire_book(decode(data), kinds)
        except ReadingsFileError as error:
            refused += 1
            assert all(CSV_PLACE.fullmatch(line) for line in str(error).splitlines()), str(error)
    assert refused > SPOILT / 3
    assert MOST_CSV_BYTES


@pytest.mark.parametrize(
    ("text", "lines"),
    [
        ('pin,state,reading\n1,rest,0\n2,park,"12.2\n3,brake,0\n', ["line 3: is no CSV: unexpected end of data."]),
        ('pin,state,reading,instrument\n1,rest,"1,200 ohm",ohms\n', ["line 2: “1,200 ohm” can mean two numbers"]),
        ("pin,state,reading\n1,brake+,0\n2,rest,abc\n", ["line 2: ", "line 3: "]),
    ],
)
def test_every_fault_of_a_readings_file_is_named_at_its_line(text, lines, tmp_path, capsys):
    code, said = outcome(capsys, ["identify"], tmp_path / "x.csv", text.encode())
    assert code == 1
    assert len(said.splitlines()) == len(lines)
    for found, wanted in zip(said.splitlines(), lines, strict=True):
        assert found.startswith(wanted)


def test_odd_pins_and_hundreds_of_repeats_are_weighed(tmp_path, capsys):
    """A superscript is no digit to count by; 450 readings of one wire leave its lamp's other wires as they are."""
    rows = [f"²,{state},{text}" for state, text in (("rest", "0"), ("park", "12.2"))]
    rows += ["4,brake,12.2", "10,brake,0"] + ["5,rest,0.0", "5,left,0-12"] * 225
    code, said = outcome(
        capsys, ["identify", "--json"], tmp_path / "x.csv", ("pin,state,reading\n" + "\n".join(rows)).encode()
    )
    assert (code, said) == (0, "")
    assert main(["identify", str(tmp_path / "x.csv"), "--json"]) == 0
    wires = json.loads(capsys.readouterr().out)["access_points"][0]["wires"]
    assert [wire["pin"] for wire in wires] == ["4", "5", "10", "²"]
    assert all(0 <= wire["probability"] <= 1 for wire in wires)


def test_a_binary_file_is_called_what_it_is(tmp_path, capsys):
    picture = b"\x89PNG\r\n\x1a\n\0\0\0\rIHDR" + bytes(range(256))
    for command, expected in ((["identify"], "Expected CSV"), (["simulate"], "JSON"), (["hookup"], "JSON")):
        code, said = outcome(capsys, command, tmp_path / "x", picture)
        assert code == 1
        assert "is no text" in said
        assert expected in said


def test_what_cannot_be_on_a_vehicle_is_refused_before_anything_is_solved():
    for key, value in (("volts", 500), ("charging_v", 500)):
        document = json.loads(CIRCUIT)
        battery = next(each for each in document["elements"] if each["kind"] == "battery")
        battery[key] = value
        with pytest.raises(InputError, match=rf"{key}: 500 cannot be"):
            simulate_text(json.dumps(document), ["rest"])
    wire = {"kind": "wire", "name": "W", "nodes": {"from": "a", "to": "b"}, "length_m": 1, "temperature_c": -400}
    diode = {"kind": "diode", "name": "D", "nodes": {"anode": "a", "cathode": "b"}, "temperature_c": 1e6}
    document = json.loads(CIRCUIT)
    document["elements"] += [wire, diode]
    with pytest.raises(InputError) as refused:
        simulate_text(json.dumps(document), ["rest"])
    assert len(str(refused.value).splitlines()) == 2


@pytest.mark.parametrize("arguments", [["--arrangement", "both"], ["--not-fitted", "clutch"]])
def test_wrong_usage_is_said_in_words(arguments, tmp_path, capsys):
    (tmp_path / "x.csv").write_text(READINGS)
    with pytest.raises(SystemExit) as stopped:
        main(["identify", str(tmp_path / "x.csv"), *arguments])
    assert stopped.value.code == 2
    said = capsys.readouterr().err
    assert "<" not in said
    assert "separate" in said
