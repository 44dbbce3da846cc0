"""The design: every part that is fitted, every wire and every joint, each end named.

The ways make it, sizing fills it. Drawing, cut list, parts list, joints, steps and test sheet read it, and the
circuit that proves it is built from its own lines: what is not on the sheet is not in the circuit.
"""

from __future__ import annotations

from collections.abc import Iterable, Mapping
from dataclasses import dataclass, field, replace
from enum import StrEnum

from electrics.circuit.elements import Element
from electrics.design.joints import BUS, JointFit, joint_methods
from electrics.design.routes import Spot
from electrics.reference.conductor import Conductor
from electrics.vocabulary import Function

__all__ = [
    "GROUND_NODE",
    "OTHER_LAMPS",
    "TOWED_GROUND_NODE",
    "Design",
    "DesignLight",
    "End",
    "EndKind",
    "Fitted",
    "Join",
    "Wiring",
    "own_function",
    "own_wire",
]

GROUND_NODE, TOWED_GROUND_NODE = "gnd", "towed_gnd"
"""The grounds of the vehicle and of one in tow, as nodes of the circuit."""
OTHER_LAMPS = "other lamps of the towed car"
"""What hangs on the towed car's own wires besides the lamps that are wired: must stay dark."""


def own_wire(function: Function) -> str:
    """The key of a towed car's own wire of a function."""
    return f"{OTHER_LAMPS}: {function}"


def own_function(key: str) -> Function | None:
    """What a towed car's own wire does, by its key; None for any other wire."""
    before, _, function = key.partition(": ")
    return Function(function) if before == OTHER_LAMPS else None


class EndKind(StrEnum):
    """What a wire or a joint can end on."""

    UNIT = "unit"
    PIN = "pin"
    PART = "part"
    BATTERY = "battery"
    SUPPLY = "supply"
    GROUND = "ground"
    JOINT = "joint"
    WIRE = "wire"


@dataclass(frozen=True)
class End:
    """One end: a lead of a unit, a pin of a place, a terminal of a part, battery, ground or joint.

    Attributes
    ----------
    what : str
        Name of the unit, place, part or joint.
    terminal : str
        Lead, pin or terminal; empty where there is but one.
    is_flying : bool
        A wire of its own that can be joined; otherwise a terminal that a wire ends in.
    key : str
        Of a pin: its wire's key in the facts.
    colour : str
        Of the wire, or of the lamp's own lead where the bench test named it.
    is_at_fuse : bool
        A pin that is a slot of a fuse box.
    goes_on : bool
        A factory wire that feeds something beyond here: cut, it has two halves, and both go into the joint.
    is_cut : bool
        A factory wire that is taken off what it fed: joined, not tapped.
    takes : bool
        A factory contact that current goes into.
    in_socket, is_new : bool
        A lead of a bulb that plugs into a socket of the vehicle; of a lamp that takes the place of another.
    lost : Function or None
        Of a capped factory wire: what its lamp showed and nothing on that side shows any more.
    """

    kind: EndKind
    what: str
    terminal: str
    spot: Spot = field(compare=False)
    is_flying: bool = field(default=True, compare=False)
    key: str = field(default="", compare=False)
    colour: str = field(default="", compare=False)
    is_cut: bool = field(default=False, compare=False)
    takes: bool = field(default=False, compare=False)
    lost: Function | None = field(default=None, compare=False)
    is_at_fuse: bool = field(default=False, compare=False)
    goes_on: bool = field(default=False, compare=False)
    in_socket: bool = field(default=False, compare=False)
    is_new: bool = field(default=False, compare=False)

    @property
    def node(self) -> str:
        """Its node in the circuit that is built from the sheet."""
        return f"{self.kind}|{self.what}|{self.terminal}"


@dataclass(frozen=True)
class Fitted:
    """A part that is fitted.

    Attributes
    ----------
    label : str
        `relay 1`.
    part : str
        Id of its line in the parts list.
    value : str
        Rating or number: `30 A`, `6A4`.
    role : str
        What it carries: `lamp`, `coil` or `sense`.
    element : Element
        What it is in a circuit; its nodes are those of its ends.
    leads : tuple of str
        Ids of the leads that it serves.
    """

    label: str
    part: str
    value: str
    role: str
    spot: Spot
    element: Element
    ends: Mapping[str, End]
    leads: tuple[str, ...] = ()


