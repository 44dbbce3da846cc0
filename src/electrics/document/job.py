"""What people entered for one job: facts of the vehicle, its places and what is added, and their decisions.

Nothing here follows from anything else. Wires and places are named by keys that the caller chooses: the plan speaks
of them by these keys and never looks into them.
"""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, field, replace
from typing import Any

from electrics.document.as_found import AsFound
from electrics.document.circuits import CircuitNotes, FedBy
from electrics.document.decisions import HookUpDecisions
from electrics.document.lamp import LampFacts
from electrics.document.places import PlaceFacts
from electrics.document.units import UnitFacts
from electrics.document.vehicle import Computer, VehicleFacts
from electrics.reference.usual import usual_circuit
from electrics.vocabulary import Function

__all__ = ["JobFacts", "Wish"]


@dataclass(frozen=True)
class Wish:
    """What is added.

    Attributes
    ----------
    kind : str
        Of `accessories()`, or one's own kind.
    also : tuple of str
        Kinds that are added along with it.
    own_leads : str
        The leads of one's own kind, one a line.
    count : int
        Lamps of the first kind [-].
    each_a : float
        Current of each where it has one lead [A].
    """

    kind: str
    also: tuple[str, ...] = ()
    own_leads: str = ""
    count: int = 1
    each_a: float = 1.0


@dataclass(frozen=True)
class JobFacts:
    """Everything that a plan follows from.

    Attributes
    ----------
    wish : Wish
        What is added, by one name of `accessories`; unused where `units` are said.
    units : tuple of UnitFacts
        What is fitted or changed, one by one; empty where `wish` says it by one name.
    distances : mapping of frozenset of str to float
        Between two places, by their names [m].
    zones : mapping of str to str
        Where places are that are no access points, by their names; see `electrics.reference.zones`.
    complaint : str
        Of `electrics.correct.complaints`, where what is said as added is fitted already and something is wrong.
    as_found : AsFound
        What was noted before the work.
    """

    vehicle: VehicleFacts
    places: tuple[PlaceFacts, ...]
    wish: Wish
    lamp: LampFacts | None = None
    hookup: HookUpDecisions = field(default_factory=HookUpDecisions)
    units: tuple[UnitFacts, ...] = ()
    distances: Mapping[frozenset[str], float] = field(default_factory=dict)
    zones: Mapping[str, str] = field(default_factory=dict)
    complaint: str = ""
    as_found: AsFound = field(default_factory=AsFound)

    def without_cures(self) -> JobFacts:
        """The same as if no fix were used."""
        return replace(self, hookup=replace(self.hookup, cures=()))

    def circuit(self, function: str) -> CircuitNotes:
        """The notes of a factory circuit, what nobody has noted as it usually is: see `assumed_of`.

        A brief that says there is a computer, or none, says so of every circuit; else what feeds it stays unknown,
        because a mistake there does harm.
        """
        noted = self.hookup.circuit_of(function)
        return replace(noted, **self.assumed_of(function))

    @property
    def counted(self) -> tuple[tuple[Function, str, int], ...]:
        """The factory bulbs that somebody stated or counted, there or opposite, by circuit: name and number."""
        said = {function for function, notes in self.hookup.circuits.items() if function and notes.names_lamps}
        found = [(Function(each), self.circuit(each)) for each in sorted({*said, *map(_other_side, said)})]
        return tuple(
            (on, each.host_bulb, each.host_count) for on, each in found if each.host_bulb and each.host_count
        )

    @property
    def noted_fuses(self) -> tuple[tuple[Function, float], ...]:
        """The fuses that somebody read off, by circuit [A]; what is noted of no circuit in particular is of all."""
        said = {name: notes.host_fuse_a for name, notes in self.hookup.circuits.items()}
        general = said.pop("", None)
        noted = {Function(name): rating for name, rating in said.items() if rating is not None}
        if general is not None:
            noted |= {each: general for each in Function if str(each) not in said}
        return tuple(sorted(noted.items()))

    def assumed_of(self, function: str) -> dict[str, Any]:
        """What is assumed of a factory circuit, by the names of `CircuitNotes`; nothing that somebody has noted.

        Lamps of one side are taken to be as somebody noted those of the other.
        """
        noted = self.hookup.circuit_of(function)
        found: dict[str, Any] = {}
        vehicle = self.vehicle
        if noted.fed_by is FedBy.UNKNOWN and (vehicle.has_computer or vehicle.computer is Computer.NO):
            found["fed_by"] = FedBy.COMPUTER if vehicle.has_computer else FedBy.PLAIN
        usual = usual_circuit(function, self.vehicle.system_v)
        if usual is None:
            return found
        other = self.hookup.circuits.get(_other_side(function), CircuitNotes())
        if noted.measured_a is None and not noted.host_bulb:
            found["host_bulb"] = other.host_bulb or usual.bulb
        if noted.measured_a is None and noted.host_count is None:
            found["host_count"] = usual.count if other.host_count is None else other.host_count
        if noted.host_fuse_a is None:
            found |= {"host_fuse_a": usual.fuse_a, "host_wire": usual.wire}
        return found


def _other_side(function: str) -> str:
    """The same circuit of the other side; itself where both sides hang on it."""
    for side, other in (("_left", "_right"), ("_right", "_left")):
        if function.endswith(side):
            return function.removesuffix(side) + other
    return function
