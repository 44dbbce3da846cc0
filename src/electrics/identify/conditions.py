"""What a wire is electrically while it is probed: tied to ground, through a cold filament, live, floating.

The step between function and display: a reverse feed at rest is not "nothing", it is a path to ground
through the cold filament of its lamp.
"""

from __future__ import annotations

from enum import StrEnum
from functools import lru_cache

from electrics.instruments.condition import Condition
from electrics.reference.functions import functions_needing, kind_of
from electrics.signals import DARK, GROUND_SWITCHED, OUT_OF_STEP, Level, Scenario, Signal, signal
from electrics.vocabulary import Control, Function, Load, State

__all__ = ["LampKind", "conditions"]

ODD_LAMP_SHARE = 0.03
"""Chance that one lamp of a cluster is of the other kind than the rest (estimate)."""
ODD_BEAM_SHARE = 0.25
"""The same of headlamps among LED lamps: filament ones outlived the rest (estimate)."""


class LampKind(StrEnum):
    """What the lamps of a cluster are; an LED lamp leaves its resting feed afloat."""

    FILAMENT = "filament"
    LED = "led"


ASLEEP_AT_REST = 0.5
"""Chance that a bus sleeps already with everything just switched off (estimate)."""
_BUS = {
    "fast": Condition.BUS_FAST,
    "single": Condition.BUS_SINGLE,
    "slow_high": Condition.BUS_SLOW_HIGH,
    "slow_low": Condition.BUS_SLOW_LOW,
}
_COLD = {"small": Condition.COLD_SMALL, "beam": Condition.COLD_BEAM}


@lru_cache(maxsize=65536)
def conditions(
    function: Function, variant: str, state: State, scenario: Scenario, lamps: LampKind, load: Load
) -> tuple[tuple[Condition, float], ...]:
    """What the pin of a wire with this function may be in this state, with a weight each.

    Parameters
    ----------
    function, variant : Function, str
        What the wire does, and which way of doing it.
    state : State
        What is switched on.
    scenario : Scenario
        What the vehicle's wires share.
    lamps : LampKind
        What the lamps of this access point mostly are.
    load : Load
        What hangs on the wire: its lamp, an LED lamp, a test load or nothing.

    Returns
    -------
    tuple of (Condition, float)
        Weights [-] sum to 1.
    """
    if function is Function.GROUND:
        return ((Condition.GROUND, 1.0),)
    if function is Function.SPARE:
        return ((Condition.FLOATING, 1.0),)
    now = signal(function, state, scenario, variant)
    cold = _COLD.get(kind_of(function).bulb) or _COLD.get(variant, Condition.COLD_MAIN)
    if function is Function.MARKER_BETWEEN:
        return _between(now, lamps, load)
    if variant == GROUND_SWITCHED and not now.is_flashing:
        if now != DARK:
            return ((Condition.GROUND, 1.0),)
        return ((Condition.CHARGING, 1.0),) if state.on(Control.ENGINE) else _pulled_up(lamps, load)
    if now.is_flashing:
        return ((Condition.FLASH, 1.0),)
    if now.lit is Level.ON:
        return ((Condition.CHARGING if state.on(Control.ENGINE) else Condition.BATTERY, 1.0),)
    if now.lit is Level.PART:
        return ((Condition.PART, 1.0),)
    if now.lit is Level.VARYING:
        return ((Condition.VARYING, 1.0),)
    if function is Function.DATA:
        asleep = Condition.BATTERY if variant == "single" else Condition.FLOATING
        if now.lit is Level.BUS and not state.is_dead:
            return ((_BUS[variant], 1.0),)
        if now.lit is Level.BUS:
            return ((_BUS[variant], 1.0 - ASLEEP_AT_REST), (asleep, ASLEEP_AT_REST))
        return ((asleep, 1.0),)
    if function in _NO_LAMPS and load is Load.IN:
        return _NO_LAMPS[function]
    return _resting(cold, lamps, load)


_NO_LAMPS = {
    Function.IGNITION: ((Condition.TEST_LOAD, 0.8), (Condition.FLOATING, 0.2)),
    Function.FLASHER_OUT: ((Condition.TEST_LOAD, 0.3), (Condition.FLOATING, 0.7)),
    Function.PILOT: ((Condition.TEST_LOAD, 1.0),),
    **dict.fromkeys(
        functions_needing(Control.TRAILER),
        ((Condition.FLOATING, 0.6), (Condition.TEST_LOAD, 0.4)),
    ),
    Function.BRAKE_CONTROLLER: ((Condition.TEST_LOAD, 0.5), (Condition.FLOATING, 0.5)),
}
"""What hangs on a circuit that feeds no lamps of the outside while it is off: all sorts of things, or nothing with a
switch open on either side or no trailer there (estimates)."""


def _resting(cold: Condition, lamps: LampKind, load: Load) -> tuple[tuple[Condition, float], ...]:
    """A feed that is off: through its lamp to ground, or afloat."""
    if load is Load.OUT:
        return ((Condition.LAMP_OUT, 1.0),)
    if load is Load.LED:
        return ((Condition.LED_LAMP, 1.0),)
    if load is Load.TEST:
        return ((Condition.TEST_LOAD, 1.0),)
    odd = ODD_BEAM_SHARE if cold is Condition.COLD_BEAM else ODD_LAMP_SHARE
    led = ODD_LAMP_SHARE if lamps is LampKind.FILAMENT else 1.0 - odd
    return ((cold, 1.0 - led), (Condition.LED_LAMP, led))


def _pulled_up(lamps: LampKind, load: Load) -> tuple[tuple[Condition, float], ...]:
    """A ground-switched lamp that is off: its wire hangs on battery through the lamp."""
    if load is Load.OUT:  # other lamps of the circuit may still hold it up
        return ((Condition.LAMP_OUT, 0.65), (Condition.PULLED_UP, 0.35))
    if load is Load.LED:
        return ((Condition.PULLED_UP_LED, 1.0),)
    if load is Load.TEST:
        return ((Condition.PULLED_UP, 1.0),)
    led = ODD_LAMP_SHARE if lamps is LampKind.FILAMENT else 1.0 - ODD_LAMP_SHARE
    return ((Condition.PULLED_UP, 1.0 - led), (Condition.PULLED_UP_LED, led))


def _between(now: Signal, lamps: LampKind, load: Load) -> tuple[tuple[Condition, float], ...]:
    """The park feed of a marker that returns through the turn lamp."""
    if now == OUT_OF_STEP and load is not Load.OUT:
        return ((Condition.BETWEEN_LIT, 1.0),)
    if now.dark is Level.ON:
        return ((Condition.BATTERY, 1.0),)
    if now.is_flashing and load is not Load.OUT:
        return ((Condition.BETWEEN_FED_BACK, 1.0),)
    return _resting(Condition.COLD_SMALL, lamps, load)
