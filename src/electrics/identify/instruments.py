"""What each instrument shows in each condition, and what it shows when a mistake was made.

One small class per instrument; a new one is one more class in `INSTRUMENTS`. Weights and spreads are our
estimates around the facts of the trade that each table names (common practice unless a standard stands
there). Voltages are taken relative to the battery voltage of the moment, so 6, 12 and 24 V read alike.
"""

from __future__ import annotations

from functools import lru_cache
from math import log10

from electrics.formats.reading_text import Reading, Word
from electrics.identify.conditions import AFLOAT, BUSES, FEED_OFF, Condition
from electrics.identify.display import Display, Shape, blend, normal, uniform
from electrics.vocabulary import Instrument

__all__ = ["FED_BACK", "INSTRUMENTS", "SAG_SPREAD", "Meter", "meter_for", "shown_in"]

C = Condition
W = Word

_AT_BATTERY = (C.BATTERY, C.PULLED_UP, C.BETWEEN_LIT)
_LIVE = (*_AT_BATTERY, C.CHARGING, C.PULLED_UP_LED, C.BUS_SINGLE, C.BUS_SLOW_HIGH)


class Meter:
    """One instrument: its axis, its displays, and the borders that tell outcomes apart when planning."""

    instrument: Instrument
    edges: tuple[float, ...] = ()
    is_evidence = True

    def axis(self, value: float, unit: str, supply_v: float) -> float:
        """A number shown, on the axis of the displays."""
        return value

    def swings(self, reading: Reading, supply_v: float) -> bool:
        """Whether a display jumps as a flasher makes it: a slow meter neither falls to nothing nor rises to the
        battery, so it goes by how far the two ends lie apart."""
        return reading.high > 0.25 * supply_v and reading.low < 0.6 * reading.high

    def display(self, condition: Condition, supply_v: float) -> Display:
        raise KeyError(condition)

    def mistaken(self, supply_v: float) -> Display:
        """What stands there when the wrong pin was probed, the control was off or the probe did not touch."""
        raise KeyError(self.instrument)

    def likelihood(self, reading: Reading, shown: Display, supply_v: float, shift: float = 0.0) -> float:
        """How likely the reading is under a display; `shift` is added to a number first [axis]."""
        if reading.word is not None:
            return shown.mass(reading.word)
        if reading.is_swing and self.swings(reading, supply_v):
            return shown.mass(None)
        middle = (reading.low + reading.high) / 2
        return shown.density(self.axis(middle, reading.unit, supply_v) + shift)


def _zero(weight: float) -> tuple[Shape, ...]:
    """Under 0.3 V on a 12 V system is nothing (common practice)."""
    return normal(0.85 * weight, 0.0, 0.006), uniform(0.15 * weight, -0.025, 0.03)


def _battery(weight: float) -> tuple[Shape, ...]:
    """A loaded feed loses up to half a volt on the way (common practice)."""
    return normal(0.75 * weight, 0.972, 0.012), uniform(0.25 * weight, 0.87, 1.04)


def _charging(weight: float) -> tuple[Shape, ...]:
    """12.2 to 15.0 V with the engine running, against 12.6 V at rest (common practice)."""
    return (*_battery(0.4 * weight), uniform(0.6 * weight, 0.95, 1.22))


class VoltsDC(Meter):
    """A 10 MOhm meter: sees ghosts on a floating wire, the average of pulses, and jumps with a flasher."""

    instrument = Instrument.DMM
    edges = (-0.05, 0.025, 0.06, 0.12, 0.2, 0.3, 0.45, 0.65, 0.85, 0.95, 1.0, 1.1)

    def axis(self, value: float, unit: str, supply_v: float) -> float:
        return value / supply_v

    def likelihood(self, reading: Reading, shown: Display, supply_v: float, shift: float = 0.0) -> float:
        straight = super().likelihood(reading, shown, supply_v, shift)
        if reading.word is not None or reading.is_swing:
            return straight
        turned = shown.density(-self.axis(reading.low, reading.unit, supply_v) + shift)
        return 0.98 * straight + 0.02 * turned  # leads the wrong way round

    def display(self, condition: Condition, supply_v: float) -> Display:
        return _volts_dc(condition, supply_v)

    def mistaken(self, supply_v: float) -> Display:
        return Display((*_zero(0.45), *_battery(0.3), uniform(0.12, 0.0, 1.05)), 0.09, {W.FLASH: 0.02, W.OPEN: 0.02})


