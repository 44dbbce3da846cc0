"""The circuit of a design, built from its own lines: wires with their length, joints, parts and lights."""

from __future__ import annotations

from collections.abc import Iterator, Mapping
from dataclasses import replace

from electrics.circuit.elements import Element, Joint, Lamp, Wire
from electrics.design.additions import node_of_wire
from electrics.design.design import GROUND_NODE, OTHER_LAMPS, TOWED_GROUND_NODE, Design, EndKind
from electrics.design.netlist import Netlist
from electrics.reference.usual import system_scale

__all__ = ["assemble", "bare", "vehicle_nodes"]


def assemble(design: Design, nodes: Mapping[str, str]) -> tuple[Element, ...]:
    """The elements of a design.

    Parameters
    ----------
    design : Design
    nodes : mapping of str to str
        Node of the vehicle's circuit, by the node of each end that is the vehicle's: pins, battery, supplies, ground.

    Returns
    -------
    tuple of Element
        A wire and a joint for each line, the parts and the lights; two ends of one joint are one node.
    """
    meets: dict[str, str] = {}
    for join in design.joins:
        for member in join.members:
            if member.kind in (EndKind.UNIT, EndKind.PART):
                meets[member.node] = join.end.node

    def node(name: str) -> str:
        name = meets.get(name, name)
        return nodes.get(name, name)

    found: list[Element] = []
    for join in design.joins:
        for n, member in enumerate(
            member for member in join.members if member.kind in (EndKind.PIN, EndKind.SUPPLY, EndKind.GROUND)
        ):
            first, second = (join.end, member) if member.takes else (member, join.end)
            ends = {"from": node(first.node), "to": node(second.node)}
            found.append(Joint(name=f"{join.label} tap {n + 1}", nodes=ends))
    for wire in design.wires:
        first, second = wire.ends
        size, standard = wire.conductor.size, str(wire.conductor.standard)
        ends = {"from": node(first.node), "to": node(second.node)}
        found.append(
            Wire(
                name=f"wire {wire.label}",
                nodes=ends,
                length_m=max(wire.routed_m, 0.01),
                size=size,
                standard=standard,
                either_way=not wire.is_one_way,
            )
        )
    lone = [part.element for part in design.parts]
    lone += [element for light in design.lights for element in (light.element, *light.inside)]
    for element in lone:
        found.append(_renamed(element, {name: node(name) for name in element.nodes.values()}))
    return (*found, *_other_lamps(design))


def bare(netlist: Netlist, nodes: Mapping[str, str]) -> tuple[Element, ...]:
    """The elements of a netlist before its wires are laid: all that is joined is one node.

    Parameters
    ----------
    netlist : Netlist
    nodes : mapping of str to str
        The vehicle's node of each tapped wire, by its key.

    Returns
    -------
    tuple of Element
        The parts and the lights. Where several wires of the vehicle meet, a joint leads from each.
    """
    at: dict[str, str] = {}
    joints: list[Element] = []
    for root, net in netlist.nets.items():
        taps = [end for end in net.ends if end.kind is EndKind.PIN]
        node = root
        if len(taps) == 1 and root not in POSTS:
            node = nodes[taps[0].key]
        else:
            joints += [
                Joint(name=f"{end.what} {end.terminal}, tap {n}", nodes={"from": nodes[end.key], "to": root})
                for n, end in enumerate(taps, start=1)
            ]
        at |= {end.node: node for end in net.ends}
    for (_, terminal), ends in netlist.commons.items():
        if terminal == "ground":
            at |= {end.node: "gnd" for end in ends}
    lone = [part.element for part in netlist.placed.values()]
    lone += [element for light in netlist.lights for element in (light.element, *light.inside)]
    named = (_renamed(each, {node: at.get(node, node) for node in each.nodes.values()}) for each in lone)
    return (*joints, *named)


POSTS = ("bat", "gnd", "ign")
"""Nodes that every vehicle has by these names."""


def _other_lamps(design: Design) -> Iterator[Element]:
    """One lamp for everything else on a towed car's wires: it shows whether they become live."""
    keys = dict.fromkeys(end.key for end in design.ends() if end.key.startswith(OTHER_LAMPS))
    for key in keys:
        scale = system_scale(design.system_v)
        yield Lamp(name=key, nodes={"from": key, "to": TOWED_GROUND_NODE}, rated_v=12.8 * scale, rated_a=0.42 / scale)


def _renamed(element: Element, nodes: Mapping[str, str]) -> Element:
    return replace(element, nodes={terminal: nodes[name] for terminal, name in element.nodes.items()})


def vehicle_nodes(design: Design, node_of_key: Mapping[str, str]) -> dict[str, str]:
    """The vehicle's node for each end of a design that is the vehicle's; empty where one is not on its circuit."""
    found: dict[str, str] = {}
    for end in design.ends():
        if end.kind is EndKind.BATTERY:
            found[end.node] = "bat"
        elif end.kind is EndKind.SUPPLY:
            found[end.node] = "ign"
        elif end.kind is EndKind.GROUND:
            found[end.node] = TOWED_GROUND_NODE if end.spot.zone.startswith("towed") else GROUND_NODE
        elif end.kind is EndKind.PIN and end.key.startswith(OTHER_LAMPS):
            found[end.node] = end.key
        elif end.kind is EndKind.PIN:
            found[end.node] = node_of_wire(end.key) or (node_of_key.get(end.key, "gnd") if end.key else "gnd")
    return found
