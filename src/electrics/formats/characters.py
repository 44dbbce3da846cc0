"""Which characters a text from outside may hold: no control characters, no halves of characters."""

from __future__ import annotations

import unicodedata
from collections.abc import Iterator, Mapping, Sequence

__all__ = ["bad_character", "bad_texts"]

ALLOWED = "\n\t"
"""Control characters that people type [-]."""


def bad_character(text: str) -> str:
    """The first character of a text that cannot be kept, by its code; empty for none."""
    for each in text:
        if each not in ALLOWED and unicodedata.category(each) in ("Cc", "Cs"):
            return f"U+{ord(each):04X}"
    return ""


def bad_texts(document: object, where: str = "") -> Iterator[tuple[str, str]]:
    """Every text of a document that holds such a character: its place and the code."""
    if isinstance(document, str):
        code = bad_character(document)
        if code:
            yield where, code
    elif isinstance(document, Mapping):
        for name, value in document.items():
            code = bad_character(str(name))
            if code:
                yield where, code
            yield from bad_texts(value, f"{where}, {name}" if where else str(name))
    elif isinstance(document, Sequence):
        for n, value in enumerate(document, start=1):
            yield from bad_texts(value, f"{where} {n}")
