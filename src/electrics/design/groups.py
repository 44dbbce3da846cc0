"""What a hook-up is laid out from: leads that one network feeds, its taps, its sizes, and where grounds go."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, field

from electrics.design.design import End
from electrics.design.forms import Form
from electrics.design.inserts import Insert
from electrics.design.joints import JointFit
from electrics.design.routes import Spot
from electrics.design.units import Lead, Unit
from electrics.reference.conductor import Conductor, WireStandard
from electrics.vocabulary import Function

__all__ = [
    "BATTERY_SPOT",
    "DASH_SPOT",
    "FIXED_SPOTS",
    "FUSE_BOX_SPOT",
    "GroundPoint",
    "GroupFeed",
    "GroupTap",
    "LeadLoad",
    "WiredGroup",
]

BATTERY_SPOT = Spot("battery", "battery")
FUSE_BOX_SPOT, DASH_SPOT = Spot("fuse box", "fuse box"), Spot("dash", "cab")
FIXED_SPOTS = {spot.name: spot for spot in (BATTERY_SPOT, FUSE_BOX_SPOT, DASH_SPOT)}
"""Where every vehicle has something, by name."""


@dataclass(frozen=True)
class GroupTap:
    """A source of a way, where it is.

    Attributes
    ----------
    key : str
        Of the wire in the facts, or of one's own source.
    fuse_a : float or None
        Of the factory circuit [A]; None where there is none.
    goes_on : bool
        The wire feeds something beyond the tap.
    """

    key: str
    place: str
    pin: str
    spot: Spot
    function: Function
    is_own: bool = False
    is_at_fuse: bool = False
    fuse_a: float | None = None
    colour: str = ""
    goes_on: bool = False


@dataclass(frozen=True)
class LeadLoad:
    """A lead of a unit, with what all lamps on it draw together [A], and where the unit is."""

    unit: Unit
    lead: Lead
    load_a: float
    spot: Spot
    out_m: float | None = None
    """From tap or battery, measured by hand [m]."""
    inserts: tuple[Insert, ...] = ()
    """What cures fit at it, from the feed to the lamps."""

    @property
    def name(self) -> str:
        """Of the lead, as it stands on the unit."""
        return (self.lead.label or self.lead.id).replace("_", " ")


@dataclass(frozen=True)
class GroupFeed:
    """The sizes of one group: its wire, own fuse [A], diode, relay and coil, and what each module of it bears [A].

    Attributes
    ----------
    aim_v : float
        What the wires from source to lamp may lose together [V]; 0: nobody says.
    is_picked : bool
        Somebody chose the size of its wire: it stays.
    """

    conductor: Conductor
    fuse_a: float | None
    joint: JointFit | None
    diode: str = ""
    contact_a: float | None = None
    coil_ohm: float | None = None
    modules_a: Mapping[str, float] = field(default_factory=dict)
    standard: WireStandard = WireStandard.AWG
    aim_v: float = 0.0
    is_picked: bool = False


@dataclass(frozen=True)
class WiredGroup:
    """Leads that one way feeds: the same form on the same sources, so its parts are there once."""

    form: Form
    taps: tuple[GroupTap, ...]
    loads: tuple[LeadLoad, ...]
    feed: GroupFeed

    @property
    def load_a(self) -> float:
        return sum(load.load_a for load in self.loads)


@dataclass(frozen=True)
class GroundPoint:
    """Where a unit's ground goes: a stud, the body, or the ground pin of a place."""

    end: End
    m: float | None = None
    """Length measured by hand [m]."""
    bond: End | None = None
    """Ground of the vehicle that feeds, where the unit is on another one: the two are joined by a wire."""
