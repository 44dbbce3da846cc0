"""Frequency, amps by clamp, and heat."""

from __future__ import annotations

from collections.abc import Sequence
from math import log10

from electrics.formats.reading_text import Reading, Word
from electrics.instruments.condition import BUSES, Condition
from electrics.instruments.display import Display, normal, uniform
from electrics.instruments.meter import Held, Meter, swinging
from electrics.vocabulary import Instrument

__all__ = ["Clamp", "Hertz", "Thermometer"]

C = Condition
W = Word


COUNTED_SHARE = 0.1
"""Swing from which a counter counts, of the supply [-] (estimate)."""


class Hertz(Meter):
    """Frequency or duty: pulses at about 100 to 250 Hz, a flasher at 1 to 3 Hz, else none (common practice).

    The axis is the decimal logarithm of hertz, 0.05 Hz standing for none.
    """

    instrument = Instrument.HERTZ
    edges = (-0.5, 0.7, 1.7, 2.6)

    def shows(self, phases: Sequence[Held]) -> Reading:
        hertz = max(held.hz for held in phases)
        volts = [held.volts for held in phases]
        if not hertz and max(volts) - min(volts) > COUNTED_SHARE * phases[0].supply_v:
            hertz = phases[0].flash_hz
        return Reading(round(hertz, 1), round(hertz, 1), "Hz") if hertz else Reading(word=Word.NONE)

    def axis(self, value: float, unit: str, supply_v: float) -> float:
        hertz = {"Hz": value, "/min": value / 60.0, "%": 150.0 if 0 < value < 100 else 0.0}[unit]
        return log10(max(hertz, 0.05))

    def display(self, condition: Condition, supply_v: float) -> Display:
        none = normal(0.5, -1.3, 0.1)
        if condition in (C.PART, C.VARYING):
            return Display((normal(0.9, 2.2, 0.25), uniform(0.06, 1.0, 4.0)), 0.0, {W.NONE: 0.04})
        if condition is C.FLASH:
            return Display((normal(0.55, 0.2, 0.15), normal(0.2, -1.3, 0.1)), 0.0, {W.FLASH: 0.15, W.NONE: 0.1})
        if condition in BUSES:
            return Display((uniform(0.85, 1.0, 6.0),), 0.0, {W.NONE: 0.15})
        return Display((none, uniform(0.03, -1.0, 4.0)), 0.0, {W.NONE: 0.47})

    def mistaken(self, supply_v: float) -> Display:
        return Display((normal(0.4, -1.3, 0.1), uniform(0.3, -0.5, 3.0)), 0.0, {W.NONE: 0.3})


LEAST_SWING_A = 0.05
"""Current by which a clamp is seen to jump [A] (estimate)."""


class Clamp(Meter):
    """Amps in the wire, lamp in: something when lit, nothing when not; a ground carries every lamp's return."""

    instrument = Instrument.CLAMP
    most_repeats = 1.0  # what carries nothing carries nothing again
    edges = (0.04, 0.3, 1.0, 3.0)

    def shows(self, phases: Sequence[Held]) -> Reading:
        return swinging([round(held.amps, 2) for held in phases], "A", LEAST_SWING_A)

    def axis(self, value: float, unit: str, supply_v: float) -> float:
        return abs(value)

    def swings(self, reading: Reading, supply_v: float) -> bool:
        return reading.high > 3 * max(abs(reading.low), 0.02)

    def display(self, condition: Condition, supply_v: float) -> Display:
        none = normal(0.93, 0.0, 0.02)
        if condition in (C.PART, C.VARYING):  # a dimmed LED lamp takes a few hundredths of an amp
            return Display((uniform(0.6, 0.02, 1.5), normal(0.35, 0.0, 0.03)), 0.0, {W.ON: 0.05})
        if condition in (C.BATTERY, C.CHARGING):  # a battery feed with nothing switched on behind it carries nothing
            lit = (uniform(0.4, 0.02, 2.5), uniform(0.23, 0.02, 8.0), normal(0.3, 0.0, 0.02))
            return Display(lit, 0.0, {W.ON: 0.07})
        if condition is C.FLASH:
            return Display((uniform(0.3, 0.0, 4.0),), 0.55, {W.FLASH: 0.15})
        if condition in (C.BETWEEN_LIT, C.BETWEEN_FED_BACK):  # a small lamp, dark in one of the phases
            return Display((uniform(0.3, 0.0, 0.5),), 0.45, {W.FLASH: 0.25})
        if condition is C.GROUND:
            return Display((normal(0.5, 0.0, 0.02), uniform(0.5, 0.0, 8.0)))
        return Display((none, uniform(0.02, 0.0, 2.0)), 0.0, {W.OFF: 0.05})

    def mistaken(self, supply_v: float) -> Display:
        return Display((normal(0.5, 0.0, 0.02), uniform(0.4, 0.0, 5.0)), 0.05, {W.OFF: 0.05})


class Thermometer(Meter):
    """Heat says nothing about what a wire does; the reading is kept and not weighed."""

    instrument = Instrument.THERMOMETER
    is_evidence = False
