"""What people entered for one job: facts of the vehicle, its places and what is added, and their decisions.

Nothing here follows from anything else. Wires and places are named by keys that the caller chooses: the plan speaks
of them by these keys and never looks into them.
"""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, field, replace
from enum import StrEnum
from typing import Any

from electrics.hookup.joints import Keeps
from electrics.hookup.units import Unit
from electrics.identify.facts import AccessPoint
from electrics.identify.leads import Trial
from electrics.lighting.vehicle import FlasherKind, Idle
from electrics.reference.conductor import WireStandard
from electrics.reference.usual import usual_circuit
from electrics.vocabulary import Arrangement, BrakeWithHazard, Control, Function

__all__ = [
    "UNUSED",
    "CircuitNotes",
    "Computer",
    "CureDecision",
    "FedBy",
    "HookUpDecisions",
    "Idle",
    "JobFacts",
    "LampFacts",
    "PlaceFacts",
    "RunDecision",
    "VehicleFacts",
    "Wish",
]


class Computer(StrEnum):
    """Whether a computer feeds or watches the lamps."""

    UNKNOWN = "unknown"
    NO = "no"
    YES = "yes"


class FedBy(StrEnum):
    """What feeds one factory circuit."""

    UNKNOWN = "unknown"
    PLAIN = "plain"
    COMPUTER = "computer"


PRONGS = {"two": ("X", "L"), "three": ("X", "L", "P"), "ground": ("X", "L", "31")}
"""Terminals of a flasher by how many prongs it has: supply, load, pilot or ground (DIN 72552, from memory)."""


@dataclass(frozen=True)
class VehicleFacts:
    """The vehicle.

    Attributes
    ----------
    system_v : int
        6, 12 or 24 [V].
    arrangement : Arrangement or None
        Of its rear signals, where somebody said so.
    not_fitted : frozenset of Control
        What it lacks.
    body : str
        Of `electrics.reference.zones.bodies`: for lengths that nobody has measured.
    brake_with_hazard : BrakeWithHazard or None
        Which of them wins on a combined lamp, where somebody said so.
    flasher : FlasherKind or None
        What makes the turn lamps flash, where somebody found out.
    pilot : str
        The turn pilots of the dash: `one` between the two sides, `two`, or empty while nobody has looked.
    idle : Idle
        What an LED at a lamp of the vehicle shows with everything off.
    prongs : str
        Of its flasher: `two` (X, L), `three` (X, L and P), `ground` where one of them is ground, or empty while
        nobody has looked.
    habits : tuple of (str, float)
        How it watches its lamps, and how warm it gets there, as far as somebody stated it; see
        `electrics.reference.habits`.
    """

    system_v: int = 12
    computer: Computer = Computer.UNKNOWN
    arrangement: Arrangement | None = None
    not_fitted: frozenset[Control] = frozenset()
    body: str = "car"
    brake_with_hazard: BrakeWithHazard | None = None
    flasher: FlasherKind | None = None
    pilot: str = ""
    idle: Idle = Idle.DARK
    habits: tuple[tuple[str, float], ...] = ()
    prongs: str = ""

    @property
    def usual_flasher(self) -> FlasherKind:
        """What flashes the turn lamps: as it was found, else what such vehicles mostly have."""
        usual = FlasherKind.COMPUTER if self.computer is Computer.YES else FlasherKind.ELECTRONIC
        return self.flasher or usual


@dataclass(frozen=True)
class PlaceFacts:
    """An access point with its readings.

    Attributes
    ----------
    key : str
        Its key.
    wire_keys : tuple of str
        Those of its wires, in the order of `point.wires`.
    said : tuple of (str, Function, str)
        Pins of which a person decided what they do, and in which variant: planned with, never called measured.
    """

    key: str
    point: AccessPoint
    wire_keys: tuple[str, ...]
    said: tuple[tuple[str, Function, str], ...] = ()


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
class LampFacts:
    """The lamp to be fitted as it was tried on the bench: its leads' labels and what every trial showed.

    `kind` is which kind of the job's things it is, by the id of the kind; empty for the first.
    """

    leads: tuple[str, ...]
    trials: tuple[Trial, ...]
    kind: str = ""


UNUSED = "unused:"
"""Chosen for a lead that nothing is joined to: it is capped."""


@dataclass(frozen=True)
class RunDecision:
    """What is decided for one lead's run; see `electrics.hookup.sized.RunFacts`.

    Attributes
    ----------
    ground_wire : str
        AWG of the factory ground wire, where that is joined.
    is_exposed : bool
        It gets wet.
    """

    out_m: float | None = None
    back_m: float | None = None
    ground: str = "wire"
    ground_wire: str = "18"
    wire_standard: WireStandard = WireStandard.AWG
    wire_size: str = ""
    joint: str = "crimp_butt"
    is_exposed: bool = True
    overrides: Mapping[str, float] = field(default_factory=dict)