FED_BACK = (0.1, 0.95)
"""What another circuit's current by the wrong road makes of a feed that is off, of the supply [-]."""


@lru_cache(maxsize=1024)
def _volts_dc(condition: Condition, supply_v: float) -> Display:
    if condition is C.GROUND:  # a bad one is lifted by what flows through it
        return Display((*_zero(0.97), uniform(0.015, 0.02, 0.15)), 0.0, {W.OFF: 0.01, W.OPEN: 0.005})
    if condition in FEED_OFF:  # now and then another circuit feeds it back
        fed_back = uniform(0.01, *FED_BACK)
        return Display((*_zero(0.955), uniform(0.015, 0.0, 0.1), fed_back), 0.0, {W.OFF: 0.015, W.OPEN: 0.005})
    if condition in AFLOAT:  # ghosts; a lamp test may hold it anywhere from 3 V to battery
        return Display(
            (*_zero(0.42), uniform(0.22, 0.0, 0.1), uniform(0.14, 0.0, 0.3), uniform(0.12, 0.0, 1.02)),
            0.0,
            {W.OPEN: 0.08, W.OFF: 0.02},
        )
    if condition in _AT_BATTERY:  # nobody has to say that the engine runs
        return Display((*_battery(0.92), uniform(0.04, 0.95, 1.22), uniform(0.01, 0.3, 0.95)), 0.0, {W.ON: 0.03})
    if condition is C.PULLED_UP_LED:  # an LED lamp drops its own threshold on the way
        return Display((*_battery(0.4), uniform(0.5, 0.3, 1.02), *_zero(0.08)), 0.0, {W.ON: 0.01, W.OPEN: 0.01})
    if condition is C.BETWEEN_FED_BACK:  # through filaments next to nothing is left, through LED tail lamps all of it
        return Display((*_zero(0.65), uniform(0.2, 0.0, 0.15)), 0.13, {W.FLASH: 0.02})
    if condition is C.CHARGING:
        return Display((*_charging(0.96), uniform(0.01, 0.3, 0.95)), 0.0, {W.ON: 0.03})
    if condition is C.FLASH:
        return Display((uniform(0.09, 0.0, 1.02), *_battery(0.04), *_zero(0.02)), 0.7, {W.FLASH: 0.15})
    if condition is C.PART:  # 2.5 to 3.5 V for a dimmed 21 W filament, 0.5 to 2 V for LEDs, never over 8 V
        return Display((uniform(0.45, 0.03, 0.3), uniform(0.5, 0.15, 0.63)), 0.01, {W.DIM: 0.04})
    if condition is C.VARYING:
        return Display((uniform(0.84, 0.02, 1.0),), 0.12, {W.DIM: 0.03, W.FLASH: 0.01})
    if condition is C.BUS_FAST:  # recessive level near 2.5 V, 1.5 to 3.5 V busy (ISO 11898-2)
        return Display((normal(0.9, 2.5 / supply_v, 0.3 / supply_v), uniform(0.1, 1.0 / supply_v, 4.0 / supply_v)))
    if condition is C.BUS_SINGLE:  # rests near battery and dips (ISO 17987)
        return Display((*_battery(0.45), uniform(0.45, 0.55, 0.97)), 0.08, {W.ON: 0.02})
    if condition is C.BUS_SLOW_HIGH:
        return Display((uniform(0.98, 0.7, 1.0),), 0.02)
    return Display((*_zero(0.5), uniform(0.5, 0.0, 0.1)))


class VoltsAC(Meter):
    """Volts AC: sees pulses and the flasher, little else."""

    instrument = Instrument.DMM_AC
    edges = (0.02, 0.05, 0.15, 0.4)

    def axis(self, value: float, unit: str, supply_v: float) -> float:
        return value / supply_v

    def display(self, condition: Condition, supply_v: float) -> Display:
        if condition is C.PART:
            return Display((uniform(0.97, 0.03, 0.6),), 0.02, {W.ON: 0.01})
        if condition is C.FLASH:
            return Display((uniform(0.4, 0.0, 0.6),), 0.45, {W.FLASH: 0.15})
        if condition in (C.VARYING, C.BUS_FAST, C.BUS_SINGLE, *AFLOAT):
            return Display((*_zero(0.6), uniform(0.38, 0.0, 0.3)), 0.0, {W.OPEN: 0.02})
        return Display((*_zero(0.93), uniform(0.05, 0.0, 0.1)), 0.0, {W.OFF: 0.02})

    def mistaken(self, supply_v: float) -> Display:
        return Display((*_zero(0.7), uniform(0.2, 0.0, 0.6)), 0.05, {W.FLASH: 0.03, W.OPEN: 0.02})


