"""Reads one reading as a person would write it: `12.4`, `340 mV`, `0-12`, `lit`, `red/green`, `OL`.

A reading is a number, a swinging display (two numbers) or a word. Which units and words make sense
depends on the instrument; what it cannot show is refused with what was expected, because a wrong
unit usually means that the wrong instrument is selected.
"""

from __future__ import annotations

import re
from dataclasses import dataclass, field
from enum import StrEnum
from functools import lru_cache

from electrics.errors import ReadingError
from electrics.vocabulary import Instrument

__all__ = ["Reading", "Word", "expected_from", "parse_reading"]


class Word(StrEnum):
    """What an instrument shows when it shows no number, in one spelling each."""

    ON = "on"
    DIM = "dim"
    OFF = "off"
    FLASH = "flash"
    RED = "red"
    GREEN = "green"
    RED_GREEN = "red/green"
    RED_NONE = "red/none"
    BOTH = "both"
    NONE = "none"
    OPEN = "OL"


@dataclass(frozen=True)
class Reading:
    """One reading, in SI units.

    Attributes
    ----------
    low, high : float
        The number shown, twice; or the ends of a swinging display. In the unit of `unit`; 0 for a word.
    unit : str
        `V`, `ohm`, `A`, `Hz`, `%`, `/min` or `C`; empty for a word.
    word : Word or None
        Set when the display shows no number.
    step : float
        The last digit of a loaded drop, which few other readings hang on: `0.0 V` is anything under 0.05 V; else 0.
    """

    low: float = 0.0
    high: float = 0.0
    unit: str = ""
    word: Word | None = None
    step: float = field(default=0.0, repr=False)

    @property
    def is_swing(self) -> bool:
        return self.word is None and self.high != self.low

    def __str__(self) -> str:
        if self.word is not None:
            return str(self.word)
        unit = {"ohm": " Ω", "C": " °C", "%": " %"}.get(self.unit, f" {self.unit}")
        number = f"{self.low:.4g}" if not self.is_swing else f"{self.low:.4g} to {self.high:.4g}"
        return number + unit


_WORDS = {
    Word.ON: ("on", "lit", "bright"),
    Word.DIM: ("dim",),
    Word.OFF: ("off", "dark"),
    Word.FLASH: ("flash", "flashing", "blinking"),
    Word.RED: ("red", "positive", "+"),
    Word.GREEN: ("green", "ground", "gnd", "-"),
    Word.RED_GREEN: ("red/green", "green/red"),
    Word.RED_NONE: ("red/none", "none/red"),
    Word.BOTH: ("both", "orange"),
    Word.NONE: ("none",),
    Word.OPEN: ("ol", "open", "float", "o.l", "o.l."),
}
_WORD_OF = {spelling: word for word, spellings in _WORDS.items() for spelling in spellings}

_UNITS = {
    "v": ("V", 1.0),
    "mv": ("V", 1e-3),
    "ohm": ("ohm", 1.0),
    "ohms": ("ohm", 1.0),
    "ω": ("ohm", 1.0),
    "r": ("ohm", 1.0),
    "k": ("ohm", 1e3),
    "kohm": ("ohm", 1e3),
    "kω": ("ohm", 1e3),
    "a": ("A", 1.0),
    "ma": ("A", 1e-3),
    "hz": ("Hz", 1.0),
    "khz": ("Hz", 1e3),
    "%": ("%", 1.0),
    "/min": ("/min", 1.0),
    "c": ("C", 1.0),
    "°c": ("C", 1.0),
}
_MEGA = {"M", "Mohm", "MOhm", "MΩ", "Mω"}


@dataclass(frozen=True)
class _Scale:
    """What one instrument can show: its units (the first when none is typed), words and limits."""

    units: tuple[str, ...]
    words: tuple[Word, ...]
    low: float
    high: float
    swings: bool
    expected: str


_LIT = (Word.ON, Word.DIM, Word.OFF, Word.FLASH)
_VOLTS = (*_LIT, Word.OPEN)
_SCALES = {
    Instrument.DMM: _Scale(("V",), _VOLTS, -100, 100, True, "volts like 12.4, 340 mV or 0-12, or flash, or OL"),
    Instrument.DMM_AC: _Scale(("V",), _VOLTS, 0, 100, True, "volts AC like 5.6 or 0.2, or OL"),
    Instrument.OHMS: _Scale(("ohm",), (Word.OPEN,), 0, 1e8, False, "ohms like 0.4, 1.2k or 4 Ω, or OL"),
    Instrument.HERTZ: _Scale(
        ("Hz", "%", "/min"),
        (Word.NONE, Word.FLASH, Word.OPEN),
        0,
        1e6,
        True,
        "120 Hz, 22 %, 92 /min or none",
    ),
    Instrument.CLAMP: _Scale(
        ("A",),
        (Word.ON, Word.OFF, Word.FLASH),
        -500,
        500,
        True,
        "amps like 1.8 A or 180 mA, or how its lamp burns: on, off or flash",
    ),
    Instrument.TEST_LAMP: _Scale((), (*_LIT, Word.NONE), 0, 0, False, "lit, dim, dark or flash"),
    Instrument.TEST_LAMP_PLUS: _Scale((), (*_LIT, Word.NONE), 0, 0, False, "lit, dim, dark or flash"),
    Instrument.LED_PROBE: _Scale(
        (),
        (Word.RED, Word.GREEN, Word.RED_GREEN, Word.RED_NONE, Word.BOTH, Word.NONE, Word.OFF, Word.FLASH),
        0,
        0,
        False,
        "red, green, red/green, red/none, both or none",
    ),
    Instrument.LOADED_DROP: _Scale(("V",), (Word.OPEN,), -100, 100, False, "volts like 0.03 or 120 mV"),
    Instrument.THERMOMETER: _Scale(("C",), (), -60, 400, False, "degrees like 85 C"),
}
_SAME = {
    Instrument.LED_PROBE: {Word.OFF: Word.NONE, Word.FLASH: Word.RED_GREEN},
    Instrument.TEST_LAMP: {Word.NONE: Word.OFF},
    Instrument.TEST_LAMP_PLUS: {Word.NONE: Word.OFF},
    Instrument.HERTZ: {Word.OPEN: Word.NONE},
}

