"""What feeds one lead, read off the design: from its lamp back to every source, and on to its ground.

Joints without a branch lie in line; a joint with one is a point by itself. What connects to one joint alone (a load
resistor, another unit) is kept beside it.
"""

from __future__ import annotations

from collections.abc import Collection, Iterator, Mapping
from dataclasses import dataclass, field
from enum import StrEnum

from electrics.design.design import Design, End, EndKind, Fitted, Join, Wiring
from electrics.design.part_kinds import part_kind
from electrics.design.units import Unit

__all__ = ["Kind", "Knot", "Link", "Segment", "Tail", "common_of", "feed_path_of"]


class Kind(StrEnum):
    """What stands at a place of the drawing."""

    LAMP = "lamp"
    PART = "part"
    JOINT = "joint"
    PIN = "pin"
    BATTERY = "battery"


@dataclass(frozen=True)
class Segment:
    """A piece of one wire: one that is cut and laid, or the tail of a pin, a part or a lamp.

    Attributes
    ----------
    node : str
        Its node in the circuit, at the end away from the source.
    tail : End or None
        Whose tail it is; None for a wire that is laid.
    """

    node: str
    wire: Wiring | None = None
    tail: End | None = None


@dataclass(eq=False)
class Link:
    """From one place of the drawing to the next: segments, and the joints between them, in the way of the current."""

    start: Knot
    segments: tuple[Segment, ...]
    joints: tuple[str, ...]
    terminal: str = ""
    """Of the part that it ends at."""


@dataclass(frozen=True)
class Tail:
    """The way to ground, or to the battery where that is the common: as a `Link`, with the parts in it."""

    segments: tuple[Segment, ...]
    joints: tuple[str, ...]
    parts: tuple[Fitted, ...]
    end: End


@dataclass(eq=False)
class Knot:
    """A place of the drawing, with what comes in.

    Attributes
    ----------
    hangs : list of (Fitted, Tail or None)
        Parts beside the current's way, with their ground.
    others : list of str
        What else is fed from here, by name.
    grounds : list of (str, Tail)
        Of a part: the terminals that go to ground.
    """

    kind: Kind
    name: str
    part: Fitted | None = None
    end: End | None = None
    inputs: list[Link] = field(default_factory=list)
    hangs: list[tuple[Fitted, Tail | None]] = field(default_factory=list)
    others: list[str] = field(default_factory=list)
    grounds: list[tuple[str, Tail]] = field(default_factory=list)


def feed_path_of(
    design: Design, unit: Unit, lead: str, label: str, tapped: Collection[str]
) -> tuple[Knot, Tail | None]:
    """The lamp of a lead with everything that feeds it, and its way to ground.

    Parameters
    ----------
    design : Design
    unit : Unit
        That the lead belongs to.
    lead, label : str
        Its id, and what it is called on the unit.
    tapped : collection of str
        Keys of the wires that feed something.
    """
    tracer = _Tracer(design, lead, frozenset(tapped))
    lamp = Knot(Kind.LAMP, unit.names[0])
    for end in _ends_of(design, unit):
        if _is_of(end, label):
            tracer.fill(lamp, tracer.point_of(end), end)
    return lamp, _common(tracer, design, unit)


def common_of(design: Design, unit: Unit, tapped: Collection[str]) -> Tail | None:
    """Where the common lead of a unit goes; None for none."""
    return _common(_Tracer(design, "", frozenset(tapped)), design, unit)


def _common(tracer: _Tracer, design: Design, unit: Unit) -> Tail | None:
    its = _ends_of(design, unit)
    common = next((end for end in its if not any(_is_of(end, each.label) for each in unit.leads)), None)
    return tracer.tail(tracer.point_of(common), common) if common is not None else None


def _ends_of(design: Design, unit: Unit) -> list[End]:
    """The ends of a unit, each once; the first lamp of a row counts for all."""
    ends = (end for end in design.ends() if end.kind is EndKind.UNIT and end.what == unit.names[0])
    return list(dict.fromkeys(ends))


