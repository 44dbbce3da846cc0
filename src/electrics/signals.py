"""What a circuit carries in every state: the truth table that identification and hook-up share.

A signal has two flash phases, lit and dark; a steady circuit has the same level in both. Behaviour that
differs from vehicle to vehicle (a daytime lamp by key or by engine, a tail feed in pulses) is a named
*variant* with a prior weight, so that belief can weigh it and a hook-up can be shown for each.
"""

from __future__ import annotations

from collections.abc import Callable, Iterable
from dataclasses import dataclass
from enum import StrEnum

from electrics.vocabulary import Arrangement, BrakeWithHazard, Control, Function, Polarity, State

__all__ = [
    "DARK",
    "DROPS",
    "FLASHING",
    "GROUND_SWITCHED",
    "LIT",
    "PARTLY",
    "RELEASED",
    "Level",
    "Scenario",
    "Signal",
    "daytime_of",
    "low_beam_of",
    "polarity_of",
    "signal",
    "variants",
]


class Level(StrEnum):
    """What a circuit carries in one flash phase."""

    OFF = "off"
    PART = "part"
    ON = "on"
    VARYING = "varying"
    BUS = "bus"


@dataclass(frozen=True)
class Signal:
    """The level in the lit and in the dark phase of the flasher."""

    lit: Level
    dark: Level

    @property
    def is_flashing(self) -> bool:
        return self.lit is not self.dark

    @property
    def word(self) -> str:
        """`off`, `on`, `part`, `flash` ... as the truth table prints it."""
        return "flash" if self.is_flashing else str(self.lit)


DARK = Signal(Level.OFF, Level.OFF)
LIT = Signal(Level.ON, Level.ON)
PARTLY = Signal(Level.PART, Level.PART)
FLASHING = Signal(Level.ON, Level.OFF)
OUT_OF_STEP = Signal(Level.OFF, Level.ON)
VARYING = Signal(Level.VARYING, Level.VARYING)
BUS = Signal(Level.BUS, Level.BUS)


@dataclass(frozen=True)
class Scenario:
    """What all wires of one vehicle share: the arrangement and, for combined, who wins.

    Attributes
    ----------
    drl : str
        How the daytime lamps of this vehicle burn, where it is known: a variant as without dropping while turning.
    low_beam : str
        Whether its low beam stays on with high beam, where that is known: `stays` or `leaves`.
    """

    arrangement: Arrangement
    brake_with_hazard: BrakeWithHazard = BrakeWithHazard.FLASH_WINS
    drl: str = ""
    low_beam: str = ""


GROUND_SWITCHED = "ground_switched"
"""The variant of a lamp that has battery voltage always and whose wire here is pulled to ground when on."""

DROPS = "drops_"
"""What the variant of a daytime lamp that goes out while its side flashes is called by, before that side."""

RELEASED = "released"
"""What the variant of a daytime lamp that burns only with the park brake released is called by, after its trigger."""

_GROUND_SWITCHED_SHARE = 0.02
"""Motorcycles, older makes, doors: few of all lamps (estimate)."""

_FEED_VARIANTS: dict[Function, tuple[tuple[str, float], ...]] = {
    Function.TAIL: (("plain", 0.92), ("pulsed", 0.08)),
    Function.LOW_BEAM: (("stays", 0.5), ("leaves", 0.5)),
    **dict.fromkeys(
        (
            Function.TAIL_LEFT,
            Function.TAIL_RIGHT,
            Function.STOP,
            Function.TURN_LEFT,
            Function.TURN_RIGHT,
            Function.STOP_TURN_LEFT,
            Function.STOP_TURN_RIGHT,
            Function.REVERSE,
            Function.HIGH_BEAM,
            Function.FOG_FRONT,
            Function.FOG_REAR,
        ),
        (("plain", 1.0),),
    ),
}
"""Lamp circuits that are switched in the feed, or now and then in the ground."""

_VARIANTS: dict[Function, tuple[tuple[str, float], ...]] = {
    Function.DRL: (
        *(("key", 0.33), ("key_dims", 0.25), ("engine", 0.16), ("engine_dims", 0.08)),
        *(("key_released", 0.04), ("engine_released", 0.04)),
        *(
            ("key_drops_left", 0.03),
            ("key_drops_right", 0.03),
            ("engine_drops_left", 0.02),
            ("engine_drops_right", 0.02),
        ),
    ),
    Function.DATA: (("fast", 0.6), ("single", 0.25), ("slow_high", 0.075), ("slow_low", 0.075)),
    Function.DEAD_FEED: (("main", 0.6), ("small", 0.25), ("beam", 0.15)),
    Function.MARKER_BETWEEN: (("left", 0.5), ("right", 0.5)),
    **{
        function: (
            *((name, weight * (1 - _GROUND_SWITCHED_SHARE)) for name, weight in feeds),
            (GROUND_SWITCHED, _GROUND_SWITCHED_SHARE),
        )
        for function, feeds in _FEED_VARIANTS.items()
    },
}
"""Ways in which one function behaves on different vehicles, with a prior weight each (our estimate)."""


