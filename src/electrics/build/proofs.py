"""What a wire must show before it is cut: live in one state, dead in those that it could be mistaken for."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

from electrics.design.design import End
from electrics.errors import StateError
from electrics.reference.functions import kind_of
from electrics.signals import DARK, Scenario, polarity_of, signal
from electrics.vocabulary import Control, Function, Polarity, State, make_state

__all__ = ["Proof", "Tapped", "proof_of"]

LIVE_IN = (
    Control.BRAKE,
    Control.LEFT,
    Control.RIGHT,
    Control.REVERSE,
    Control.PARK,
    Control.PARK_LEFT,
    Control.PARK_RIGHT,
    Control.LOW,
    Control.HIGH,
    Control.FOG_FRONT,
    Control.FOG_REAR,
    Control.KEY,
    Control.ENGINE,
)
"""Where a wire is looked at live, where its row in the table of functions names no control."""
DOUBLES = (Control.BRAKE, Control.PARK, Control.LEFT, Control.RIGHT, Control.REVERSE)
"""What a wire is mistaken for, the commonest mistakes first (common practice)."""
MOST_DEAD = 2


@dataclass(frozen=True)
class Tapped:
    """What a tapped wire does, and in which variant."""

    function: Function
    variant: str = ""


@dataclass(frozen=True)
class Proof:
    """What to measure on a wire before it is cut.

    Attributes
    ----------
    live, dead : tuple of State
        Where it is live, and where it is not; at a battery feed nothing is dead.
    is_switched_ground : bool
        The wire switches the ground side: it is read against battery positive.
    looks : str
        How it is live: `on`, `part` (pulses) or `flash`; empty where the vehicle's variants differ.
    """

    end: End
    function: Function
    live: tuple[State, ...]
    dead: tuple[State, ...]
    is_switched_ground: bool = False
    looks: str = ""


def proof_of(
    end: End, tapped: Tapped, scenarios: Sequence[Scenario], not_fitted: frozenset[Control] = frozenset()
) -> Proof:
    """What a wire must show before it is cut.

    Parameters
    ----------
    end : End
        The wire, where it is tapped.
    tapped : Tapped
    scenarios : sequence of Scenario
        What the vehicle may be like: a state counts only where all agree.
    not_fitted : frozenset of Control
        What the vehicle lacks.

    Returns
    -------
    Proof
    """

    def shows(control: Control) -> set[bool]:
        try:
            state = make_state([control])
        except StateError:
            return set()
        return {signal(tapped.function, state, each, tapped.variant) != DARK for each in scenarios}

    shown_with = kind_of(tapped.function).shown_with
    order = [*([shown_with] if shown_with else []), *LIVE_IN]
    possible = [control for control in dict.fromkeys(order) if control not in not_fitted]
    always = shows(Control.REST) == {True}
    live = [Control.REST] if always else [each for each in possible if shows(each) == {True}][:1]
    dead = [] if always else [each for each in DOUBLES if each not in not_fitted and shows(each) == {False}]
    dead = dead[:MOST_DEAD] or ([] if always else [Control.REST])
    on = [make_state([each]) for each in live]
    looks = {signal(tapped.function, state, each, tapped.variant).word for state in on for each in scenarios}
    is_ground = polarity_of(tapped.variant) is Polarity.GROUND
    return Proof(
        end,
        tapped.function,
        tuple(on),
        tuple(make_state([each]) for each in dead),
        is_ground,
        looks.pop() if len(looks) == 1 else "",
    )
