"""Lays a hook-up out: every net of its netlist as wires and joints with both their ends.

Every network of a way is a set of ends at places. Ends at one place meet in a joint or in a terminal; places are
joined by the shortest tree of routes; every ground goes back on a wire of its own.
"""

from __future__ import annotations

from collections.abc import Callable, Mapping, Sequence
from dataclasses import replace

from electrics.design.additions import Addition
from electrics.design.design import Design, End, EndKind, Join, Wiring
from electrics.design.groups import BATTERY_SPOT, GroundPoint, WiredGroup
from electrics.design.joints import BUS, STEP_DOWN, butt_for
from electrics.design.netlist import Net, Netlist, seat_of
from electrics.design.roads import tree
from electrics.design.routes import Route, Routes, Spot
from electrics.design.units import Unit
from electrics.design.whole_roads import within
from electrics.reference.conductor import HOT_C, Conductor, conductors
from electrics.reference.usual import GROUND_LOSS_V, system_scale

__all__ = ["lay_out"]

SLACK_M = 0.75
"""Extra on every run to pull and trim [m]: 60 to 90 cm (common practice)."""
SERVICE_LOOP_M = 0.25
"""Loop at each lamp, so that it can be taken off again [m] (estimate)."""
SHORT_M = 0.15
"""From a terminal to a joint beside it, and from the battery to its fuse: within 20 cm [m] (common practice)."""
SHORT_CUT_M = 0.25
LINK_SLACK_M = 0.1
"""Extra on a wire from one lamp of a row to the next [m] (common practice)."""


