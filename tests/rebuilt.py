"""Builds a circuit from a build sheet alone: wires between named ends, joints, and the parts that are listed."""

from __future__ import annotations

import re

from electrics.circuit.elements import (
    Converter,
    Decoder,
    Diode,
    Fuse,
    Lamp,
    Led,
    Relay,
    Resistor,
    Separator,
    Switch,
    TimedRelay,
)
from electrics.design.design import EndKind

OWN_KINDS = (EndKind.UNIT, EndKind.PART, EndKind.JOINT, EndKind.WIRE)


def rebuilt(build, lamps, on_vehicle, scale=1.0):
    """The elements of a build sheet.

    `lamps` are what the units are: (unit, lead as it is called on it, technology, amps, whether its common is plus).
    `on_vehicle(end)` is the vehicle's node of a pin, a post, a supply or a ground.
    """
    node = {}
    for join in build.joins:
        for member in join.members:
            node[member.what, member.terminal] = f"{join.label} of the sheet"
        node[join.label, ""] = f"{join.label} of the sheet"

    def at(what, terminal):
        return node.get((what, terminal), f"{what} {terminal} of the sheet")

    def of(end):
        return at(end.what, end.terminal) if end.kind in OWN_KINDS else on_vehicle(end)

    found = []
    for join in build.joins:
        for n, member in enumerate(join.members):
            if member.kind not in OWN_KINDS:
                found.append(_short(f"{join.label} {n}", on_vehicle(member), f"{join.label} of the sheet"))
    for wire in build.wires:
        first, second = wire.ends
        ohm = max(wire.conductor.ohm_per_m(20.0) * wire.routed_m, 1e-4)
        found.append(Resistor(name=f"sheet wire {wire.label}", nodes={"from": of(first), "to": of(second)}, ohm=ohm))
    named = {(end.what, end.terminal) for wire in build.wires for end in wire.ends}
    named |= {(member.what, member.terminal) for join in build.joins for member in join.members}
    for part in build.parts:
        for label in part.labels if part.id != "lamp" else ():
            terminals = [terminal for what, terminal in named if what == label]
            found.append(_part(part, label, {terminal: at(label, terminal) for terminal in terminals}, scale))
    for unit, lead, technology, amps, is_plus in lamps:
        found += _lamp(unit, lead, technology, amps, at, named, scale, is_plus=is_plus)
    return found


def _short(name, first, second):
    return Resistor(name=f"sheet {name}", nodes={"from": first, "to": second}, ohm=0.002)


def _part(part, label, nodes, scale):
    """A part by its line; a terminal that nothing leads to hangs open."""

    def filled(*terminals):
        return {terminal: nodes.get(terminal, f"{label} {terminal} open") for terminal in terminals}

    if part.id == "fuse":
        return Fuse(name=label, nodes=filled("from", "to"), rating_a=float(part.detail.partition(" ")[0]))
    if part.id == "diode":
        return Diode(name=label, nodes=filled("anode", "cathode"), part=part.detail)
    if part.id == "relay":
        ohm = float(part.detail.partition(" V, ")[2].partition(" ohm")[0])
        pull_in_v, drop_out_v = 8.0 * scale, 1.2 * scale
        nodes = filled("86", "85", "30", "87") | ({"87a": nodes["87a"]} if "87a" in nodes else {})
        return Relay(
            name=label, nodes=nodes, coil_ohm=ohm, pull_in_v=pull_in_v, drop_out_v=drop_out_v, suppression="diode"
        )
    if part.id in ("load_resistor", "dark_resistor"):
        return Resistor(name=label, nodes=filled("from", "to"), ohm=float(part.detail.partition(" ohm")[0]))
    if part.id == "switch":
        return Switch(name=label, nodes=filled("from", "to"), closed_with=("own_switch",))
    if part.id == "timed_relay":
        return TimedRelay(name=label, nodes=filled("30", "87a", "trigger", "31"))
    if part.id == "decoder":
        return _decoder(label, filled("in", "out", "31"), part.detail)
    kinds = {"converter": Converter, "separator": Separator}
    least = ("supply", "31", "left_out", "right_out") if part.id == "converter" else ("supply", "31")
    limit_a = 1.5 * float(part.detail.partition(" V, ")[2].partition(" A")[0])
    return kinds[part.id](name=label, nodes={**filled(*least), **nodes}, limit_a=limit_a)


def _decoder(label, nodes, detail):
    """`load 12 ohm in a 50 W case on metal, diode 6A4, 1 ohm, 2 W, 6800 microfarad, 25 V, 330 ohm, 2 W with wire leads`"""
    numbers = {
        "load_ohm": r"load ([\d.]+) ohm",
        "series_ohm": r"([\d.]+) ohm, [\d.]+ W, [\d.]+ microfarad",
        "microfarad": r"([\d.]+) microfarad",
        "bleed_ohm": r" V, ([\d.]+) ohm",
    }
    found = {name: re.search(pattern, detail) for name, pattern in numbers.items()}
    return Decoder(name=label, nodes=nodes, **{name: float(each[1]) if each else 0.0 for name, each in found.items()})


def _lamp(unit, lead, technology, amps, at, named, scale, *, is_plus):
    common = at(unit, "plus" if is_plus else "ground")
    if (unit, f"{lead} flash") in named:  # a bulb that switches itself: its contact and its diodes are in it
        front, steady, held, out = at(unit, f"{lead} flash"), at(unit, f"{lead} steady"), f"{unit} held", f"{unit} in"
        yield TimedRelay(name=f"{unit} inside", nodes={"30": steady, "87a": held, "trigger": front, "31": common})
        yield Diode(name=f"{unit} inner 1", nodes={"anode": front, "cathode": out}, part="6A4")
        yield Diode(name=f"{unit} inner 2", nodes={"anode": held, "cathode": out}, part="6A4")
        technology, amps, feed = "led", 0.4 / scale, out
    else:
        behind = f"{lead} wire, cut behind its socket"
        feed = at(unit, behind if (unit, behind) in named else lead)
    nodes = {"from": common, "to": feed} if is_plus else {"from": feed, "to": common}
    name = f"{unit} {lead}"
    if technology == "filament":
        yield Lamp(name=name, nodes=nodes, rated_v=12.8 * scale, rated_a=amps)
    else:
        yield Led(name=name, nodes=nodes, amps_a=amps, at_v=13.5 * scale, threshold_v=7.5 * scale)
