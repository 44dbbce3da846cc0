"""The words of the trade as values: controls, states, functions, instruments, loads, arrangements.

The identifiers are the ones of the open formats (docs/formats): they stand in files and databases, so a
spelling here is a contract. What a function *does* in a state is in `electrics.signals`; here are only
the words and what follows from the words alone.
"""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass
from enum import StrEnum
from functools import cached_property, lru_cache

from electrics.errors import FactError, StateError

__all__ = [
    "ALONE",
    "DEFAULT_SUPPLY_V",
    "FUNCTIONS",
    "Arrangement",
    "BrakeWithHazard",
    "Control",
    "Function",
    "Instrument",
    "Load",
    "Polarity",
    "State",
    "make_state",
    "parse_state",
    "supply_default_v",
    "supply_range_v",
]


class Control(StrEnum):
    """What is switched on at the vehicle."""

    REST = "rest"
    ASLEEP = "asleep"
    KEY = "key"
    ENGINE = "engine"
    PARK = "park"
    PARK_LEFT = "park_left"
    PARK_RIGHT = "park_right"
    LOW = "low"
    HIGH = "high"
    BRAKE = "brake"
    LEFT = "left"
    RIGHT = "right"
    HAZARD = "hazard"
    REVERSE = "reverse"
    FOG_FRONT = "fog_front"
    FOG_REAR = "fog_rear"
    PARK_BRAKE = "park_brake"
    TRAILER = "trailer"
    """A trailer, or its tester, is plugged in."""
    TRAILER_LEVER = "trailer_lever"
    OWN_SWITCH = "own_switch"
    """A switch that was added; the vehicle knows nothing of it."""


ALONE = frozenset({Control.REST, Control.ASLEEP})
IMPLIES_KEY = frozenset(
    {
        Control.LEFT,
        Control.RIGHT,
        Control.REVERSE,
        Control.LOW,
        Control.HIGH,
        Control.ENGINE,
        Control.FOG_FRONT,
        Control.FOG_REAR,
    }
)
IMPLIES_PARK = frozenset({Control.LOW, Control.HIGH, Control.FOG_FRONT, Control.FOG_REAR})
EXCLUDES = (
    frozenset({Control.LEFT, Control.RIGHT}),
    frozenset({Control.PARK_LEFT, Control.PARK_RIGHT}),
)
_ORDER = {control: index for index, control in enumerate(Control)}


@dataclass(frozen=True)
class State:
    """Controls that are on together, in the order of `Control`; `rest` when none is."""

    controls: tuple[Control, ...]

    def __str__(self) -> str:
        return "+".join(self.controls)

    def on(self, *controls: Control) -> bool:
        """Whether any of these controls is on, directly or because another one implies it."""
        return not self.effective.isdisjoint(controls)

    @cached_property
    def effective(self) -> frozenset[Control]:
        """The controls with what they imply: the indicator needs the key, the beams bring park along."""
        on = set(self.controls)
        if not IMPLIES_KEY.isdisjoint(on):
            on.add(Control.KEY)
        if not IMPLIES_PARK.isdisjoint(on):
            on.add(Control.PARK)
        return frozenset(on)

    @property
    def is_dead(self) -> bool:
        """Whether nothing is switched on (ohms are possible on an unpowered wire)."""
        return self.controls[0] in ALONE


@lru_cache(maxsize=4096)
def parse_state(text: str) -> State:
    """Read `brake+left` in any order and case into a `State`.

    Parameters
    ----------
    text : str
        Controls joined by `+`.

    Returns
    -------
    State
        With the controls in canonical order, so that equal states compare equal.

    Raises
    ------
    StateError
        Unknown control, `rest` joined with others, or two controls that exclude each other.

    Examples
    --------
    >>> str(parse_state("left + Brake"))
    'brake+left'
    """
    words = [word.strip().lower().replace(" ", "_") for word in text.split("+")]
    if not any(words):
        raise StateError("The state is empty. Expected controls joined by +, for example brake+left, or rest.")
    controls = set()
    for word in words:
        try:
            controls.add(Control(word))
        except ValueError:
            known = ", ".join(Control)
            raise StateError(f"“{word}” is no control. Expected one of: {known}.") from None
    return make_state(controls)


