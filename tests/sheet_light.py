"""A plan's sheet rebuilt on its vehicle, and whether every lamp lights as it is wanted, by ngspice too."""

from __future__ import annotations

from itertools import product

import pytest

import ngspice
from electrics.build.sheet import build_of
from electrics.circuit.network import Network
from electrics.circuit.simulate import simulate
from electrics.circuit.spice import node_names, spice_deck
from electrics.design.design import EndKind
from electrics.document.vehicle import VehicleFacts
from electrics.identify.kinds import access_kinds
from electrics.signals import Level
from electrics.vocabulary import Function, Polarity
from electrics.ways.trial import gone_of, places_of
from electrics.ways.vehicles import node_of, vehicle_with
from rebuilt import rebuilt

STATES = ("rest", "park", "brake", "left", "right", "hazard", "reverse", "brake+left", "park+reverse", "engine+key")
LIT = 0.3


def from_the_sheet(found):
    """The circuit of a plan's sheet on its vehicle, and what each lamp is wanted to do."""
    hookup = found.hookup
    build = build_of(hookup.design, hookup.accessory)
    bench = hookup.bench
    factory = vehicle_with(bench.found, hookup.scenarios[0], VehicleFacts(bench.system_v))
    said = {(p.point.name, pin): (f, v, p) for p in found.facts.places for pin, f, v in p.said}
    tapped = {tap.key: tap.wire for lead in hookup.leads for tap in lead.chosen.tapped}

    def on_vehicle(end):
        if end.kind is EndKind.BATTERY:
            return "bat"
        if end.kind is EndKind.SUPPLY:
            return "ign"
        if end.key in tapped and end.terminal.endswith(
            " socket"
        ):  # a bulb's own, on a circuit that was found elsewhere
            return node_of(factory, tapped[end.key].function, tapped[end.key].variant, ())
        if end.kind is EndKind.GROUND or (end.what, end.terminal) not in said:
            return "towed_gnd" if end.spot.zone.startswith("towed") else "gnd"
        function, variant, where = said[end.what, end.terminal]
        if function is Function.GROUND:
            return "gnd"
        near = (f"{access_kinds()[where.point.kind].zone} {where.point.side}",)
        return node_of(factory, function, variant, near)

    units = {unit.id: unit for unit in hookup.accessory.units}
    lamps, wanted = [], {}
    for lead in hookup.leads:
        unit = units[lead.lead.unit]
        sockets = lead.lead.lamps // unit.lamps
        for n, socket in product(range(unit.lamps), range(sockets)):
            name = unit.name + (f" {n + 1}" if unit.lamps > 1 else "")
            label = lead.lead.label.replace("_", " ") + (f" {socket + 1}" if sockets > 1 else "")
            is_plus = lead.lead.polarity is Polarity.GROUND
            lamps.append((name, label, lead.lead.technology, lead.amps_a / lead.lead.lamps, is_plus))
            wanted[f"{name} {label}"] = lead.lead.wanted
    parts = rebuilt(build, lamps, on_vehicle, bench.system_v / 12)
    replaced = [
        (p.wire.function, places_of(lead.lead), lead.lead.sockets)
        for lead in hookup.leads
        for p in lead.chosen.tapped
    ]
    gone = gone_of(factory, [each for each in replaced if each[1]])
    left = [element for element in factory.network.elements if element.name not in gone]
    return Network((*left, *parts)), wanted, hookup.scenarios[0]


def lights_as_wanted(found, folder, *, states=STATES):
    network, wanted, scenario = from_the_sheet(found)
    simulation = simulate(network, states)
    cases = [(state, lit) for state in simulation.states for lit in (True, False)]
    points = [simulation.at(state, lit=lit) for state, lit in cases]
    volts = [None] * len(points)
    if ngspice.NGSPICE:
        volts = ngspice.operating_points([spice_deck(point) for point in points], folder)
    for (state, lit), point, solved in zip(cases, points, volts, strict=True):
        for lamp, wish in wanted.items():
            signal = wish.signal(state, scenario)
            level = signal.lit if lit else signal.dark
            if level not in (Level.ON, Level.OFF):
                continue
            assert (point.light(lamp) > LIT) is (level is Level.ON), (lamp, str(state), lit)
            if solved:
                across = across_lamp(network, point, solved, lamp)
                ours = point.volts(network[lamp].at("from")) - point.volts(network[lamp].at("to"))
                assert across == pytest.approx(ours, abs=0.02), (lamp, str(state), lit)


def across_lamp(network, point, solved, lamp):
    names = node_names(point)
    first, second = (names[network[lamp].at(terminal)] for terminal in ("from", "to"))
    return solved.get(first.lower(), 0.0) - solved.get(second.lower(), 0.0)