@dataclass(frozen=True)
class CircuitNotes:
    """What is noted of a factory circuit.

    Attributes
    ----------
    host_bulb, host_count : str, int or None
        The bulbs that are on it from the factory, and how many; empty while not noted.
    host_fuse_a : float or None
        Its fuse [A].
    host_wire : str
        AWG of its wire.
    measured_a : float or None
        Its present current by clamp, in place of the bulbs' [A].
    most_percent : float or None
        Of its fuse's rating that may flow for long, where not the usual [%].
    """

    fed_by: FedBy = FedBy.UNKNOWN
    host_bulb: str = ""
    host_count: int | None = None
    host_fuse_a: float | None = None
    host_wire: str = "20"
    measured_a: float | None = None
    most_percent: float | None = None

    @property
    def names_lamps(self) -> bool:
        """Whether somebody has noted what lamps are on it, or how many."""
        return bool(self.host_bulb) or self.host_count is not None


@dataclass(frozen=True)
class CureDecision:
    """A cure that was taken; see `electrics.job.cures`.

    Attributes
    ----------
    cure : str
        Id of the cure.
    leads : tuple of str
        The leads that it is fitted at; empty for one that holds for the whole vehicle.
    ohm, case_w, mount : float, float, str
        Of load resistors [ohm], [W].
    part : str
        Number of a diode, size of a wire, school of a ground.
    microfarad, series_ohm, bleed_ohm : float
        Of a decoder [microfarad], [ohm].
    ways : tuple of (str, str)
        Leads and the keys of their ways, of a cure that is another hook-up.
    """

    cure: str
    leads: tuple[str, ...] = ()
    ohm: float = 0.0
    case_w: float = 0.0
    mount: str = "metal"
    part: str = ""
    microfarad: float = 0.0
    series_ohm: float = 0.0
    bleed_ohm: float = 0.0
    ways: tuple[tuple[str, str], ...] = ()


@dataclass(frozen=True)
class HookUpDecisions:
    """What was decided on how things are joined.

    Attributes
    ----------
    ways : mapping of str to str
        Key of the chosen way, by lead.
    override : str
        Why a way that is wrong somewhere is taken all the same.
    run : RunDecision
        Of the first lead, and of all that have none of their own.
    runs : mapping of str to RunDecision
        By lead, where one differs from the first.
    circuits : mapping of str to CircuitNotes
        By function; under an empty one what holds for all others.
    cures : tuple of CureDecision
    """

    ways: Mapping[str, str] = field(default_factory=dict)
    override: str = ""
    keeps: Keeps = Keeps.FOR_GOOD
    run: RunDecision = RunDecision()
    runs: Mapping[str, RunDecision] = field(default_factory=dict)
    circuits: Mapping[str, CircuitNotes] = field(default_factory=dict)
    cures: tuple[CureDecision, ...] = ()

    @property
    def followed(self) -> RunDecision:
        """The first lead's run as others follow it: numbers and lengths typed in for the first are its own."""
        return replace(self.run, overrides={}, out_m=None, back_m=None)

    def circuit_of(self, function: str) -> CircuitNotes:
        """The notes as they stand for a factory circuit."""
        return self.circuits.get(function) or self.circuits.get("") or CircuitNotes()


@dataclass(frozen=True)
class JobFacts:
    """Everything that a plan follows from.

    Attributes
    ----------
    wish : Wish
        What is added, by one name of `accessories`; unused where `units` are said.
    units : tuple of Unit
        What is added or changed, thing by thing.
    distances : mapping of frozenset of str to float
        Between two places, by their names [m].
    zones : mapping of str to str
        Where places are that are no access points, by their names; see `electrics.reference.zones`.
    complaint : str
        Of `electrics.correct.complaints`, where what is said as added is fitted already and something is wrong.
    """

    vehicle: VehicleFacts
    places: tuple[PlaceFacts, ...]
    wish: Wish
    lamp: LampFacts | None = None
    hookup: HookUpDecisions = HookUpDecisions()
    units: tuple[Unit, ...] = ()
    distances: Mapping[frozenset[str], float] = field(default_factory=dict)
    zones: Mapping[str, str] = field(default_factory=dict)
    complaint: str = ""

    def without_cures(self) -> JobFacts:
        """The same as if no cure had been taken."""
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

    def assumed_of(self, function: str) -> dict[str, Any]:
        """What is assumed of a factory circuit, by the names of `CircuitNotes`; nothing that somebody has noted.

        Lamps of one side are taken to be as somebody noted those of the other.
        """
        noted = self.hookup.circuit_of(function)
        found: dict[str, Any] = {}
        if noted.fed_by is FedBy.UNKNOWN and self.vehicle.computer is not Computer.UNKNOWN:
            found["fed_by"] = FedBy.PLAIN if self.vehicle.computer is Computer.NO else FedBy.COMPUTER
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
