"""Lays a hook-up out: from the ways that were chosen to parts, wires and joints with both their ends.

Every network of a way is a set of ends at places. Ends at one place meet in a joint or in a terminal; places are
joined by the shortest tree of routes; every ground goes back on a wire of its own.
"""

from __future__ import annotations

from collections import Counter
from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field, replace
from typing import Any

from electrics.circuit.elements import (
    Converter,
    Diode,
    Element,
    Fuse,
    Lamp,
    Led,
    Relay,
    Separator,
    Switch,
    TimedRelay,
    Wire,
)
from electrics.hookup.accessories import Lead, Unit
from electrics.hookup.design import Design, End, EndKind, Fitted, Join, Light, Wiring
from electrics.hookup.forms import Form
from electrics.hookup.joints import JointFit
from electrics.hookup.routes import Route, Routes, Spot
from electrics.hookup.run import FUSE_FACTOR, SHOP_RANGE_MM2, choose_fuse
from electrics.hookup.sizing import COIL_OHM
from electrics.hookup.sources import OWN, own_feed
from electrics.reference.conductor import Conductor, WireStandard, conductors
from electrics.reference.fuses import fuses
from electrics.vocabulary import Function, Polarity

__all__ = ["BATTERY_SPOT", "Feed", "GroundPoint", "Group", "Load", "Tap", "lay_out"]

SLACK_M = 0.75
"""Extra on every run to pull and trim [m]: 60 to 90 cm (common practice)."""
SERVICE_LOOP_M = 0.25
"""Loop at each lamp, so that it can be taken off again [m] (estimate)."""
SHORT_M = 0.15
"""From a terminal to a joint beside it, and from the battery to its fuse: within 20 cm [m] (common practice)."""
SHORT_CUT_M = 0.25
SENSE_A, MODULE_A = 0.01, 0.05
"""What an input of a module draws, and a module itself [A] (estimates)."""
BATTERY_SPOT = Spot("battery", "battery")
FUSE_BOX_SPOT, DASH_SPOT = Spot("fuse box", "fuse box"), Spot("dash", "cab")

WORDS: Mapping[type[Element], tuple[str, str, bool]] = {
    Fuse: ("fuse", "fuse", True),
    Diode: ("diode", "diode", True),
    Relay: ("relay", "relay", False),
    Switch: ("switch", "switch", False),
    Converter: ("module", "converter", True),
    Separator: ("module", "separator", True),
    TimedRelay: ("timer", "timed_relay", True),
}
"""By class of element: what its label begins with, its line in the parts list, and whether it has leads to join."""


@dataclass(frozen=True)
class Tap:
    """A source of a way, where it is.

    Attributes
    ----------
    key : str
        Of the wire in the facts, or of one's own source.
    fuse_a : float or None
        Of the factory circuit [A]; None where there is none.
    """

    key: str
    place: str
    pin: str
    spot: Spot
    function: Function
    is_own: bool = False
    is_at_fuse: bool = False
    fuse_a: float | None = None
    colour: str = ""


@dataclass(frozen=True)
class Load:
    """A lead of a unit, with what all lamps on it draw together [A], and where the unit is."""

    unit: Unit
    lead: Lead
    load_a: float
    spot: Spot
    out_m: float | None = None
    """From tap or battery, measured by hand [m]."""

    @property
    def name(self) -> str:
        """Of the lead, as it stands on the unit."""
        return (self.lead.label or self.lead.id).replace("_", " ")


@dataclass(frozen=True)
class Feed:
    """The sizes of one group: its wire, own fuse [A], diode, relay and coil."""

    conductor: Conductor
    fuse_a: float | None
    joint: JointFit | None
    diode: str = ""
    contact_a: float | None = None
    coil_ohm: float | None = None
    module_a: float | None = None
    standard: WireStandard = WireStandard.AWG


@dataclass(frozen=True)
class Group:
    """Leads that one way feeds: the same form on the same sources, so its parts are there once."""

    form: Form
    taps: tuple[Tap, ...]
    loads: tuple[Load, ...]
    feed: Feed

    @property
    def load_a(self) -> float:
        return sum(load.load_a for load in self.loads)


@dataclass(frozen=True)
class GroundPoint:
    """Where a unit's ground goes: a stud, the body, or the ground pin of a place."""

    end: End
    m: float | None = None
    """Length measured by hand [m]."""
    bond: End | None = None
    """Ground of the vehicle that feeds, where the unit is on another one: the two are joined by a wire."""


