"""What each line of a test sheet rests on: everything between supply and ground of its lamp, as it is built.

A result stands only while that stands. Names and labels are left out: a new name changes nothing that was tested.
"""

from __future__ import annotations

from collections.abc import Iterable, Iterator, Mapping
from dataclasses import fields
from functools import cached_property
from hashlib import sha256

from electrics.build.steps import Step, StepKey
from electrics.circuit.elements import Element
from electrics.design.design import Design, End, EndKind, Fitted, Join, Wiring
from electrics.design.units import Lead, Unit
from electrics.job.hookup_plan import HookUpPlan
from electrics.job.plan import Plan
from electrics.prove.sheet import Line
from electrics.vocabulary import Function

__all__ = ["rests_on", "step_rests", "whole"]

STOPS = (EndKind.BATTERY, EndKind.SUPPLY, EndKind.GROUND, EndKind.PIN)
"""Where what was built ends."""
NAMELESS = ("name", "nodes")


def rests_on(found: Plan) -> dict[str, str]:
    """What each line of a plan's sheet rests on, by the line's key; equal while that is built as it was.

    Parameters
    ----------
    found : Plan

    Returns
    -------
    dict of str to str
        Empty while there is no sheet or no design.
    """
    if found.sheet is None or found.hookup.design is None:
        return {}
    built = _Built(found.hookup, found.hookup.design)
    return {line.key: built.of(line) for line in found.sheet.lines}


def whole(found: Plan) -> str:
    """The same for all that is built; empty while there is no design."""
    hookup = found.hookup
    return "" if hookup.design is None else _Built(hookup, hookup.design).all


def step_rests(found: Plan) -> dict[StepKey, str]:
    """What each step of a plan's build sheet handles: a tick stands while that stays as it was."""
    hookup = found.hookup
    if hookup.design is None:
        return {}
    built = _Built(hookup, hookup.design)
    return {step.key: built.of_step(step) for step in found.steps}


