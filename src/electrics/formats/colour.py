"""Wire colours: `WH/GN` is white with a green stripe.

IEC 60757 letters or plain words, base then tracer. Four short forms are asked about, because they mean
different colours to different makers; anything unknown is kept as typed.
"""

from __future__ import annotations

import re
from dataclasses import dataclass
from functools import cache, lru_cache

from electrics.reference.tables import Table, read_table

__all__ = ["AMBIGUOUS", "Colour", "ColourRow", "colour_table", "parse_colour"]

AMBIGUOUS = {"GR": ("GY", "GN"), "BL": ("BU", "BK"), "B": ("BK", "BU"), "L": ("BU", "LGN")}
"""Short forms that makers use for different colours, with what each may stand for (common practice)."""


@dataclass(frozen=True)
class ColourRow:
    """One colour of insulation and how it is drawn on a screen."""

    code: str
    name: str
    hex: str
    also: tuple[str, ...]


@dataclass(frozen=True)
class Colour:
    """A wire's colour.

    Attributes
    ----------
    text : str
        Canonical `BASE/TRACER` when known, else as typed.
    parts : tuple of ColourRow
        Base and, when there is one, tracer; empty when unknown or ambiguous.
    question : str
        What to ask about an ambiguous short form; empty otherwise.
    """

    text: str
    parts: tuple[ColourRow, ...] = ()
    question: str = ""

    @property
    def name(self) -> str:
        """In plain words: `white with a green stripe`; the text as typed when unknown."""
        if not self.parts:
            return self.text
        return " with a ".join(part.name for part in self.parts) + (" stripe" if len(self.parts) > 1 else "")


@cache
def colour_table() -> Table[ColourRow]:
    """The colours of IEC 60757 and the loom colours it lacks."""
    return read_table(
        "wire_colours",
        ("code", "name", "hex", "also"),
        lambda row: ColourRow(row["code"], row["name"], row["hex"], tuple(row["also"].split())),
    )


@lru_cache(maxsize=4096)
def parse_colour(text: str) -> Colour:
    """Read a wire colour; never refuses, because an unknown colour is still what the wire looks like.

    Parameters
    ----------
    text : str
        `WH/GN`, `white/green`, `white with green stripe`, or anything.

    Returns
    -------
    Colour
        Canonical when known; with a `question` when ambiguous.

    Examples
    --------
    >>> parse_colour("white/green").text
    'WH/GN'
    >>> parse_colour("GR").question
    'GR can mean grey or green. Which is it?'
    """
    typed = " ".join(text.split())
    words = [word for word in re.split(r"\s*(?:/|-|\bwith(?: an?)?\b)\s*", typed) if word]
    words = [re.sub(r"\s*(stripe|tracer)$", "", word, flags=re.I) for word in words]
    for word in words:
        if word.upper() in AMBIGUOUS:
            first, second = (colour_table()[code].name for code in AMBIGUOUS[word.upper()])
            return Colour(typed, question=f"{word.upper()} can mean {first} or {second}. Which is it?")
    parts = tuple(_spellings().get(word.lower().replace(" ", "")) for word in words)
    known = tuple(part for part in parts if part is not None)
    if not 1 <= len(parts) <= 2 or len(known) != len(parts):
        return Colour(typed)
    return Colour("/".join(part.code for part in known), known)


@cache
def _spellings() -> dict[str, ColourRow]:
    return {word: row for row in colour_table() for word in (row.code.lower(), *row.also)}
