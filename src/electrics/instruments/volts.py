"""The voltmeter, DC and AC."""

from __future__ import annotations

from collections.abc import Sequence
from functools import lru_cache
from math import sqrt

from electrics.formats.reading_text import Reading, Word
from electrics.instruments.condition import AFLOAT, FEED_OFF, Condition
from electrics.instruments.display import Display, Shape, normal, uniform
from electrics.instruments.meter import AT_BATTERY, GROUND, NODE, PHASES_APART, Held, Meter, swinging
from electrics.vocabulary import Instrument

__all__ = ["FED_BACK", "VoltsAC", "VoltsDC", "standing_at"]

C = Condition
W = Word


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
    puts = (("meter", NODE, GROUND, {}),)

    def shows(self, phases: Sequence[Held]) -> Reading:
        return swinging([round(held.volts, 2) for held in phases], "V", PHASES_APART * phases[0].supply_v)

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
        return Display((*_zero(0.6), *_battery(0.18), uniform(0.12, 0.0, 1.05)), 0.06, {W.FLASH: 0.02, W.OPEN: 0.02})


FED_BACK = (0.1, 0.95)
"""What another circuit's current by the wrong road makes of a feed that is off, of the supply [-]."""


@lru_cache(maxsize=1024)
def _volts_dc(condition: Condition, supply_v: float) -> Display:
    if condition is C.GROUND:  # a bad one is lifted by what flows through it
        return Display((*_zero(0.97), uniform(0.015, 0.02, 0.15)), 0.0, {W.OFF: 0.01, W.OPEN: 0.005})
    if condition in FEED_OFF:  # now and then another circuit feeds it back
        fed_back = uniform(0.01, *FED_BACK)
        return Display((*_zero(0.955), uniform(0.015, 0.0, 0.1), fed_back), 0.0, {W.OFF: 0.015, W.OPEN: 0.005})
    if condition in AFLOAT:  # ghosts; a lamp test may hold it anywhere from 3 V to battery; a pilot lamp sways it
        return Display(
            (*_zero(0.41), uniform(0.22, 0.0, 0.1), uniform(0.14, 0.0, 0.3), uniform(0.12, 0.0, 1.02)),
            0.01,
            {W.OPEN: 0.08, W.OFF: 0.02},
        )
    if condition in AT_BATTERY:  # nobody has to say that the engine runs
        return Display((*_battery(0.92), uniform(0.04, 0.95, 1.22), uniform(0.01, 0.3, 0.95)), 0.0, {W.ON: 0.03})
    if condition is C.PULLED_UP_LED:  # an LED lamp drops its own threshold on the way
        return Display((*_battery(0.4), uniform(0.5, 0.3, 1.02), *_zero(0.08)), 0.0, {W.ON: 0.01, W.OPEN: 0.01})
    if condition is C.BETWEEN_FED_BACK:  # through filaments next to nothing is left, through LED tail lamps all of it
        return Display((*_zero(0.65), uniform(0.2, 0.0, 0.15)), 0.13, {W.FLASH: 0.02})
    if condition is C.CHARGING:
        return Display((*_charging(0.96), uniform(0.01, 0.3, 0.95)), 0.0, {W.ON: 0.03})
    if condition is C.FLASH:
        return Display((uniform(0.09, 0.0, 1.02), *_battery(0.04), *_zero(0.02)), 0.7, {W.FLASH: 0.15})
    if condition is C.PART:  # 2.5 to 3.5 V for a dimmed 21 W filament, 0.5 to 2 V for LEDs; a tail feed held to 9 V
        seldom = uniform(0.04, 0.6, 0.85)
        return Display((uniform(0.43, 0.03, 0.3), uniform(0.48, 0.15, 0.63), seldom), 0.01, {W.DIM: 0.04})
    if condition is C.VARYING:
        return Display((uniform(0.84, 0.02, 1.0),), 0.12, {W.DIM: 0.03, W.FLASH: 0.01})
    if condition is C.BUS_FAST:  # recessive level near 2.5 V, 1.5 to 3.5 V busy (ISO 11898-2)
        return Display((normal(0.9, 2.5 / supply_v, 0.3 / supply_v), uniform(0.1, 1.0 / supply_v, 4.0 / supply_v)))
    if condition is C.BUS_SINGLE:  # rests near battery and dips (ISO 17987)
        return Display((*_battery(0.45), uniform(0.45, 0.55, 0.97)), 0.08, {W.ON: 0.02})
    if condition is C.BUS_SLOW_HIGH:
        return Display((uniform(0.98, 0.7, 1.0),), 0.02)
    return Display((*_zero(0.5), uniform(0.5, 0.0, 0.1)))


def standing_at(share: float, spread: float) -> Display:
    """What floats at one share of the supply, at nothing for 0, whatever is on."""
    there = _zero(0.9) if share <= 0 else (normal(0.9, share, spread),)
    return Display((*there, uniform(0.07, 0.0, 0.3)), 0.01, {W.OPEN: 0.01, W.OFF: 0.01})


class VoltsAC(Meter):
    """Volts AC: sees pulses and the flasher, little else."""

    instrument = Instrument.DMM_AC
    edges = (0.02, 0.05, 0.15, 0.4)
    puts = (("meter", NODE, GROUND, {}),)

    def shows(self, phases: Sequence[Held]) -> Reading:
        """The ripple of pulses; what a flasher moves jumps up by half of its step and sinks away again."""
        apart_v = PHASES_APART * phases[0].supply_v
        step_v = max(held.volts for held in phases) - min(held.volts for held in phases)
        if step_v > apart_v:
            return Reading(0.0, round(step_v / 2, 2), "V")
        held = phases[0]
        ripple_v = sqrt(held.duty * (1 - held.duty)) * abs(held.ends_v[0] - held.ends_v[1])
        return Reading(round(ripple_v, 2), round(ripple_v, 2), "V")

    def axis(self, value: float, unit: str, supply_v: float) -> float:
        return value / supply_v

    def display(self, condition: Condition, supply_v: float) -> Display:
        if condition is C.PART:
            return Display((uniform(0.97, 0.03, 0.6),), 0.02, {W.ON: 0.01})
        if condition is C.FLASH:
            return Display((uniform(0.4, 0.0, 0.6),), 0.45, {W.FLASH: 0.15})
        if condition is C.VARYING:
            return Display((*_zero(0.3), uniform(0.66, 0.03, 0.6)), 0.02, {W.ON: 0.02})
        if condition in (C.BUS_FAST, C.BUS_SINGLE, *AFLOAT):
            return Display((*_zero(0.6), uniform(0.38, 0.0, 0.3)), 0.0, {W.OPEN: 0.02})
        return Display((*_zero(0.93), uniform(0.05, 0.0, 0.1)), 0.0, {W.OFF: 0.02})

    def mistaken(self, supply_v: float) -> Display:
        return Display((*_zero(0.7), uniform(0.2, 0.0, 0.6)), 0.05, {W.FLASH: 0.03, W.OPEN: 0.02})