def lay_out(
    groups: Sequence[WiredGroup],
    grounds: Mapping[str, GroundPoint],
    studs: Mapping[str, GroundPoint],
    routes: Routes,
    system_v: int,
    additions: Sequence[Addition] = (),
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
    additions : sequence of Addition
        What is fitted at the vehicle itself.

    Returns
    -------
    Design
    """
    return _Layout(Netlist(groups, system_v, additions), grounds, studs, routes).design()


class _Layout:
    def __init__(
        self,
        netlist: Netlist,
        grounds: Mapping[str, GroundPoint],
        studs: Mapping[str, GroundPoint],
        routes: Routes,
    ) -> None:
        self.list = netlist
        self.grounds, self.studs, self.routes = grounds, studs, routes
        self.measured: dict[frozenset[str], float] = {}
        self.wires: list[Wiring] = []
        self.joins: list[Join] = []
        self.joint_count = 0
        self.picked: set[str] = set()
        for group in netlist.groups:
            self._measure(group)

    def design(self) -> Design:
        found = self.list
        for root in list(found.nets):
            if root == found.root("gnd"):
                continue
            if root == found.root("bat"):
                self._from_posts(root)
            else:
                self._wire(found.nets[root])
        self._ground()
        self.wires = within(self._aims(), self.wires, self.joins, self.picked)
        return Design(
            tuple(found.placed.values()),
            tuple(self.wires),
            self._sized_joins(),
            tuple(found.lights),
            tuple(found.sealed),
            brings=dict(found.brings),
            system_v=found.system_v,
        )

    def _aims(self) -> list[tuple[End, float]]:
        """Each lead that lights, and what the wires to it may lose together [V]."""
        ends = {end for net in self.list.nets.values() for end in net.ends if end.kind is EndKind.UNIT}
        aims = {
            (what, load.name): group.feed.aim_v
            for group in self.list.groups
            for load in group.loads
            for what in load.unit.names
        }
        found = [(end, aims.get((end.what, end.terminal), 0.0)) for end in ends]
        return sorted(((end, v) for end, v in found if v > 0), key=lambda each: each[0].node)

    def _sized_joins(self) -> tuple[Join, ...]:
        """The joints in order, each with the connector and the sleeve for what meets in it.

        The own lead of a unit or a part is taken for as thick as the thickest wire that it meets, and no thinner than
        the thinnest that is laid.
        """
        wires = {f"wire {wire.label}": wire.conductor for wire in self.wires}
        thin = self.list.thin(self.list.groups[0].feed)
        found = []
        for join in sorted(self.joins, key=lambda each: int(each.label.rpartition(" ")[2])):
            if join.fit is not None:
                factory = [join.fit.host for end in join.members if end.kind in (EndKind.PIN, EndKind.SUPPLY)]
                known = factory + [wires[end.what] for end in join.members if end.what in wires]
                own = [max([*known, thin], key=lambda wire: wire.area_mm2)] * (len(join.members) - len(known))
                meeting = [*known, *own, *(join.fit.host for _ in join.halved)]
                join = _as_it_can_be_made(replace(join, fit=join.fit.of(meeting)), meeting)
            found.append(join)
        return tuple(found)

    def _wire(self, net: Net) -> None:
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

    def _end_joint(self, net: Net, end: End) -> None:
        """A flying lead that one wire goes on from is joined to it."""
        wire = next(each for each in self.wires if end in each.ends)
        hub = self._joint(end.spot)
        at = self.wires.index(wire)
        first, second = (hub if each == end else each for each in wire.ends)
        self.wires[at] = replace(wire, ends=(first, second))
        self._make_joint(net, hub, end.spot, [end, _wire_end(wire)])

    def _make_joint(self, net: Net, hub: End, spot: Spot, members: Sequence[End]) -> None:
        is_tap = any(end.kind in (EndKind.PIN, EndKind.SUPPLY) and not end.is_cut for end in members)
        feed = self.list.groups[net.groups[0]].feed
        method = feed.joint.method.id if feed.joint else "crimp_butt"
        if is_tap and any(end.terminal == "from" and end.what.startswith("fuse tap") for end in members):
            method = "fuse_tap"
        elif is_tap and self._only(members, lambda unit, _: unit.in_socket):
            method = "socket"
        elif is_tap and self._only(members, lambda unit, lead: unit.is_there and lead == "ground"):
            method = "stays"
        elif not is_tap and method in ("fuse_tap", "t_harness", "displacement_tap"):
            method = "crimp_butt"
        self.joins.append(Join(hub.what, method, feed.joint, tuple(members), is_tap, spot))

    def _only(self, members: Sequence[End], fits: Callable[[Unit, str], bool]) -> bool:
        """Whether all that meets a factory wire are leads of units that are such."""
        units = {name: load.unit for group in self.list.groups for load in group.loads for name in load.unit.names}
        others = [end for end in members if end.kind is not EndKind.PIN]
        return len(others) == len(members) - 1 and all(
            end.kind is EndKind.UNIT and end.what in units and fits(units[end.what], end.terminal) for end in others
        )

    def _tree(self, spots: Sequence[Spot]) -> list[tuple[Spot, Spot]]:
        """The shortest tree of routes between places (Prim); a wire that was measured by hand is one of them."""

        def order(first: Spot, second: Spot) -> tuple[bool, float]:
            return frozenset((first.name, second.name)) not in self.measured, self._between(first, second).m

        return tree(spots, order)

    def _run(
        self,
        net: Net,
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
        feeds = [self.list.groups[n].feed for n in net.groups]
        if role in ("trigger", "sense"):
            conductor = self.list.thin(feeds[0])
        else:
            conductor = max((self.list.bearing(feed, load_a) for feed in feeds), key=lambda wire: wire.area_mm2)
        is_link = not is_short and first.spot.name == second.spot.name
        cut_m = (
            SHORT_CUT_M if is_short else round(route.m + (LINK_SLACK_M if is_link else SLACK_M + SERVICE_LOOP_M), 2)
        )
        label = str(len(self.wires) + 1)
        if any(feed.is_picked for feed in feeds):
            self.picked.add(label)
        ends = (second, first) if flows < 0 else (first, second)
        by = route.by[::-1] if flows < 0 else route.by
        self.wires.append(
            Wiring(label, role, ends, conductor, load_a, round(route.m, 2), cut_m, by, route.is_assumed, flows != 0)
        )
        return _wire_end(self.wires[-1])

    def _flow(self, near: Sequence[End], far: Sequence[End]) -> int:
        """Which way current goes between two halves of a net: 1 from near to far, -1 back, 0 either way."""
        out = any(self.list.is_source(end) for end in near) and any(not self.list.is_source(end) for end in far)
        back = any(self.list.is_source(end) for end in far) and any(not self.list.is_source(end) for end in near)
        return int(out) - int(back) if out != back else 0 if out else 1

    def _measure(self, group: WiredGroup) -> None:
        """Lengths that were measured by hand, from tap or battery to a lamp, as distances of their own."""
        seat = seat_of(group)
        for load in group.loads:
            if load.out_m is None or load.spot.name == seat.name:
                continue
            if not group.form.has_own_supply:
                self.measured[frozenset((seat.name, load.spot.name))] = load.out_m
            else:
                feed_m = self.routes.between(seat, load.spot).m
                pair = frozenset((BATTERY_SPOT.name, seat.name))
                self.measured[pair] = max(load.out_m - feed_m, SHORT_M, self.measured.get(pair, 0.0))

    def _between(self, first: Spot, second: Spot) -> Route:
        measured = self.measured.get(frozenset((first.name, second.name)))
        route = self.routes.between(first, second)
        return route if measured is None else Route(measured, route.by, is_assumed=False)

    def _carries(self, net: Net, first: End, second: End) -> tuple[str, float]:
        """What the wires of a net are for, and the most that they carry [A]."""
        lamp_a = sum(self.list.demand_a(end) for end in net.ends)
        kinds = {self.list.role_of(end) for end in net.ends} - {""}
        if "supply" in kinds and any(end.kind is EndKind.PIN for end in net.ends):
            kinds.add("feed")
        for role in ("feed", "supply", "trigger", "sense"):
            if role in kinds:
                is_branch = role == "feed" and any(end.kind is EndKind.UNIT for end in (first, second))
                if is_branch:
                    lamp_a = sum(self.list.demand_a(end) for end in (first, second) if end.kind is EndKind.UNIT)
                return role, lamp_a
        return "feed", lamp_a

    def _from_posts(self, root: str) -> None:
        """Whatever is fed from the battery has a wire of its own to its post, the fuse within 20 cm."""
        net = self.list.nets[root]
        post = End(EndKind.BATTERY, "battery", "plus", BATTERY_SPOT, is_flying=False)
        for end in net.ends:
            one = Net([end], [self.list.group_of[end.what]])
            role = self.list.role_of(end)
            self._run(one, post, end, role if role in ("trigger", "sense") else "supply", self.list.demand_a(end))
            if end.is_flying:
                self._end_joint(one, end)

    def _ground(self) -> None:
        """Each unit, coil and module goes to ground by a wire of its own; a pigtail by its own leads."""
        bonds: dict[End, list[tuple[int, End, float]]] = {}
        for (unit, terminal), ends in self.list.commons.items():
            if terminal != "ground":
                continue
            point = self.grounds[unit]
            n = self.list.group_with(unit)
            self._to_ground(n, ends, point, self.list.common_a[unit, terminal])
            if point.bond is not None:
                bonds.setdefault(point.bond, []).append((n, point.end, self.list.common_a[unit, terminal]))
        for bond, studs in bonds.items():
            n, stud, _ = min(studs, key=lambda each: self._between(bond.spot, each[1].spot).m)
            load_a = sum(each for *_, each in studs)
            self._to_ground(n, [stud], GroundPoint(bond), load_a, is_lamp=True)
        for end in self.list.nets.get(self.list.root("gnd"), Net()).ends:
            if end.kind is not EndKind.PART:
                continue
            n = self.list.group_of[end.what]
            load_a = self._demand_ground(end)
            self._to_ground(n, [end], self.studs[end.spot.name], load_a)
        for end, load_a in self.list.grounded:
            self._to_ground(0, [end], self.studs[end.spot.name], load_a)

    def _losing_little(self, conductor: Conductor, load_a: float, m: float) -> Conductor:
        """A ground that loses little [V]: a thicker wire where the usual one would lose more."""
        most_v = GROUND_LOSS_V * system_scale(self.list.system_v)
        sizes = [wire for wire in conductors(conductor.standard) if wire.area_mm2 >= conductor.area_mm2]
        return next((wire for wire in sizes if load_a * m * wire.ohm_per_m(HOT_C) <= most_v), sizes[-1])

    def _demand_ground(self, end: End) -> float:
        return self.list.kinds[end.what].ground_a(end.terminal, self.list.behind(end))

    def _to_ground(
        self,
        n: int,
        ends: Sequence[End],
        point: GroundPoint,
        load_a: float,
        *,
        is_lamp: bool = False,
    ) -> None:
        target = point.end
        net = Net([*ends, target], [n])
        before = len(self.wires)
        self._wire(net)
        for at in range(before, len(self.wires)):
            wire = self.wires[at]
            routed_m = wire.routed_m if point.m is None else point.m
            feed = self.list.groups[n].feed
            is_load = ends[0].kind is EndKind.PART and self.list.kinds[ends[0].what].is_load
            is_lamp = is_lamp or is_load or ends[0].kind is EndKind.UNIT or ends[0].terminal == "30"
            conductor = self.list.bearing(feed, load_a) if is_lamp else self.list.thin(feed)
            conductor = self._losing_little(conductor, load_a, routed_m)
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


def _as_it_can_be_made(join: Join, wires: Sequence[Conductor]) -> Join:
    """A butt that takes what meets in it; a step-down where the sides differ, a bus where no butt takes it."""
    if join.method != "crimp_butt" or join.fit is None:
        return join
    colour = butt_for([wire.area_mm2 for wire in wires])
    if not colour:
        return replace(join, method=BUS)
    return replace(join, fit=replace(join.fit, connector_colour=colour)) if colour == STEP_DOWN else join


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
    return End(EndKind.WIRE, f"wire {wire.label}", "", wire.ends[0].spot)
