"""Generated access points and the readings a person would take there, from physics and habit.

Independent of the belief engine's display tables: every wire is a circuit, solved with the instrument in place, see
`bench.wires`; people write what they see in several ways and make mistakes.
"""

from __future__ import annotations

import random
from collections.abc import Callable, Sequence
from dataclasses import dataclass, replace

from bench.wires import WITH_TRAILER, TrueWire, shown
from electrics.document.places import AccessPoint, Evidence, Setup, Side, Wire
from electrics.formats.reading_text import Reading, parse_reading
from electrics.identify.kinds import access_kinds, pin_out
from electrics.signals import Level, Scenario, signal, variants
from electrics.vocabulary import (
    Arrangement,
    BrakeWithHazard,
    Control,
    Function,
    Instrument,
    parse_state,
)

FEED_OHM = (0.03, 0.06, 0.1, 0.15, 0.2)
GROUND_OHM = (0.002, 0.01, 0.02, 0.03)
STRAY_OHM = (4e7, 6e7, 1e8, 2e8, 4e8, 1e9)
"""What feeds, grounds and insulation measure [ohm] (our own picture); few values, so that much is solved once."""
STRAY = {"quiet": 0.4, "steady": 0.15, "wandering": 0.45}
"""What floats shows nothing, one ghost in every state, or another each time (our own picture)."""


@dataclass(frozen=True)
class TrueAccessPoint:
    """A generated access point: what the person would find and what is really there."""

    kind: str
    side: Side
    scenario: Scenario
    wires: tuple[TrueWire, ...]
    supply_v: float

    def empty(self) -> AccessPoint:
        return AccessPoint("generated", tuple(Wire(w.pin) for w in self.wires), (), self.kind, self.side)

    @property
    def not_fitted(self) -> frozenset[Control]:
        """What this vehicle has no switch for, as far as it shows here: a person sees that at once."""
        functions = {wire.function for wire in self.wires}
        rare = {
            Control.FOG_REAR: {Function.FOG_REAR},
            Control.FOG_FRONT: {Function.FOG_FRONT},
            Control.PARK_LEFT: {Function.TAIL_LEFT, Function.TAIL_RIGHT},
            Control.PARK_RIGHT: {Function.TAIL_LEFT, Function.TAIL_RIGHT},
            Control.TRAILER_LEVER: {Function.BRAKE_CONTROLLER},
            Control.TRAILER: WITH_TRAILER,
        }
        return frozenset(control for control, needed in rare.items() if not needed & functions)

    def full_grid(self) -> tuple[Setup, ...]:
        """The columns that a careful person would fill without a plan."""
        own = self.side.value or "left"
        states = FRONT_STATES if self.kind in ("front_lamp", "mirror", "side_lamp") else REAR_STATES
        if self.kind in ("fuse_box", "turn_switch_loom", "connector"):
            states = (*REAR_STATES, *(state for state in FRONT_STATES if state not in REAR_STATES))
        rest = parse_state("rest")
        return (
            Setup(rest),
            Setup(rest, Instrument.LOADED_DROP),
            *(Setup(parse_state(state.format(own=own))) for state in states),
        )


REAR_STATES = ("park", "park_{own}", "brake", "left", "right", "hazard", "reverse", "fog_rear")
FRONT_STATES = ("park", "key", "engine", "left", "right", "low", "high", "fog_front")
LAMPS = ("rear_lamp", "front_lamp")


PLUGS = tuple(kind.id for kind in access_kinds() if pin_out(kind.id))
SWAPPED = 0.12
"""How many standard plugs have two contacts swapped (our own picture)."""


def generate(rng: random.Random, kinds: Sequence[str] = LAMPS, *, swapped: float = SWAPPED) -> TrueAccessPoint:
    """One random access point of a random vehicle; rear lamps are opened most often, some plugs rewired."""
    scenario = Scenario(rng.choice(list(Arrangement)), rng.choice(list(BrakeWithHazard)))
    kind = rng.choices(kinds, [7 if kind == "rear_lamp" else 3 for kind in kinds])[0]
    is_sided = access_kinds()[kind].is_sided
    side = rng.choice([Side.LEFT, Side.RIGHT])
    pins, functions = _contents(rng, kind, scenario.arrangement, side, swapped)
    led = rng.random() < 0.15
    wires = tuple(
        TrueWire(
            pin,
            function,
            rng.choices([v for v, _ in variants(function)], [w for _, w in variants(function)])[0],
            led,
            rng.choice(FEED_OHM),
            rng.choice(GROUND_OHM),
            _bulbs(rng, function),
            _stray_ohm(rng),
        )
        for pin, function in zip(pins, functions, strict=True)
    )
    return TrueAccessPoint(kind, side if is_sided else Side.NONE, scenario, wires, round(rng.gauss(12.55, 0.12), 1))


