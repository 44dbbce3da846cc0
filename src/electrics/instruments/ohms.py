"""What is measured on a dead wire: ohms, and the volts that a test lamp leaves on it."""

from __future__ import annotations

from collections.abc import Sequence
from math import isinf, log10

from electrics.formats.reading_text import Reading, Word
from electrics.instruments.condition import Condition
from electrics.instruments.display import FLOOR_DENSITY, Display, Shape, normal, uniform
from electrics.instruments.meter import AT_BATTERY, NODE, PLUS, Held, Meter, Probe
from electrics.reference.usual import system_scale
from electrics.vocabulary import Instrument, State

__all__ = ["LoadedDrop", "Ohms"]

C = Condition
W = Word
_LIVE = (*AT_BATTERY, C.CHARGING, C.PULLED_UP_LED, C.BUS_SINGLE, C.BUS_SLOW_HIGH)


class Ohms(Meter):
    """Resistance to ground on a dead circuit, as the decimal logarithm of ohms, leads included.

    A cold 21 W filament is about 0.4 ohm, two in parallel 0.2, meter leads 0.1 to 0.3: so ground and a
    21 W feed overlap, and with the lamp out the other lamps of the circuit may still be there.
    """

    instrument = Instrument.OHMS
    edges = (-0.6, -0.35, -0.1, 0.2, 0.6, 1.2, 3.0)

    def read(self, probe: Probe, states: Sequence[State | str]) -> tuple[Reading, ...]:
        from electrics.circuit.ohmmeter import ohms_between

        found = (ohms_between(probe.network, probe.node, probe.ground, state) for state in states)
        return tuple(
            Reading(word=Word.OPEN) if isinf(ohm) else Reading(*(round(ohm + LEADS_OHM, 1),) * 2, "ohm")
            for ohm in found
        )

    def axis(self, value: float, unit: str, supply_v: float) -> float:
        """Brought to 12 V: bulbs of the same watts have the square of the voltage for a resistance."""
        scale = system_scale(supply_v) ** -2
        return log10(max(min(value, LEADS_OHM) + scale * max(value - LEADS_OHM, 0.0), 0.05))

    def display(self, condition: Condition, supply_v: float) -> Display:
        if condition is C.GROUND:
            return Display((normal(0.99, -0.62, 0.2),), 0.0, {W.OPEN: 0.005})
        if condition is C.COLD_MAIN:  # 0.4 ohm and the leads' 0.2; bulbs come in numbers, side by side
            several = normal(0.3, -0.4, 0.14), normal(0.12, -0.5, 0.13)
            return Display((normal(0.55, -0.22, 0.15), *several), 0.0, {W.OPEN: 0.02})
        if condition is C.COLD_SMALL:
            several = normal(0.3, 0.04, 0.18), normal(0.17, -0.2, 0.15)
            return Display((normal(0.5, 0.38, 0.25), *several), 0.0, {W.OPEN: 0.03})
        if condition is C.COLD_BEAM:
            return Display((normal(0.5, -0.4, 0.14), normal(0.47, -0.5, 0.13)), 0.0, {W.OPEN: 0.02})
        if condition is C.TEST_LOAD:
            return Display((uniform(0.97, -0.5, 2.0),), 0.0, {W.OPEN: 0.03})
        if condition is C.LED_LAMP:
            return Display((uniform(0.4, 1.5, 7.0),), 0.0, {W.OPEN: 0.6})
        if condition is C.LAMP_OUT:
            return Display((normal(0.35, -0.1, 0.3), uniform(0.1, 0.0, 7.0)), 0.0, {W.OPEN: 0.55})
        if condition is C.FLOATING:
            return Display((uniform(0.06, 3.0, 8.0),), 0.0, {W.OPEN: 0.94})
        if condition in (C.BUS_FAST, C.BUS_SLOW_HIGH, C.BUS_SLOW_LOW):
            return Display((uniform(0.85, 1.0, 5.0),), 0.0, {W.OPEN: 0.15})
        return Display((uniform(0.6, -1.0, 7.0),), 0.0, {W.OPEN: 0.4})  # ohms on a live pin mean nothing

    def mistaken(self, supply_v: float) -> Display:
        return Display((normal(0.3, -0.5, 0.3), uniform(0.4, -1.0, 7.0)), 0.0, {W.OPEN: 0.3})


