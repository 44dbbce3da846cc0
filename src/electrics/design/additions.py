"""Parts a fix adds to the vehicle itself, not to a lead; laid out like the rest."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass

from electrics.circuit.elements import Diode, Element
from electrics.design.design import End, EndKind
from electrics.design.groups import DASH_SPOT
from electrics.lighting.description import PILOT_CONTACTS, PILOT_FEEDS, PILOT_WIRING

__all__ = ["Addition", "at_flasher", "at_pilot", "node_of_wire", "rewired"]

PILOT_DIODE = "1N4004"
"""1 A at 400 V, for a pilot lamp of 0.1 A [-] (common practice)."""
FLASHER_A = 0.1
"""What the electronics of a flasher draw through its ground [A] (estimate)."""
PILOT_A = 0.12
"""A pilot lamp of the dash [A]."""


@dataclass(frozen=True)
class Addition:
    """Parts at one place of the vehicle.

    Attributes
    ----------
    parts : tuple of (Element, str)
        Each with its value; nodes are names of this addition's own.
    ends : tuple of (str, End)
        Factory wires and contacts that were taken off, by the node that they are joined to.
    grounded : tuple of (End, float)
        What goes to ground on a wire of its own, with what flows [A].
    """

    parts: tuple[tuple[Element, str], ...]
    ends: tuple[tuple[str, End], ...]
    grounded: tuple[tuple[End, float], ...]


def at_pilot() -> Addition:
    """Two diodes at the one pilot between left and right, stripes together at the pilot, and a ground for it."""
    feeds = {side: f"pilot wire {side}" for side in PILOT_FEEDS}
    fed, back = PILOT_CONTACTS
    first, second = _pilot_end(fed, "its one contact", takes=True), _pilot_end(back, "its other contact")
    diodes = [
        Diode(name=f"pilot diode {side}", nodes={"anode": feed, "cathode": "pilot fed"}, part=PILOT_DIODE)
        for side, feed in feeds.items()
    ]
    wires = [(feeds[side], _pilot_end(node, f"wire from the {side}")) for side, node in PILOT_FEEDS.items()]
    parts = tuple((diode, PILOT_DIODE) for diode in diodes)
    return Addition(parts, (*wires, ("pilot fed", first)), ((second, PILOT_A),))


AT_VEHICLE = "at the vehicle: "
"""What keys of ends begin with whose node of the vehicle's circuit follows."""


def at_flasher() -> Addition:
    """A ground for a flasher whose predecessor had none."""
    lead = End(
        EndKind.PIN, "new flasher", "its ground lead (31)", DASH_SPOT, key=f"{AT_VEHICLE}flasher_ground", is_cut=True
    )
    return Addition((), (), ((lead, FLASHER_A),))


def _pilot_end(node: str, terminal: str, *, takes: bool = False) -> End:
    return End(EndKind.PIN, "turn pilot", terminal, DASH_SPOT, key=f"{AT_VEHICLE}{node}", is_cut=True, takes=takes)


def node_of_wire(key: str) -> str:
    """The vehicle's node of a factory wire that an addition takes off; empty for any other key."""
    return key.removeprefix(AT_VEHICLE) if key.startswith(AT_VEHICLE) else ""


def rewired(keys: Iterable[str]) -> frozenset[str]:
    """Names of the factory parts that a design stands in place of, by the keys of its ends."""
    is_at_pilot = not {node_of_wire(key) for key in keys}.isdisjoint(PILOT_CONTACTS)
    return PILOT_WIRING if is_at_pilot else frozenset()