class Ohms(Meter):
    """Resistance to ground on a dead circuit, as the decimal logarithm of ohms, leads included.

    A cold 21 W filament is about 0.4 ohm, two in parallel 0.2, meter leads 0.1 to 0.3: so ground and a
    21 W feed overlap, and with the lamp out the other lamps of the circuit may still be there.
    """

    instrument = Instrument.OHMS
    edges = (-0.6, -0.35, -0.1, 0.2, 0.6, 1.2, 3.0)

    def axis(self, value: float, unit: str, supply_v: float) -> float:
        return log10(max(value, 0.05))

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

    def axis(self, value: float, unit: str, supply_v: float) -> float:
        return log10(max(abs(value) * 12.6 / supply_v, 0.003))

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


class LedProbe(Meter):
    """A powered two-colour probe: red on positive, green on ground, dark on nothing.

    It shows *ground* on the resting feed of a filament lamp, because the cold filament is a path to ground.
    """

    instrument = Instrument.LED_PROBE

    def display(self, condition: Condition, supply_v: float) -> Display:
        if condition in (C.GROUND, *FEED_OFF):
            return Display(words={W.GREEN: 0.97, W.NONE: 0.02, W.BOTH: 0.005})
        if condition is C.BETWEEN_FED_BACK:
            return Display(words={W.GREEN: 0.8, W.RED_GREEN: 0.15, W.NONE: 0.05})
        if condition is C.PULLED_UP_LED:
            return Display(words={W.RED: 0.72, W.NONE: 0.25, W.BOTH: 0.03})
        if condition in AFLOAT:
            return Display(words={W.NONE: 0.88, W.GREEN: 0.07, W.RED: 0.04, W.BOTH: 0.01})
        if condition in (*_AT_BATTERY, C.CHARGING):
            return Display(words={W.RED: 0.97, W.NONE: 0.02})
        if condition is C.FLASH:
            return Display(words={W.RED_GREEN: 0.72, W.RED_NONE: 0.16, W.RED: 0.06, W.GREEN: 0.03, W.BOTH: 0.03})
        if condition is C.PART:
            return Display(words={W.BOTH: 0.6, W.RED: 0.25, W.RED_GREEN: 0.08, W.GREEN: 0.05})
        if condition is C.VARYING:
            return Display(words={W.RED: 0.55, W.BOTH: 0.25, W.GREEN: 0.1, W.RED_GREEN: 0.05, W.NONE: 0.05})
        if condition in (C.BUS_SINGLE, C.BUS_SLOW_HIGH):
            return Display(words={W.RED: 0.75, W.BOTH: 0.15, W.NONE: 0.1})
        return Display(words={W.NONE: 0.5, W.BOTH: 0.25, W.RED: 0.15, W.GREEN: 0.1})

    def mistaken(self, supply_v: float) -> Display:
        return Display(words={W.GREEN: 0.35, W.RED: 0.25, W.NONE: 0.25, W.RED_GREEN: 0.1, W.BOTH: 0.05})


class FilamentLamp(Meter):
    """A filament lamp of about 0.25 A clipped to ground: needs a real source, so it sees no ghosts."""

    instrument = Instrument.TEST_LAMP

    def display(self, condition: Condition, supply_v: float) -> Display:
        if condition in (C.BATTERY, C.CHARGING, C.BETWEEN_LIT):
            return Display(words={W.ON: 0.96, W.DIM: 0.02, W.OFF: 0.02})
        if condition is C.PULLED_UP:  # 94 % of its light through a cold 21 W filament, less through a small one
            return Display(words={W.ON: 0.8, W.DIM: 0.18, W.OFF: 0.02})
        if condition is C.FLASH:
            return Display(words={W.FLASH: 0.92, W.ON: 0.05, W.OFF: 0.02})
        if condition is C.PART:
            return Display(words={W.DIM: 0.9, W.OFF: 0.05, W.ON: 0.03, W.FLASH: 0.02})
        if condition is C.VARYING:
            return Display(words={W.DIM: 0.6, W.ON: 0.25, W.FLASH: 0.05, W.OFF: 0.1})
        return Display(words={W.OFF: 0.98, W.DIM: 0.01, W.ON: 0.005})

    def mistaken(self, supply_v: float) -> Display:
        return Display(words={W.OFF: 0.6, W.ON: 0.25, W.FLASH: 0.1, W.DIM: 0.05})


