"""Loads the reference tables and refuses a broken one.

Every table is a CSV in `data/` whose last two columns are `source` (a key of `sources.toml`) and
`basis` (`published`, `from memory`, `common practice` or `estimate`). A loader reads its table once and
returns frozen rows.
"""

from __future__ import annotations

import csv
import tomllib
from collections.abc import Callable, Iterator
from dataclasses import dataclass
from functools import cache
from importlib.resources import files
from typing import Generic, TypeVar

from electrics.errors import TableError

__all__ = ["BASES", "Citation", "Table", "read_table", "sources"]

Row = TypeVar("Row")

BASES = ("published", "from memory", "common practice", "estimate")


@dataclass(frozen=True)
class Citation:
    """Where the numbers of a row come from."""

    key: str
    author: str
    title: str
    edition: str
    note: str


@dataclass(frozen=True)
class Table(Generic[Row]):
    """The rows of one table in file order, by key."""

    name: str
    rows: dict[str, Row]

    def __getitem__(self, key: str) -> Row:
        try:
            return self.rows[key]
        except KeyError:
            known = ", ".join(self.rows)
            raise TableError(f"{self.name} has no row “{key}”. It has: {known}.") from None

    def __iter__(self) -> Iterator[Row]:
        return iter(self.rows.values())

    def __len__(self) -> int:
        return len(self.rows)


@cache
def sources() -> dict[str, Citation]:
    """Every source that a row may name, by key."""
    text = files("electrics.reference").joinpath("sources.toml").read_text("utf-8")
    return {
        key: Citation(key, entry["author"], entry["title"], entry["edition"], entry["note"])
        for key, entry in tomllib.loads(text).items()
    }


def read_table(name: str, columns: tuple[str, ...], make: Callable[[dict[str, str]], Row]) -> Table[Row]:
    """Read one table; its first column is the key.

    Parameters
    ----------
    name : str
        File name in `data/` without its ending.
    columns : tuple of str
        Expected columns, in order, without `source` and `basis`.
    make : callable
        Turns one row of text into a frozen row.

    Returns
    -------
    Table
        The rows by key, in file order.

    Raises
    ------
    TableError
        Other columns, an empty table, a duplicate key, an unknown source or basis, a value that `make`
        cannot read.
    """
    text = files("electrics.reference").joinpath("data", f"{name}.csv").read_text("utf-8")
    reader = csv.DictReader(text.splitlines())
    wanted = [*columns, "source", "basis"]
    if reader.fieldnames != wanted:
        raise TableError(f"{name}: columns are {reader.fieldnames}, expected {wanted}.")
    rows: dict[str, Row] = {}
    for row in reader:
        key = row[columns[0]]
        if key in rows:
            raise TableError(f"{name}: “{key}” stands twice.")
        if row["source"] not in sources() or row["basis"] not in BASES:
            raise TableError(f"{name}: “{key}” has an unknown source or basis.")
        try:
            rows[key] = make(row)
        except (KeyError, TypeError, ValueError) as error:
            raise TableError(f"{name}: “{key}” cannot be read: {error}") from error
    if not rows:
        raise TableError(f"{name} has no rows.")
    return Table(name, rows)
