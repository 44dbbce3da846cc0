"""What every CSV that comes in shares: encoding, delimiter, header, and all its bad rows at once."""

from __future__ import annotations

import csv
import io
from collections.abc import Callable, Iterable, Mapping, Sequence
from typing import TypeVar

from electrics.errors import InputError, ReadingsFileError, RowProblem
from electrics.formats.characters import bad_character
from electrics.formats.limits import MOST_ROWS

__all__ = ["decode", "understand_rows", "write_rows"]

Row = TypeVar("Row")


def decode(data: bytes, kind: str = "CSV") -> str:
    """Bytes of a file as text.

    Parameters
    ----------
    data : bytes
    kind : str
        What the file should be, for the message.

    Raises
    ------
    ReadingsFileError
        The file is no text, or not UTF-8 (a spreadsheet's other encodings would turn signs into other signs).
    """
    if b"\0" in data[:4096] and data[:2] not in (b"\xff\xfe", b"\xfe\xff"):
        raise ReadingsFileError([RowProblem(1, f"is no text: this is some other kind of file. Expected {kind}.")])
    try:
        return data.decode("utf-8-sig")
    except UnicodeDecodeError as error:
        line = data[: error.start].count(b"\n") + 1
        raise ReadingsFileError(
            [RowProblem(line, f"is not UTF-8. Expected {kind}: save the file again as {kind} in UTF-8.")]
        ) from error


def understand_rows(
    text: str,
    columns: Sequence[str],
    required: Sequence[str],
    understand: Callable[[dict[str, str]], Row],
    *,
    what: str,
) -> tuple[Row, ...]:
    """Read a whole CSV with a header, columns in any order.

    Parameters
    ----------
    text : str
        The file; comma, semicolon or tab between columns.
    columns, required : sequence of str
        The columns there may be, and those that must be there.
    understand : callable
        Makes one row of its cells, stripped, missing columns empty; `InputError` refuses the row.
    what : str
        What a row is, for the message about an empty file.

    Returns
    -------
    tuple
        The rows in file order; empty lines are skipped.

    Raises
    ------
    ReadingsFileError
        With every bad row; nothing of the file may then be used.
    """
    first_line = text.partition("\n")[0]
    delimiter = max(",;\t", key=first_line.count)
    reader = csv.DictReader(io.StringIO(text, newline=""), delimiter=delimiter, restkey="", strict=True)
    start = 1
    try:
        header = [(name or "").strip().lower() for name in reader.fieldnames or ()]
        reader.fieldnames = header
        _check_header(header, columns, required)
        start = reader.line_num + 1
        rows = []
        for row in reader:
            rows.append((start, row))
            start = reader.line_num + 1
            if len(rows) > MOST_ROWS:
                raise ReadingsFileError(
                    [RowProblem(rows[-1][0], f"is row {len(rows)}. Expected at most {MOST_ROWS}: split the file.")]
                )
    except csv.Error as error:  # an unclosed quote runs to the end of the file: its row begins here
        raise ReadingsFileError([RowProblem(start, f"is no CSV: {error}.")]) from error
    if not rows:
        raise ReadingsFileError([RowProblem(1, f"has a header but no {what} below it.")])
    problems: list[RowProblem] = []
    understood: list[Row] = []
    for line, raw in rows:
        cells = {name: (raw.get(name) or "").strip() for name in columns}
        if not any(cells.values()):
            continue
        try:
            if "" in raw:
                raise InputError("has more cells than the header (a decimal comma needs quotes around it)")
            for name, cell in cells.items():
                if code := bad_character(cell):
                    raise InputError(f"{name} holds the control character {code}. Delete it")
            understood.append(understand(cells))
        except InputError as error:
            problems.append(RowProblem(line, "; ".join(str(error).splitlines())))
    if problems:
        raise ReadingsFileError(problems)
    return tuple(understood)


def write_rows(columns: Sequence[str], rows: Iterable[Mapping[str, str]]) -> str:
    """The file for these rows, each a mapping with the columns as keys."""
    out = io.StringIO(newline="")
    writer = csv.DictWriter(out, columns, lineterminator="\n")
    writer.writeheader()
    writer.writerows(rows)
    return out.getvalue()


def _check_header(header: list[str], columns: Sequence[str], required: Sequence[str]) -> None:
    problems = [f"has no column {name}" for name in required if name not in header]
    problems += [f"has an unknown column “{name}”" for name in header if name not in columns]
    problems += [f"has the column {name} twice" for name in columns if header.count(name) > 1]
    if problems:
        known = ", ".join(columns)
        raise ReadingsFileError([RowProblem(1, f"{problem}. Columns are: {known}.") for problem in problems])