def _is_of(end: End, label: str) -> bool:
    """Whether an end of a unit is one of a lead's: a bulb that switches itself has `turn flash` and `turn steady`."""
    return end.terminal == label or end.terminal.startswith(f"{label} ")


_Ways = tuple[list[End], list[Wiring], list[tuple[Fitted, End]]]


class _Tracer:
    def __init__(self, design: Design, lead: str, tapped: frozenset[str]) -> None:
        self.lead, self.tapped = lead, tapped
        self.parts: Mapping[str, Fitted] = {part.label: part for part in design.parts}
        self.joins: dict[str, Join] = {join.label: join for join in design.joins}
        self.meets = {m.node: join.label for join in design.joins for m in join.members if m.kind is not EndKind.WIRE}
        self.wires: dict[str, list[Wiring]] = {}
        self.ends: dict[str, list[End]] = {
            label: [m for m in join.members if m.kind is not EndKind.WIRE] for label, join in self.joins.items()
        }
        for wire in design.wires:
            for end in wire.ends:
                self.wires.setdefault(self.point_of(end), []).append(wire)
                if end.kind is not EndKind.JOINT:
                    self.ends.setdefault(self.point_of(end), []).append(end)
        for part in design.parts:
            for end in part.ends.values():
                if end not in self.ends.setdefault(self.point_of(end), []):
                    self.ends[self.point_of(end)].append(end)
        self.made: dict[str, Knot] = {}

    def point_of(self, end: End) -> str:
        """Where an end is: its joint, else itself."""
        return end.what if end.kind is EndKind.JOINT else self.meets.get(end.node, end.node)

    def node_of(self, point: str) -> str:
        """The node of a point in the circuit."""
        return self.joins[point].end.node if point in self.joins else point

    # what leads where

    def _is_source(self, end: End) -> bool:
        if end.kind in (EndKind.BATTERY, EndKind.SUPPLY):
            return True
        return end.kind is EndKind.PIN and (end.key in self.tapped or not self._is_ground(self.point_of(end)))

    def _is_ground(self, point: str) -> bool:
        """Whether a pin there is a ground: a ground wire meets it, or nothing that is fitted does."""
        return any(wire.role == "ground" for wire in self.wires.get(point, ())) or not any(
            end.kind is EndKind.PART for end in self.ends[point]
        )

    def _feeds(self, point: str, without: frozenset[str]) -> bool:
        """Whether a source can be reached from a point, against the current, without passing some points or parts."""
        if point in without:
            return False
        seen = without | {point}
        for end in self.ends.get(point, ()):
            if self._is_source(end):
                return True
            if end.kind is EndKind.PART and end.what not in seen and self._goes_in(self.parts[end.what], end, seen):
                return True
        return any(self._feeds(self._across(wire, point), seen) for wire in self.wires.get(point, ()))

    def _goes_in(self, part: Fitted, out: End, seen: frozenset[str]) -> bool:
        """Whether a part gives what it is fed when its current comes out at an end."""
        gives = part_kind(part.element).gives
        if gives and out.terminal not in gives:
            return False
        seen = seen | {part.label}
        asked = [end for end in part.ends.values() if end.terminal != out.terminal and end.terminal not in gives]
        return any(self._feeds(self.point_of(end), seen) for end in asked)

    def _across(self, wire: Wiring, point: str) -> str:
        first, second = (self.point_of(end) for end in wire.ends)
        return second if first == point else first

    # the tree

    def fill(self, knot: Knot, point: str, came: End | Wiring, terminal: str = "") -> None:
        """Put what feeds a knot through a point among its inputs, with what lies in line on the way."""
        segments: list[Segment] = []
        joints: list[str] = []
        if isinstance(came, End) and point in self.joins:
            segments.append(Segment(self.node_of(point), tail=came))
        seen = {point}
        while True:
            ways = sources, wires, parts = self._ways_in(point, came, knot)
            beside = self._beside(point, came, knot, ways)
            is_plain = len(sources) + len(wires) + len(parts) == 1 and not sources and not any(beside)
            if point in self.joins and not is_plain:
                knot.inputs.append(Link(self._joint(point, came), tuple(reversed(segments)), tuple(joints), terminal))
                return
            if point in self.joins:
                joints.insert(0, point)
            if wires:
                wire = wires[0]
                segments.append(Segment(self.node_of(point), wire=wire))
                came, point = wire, self._across(wire, point)
                if point in seen:
                    return
                seen.add(point)
                continue
            start = self._part(*parts[0]) if parts else self._source(sources[0]) if sources else None
            if start is None:
                return
            if parts and point in self.joins:
                segments.append(Segment(self.node_of(point), tail=parts[0][1]))
            knot.inputs.append(Link(start, tuple(reversed(segments)), tuple(joints), terminal))
            return

    def _ways_in(self, point: str, came: End | Wiring, knot: Knot) -> _Ways:
        """The sources at a point, the wires that something is fed by, and the parts that give something there."""
        without = frozenset((point, knot.name)) if knot.kind is Kind.PART else frozenset((point,))
        ends = [end for end in self.ends.get(point, ()) if end is not came]
        sources = [end for end in ends if self._is_source(end)]
        parts = [
            (self.parts[end.what], end)
            for end in ends
            if end.kind is EndKind.PART
            and end.what != knot.name
            and self._goes_in(self.parts[end.what], end, without)
        ]
        wires = [
            wire
            for wire in self.wires.get(point, ())
            if wire is not came and self._feeds(self._across(wire, point), without)
        ]
        return sources, wires, parts

    def _beside(self, point: str, came: End | Wiring, knot: Knot, ways: _Ways) -> tuple[list[Fitted], list[str]]:
        """Parts that connect to one point alone, and the names of what else it feeds."""
        hangs: list[Fitted] = []
        others: list[str] = []
        _, wires, parts = ways
        fed = {knot.name, *(part.label for part, _ in parts)}
        for end in self.ends.get(point, ()):
            is_own = end is came or (isinstance(came, Wiring) and end in came.ends)
            if not is_own and not (end.kind is EndKind.PART and end.what in fed):
                self._note(end, hangs, others)
        for wire in self.wires.get(point, ()):
            if wire is not came and not any(wire is each for each in wires):
                self._note_beyond(wire, point, hangs, others)
        return hangs, list(dict.fromkeys(others))

    def _note(self, end: End, hangs: list[Fitted], others: list[str]) -> None:
        """What an end belongs to: a part of this lead's that hangs here, or the name of something else."""
        if end.kind is EndKind.UNIT:
            others.append(end.what)
        elif end.kind is EndKind.PART and not self._is_made(self.parts[end.what]):
            part = self.parts[end.what]
            if self.lead in part.leads:
                hangs.append(part)
            else:
                others.append(part.label)

    def _is_made(self, part: Fitted) -> bool:
        return part.label in self.made

    def _note_beyond(self, wire: Wiring, point: str, hangs: list[Fitted], others: list[str]) -> None:
        """What a wire leads to that feeds nothing here."""
        seen, queue = {point}, [self._across(wire, point)]
        while queue:
            there = queue.pop()
            if there in seen:
                continue
            seen.add(there)
            for end in self.ends.get(there, ()):
                self._note(end, hangs, others)
            queue += [self._across(each, there) for each in self.wires.get(there, ())]

    def _joint(self, point: str, came: End | Wiring) -> Knot:
        if point in self.made:
            return self.made[point]
        join = self.joins[point]
        knot = self.made[point] = Knot(Kind.JOINT, join.label)
        ways = sources, wires, parts = self._ways_in(point, came, knot)
        for end in sources:
            knot.inputs.append(Link(self._source(end), (Segment(self.node_of(point), tail=end),), ()))
        for wire in wires:
            self._along(knot, point, wire)
        for part, end in parts:
            knot.inputs.append(Link(self._part(part, end), (Segment(self.node_of(point), tail=end),), ()))
        hangs, knot.others = self._beside(point, came, knot, ways)
        knot.hangs = [(part, self._ground_of(part, point)) for part in {part.label: part for part in hangs}.values()]
        return knot

    def _along(self, knot: Knot, point: str, wire: Wiring) -> None:
        """What feeds a joint by a wire."""
        other = self._across(wire, point)
        mark = len(knot.inputs)
        self.fill(knot, other, wire)
        for link in knot.inputs[mark:]:
            link.segments = (*link.segments, Segment(self.node_of(point), wire=wire))

    def _source(self, end: End) -> Knot:
        kind = Kind.PIN if end.kind is EndKind.PIN else Kind.BATTERY
        return self.made.setdefault(end.node, Knot(kind, end.what, end=end))

    def _part(self, part: Fitted, out: End) -> Knot:
        if part.label in self.made:
            return self.made[part.label]
        knot = self.made[part.label] = Knot(Kind.PART, part.label, part)
        gives = part_kind(part.element).gives
        for terminal, end in part.ends.items():
            if terminal == out.terminal or _is_across(terminal, out.terminal):
                continue
            point = self.point_of(end)
            if self._feeds(point, frozenset((part.label,))):
                if terminal not in gives:
                    self.fill(knot, point, end, terminal)
            elif (tail := self.tail(point, end)) is not None:
                knot.grounds.append((terminal, tail))
        fed = [link for link in knot.inputs if link.start.inputs or link.start.kind in (Kind.PIN, Kind.BATTERY)]
        knot.inputs = sorted(fed, key=lambda link: ORDER.get(link.terminal, 1))
        return knot

    def _ground_of(self, part: Fitted, point: str) -> Tail | None:
        ends = (end for end in part.ends.values() if self.point_of(end) != point)
        return next((tail for end in ends if (tail := self.tail(self.point_of(end), end)) is not None), None)

    # to ground

    def tail(self, point: str, came: End) -> Tail | None:
        """The shortest way from a point to ground, or to the battery where no ground is there."""
        start = [Segment(self.node_of(point), tail=came)] if point in self.joins else []
        queue: list[tuple[str, list[Segment], list[str], list[Fitted]]] = [(point, start, [], [])]
        seen = {point}
        while queue:
            there, segments, joints, parts = queue.pop(0)
            at = [*joints, there] if there in self.joins else joints
            for end in self.ends.get(there, ()):
                if end.kind in (EndKind.GROUND, EndKind.BATTERY, EndKind.SUPPLY) or (
                    end.kind is EndKind.PIN and end.key not in self.tapped
                ):
                    last = [Segment(self.node_of(there), tail=end)] if there in self.joins else []
                    return Tail((*segments, *last), tuple(at), tuple(parts), end)
            for there_next, segment, part in self._onward(there, came):
                if there_next not in seen:
                    seen.add(there_next)
                    queue.append((there_next, [*segments, segment], at, [*parts, *part]))
        return None

    def _onward(self, there: str, came: End) -> Iterator[tuple[str, Segment, list[Fitted]]]:
        for wire in self.wires.get(there, ()):
            yield self._across(wire, there), Segment(self.node_of(there), wire=wire), []
        for end in self.ends.get(there, ()):
            part = self.parts.get(end.what) if end.kind is EndKind.PART else None
            if part is not None and len(part.ends) == 2 and end.what != came.what:
                (other,) = (each for each in part.ends.values() if each.terminal != end.terminal)
                yield self.point_of(other), Segment(self.node_of(there), tail=end), [part]


def _is_across(terminal: str, out: str) -> bool:
    """Whether a terminal of a module with two halves belongs to the other one."""
    sides = [name.partition("_")[0] for name in (terminal, out)]
    return set(sides) == {"left", "right"}


ORDER = {"30": 0, "from": 0, "in": 0, "86": 2, "85": 3}
"""Which input of a part lies on top: what carries the lamp before what switches it."""