def lay_out(
    groups: Sequence[Group],
    grounds: Mapping[str, GroundPoint],
    studs: Mapping[str, GroundPoint],
    routes: Routes,
    system_v: int,
) -> Design:
    """The design of some ways.

    Parameters
    ----------
    groups : sequence of Group
    grounds : mapping of str to GroundPoint
        By the id of a unit.
    studs : mapping of str to GroundPoint
        By the name of a place: for coils and modules there.
    routes : Routes
    system_v : int
        6, 12 or 24 [V].

    Returns
    -------
    Design
    """
    return _Layout(groups, grounds, studs, routes, system_v).design()


@dataclass
class _Net:
    """Ends that are one point of the circuit, and the groups whose wire it is made of."""

    ends: list[End] = field(default_factory=list)
    groups: list[int] = field(default_factory=list)


class _Layout:
    def __init__(
        self,
        groups: Sequence[Group],
        grounds: Mapping[str, GroundPoint],
        studs: Mapping[str, GroundPoint],
        routes: Routes,
        system_v: int,
    ) -> None:
        self.groups, self.grounds, self.studs = groups, grounds, studs
        self.routes, self.system_v = routes, system_v
        self.up: dict[str, str] = {}
        self.nets: dict[str, _Net] = {}
        self.elements: list[tuple[Element, Spot, int]] = []
        self.placed: dict[str, Fitted] = {}
        self.lights: list[Light] = []
        self.loads_at: dict[tuple[str, str], float] = {}
        self.commons: dict[tuple[str, str], list[End]] = {}
        self.common_a: dict[tuple[str, str], float] = {}
        self.wires: list[Wiring] = []
        self.joins: list[Join] = []
        self.sealed: list[End] = []
        self.brings: Counter[str] = Counter()
        self.kinds: dict[str, type[Element]] = {}
        self.group_of: dict[str, int] = {}
        self.joint_count = 0
        self.measured: dict[frozenset[str], float] = {}
        self.sinking: set[tuple[str, str]] = set()
        self.ground_switched: set[str] = set()
        self.fused: set[str] = set()

    # what is there

    def design(self) -> Design:
        for n, group in enumerate(self.groups):
            self._measure(group)
            self._add(n, group)
        self._supply_commons()
        self._share_modules()
        self._place()
        self._rate_fuses()
        for root in list(self.nets):
            if root == self._root("gnd"):
                continue
            if root == self._root("bat"):
                self._from_posts(root)
            else:
                self._wire(self.nets[root])
        self._ground()
        return Design(
            tuple(self.placed.values()),
            tuple(self.wires),
            tuple(self.joins),
            tuple(self.lights),
            tuple(self.sealed),
            brings=dict(self.brings),
        )

    def _add(self, n: int, group: Group) -> None:
        name, nodes, seat = f"w{n}", [], self._seat(group)
        for i, tap in enumerate(group.taps):
            if tap.is_own:
                feed, node = own_feed(tap.key, f"{name} {i}")
                supply = BATTERY_SPOT if OWN[tap.key].is_at_battery else FUSE_BOX_SPOT
                for part in feed:
                    self._element(part, supply if isinstance(part, Fuse) else DASH_SPOT, n)
                if not OWN[tap.key].is_at_battery:
                    self._end("ign", End(EndKind.SUPPLY, "fuse box", "live with the key", FUSE_BOX_SPOT), n)
            else:
                node = f"tap:{tap.key}"
                if group.form.takes[i] is Polarity.GROUND:
                    self.ground_switched.add(tap.key)
                self._end(node, End(EndKind.PIN, tap.place, tap.pin, tap.spot, key=tap.key, colour=tap.colour), n)
                node = self._branch_fuse(n, i, group, tap, node)
            nodes.append(node)
        outside, inside, feeds = group.form.parted(name, nodes, f"{name}_lead")
        for part in outside:
            if isinstance(part, Wire):
                self._join(*part.nodes.values())
            else:
                self._element(part, self._spot_of(part, group, nodes, seat), n)
        for load in group.loads:
            self._light(n, group, load, inside, feeds, f"{name}_lead")
        if inside:
            self.brings["self_switching_bulb"] += sum(load.unit.lamps for load in group.loads)
        if "flasher" in group.form.brings:
            self.brings["flasher"] = 1

    def _seat(self, group: Group) -> Spot:
        """Where relays and modules of a way sit: beside its first factory wire, else behind the dash."""
        return next((tap.spot for tap in group.taps if not tap.is_own), DASH_SPOT)

    def _spot_of(self, part: Element, group: Group, nodes: Sequence[str], seat: Spot) -> Spot:
        """A part's place: a fuse at its supply, a diode at its own source, all else at the seat."""
        if isinstance(part, Fuse):
            return BATTERY_SPOT if "bat" in part.nodes.values() else FUSE_BOX_SPOT
        if isinstance(part, Diode):
            own = (tap.spot for tap, node in zip(group.taps, nodes, strict=True) if node == part.nodes["anode"])
            found = next(own, seat)
            return seat if found in (BATTERY_SPOT, FUSE_BOX_SPOT, DASH_SPOT) else found
        return seat

    def _branch_fuse(self, n: int, i: int, group: Group, tap: Tap, node: str) -> str:
        """A fuse of its own behind a tap, where the host's does not protect the branch, or a fuse tap has one."""
        load = group.form.loads[i]
        branch = group.feed.conductor if load == "lamp" else self._thin(group.feed)
        is_protected = tap.fuse_a is not None and tap.fuse_a <= branch.largest_fuse_a
        if not tap.is_at_fuse and (is_protected or self._is_pigtail(group, tap)):
            return node
        behind = f"{node}_fused_{n}_{i}" if load == "lamp" else f"{node}_sensed"
        if behind in self.fused:
            return behind
        self.fused.add(behind)
        name = f"w{n} {i} {'tap fuse' if tap.is_at_fuse else 'branch fuse'}"
        self._element(Fuse(name=name, nodes={"from": node, "to": behind}, rating_a=1), tap.spot, n)
        return behind

    def _is_pigtail(self, group: Group, tap: Tap) -> bool:
        """Whether the lamp's own leads reach the tap: no wire is added."""
        parts, _, _ = group.form.parted("", [""] * len(group.taps), "out")
        is_plain = all(isinstance(part, Wire) for part in parts)
        return is_plain and all(load.spot.name == tap.spot.name and load.unit.lamps == 1 for load in group.loads)

    def _light(
        self, n: int, group: Group, load: Load, inside: Sequence[Element], feeds: Sequence[str], out: str
    ) -> None:
        unit, lead, scale = load.unit, load.lead, self.system_v / 12
        is_ground = lead.polarity is Polarity.GROUND
        for i in range(unit.lamps):
            number = f" {i + 1}" if unit.lamps > 1 else ""
            spot = replace(load.spot, row=i)
            what = f"{unit.name}{number}"
            common = End(EndKind.UNIT, what, "plus" if is_ground else "ground", spot)
            key = (unit.id, common.terminal)
            if common not in self.commons.setdefault(key, []):
                self.commons[key].append(common)
            self.common_a[key] = self.common_a.get(key, 0.0) + load.load_a / unit.lamps
            ends = []
            for j, feed in enumerate(feeds):
                terminal = load.name if len(feeds) == 1 else f"{load.name} {'flash' if not j else 'steady'}"
                end = End(EndKind.UNIT, what, terminal, spot)
                self._end(feed, end, n)
                self.loads_at[end.what, end.terminal] = load.load_a / unit.lamps
                if is_ground:
                    self.sinking.add((end.what, end.terminal))
                ends.append(end)
            name = f"{what} {load.name}"
            inner: tuple[Element, ...] = ()
            first = ends[0].node
            if inside:
                known = {**{feed: end.node for feed, end in zip(feeds, ends, strict=True)}, "gnd": common.node}
                inner = tuple(
                    replace(
                        part,
                        name=f"{what} {part.name}",
                        nodes={t: known.get(node, f"{what} {node}") for t, node in part.nodes.items()},
                    )
                    for part in inside
                )
                first = f"{what} {out}"
            nodes = {"from": common.node, "to": first} if is_ground else {"from": first, "to": common.node}
            self.lights.append(Light(unit.name, lead.id, _lamp(name, nodes, group, lead, load, scale), inner))

    def _supply_commons(self) -> None:
        """A unit whose ground is switched has battery always, behind a fuse of its own."""
        for unit, terminal in list(self.commons):
            if terminal != "plus":
                continue
            n = self._group_with(unit)
            behind = f"plus_{unit}"
            fuse = Fuse(name=f"{behind} fuse", nodes={"from": "bat", "to": behind}, rating_a=1)
            self._element(fuse, BATTERY_SPOT, n)
            for end in self.commons[unit, terminal]:
                self._end(behind, end, n)
                self.loads_at[end.what, end.terminal] = self.common_a[unit, terminal] / len(
                    self.commons[unit, terminal]
                )

    def _share_modules(self) -> None:
        """A module has two sides: what needs two halves of one gets one."""
        for kind, key in ((Converter, "stop_in"), (Separator, "")):
            found = [item for item in self.elements if isinstance(item[0], kind)]
            while found:
                first, spot, n = found.pop(0)
                for other in list(found):
                    nodes = _combined(first, other[0], key, self._root)
                    if nodes is None:
                        continue
                    found.remove(other)
                    merged = replace(first, nodes=nodes)
                    self.elements = [each for each in self.elements if each[0] is not other[0]]
                    at = next(i for i, each in enumerate(self.elements) if each[0] is first)
                    self.elements[at] = (merged, spot, n)
                    self._drop_supply(other[0].nodes["supply"], merged.nodes["supply"])
                    first = merged

    def _drop_supply(self, node: str, instead: str) -> None:
        """The second fuse and supply of a module that is shared are not fitted."""
        self.elements = [
            each for each in self.elements if not (isinstance(each[0], Fuse) and each[0].nodes["to"] == node)
        ]
        self._join(node, instead)

    # where it is

    def _place(self) -> None:
        """Every part gets its label, its value and its ends."""
        labels: Counter[str] = Counter()
        for element, spot, n in self.elements:
            word, part, is_flying = WORDS[type(element)]
            is_tap = isinstance(element, Fuse) and element.name.endswith("tap fuse")
            if is_tap:
                part, word = "fuse_tap", "fuse tap"
            labels[word] += 1
            label = f"{word} {labels[word]}"
            group = self.groups[n]
            element, value = self._valued(element, group)
            ends = {}
            for terminal, node in element.nodes.items():
                end = End(EndKind.PART, label, terminal, spot, is_flying)
                ends[terminal] = end
                if node.endswith(("_unused", "_sealed")):
                    self.sealed.append(end)
                else:
                    self._end(node, end, n)
            nodes = {terminal: end.node for terminal, end in ends.items()}
            self.kinds[label], self.group_of[label] = type(element), n
            leads = tuple(load.lead.id for load in group.loads)
            role = "coil" if isinstance(element, Diode) and "coil" in element.nodes["cathode"] else "lamp"
            self.placed[label] = Fitted(
                label, part, value, role, spot, replace(element, name=label, nodes=nodes), ends, leads
            )

    def _valued(self, element: Element, group: Group) -> tuple[Element, str]:
        """A part with the values that it is fitted with, and how its list names them."""
        feed = group.feed
        if isinstance(element, Diode):
            is_coil = element.part == "1N4004"
            part = "1N4004" if is_coil or not feed.diode else feed.diode
            return replace(element, part=part), part
        if isinstance(element, Relay):
            scaled = element.scaled(self.system_v / 12)
            scaled = replace(scaled, coil_ohm=feed.coil_ohm or COIL_OHM[self.system_v])
            rating = f"{feed.contact_a:g} A, " if feed.contact_a else ""
            return scaled, f"{rating}{self.system_v} V, {scaled.coil_ohm:g} ohm, diode across the coil"
        if isinstance(element, (Converter, Separator)):
            limit_a = feed.module_a or element.limit_a
            return replace(element, limit_a=1.5 * limit_a), f"{self.system_v} V, {limit_a:g} A an output"
        return element, ""

    def _rate_fuses(self) -> None:
        """Every fuse for all that hangs behind it."""
        for label, part in self.placed.items():
            if self.kinds[label] is not Fuse:
                continue
            rating_a = self._fuse_for(self.groups[self.group_of[label]], self._demand(part.ends["from"]))
            element = _rated(part.element, rating_a)
            self.placed[label] = replace(part, element=element, value=f"{rating_a:g} A")

    def _fuse_for(self, group: Group, load_a: float) -> float:
        feed = group.feed
        if feed.fuse_a and feed.fuse_a >= FUSE_FACTOR * load_a >= 0.5 * group.load_a:
            return feed.fuse_a
        wire = self._bearing(feed, load_a)
        fuse = choose_fuse(load_a, wire.largest_fuse_a, FUSE_FACTOR)
        return fuse.rating_a if fuse else wire.largest_fuse_a

    # how it is wired

    def _wire(self, net: _Net) -> None:
        """Joins the ends of a net: at each place in a joint or a terminal, from place to place by wires."""
        if len(net.ends) < 2:
            return
        places: dict[Spot, list[End]] = {}
        for end in net.ends:
            places.setdefault(end.spot, []).append(end)
        edges = self._tree(list(places))
        at: dict[Spot, End] = {}
        for spot, ends in places.items():
            crossing = sum(spot in edge for edge in edges)
            fixed = [end for end in ends if not end.is_flying]
            if len(ends) == 1 and crossing == 1:
                at[spot] = ends[0]
            elif len(ends) == 2 and not crossing and len(fixed) == 2:
                self._run(net, fixed[0], fixed[1], flows=self._flow(fixed[:1], fixed[1:]))
            else:
                at[spot] = self._joint(spot)
        members: dict[str, list[End]] = {end.what: [] for end in at.values() if end.kind is EndKind.JOINT}
        for spot, ends in places.items():
            hub = at.get(spot)
            if hub is None or hub.kind is not EndKind.JOINT:
                continue
            for end in ends:
                if end.is_flying:
                    members[hub.what].append(end)
                else:
                    others = [each for each in net.ends if each != end]
                    members[hub.what].append(self._run(net, end, hub, flows=self._flow([end], others)))
        for first, second in edges:
            near = _side(first, (first, second), edges)
            halves = [end for end in net.ends if end.spot in near], [end for end in net.ends if end.spot not in near]
            flows = self._flow(*halves)
            wire = self._run(net, at[first], at[second], flows=flows)
            for hub in (at[first], at[second]):
                if hub.kind is EndKind.JOINT:
                    members[hub.what].append(wire)
        for spot, hub in at.items():
            if hub.kind is EndKind.JOINT:
                self._make_joint(net, hub, spot, members[hub.what])
            elif hub.is_flying:
                self._end_joint(net, hub)

    def _joint(self, spot: Spot) -> End:
        self.joint_count += 1
        return End(EndKind.JOINT, f"joint {self.joint_count}", "", spot)

    def _end_joint(self, net: _Net, end: End) -> None:
        """A flying lead that one wire goes on from is joined to it."""
        wire = next(each for each in self.wires if end in each.ends)
        hub = self._joint(end.spot)
        at = self.wires.index(wire)
        first, second = (hub if each == end else each for each in wire.ends)
        self.wires[at] = replace(wire, ends=(first, second))
        self._make_joint(net, hub, end.spot, [end, _wire_end(wire)])

    def _make_joint(self, net: _Net, hub: End, spot: Spot, members: Sequence[End]) -> None:
        is_tap = any(end.kind in (EndKind.PIN, EndKind.SUPPLY) for end in members)
        feed = self.groups[net.groups[0]].feed
        method = feed.joint.method.id if feed.joint else "crimp_butt"
        if is_tap and any(end.terminal == "from" and end.what.startswith("fuse tap") for end in members):
            method = "fuse_tap"
        elif any(self._in_socket(end) for end in members) and is_tap and len(members) == 2:
            method = "socket"
        elif not is_tap and method in ("fuse_tap", "t_harness", "displacement_tap"):
            method = "crimp_butt"
        self.joins.append(Join(hub.what, method, feed.joint, tuple(members), is_tap, spot))

    def _in_socket(self, end: End) -> bool:
        return any(
            load.unit.in_socket and load.unit.name == end.what for group in self.groups for load in group.loads
        )

    def _tree(self, spots: Sequence[Spot]) -> list[tuple[Spot, Spot]]:
        """The shortest tree of routes between places (Prim)."""
        joined, edges = [spots[0]], []
        while len(joined) < len(spots):
            first, second = min(
                ((a, b) for a in joined for b in spots if b not in joined),
                key=lambda pair: self._between(*pair).m,
            )
            joined.append(second)
            edges.append((first, second))
        return edges

    def _run(
        self,
        net: _Net,
        first: End,
        second: End,
        role: str = "",
        load_a: float | None = None,
        *,
        flows: int = 1,
    ) -> End:
        """A wire between two ends; the end of it that joints name."""
        route = self._between(first.spot, second.spot)
        is_short = first.spot == second.spot
        if is_short:
            route = Route(SHORT_M, (first.spot.name,), False)
        net_role, net_a = self._carries(net, first, second)
        role, load_a = role or net_role, net_a if load_a is None else load_a
        feeds = [self.groups[n].feed for n in net.groups]
        if role in ("trigger", "sense"):
            conductor = self._thin(feeds[0])
        else:
            conductor = max((self._bearing(feed, load_a) for feed in feeds), key=lambda wire: wire.area_mm2)
        cut_m = SHORT_CUT_M if is_short else round(route.m + SLACK_M + SERVICE_LOOP_M, 2)
        label = str(len(self.wires) + 1)
        ends = (second, first) if flows < 0 else (first, second)
        by = route.by[::-1] if flows < 0 else route.by
        self.wires.append(
            Wiring(label, role, ends, conductor, load_a, round(route.m, 2), cut_m, by, route.is_assumed, flows != 0)
        )
        return _wire_end(self.wires[-1])

    def _is_source(self, end: End) -> bool:
        """Whether current comes out of an end into its net."""
        if end.kind is EndKind.UNIT:
            return (end.what, end.terminal) in self.sinking
        if end.kind is EndKind.PIN:
            return end.key not in self.ground_switched
        if end.kind is not EndKind.PART:
            return end.kind in (EndKind.BATTERY, EndKind.SUPPLY)
        if self.kinds[end.what] is Relay and end.terminal in ("87", "87a"):
            return self._root("gnd") != self._root_of(self.placed[end.what].ends["30"])
        return end.terminal in ("to", "cathode", "87", "87a", "85", "left_out", "right_out", "stop_out")

    def _flow(self, near: Sequence[End], far: Sequence[End]) -> int:
        """Which way current goes between two halves of a net: 1 from near to far, -1 back, 0 either way."""
        out = any(self._is_source(end) for end in near) and any(not self._is_source(end) for end in far)
        back = any(self._is_source(end) for end in far) and any(not self._is_source(end) for end in near)
        return int(out) - int(back) if out != back else 0 if out else 1

    def _measure(self, group: Group) -> None:
        """Lengths that were measured by hand, from tap or battery to a lamp, as distances of their own."""
        seat = self._seat(group)
        for load in group.loads:
            if load.out_m is None or load.spot.name == seat.name:
                continue
            if not group.form.has_own_supply:
                self.measured[frozenset((seat.name, load.spot.name))] = load.out_m
            else:
                feed_m = self.routes.between(seat, load.spot).m
                self.measured[frozenset((BATTERY_SPOT.name, seat.name))] = max(load.out_m - feed_m, SHORT_M)

    def _between(self, first: Spot, second: Spot) -> Route:
        measured = self.measured.get(frozenset((first.name, second.name)))
        route = self.routes.between(first, second)
        return route if measured is None else Route(measured, route.by, is_assumed=False)

    def _carries(self, net: _Net, first: End, second: End) -> tuple[str, float]:
        """What the wires of a net are for, and the most that they carry [A]."""
        lamp_a = sum(self._demand(end) for end in net.ends)
        kinds = {self._role_of(end) for end in net.ends} - {""}
        if "supply" in kinds and any(end.kind is EndKind.PIN for end in net.ends):
            kinds.add("feed")
        for role in ("feed", "supply", "trigger", "sense"):
            if role in kinds:
                is_branch = role == "feed" and any(end.kind is EndKind.UNIT for end in (first, second))
                if is_branch:
                    lamp_a = sum(self._demand(end) for end in (first, second) if end.kind is EndKind.UNIT)
                return role, lamp_a
        return "feed", lamp_a

    def _role_of(self, end: End) -> str:
        if end.kind is EndKind.UNIT:
            return "feed"
        if end.kind is not EndKind.PART:
            return ""
        kind = self.kinds[end.what]
        if kind in (Relay, TimedRelay):
            return {"86": "trigger", "85": "trigger", "30": "supply", "trigger": "sense"}.get(end.terminal, "")
        if kind in (Converter, Separator):
            return {"supply": "supply"}.get(end.terminal, "sense" if end.terminal.endswith("_in") else "")
        if end.terminal in ("from", "anode"):
            other = self.placed[end.what].ends["to" if end.terminal == "from" else "cathode"]
            roles = {self._role_of(each) for each in self._net_of(other).ends if each != other} - {""}
            return next((role for role in ("feed", "supply", "trigger", "sense") if role in roles), "")
        return ""

    def _demand(self, end: End, seen: frozenset[str] = frozenset()) -> float:
        """What flows into an end when everything behind it is on [A]."""
        if end.kind is EndKind.UNIT:
            return self.loads_at.get((end.what, end.terminal), 0.0)
        if end.kind is not EndKind.PART or end.node in seen:
            return 0.0
        seen |= {end.node}
        kind, ends = self.kinds[end.what], self.placed[end.what].ends

        def behind(*terminals: str) -> list[float]:
            return [
                sum(self._demand(each, seen) for each in self._net_of(ends[t]).ends if each != ends[t])
                for t in terminals
                if t in ends and ends[t] not in self.sealed
            ]

        if kind is Relay:
            if end.terminal == "30":
                return max(behind("87", "87a"), default=0.0)
            return self._coil_a(self.groups[self.group_of[end.what]].feed) if end.terminal in ("85", "86") else 0.0
        if kind is TimedRelay:
            return {"30": max(behind("87a"), default=0.0), "trigger": SENSE_A}.get(end.terminal, 0.0)
        if kind in (Converter, Separator):
            if end.terminal == "supply":
                return MODULE_A + sum(behind("left_out", "right_out", "stop_out"))
            return SENSE_A if end.terminal.endswith("_in") else 0.0
        if end.terminal in ("from", "anode"):
            return max(behind("to" if end.terminal == "from" else "cathode"), default=0.0)
        return 0.0

    def _from_posts(self, root: str) -> None:
        """Whatever is fed from the battery has a wire of its own to its post, the fuse within 20 cm."""
        net = self.nets[root]
        post = End(EndKind.BATTERY, "battery", "plus", BATTERY_SPOT, is_flying=False)
        for end in net.ends:
            one = _Net([end], [self.group_of[end.what]])
            role = self._role_of(end)
            self._run(one, post, end, role if role in ("trigger", "sense") else "supply", self._demand(end))
            if end.is_flying:
                self._end_joint(one, end)

    def _ground(self) -> None:
        """Each unit, coil and module goes to ground by a wire of its own; a pigtail by its own leads."""
        bonds: dict[End, list[tuple[int, End, float]]] = {}
        for (unit, terminal), ends in self.commons.items():
            if terminal != "ground":
                continue
            point = self.grounds[unit]
            n = self._group_with(unit)
            self._to_ground(n, ends, point, self.common_a[unit, terminal])
            if point.bond is not None:
                bonds.setdefault(point.bond, []).append((n, point.end, self.common_a[unit, terminal]))
        for bond, studs in bonds.items():
            n, stud, _ = studs[0]
            self._to_ground(n, [stud], GroundPoint(bond), sum(load_a for *_, load_a in studs), is_lamp=True)
        for end in self.nets.get(self._root("gnd"), _Net()).ends:
            if end.kind is not EndKind.PART:
                continue
            n = self.group_of[end.what]
            load_a = self._demand_ground(end)
            self._to_ground(n, [end], self.studs[end.spot.name], load_a)

    def _demand_ground(self, end: End) -> float:
        kind = self.kinds[end.what]
        if kind is Relay and end.terminal == "30":
            return self._demand(end)
        return self._coil_a(self.groups[self.group_of[end.what]].feed) if kind is Relay else MODULE_A

    def _to_ground(
        self, n: int, ends: Sequence[End], point: GroundPoint, load_a: float, *, is_lamp: bool = False
    ) -> None:
        target = point.end
        net = _Net([*ends, target], [n])
        before = len(self.wires)
        self._wire(net)
        for at in range(before, len(self.wires)):
            wire = self.wires[at]
            routed_m = wire.routed_m if point.m is None else point.m
            feed = self.groups[n].feed
            is_lamp = is_lamp or ends[0].kind is EndKind.UNIT or ends[0].terminal == "30"
            conductor = self._bearing(feed, load_a) if is_lamp else self._thin(feed)
            cut_m = wire.cut_m if point.m is None else round(routed_m + SLACK_M + SERVICE_LOOP_M, 2)
            self.wires[at] = replace(
                wire,
                role="ground",
                load_a=load_a,
                routed_m=routed_m,
                cut_m=cut_m,
                conductor=conductor,
                is_assumed=wire.is_assumed and point.m is None,
            )

    # sizes

    def _thin(self, feed: Feed) -> Conductor:
        """The thinnest wire of the shop range: for coils and inputs."""
        return next(wire for wire in conductors(feed.standard) if wire.area_mm2 >= SHOP_RANGE_MM2)

    def _bearing(self, feed: Feed, load_a: float) -> Conductor:
        """The group's wire, or a thicker one where several loads go through it."""
        if load_a <= feed.conductor.largest_fuse_a / FUSE_FACTOR:
            return feed.conductor
        needed = next((fuse.rating_a for fuse in fuses() if fuse.rating_a >= FUSE_FACTOR * load_a), load_a)
        bearing = (
            wire
            for wire in conductors(feed.standard)
            if wire.area_mm2 >= feed.conductor.area_mm2 and wire.largest_fuse_a >= needed
        )
        return next(bearing, feed.conductor)

    def _coil_a(self, feed: Feed) -> float:
        return 13.5 * self.system_v / 12 / (feed.coil_ohm or COIL_OHM[self.system_v])

    # nets

    def _element(self, element: Element, spot: Spot, n: int) -> None:
        self.elements.append((element, spot, n))

    def _group_with(self, unit: str) -> int:
        return next(n for n, group in enumerate(self.groups) if any(load.unit.id == unit for load in group.loads))

    def _root(self, node: str) -> str:
        while (up := self.up.get(node, node)) != node:
            node = up
        return node

    def _join(self, first: str, second: str) -> None:
        one, other = self._root(first), self._root(second)
        if one == other:
            return
        if other in ("bat", "gnd", "ign") or (other.startswith("tap:") and one not in ("bat", "gnd", "ign")):
            one, other = other, one
        self.up[other] = one
        if other in self.nets:
            into = self.nets.setdefault(one, _Net())
            gone = self.nets.pop(other)
            into.ends += [end for end in gone.ends if end not in into.ends]
            into.groups += [n for n in gone.groups if n not in into.groups]

    def _end(self, node: str, end: End, n: int) -> None:
        net = self.nets.setdefault(self._root(node), _Net())
        if end not in net.ends:
            net.ends.append(end)
        if n not in net.groups:
            net.groups.append(n)

    def _root_of(self, end: End) -> str:
        return next((root for root, net in self.nets.items() if end in net.ends), "")

    def _net_of(self, end: End) -> _Net:
        return next((net for net in self.nets.values() if end in net.ends), _Net())


