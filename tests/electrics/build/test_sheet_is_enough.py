"""What is built from the sheet alone lights what the plan says: every kind of unit, every way, against ngspice too.

From nothing but cut list, joint list and parts list a circuit is made, put on the vehicle and solved in every state:
what is missing on the sheet shows as a dark lamp.
"""

from __future__ import annotations

from dataclasses import replace

import pytest

import ngspice
from electrics.build.sheet import build_of
from electrics.circuit.network import Network
from electrics.circuit.simulate import simulate
from electrics.circuit.spice import node_names, spice_deck
from electrics.hookup.accessories import accessories
from electrics.hookup.design import EndKind
from electrics.hookup.trial import gone_of, places_of
from electrics.hookup.vehicles import node_of, vehicle_with
from electrics.job.facts import HookUpDecisions, JobFacts, VehicleFacts, Wish
from electrics.job.plan import plan
from electrics.signals import Level
from electrics.vocabulary import Arrangement, Function, Polarity
from rebuilt import rebuilt
from said import facts_of, vehicle, with_best

STATES = ("rest", "park", "brake", "left", "right", "hazard", "reverse", "brake+left", "park+reverse", "engine+key")
LIT = 0.3


def from_the_sheet(found):
    """The circuit of a plan's sheet on its vehicle, and what each lamp is wanted to do."""
    hookup = found.hookup
    build = build_of(hookup.design, hookup.accessory, 0)
    bench = hookup.bench
    factory = vehicle_with(bench.found, hookup.scenarios[0], system_v=bench.system_v, has_computer=False)
    said = {(p.point.name, pin): (f, v, p) for p in found.facts.places for pin, f, v in p.said}

    def on_vehicle(end):
        if end.kind is EndKind.BATTERY:
            return "bat"
        if end.kind is EndKind.SUPPLY:
            return "ign"
        if end.kind is EndKind.GROUND or (end.what, end.terminal) not in said:
            return "towed_gnd" if "towed" in end.what else "gnd"
        function, variant, where = said[end.what, end.terminal]
        if function is Function.GROUND:
            return "gnd"
        near = (f"{where.point.kind.partition('_')[0]} {where.point.side}",)
        return node_of(factory, function, variant, near)

    units = {unit.id: unit for unit in hookup.accessory.units}
    lamps, wanted = [], {}
    for lead in hookup.leads:
        unit = units[lead.lead.unit]
        for n in range(unit.lamps):
            name = unit.name + (f" {n + 1}" if unit.lamps > 1 else "")
            label = lead.lead.label.replace("_", " ")
            is_plus = lead.lead.polarity is Polarity.GROUND
            lamps.append((name, label, lead.lead.technology, lead.amps_a / unit.lamps, is_plus))
            wanted[f"{name} {label}"] = lead.lead.wanted
    parts = rebuilt(build, lamps, on_vehicle, bench.system_v / 12)
    replaced = [(p.wire.function, places_of(lead.lead)) for lead in hookup.leads for p in lead.chosen.tapped]
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


@pytest.mark.parametrize("accessory", [each.id for each in accessories()])
def test_the_best_ways_of_every_kind_light_from_the_sheet_alone(accessory, tmp_path):
    found = with_best(facts_of(accessory))
    assert all(lead.chosen is not None and lead.chosen.is_right for lead in found.hookup.leads)
    assert not any(found.hookup.together.wrong)
    lights_as_wanted(found, tmp_path)


def forms_of(wish, arrangement, polarity=""):
    """One right way of each form for a wish."""
    facts = JobFacts(
        VehicleFacts(arrangement=arrangement),
        vehicle(arrangement),
        Wish("own", own_leads=f"x = {wish}; 0.4 A{polarity}"),
    )
    (lead,) = plan(facts).hookup.leads
    kinds = {}
    for way in lead.right:
        kinds.setdefault(way.candidate.form.id, way.key)
    return facts, kinds


WISHES = (
    ("reverse", Arrangement.SEPARATE, ""),
    ("reverse", Arrangement.SEPARATE, "; ground"),
    ("tail or stop", Arrangement.SEPARATE, ""),
    ("tail and not reverse", Arrangement.SEPARATE, ""),
    ("stop_turn_left", Arrangement.SEPARATE, ""),
    ("over(turn_left, tail)", Arrangement.SEPARATE, ""),
    ("reverse or own_switch", Arrangement.SEPARATE, ""),
    ("reverse and ignition", Arrangement.SEPARATE, ""),
    ("tail and stop and reverse", Arrangement.SEPARATE, ""),
    ("(tail and stop) or reverse", Arrangement.SEPARATE, ""),
    ("tail or stop or reverse", Arrangement.SEPARATE, ""),
)


@pytest.mark.parametrize(("wish", "arrangement", "polarity"), WISHES, ids=[f"{w}{p}" for w, _, p in WISHES])
def test_every_way_to_a_wish_lights_from_the_sheet_alone(wish, arrangement, polarity, tmp_path):
    facts, kinds = forms_of(wish, arrangement, polarity)
    assert kinds
    for key in kinds.values():
        found = plan(replace(facts, hookup=HookUpDecisions(ways={"x": key})))
        lights_as_wanted(found, tmp_path, states=(*STATES, "own_switch", "brake+park", "park+brake+reverse"))


def test_a_wire_that_is_missing_on_the_sheet_is_a_dark_lamp(tmp_path):
    """The test above can fail: without any one wire some lamp is wrong."""
    found = with_best(facts_of("mirror_turn_pair"))
    design = found.hookup.design
    for n in range(len(design.wires)):
        less = replace(design, wires=design.wires[:n] + design.wires[n + 1 :])
        with pytest.raises(AssertionError):
            lights_as_wanted(
                replace(found, hookup=replace(found.hookup, design=less)), tmp_path, states=("left", "right")
            )