@dataclass(frozen=True)
class Wiring:
    """One wire: two ends, its size and its length.

    Attributes
    ----------
    role : str
        `feed`, `supply`, `trigger`, `sense` or `ground`.
    load_a : float
        The most that it carries [A].
    routed_m, cut_m : float
        Along the loom, and with slack and service loop [m].
    by : tuple of str
        The places that it goes by.
    is_assumed : bool
        Nobody has measured its length.
    is_one_way : bool
        Current is meant to go from its first end to its second.
    """

    label: str
    role: str
    ends: tuple[End, End]
    conductor: Conductor
    load_a: float
    routed_m: float
    cut_m: float
    by: tuple[str, ...]
    is_assumed: bool
    is_one_way: bool = True


@dataclass(frozen=True)
class Join:
    """A joint: everything that meets in it.

    Attributes
    ----------
    method : str
        Of `joint_methods`, or `socket` where a bulb plugs in.
    is_tap : bool
        A factory wire is among its members.
    """

    label: str
    method: str
    fit: JointFit | None
    members: tuple[End, ...]
    is_tap: bool
    spot: Spot

    @property
    def end(self) -> End:
        return End(EndKind.JOINT, self.label, "", self.spot)

    @property
    def halved(self) -> tuple[End, ...]:
        """The factory wires that are cut for it and feed something beyond: both of their halves go into it."""
        methods = joint_methods().rows
        cuts = self.method == BUS or (self.method in methods and methods[self.method].cuts_loom)
        return tuple(end for end in self.members if cuts and end.goes_on and not end.is_cut)


@dataclass(frozen=True)
class DesignLight:
    """What gives light in a unit: an element between two of the unit's leads.

    Attributes
    ----------
    unit, lead : str
        Name of the unit, id of its lead.
    inside : tuple of Element
        What else is in it: a bulb that switches itself has a contact and diodes of its own.
    """

    unit: str
    lead: str
    element: Element
    inside: tuple[Element, ...] = ()


@dataclass(frozen=True)
class Design:
    """Everything that is fitted.

    Attributes
    ----------
    sealed : tuple of End
        Terminals that stay without a wire and are closed: `87` of a relay that only breaks.
    capped : tuple of End
        Factory wires that nothing is joined to any more.
    emptied : tuple of (Function, tuple of str, int)
        Circuits whose lamps went with the old lamp though nothing takes their place: the places, and 0 for all there.
    brings : mapping of str to int
        What is fitted besides, by part: a flasher.
    system_v : int
        Of the vehicle [V]: lamps, flashers and coils are bought for it.
    """

    parts: tuple[Fitted, ...]
    wires: tuple[Wiring, ...]
    joins: tuple[Join, ...]
    lights: tuple[DesignLight, ...]
    sealed: tuple[End, ...] = ()
    capped: tuple[End, ...] = ()
    emptied: tuple[tuple[Function, tuple[str, ...], int], ...] = ()
    brings: Mapping[str, int] = field(default_factory=dict)
    system_v: int = 12

    def coloured(self, colours: Mapping[tuple[str, str], str]) -> Design:
        """The same with the colours of lamps' own leads, by unit and lead."""

        def end(each: End) -> End:
            colour = colours.get((each.what, each.terminal), "") if each.kind is EndKind.UNIT else ""
            return replace(each, colour=colour) if colour else each

        if not colours:
            return self
        return replace(
            self,
            wires=tuple(replace(wire, ends=(end(wire.ends[0]), end(wire.ends[1]))) for wire in self.wires),
            joins=tuple(replace(join, members=tuple(map(end, join.members))) for join in self.joins),
            capped=tuple(map(end, self.capped)),
        )

    def spots(self) -> frozenset[Spot]:
        """Every place that something of it is at."""
        return frozenset(end.spot for end in self.ends() if end.kind is not EndKind.GROUND)

    def parts_for(self, lead: str, part: str) -> tuple[Fitted, ...]:
        """The parts of a kind that serve a lead."""
        return tuple(each for each in self.parts if each.part == part and lead in each.leads)

    def ends(self) -> Iterable[End]:
        """Every end that a wire or a joint names."""
        for wire in self.wires:
            yield from wire.ends
        for join in self.joins:
            yield from join.members
