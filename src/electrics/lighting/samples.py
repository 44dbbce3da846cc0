"""The made-up vehicles of the sample data, as their lighting goes: what demos, examples and the bench are run on."""

from __future__ import annotations

from electrics.circuit.elements import Converter, Diode, Fuse, Lamp, Led, Relay, Resistor, Switch, Wire
from electrics.circuit.network import Network
from electrics.document.vehicle import FlasherKind
from electrics.lighting.vehicle import Lamps, VehicleDescription, factory_circuit
from electrics.signals import Scenario
from electrics.vocabulary import Arrangement, BrakeWithHazard

__all__ = ["SAMPLE_VEHICLES", "sample_circuits"]

_SEPARATE = Scenario(Arrangement.SEPARATE)
_COMBINED = Scenario(Arrangement.COMBINED, BrakeWithHazard.FLASH_WINS)

SAMPLE_VEHICLES: dict[str, VehicleDescription] = {
    "skua": VehicleDescription(
        scenario=_SEPARATE,
        flasher=FlasherKind.COMPUTER,
        counts_bulbs=True,
        sides_apart=True,
        drl="key",
        has_fogs=True,
        has_side_markers=True,
        has_trailer_socket=True,
    ),
    "fellhound": VehicleDescription(scenario=_COMBINED, rear=Lamps.LED, has_trailer_socket=True),
    "pipit": VehicleDescription(
        scenario=_SEPARATE, rear=Lamps.LED, front=Lamps.LED, flasher=FlasherKind.FIXED, pilot="one", has_licence=False
    ),
    "oxbow": VehicleDescription(system_v=24, scenario=_SEPARATE, has_trailer_socket=True),
    "dunlin": VehicleDescription(scenario=_SEPARATE, one_wire=True, drl="engine_dims"),
}
"""By the model's name."""


def sample_circuits() -> dict[str, Network]:
    """Every sample vehicle as the factory built it, and what is added to some of them.

    Returns
    -------
    dict of str to Network
        The largest has more than 80 elements.
    """
    found = {name: factory_circuit(vehicle).network for name, vehicle in SAMPLE_VEHICLES.items()}
    found["skua-reverse-lamps"] = _reverse_lamps(found["skua"])
    found["fellhound-resistors"] = _resistors(found["fellhound"])
    found["oxbow-converter"] = _converter(found["oxbow"])
    found["dunlin-towed"] = _towed(found["dunlin"])
    return found


def _reverse_lamps(skua: Network) -> Network:
    """Two high reverse lamps from the battery, a sealed relay on the reverse feed."""
    return skua.with_elements(
        Fuse(name="added fuse", nodes={"from": "bat", "to": "added_fused"}, rating_a=7.5),
        Wire(name="added supply", nodes={"from": "added_fused", "to": "added_30"}, length_m=5, size="16"),
        Relay(
            name="added relay",
            nodes={"86": "reverse", "85": "rear_left_gnd", "30": "added_30", "87": "added_87"},
            suppression="diode",
        ),
        Wire(name="added run", nodes={"from": "added_87", "to": "added_lamps"}, length_m=4, size="16"),
        Led(
            name="left high reverse lamp",
            nodes={"from": "added_lamps", "to": "rear_left_gnd"},
            amps_a=1.2,
            regulated=True,
        ),
        Led(
            name="right high reverse lamp",
            nodes={"from": "added_lamps", "to": "rear_right_gnd"},
            amps_a=1.2,
            regulated=True,
        ),
    )


def _resistors(fellhound: Network) -> Network:
    """A load resistor on each rear stop and turn feed cures the fast flash, and gets hot."""
    return fellhound.with_elements(
        *(
            Resistor(
                name=f"{side} load resistor",
                nodes={"from": f"stop_turn_{side}", "to": f"rear_{side}_gnd"},
                ohm=6,
                watts=50,
            )
            for side in ("left", "right")
        )
    )


def _converter(oxbow: Network) -> Network:
    """A stop-and-turn converter for a combined trailer behind a lorry with separate signals."""
    return oxbow.with_elements(
        Fuse(name="converter fuse", nodes={"from": "bat", "to": "converter_fused"}, rating_a=10),
        Converter(
            name="converter",
            nodes={
                "supply": "converter_fused",
                "31": "rear_left_gnd",
                "left_in": "turn_left",
                "right_in": "turn_right",
                "stop_in": "stop",
                "tail_in": "tail",
                "left_out": "trailer_left",
                "right_out": "trailer_right",
                "tail_out": "trailer_tail",
            },
        ),
        Lamp(name="trailer left lamp", nodes={"from": "trailer_left", "to": "gnd"}, rated_v=25.6, rated_a=1.05),
        Lamp(name="trailer right lamp", nodes={"from": "trailer_right", "to": "gnd"}, rated_v=25.6, rated_a=1.05),
        Lamp(
            name="trailer tail lamp",
            nodes={"from": "trailer_tail", "to": "gnd"},
            rated_v=28,
            rated_a=0.21,
            hot_k=2500,
        ),
    )


def _towed(dunlin: Network) -> Network:
    """Lights of the towing vehicle into the towed car's turn lamps, a diode at each feed."""
    parts = []
    for side in ("left", "right"):
        own, tow = f"turn_{side}", f"tow_{side}"
        parts += [
            Switch(name=f"tow switch {side}", nodes={"from": "bat", "to": tow}, closed_with=("trailer_lever",)),
            Diode(name=f"tow diode {side}", nodes={"anode": tow, "cathode": own}, part="6A4"),
        ]
    return dunlin.with_elements(*parts)
