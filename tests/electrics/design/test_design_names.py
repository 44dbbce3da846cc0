"""What a thing is called decides nothing about where current goes."""

from __future__ import annotations

from electrics.circuit.elements import Resistor
from electrics.design.assemble import assemble
from electrics.design.design import Design, DesignLight, End, EndKind, Join
from electrics.design.routes import Spot

SPOT = Spot("rear", "rear left")


def test_a_lamp_is_in_its_joint_whatever_it_is_called_and_not_the_place_of_the_same_name():
    pin, lead = (End(kind, "wire rack lamp", "tail", SPOT) for kind in (EndKind.PIN, EndKind.UNIT))
    wire = End(EndKind.WIRE, "wire 1", "", SPOT)
    joint = Join("joint 1", "crimp_butt", None, (pin, lead, wire), is_tap=True, spot=SPOT)
    light = DesignLight(
        "wire rack lamp", "tail", Resistor(name="light", nodes={"from": lead.node, "to": "gnd"}, ohm=12.0)
    )
    tap, lit = assemble(Design((), (), (joint,), (light,)), {pin.node: "tail feed"})
    assert dict(tap.nodes) == {"from": "tail feed", "to": joint.end.node}
    assert dict(lit.nodes) == {"from": joint.end.node, "to": "gnd"}
