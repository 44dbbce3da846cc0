"""The document as plain JSON, and back: one converter for files, rows, undo and signatures.

A field that says nothing is left out, so a field that a later version adds changes nothing that was written before.
"""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from enum import StrEnum
from functools import cache
from typing import Any, TypeVar, get_args, get_origin

from cattrs import Converter, override
from cattrs.gen import make_dict_unstructure_fn

from electrics.document.units import UnitFacts
from electrics.document.vehicle import VehicleFacts

__all__ = ["revised", "typed", "written"]

Part = TypeVar("Part")
ALWAYS: Mapping[type, Sequence[str]] = {
    UnitFacts: ("lamps", "spacing_m"),
    VehicleFacts: ("system_v", "computer", "body"),
}
"""Fields that are written even where they are as usual."""


def written(part: Any) -> dict[str, Any]:
    """A part of the document as plain JSON: words, numbers, lists and mappings by name."""
    found: dict[str, Any] = _converter().unstructure(part)
    return found


def typed(kind: type[Part], entry: Mapping[str, Any]) -> Part:
    """What `written` wrote, or a file or row says alike; names that the part has no field for are passed over.

    Raises
    ------
    cattrs.BaseValidationError
        A value that the field cannot hold.
    """
    return _converter().structure(entry, kind)


def revised(part: Part, said: Mapping[str, Any]) -> Part:
    """A part with some fields said anew, as `written` writes them; what is said empty is as usual again."""
    entry = {**written(part), **said}
    return typed(type(part), {name: value for name, value in entry.items() if value not in ("", None)})


@cache
def _converter() -> Converter:
    found = Converter(omit_if_default=True)
    found.register_unstructure_hook_func(lambda kind: isinstance(kind, type) and issubclass(kind, StrEnum), str)
    found.register_unstructure_hook_func(_is_frozenset, lambda each: sorted(map(found.unstructure, each), key=str))
    found.register_unstructure_hook_func(_is_by_pair, _pairs)
    found.register_structure_hook_func(_is_by_pair, lambda rows, _: {frozenset((a, b)): m for a, b, m in rows})

    def with_usual(kind: type) -> Any:
        names = next(names for part, names in ALWAYS.items() if issubclass(kind, part))
        kept: dict[str, Any] = {name: override(omit_if_default=False) for name in names}
        return make_dict_unstructure_fn(kind, found, _cattrs_omit_if_default=True, **kept)

    found.register_unstructure_hook_factory(_is_whole, with_usual)
    return found


def _is_frozenset(kind: Any) -> bool:
    return get_origin(kind) is frozenset


def _is_by_pair(kind: Any) -> bool:
    """Whether it is a mapping by pairs, as distances are: JSON has no such key."""
    return get_origin(kind) in (Mapping, dict) and get_args(kind)[0] == frozenset[str]


def _pairs(found: Mapping[frozenset[str], float]) -> list[list[Any]]:
    """Two names and a value each; a place to itself twice the same name."""
    return [[min(pair), max(pair), value] for pair, value in found.items()]


def _is_whole(kind: Any) -> bool:
    return isinstance(kind, type) and issubclass(kind, tuple(ALWAYS))
