"""The names people use for functions, states, instruments and levels."""

from __future__ import annotations

import re
from collections.abc import Iterable

from electrics.design.accessories import mid_sentence as lowered
from electrics.document.places import Setup
from electrics.reference.functions import called_also
from electrics.signals import Level, Signal
from electrics.vocabulary import Control, Function, Instrument, Load, State

CONTROLS = {
    Control.REST: "All off",
    Control.ASLEEP: "Asleep",
    Control.KEY: "Key",
    Control.ENGINE: "Engine",
    Control.PARK: "Park",
    Control.PARK_LEFT: "Park left",
    Control.PARK_RIGHT: "Park right",
    Control.LOW: "Low beam",
    Control.HIGH: "High beam",
    Control.BRAKE: "Brake",
    Control.LEFT: "Left",
    Control.RIGHT: "Right",
    Control.HAZARD: "Hazard",
    Control.REVERSE: "Reverse",
    Control.FOG_FRONT: "Front fog",
    Control.FOG_REAR: "Rear fog",
    Control.PARK_BRAKE: "Park brake",
    Control.TRAILER: "Trailer",
    Control.TRAILER_LEVER: "Trailer lever",
    Control.OWN_SWITCH: "Own switch",
}


def at_pin(label: str, *, is_at_fuse: bool) -> str:
    """What a wire's place is called: `pin 3`, and in a fuse box `slot F7`."""
    return f"{'slot' if is_at_fuse else 'pin'} {label}"


_DO = {
    Control.REST: "switch everything off",
    Control.ASLEEP: "leave it locked until it sleeps",
    Control.KEY: "turn the key on",
    Control.ENGINE: "start the engine",
    Control.PARK: "switch the park lamps on",
    Control.PARK_LEFT: "set the left parking lamp",
    Control.PARK_RIGHT: "set the right parking lamp",
    Control.LOW: "switch low beam on",
    Control.HIGH: "switch high beam on",
    Control.BRAKE: "hold the brake",
    Control.LEFT: "turn the left signal on",
    Control.RIGHT: "turn the right signal on",
    Control.HAZARD: "switch the hazards on",
    Control.REVERSE: "select reverse with the key on",
    Control.FOG_FRONT: "switch the front fog lamps on",
    Control.FOG_REAR: "switch the rear fog lamp on",
    Control.PARK_BRAKE: "set the park brake",
    Control.TRAILER: "plug a trailer or its tester in",
    Control.TRAILER_LEVER: "hold the trailer brake lever",
    Control.OWN_SWITCH: "turn the added switch on",
}

_WITH = {
    Control.REST: "everything off",
    Control.ASLEEP: "the vehicle asleep",
    Control.KEY: "the key on",
    Control.ENGINE: "the engine running",
    Control.PARK: "the park lamps on",
    Control.PARK_LEFT: "the left parking lamp on",
    Control.PARK_RIGHT: "the right parking lamp on",
    Control.LOW: "low beam on",
    Control.HIGH: "high beam on",
    Control.BRAKE: "the brake held",
    Control.LEFT: "the left signal on",
    Control.RIGHT: "the right signal on",
    Control.HAZARD: "the hazards on",
    Control.REVERSE: "reverse selected",
    Control.FOG_FRONT: "the front fog lamps on",
    Control.FOG_REAR: "the rear fog lamp on",
    Control.PARK_BRAKE: "the park brake set",
    Control.TRAILER: "a trailer plugged in",
    Control.TRAILER_LEVER: "the trailer brake lever held",
    Control.OWN_SWITCH: "the added switch on",
}

FUNCTIONS = {
    Function.GROUND: "Ground",
    Function.TAIL: "Tail",
    Function.TAIL_LEFT: "Tail, left only",
    Function.TAIL_RIGHT: "Tail, right only",
    Function.STOP: "Stop",
    Function.TURN_LEFT: "Turn left",
    Function.TURN_RIGHT: "Turn right",
    Function.STOP_TURN_LEFT: "Stop and turn left",
    Function.STOP_TURN_RIGHT: "Stop and turn right",
    Function.REVERSE: "Reverse",
    Function.TAIL_STOP_DIMMED: "Tail and stop on one wire",
    Function.TAIL_STOP_TURN_DIMMED_LEFT: "Tail, stop and turn left on one wire",
    Function.TAIL_STOP_TURN_DIMMED_RIGHT: "Tail, stop and turn right on one wire",
    Function.TURN_PARK_DIMMED_LEFT: "Turn left with dimmed park",
    Function.TURN_PARK_DIMMED_RIGHT: "Turn right with dimmed park",
    Function.MARKER_BETWEEN: "Marker between park and turn",
    Function.DRL: "Daytime lamp",
    Function.LOW_BEAM: "Low beam",
    Function.HIGH_BEAM: "High beam",
    Function.FOG_FRONT: "Front fog",
    Function.FOG_REAR: "Rear fog",
    Function.IGNITION: "Ignition feed",
    Function.BATTERY: "Battery feed",
    Function.BRAKE_CONTROLLER: "Trailer brakes",
    Function.DATA: "Data line",
    Function.SPARE: "Spare",
    Function.DEAD_FEED: "Dead feed",
    Function.FLASHER_OUT: "Flasher output",
    Function.PILOT: "Turn pilot",
    Function.PILOT_LEFT: "Left dash turn light",
    Function.PILOT_RIGHT: "Right dash turn light",
    Function.HAZARD_FEED: "Hazard feed",
    Function.STOP_SWITCH: "Stop switch lead",
    Function.TRAILER_TAIL: "Trailer tail",
    Function.TRAILER_STOP: "Trailer stop",
    Function.TRAILER_TURN_LEFT: "Trailer turn left",
    Function.TRAILER_TURN_RIGHT: "Trailer turn right",
    Function.TRAILER_REVERSE: "Trailer reverse",
}

