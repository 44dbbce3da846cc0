"""Every operating point against ngspice, a general-purpose circuit simulator that knows nothing of this project."""

from __future__ import annotations

import json
import random

import pytest

from electrics.circuit.elements import Battery, Diode, Lamp, Led, Relay, Resistor, Switch
from electrics.circuit.network import Network
from electrics.circuit.simulate import simulate
from electrics.circuit.spice import node_names, spice_deck
from electrics.design.accessories import accessories
from electrics.design.states import TABLE_STATES
from electrics.job.hookup_file import read_job
from electrics.lighting.samples import sample_circuits
from electrics.lighting.vehicle import factory_circuit
from hookup_jobs import CHAINS, REAR, job, judged
from ngspice import MISSING, NGSPICE, operating_points
from vehicles import VEHICLES

pytestmark = pytest.mark.skipif(NGSPICE is None, reason=MISSING)

RANDOM_NETWORKS = 200
STATES = ("rest", "park", "brake+left", "brake+hazard", "low")


def agreeing(points, folder):
    """How many of these points ngspice found; asserts 0.5 % or 5 mV on every node, 0.5 % or 1 mA in every branch."""
    decks = [spice_deck(point, ammeters=True) for point in points]
    found = operating_points(decks, folder)
    for point, each in zip(points, found, strict=True):
        if each is not None:
            agrees(point, each)
    return sum(each is not None for each in found)


def agrees(point, found):
    simulation = point.simulation
    for name, safe in node_names(point).items():
        if safe != "0":
            ours = simulation.solution.volts(name)[point.row]
            assert found[safe] == pytest.approx(ours, rel=5e-3, abs=5e-3), f"{name} in {point.case}"
    for k, branch in enumerate(simulation.network.system.branches):
        ours = simulation.solution.currents[point.row, k]
        assert found[f"vam{k}#branch"] == pytest.approx(ours, rel=5e-3, abs=1e-3), f"{branch} in {point.case}"


@pytest.mark.parametrize("name", sample_circuits())
def test_every_sample_circuit_agrees_in_every_state_and_phase(name, tmp_path):
    points = simulate(sample_circuits()[name], TABLE_STATES).points
    assert agreeing(points, tmp_path) == len(points)


@pytest.mark.parametrize("name", VEHICLES)
def test_every_factory_circuit_agrees(name, tmp_path):
    points = simulate(factory_circuit(VEHICLES[name]).network, STATES).points
    assert agreeing(points, tmp_path) == len(points)


def draw(rng):
    """A network that nobody would build: sources, diodes, filaments, LEDs and contacts between random nodes."""
    nodes = ["gnd", *(f"n{k}" for k in range(rng.randint(2, 9)))]

    def ends(first="from", second="to"):
        a, b = rng.sample(nodes, 2)
        return {first: a, second: b}

    def volts():
        return round(rng.uniform(4, 28), 2)

    makers = {
        "R": lambda n: Resistor(name=n, nodes=ends(), ohm=10 ** rng.uniform(-1, 4)),
        "L": lambda n: Lamp(name=n, nodes=ends(), rated_v=volts(), rated_a=round(rng.uniform(0.1, 4), 2)),
        "D": lambda n: Diode(
            name=n, nodes=ends("anode", "cathode"), part=rng.choice(["1N4007", "1N5408", "6A10", "SB560"])
        ),
        "E": lambda n: Led(name=n, nodes=ends(), regulated=rng.random() < 0.3, bridge=rng.random() < 0.3),
        "S": lambda n: Switch(name=n, nodes=ends(), closed_with=rng.choice([("brake",), ("park",)])),
        "K": lambda n: Relay(name=n, nodes={**ends("86", "85"), **ends("30", "87")}, suppression="diode"),
    }
    battery = Battery(name="B0", nodes={"+": "n0", "-": "gnd"}, volts=volts(), resistance_ohm=0.01)
    sources = [
        Battery(name=f"B{k}", nodes=ends("+", "-"), volts=volts(), resistance_ohm=round(rng.uniform(0.05, 2), 3))
        for k in range(1, rng.randint(1, 3))
    ]
    parts = [makers[rng.choice("RRRLLLDDESK")](f"P{k}") for k in range(rng.randint(4, 18))]
    tied = [Resistor(name=f"T{k}", nodes={"from": node, "to": "gnd"}, ohm=1e5) for k, node in enumerate(nodes[1:])]
    return Network((battery, *sources, *parts, *tied))


def test_random_networks_with_diodes_filaments_and_several_sources_agree(tmp_path):
    """A network that ngspice itself finds no point for is drawn again; ours must settle on every one."""
    rng = random.Random(20261125)
    points = []
    while len(points) < RANDOM_NETWORKS * 1.1:
        simulation = simulate(draw(rng), ["brake"])
        if not simulation.chatter:
            assert simulation.solution.settled.all()
            points.append(simulation.at("brake"))
    assert agreeing(points, tmp_path) >= RANDOM_NETWORKS


def chosen(accessory, system_v):
    """The best way of each lead of an accessory, on the circuit of a vehicle with separate signals."""
    functions = ["tail", "stop", "turn_left", "turn_right", "reverse", *(["drl"] if "daytime" in accessory else [])]
    document = {"format": "hailstone-hookup", "version": 1, "system_v": system_v, "accessory": accessory}
    found = read_job(json.dumps(document | {"sources": [{"name": each, "function": each} for each in functions]}))
    for lead in found.leads:
        best = found.judged(lead)[0]
        assert best.is_right
        yield best


@pytest.mark.parametrize("accessory", [each.id for each in accessories()])
@pytest.mark.parametrize("system_v", [12, 24])
def test_the_chosen_hook_up_of_every_lead_agrees(accessory, system_v, tmp_path):
    """Attached to a vehicle, in the states in which it switches, lit and dark."""
    points = [
        best.trial.simulation.at(state, lit=lit)
        for best in chosen(accessory, system_v)
        for state in ("rest", "park+reverse", "brake+left")
        for lit in (True, False)
    ]
    assert agreeing(points, tmp_path) == len(points)


@pytest.mark.parametrize(("wanted", "form"), CHAINS)
def test_chains_and_the_ways_behind_the_best_agree(wanted, form, tmp_path):
    """Whatever is right for a wish of three circuits, not only the winner."""
    found = job((*REAR, "drl"), leads=[{"lead": "own", "wanted": wanted, "each_a": 0.5}])
    tried = [each for each in judged(found, at_least=3) if each.trial]
    assert form in {each.candidate.form.id for each in tried}
    by_states = ("park+reverse", "brake+left", "key")
    points = [each.trial.simulation.at(state, lit=False) for each in tried for state in by_states]
    assert agreeing(points, tmp_path) == len(points)


def test_no_name_of_a_node_collides_with_what_the_deck_calls_its_own(tmp_path):
    """Nodes named like a source's inner node (e0), a filament's heat (t2) or an ammeter (am1)."""
    parts = (
        Battery(name="B", nodes={"+": "e0", "-": "gnd"}, volts=12.6, resistance_ohm=0.01),
        Resistor(name="R", nodes={"from": "e0", "to": "am1"}, ohm=0.5),
        Lamp(name="L", nodes={"from": "am1", "to": "t2"}, rated_v=12.8, rated_a=2.1),
        Resistor(name="S", nodes={"from": "t2", "to": "gnd"}, ohm=0.2),
    )
    assert agreeing([simulate(Network(parts), ["rest"]).at("rest")], tmp_path) == 1
