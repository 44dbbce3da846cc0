"""The words of pages, command line and docs: one word for one thing, and what it's called elsewhere."""

from __future__ import annotations

from dataclasses import dataclass
from functools import cache

from electrics.reference.tables import Table, read_table

__all__ = ["Term", "glossary"]


@dataclass(frozen=True)
class Term:
    """One word.

    Attributes
    ----------
    means : str
        What it stands for.
    instead_of : tuple of str
        What is never said for it on a page, sheet, message or in the docs.
    elsewhere : str
        What the other side of the ocean says; empty for the same.
    """

    id: str
    means: str
    instead_of: tuple[str, ...]
    elsewhere: str


@cache
def glossary() -> Table[Term]:
    """Every word, in the order of the work."""
    return read_table(
        "glossary",
        ("term", "means", "instead_of", "elsewhere"),
        lambda row: Term(
            row["term"], row["means"], tuple(filter(None, row["instead_of"].split("|"))), row["elsewhere"]
        ),
    )
