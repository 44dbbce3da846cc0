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
from electrics.errors import CircuitError

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
    CircuitError
        No JSON, another format, an unknown kind or value, a value of the wrong type; with the element's name.
    """
    try:
        document = json.loads(text)
    except json.JSONDecodeError as error:
        raise CircuitError("", "", f"This is no JSON: line {error.lineno}, {error.msg}.") from error
    if not isinstance(document, dict) or document.get("format") != FORMAT:
        raise CircuitError("", "", f"This is no circuit file. Expected an object with format “{FORMAT}”.")
    if document.get("version") != VERSION:
        raise CircuitError("", "", f"version is {document.get('version')}. Expected {VERSION}.")
    unknown = set(document) - {"format", "version", "reference", "elements", "note"}
    if unknown:
        raise CircuitError("", "", f"has unknown entries: {', '.join(sorted(unknown))}.")
    elements = document.get("elements")
    if not isinstance(elements, list):
        raise CircuitError("", "", "elements is missing. Expected a list.")
    return Network(
        tuple(_element(entry, n) for n, entry in enumerate(elements, start=1)), str(document.get("reference", "gnd"))
    )


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
            "reference": {"type": "string", "default": "gnd"},
            "note": {"type": "string"},
            "elements": {
                "type": "array",
                "minItems": 1,
                "items": {"oneOf": [_schema(cls) for cls in KINDS.values()]},
            },
        },
    }


def _element(entry: object, number: int) -> Element:
    if not isinstance(entry, dict):
        raise CircuitError("", "", f"element {number} is no object.")
    name = entry.get("name")
    if not isinstance(name, str) or not name.strip():
        raise CircuitError("", "", f"element {number} has no name.")
    cls = KINDS.get(entry.get("kind", ""))
    if cls is None:
        raise CircuitError(name, "", f"kind “{entry.get('kind')}” is unknown. Kinds are: {', '.join(KINDS)}.")
    nodes = entry.get("nodes")
    if not isinstance(nodes, dict) or not all(isinstance(node, str) for node in nodes.values()):
        raise CircuitError(name, "", f"nodes is missing. Expected an object with {', '.join(cls.terminals)}.")
    known = _annotations(cls)
    values = {key: value for key, value in entry.items() if key not in ("kind", *_PLAIN)}
    for key, value in values.items():
        if key not in known:
            raise CircuitError(name, "", f"has no value {key}. Values are: {', '.join(known) or 'none'}.")
        values[key] = _typed(name, key, value, known[key])
    missing = [
        field.name
        for field in fields(cls)
        if field.name not in (*_PLAIN, *values) and field.default is MISSING and field.default_factory is MISSING
    ]
    if missing:
        raise CircuitError(name, "", f"{missing[0]} is missing.")
    return cls(name=name, nodes=nodes, **values)


def _annotations(cls: type[Element]) -> Mapping[str, Any]:
    hints = typing.get_type_hints(cls)
    return {field.name: hints[field.name] for field in fields(cls) if field.name not in _PLAIN}


def _typed(name: str, key: str, value: object, annotation: Any) -> object:
    options = typing.get_args(annotation) if isinstance(annotation, types.UnionType) else (annotation,)
    if value is None and type(None) in options:
        return None
    if typing.get_origin(annotation) is tuple:
        if isinstance(value, list) and all(isinstance(item, str) for item in value):
            return tuple(value)
        raise CircuitError(name, "", f"{key} is {value!r}. Expected a list of words.")
    if float in options and isinstance(value, (int, float)) and not isinstance(value, bool):
        return float(value)
    if any(option in (str, bool) and type(value) is option for option in options):
        return value
    wanted = " or ".join(_TYPES[option] for option in options if option in _TYPES)
    raise CircuitError(name, "", f"{key} is {value!r}. Expected a {wanted}.")


def _schema(cls: type[Element]) -> dict[str, Any]:
    terminal = {"type": "string", "minLength": 1}
    values: dict[str, Any] = {}
    for key, annotation in _annotations(cls).items():
        if typing.get_origin(annotation) is tuple:
            values[key] = {"type": "array", "items": {"type": "string"}}
            continue
        options = typing.get_args(annotation) if isinstance(annotation, types.UnionType) else (annotation,)
        kinds = ["null" if option is type(None) else _TYPES[option] for option in options]
        values[key] = {"type": kinds[0] if len(kinds) == 1 else kinds}
    required = [field.name for field in fields(cls) if field.name not in _PLAIN and field.default is MISSING]
    return {
        "type": "object",
        "required": ["kind", *_PLAIN, *required],
        "additionalProperties": False,
        "properties": {
            "kind": {"const": cls.kind},
            "name": {"type": "string", "minLength": 1},
            "nodes": {
                "type": "object",
                "required": list(cls.terminals),
                "additionalProperties": False,
                "properties": dict.fromkeys((*cls.terminals, *cls.optional), terminal),
            },
            **values,
        },
    }
