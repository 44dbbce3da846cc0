"""What is wrong with how a circuit is wired, whatever is switched on: fuses, thin wires, wrong bulbs, sneak paths.

These rules are for a circuit that a person drew. A design of ours is sized by its own rules, and the factory's
circuit is taken as it is; both are judged by `electrics.circuit.findings` alone.
"""

from __future__ import annotations

from collections.abc import Callable, Iterator, Sequence
from math import inf

from electrics.circuit.elements import Battery, Element, Flasher, Fuse, Ground, Joint, Wire
from electrics.circuit.findings import LIVENS_V, RULES
from electrics.circuit.roads import BOTH_WAYS, FLOWS_A, could_be_fed, live_ends, reached_from
from electrics.circuit.rules import CircuitFinding, Found, findings
from electrics.circuit.simulate import GLOWS, Point, Simulation
from electrics.circuit.wrong_roads import cause_of
from electrics.reference.usual import FEED_LOSS_V, GROUND_LOSS_V

__all__ = ["WIRING", "review"]

UNFUSED_M = 0.2
"""How far from the battery the first fuse may sit [m] (common practice)."""
OTHER_SYSTEM = 1.5
"""A lamp made for this many times the battery's voltage belongs to another system [-]."""
FAR_OVER = 4.0
"""A fuse of more than this many times what a wire bears is wrong anywhere; factories go up to that [-] (estimate)."""
SNEAKS_V = 2.0
"""What a lamp between two lamp circuits may put on the one that is off, on 12 V: markers between park and turn do [V]
(estimate). On what the key switches, other things hang than lamps."""

Seen = tuple[Point | None, Found]
"""Where something shows, or None for the wiring itself; and what was found."""
Rule = Callable[[Simulation], Iterator[Seen]]
WIRING: dict[str, Rule] = {}
"""Every rule by its stable id."""


def review(simulation: Simulation) -> tuple[CircuitFinding, ...]:
    """All that is wrong with a circuit that a person drew: what it does, and how it is wired; errors first.

    Parameters
    ----------
    simulation : Simulation

    Returns
    -------
    tuple of Finding
        A finding of the wiring itself has an empty `state`.
    """
    found = list(findings(simulation))
    for rule, look in WIRING.items():
        worst: dict[str, CircuitFinding] = {}
        for point, each in look(simulation):
            new = each.at(rule, point)
            if each.subject not in worst or new.value > worst[each.subject].value:
                worst[each.subject] = new
        found += worst.values()
    return tuple(sorted(found, key=lambda each: each.severity != "error"))


def _rule(look: Rule) -> Rule:
    WIRING[look.__name__] = look
    return look


Edge = tuple[str, str, Element]


def _edges(simulation: Simulation) -> list[Edge]:
    """From node, to node, element: every branch that is meant to feed on, whether its switch is closed now or not."""
    network, edges = simulation.network, []
    for branch in simulation.network.system.branches:
        owner = network[branch.owner]
        passes = owner.passes_on(branch.name)
        if passes:
            edges.append((branch.first, branch.second, owner))
        if passes == BOTH_WAYS:
            edges.append((branch.second, branch.first, owner))
    return [edge for edge in edges if edge[1] != network.reference]


Guard = tuple[float, str]
"""A figure of the road to a node, and the part that it is of."""


def _spread(
    simulation: Simulation,
    start: Guard,
    behind: Callable[[Guard, Element], Guard | None],
    is_better: Callable[[Guard, Guard], bool],
) -> dict[str, Guard]:
    """The best guard of each node that a battery can feed, all switches closed.

    Parameters
    ----------
    simulation : Simulation
    start : Guard
        At the battery.
    behind : callable
        The guard behind an element, from that before it; None where the road ends there.
    is_better : callable
        Whether the first of two guards of a node is the one to keep.
    """
    edges = _edges(simulation)
    found = dict.fromkeys(live_ends(simulation.network), start)
    is_growing = True
    while is_growing:
        is_growing = False
        for first, second, owner in edges:
            guard = behind(found[first], owner) if first in found else None
            if guard is not None and (second not in found or is_better(guard, found[second])):
                found[second] = guard
                is_growing = True
    return found


