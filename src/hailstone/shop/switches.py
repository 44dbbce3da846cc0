"""The switch strip: the controls of a vehicle as buttons, and the state that pressing each gives."""

from __future__ import annotations

from collections.abc import Collection, Sequence
from dataclasses import dataclass

from electrics.vocabulary import Control, State, parse_state
from hailstone.wording.words import CONTROLS

STRIP = (
    (Control.KEY, "k"),
    (Control.PARK, "p"),
    (Control.BRAKE, "b"),
    (Control.LEFT, "l"),
    (Control.RIGHT, "r"),
    (Control.HAZARD, "h"),
    (Control.REVERSE, "v"),
)
MORE = (
    (Control.ENGINE, "e"),
    (Control.LOW, "w"),
    (Control.HIGH, "g"),
    (Control.FOG_REAR, "f"),
    (Control.FOG_FRONT, "d"),
    (Control.PARK_LEFT, "["),
    (Control.PARK_RIGHT, "]"),
    (Control.TRAILER_LEVER, "t"),
    (Control.TRAILER, "y"),
    (Control.PARK_BRAKE, "9"),
    (Control.ASLEEP, "z"),
)
OWN = ((Control.OWN_SWITCH, "o"),)
"""The controls of the strip, the rarer ones, and what was added, with their keys; `0` is all off."""

_EXCLUSIVE = (
    {Control.LEFT, Control.RIGHT},
    {Control.PARK_LEFT, Control.PARK_RIGHT},
)


@dataclass(frozen=True)
class StripSwitch:
    """One control on the strip and the state that pressing it gives."""

    name: str
    key: str
    is_on: bool
    leads_to: str


def switches(
    state: State,
    controls: Sequence[tuple[Control, str]],
    *,
    all_off: bool = False,
    within: Collection[State] = (),
) -> tuple[StripSwitch, ...]:
    """The strip as it stands in a state.

    Parameters
    ----------
    state : State
        What is on now.
    controls : sequence of (Control, str)
        The switches with their keys.
    all_off : bool
        Whether a switch for everything off comes first.
    within : collection of State
        Where only some states can be shown: a switch whose combination is not among them gives its own state alone.
    """
    shown = []
    if all_off:
        shown.append(StripSwitch("All off", "0", state.controls == (Control.REST,), "rest"))
    for control, key in controls:
        pressed = _pressed(state, control)
        if within and pressed not in within:
            pressed = parse_state(control)
        shown.append(StripSwitch(CONTROLS[control], key, control in state.controls, str(pressed)))
    return tuple(shown)


def _pressed(state: State, control: Control) -> State:
    on = set(state.controls) - {Control.REST, Control.ASLEEP}
    is_on = control in state.controls
    if control is Control.ASLEEP:
        on = set() if is_on else {control}
    elif is_on:
        on.discard(control)
    else:
        for pair in _EXCLUSIVE:
            if control in pair:
                on -= pair
        on.add(control)
    return parse_state("+".join(on) or "rest")