def _side(spot: Spot, cut: tuple[Spot, Spot], edges: Sequence[tuple[Spot, Spot]]) -> set[Spot]:
    """The places of a tree on one side of an edge."""
    found, queue = {spot}, [spot]
    while queue:
        at = queue.pop()
        for edge in edges:
            if edge != cut and at in edge:
                other = edge[1] if edge[0] == at else edge[0]
                if other not in found:
                    found.add(other)
                    queue.append(other)
    return found


def _wire_end(wire: Wiring) -> End:
    """A wire as a member of a joint."""
    return End(EndKind.PART, f"wire {wire.label}", "", wire.ends[0].spot)


def _combined(first: Element, other: Element, key: str, root: Any) -> dict[str, str] | None:
    """The terminals of one module that does the work of two; None where it cannot."""
    mine, its = dict(first.nodes), dict(other.nodes)
    if key:
        if root(mine[key]) != root(its[key]) or not mine["right_out"].endswith("_unused"):
            return None
        return {**mine, "right_in": its["left_in"], "right_out": its["left_out"]}
    outs = {name for name in ("left_out", "right_out", "stop_out") if name in mine and name in its}
    sides = {root(mine[name]): name.removesuffix("_in") for name in ("left_in", "right_in") if name in mine}
    found = dict(mine)
    moved: dict[str, str] = {}
    for name in ("left_in", "right_in"):
        if name not in its:
            continue
        side = sides.get(root(its[name]))
        if side is None:
            side = next((free for free in ("left", "right") if free not in (*sides.values(), *moved.values())), None)
            if side is None:
                return None
            found[f"{side}_in"] = its[name]
        moved[name.removesuffix("_in")] = side
    for name in ("left_out", "right_out"):
        if name in its:
            to = f"{moved[name.removesuffix('_out')]}_out"
            if to in found:
                return None
            found[to] = its[name]
    if "stop_out" in its:
        if "stop_out" in outs:
            return None
        found["stop_out"] = its["stop_out"]
    return found


def _lamp(name: str, nodes: dict[str, str], group: Group, lead: Lead, load: Load, scale: float) -> Element:
    """What gives light: a filament, or a module that draws its current whatever the voltage."""
    own_a, each_a = group.form.led_a / scale, load.load_a / load.unit.lamps
    if lead.technology == "filament" and not own_a:
        return Lamp(name=name, nodes=nodes, rated_v=12.8 * scale, rated_a=each_a)
    amps_a = own_a or each_a
    return Led(name=name, nodes=nodes, amps_a=amps_a, at_v=13.5 * scale, threshold_v=7.5 * scale, regulated=True)


def _rated(element: Element, rating_a: float) -> Element:
    assert isinstance(element, Fuse)
    return replace(element, rating_a=rating_a)