def _widest(simulation: Simulation) -> dict[str, Guard]:
    """What limits the current into each node: the narrowest rating on its widest road [A], and that part."""

    def behind(before: Guard, owner: Element) -> Guard:
        own_a = owner.lets_through_a
        return before if own_a is None or own_a >= before[0] else (own_a, owner.name)

    return _spread(simulation, (inf, ""), behind, lambda new, known: new[0] > known[0])


def _bare(simulation: Simulation) -> dict[str, Guard]:
    """By node that no fuse guards: least length of wire from the battery [m], and the first part on that road."""

    def behind(before: Guard, owner: Element) -> Guard | None:
        return None if owner.lets_through_a is not None else (before[0] + owner.run_m, before[1] or owner.name)

    return _spread(simulation, (0.0, ""), behind, lambda new, known: new[0] < known[0] - 1e-9)


@_rule
def fuse_for_wire(simulation: Simulation) -> Iterator[Seen]:
    """A wire behind a fuse larger than the largest that protects its size."""
    widest = _widest(simulation)
    fuses = {fuse.name for fuse in simulation.network.of(Fuse)}
    for wire in simulation.network.of(Wire):
        most_a, by = widest.get(wire.at("from"), (0.0, ""))
        if most_a > wire.largest_a and by in fuses:
            severity = "error" if most_a > FAR_OVER * wire.largest_a else "warning"
            yield None, Found(severity, wire.name, most_a, wire.largest_a, "A", by)


@_rule
def no_fuse(simulation: Simulation) -> Iterator[Seen]:
    """A road from the battery that leads to a load, or over more than a short lead, before it meets a fuse."""
    bare, network = _bare(simulation), simulation.network
    loads = {
        branch.owner
        for branch in network.system.branches
        if not network[branch.owner].passes_on(branch.name) and {branch.first, branch.second} & bare.keys()
    }
    batteries = {battery.name for battery in network.of(Battery)}
    for element in network.elements:
        if element.name in batteries or element.is_held or element.lets_through_a is not None:
            continue
        at = [bare[node] for node in element.nodes.values() if node in bare]
        if element.run_m and element.at("from") in bare:
            far_m, begins = bare[element.at("from")]
            if far_m + element.run_m > UNFUSED_M:
                yield None, Found("warning", begins or element.name, far_m + element.run_m, UNFUSED_M, "m")
        elif element.name in loads and at:
            far_m, begins = min(at)
            yield None, Found("warning", begins or element.name, far_m, UNFUSED_M, "m")


@_rule
def flashers_in_series(simulation: Simulation) -> Iterator[Seen]:
    """A flasher that another one feeds: each beats in the other's time, and the lamps follow neither."""
    flashers = simulation.network.of(Flasher)
    edges = [(first, second) for first, second, _ in _edges(simulation)] if len(flashers) > 1 else []
    for flasher in flashers:
        fed = reached_from([flasher.at("49a")], edges)
        for other in flashers:
            if other is not flasher and other.at("49") in fed:
                yield None, Found("error", other.name, 2.0, 1.0, "", flasher.name)


@_rule
def wrong_system(simulation: Simulation) -> Iterator[Seen]:
    """A lamp made for a system of more volts: dim, or dark."""
    most_v = max(abs(battery.volts) for battery in simulation.network.of(Battery))
    for element in simulation.network.elements:
        made_for_v = element.made_for_v
        if made_for_v is not None and made_for_v > OTHER_SYSTEM * most_v:
            yield None, Found("error", element.name, most_v, made_for_v, "V")


