"""From ways to a netlist: the parts that are fitted, what gives light, and which ends are one point."""

from __future__ import annotations

from collections import Counter
from collections.abc import Sequence
from dataclasses import dataclass, field, replace
from itertools import product
from typing import Any

from electrics.circuit.elements import Diode, Element, Fuse, Lamp, Led, Resistor
from electrics.design.additions import Addition
from electrics.design.dead_ends import is_dead_end
from electrics.design.design import DesignLight, End, EndKind, Fitted, own_wire
from electrics.design.groups import BATTERY_SPOT, DASH_SPOT, FUSE_BOX_SPOT, GroupFeed, GroupTap, LeadLoad, WiredGroup
from electrics.design.halves import combined
from electrics.design.part_kinds import PART_KINDS, Behind, PartKind, part_kind
from electrics.design.routes import Spot
from electrics.design.run import FUSE_FACTOR, SHOP_RANGE_MM2, choose_fuse
from electrics.design.sources import OWN, own_feed
from electrics.design.units import Lead, Unit
from electrics.reference.conductor import Conductor, conductors
from electrics.reference.fuses import fuses
from electrics.reference.usual import RUNNING_V, led_volts, running_v, system_scale
from electrics.vocabulary import Polarity

__all__ = ["PLACEHOLDER", "Net", "Netlist", "seat_of"]

CUT = "wire, cut behind its socket"
"""The lead of a bulb in a socket where a part goes between feed and socket."""
CHECK_OHM = 1000.0
"""From a unit's weakest lead to ground, to see what its brightest one sends there [ohm] (common practice)."""
PLACEHOLDER = "6A4"
"""What a diode is in the netlist until it is sized."""


@dataclass
class Net:
    """Ends that are one point of the circuit, and the groups whose wire it is made of."""

    ends: list[End] = field(default_factory=list)
    groups: list[int] = field(default_factory=list)


def seat_of(group: WiredGroup) -> Spot:
    """Where relays and modules of a way sit: beside its first factory wire, else behind the dash."""
    return next((tap.spot for tap in group.taps if not tap.is_own), DASH_SPOT)