def polarity_of(variant: str) -> Polarity:
    """Which side of the lamp a variant switches."""
    return Polarity.GROUND if variant == GROUND_SWITCHED else Polarity.POSITIVE


def variants(function: Function) -> tuple[tuple[str, float], ...]:
    """The named ways this function behaves on different vehicles, and how common each is.

    Parameters
    ----------
    function : Function

    Returns
    -------
    tuple of (str, float)
        Variant and weight [-]; the weights sum to 1. Most functions have one, `plain`.
    """
    return _VARIANTS.get(function, (("plain", 1.0),))


def daytime_of(circuits: Iterable[tuple[Function, str]]) -> str:
    """How a vehicle's daytime lamps burn, by its circuits in their variants; empty where it has none.

    That they drop while turning is left out: no lamp is wanted to go dark because its feed does.
    """
    found = next((variant for function, variant in circuits if function is Function.DRL), "")
    return found.partition(f"_{DROPS}")[0]


def low_beam_of(circuits: Iterable[tuple[Function, str]]) -> str:
    """What a vehicle's low beam does with high beam, by its circuits in their variants; empty where not known."""
    habits = ("stays", "leaves")
    return next(
        (variant for function, variant in circuits if function is Function.LOW_BEAM and variant in habits), ""
    )


def signal(function: Function, state: State, scenario: Scenario, variant: str = "") -> Signal:
    """What a circuit of this function carries in a state.

    Parameters
    ----------
    function : Function
        `ground`, `spare` and `dead_feed` carry nothing: `DARK`.
    state : State
    scenario : Scenario
        Combined lamps depend on its `brake_with_hazard`.
    variant : str
        One of `variants(function)`; empty for the vehicle's own where the scenario says it, else the most common one.

    Returns
    -------
    Signal

    Notes
    -----
    In a combined lamp the flash of its own indicator always wins over the brake; with the hazards the
    scenario decides (common practice; older vehicles burn steady). A ground-switched circuit has the signal
    of its lamp: on is the wire at ground. The signal of `marker_between` is its lamp's as well: it has no
    ground of its own, so it goes dark while the turn lamp that it returns through is lit.
    """
    known = {Function.DRL: scenario.drl, Function.LOW_BEAM: scenario.low_beam}.get(function, "")
    return _RULES[function](state, scenario, variant or known or variants(function)[0][0])


Rule = Callable[[State, Scenario, str], Signal]


def _on_with(*controls: Control, on: Signal = LIT) -> Rule:
    """The plain case: this signal while any of these controls is on."""
    return lambda state, scenario, variant: on if state.on(*controls) else DARK


def _turn(own: Control) -> Rule:
    return _on_with(own, Control.HAZARD, on=FLASHING)


def _stop_turn(own: Control) -> Rule:
    def rule(state: State, scenario: Scenario, variant: str) -> Signal:
        if state.on(own):
            return FLASHING
        braking = state.on(Control.BRAKE)
        if state.on(Control.HAZARD):
            steady = braking and scenario.brake_with_hazard is BrakeWithHazard.BRAKE_WINS
            return LIT if steady else FLASHING
        return LIT if braking else DARK

    return rule


def _over(front: Rule, back: Rule) -> Rule:
    """One filament, two uses: `back` shows wherever `front` is dark."""

    def rule(state: State, scenario: Scenario, variant: str) -> Signal:
        own = front(state, scenario, variant)
        return back(state, scenario, variant) if own == DARK else own

    return rule


def _with_trailer(rule: Rule) -> Rule:
    """Live only while a trailer is plugged in."""
    return lambda state, scenario, variant: rule(state, scenario, variant) if state.on(Control.TRAILER) else DARK


def _trailer_turn(own: Control) -> Rule:
    """A trailer's signals are those of the rear lamps: where they are combined, its turn feed brakes as well."""
    combined, separate = _stop_turn(own), _turn(own)

    def rule(state: State, scenario: Scenario, variant: str) -> Signal:
        is_combined = scenario.arrangement is Arrangement.COMBINED
        return (combined if is_combined else separate)(state, scenario, variant)

    return _with_trailer(rule)


