"""What lights up: the LED probe, and the filament test lamp clipped to ground or to the battery."""

from __future__ import annotations

from collections.abc import Sequence

from electrics.formats.reading_text import Reading, Word
from electrics.instruments.condition import AFLOAT, FEED_OFF, Condition
from electrics.instruments.display import Display
from electrics.instruments.meter import AT_BATTERY, GROUND, NODE, PLUS, Held, Meter
from electrics.vocabulary import Instrument

__all__ = ["FilamentLamp", "FilamentLampPlus", "LedProbe"]

C = Condition
W = Word


BIAS_OHM = 47e3
"""What holds the tip of an LED probe in the middle while it touches nothing [ohm] (estimate)."""
RED_FROM, GREEN_TO_V = 0.6, 1.5
"""Share of the supply from which it shows red [-], and up to which volts green [V] (estimates)."""


def _colour(volts: float, supply_v: float) -> Word:
    return W.RED if volts >= RED_FROM * supply_v else W.GREEN if volts <= GREEN_TO_V else W.NONE


def _seen(colours: set[Word]) -> Word:
    """Both colours at once where pulses light both, too fast for the eye."""
    return W.BOTH if {W.RED, W.GREEN} <= colours else W.RED if W.RED in colours else min(colours)


class LedProbe(Meter):
    """A powered two-colour probe: red on positive, green on ground, dark on nothing.

    It shows *ground* on the resting feed of a filament lamp, because the cold filament is a path to ground.
    """

    instrument = Instrument.LED_PROBE
    puts = (("resistor", PLUS, NODE, {"ohm": BIAS_OHM}), ("resistor", NODE, GROUND, {"ohm": BIAS_OHM}))

    def shows(self, phases: Sequence[Held]) -> Reading:
        by_phase = [_seen({_colour(volts, held.supply_v) for volts in held.ends_v}) for held in phases]
        seen = set(by_phase)
        if seen == {W.RED, W.GREEN}:
            return Reading(word=W.RED_GREEN)
        return Reading(word=W.RED_NONE if seen == {W.RED, W.NONE} else by_phase[0])

    def display(self, condition: Condition, supply_v: float) -> Display:
        if condition in (C.GROUND, *FEED_OFF):
            return Display(words={W.GREEN: 0.97, W.NONE: 0.02, W.BOTH: 0.005})
        if condition is C.BETWEEN_FED_BACK:
            return Display(words={W.GREEN: 0.75, W.RED_GREEN: 0.15, W.NONE: 0.1})
        if condition is C.PULLED_UP_LED:
            return Display(words={W.RED: 0.72, W.NONE: 0.25, W.BOTH: 0.03})
        if condition in AFLOAT:
            return Display(words={W.NONE: 0.88, W.GREEN: 0.07, W.RED: 0.04, W.BOTH: 0.01})
        if condition in (*AT_BATTERY, C.CHARGING):
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


ON_FROM, DIM_FROM = 0.3, 0.005
"""Share of its light from which a test lamp is called lit, and from which it is seen to glow [-] (estimates)."""
FLASH_SHARE = 0.5
"""A lamp that falls below this share of its brighter phase is seen to flash [-] (estimate)."""


class FilamentLamp(Meter):
    """A filament lamp of about 0.25 A clipped to ground: needs a real source, so it sees no ghosts."""

    instrument = Instrument.TEST_LAMP
    puts = (("test_lamp", NODE, GROUND, {}),)

    def shows(self, phases: Sequence[Held]) -> Reading:
        lit = [held.light for held in phases]
        if max(lit) >= DIM_FROM and min(lit) < FLASH_SHARE * max(lit):
            return Reading(word=Word.FLASH)
        return Reading(word=W.ON if lit[0] >= ON_FROM else W.DIM if lit[0] >= DIM_FROM else W.OFF)

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
    puts = (("test_lamp", PLUS, NODE, {}),)

    def display(self, condition: Condition, supply_v: float) -> Display:
        if condition is C.GROUND:
            return Display(words={W.ON: 0.98, W.OFF: 0.02})
        if condition in (C.COLD_MAIN, C.COLD_BEAM):
            return Display(words={W.ON: 0.95, W.DIM: 0.03, W.OFF: 0.02})
        if condition in (C.COLD_SMALL, C.TEST_LOAD, C.BETWEEN_FED_BACK):  # LED lamps give it no way
            off = 0.05 if condition is C.COLD_SMALL else 0.2
            return Display(words={W.ON: 0.65 - off, W.DIM: 0.35, W.OFF: off})
        if condition is C.LAMP_OUT:
            return Display(words={W.OFF: 0.6, W.ON: 0.3, W.DIM: 0.1})
        if condition is C.FLASH:
            return Display(words={W.FLASH: 0.7, W.ON: 0.05, W.OFF: 0.25})
        if condition in (C.PART, C.VARYING):
            return Display(words={W.DIM: 0.6, W.ON: 0.3, W.OFF: 0.1})
        if condition is C.BUS_FAST:  # its resistors of 120 ohm let some current through
            return Display(words={W.OFF: 0.6, W.DIM: 0.3, W.ON: 0.1})
        return Display(words={W.OFF: 0.95, W.DIM: 0.05})
