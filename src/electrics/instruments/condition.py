"""What an instrument meets on a wire, electrically: ground, a cold filament, battery, nothing at all."""

from __future__ import annotations

from enum import StrEnum

__all__ = ["AFLOAT", "BUSES", "FEED_OFF", "Condition"]


class Condition(StrEnum):
    """What the instrument meets on the pin."""

    GROUND = "ground"
    COLD_MAIN = "cold main filament to ground"
    COLD_SMALL = "cold small filament to ground"
    COLD_BEAM = "cold headlamp filaments to ground"
    LED_LAMP = "LED lamp to ground"
    LAMP_OUT = "feed with its lamp out"
    TEST_LOAD = "test load to ground"
    FLOATING = "connected to nothing"
    BATTERY = "battery"
    CHARGING = "battery, engine running"
    FLASH = "flashing"
    PART = "part voltage in pulses"
    VARYING = "varying voltage"
    PULLED_UP = "battery through a cold filament"
    PULLED_UP_LED = "battery through an LED lamp"
    BETWEEN_LIT = "battery, lamp out of step with the turn"
    BETWEEN_FED_BACK = "turn feed through the marker"
    BUS_FAST = "fast bus"
    BUS_SINGLE = "single-wire bus"
    BUS_SLOW_HIGH = "slow bus, high wire"
    BUS_SLOW_LOW = "slow bus, low wire"


FEED_OFF = (Condition.COLD_MAIN, Condition.COLD_SMALL, Condition.COLD_BEAM, Condition.TEST_LOAD)
"""A feed that is off, tied to ground through what hangs on it."""
AFLOAT = (Condition.LED_LAMP, Condition.LAMP_OUT, Condition.FLOATING)
"""Tied to nothing that a meter would notice."""
BUSES = (Condition.BUS_FAST, Condition.BUS_SINGLE, Condition.BUS_SLOW_HIGH, Condition.BUS_SLOW_LOW)