def _stray_ohm(rng: random.Random) -> float:
    """Leakage onto a wire [ohm]; 0 for another one at each reading."""
    kind = rng.choices(list(STRAY), list(STRAY.values()))[0]
    return 1e10 if kind == "quiet" else 0.0 if kind == "wandering" else rng.choice(STRAY_OHM)


def _bulbs(rng: random.Random, function: Function) -> int:
    """How many filaments hang side by side on a feed (common practice)."""
    if function.startswith("tail") and "stop" not in function:
        return rng.choice([2, 4, 4, 5])
    if function in (Function.LOW_BEAM, Function.HIGH_BEAM, Function.FOG_FRONT, Function.STOP, Function.REVERSE):
        return rng.choice([1, 2, 2])
    return rng.choice([1, 1, 2])


def _contents(
    rng: random.Random, kind: str, arrangement: Arrangement, side: Side, swapped: float
) -> tuple[list[str], list[Function]]:
    """Pins and what they really do: a standard plug keeps its order, mostly; elsewhere any order is as likely."""
    standard = pin_out(kind)
    if standard:
        return [pin.pin for pin in standard], _wired(rng, [pin.function for pin in standard], swapped)
    make = {"rear_lamp": _rear, "front_lamp": _front}.get(kind)
    functions = make(rng, arrangement, side) if make else _elsewhere(rng, kind, arrangement, side)
    rng.shuffle(functions)
    return [str(n + 1) for n in range(len(functions))], functions


def _wired(rng: random.Random, functions: list[Function], swapped: float) -> list[Function]:
    """A plug as somebody wired it: now and then two contacts are swapped, and some lead nowhere."""
    found = list(functions)
    if rng.random() < swapped:
        a = rng.randrange(len(found))
        b = rng.choice([n for n, function in enumerate(found) if function is not found[a]])
        found[a], found[b] = found[b], found[a]
    return [
        rng.choice([Function.SPARE, Function.DEAD_FEED]) if f is not Function.GROUND and rng.random() < 0.05 else f
        for f in found
    ]


def _elsewhere(rng: random.Random, kind: str, arrangement: Arrangement, side: Side) -> list[Function]:
    """Side lamps, mirrors, fuse boxes and the like: sure ones, then others by chance (our own picture)."""
    combined = arrangement is Arrangement.COMBINED
    both = (
        [Function.STOP_TURN_LEFT, Function.STOP_TURN_RIGHT] if combined else [Function.TURN_LEFT, Function.TURN_RIGHT]
    )
    beams = [Function.LOW_BEAM, Function.HIGH_BEAM]
    f = Function
    sure, maybe = {
        "side_lamp": ([f.GROUND, f(f"turn_{side}")], {f.TAIL: 0.6}),
        "mirror": ([f.GROUND, f(f"turn_{side}")], {f.BATTERY: 0.3, f.IGNITION: 0.3, f.SPARE: 0.2, f.TAIL: 0.1}),
        "high_stop": ([f.GROUND, f.STOP], {}),
        "licence_lamp": ([f.GROUND, f.TAIL], {f.REVERSE: 0.1}),
        "connector": ([f.GROUND, f.TAIL, *both], {f.STOP: 0.3, f.REVERSE: 0.4, f.SPARE: 0.3, f.IGNITION: 0.2}),
        "fuse_box": (
            [f.BATTERY, f.IGNITION, f.TAIL, *beams],
            {f.BATTERY: 0.5, f.STOP: 0.7, f.REVERSE: 0.6, f.FOG_REAR: 0.4, both[0]: 0.3, both[1]: 0.3, f.SPARE: 0.3}
            | {f.TRAILER_TAIL: 0.06, f.TRAILER_STOP: 0.03, f.TRAILER_REVERSE: 0.04},
        ),
        "turn_switch_loom": (
            [f.TURN_LEFT, f.TURN_RIGHT, f.IGNITION],
            {f.STOP_SWITCH: 0.5, f.GROUND: 0.4, f.HAZARD_FEED: 0.5, f.FLASHER_OUT: 0.7},
        ),
    }[kind]
    if kind == "side_lamp" and rng.random() < 0.15:
        return [f.MARKER_BETWEEN, f(f"turn_{side}")]
    return [*sure, *(function for function, chance in maybe.items() if rng.random() < chance)]