def _tail(state: State, scenario: Scenario, variant: str) -> Signal:
    return _on_with(Control.PARK, on=PARTLY if variant == "pulsed" else LIT)(state, scenario, variant)


def _drl(state: State, scenario: Scenario, variant: str) -> Signal:
    trigger, _, habit = variant.partition("_")
    if not state.on(Control(trigger)) or (habit == RELEASED and state.on(Control.PARK_BRAKE)):
        return DARK
    if state.on(Control.PARK):
        return PARTLY if habit == "dims" else DARK
    side = habit.removeprefix(DROPS)
    drops = side != habit and state.on(Control(side), Control.HAZARD)
    return DARK if drops else LIT


def _low_beam(state: State, scenario: Scenario, variant: str) -> Signal:
    is_on = state.on(Control.LOW) or (variant == "stays" and state.on(Control.HIGH))
    return LIT if is_on else DARK


def _marker_between(state: State, scenario: Scenario, variant: str) -> Signal:
    parked = state.on(Control.PARK, Control(f"park_{variant}"))
    if state.on(Control(variant), Control.HAZARD):
        return OUT_OF_STEP if parked else FLASHING
    return LIT if parked else DARK


_NEVER = _on_with()
_PART_WITH_PARK = _on_with(Control.PARK, on=PARTLY)
_STOP = _on_with(Control.BRAKE)
_EITHER_SIDE = _on_with(Control.LEFT, Control.RIGHT, Control.HAZARD, on=FLASHING)

_RULES: dict[Function, Rule] = {
    Function.GROUND: _NEVER,
    Function.TAIL: _tail,
    Function.TAIL_LEFT: _on_with(Control.PARK, Control.PARK_LEFT),
    Function.TAIL_RIGHT: _on_with(Control.PARK, Control.PARK_RIGHT),
    Function.STOP: _STOP,
    Function.TURN_LEFT: _turn(Control.LEFT),
    Function.TURN_RIGHT: _turn(Control.RIGHT),
    Function.STOP_TURN_LEFT: _stop_turn(Control.LEFT),
    Function.STOP_TURN_RIGHT: _stop_turn(Control.RIGHT),
    Function.REVERSE: _on_with(Control.REVERSE),
    Function.TAIL_STOP_DIMMED: _over(_STOP, _PART_WITH_PARK),
    Function.TAIL_STOP_TURN_DIMMED_LEFT: _over(_stop_turn(Control.LEFT), _PART_WITH_PARK),
    Function.TAIL_STOP_TURN_DIMMED_RIGHT: _over(_stop_turn(Control.RIGHT), _PART_WITH_PARK),
    Function.TURN_PARK_DIMMED_LEFT: _over(_turn(Control.LEFT), _PART_WITH_PARK),
    Function.TURN_PARK_DIMMED_RIGHT: _over(_turn(Control.RIGHT), _PART_WITH_PARK),
    Function.MARKER_BETWEEN: _marker_between,
    Function.DRL: _drl,
    Function.LOW_BEAM: _low_beam,
    Function.HIGH_BEAM: _on_with(Control.HIGH),
    Function.FOG_FRONT: _on_with(Control.FOG_FRONT),
    Function.FOG_REAR: _on_with(Control.FOG_REAR),
    Function.IGNITION: _on_with(Control.KEY),
    Function.BATTERY: lambda state, scenario, variant: LIT,
    Function.BRAKE_CONTROLLER: _on_with(Control.BRAKE, Control.TRAILER_LEVER, on=VARYING),
    Function.DATA: lambda state, scenario, variant: DARK if state.on(Control.ASLEEP) else BUS,
    Function.SPARE: _NEVER,
    Function.DEAD_FEED: _NEVER,
    Function.FLASHER_OUT: _EITHER_SIDE,
    Function.PILOT: _EITHER_SIDE,
    Function.PILOT_LEFT: _turn(Control.LEFT),
    Function.PILOT_RIGHT: _turn(Control.RIGHT),
    Function.HAZARD_FEED: lambda state, scenario, variant: LIT,
    Function.STOP_SWITCH: _STOP,
    Function.TRAILER_TAIL: _with_trailer(_on_with(Control.PARK)),
    Function.TRAILER_STOP: _with_trailer(_STOP),
    Function.TRAILER_TURN_LEFT: _trailer_turn(Control.LEFT),
    Function.TRAILER_TURN_RIGHT: _trailer_turn(Control.RIGHT),
    Function.TRAILER_REVERSE: _with_trailer(_on_with(Control.REVERSE)),
}
