"""Reads a JSON file against its shipped schema before anything is computed: every fault a line, with its place.

What is no JSON, too deep, twice in one object or no number at all is refused here as well. The schemas are those of
docs/formats; they lie in this package so that an installation has them.
"""

from __future__ import annotations

import json
from collections.abc import Iterator, Mapping, Sequence
from functools import cache
from importlib.resources import files
from typing import Any

from jsonschema import Draft202012Validator
from jsonschema.exceptions import ValidationError

from electrics.errors import InputError
from electrics.formats.characters import bad_texts

__all__ = ["FileError", "check_values", "parse_json", "read_document", "schema_of"]

MOST_FAULTS = 50
"""Faults of one file that are listed [-]."""
LONGEST_SHOWN = 60


class FileError(InputError):
    """A file that does not keep to its form.

    Attributes
    ----------
    faults : tuple of str
        Each with its place.
    """

    def __init__(self, faults: Sequence[str]) -> None:
        self.faults = tuple(faults)
        super().__init__("\n".join(self.faults))


def read_document(text: str, schema: str) -> dict[str, Any]:
    """Read a JSON file of a kind.

    Parameters
    ----------
    text : str
        The file.
    schema : str
        Name of its schema, `circuit` or `hookup-job`.

    Returns
    -------
    dict

    Raises
    ------
    FileError
        With every fault.
    """
    document = parse_json(text)
    bad = [
        f"{where or 'the file'}: holds the character {code}, which is none of a text. Delete it."
        for where, code in bad_texts(document)
    ]
    if bad:
        raise FileError(bad[:MOST_FAULTS])
    check_values(document, schema)
    return dict(document)


def parse_json(text: str) -> Any:
    """JSON as Python has it; FileError for what is none."""
    try:
        return json.loads(text, object_pairs_hook=_object, parse_constant=_no_number)
    except json.JSONDecodeError as error:
        raise FileError([f"line {error.lineno}: this is no JSON, {error.msg[0].lower()}{error.msg[1:]}."]) from error
    except RecursionError as error:
        raise FileError(["line 1: brackets stand too deep in one another to be read."]) from error
    except ValueError as error:  # a number of thousands of digits
        raise FileError([f"line 1: a number cannot be read ({str(error).partition(';')[0][:80]})."]) from error


def check_values(document: object, schema: str) -> None:
    """Refuse what does not keep to a schema; FileError lists every fault with its place."""
    errors = sorted(_validator(schema).iter_errors(document), key=lambda error: [str(step) for step in error.path])
    faults = list(dict.fromkeys(fault for error in errors for fault in _faults(error, document)))
    if faults:
        more = [f"and {len(faults) - MOST_FAULTS} more."] if len(faults) > MOST_FAULTS else []
        raise FileError([*faults[:MOST_FAULTS], *more])


@cache
def schema_of(name: str) -> Mapping[str, Any]:
    """A shipped schema by its name."""
    text = files("electrics.formats").joinpath("schemas", f"{name}.schema.json").read_text("utf-8")
    found: Mapping[str, Any] = json.loads(text)
    return found


@cache
def _validator(name: str) -> Draft202012Validator:
    return Draft202012Validator(schema_of(name))


def _object(pairs: list[tuple[str, Any]]) -> dict[str, Any]:
    found = dict(pairs)
    if len(found) < len(pairs):
        names = [name for name, _ in pairs]
        twice = next(name for name in names if names.count(name) > 1)
        raise FileError([f"{_short(twice)}: stands twice in one object."])
    return found


def _no_number(text: str) -> float:
    raise FileError([f"{text}: is no number. Expected digits."])


def _faults(error: ValidationError, document: object) -> Iterator[str]:
    """An error in words; one line for each name that is missing or unknown."""
    where = _place(error, document)
    limit, value = error.validator_value, error.instance
    kind = str(error.validator)
    if kind == "required" and isinstance(value, dict):
        yield from (f"{where}{name} is missing." for name in limit if name not in value)
        return
    if kind == "additionalProperties" and isinstance(value, dict):
        known = error.schema.get("properties", {})
        listed = ", ".join(name for name in known if name != "kind") or "none"
        yield from (
            f"{where}there is no {_short(name)} here. Known: {listed}." for name in value if name not in known
        )
        return
    if kind == "oneOf":
        choices = " or ".join(name for option in limit for name in option.get("required", ()))
        yield f"{where}expected either {choices}."
        return
    said = {
        "type": lambda: f"Expected {_kinds(limit)}.",
        "enum": lambda: f"Expected {_listed(limit)}.",
        "const": lambda: f"Expected {json.dumps(limit, ensure_ascii=False)}.",
        "minimum": lambda: _between(error.schema),
        "maximum": lambda: _between(error.schema),
        "minItems": lambda: f"Expected at least {limit} in the list.",
        "maxItems": lambda: f"Expected at most {limit} in the list.",
        "minLength": lambda: f"Expected at least {limit} characters.",
        "maxLength": lambda: f"Expected at most {limit} characters.",
        "pattern": lambda: str(error.schema.get("description", "Expected other characters.")),
    }.get(kind, lambda: f"{error.message[:120]}.")()
    yield f"{where}{_short(value)} cannot be. {said}"


def _place(error: ValidationError, document: object) -> str:
    """`elements 3 (lamp L), rated_a: `; empty for the document itself."""
    parts: list[str] = []
    at: Any = document
    for step in error.absolute_path:
        at = at[step]
        if isinstance(step, int):
            name = next(
                (at[key] for key in ("name", "lead") if isinstance(at, dict) and isinstance(at.get(key), str)), ""
            )
            parts[-1] += f" {step + 1}" + (f" ({_short(name)})" if name else "")
        else:
            parts.append(str(step))
    return ", ".join(parts) + ": " if parts else ""


def _between(schema: Mapping[str, Any]) -> str:
    low, high = schema.get("minimum"), schema.get("maximum")
    if low is None or high is None:
        return f"Expected at least {low:g}." if high is None else f"Expected at most {high:g}."
    return f"Expected {low:g} to {high:g}."


def _short(value: object) -> str:
    """A value as it is shown: in quotes where it is a word, cut where it is long."""
    try:
        text = json.dumps(value, ensure_ascii=False)
    except (TypeError, ValueError, RecursionError):
        text = type(value).__name__
    text = f"“{text[1:-1]}”" if isinstance(value, str) else text
    return text if len(text) <= LONGEST_SHOWN else f"{text[:LONGEST_SHOWN]}…"


_WORDS = {
    "string": "a word",
    "number": "a number",
    "integer": "a whole number",
    "boolean": "true or false",
    "array": "a list",
    "object": "an object",
    "null": "null",
}


def _kinds(kinds: str | Sequence[str]) -> str:
    return " or ".join(_WORDS[kind] for kind in ([kinds] if isinstance(kinds, str) else kinds))


def _listed(values: Sequence[object]) -> str:
    return "one of: " + ", ".join("nothing" if value is None else str(value) for value in values)