class Netlist:
    """Parts, lights and the nets that they are on, from groups of leads: all but where wires go.

    Attributes
    ----------
    nets : dict of str to Net
        By the node that stands for each; the battery's is `bat`, ground's `gnd`.
    placed : dict of str to Fitted
        By label.
    commons, common_a : dict
        The common leads of each unit, and the current through each; by unit and terminal.
    """

    def __init__(self, groups: Sequence[WiredGroup], system_v: int, additions: Sequence[Addition] = ()) -> None:
        self.groups, self.system_v = groups, system_v
        self.up: dict[str, str] = {}
        self.nets: dict[str, Net] = {}
        self.elements: list[tuple[Element, Spot, int]] = []
        self.placed: dict[str, Fitted] = {}
        self.lights: list[DesignLight] = []
        self.loads_at: dict[tuple[str, str], float] = {}
        self.commons: dict[tuple[str, str], list[End]] = {}
        self.common_a: dict[tuple[str, str], float] = {}
        self.sealed: list[End] = []
        self.brings: Counter[str] = Counter()
        self.kinds: dict[str, PartKind[Any]] = {}
        self.group_of: dict[str, int] = {}
        self.sinking: set[tuple[str, str]] = set()
        self.ground_switched: set[str] = set()
        self.fused: set[str] = set()
        self.decided: dict[str, str] = {}
        self.apart: set[str] = set()
        self.grounded = [each for addition in additions for each in addition.grounded]
        for n, group in enumerate(groups):
            self._add(n, group)
        for addition in additions:
            self._at_vehicle(addition)
        self._supply_commons()
        self._share_modules()
        self._place()
        self._rate_fuses()

    def _add(self, n: int, group: WiredGroup) -> None:
        group = self._plugged_in(n, group)
        if not group.loads:
            return
        name, nodes, seat = f"w{n}", [], seat_of(group)
        for i, tap in enumerate(group.taps):
            if tap.is_own:
                feed, node = own_feed(tap.key, f"{name} {i}")
                supply = BATTERY_SPOT if OWN[tap.key].is_at_battery else FUSE_BOX_SPOT
                for part in feed:
                    self._element(part, supply if part_kind(part).seat == "supply" else DASH_SPOT, n)
                if not OWN[tap.key].is_at_battery:
                    self._end("ign", End(EndKind.SUPPLY, "fuse box", "live with the key", FUSE_BOX_SPOT), n)
            else:
                node = f"tap:{tap.key}"
                if group.form.takes[i] is Polarity.GROUND:
                    self.ground_switched.add(tap.key)
                said: dict[str, Any] = {
                    "key": tap.key,
                    "colour": tap.colour,
                    "is_at_fuse": tap.is_at_fuse,
                    "goes_on": tap.goes_on,
                }
                self._end(node, End(EndKind.PIN, tap.place, tap.pin, tap.spot, **said), n)
                node = self._branch_fuse(n, i, group, tap, node)
            nodes.append(node)
        outside, inside, feeds = group.form.parted(name, nodes, f"{name}_lead")
        for part in outside:
            if part.is_copper:
                self._join(*part.nodes.values())
            else:
                self._element(part, self._spot_of(part, group, nodes, seat), n)
        for load in group.loads:
            self._light(n, group, load, inside, feeds, f"{name}_lead")
        if inside:
            self.brings["self_switching_bulb"] += sum(load.lead.lamps for load in group.loads)

    def _at_vehicle(self, addition: Addition) -> None:
        """Parts between factory wires, joined as the first group's are."""
        for node, end in addition.ends:
            self._end(node, end, 0)
        for element, value in addition.parts:
            self.decided[element.name] = value
            self.apart.add(element.name)
            self._element(element, addition.ends[0][1].spot, 0)

    def _plugged_in(self, n: int, group: WiredGroup) -> WiredGroup:
        """Bulbs that are in sockets of the tapped circuit elsewhere plug in there; what is left is wired."""
        tap, left = group.taps[0], []
        for load in group.loads:
            if not load.unit.in_socket or group.form.id != "direct" or tap.spot.name == load.spot.name:
                left.append(load)
                continue
            node = f"socket:{load.unit.id}:{load.lead.id}"
            self._end(node, End(EndKind.PIN, load.unit.name, f"its {load.name} socket", load.spot, key=tap.key), n)
            self._light(n, group, load, (), (node,), f"w{n}_lead")
        return replace(group, loads=tuple(left))

    def _spot_of(self, part: Element, group: WiredGroup, nodes: Sequence[str], seat: Spot) -> Spot:
        """A part's place: a fuse at its supply, a diode at its own source, all else at the seat."""
        sits = part_kind(part).seat
        if sits == "supply":
            return BATTERY_SPOT if "bat" in part.nodes.values() else FUSE_BOX_SPOT
        if sits == "source":
            own = (tap.spot for tap, node in zip(group.taps, nodes, strict=True) if node == part.nodes["anode"])
            found = next(own, seat)
            return seat if found in (BATTERY_SPOT, FUSE_BOX_SPOT, DASH_SPOT) else found
        return seat

    def _branch_fuse(self, n: int, i: int, group: WiredGroup, tap: GroupTap, node: str) -> str:
        """A fuse of its own behind a tap, where the host's does not protect the branch, or a fuse tap has one."""
        load = group.form.loads[i]
        branch = group.feed.conductor if load == "lamp" else self.thin(group.feed)
        is_protected = tap.fuse_a is not None and tap.fuse_a <= branch.largest_fuse_a
        if not tap.is_at_fuse and (is_protected or self._is_pigtail(group, tap)):
            return node
        own = f"{node}_fused_{n}_{i}" if load == "lamp" else f"{node}_sensed"
        behind = f"{node}_slot" if tap.is_at_fuse else own  # a slot takes one fuse tap, whatever hangs on it
        if behind in self.fused:
            return behind
        self.fused.add(behind)
        name = f"w{n} {i} {'tap fuse' if tap.is_at_fuse else 'branch fuse'}"
        self._element(Fuse(name=name, nodes={"from": node, "to": behind}, rating_a=1), tap.spot, n)
        return behind

    def _is_pigtail(self, group: WiredGroup, tap: GroupTap) -> bool:
        """Whether the lamp's own leads reach the tap: no wire is added."""
        parts, _, _ = group.form.parted("", [""] * len(group.taps), "out")
        is_plain = all(part.is_copper for part in parts)
        return is_plain and all(load.spot.name == tap.spot.name and load.unit.lamps == 1 for load in group.loads)

    def _light(
        self, n: int, group: WiredGroup, load: LeadLoad, inside: Sequence[Element], feeds: Sequence[str], out: str
    ) -> None:
        unit, lead, scale = load.unit, load.lead, system_scale(self.system_v)
        is_ground = lead.polarity is Polarity.GROUND
        feeds = self._fit_inserts(n, load, feeds)
        sockets = max(lead.lamps // unit.lamps, 1)
        for i, socket in product(range(unit.lamps), range(sockets)):
            lead_name = f"{load.name} {socket + 1}" if sockets > 1 else load.name
            spot = replace(load.spot, row=i)
            what = unit.names[i]
            said: dict[str, Any] = {"in_socket": unit.in_socket, "is_new": unit.is_instead and not unit.in_socket}
            common = End(EndKind.UNIT, what, "plus" if is_ground else "ground", spot, **said)
            key = (unit.id, common.terminal)
            if common not in self.commons.setdefault(key, []):
                self.commons[key].append(common)
            self.common_a[key] = self.common_a.get(key, 0.0) + load.load_a / lead.lamps
            ends = []
            for j, feed in enumerate(feeds):
                terminal = lead_name if len(feeds) == 1 else f"{lead_name} {'flash' if not j else 'steady'}"
                if unit.in_socket and any(insert.is_in_series for insert in load.inserts):
                    terminal = f"{lead_name} {CUT}"
                end = End(EndKind.UNIT, what, terminal, spot, **said)
                self._end(self._shared(n, feed, end, lead) if unit.keeps_feed else feed, end, n)
                self.loads_at[end.what, end.terminal] = load.load_a / lead.lamps
                if is_ground:
                    self.sinking.add((end.what, end.terminal))
                ends.append(end)
            name = f"{what}, {lead_name}"
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
            if unit.turned and lead.technology == "led":
                nodes = {"from": nodes["to"], "to": nodes["from"]}
            if not i and not socket:
                inner += self._link(unit, lead, ends[0])
            self.lights.append(DesignLight(unit.name, lead.id, _lamp(name, nodes, group, lead, load, scale), inner))

    def _fit_inserts(self, n: int, load: LeadLoad, feeds: Sequence[str]) -> tuple[str, ...]:
        """What cures fit at a lead, and the nodes that its lamps are on behind it."""
        feeds, is_ground = tuple(feeds), load.lead.polarity is Polarity.GROUND
        for insert in load.inserts:
            name = f"w{n} {load.unit.name} {load.name} {insert.word}"
            spot, ground = replace(load.spot, row=0), "bat" if is_ground else "gnd"
            fitted = feeds if insert.is_in_series else feeds[:1]
            behind = tuple(f"{feed} {name} {i}" if insert.is_in_series else feed for i, feed in enumerate(fitted))
            for feed, lamp in zip(fitted, behind, strict=True):
                element = insert.element(name, feed, lamp, ground)
                self.decided[element.name] = insert.value(self.system_v)
                self._element(element, spot, n)
            feeds = (*behind, *feeds[len(behind) :])
        return feeds

    def _link(self, unit: Unit, lead: Lead, end: End) -> tuple[Element, ...]:
        """What lets the brightest lead of a unit feed its weakest from inside, by what a resistor there showed."""
        if unit.link is None or unit.backfeed_v is None or lead.id != unit.link[1].id:
            return ()
        weakest = replace(end, terminal=_name_of(unit.link[0]))
        fed_v = running_v(self.system_v)
        ohm = max(CHECK_OHM * (fed_v - unit.backfeed_v) / unit.backfeed_v, 0.1)
        nodes = {"from": end.node, "to": weakest.node}
        return (Resistor(name=f"{end.what}, inside", nodes=nodes, ohm=round(ohm, 3)),)

    def _shared(self, n: int, feed: str, end: End, lead: Lead) -> str:
        """The node of a lamp that stays on its own vehicle's feed as well, behind a diode from each of the two."""
        name, lamp = f"w{n} {end.what} {end.terminal}", f"{end.what} {end.terminal} lamp"
        own = End(
            EndKind.PIN,
            end.what,
            f"its own {end.terminal} wire, cut from the lamp",
            end.spot,
            key=own_wire(lead.wanted.functions[0]),
        )
        self._end(own.node, own, n)
        for source, word in ((feed, "towing"), (own.node, "own")):
            diode = Diode(name=f"{name} {word} diode", nodes={"anode": source, "cathode": lamp}, part=PLACEHOLDER)
            self._element(diode, end.spot, n)
        return lamp

    def _supply_commons(self) -> None:
        """A unit whose ground is switched has battery always, behind a fuse of its own."""
        for unit, terminal in list(self.commons):
            if terminal != "plus":
                continue
            n = self.group_with(unit)
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
        for kind, part in PART_KINDS.items():
            if part.shared_by is None:
                continue
            key, found = part.shared_by, [item for item in self.elements if item[0].kind == kind]
            while found:
                first, spot, n = found.pop(0)
                for other in list(found):
                    nodes = combined(first, other[0], key, self.root)
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
            each for each in self.elements if not (part_kind(each[0]).protects and each[0].nodes["to"] == node)
        ]
        self._join(node, instead)

    def _place(self) -> None:
        """Every part gets its label, its value and its ends."""
        labels: Counter[str] = Counter()
        for element, spot, n in self.elements:
            kind = part_kind(element)
            word, part, is_flying = kind.word, kind.line_of(element), kind.is_flying
            if kind.protects and element.name.endswith("tap fuse"):
                part, word = "fuse_tap", "fuse tap"
            labels[word] += 1
            label = f"{word} {labels[word]}"
            group = self.groups[n]
            value = self.decided.get(element.name, "")
            if not value:
                element, value = kind.valued(element, group.feed, self.system_v)
            ends = {}
            for terminal, node in element.nodes.items():
                end = End(EndKind.PART, label, terminal, spot, is_flying)
                ends[terminal] = end
                if is_dead_end(node):
                    self.sealed.append(end)
                else:
                    self._end(node, end, n)
            nodes = {terminal: end.node for terminal, end in ends.items()}
            self.kinds[label], self.group_of[label] = kind, n
            leads = () if element.name in self.apart else tuple(load.lead.id for load in group.loads)
            self.placed[label] = Fitted(
                label,
                part,
                value,
                kind.role_of(element),
                spot,
                replace(element, name=label, nodes=nodes),
                ends,
                leads,
            )

    def _rate_fuses(self) -> None:
        """Every fuse for all that hangs behind it."""
        for label, part in self.placed.items():
            if not self.kinds[label].protects:
                continue
            rating_a = self._fuse_for(self.groups[self.group_of[label]], self.demand_a(part.ends["from"]))
            element, value = self.kinds[label].rated(part.element, rating_a)
            self.placed[label] = replace(part, element=element, value=value)

    def _fuse_for(self, group: WiredGroup, load_a: float) -> float:
        feed = group.feed
        if feed.fuse_a and feed.fuse_a >= FUSE_FACTOR * load_a >= 0.5 * group.load_a:
            return feed.fuse_a
        wire = self.bearing(feed, load_a)
        fuse = choose_fuse(load_a, wire.largest_fuse_a, FUSE_FACTOR)
        return fuse.rating_a if fuse else wire.largest_fuse_a

    def is_source(self, end: End) -> bool:
        """Whether current comes out of an end into its net."""
        if end.kind is EndKind.UNIT:
            return (end.what, end.terminal) in self.sinking
        if end.kind is EndKind.PIN:
            return end.key not in self.ground_switched
        if end.kind is not EndKind.PART:
            return end.kind in (EndKind.BATTERY, EndKind.SUPPLY)
        if end.terminal in ("87", "87a") and "86" in self.placed[end.what].ends:
            return self.root("gnd") != self._root_of(self.placed[end.what].ends["30"])
        return end.terminal in self.kinds[end.what].gives

    def role_of(self, end: End) -> str:
        if end.kind is EndKind.UNIT:
            return "feed"
        if end.kind is not EndKind.PART:
            return ""
        kind = self.kinds[end.what]
        if end.terminal in kind.through:
            other = self.placed[end.what].ends[kind.through[end.terminal]]
            roles = {self.role_of(each) for each in self.net_of(other).ends if each != other} - {""}
            return next((role for role in ("feed", "supply", "trigger", "sense") if role in roles), "")
        return kind.roles.get(end.terminal, "")

    def demand_a(self, end: End, seen: frozenset[str] = frozenset()) -> float:
        """Current into an end with everything behind it on [A]."""
        if end.kind is EndKind.UNIT:
            return self.loads_at.get((end.what, end.terminal), 0.0)
        if end.kind is not EndKind.PART or end.node in seen:
            return 0.0
        return self.kinds[end.what].demand_a(end.terminal, self.behind(end, seen | {end.node}))

    def behind(self, end: End, seen: frozenset[str] = frozenset()) -> Behind:
        """What the part that an end belongs to sees behind its terminals."""
        part = self.placed[end.what]

        def behind(*terminals: str) -> list[float]:
            return [
                sum(self.demand_a(each, seen) for each in self.net_of(part.ends[t]).ends if each != part.ends[t])
                for t in terminals
                if t in part.ends and part.ends[t] not in self.sealed
            ]

        feed = self.groups[self.group_of[end.what]].feed
        return Behind(
            part.element,
            feed,
            self.system_v,
            lambda *terminals: max(behind(*terminals), default=0.0),
            lambda *terminals: sum(behind(*terminals)),
        )

    def thin(self, feed: GroupFeed) -> Conductor:
        """The thinnest wire of the shop range: for coils and inputs."""
        return next(wire for wire in conductors(feed.standard) if wire.area_mm2 >= SHOP_RANGE_MM2)

    def bearing(self, feed: GroupFeed, load_a: float) -> Conductor:
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

    def _element(self, element: Element, spot: Spot, n: int) -> None:
        self.elements.append((element, spot, n))

    def group_with(self, unit: str) -> int:
        return next(n for n, group in enumerate(self.groups) if any(load.unit.id == unit for load in group.loads))

    def root(self, node: str) -> str:
        while (up := self.up.get(node, node)) != node:
            node = up
        return node

    def _join(self, first: str, second: str) -> None:
        one, other = self.root(first), self.root(second)
        if one == other:
            return
        if other in ("bat", "gnd", "ign") or (other.startswith("tap:") and one not in ("bat", "gnd", "ign")):
            one, other = other, one
        self.up[other] = one
        if other in self.nets:
            into = self.nets.setdefault(one, Net())
            gone = self.nets.pop(other)
            into.ends += [end for end in gone.ends if end not in into.ends]
            into.groups += [n for n in gone.groups if n not in into.groups]

    def _end(self, node: str, end: End, n: int) -> None:
        net = self.nets.setdefault(self.root(node), Net())
        if end not in net.ends:
            net.ends.append(end)
        if n not in net.groups:
            net.groups.append(n)

    def _root_of(self, end: End) -> str:
        return next((root for root, net in self.nets.items() if end in net.ends), "")

    def net_of(self, end: End) -> Net:
        return next((net for net in self.nets.values() if end in net.ends), Net())


def _name_of(lead: Lead) -> str:
    """Of a lead, as it stands on its unit."""
    return (lead.label or lead.id).replace("_", " ")


def _lamp(name: str, nodes: dict[str, str], group: WiredGroup, lead: Lead, load: LeadLoad, scale: float) -> Element:
    """What gives light: a filament, or a module that draws its current whatever the voltage."""
    own_a, each_a = group.form.led_a / scale, load.load_a / load.lead.lamps
    if lead.technology == "filament" and not own_a:
        return Lamp(name=name, nodes=nodes, rated_v=RUNNING_V * scale, rated_a=each_a)
    return Led(name=name, nodes=nodes, amps_a=own_a or each_a, regulated=True, **led_volts(scale))