_GROUPED = re.compile(r"(?<![\d.,])([1-9]\d{0,2}),(\d{3})(?!\d)")
"""A comma that may set off thousands or be the point: `1,200`."""
_NUMBER = r"[-+]?(?:\d+(?:\.\d*)?|\.\d+)"
_ONE = re.compile(rf"({_NUMBER})\s*([^\d\s.].*)?")
_SWING = re.compile(rf"({_NUMBER})\s*(?:\.\.\.?|-|to)\s*({_NUMBER})\s*([^\d\s.].*)?")


def expected_from(instrument: Instrument) -> str:
    """What this instrument can show, in words for a refusal or a hint."""
    return _SCALES[instrument].expected


@lru_cache(maxsize=8192)
def parse_reading(text: str, instrument: Instrument = Instrument.DMM) -> Reading:
    """Read what a person typed for one instrument.

    Parameters
    ----------
    text : str
        A number with an optional unit, a swinging display or a word; a comma counts as the point.
    instrument : Instrument
        Decides the unit of a bare number and what is refused.

    Returns
    -------
    Reading
        In SI units (volts, ohms, amps, hertz; percent, per minute and degrees Celsius as they are).

    Raises
    ------
    ReadingError
        The text cannot be read, or this instrument cannot show it.

    Examples
    --------
    >>> parse_reading("340 mV")
    Reading(low=0.34, high=0.34, unit='V', word=None)
    >>> str(parse_reading("0..12 V"))
    '0 to 12 V'
    """
    scale = _SCALES[instrument]
    tidy = " ".join(text.replace("−", "-").replace("–", "-").replace("Ω", "Ω").split())
    word = _WORD_OF.get(tidy.lower().replace(" ", ""))
    if word is not None:
        word = _SAME.get(instrument, {}).get(word, word)
        if word not in scale.words:
            raise ReadingError(text, scale.expected, f"is nothing the {_name(instrument)} can show")
        return Reading(word=word)
    grouped = _GROUPED.search(tidy)
    if grouped:
        whole, rest = grouped[1], grouped[2]
        raise ReadingError(
            text, f"{whole}.{rest} or {whole}{rest}", "can mean two numbers, with the comma either way"
        )
    return _number(text, re.sub(r"(?<=\d),(?=\d)", ".", tidy), instrument, scale)


def _number(text: str, tidy: str, instrument: Instrument, scale: _Scale) -> Reading:
    match = _SWING.fullmatch(tidy)
    if match:
        low, high, unit_text = float(match[1]), float(match[2]), match[3]
    else:
        match = _ONE.fullmatch(tidy)
        if match is None:
            raise ReadingError(text, scale.expected)
        low = high = float(match[1])
        unit_text = match[2]
    if not scale.units:
        raise ReadingError(text, scale.expected, f"is nothing the {_name(instrument)} can show")
    unit, factor = _unit(text, unit_text, scale)
    low, high = sorted((low * factor, high * factor))
    if low != high and not scale.swings:
        raise ReadingError(text, scale.expected, f"swings, which the {_name(instrument)} does not")
    if not (scale.low <= low and high <= scale.high):
        raise ReadingError(text, scale.expected, "is out of any range on a vehicle (is the point missing?)")
    decimals = len(re.split(r"[^\d.]", match[1].lstrip("+-"))[0].partition(".")[2])
    step = factor * 10.0**-decimals if instrument is Instrument.LOADED_DROP else 0.0
    return Reading(low, high, unit, step=step)


def _unit(text: str, unit_text: str | None, scale: _Scale) -> tuple[str, float]:
    if not unit_text:
        return scale.units[0], 1.0
    written = unit_text.replace(" ", "")
    unit, factor = ("ohm", 1e6) if written in _MEGA else _UNITS.get(written.lower(), ("", 0.0))
    if not unit:
        raise ReadingError(text, scale.expected, f"has an unknown unit, {written}")
    if unit not in scale.units:
        raise ReadingError(text, scale.expected, f"is in {unit}, which this instrument does not measure")
    return unit, factor


def _name(instrument: Instrument) -> str:
    return {"dmm": "meter on volts DC", "dmm_ac": "meter on volts AC"}.get(instrument, instrument.replace("_", " "))
