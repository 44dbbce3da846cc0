"""What a job needs of each of its places, and what is believed once it counts that this is all it needs.

A wire that the job taps is settled when it is sure enough for that; a wire that nobody taps may stay open.
"""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from dataclasses import replace

from electrics.design.sources import own_for
from electrics.design.units import Lead, Unit
from electrics.document.job import JobFacts
from electrics.document.places import AccessPoint
from electrics.errors import FactError
from electrics.identify.belief import Belief, Lack
from electrics.identify.kinds import FUSE_BOX, count_prior
from electrics.identify.needed import NOTHING, Needed, needs_of
from electrics.job.added import accessory_of
from electrics.job.beliefs import believe
from electrics.reference.functions import kind_of
from electrics.vocabulary import FUNCTIONS, Arrangement, Control, Function

__all__ = ["beliefs_of", "needed_of"]

F = Function
Group = tuple[Function, ...]
MAY_HOLD = 0.05
"""Chance from which a place may have a function, so that it is looked for there [-]."""


def beliefs_of(facts: JobFacts) -> tuple[Belief, ...]:
    """What is believed of every place of a job, in order: what it taps is settled once it is sure enough for that."""
    found = believe(facts.places, facts.vehicle)
    needed = needed_of(facts, found)
    return tuple(_settled_for(*each) for each in zip(found, needed, strict=True))


def needed_of(facts: JobFacts, beliefs: Sequence[Belief]) -> tuple[Needed, ...]:
    """What a job needs of each of its places, in order.

    Parameters
    ----------
    facts : JobFacts
    beliefs : sequence of Belief
        Of its places, in order: what was found at one place is not looked for at another.

    Returns
    -------
    tuple of Needed
        Nothing anywhere while what is added cannot be read.
    """
    try:
        added = accessory_of(facts)
    except FactError:
        return (NOTHING,) * len(beliefs)
    groups: list[dict[Group, None]] = [{} for _ in beliefs]
    for unit in added.units:
        for lead in unit.leads:
            for group in _groups(lead, facts.vehicle.arrangement, facts.vehicle.not_fitted):
                for n in _where(unit, lead, group, beliefs):
                    groups[n][group] = None
    return tuple(
        Needed(tuple(found), ground=belief.point.kind != FUSE_BOX) if found else NOTHING
        for found, belief in zip(groups, beliefs, strict=True)
    )


def _settled_for(belief: Belief, needed: Needed) -> Belief:
    """A belief whose wires that the job needs are settled, where they are sure enough to be tapped."""
    sure = {need.pin: need.function for need in needs_of(belief, needed) if need.is_met and need.is_here}
    wires = tuple(
        replace(wire, lack=Lack.NOTHING) if wire.function is sure.get(wire.pin) else wire for wire in belief.wires
    )
    return belief if wires == belief.wires else replace(belief, wires=wires)


def _groups(lead: Lead, arrangement: Arrangement | None, lacks: frozenset[Control]) -> Iterator[Group]:
    """What a lead may be fed from, as far as the vehicle can have it; of each group one wire will do."""
    own = {source.function for source in own_for([lead.wanted])}  # at the battery, behind the key
    for function in sorted(set(lead.wanted.functions) - own, key=FUNCTIONS.index):
        for group in _instead(function, lead.side):
            possible = tuple(each for each in group if _fits(each, arrangement, lacks))
            if possible:
                yield possible


def _fits(function: Function, arrangement: Arrangement | None, lacks: frozenset[Control]) -> bool:
    """Whether a vehicle of an arrangement that lacks some controls can have it."""
    is_other = arrangement is Arrangement.SEPARATE and kind_of(function).is_combined
    return not is_other and lacks.isdisjoint(kind_of(function).needs)


def _instead(function: Function, side: str) -> tuple[Group, ...]:
    """What a behavior may come from for a lead on a side, the function itself first.

    One wire may carry two functions of a lamp; where turn and brake share a wire, it stands in for both, and where
    they do not, both are needed in its place.
    """
    sides = (side,) if side else ("left", "right")
    dimmed = (F.TAIL_STOP_DIMMED, *(F(f"tail_stop_turn_dimmed_{each}") for each in sides))
    if function is F.TAIL:
        return ((F.TAIL, *(F(f"tail_{each}") for each in sides), *dimmed),)
    if function is F.STOP:
        return ((F.STOP, *(F(f"stop_turn_{each}") for each in sides), *dimmed),)
    kind = kind_of(function)
    if function in (F.STOP_TURN_LEFT, F.STOP_TURN_RIGHT):
        return (function, F.STOP), (function, F(f"turn_{kind.side}"))
    if function in (F.TURN_LEFT, F.TURN_RIGHT):
        return ((function, F(f"stop_turn_{kind.side}"), F(f"turn_park_dimmed_{kind.side}")),)
    return ((function,),)


def _where(unit: Unit, lead: Lead, group: Group, beliefs: Sequence[Belief]) -> list[int]:
    """The places where a group is looked for: the unit's own, else those of its side, where one has it that one."""
    able = [n for n, belief in enumerate(beliefs) if belief.wires and _may_hold(belief.point, group)]
    named = [n for n in able if beliefs[n].point.name in {unit.instead_of, unit.place} - {""}]
    side = lead.side or unit.side
    beside = [n for n in able if str(beliefs[n].point.side) in ("", side)] if side else able
    there = named or beside or able
    has = [n for n in there if any(wire.is_settled and wire.function in group for wire in beliefs[n].wires)]
    return has[:1] or there


def _may_hold(point: AccessPoint, group: Group) -> bool:
    """Whether such a place has one of the group on some vehicles at least."""
    rows = [FUNCTIONS.index(function) for function in group]
    priors = (count_prior(point.kind, point.side, each, len(point.wires)) for each in Arrangement)
    return any(float(1.0 - prior[row, 0]) >= MAY_HOLD for prior in priors for row in rows)
