"""The circuit file: what is written reads back, bad ones are refused with the element named, the schema is current."""

from __future__ import annotations

import json
from pathlib import Path

import jsonschema
import pytest

from electrics.circuit.file import circuit_schema, read_circuit, write_circuit
from electrics.errors import CircuitError
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
    assert len(read_circuit(text).elements) == 9


def a_file(*elements, **more):
    return json.dumps({"format": "hailstone-circuit", "version": 1, "elements": list(elements), **more})


LAMP = {"kind": "lamp", "name": "L", "nodes": {"from": "a", "to": "gnd"}}


@pytest.mark.parametrize(
    ("text", "complaint"),
    [
        ("{", "no JSON: line 1"),
        ("[]", "no circuit file"),
        ('{"format": "hailstone-circuit", "version": 2, "elements": []}', "version is 2"),
        (a_file(), "no elements"),
        (a_file({**LAMP, "kind": "candle"}), "L: kind “candle” is unknown"),
        (a_file({**LAMP, "rated_a": "two"}), "L: rated_a is 'two'"),
        (a_file({**LAMP, "broken": 1}), "L: broken is 1"),
        (a_file({**LAMP, "glow": 1}), "L: has no value glow"),
        (a_file({"kind": "lamp", "name": "L"}), "L: nodes is missing"),
        (a_file({"kind": "fuse", "name": "F", "nodes": {"from": "a", "to": "b"}}), "F: rating_a is missing"),
        (a_file({"kind": "lamp"}), "element 1 has no name"),
        (a_file(LAMP), "no battery"),
        (a_file(LAMP, sauce="brown"), "unknown entries: sauce"),
    ],
)
def test_a_bad_file_is_refused_with_the_element_named(text, complaint):
    with pytest.raises(CircuitError, match=complaint):
        read_circuit(text)