def make_state(controls: Iterable[Control]) -> State:
    """The state with these controls on; no control at all is `rest`."""
    on = set(controls) or {Control.REST}
    if len(on) > 1 and not ALONE.isdisjoint(on):
        raise StateError("rest and asleep stand alone: nothing else can be on with them.")
    for pair in EXCLUDES:
        if pair <= on:
            raise StateError(f"{' and '.join(sorted(pair))} cannot be on together.")
    return State(tuple(sorted(on, key=_ORDER.__getitem__)))


class Function(StrEnum):
    """What a wire does."""

    GROUND = "ground"
    TAIL = "tail"
    TAIL_LEFT = "tail_left"
    TAIL_RIGHT = "tail_right"
    STOP = "stop"
    TURN_LEFT = "turn_left"
    TURN_RIGHT = "turn_right"
    STOP_TURN_LEFT = "stop_turn_left"
    STOP_TURN_RIGHT = "stop_turn_right"
    REVERSE = "reverse"
    TAIL_STOP_DIMMED = "tail_stop_dimmed"
    TAIL_STOP_TURN_DIMMED_LEFT = "tail_stop_turn_dimmed_left"
    TAIL_STOP_TURN_DIMMED_RIGHT = "tail_stop_turn_dimmed_right"
    TURN_PARK_DIMMED_LEFT = "turn_park_dimmed_left"
    TURN_PARK_DIMMED_RIGHT = "turn_park_dimmed_right"
    MARKER_BETWEEN = "marker_between"
    DRL = "drl"
    LOW_BEAM = "low_beam"
    HIGH_BEAM = "high_beam"
    FOG_FRONT = "fog_front"
    FOG_REAR = "fog_rear"
    IGNITION = "ignition"
    BATTERY = "battery"
    BRAKE_CONTROLLER = "brake_controller"
    DATA = "data"
    SPARE = "spare"
    DEAD_FEED = "dead_feed"
    FLASHER_OUT = "flasher_out"
    PILOT = "pilot"
    PILOT_LEFT = "pilot_left"
    PILOT_RIGHT = "pilot_right"
    HAZARD_FEED = "hazard_feed"
    STOP_SWITCH = "stop_switch"
    TRAILER_TAIL = "trailer_tail"
    TRAILER_STOP = "trailer_stop"
    TRAILER_TURN_LEFT = "trailer_turn_left"
    TRAILER_TURN_RIGHT = "trailer_turn_right"
    TRAILER_REVERSE = "trailer_reverse"


FUNCTIONS: tuple[Function, ...] = tuple(Function)
"""The functions the belief engine weighs, in one order everywhere."""


class Polarity(StrEnum):
    """Which side of the lamp is switched: its feed, or its way to ground."""

    POSITIVE = "positive"
    GROUND = "ground"


class Arrangement(StrEnum):
    """Whether the rear stop and turn lamps have feeds of their own or share one."""

    SEPARATE = "separate"
    COMBINED = "combined"


class BrakeWithHazard(StrEnum):
    """What a combined lamp does when the brake is held with the hazards on."""

    FLASH_WINS = "flash_wins"
    BRAKE_WINS = "brake_wins"


class Instrument(StrEnum):
    """What the reading was taken with."""

    DMM = "dmm"
    DMM_AC = "dmm_ac"
    OHMS = "ohms"
    HERTZ = "hertz"
    CLAMP = "clamp"
    TEST_LAMP = "test_lamp"
    TEST_LAMP_PLUS = "test_lamp_plus"
    LED_PROBE = "led_probe"
    LOADED_DROP = "loaded_drop"
    THERMOMETER = "thermometer"


class Load(StrEnum):
    """What hangs on the wire while it is read."""

    IN = "in"
    OUT = "out"
    LED = "led"
    TEST = "test"


DEFAULT_SUPPLY_V = {6: 6.3, 12: 12.6, 24: 25.2}
"""Resting battery voltage by system [V]: 2.1 V a lead-acid cell, common practice."""


def supply_default_v(system_v: int) -> float:
    """Resting battery voltage of a 6, 12 or 24 V system [V]."""
    try:
        return DEFAULT_SUPPLY_V[system_v]
    except KeyError:
        raise FactError("system_v", f"{system_v} V is no vehicle system. Expected 6, 12 or 24 V.") from None


def supply_range_v(system_v: int) -> tuple[float, float]:
    """Battery voltages that can be true for a system [V]: from nearly flat to charging hard.

    10.0 to 15.5 V on a 12 V system, in proportion on the others (common practice).
    """
    scale = supply_default_v(system_v) / DEFAULT_SUPPLY_V[12]
    return 10.0 * scale, 15.5 * scale
