"""The circuit file: JSON that a person can write (docs/formats/circuit.md), and its schema out of the classes."""

from __future__ import annotations

import json
import types
import typing
from collections.abc import Mapping
from dataclasses import MISSING, asdict, fields
from typing import Any

from electrics.circuit.elements import KINDS, Element
from electrics.circuit.network import Network
from electrics.formats.json_file import read_document
from electrics.vocabulary import Control

__all__ = ["circuit_schema", "read_circuit", "write_circuit"]

FORMAT, VERSION = "hailstone-circuit", 1
_PLAIN = ("name", "nodes")
_TYPES = {str: "string", float: "number", bool: "boolean", int: "integer"}


def read_circuit(text: str) -> Network:
    """Read a circuit file.

    Parameters
    ----------
    text : str
        JSON.

    Returns
    -------
    Network

    Raises
    ------
    FileError
        No JSON, another format, an unknown kind or value, a value of the wrong type or out of range; every one.
    CircuitError
        Values that are possible each and not together; with the element's name.
    """
    document = read_document(text, "circuit")
    elements = tuple(_element(entry) for entry in document["elements"])
    return Network(elements, document.get("reference", "gnd"))


def write_circuit(network: Network) -> str:
    """A circuit as a file, values at their defaults left out."""
    elements = []
    for element in network.elements:
        values = {
            field.name: value
            for field in fields(element)
            if field.name not in _PLAIN and (value := asdict(element)[field.name]) != field.default
        }
        elements.append({"kind": element.kind, "name": element.name, "nodes": dict(element.nodes), **values})
    document = {"format": FORMAT, "version": VERSION, "reference": network.reference, "elements": elements}
    return json.dumps(document, indent=1, ensure_ascii=False) + "\n"


def circuit_schema() -> dict[str, Any]:
    """The JSON Schema of a circuit file, from the kinds of element there are."""
    return {
        "$schema": "https://json-schema.org/draft/2020-12/schema",
        "title": "Hailstone circuit",
        "type": "object",
        "required": ["format", "version", "elements"],
        "additionalProperties": False,
        "properties": {
            "format": {"const": FORMAT},
            "version": {"const": VERSION},
            "reference": {"type": "string", "default": "gnd", "minLength": 1, "maxLength": LONGEST_WORD},
            "note": {"type": "string"},
            "elements": {
                "type": "array",
                "minItems": 1,
                "maxItems": MOST_ELEMENTS,
                "items": {
                    "type": "object",
                    "required": ["kind", *_PLAIN],
                    "properties": {"kind": {"enum": list(KINDS)}},
                    # by its kind, so that a fault is named where it is
                    "allOf": [
                        {"if": {"properties": {"kind": {"const": kind}}, "required": ["kind"]}, "then": _schema(cls)}
                        for kind, cls in KINDS.items()
                    ],
                },
            },
        },
    }


def _element(entry: Mapping[str, Any]) -> Element:
    cls = KINDS[entry["kind"]]
    known = _annotations(cls)
    values = {key: _typed(value, known[key]) for key, value in entry.items() if key not in ("kind", *_PLAIN)}
    return cls(name=entry["name"], nodes=entry["nodes"], **values)


def _annotations(cls: type[Element]) -> Mapping[str, Any]:
    hints = typing.get_type_hints(cls)
    return {field.name: hints[field.name] for field in fields(cls) if field.name not in _PLAIN}


def _typed(value: object, annotation: Any) -> object:
    """A value that the schema let through as its class has it."""
    options = typing.get_args(annotation) if isinstance(annotation, types.UnionType) else (annotation,)
    if isinstance(value, list):
        return tuple(value)
    if float in options and isinstance(value, (int, float)):
        return float(value)
    return value


RANGES: dict[str, tuple[float, float]] = {
    "volts": (-60, 60),
    "recessive_v": (0, 12),
    "temperature_c": (-60, 250),
    "ambient_c": (-50, 120),
    "length_m": (0, 200),
    "hot_k": (1500, 3500),
    "duty": (0, 1),
    "deviation": (-0.5, 0.5),
    "watts": (0, 10_000),
    "microfarad": (0, 100_000),
}
"""What a value can be on a vehicle, by its name [unit in the name]; what is not here goes by its unit."""
_BY_UNIT: dict[str, tuple[float, float]] = {
    "v": (0, 60),
    "a": (0, 1000),
    "ohm": (0, 1e12),
    "hz": (0, 100_000),
    "ms": (0, 1000),
}
LONGEST_WORD = 120
MOST_ELEMENTS = 2000


def _range(key: str) -> dict[str, float]:
    low, high = RANGES.get(key) or _BY_UNIT[key.rpartition("_")[2]]
    return {"minimum": low, "maximum": high}


def _schema(cls: type[Element]) -> dict[str, Any]:
    terminal = {"type": "string", "minLength": 1, "maxLength": LONGEST_WORD}
    values: dict[str, Any] = {}
    for key, annotation in _annotations(cls).items():
        if typing.get_origin(annotation) is tuple:
            word = {"type": "string", "maxLength": LONGEST_WORD}
            values[key] = {"type": "array", "items": word, "maxItems": len(Control)}
            continue
        options = typing.get_args(annotation) if isinstance(annotation, types.UnionType) else (annotation,)
        kinds = ["null" if option is type(None) else _TYPES[option] for option in options]
        values[key] = {"type": kinds[0] if len(kinds) == 1 else kinds}
        values[key] |= _range(key) if "number" in kinds else {"maxLength": LONGEST_WORD} if "string" in kinds else {}
    required = [field.name for field in fields(cls) if field.name not in _PLAIN and field.default is MISSING]
    return {
        "type": "object",
        "required": ["kind", *_PLAIN, *required],
        "additionalProperties": False,
        "properties": {
            "kind": {"const": cls.kind},
            "name": terminal,
            "nodes": {
                "type": "object",
                "required": list(cls.terminals),
                "additionalProperties": False,
                "properties": dict.fromkeys((*cls.terminals, *cls.optional), terminal),
            },
            **values,
        },
    }
