"""Which parts of a page are sent again: those that differ from what the page has, by the marks it sends along."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from hashlib import blake2b
from typing import Any

from django.template.loader import render_to_string
from django.utils.safestring import SafeString

from hailstone.shop.request import Request

__all__ = ["differing", "read"]

ALWAYS = "hookup/_banner.html"
"""The part that asks for something more by itself: it is sent again whatever it says."""


def read(marks: str) -> dict[str, str]:
    """Marks of the parts that a page has, by template; what cannot be read is not there."""
    pairs = (each.partition(":") for each in marks.split())
    return {part: mark for part, colon, mark in pairs if colon}


def differing(
    request: Request, parts: Sequence[str], context: Mapping[str, Any], has: Mapping[str, str]
) -> tuple[list[SafeString], str]:
    """The parts that differ from what the page has, and the marks of what it has then.

    Another state is drawn by a separate request that has no marks: every part counts as new then.
    """
    drawn, marks = [], dict(has)
    for part in parts:
        text = render_to_string(part, {**context, "page": context, "oob": True}, request)
        marks[part] = blake2b(text.encode(), digest_size=6).hexdigest()
        if part == ALWAYS or marks[part] != has.get(part):
            drawn.append(text)
    return drawn, " ".join(f"{part}:{mark}" for part, mark in marks.items()) if request.method == "POST" else ""
