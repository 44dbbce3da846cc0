"""Lamps and readings that several test modules speak of."""

from __future__ import annotations

from electrics.document.places import AccessPoint, Evidence, Setup, Side, Wire
from electrics.formats.reading_text import parse_reading
from electrics.vocabulary import Function, Instrument, Load, parse_state

REAR = {
    "1": Function.GROUND,
    "2": Function.TAIL,
    "3": Function.REVERSE,
    "4": Function.STOP,
    "5": Function.TURN_LEFT,
}


def point(*columns, pins=tuple(REAR), kind="rear_lamp", side=Side.LEFT, supply_v=12.6, name="lamp"):
    """An access point from columns `(state, {pin: text}, instrument, load)`."""
    evidence = []
    for state, readings, *rest in columns:
        instrument = rest[0] if rest else Instrument.DMM
        load = rest[1] if len(rest) > 1 else Load.IN
        for pin, text in readings.items():
            setup = Setup(parse_state(state), instrument, load)
            evidence.append(Evidence(pin, setup, parse_reading(text, instrument), supply_v))
    return AccessPoint(name, tuple(Wire(pin) for pin in pins), tuple(evidence), kind, side)


def all_pins(**on):
    return {pin: on.get(f"p{pin}", "0.0") for pin in REAR}


GRID = (
    ("rest", all_pins()),
    ("park", all_pins(p2="12.3")),
    ("brake", all_pins(p4="12.2")),
    ("left", all_pins(p5="0-12")),
    ("reverse", all_pins(p3="12.2")),
    ("park_left", all_pins()),
    ("rest", {"1": "0.2 ohm"}, Instrument.OHMS, Load.OUT),
)
"""A left rear lamp measured out; the last reading is what no feed could show."""