@_rule
def lost_on_the_way(simulation: Simulation) -> Iterator[Seen]:
    """A lamp that burns and loses too much of its voltage in what only leads on, and where most of it goes."""
    network, scale = simulation.network, simulation.system_scale
    named = {each.name for each in (*network.of(Ground), *network.of(Joint))}  # they have their own findings
    for point in simulation.points:
        for (name, branch), light in simulation.light.items():
            lamp = network[name]
            feed = lamp.at(branch) if branch else max(map(lamp.at, lamp.terminals[:-1]), key=point.volts)
            if light[point.row] <= GLOWS or point.is_pulsed or lamp.is_held or not point.is_fed(feed):
                continue
            for start, onward in ((feed, False), (lamp.at("to"), True)):
                lost = _lost(point, start, onward=onward)
                whole_v, limit_v = sum(lost.values()), scale * (GROUND_LOSS_V if onward else FEED_LOSS_V)
                by = max(lost, key=lambda each: lost[each]) if lost else ""
                if whole_v > limit_v and by not in named:
                    yield point, Found("warning", name, whole_v, limit_v, "V", by)


@_rule
def sneak_feed(simulation: Simulation) -> Iterator[Seen]:
    """A circuit that is off and live all the same: current comes into it through a load of another one."""
    network, system = simulation.network, simulation.network.system
    edges = _edges(simulation)
    could_be = could_be_fed(simulation)
    place = simulation.places
    for point in simulation.points:
        lit_wrong = {each.subject for each in RULES["wrong_road"](point)}
        currents = simulation.mean_currents[point.row]
        for branch, amps in zip(system.branches, currents, strict=True):
            owner = network[branch.owner]
            if abs(amps) < FLOWS_A or owner.passes_on(branch.name) or owner.lets_through_a is not None:
                continue
            into = branch.second if amps > 0 else branch.first
            if into not in could_be or place.get(into) is None or point.is_fed(into) or owner.name in lit_wrong:
                continue
            volts = point.volts(into)
            if volts <= LIVENS_V * simulation.system_scale:
                continue
            off = _off_by(edges, into)
            has_key = off in network and {"key", "engine"} & network[off].controls
            limit_v = (LIVENS_V if has_key else SNEAKS_V) * simulation.system_scale
            if volts > limit_v:

                def is_gone(then: Point, node: str = into, most_v: float = limit_v) -> bool:
                    return then.volts(node) <= most_v

                by, mends = cause_of(point, (owner.name,), is_gone) or (owner.name, "")
                yield point, Found("warning", off, volts, limit_v, "V", by, (), mends)


def _off_by(edges: Sequence[Edge], node: str) -> str:
    """What switches a node: the first part above it that is more than copper; the node itself where there is none."""
    above = {second: (first, owner) for first, second, owner in edges}
    at, seen = node, {node}
    while at in above:
        at, owner = above[at]
        if not owner.is_copper:
            return owner.name
        if at in seen:
            break
        seen.add(at)
    return node


def _lost(point: Point, start: str, *, onward: bool) -> dict[str, float]:
    """What each part loses that only leads on, between a lamp's end and the battery [V].

    Parameters
    ----------
    point : Point
    start : str
        The lamp's node.
    onward : bool
        Follow the current on to ground, rather than back to where it comes from.

    Returns
    -------
    dict of str to float
        Empty where the road runs through what is more than a conductor.
    """
    simulation = point.simulation
    network, currents = simulation.network, simulation.mean_currents[point.row]
    ends = {network.reference} if onward else set(live_ends(network))
    flows: dict[str, tuple[float, str, str]] = {}
    for branch, amps in zip(network.system.branches, currents, strict=True):
        source, sink = (branch.first, branch.second) if amps > 0 else (branch.second, branch.first)
        at, other = (source, sink) if onward else (sink, source)
        if abs(amps) > max(FLOWS_A, flows.get(at, (0.0, "", ""))[0]):
            flows[at] = abs(float(amps)), other, branch.owner
    lost: dict[str, float] = {}
    at = start
    while at not in ends:
        if at not in flows or flows[at][2] in lost:
            return {}
        _, other, owner = flows[at]
        element = network[owner]
        if not element.conducts:
            return {}
        if element.in_line is None:
            lost[owner] = abs(point.volts(at) - point.volts(other))
        else:
            lost[owner] = 0.0
        at = other
    return lost