class FilamentLampPlus(FilamentLamp):
    """The same lamp clipped to battery positive: lights on ground, and as well through a cold filament."""

    instrument = Instrument.TEST_LAMP_PLUS

    def display(self, condition: Condition, supply_v: float) -> Display:
        if condition is C.GROUND:
            return Display(words={W.ON: 0.98, W.OFF: 0.02})
        if condition in (C.COLD_MAIN, C.COLD_BEAM):
            return Display(words={W.ON: 0.95, W.DIM: 0.03, W.OFF: 0.02})
        if condition in (C.COLD_SMALL, C.TEST_LOAD, C.BETWEEN_FED_BACK):
            return Display(words={W.ON: 0.6, W.DIM: 0.35, W.OFF: 0.05})
        if condition is C.LAMP_OUT:
            return Display(words={W.OFF: 0.6, W.ON: 0.3, W.DIM: 0.1})
        if condition is C.FLASH:
            return Display(words={W.FLASH: 0.85, W.ON: 0.05, W.OFF: 0.1})
        if condition in (C.PART, C.VARYING):
            return Display(words={W.DIM: 0.6, W.ON: 0.3, W.OFF: 0.1})
        return Display(words={W.OFF: 0.95, W.DIM: 0.05})


class Hertz(Meter):
    """Frequency or duty: pulses at about 100 to 250 Hz, a flasher at 1 to 3 Hz, else none (common practice).

    The axis is the decimal logarithm of hertz, 0.05 Hz standing for none.
    """

    instrument = Instrument.HERTZ
    edges = (-0.5, 0.7, 1.7, 2.6)

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


class Clamp(Meter):
    """Amps in the wire, lamp in: something when lit, nothing when not; a ground carries every lamp's return."""

    instrument = Instrument.CLAMP
    edges = (0.04, 0.3, 1.0, 3.0)

    def axis(self, value: float, unit: str, supply_v: float) -> float:
        return abs(value)

    def swings(self, reading: Reading, supply_v: float) -> bool:
        return reading.high > 3 * max(abs(reading.low), 0.02)

    def display(self, condition: Condition, supply_v: float) -> Display:
        none = normal(0.93, 0.0, 0.02)
        if condition in (C.BATTERY, C.CHARGING, C.PART, C.VARYING):
            lit = (uniform(0.5, 0.02, 2.5), uniform(0.33, 0.02, 8.0), normal(0.1, 0.0, 0.02))
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


INSTRUMENTS: dict[Instrument, Meter] = {
    meter.instrument: meter
    for meter in (
        VoltsDC(),
        VoltsAC(),
        Ohms(),
        Hertz(),
        Clamp(),
        FilamentLamp(),
        FilamentLampPlus(),
        LedProbe(),
        LoadedDrop(),
        Thermometer(),
    )
}


def meter_for(instrument: Instrument) -> Meter:
    """The model of one instrument."""
    return INSTRUMENTS[instrument]


@lru_cache(maxsize=8192)
def shown_in(
    instrument: Instrument, where: tuple[tuple[Condition, float], ...], supply_v: float, sag: float = 0.0
) -> Display:
    """What an instrument shows on a pin whose condition is known only by weights.

    `sag` is the share of the supply that this wire's feed brings while it is on, where it loses more than a sound
    one does [-]; 0 for a sound one.
    """
    meter = INSTRUMENTS[instrument]
    shown = {condition: meter.display(condition, supply_v) for condition, _ in where}
    if sag and instrument is Instrument.DMM and C.BATTERY in shown:
        shown[C.BATTERY] = Display((normal(0.92, sag, SAG_SPREAD), uniform(0.05, 0.3, 1.04)), 0.0, {W.ON: 0.03})
    return blend(*((weight, shown[condition]) for condition, weight in where))


SAG_SPREAD = 0.02
"""How alike the readings of one tired feed are, of the supply [-] (estimate)."""