TOOL_NAMES = {
    "multimeter": "multimeter",
    "test_lamp": "filament test lamp",
    "led_probe": "LED probe",
    "clamp": "current clamp",
}
"""What may be at hand, by `electrics.identify.tools`."""
INSTRUMENTS = {
    Instrument.DMM: "Volts DC",
    Instrument.DMM_AC: "Volts AC",
    Instrument.OHMS: "Ohms",
    Instrument.HERTZ: "Hertz or duty",
    Instrument.CLAMP: "Clamp amps",
    Instrument.TEST_LAMP: "Test lamp to ground",
    Instrument.TEST_LAMP_PLUS: "Test lamp to plus",
    Instrument.LED_PROBE: "LED probe",
    Instrument.LOADED_DROP: "Loaded drop",
    Instrument.THERMOMETER: "Thermometer",
}

UNITS = {
    Instrument.DMM: "V",
    Instrument.DMM_AC: "V AC",
    Instrument.OHMS: "Ω",
    Instrument.HERTZ: "Hz, % or /min",
    Instrument.CLAMP: "A",
    Instrument.TEST_LAMP: "light",
    Instrument.TEST_LAMP_PLUS: "light",
    Instrument.LED_PROBE: "colour",
    Instrument.LOADED_DROP: "V",
    Instrument.THERMOMETER: "°C",
}
"""What a bare number in a column is in; what a lamp or probe shows has no number."""

LOADS = {
    Load.IN: "lamp in",
    Load.OUT: "lamp pulled",
    Load.LED: "LED lamp in",
    Load.TEST: "test load on",
}

LEVELS = {
    Level.OFF: "dark",
    Level.ON: "lit",
    Level.PART: "dim",
    Level.VARYING: "varying",
    Level.BUS: "data",
}


def function_name(function: Function, *, mid_sentence: bool = False) -> str:
    """`Stop and turn left`, or lower-cased inside a sentence."""
    name = FUNCTIONS[function]
    return lowered(name) if mid_sentence else name


def function_called(text: str) -> Function | None:
    """The function a person means: its name on the pages, its identifier in files, or a common other word."""
    wanted = " ".join(text.lower().replace("_", " ").split())
    for function, name in FUNCTIONS.items():
        if wanted in (name.lower(), function.replace("_", " ")):
            return function
    return called_also().rows.get(wanted)


def state_name(state: State) -> str:
    """`Brake + left`."""
    names = [CONTROLS[control] for control in state.controls]
    return " + ".join([names[0], *(name.lower() for name in names[1:])])


def state_action(state: State) -> str:
    """What to do to set a state: `Hold the brake and turn the left signal on`."""
    text = listed([_DO[control] for control in state.controls])
    return text[0].upper() + text[1:]


def mid_state(state: State) -> str:
    """A state inside a sentence: `the brake held and the left signal on`."""
    return listed(_WITH[control] for control in state.controls)


def setup_name(setup: Setup) -> str:
    """A column's name: the state, and what is unusual about how it was read."""
    parts = [state_name(setup.state)]
    if setup.instrument is not Instrument.DMM:
        parts.append(INSTRUMENTS[setup.instrument].lower())
    if setup.load is not Load.IN:
        parts.append(LOADS[setup.load])
    return ", ".join(parts)


def signal_name(signal: Signal) -> str:
    """`dark`, `lit`, `flashing`, `dim`."""
    return "flashing" if signal.is_flashing else LEVELS[signal.lit]


def pins_text(pins: Iterable[str], word: str = "pin") -> str:
    """`pin 2`, `pins 2, 4 and 5`, `pins 1 to 6 and 9`: four in a row or more are said by the first and the last."""
    pins = list(pins)
    runs: list[list[str]] = []
    for pin in pins:
        follows = runs and pin.isdecimal() and runs[-1][-1].isdecimal() and int(pin) == int(runs[-1][-1]) + 1
        if follows:
            runs[-1].append(pin)
        else:
            runs.append([pin])
    said = [each for run in runs for each in (run if len(run) < LEAST_RUN else [f"{run[0]} to {run[-1]}"])]
    return f"{word}{'s' if len(pins) > 1 else ''} {listed(said)}"


LEAST_RUN = 4
"""From how many pins on they are said as a run [-]."""


def natural(pin: str) -> tuple[tuple[int, int | str], ...]:
    """By which pins are sorted: 2 before 10."""
    parts = re.split(r"(\d+)", pin)
    return tuple((0, int(part)) if part.isdecimal() else (1, part) for part in parts if part)


def listed(items: Iterable[str]) -> str:
    """`a`, `a and b`, `a, b and c`."""
    items = list(items)
    return " and ".join([", ".join(items[:-1]), items[-1]]) if len(items) > 1 else "".join(items)


def counted(number: int, thing: str) -> str:
    """`1 line`, `3 lines`."""
    return f"{number} {thing}" + ("" if number == 1 else "s")


def amps_text(value: float) -> str:
    """Two decimals below ten, one above, with the unit."""
    return f"{value:.2f} A" if value < 10 else f"{value:.1f} A"


def capital(text: str) -> str:
    """A phrase at the beginning of a sentence or in a list; `LED` and `12N` stay as they are."""
    return text[:1].upper() + text[1:]


def percent(probability: float) -> str:
    """A probability in whole percent, rounded down so that nothing looks surer than it is; never 100 or 0."""
    return f"{min(99, max(1, int(100 * probability + 1e-9)))} %"
