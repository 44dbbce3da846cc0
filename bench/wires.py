"""One wire of a vehicle as a circuit, and what an instrument shows on it: solved with the instrument in place."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace
from functools import lru_cache

from electrics.circuit.elements import Battery, BrakeController, Element, Lamp, Led, Resistor
from electrics.circuit.network import Network
from electrics.document.places import Setup
from electrics.formats.reading_text import Reading
from electrics.instruments.every import meter_for
from electrics.instruments.meter import Held, Probe
from electrics.reference.functions import functions_needing
from electrics.signals import GROUND_SWITCHED, Level, Signal
from electrics.vocabulary import Control, Function, Instrument, Load

__all__ = ["TrueWire", "shown"]


@dataclass(frozen=True)
class TrueWire:
    """One wire as it really is."""

    pin: str
    function: Function
    variant: str
    has_led: bool = False
    feed_ohm: float = 0.1
    ground_ohm: float = 0.01
    bulbs: int = 1
    stray_ohm: float = 1e10
    """Leakage from the battery onto it [ohm]: what floats shows ghosts. 0 where it comes and goes."""


MAIN, SMALL, BEAM = (12.8, 2.10, 2800.0), (14.0, 0.59, 2500.0), (12.8, 4.6, 2800.0)
"""Filaments: rated volts, amps, and how hot they burn [V, A, K]."""
LED_A, LED_V, LED_FROM_V = 0.2, 13.5, 7.5
"""What an LED lamp draws at what voltage, and where it begins to [A, V, V]."""
DUTY, LED_DUTY = 0.25, 0.1
"""Share of the time that a dimmed filament and a dimmed LED lamp are fed [-]."""
WITH_TRAILER = functions_needing(Control.TRAILER)
"""What hangs on nothing while no trailer is there."""
PULSING = "brake"
THROUGH_THE_MARKER = Level.VARYING
"""What stands for the turn's current on the park feed of a marker between the two."""
FLASHES_HZ = 1.5


def shown(wire: TrueWire, setup: Setup, now: Signal, supply_v: float) -> Reading:
    """What the instrument of a set-up shows on a wire that carries `now`, at this battery voltage [V]."""
    alike = replace(wire, pin="", function=_alike(wire.function))
    if setup.instrument is Instrument.HERTZ and now.is_flashing:
        return Reading(FLASHES_HZ, FLASHES_HZ, "Hz")
    if setup.instrument is Instrument.OHMS:
        network, _ = _circuit(alike, now.lit, supply_v, setup.load)
        return meter_for(Instrument.OHMS).read(Probe(network, "pin"), [PULSING])[0]
    levels = [now.lit, now.dark] if now.is_flashing else [now.lit]
    if wire.function is Function.MARKER_BETWEEN and now.is_flashing:
        levels = [Level.ON] if now.dark is Level.ON else [THROUGH_THE_MARKER, Level.OFF]
    phases = [_held(alike, level, supply_v, setup.instrument, setup.load) for level in levels]
    return meter_for(setup.instrument).shows(phases)


@lru_cache(maxsize=8192)
def _held(wire: TrueWire, level: Level, supply_v: float, instrument: Instrument, load: Load) -> Held:
    network, clamped = _circuit(wire, level, supply_v, load)
    return meter_for(instrument).held(Probe(network, "pin", wire=clamped), [PULSING])[0][0]


def _alike(function: Function) -> Function:
    """One for all functions of which the wire's circuit is the same."""
    if function in (Function.GROUND, Function.SPARE, Function.MARKER_BETWEEN, *WITH_TRAILER):
        return function
    if function in (Function.LOW_BEAM, Function.HIGH_BEAM, Function.FOG_FRONT):
        return Function.LOW_BEAM
    is_small = function.startswith("tail") and not function.startswith("tail_stop")
    return Function.TAIL if is_small else Function.STOP


def _circuit(wire: TrueWire, level: Level, supply_v: float, load: Load) -> tuple[Network, str]:
    """The circuit, and the element that a clamp goes around."""
    battery = Battery(name="battery", nodes={"+": "bat", "-": "gnd"}, volts=supply_v)
    stray = _resistor("stray", "bat", "pin", wire.stray_ohm)
    if wire.function is Function.GROUND:
        return Network((battery, stray, _resistor("ground", "pin", "gnd", wire.ground_ohm))), "ground"
    if wire.function is Function.SPARE:
        return Network((battery, stray)), "stray"
    is_ground_switched = wire.variant == GROUND_SWITCHED
    lamps = _lamps(wire, "bat" if is_ground_switched else "pin", "pin" if is_ground_switched else "gnd")
    if load is Load.OUT or wire.function in WITH_TRAILER:
        lamps = []
    feed = _feed(wire, level, "gnd" if is_ground_switched else "bat")
    return Network((battery, stray, *feed, *lamps)), feed[0].name if feed else "stray"


def _feed(wire: TrueWire, level: Level, from_node: str) -> list[Element]:
    if level is Level.ON:
        return [_resistor("feed", from_node, "pin", wire.feed_ohm)]
    if wire.function is Function.MARKER_BETWEEN and level is THROUGH_THE_MARKER:
        volts, amps, hot_k = SMALL
        marker = Lamp(name="marker", nodes={"from": "turn", "to": "pin"}, rated_v=volts, rated_a=amps, hot_k=hot_k)
        return [_resistor("feed", from_node, "turn", wire.feed_ohm), marker]
    if level in (Level.PART, Level.VARYING):
        duty = LED_DUTY if wire.has_led else DUTY
        return [BrakeController(name="feed", nodes={"supply": from_node, "out": "pin"}, duty=duty)]
    return []


def _lamps(wire: TrueWire, first: str, second: str) -> Sequence[Element]:
    nodes = {"from": first, "to": second}
    if wire.has_led:
        return [Led(name="lamp", nodes=nodes, amps_a=LED_A, at_v=LED_V, threshold_v=LED_FROM_V)]
    is_beam = wire.function is Function.LOW_BEAM or wire.variant == "beam"
    is_small = wire.function in (Function.TAIL, Function.MARKER_BETWEEN) or wire.variant == "small"
    volts, amps, hot_k = BEAM if is_beam else SMALL if is_small else MAIN
    return [Lamp(name=f"lamp {n}", nodes=nodes, rated_v=volts, rated_a=amps, hot_k=hot_k) for n in range(wire.bulbs)]


def _resistor(name: str, first: str, second: str, ohm: float) -> Resistor:
    return Resistor(name=name, nodes={"from": first, "to": second}, ohm=ohm)