def _rear(rng: random.Random, arrangement: Arrangement, side: Side) -> list[Function]:
    found = [Function.GROUND]
    one_wire = rng.random() < 0.06
    if arrangement is Arrangement.COMBINED:
        found += (
            [Function(f"tail_stop_turn_dimmed_{side}")]
            if one_wire
            else [Function.TAIL, Function(f"stop_turn_{side}")]
        )
    else:
        found += [Function.TAIL_STOP_DIMMED] if one_wire else [Function.TAIL, Function.STOP]
        found += [Function(f"turn_{side}")]
    found += [Function.REVERSE] * (rng.random() < 0.75)
    found += [Function.FOG_REAR] * (rng.random() < 0.3)
    found += [Function.GROUND] * (rng.random() < 0.08)
    found += [Function.SPARE] * (rng.random() < 0.12)
    found += [Function.DEAD_FEED] * (rng.random() < 0.04)
    found += [Function.BATTERY] * (rng.random() < 0.04)
    if rng.random() < 0.04 and Function.TAIL in found:
        found[found.index(Function.TAIL)] = Function(f"tail_{side}")
    return found


def _front(rng: random.Random, arrangement: Arrangement, side: Side) -> list[Function]:
    found = [Function.GROUND, Function.TAIL, Function(f"turn_{side}")]
    found += [Function.LOW_BEAM, Function.HIGH_BEAM] * (rng.random() < 0.6)
    found += [Function.DRL] * (rng.random() < 0.35)
    found += [Function.FOG_FRONT] * (rng.random() < 0.2)
    found += [Function.SPARE] * (rng.random() < 0.12)
    return found


def measure(truth: TrueAccessPoint, wire: TrueWire, setup: Setup, rng: random.Random, mistakes: float) -> Evidence:
    """One reading as a person would write it down, now and then a mistaken one."""
    seen_wire, seen_setup = wire, setup
    if rng.random() < mistakes:
        slip = rng.choice(["wrong pin", "control not on", "no contact"])
        if slip == "wrong pin":
            seen_wire = rng.choice([w for w in truth.wires if w is not wire])
        elif slip == "control not on":
            seen_setup = Setup(parse_state("rest"), setup.instrument, setup.load)
        else:
            seen_wire = TrueWire(wire.pin, Function.SPARE, "plain")
    text = _written(truth, seen_wire, seen_setup, rng)
    return Evidence(wire.pin, setup, parse_reading(text, setup.instrument), truth.supply_v)


def _written(truth: TrueAccessPoint, wire: TrueWire, setup: Setup, rng: random.Random) -> str:
    """What the instrument shows on the wire's circuit, as somebody writes it down."""
    now = signal(wire.function, setup.state, truth.scenario, wire.variant)
    if setup.instrument is Instrument.HERTZ and now.lit is Level.BUS:
        return f"{rng.uniform(1, 90):.0f} kHz" if rng.random() < 0.8 else "none"
    supply_v = truth.supply_v
    if setup.state.on(*parse_state("engine").controls):
        supply_v += rng.choice([0.6, 0.9, 1.2, 1.5, 1.8])
    if not wire.stray_ohm:
        wire = replace(wire, stray_ohm=rng.choice(STRAY_OHM))
    return WRITTEN[setup.instrument](shown(wire, setup, now, supply_v), rng)


def _volts(reading: Reading, rng: random.Random) -> str:
    if reading.is_swing:
        ends = f"{reading.low:.0f}", f"{reading.high:.0f}"
        caught = f"{rng.uniform(reading.low, reading.high):.1f}"
        return rng.choices(["-".join(ends), f"{ends[0]}..{ends[1]} V", "flash", caught], [4, 3, 2, 1])[0]
    volts = reading.low * rng.uniform(0.99, 1.0)
    if volts < 0.05:
        return rng.choice(["0", "0.0", "0.01", "0.02", "20 mV"])
    return rng.choice(["{:.1f}", "{:.2f}", "{:.1f} V"]).format(volts)


def _drop(reading: Reading, rng: random.Random) -> str:
    """Test lamps differ; what stands at the battery or at ground is the same with all of them."""
    is_between = 0.05 < reading.low < 12.0
    return f"{reading.low * (rng.uniform(0.85, 1.15) if is_between else 1.0) + rng.uniform(0, 0.002):.3f}"


def _ohms(reading: Reading, rng: random.Random) -> str:
    return "OL" if reading.word else f"{max(reading.low + rng.uniform(-0.1, 0.1), 0.1):.1f} ohm"


def _hertz(reading: Reading, rng: random.Random) -> str:
    if reading.word:
        return rng.choice(["0", "none"])
    return f"{reading.low * rng.uniform(0.8, 1.2):.3g} Hz"


def _amps(reading: Reading, rng: random.Random) -> str:
    if reading.is_swing:
        return rng.choice(["flash", f"{reading.low:.1f}-{reading.high:.1f}"])
    return f"{reading.low * rng.uniform(0.9, 1.1):.2f}"


WRITTEN: dict[Instrument, Callable[[Reading, random.Random], str]] = {
    Instrument.DMM: _volts,
    Instrument.LOADED_DROP: _drop,
    Instrument.OHMS: _ohms,
    Instrument.HERTZ: _hertz,
    Instrument.CLAMP: _amps,
}
"""How what each instrument shows is written down, by hand and hurried."""
