"""The circuit file: what is written reads back, bad ones are refused with the element named, the schema is current."""

from __future__ import annotations

import json
from pathlib import Path

import jsonschema
import pytest

from electrics.circuit.file import circuit_schema, read_circuit, write_circuit
from electrics.errors import InputError
from electrics.lighting.samples import sample_circuits

DOCS = Path(__file__).parents[3] / "docs/formats"
SCHEMA = json.loads((DOCS / "circuit.schema.json").read_text())


@pytest.mark.parametrize("name", sample_circuits())
def test_every_sample_reads_back_the_same_and_fits_the_schema(name):
    network = sample_circuits()[name]
    text = write_circuit(network)
    jsonschema.validate(json.loads(text), SCHEMA)
    assert read_circuit(text) == network


def test_the_published_schema_is_that_of_the_element_classes():
    assert circuit_schema() == SCHEMA


def test_the_example_of_the_documentation_works():
    text = (DOCS / "examples/two-reverse-lamps.json").read_text()
    jsonschema.validate(json.loads(text), SCHEMA)
    assert len(read_circuit(text).elements) == 10


def a_file(*elements, **more):
    return json.dumps({"format": "hailstone-circuit", "version": 1, "elements": list(elements), **more})


LAMP = {"kind": "lamp", "name": "L", "nodes": {"from": "a", "to": "gnd"}}


@pytest.mark.parametrize(
    ("text", "complaint"),
    [
        ("{", "line 1: this is no JSON"),
        ("[]", "Expected an object"),
        ('{"format": "hailstone-circuit", "version": 2, "elements": []}', "version: 2 cannot be"),
        (a_file(), "at least 1 in the list"),
        (a_file({**LAMP, "kind": "candle"}), "kind: “candle” cannot be"),
        (a_file({**LAMP, "rated_a": "two"}), "rated_a: “two” cannot be. Expected a number"),
        (a_file({**LAMP, "broken": 1}), "broken: 1 cannot be. Expected true or false"),
        (a_file({**LAMP, "glow": 1}), "there is no “glow” here"),
        (a_file({"kind": "lamp", "name": "L"}), "nodes is missing"),
        (a_file({"kind": "fuse", "name": "F", "nodes": {"from": "a", "to": "b"}}), "rating_a is missing"),
        (a_file({"kind": "lamp"}), "elements 1: name is missing"),
        (a_file(LAMP), "no battery"),
        (a_file({**LAMP, "rated_a": -1}), "rated_a: -1 cannot be. Expected 0 to 1000"),
        (a_file({**LAMP, "rated_a": 10**400}), "rated_a: 1000.* cannot be"),
        ('{"format": "hailstone-circuit", "version": 1, "version": 1, "elements": []}', "version.*stands twice"),
        ("[" * 100_000, "too deep"),
        (a_file({**LAMP, "rated_a": 1}).replace(": 1}", ": NaN}"), "NaN: is no number"),
        (a_file(LAMP, sauce="brown"), "there is no “sauce” here"),
    ],
)
def test_a_bad_file_is_refused_with_the_element_named(text, complaint):
    with pytest.raises(InputError, match=complaint):
        read_circuit(text)
