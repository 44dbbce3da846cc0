"""The difference of two states of the same facts, whatever they are: nested mappings, compared key by key."""

from __future__ import annotations

from collections.abc import Iterator, Mapping
from dataclasses import dataclass
from typing import Any

__all__ = ["Change", "changes_of"]


@dataclass(frozen=True)
class Change:
    """One fact that is no longer what it was.

    Attributes
    ----------
    key : str
        Where it stands, its steps joined by colons.
    before, after : str
        Empty where it was not there.
    """

    key: str
    before: str
    after: str


def changes_of(before: Mapping[str, Any], after: Mapping[str, Any]) -> Iterator[Change]:
    """Every fact in which two states differ; one that says nothing is as good as none."""
    for name in dict.fromkeys((*before, *after)):
        was, now = before.get(name), after.get(name)
        if isinstance(was, Mapping) or isinstance(now, Mapping):
            inner = changes_of(was if isinstance(was, Mapping) else {}, now if isinstance(now, Mapping) else {})
            yield from (Change(f"{name}:{each.key}", each.before, each.after) for each in inner)
        elif _text(was) != _text(now):
            yield Change(name, _text(was), _text(now))


def _text(value: object) -> str:
    if isinstance(value, bool):
        return "yes" if value else "no"
    if isinstance(value, float):
        return f"{value:g}"
    return "" if value is None else str(value)