FINE = 0.05
"""Width on the axis under which a reading is as good as exact [decade]."""
LEADS_OHM = 0.2
"""What a meter's leads add [ohm] (common practice: 0.1 to 0.3)."""


class LoadedDrop(Meter):
    """Volts on the pin while a filament test lamp pulls it to battery positive, lamp circuit at rest.

    Under 10 mV is ground, 27 mV two headlamp filaments, 0.11 to 0.34 V one of 21 W (two of them a third, three
    43 mV), 1.6 to 2.4 V a tail filament (two 0.3 to 0.78, four 0.12 to 0.23, six 0.08 to 0.12), 3.5 to 5 V one of
    5 W, more an LED, battery when nothing is there (calculated for a lamp of 0.25 A on 12 V). Nobody is asked for the
    watts of the test lamp: with 0.42 A one of 21 W shows 0.24 to 0.83 V, with 2.1 A 6.3 to 7.2, two 2.7 to 3.4 V. The
    axis is the decimal logarithm of the volts brought to 12.6 V.
    """

    instrument = Instrument.LOADED_DROP
    edges = (-1.25, -0.3, 0.65, 1.065)
    puts = (("test_lamp", PLUS, NODE, {}),)

    def shows(self, phases: Sequence[Held]) -> Reading:
        volts = round(phases[0].volts, 3)
        return Reading(volts, volts, "V")

    def axis(self, value: float, unit: str, supply_v: float) -> float:
        return log10(max(abs(value) * 12.6 / supply_v, 0.003))

    def likelihood(self, reading: Reading, shown: Display, supply_v: float, shift: float = 0.0) -> float:
        """By the digits shown: the mean density over all that rounds to them."""
        if reading.word is not None or not reading.step:
            return super().likelihood(reading, shown, supply_v, shift)
        ends = (max(abs(reading.low) - reading.step / 2, 0.0), abs(reading.low) + reading.step / 2)
        low, high = (self.axis(volts, reading.unit, supply_v) for volts in ends)
        if high - low < FINE:
            return super().likelihood(reading, shown, supply_v, shift)
        inside = sum(shape.below(high) - shape.below(low) for shape in shown.numbers)
        return FLOOR_DENSITY + inside / (high - low)

    def display(self, condition: Condition, supply_v: float) -> Display:
        if condition is C.GROUND:
            return Display((normal(0.5, -2.1, 0.25), normal(0.2, -1.75, 0.25), uniform(0.3, -2.55, -1.25)))
        if condition is C.COLD_MAIN:
            several = normal(0.25, -1.22, 0.14), normal(0.05, -1.37, 0.1), normal(0.04, -1.48, 0.1)
            stronger = normal(0.06, -0.35, 0.15), uniform(0.03, 0.43, 0.86)
            return Display((normal(0.52, -0.76, 0.19), *several, *stronger, uniform(0.05, 0.65, 1.08)))
        if condition is C.COLD_SMALL:
            several = normal(0.25, -0.32, 0.14), normal(0.15, -0.78, 0.12), normal(0.05, -1.0, 0.1)
            return Display((normal(0.4, 0.27, 0.15), *several, uniform(0.15, 0.5, 1.08)))
        if condition is C.COLD_BEAM:
            return Display((normal(0.45, -1.27, 0.14), normal(0.5, -1.57, 0.14), uniform(0.05, 0.65, 1.08)))
        if condition is C.TEST_LOAD:
            return Display((uniform(1.0, -1.1, 1.08),))
        if condition is C.LED_LAMP:
            return Display((uniform(0.75, 0.65, 1.08), _all_of_it(0.24)), 0.0, {W.OPEN: 0.01})
        if condition is C.LAMP_OUT:
            return Display((_all_of_it(0.6), normal(0.38, -0.8, 0.4)), 0.0, {W.OPEN: 0.02})
        if condition in (C.FLOATING, *_LIVE):
            return Display((_all_of_it(0.9), uniform(0.08, 1.0, 1.12)), 0.0, {W.OPEN: 0.02})
        return Display((uniform(1.0, -1.0, 1.1),))

    def mistaken(self, supply_v: float) -> Display:
        return Display((uniform(0.5, -2.5, 1.1), normal(0.45, 1.09, 0.02)), 0.0, {W.OPEN: 0.05})


def _all_of_it(weight: float) -> Shape:
    """The whole battery voltage stands at the pin, because nothing pulls it down."""
    return normal(weight, 1.095, 0.01)
