"""Every form of a reading that the open format lists, and the refusals."""

from __future__ import annotations

import pytest
from hypothesis import given
from hypothesis import strategies as st

from electrics.errors import ReadingError
from electrics.formats.reading_text import Reading, Word, parse_reading
from electrics.vocabulary import Instrument

I = Instrument  # noqa: E741  the table below is read by columns


@pytest.mark.parametrize(
    ("text", "instrument", "low", "high", "unit"),
    [
        ("12.4", I.DMM, 12.4, 12.4, "V"),
        ("12.4 V", I.DMM, 12.4, 12.4, "V"),
        ("12,4V", I.DMM, 12.4, 12.4, "V"),
        ("-12.4", I.DMM, -12.4, -12.4, "V"),
        ("−12.4", I.DMM, -12.4, -12.4, "V"),
        ("340 mV", I.DMM, 0.34, 0.34, "V"),
        (".5", I.DMM, 0.5, 0.5, "V"),
        ("0-12", I.DMM, 0.0, 12.0, "V"),
        ("0–12 V", I.DMM, 0.0, 12.0, "V"),
        ("0..12 V", I.DMM, 0.0, 12.0, "V"),
        ("12 .. 0", I.DMM, 0.0, 12.0, "V"),
        ("-0,1..12,4", I.DMM, -0.1, 12.4, "V"),
        ("0.4 ohm", I.OHMS, 0.4, 0.4, "ohm"),
        ("1.2k", I.OHMS, 1200.0, 1200.0, "ohm"),
        ("4 Ω", I.OHMS, 4.0, 4.0, "ohm"),
        ("2 M", I.OHMS, 2e6, 2e6, "ohm"),
        ("1.8 A", I.CLAMP, 1.8, 1.8, "A"),
        ("180 mA", I.CLAMP, 0.18, 0.18, "A"),
        ("120 Hz", I.HERTZ, 120.0, 120.0, "Hz"),
        ("22 %", I.HERTZ, 22.0, 22.0, "%"),
        ("92 /min", I.HERTZ, 92.0, 92.0, "/min"),
        ("85 C", I.THERMOMETER, 85.0, 85.0, "C"),
        ("85 °C", I.THERMOMETER, 85.0, 85.0, "C"),
        ("0.12", I.LOADED_DROP, 0.12, 0.12, "V"),
    ],
)
def test_numbers_are_read_as_a_person_writes_them(text, instrument, low, high, unit):
    reading = parse_reading(text, instrument)
    assert (reading.low, reading.high, reading.unit) == (pytest.approx(low), pytest.approx(high), unit)


@pytest.mark.parametrize(
    ("text", "instrument", "word"),
    [
        *[(text, I.TEST_LAMP, Word.ON) for text in ("on", "lit", "bright", "LIT")],
        ("dim", I.TEST_LAMP, Word.DIM),
        *[(text, I.TEST_LAMP, Word.OFF) for text in ("off", "dark")],
        *[(text, I.DMM, Word.FLASH) for text in ("flash", "flashing", "Blinking")],
        *[(text, I.LED_PROBE, Word.RED) for text in ("red", "positive", "+")],
        *[(text, I.LED_PROBE, Word.GREEN) for text in ("green", "ground", "gnd", "-")],
        ("red/green", I.LED_PROBE, Word.RED_GREEN),
        ("red / none", I.LED_PROBE, Word.RED_NONE),
        *[(text, I.LED_PROBE, Word.BOTH) for text in ("both", "orange")],
        ("none", I.LED_PROBE, Word.NONE),
        *[(text, I.OHMS, Word.OPEN) for text in ("OL", "open", "float")],
    ],
)
def test_words_have_one_meaning_each(text, instrument, word):
    assert parse_reading(text, instrument) == Reading(word=word)


@pytest.mark.parametrize(
    ("text", "instrument", "complaint"),
    [
        ("12.4 A", I.DMM, "is in A, which this instrument does not measure"),
        ("0.4 ohm", I.DMM, "is in ohm"),
        ("12 V", I.OHMS, "is in V"),
        ("red", I.DMM, "nothing the meter on volts DC can show"),
        ("12.4", I.LED_PROBE, "nothing the led probe can show"),
        ("0-12", I.OHMS, "swings"),
        ("-3", I.OHMS, "out of any range"),
        ("1240", I.DMM, "is the point missing"),
        ("12.4.1", I.DMM, "cannot be read"),
        ("about 12", I.DMM, "cannot be read"),
        ("", I.DMM, r"\(nothing\)"),
        ("nan", I.DMM, "cannot be read"),
        ("12 furlong", I.DMM, "unknown unit"),
    ],
)
def test_what_an_instrument_cannot_show_is_refused_with_what_was_expected(text, instrument, complaint):
    with pytest.raises(ReadingError, match=complaint) as caught:
        parse_reading(text, instrument)
    assert caught.value.expected in str(caught.value)


@given(st.text(max_size=12), st.sampled_from(list(Instrument)))
def test_any_text_is_read_or_refused_and_never_breaks(text, instrument):
    try:
        reading = parse_reading(text, instrument)
    except ReadingError as error:
        assert error.expected
    else:
        assert reading.low <= reading.high


@given(st.floats(-60, 60).map(lambda x: round(x, 2)))
def test_a_comma_is_the_point(value):
    assert parse_reading(f"{value:.2f}".replace(".", ",")) == parse_reading(f"{value:.2f}")
