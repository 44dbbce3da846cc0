"""What a lamp loses on its way: the shop's 0.5 V, or what the factory lamp on the same feed loses."""

from __future__ import annotations

import pytest

from electrics.circuit.elements import Battery, Fuse, Lamp, Resistor, Wire
from electrics.circuit.network import Network
from electrics.circuit.simulate import simulate
from electrics.ways.losses import losses

FACTORY = (
    Battery(name="battery", nodes={"+": "bat", "-": "gnd"}, volts=13.5, resistance_ohm=0.0),
    Resistor(name="old feed", nodes={"from": "bat", "to": "feed"}, ohm=0.28),
    Lamp(name="factory lamp", nodes={"from": "feed", "to": "gnd"}),
)
"""A worn feed that loses some 0.6 V at the 2.1 A of one bulb (Ohm's law)."""


def added(metres):
    return (
        Fuse(name="fuse", nodes={"from": "feed", "to": "fused"}, rating_a=3.0),
        Wire(name="wire", nodes={"from": "fused", "to": "pin"}, length_m=metres, size="22"),
        Lamp(name="added", nodes={"from": "pin", "to": "gnd"}, rated_a=0.4),
    )


def before():
    simulation = simulate(Network(FACTORY), ["rest"])
    return {"factory lamp": simulation.between("bat", "feed")}


@pytest.mark.parametrize(("metres", "blamed"), [(0.5, False), (12.0, True)])
def test_a_lamp_that_is_tapped_in_loses_no_more_than_the_one_it_hangs_on(metres, blamed):
    simulation = simulate(Network((*FACTORY, *added(metres))), ["rest"])
    found = losses(simulation, {"added": None}, before())
    assert [finding.rule for finding in found] == (["feed_drop"] if blamed else [])


def test_without_a_factory_lamp_on_its_feed_half_a_volt_is_the_most():
    """0.5 V from the battery to a lamp on 12 V (common practice)."""
    simulation = simulate(Network((*FACTORY, *added(0.5))), ["rest"])
    assert [finding.limit for finding in losses(simulation, {"added": None})] == [pytest.approx(0.5)]
