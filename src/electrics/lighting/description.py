"""What a vehicle's lighting is like: its description, and the named points of the circuit built from it."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, field
from enum import StrEnum

from electrics.circuit.network import Network
from electrics.document.vehicle import FlasherKind, Idle
from electrics.errors import FactError
from electrics.reference.bulbs import Bulb
from electrics.reference.usual import system_scale
from electrics.signals import Scenario
from electrics.vocabulary import Arrangement, Function

__all__ = [
    "BACKUP",
    "BEAM",
    "DAYTIME",
    "GROUND_OHM",
    "HIGH_STOP",
    "LICENCE",
    "MAGNETS",
    "MAIN",
    "MARKER",
    "PILOT",
    "PILOT_CONTACTS",
    "PILOT_FEEDS",
    "PILOT_WIRING",
    "SMALL",
    "TOW",
    "CircuitSpot",
    "FactoryCircuit",
    "LampSize",
    "Lamps",
    "Socket",
    "VehicleDescription",
]

DAYTIME_KINDS = tuple(
    f"{trigger}{habit}" for trigger in ("key", "engine") for habit in ("", "_dims", "_released", "_drops")
)


class Lamps(StrEnum):
    """What makes the light of a group of lamps."""

    FILAMENT = "filament"
    LED = "led"


@dataclass(frozen=True)
class LampSize:
    """Current of a filament at its rated volts on 12 V, and of an LED in its place at 13.5 V [A]; 0: none fitted.

    Attributes
    ----------
    rated_v, hot_k : float
        Of the filament, as on 12 V; 0 for those of a bulb of its current [V], [K].
    """

    amps_a: float
    led_a: float = 0.0
    rated_v: float = 0.0
    hot_k: float = 0.0

    @classmethod
    def of(cls, bulb: Bulb, led_a: float) -> LampSize:
        scale = system_scale(bulb.system_v)
        if bulb.is_led:
            return cls(bulb.nominal_a * scale, bulb.nominal_a * scale)
        return cls(bulb.nominal_a * scale, led_a, bulb.nominal_v / scale, bulb.hot_k)


@dataclass(frozen=True)
class Socket:
    """A lamp of a circuit as it was built."""

    name: str
    place: str
    pin: str
    ground: str
    size: LampSize

    @property
    def rank(self) -> int:
        """Which a vehicle with fewer lamps does without first, the highest: the middle, then the front."""
        return 2 if " " not in self.place else int(self.place.startswith("front"))


MAIN, HIGH_STOP, BACKUP = LampSize(2.10, 0.3), LampSize(1.40, 0.2), LampSize(1.40, 0.5)
SMALL, LICENCE, MARKER, PILOT = LampSize(0.42, 0.05), LampSize(0.42, 0.03), LampSize(0.27, 0.03), LampSize(0.12)
DAYTIME, BEAM, MAGNETS = LampSize(2.10, 0.8), LampSize(4.6), LampSize(3.0)
"""Main, small and wedge bulbs of SAE J573 (from memory); LED currents are common practice."""
TOW = "tow socket"
"""Where what its own module feeds can be tapped."""
PILOT_FEEDS = {"left": "turn_left", "right": "turn_right"}
PILOT_CONTACTS = ("pilot", "pilot_back")
PILOT_WIRING = frozenset((*(f"pilot diode {side}" for side in PILOT_FEEDS), "pilot ground"))
"""Of a turn pilot with a diode from each side: the nodes that feed it, its own two, and names of what joins them."""


GROUND_OHM = 0.01
"""From a lamp's ground to battery negative on a sound vehicle [ohm] (estimate)."""


@dataclass(frozen=True)
class VehicleDescription:
    """What a vehicle's lighting is like.

    Attributes
    ----------
    scenario : Scenario
        Separate or combined rear signals, and who wins with the hazards.
    one_wire : bool
        A computer feeds stop and tail, or stop, turn and tail, on one pulsed wire a side.
    pulsed_tail : bool
        A computer pulses the tail feed.
    sides_apart : bool
        Parking lamps of one side (58L, 58R).
    drl : str
        How the daytime lamps burn, or empty: one of `DAYTIME_KINDS`, which are the variants of their function, but
        with `drops` each side goes out while it flashes.
    low_stays : bool
        Low beam stays on with high beam.
    pilot : str
        `one` lamp between left and right, `two`, or empty.
    idle : Idle
        What the outputs of its computer do while they are off.
    in_pairs : bool
        Two reverse lamps and two licence lamps, as most vehicles have; else one of each.
    bulbs : tuple of (Function, str, int)
        What somebody counted on a circuit: the bulb, by its name in `electrics.reference.bulbs`, and how many.
    extras : tuple of (Function, str)
        Circuits beyond these, each with its variant, a fuse and a lamp of its own.
    habits : tuple of (str, float)
        How it watches its lamps, as far as somebody stated it; see `electrics.reference.habits`.
    fuses : tuple of (Function, float)
        Ratings that somebody read off a circuit's fuse [A].
    tow : tuple of (Function, str)
        What a module feeds at the tow socket, each in its variant.
    """

    system_v: int = 12
    scenario: Scenario = field(default_factory=lambda: Scenario(Arrangement.SEPARATE))
    rear: Lamps = Lamps.FILAMENT
    front: Lamps = Lamps.FILAMENT
    flasher: FlasherKind = FlasherKind.ELECTRONIC
    counts_bulbs: bool = False
    one_wire: bool = False
    pulsed_tail: bool = False
    sides_apart: bool = False
    drl: str = ""
    low_stays: bool = False
    has_front: bool = True
    has_side_markers: bool = False
    has_licence: bool = True
    has_high_stop: bool = True
    has_trailer_socket: bool = False
    has_fogs: bool = False
    ground_switched_stop: bool = False
    pilot: str = ""
    idle: Idle = Idle.DARK
    resting_v: float | None = None
    charging_v: float | None = None
    in_pairs: bool = False
    bulbs: tuple[tuple[Function, str, int], ...] = ()
    extras: tuple[tuple[Function, str], ...] = ()
    habits: tuple[tuple[str, float], ...] = ()
    fuses: tuple[tuple[Function, float], ...] = ()
    tow: tuple[tuple[Function, str], ...] = ()

    def __post_init__(self) -> None:
        if self.system_v not in (6, 12, 24):
            raise FactError("system_v", f"{self.system_v} V is no vehicle system. Expected 6, 12 or 24 V.")
        if self.drl not in ("", *DAYTIME_KINDS):
            raise FactError("drl", f"“{self.drl}” is no daytime lamp. Expected one of {', '.join(DAYTIME_KINDS)}.")
        if self.pilot not in ("", "one", "two"):
            raise FactError("pilot", f"“{self.pilot}” is no pilot lamp. Expected one, two or nothing.")
        if self.sides_apart and self.pulsed_tail:
            raise FactError("pulsed_tail", "A pulsed tail feed with the sides apart is not modelled.")


@dataclass(frozen=True)
class CircuitSpot:
    """A named point of the factory circuit that can be probed or tapped.

    Attributes
    ----------
    lamp : str
        The lamp whose light stands for the signal, where the wire's voltage does not (a marker between two feeds).
    """

    node: str
    function: Function
    variant: str
    lamp: str = ""


@dataclass(frozen=True, eq=False)
class FactoryCircuit:
    """A vehicle's circuit and its points, by place and function: `rear left: turn_left`."""

    vehicle: VehicleDescription
    network: Network
    spots: Mapping[str, CircuitSpot]
