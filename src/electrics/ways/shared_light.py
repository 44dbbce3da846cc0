"""Lamps whose leads feed each other inside: one lead lights what belongs to another."""

from __future__ import annotations

from collections.abc import Mapping, Sequence

from electrics.circuit.findings import RULES, CircuitFinding
from electrics.circuit.simulate import Simulation
from electrics.design.units import Lead
from electrics.signals import Level, Signal
from electrics.vocabulary import State

__all__ = ["Shared", "own_light", "shared_light", "without_shared"]

Shared = Mapping[State, tuple[bool, bool]]
"""Whether another lead of the unit is meant to be lit in the lit and in the dark phase, by state."""


def shared_light(lead: Lead, leads: Sequence[Lead], wanted: Sequence[Mapping[State, Signal]]) -> Shared:
    """The states in which the other leads of a unit should be lit; empty where leads do not feed each other."""
    if not lead.is_linked:
        return {}
    others = [
        wish for other, wish in zip(leads, wanted, strict=True) if other.unit == lead.unit and other is not lead
    ]
    return {
        state: (
            any(wish[state].lit is not Level.OFF for wish in others),
            any(wish[state].dark is not Level.OFF for wish in others),
        )
        for state in (others[0] if others else ())
    }


def own_light(seen: Signal, wish: Signal, also: tuple[bool, bool] | None) -> Signal:
    """What a lead shows of its own: light that is there for another lead of its unit is left out."""
    if also is None:
        return seen
    lit = wish.lit if also[0] and wish.lit is Level.OFF else seen.lit
    dark = wish.dark if also[1] and wish.dark is Level.OFF else seen.dark
    return Signal(lit, dark)


def without_shared(
    found: Sequence[CircuitFinding], simulation: Simulation, lamps: Sequence[Sequence[str]], shared: Sequence[Shared]
) -> tuple[CircuitFinding, ...]:
    """Findings but those of lamps that are lit along with another lead of their unit.

    Parameters
    ----------
    found : sequence of Finding
    simulation : Simulation
    lamps : sequence of sequence of str
        Names of the lamps, by lead.
    shared : sequence of Shared
        By lead.
    """
    also = {name: each for names, each in zip(lamps, shared, strict=True) if each for name in names}
    kept = [each for each in found if each.rule != "wrong_road" or each.subject not in also]
    named: set[str] = set()
    for point in simulation.points if also else ():
        for each in RULES["wrong_road"](point):
            if each.subject not in also or each.subject in named:
                continue
            if not also[each.subject][point.case.state][not point.case.lit]:
                named.add(each.subject)
                kept.append(each.at("wrong_road", point))
    return tuple(kept)
