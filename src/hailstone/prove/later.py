"""What is still temporary after a job, and when to look again: proposed from the job, changed by who signs."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass
from datetime import date, timedelta

from electrics.document.decisions import Keeps
from hailstone.layers.progress import Overview
from hailstone.wording.words import counted, listed

__all__ = ["Later", "later"]

SOON_DAYS, USUAL_DAYS = 30, 180
"""When temporary work is looked at again, and any other [d] (common practice: some weeks, half a year)."""


@dataclass(frozen=True)
class Later:
    """What is proposed: what is temporary, when to look again, and what to look at then."""

    temporary: str
    look_again_on: date
    why: str


def later(view: Overview, today: date) -> Later:
    """What is proposed for a job that is about to be signed."""
    temporary = "; ".join(_temporary(view))
    looked_at = list(_looked_at(view))
    days = SOON_DAYS if temporary or looked_at else USUAL_DAYS
    why = f"Look at {listed(looked_at)} then." if looked_at else "Joints, grounds and sleeves, as after any job."
    return Later(temporary[:200], today + timedelta(days=days), why)


def _temporary(view: Overview) -> Iterator[str]:
    joins = view.build.joins if view.build else ()
    taps = [join.label for join in joins if join.method == "displacement_tap"]
    if taps:
        yield f"insulation-displacement taps ({listed(taps)}) to be replaced by crimped or soldered joints"
    if view.derived.facts.hookup.keeps is not Keeps.FOR_GOOD:
        yield "comes off again after use"
    if view.plan.overridden:
        yield f"used though it doesn't work in every state: {view.plan.overridden}"


def _looked_at(view: Overview) -> Iterator[str]:
    fitted = view.build.fitted if view.build else ()
    hot = [part.label for part in fitted if part.part in ("load_resistor", "decoder")]
    if hot:
        yield f"{listed(hot)}: tight, paint and loom beside {'it' if len(hot) == 1 else 'them'} unharmed"
    assumed = sum(wire.is_assumed for wire in (view.build.wires if view.build else ()))
    if assumed:
        yield f"{counted(assumed, 'wire')} whose length nobody measured"
    unsettled = [circuit for circuit in view.plan.circuits if circuit.assumed]
    if unsettled:
        yield "the fuses and bulbs that were assumed"