class _Built:
    """The design as a graph: walked from a lamp to every supply and ground."""

    def __init__(self, hookup: HookUpPlan, design: Design) -> None:
        self.hookup, self.design = hookup, design
        self.units = {unit.id: unit for unit in hookup.accessory.units}
        self.ids = {name: unit.id for unit in self.units.values() for name in unit.names}
        self.wires: dict[str, list[Wiring]] = {}
        for wire in design.wires:
            for end in wire.ends:
                self.wires.setdefault(end.node, []).append(wire)
        self.joins: dict[str, list[Join]] = {}
        for join in design.joins:
            for end in (*join.members, join.end):
                self.joins.setdefault(end.node, []).append(join)
        self.parts: dict[str, list[Fitted]] = {}
        for part in design.parts:
            for end in part.ends.values():
                self.parts.setdefault(end.node, []).append(part)

    def of(self, line: Line) -> str:
        """What a line rests on."""
        if line.lamp is None:
            return self.all
        if not line.lamp.is_added:
            functions = set(line.lamp.does.functions)
            return _digest(text for lead in self._tapping(functions) for text in self._lead(lead))
        id = line.lamp.lead or self.hookup.leads[0].lead.id
        lead = next((each.lead for each in self.hookup.leads if each.lead.id == id), None)
        return _digest(self._lead(lead)) if lead is not None else self.all

    def of_step(self, step: Step) -> str:
        """What a step handles; the same for all where it rests on nothing."""
        if step.kind.rests == "whole":
            return self.all
        lines = [step.kind.id]
        if step.kind.rests == "own":
            lines += map(self._wire, step.wires)
            lines += (f"joint {join.method} {_colour(join)} {self._ends_of(join.members)}" for join in step.joins)
            lines += (f"part {part.part} {part.value} {part.role}" for part in step.parts)
            lines += (f"unit {unit.id} {unit.lamps}" for unit in step.units)
            lines += [self._ends_of(step.ends), str(step.proof and (step.proof.live, step.proof.dead))]
        return _digest(lines)

    @cached_property
    def all(self) -> str:
        """What everything rests on."""
        return _digest(text for each in self.hookup.leads for text in self._lead(each.lead))

    def _tapping(self, functions: set[Function]) -> Iterator[Lead]:
        for each in self.hookup.leads:
            if each.shown and any(place.wire.function in functions for place in each.shown.tapped):
                yield each.lead

    def _lead(self, lead: Lead) -> Iterator[str]:
        """Everything between supply and ground of a lead's lamps, a line for each."""
        unit = self.units[lead.unit]
        yield f"{lead.id} {lead.wanted.text} {lead.technology} {lead.polarity}"
        for light in self.design.lights:
            if light.lead == lead.id:
                yield from map(_element, (light.element, *light.inside))
        yield from map(str, sorted(self.design.brings.items()))
        way = next((each.shown for each in self.hookup.leads if each.lead is lead or each.lead.id == lead.id), None)
        for place in way.tapped if way else ():
            yield f"taps {place.key} {place.wire.function} {place.wire.variant}"
        yield from self._walked(self._ends(unit, lead))

    def _ends(self, unit: Unit, lead: Lead) -> Iterator[End]:
        """The ends of a lead's lamps, and of what they have in common."""
        others = {each.label for each in unit.leads if each.id != lead.id}
        for end in self.design.ends():
            if end.kind is EndKind.UNIT and end.what in unit.names and end.terminal not in others:
                yield end

    def _walked(self, starts: Iterable[End]) -> Iterator[str]:
        seen: set[int] = set()
        known = {end.node: end for end in starts}
        todo = list(known.values())
        while todo:
            end = todo.pop()
            for wire in self.wires.get(end.node, ()):
                if id(wire) not in seen:
                    seen.add(id(wire))
                    yield self._wire(wire)
                    todo += self._beyond(wire.ends, known)
            for join in self.joins.get(end.node, ()):
                if id(join) not in seen:
                    seen.add(id(join))
                    yield f"joint {join.method} {self._ends_of(join.members)}"
                    todo += self._beyond((*join.members, join.end), known)
            for part in self.parts.get(end.node, ()):
                if id(part) not in seen:
                    seen.add(id(part))
                    yield f"part {part.part} {part.value} {part.role} {_element(part.element)}"
                    todo += self._beyond(part.ends.values(), known)

    def _wire(self, wire: Wiring) -> str:
        return f"wire {wire.role} {wire.conductor.name} {wire.cut_m:.2f} {self._ends_of(wire.ends)}"

    def _beyond(self, ends: Iterable[End], known: dict[str, End]) -> Iterator[End]:
        """The ends that it goes on from: not those of other lamps, nor where what was built ends."""
        for end in ends:
            if end.node not in known and end.kind not in (*STOPS, EndKind.UNIT):
                known[end.node] = end
                yield end

    def _ends_of(self, ends: Iterable[End]) -> str:
        return " ".join(sorted(map(self._end, ends)))

    def _end(self, end: End) -> str:
        """An end without the name or the number of what it is on."""
        own = {EndKind.UNIT: self.ids.get(end.what, ""), EndKind.PIN: end.key}.get(end.kind, "")
        where = end.spot.zone if end.kind is EndKind.GROUND else ""
        return f"{end.kind}:{own}{where}:{end.terminal if end.kind is not EndKind.JOINT else ''}"


def _colour(join: Join) -> str:
    return join.fit.connector_colour if join.fit else ""


def _element(element: Element) -> str:
    values: Mapping[str, object] = {
        each.name: getattr(element, each.name) for each in fields(element) if each.name not in NAMELESS
    }
    return f"{type(element).__name__} {values}"


def _digest(lines: Iterable[str]) -> str:
    return sha256("\n".join(sorted(lines)).encode()).hexdigest()[:16]
