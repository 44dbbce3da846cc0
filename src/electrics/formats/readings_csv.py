"""The readings file: CSV with a header, columns in any order (contract in docs/formats/readings.md).

Refused whole when any row is bad, with every bad row listed; so a caller stores all of it or nothing.
"""

from __future__ import annotations

from collections.abc import Iterable, Mapping
from dataclasses import dataclass
from enum import StrEnum
from typing import TypeVar

from electrics.errors import InputError, ReadingError
from electrics.formats.colour import parse_colour
from electrics.formats.csv_rows import understand_rows, write_rows
from electrics.formats.json_file import check_values
from electrics.formats.limits import MOST_PINS, MOST_PLACES
from electrics.formats.reading_text import Reading, parse_reading
from electrics.vocabulary import DEFAULT_SUPPLY_V, Function, Instrument, Load, State, parse_state

__all__ = ["COLUMNS", "ReadingRow", "parse_supply_v", "read_readings", "write_readings"]

COLUMNS = (
    "access_point",
    "pin",
    "colour",
    "state",
    "instrument",
    "reading",
    "load",
    "supply",
    "against",
    "note",
    "claim",
    "claim_from",
)
Choice = TypeVar("Choice", bound=StrEnum)
REQUIRED = ("pin", "state", "reading")
LONGEST_NAME = 60
SUPPLY_LIMITS_V = (4.5, 32.0)
"""Battery voltages of any 6, 12 or 24 V system, flat to charging (common practice)."""


@dataclass(frozen=True)
class ReadingRow:
    """One row of a readings file, understood.

    Attributes
    ----------
    text : str
        The reading as it was written.
    supply_v : float
        Battery voltage at that time [V].
    against : str
        Second pin, empty when read against proven ground.
    claim, claim_from : Function or None, str
        What somebody says the wire does before it is measured, and who.
    """

    access_point: str
    pin: str
    colour: str
    state: State
    instrument: Instrument
    text: str
    reading: Reading
    load: Load
    supply_v: float
    against: str
    note: str
    claim: Function | None = None
    claim_from: str = ""


def read_readings(text: str) -> tuple[ReadingRow, ...]:
    """Read a whole readings file.

    Parameters
    ----------
    text : str
        The file; comma, semicolon or tab between columns.

    Returns
    -------
    tuple of ReadingRow
        In file order.

    Raises
    ------
    ReadingsFileError
        With every bad row; nothing of the file may then be used.
    """
    colours: dict[tuple[str, str], str] = {}
    places: dict[str, set[str]] = {}
    supply_v: float | None = None

    def understand(cells: dict[str, str]) -> ReadingRow:
        nonlocal supply_v
        row, supply_v = _row(cells, supply_v)
        pins = places.setdefault(row.access_point, set())
        pins |= {row.pin, *filter(None, (row.against,))}
        if len(places) > MOST_PLACES:
            raise InputError(f"{row.access_point} is place {len(places)}. Expected at most {MOST_PLACES}")
        if len(pins) > MOST_PINS:
            raise InputError(f"pin {row.pin} is number {len(pins)} there. Expected at most {MOST_PINS}")
        seen = colours.setdefault((row.access_point, row.pin), row.colour)
        if row.colour and seen and row.colour != seen:
            raise InputError(f"pin {row.pin} is {row.colour} here and {seen} further up")
        if row.colour:
            colours[row.access_point, row.pin] = row.colour
        return row

    return understand_rows(text, COLUMNS, REQUIRED, understand, what="readings")


def parse_supply_v(text: str) -> float:
    """Read a battery voltage [V].

    Raises
    ------
    InputError
        No steady voltage that a 6, 12 or 24 V battery can have.
    """
    low, high = SUPPLY_LIMITS_V
    try:
        supply = parse_reading(text, Instrument.DMM)
    except ReadingError:
        supply = None
    if supply is None or supply.word is not None or supply.is_swing or not low <= supply.low <= high:
        raise InputError(f"supply “{text}” is no battery voltage. Expected {low:g} to {high:g} V")
    return supply.low


def write_readings(rows: Iterable[Mapping[str, str]]) -> str:
    """The file for these rows, each a mapping with the keys of `COLUMNS`."""
    return write_rows(COLUMNS, rows)


def _row(cells: dict[str, str], last_supply_v: float | None) -> tuple[ReadingRow, float | None]:
    complaints = [f"{name} is empty" for name in REQUIRED if not cells[name]]
    complaints += [
        f"{name} is longer than {LONGEST_NAME} characters"
        for name in ("access_point", "pin", "colour", "against", "claim_from")
        if len(cells[name]) > LONGEST_NAME
    ]
    if complaints:
        raise InputError("; ".join(complaints))
    check_values(cells, "readings-row")
    if cells["against"] == cells["pin"]:
        raise InputError(f"pin {cells['pin']} is read against itself")
    instrument = _choice(Instrument, cells["instrument"] or Instrument.DMM, "instrument")
    reading = parse_reading(cells["reading"], instrument)
    supply_v = parse_supply_v(cells["supply"]) if cells["supply"] else last_supply_v
    row = ReadingRow(
        access_point=cells["access_point"] or "main",
        pin=cells["pin"],
        colour=parse_colour(cells["colour"]).text,
        state=parse_state(cells["state"]),
        instrument=instrument,
        text=cells["reading"],
        reading=reading,
        load=_choice(Load, cells["load"] or Load.IN, "load"),
        supply_v=supply_v if supply_v is not None else _default_supply_v(reading),
        against=cells["against"],
        note=cells["note"],
        claim=_choice(Function, cells["claim"].replace(" ", "_"), "claim") if cells["claim"] else None,
        claim_from=cells["claim_from"],
    )
    return row, supply_v


def _choice(kind: type[Choice], text: str, column: str) -> Choice:
    try:
        return kind(text.lower())
    except ValueError:
        raise InputError(f"{column} “{text}” is unknown. Expected one of: {', '.join(kind)}") from None


def _default_supply_v(reading: Reading) -> float:
    is_24 = reading.unit == "V" and reading.high > 18.0
    return DEFAULT_SUPPLY_V[24 if is_24 else 12]
