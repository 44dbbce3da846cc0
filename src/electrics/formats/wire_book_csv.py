"""The wire book as a file: one proven finding a row (contract in docs/formats/wire-book.md)."""

from __future__ import annotations

import datetime as dt
from collections.abc import Iterable, Mapping
from dataclasses import dataclass

from electrics.errors import InputError
from electrics.formats.colour import parse_colour
from electrics.formats.csv_rows import understand_rows, write_rows
from electrics.formats.json_file import check_values
from electrics.vocabulary import Function, Polarity

__all__ = ["COLUMNS", "FindingRow", "read_wire_book", "write_wire_book"]

COLUMNS = (
    "make",
    "model",
    "year_from",
    "year_to",
    "market",
    "access_point",
    "kind",
    "side",
    "pin",
    "colour",
    "function",
    "polarity",
    "how",
    "measured_on",
)
REQUIRED = ("make", "model", "access_point", "pin", "function")
LONGEST = 60
YEARS = (1900, 2100)
SIDES = ("", "left", "right")


@dataclass(frozen=True)
class FindingRow:
    """What one wire of one kind of vehicle was proven to do.

    Attributes
    ----------
    year_from, year_to : int or None
        Model years it holds for, as far as they are known.
    kind : str
        Kind of access point as in the tables; `connector` when nothing is said.
    how : str
        How it was measured, in words.
    """

    make: str
    model: str
    year_from: int | None
    year_to: int | None
    market: str
    access_point: str
    kind: str
    side: str
    pin: str
    colour: str
    function: Function
    polarity: Polarity
    how: str
    measured_on: dt.date | None


def read_wire_book(text: str, kinds: Iterable[str]) -> tuple[FindingRow, ...]:
    """Read a whole wire book.

    Parameters
    ----------
    text : str
        The file; comma, semicolon or tab between columns.
    kinds : iterable of str
        The kinds of access point there are.

    Returns
    -------
    tuple of FindingRow
        In file order.

    Raises
    ------
    ReadingsFileError
        With every bad row; nothing of the file may then be used.
    """
    known = tuple(kinds)
    return understand_rows(text, COLUMNS, REQUIRED, lambda cells: _row(cells, known), what="findings")


def write_wire_book(rows: Iterable[Mapping[str, str]]) -> str:
    """The file for these rows, each a mapping with the keys of `COLUMNS`."""
    return write_rows(COLUMNS, rows)


def _row(cells: dict[str, str], kinds: tuple[str, ...]) -> FindingRow:
    complaints = [f"{name} is empty" for name in REQUIRED if not cells[name]]
    complaints += [f"{name} is longer than {LONGEST} characters" for name in COLUMNS if len(cells[name]) > LONGEST]
    if complaints:
        raise InputError("; ".join(complaints))
    check_values(cells, "wire-book-row")
    kind = cells["kind"] or "connector"
    if kind not in kinds:
        raise InputError(f"kind “{kind}” is unknown. Expected one of: {', '.join(kinds)}")
    if cells["side"] not in SIDES:
        raise InputError(f"side “{cells['side']}” is unknown. Expected left, right or nothing")
    try:
        function = Function(cells["function"].lower())
        polarity = Polarity(cells["polarity"].lower() or Polarity.POSITIVE)
    except ValueError as error:
        raise InputError(
            f"{error}. Expected a function like tail or turn_left, polarity positive or ground"
        ) from None
    year_from, year_to = _year(cells["year_from"]), _year(cells["year_to"])
    if year_from and year_to and year_to < year_from:
        raise InputError(f"the years run backwards, {year_from} to {year_to}")
    return FindingRow(
        cells["make"],
        cells["model"],
        year_from,
        year_to,
        cells["market"],
        cells["access_point"],
        kind,
        cells["side"],
        cells["pin"],
        parse_colour(cells["colour"]).text,
        function,
        polarity,
        cells["how"],
        _day(cells["measured_on"]),
    )


def _year(text: str) -> int | None:
    if not text:
        return None
    if not text.isdecimal() or not YEARS[0] <= int(text) <= YEARS[1]:
        raise InputError(f"“{text}” is no year. Expected {YEARS[0]} to {YEARS[1]}")
    return int(text)


def _day(text: str) -> dt.date | None:
    if not text:
        return None
    try:
        return dt.date.fromisoformat(text)
    except ValueError:
        raise InputError(f"“{text}” is no day. Expected it like 2026-11-24") from None
