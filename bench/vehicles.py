"""Generated access points and the readings a person would take there, from physics and habit.

Independent of the belief engine's display tables: lamps are filaments in heat balance
(R = R_hot (T/T_hot)^1.2, loss k (T^4 - Ta^4), as in the handbook exponents), feeds and grounds have
resistance, a floating pin shows ghosts, and people write what they see in several ways and make mistakes.
"""

from __future__ import annotations

import random
from collections.abc import Sequence
from dataclasses import dataclass

from scipy.optimize import brentq

from electrics.formats.reading_text import parse_reading
from electrics.identify.belief import AccessPoint, Evidence, Setup, Wire
from electrics.identify.kinds import Side, access_kinds, pin_out
from electrics.signals import GROUND_SWITCHED, Level, Scenario, signal, variants
from electrics.vocabulary import (
    Arrangement,
    BrakeWithHazard,
    Control,
    Function,
    Instrument,
    Load,
    State,
    parse_state,
)

AMBIENT_K = 300.0


@dataclass(frozen=True)
class Filament:
    """A filament by its rated volts and amps; 2800 K when hot (2500 K for small bulbs)."""

    rated_v: float
    rated_a: float
    hot_k: float = 2800.0

    def volts_at(self, current_a: float) -> float:
        """Voltage across it once the heat has settled at this current [V]."""
        hot_ohm = self.rated_v / self.rated_a
        loss = self.rated_v * self.rated_a / (self.hot_k**4 - AMBIENT_K**4)

        def surplus(temperature_k: float) -> float:
            heat = current_a**2 * hot_ohm * (temperature_k / self.hot_k) ** 1.2
            return heat - loss * (temperature_k**4 - AMBIENT_K**4)

        # the smallest temperature at which it gives off what it takes in
        temperature = float(brentq(surplus, AMBIENT_K, 2e4)) if current_a > 1e-9 else AMBIENT_K
        return current_a * hot_ohm * (temperature / self.hot_k) ** 1.2


MAIN = Filament(12.8, 2.10)
SMALL = Filament(14.0, 0.59, 2500.0)
BEAM = Filament(12.8, 4.6)
TEST_LAMP = Filament(12.6, 0.25, 2500.0)


def loaded_drop_v(lamp: Filament, supply_v: float, bulbs: int = 1) -> float:
    """Volts on a resting feed while a test lamp pulls it to battery positive, through bulbs side by side [V]."""
    current_a = brentq(lambda i: lamp.volts_at(i / bulbs) + TEST_LAMP.volts_at(i) - supply_v, 1e-6, 1.0)
    return lamp.volts_at(float(current_a) / bulbs)


@dataclass(frozen=True)
class TrueWire:
    """One wire as it really is."""

    pin: str
    function: Function
    variant: str
    has_led: bool
    feed_ohm: float
    ground_ohm: float
    bulbs: int = 1


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
            rng.uniform(0.03, 0.2),
            rng.uniform(0.002, 0.03),
            _bulbs(rng, function),
        )
        for pin, function in zip(pins, functions, strict=True)
    )
    return TrueAccessPoint(kind, side if is_sided else Side.NONE, scenario, wires, round(rng.gauss(12.55, 0.12), 1))


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
            {f.BATTERY: 0.5, f.STOP: 0.7, f.REVERSE: 0.6, f.FOG_REAR: 0.4, both[0]: 0.3, both[1]: 0.3, f.SPARE: 0.3},
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
            seen_wire = TrueWire(wire.pin, Function.SPARE, "plain", False, 0.1, 0.01)
    text = _written(truth, seen_wire, seen_setup, rng)
    return Evidence(wire.pin, setup, parse_reading(text, setup.instrument), truth.supply_v)


def _written(truth: TrueAccessPoint, wire: TrueWire, setup: Setup, rng: random.Random) -> str:
    if setup.instrument is Instrument.LOADED_DROP:
        return f"{_drop_v(truth, wire, setup.state, rng):.2f}"
    if setup.instrument is Instrument.OHMS:
        return _ohms(wire, setup.load, rng)
    if setup.instrument is Instrument.HERTZ:
        return _hertz(truth, wire, setup.state, rng)
    if setup.instrument is Instrument.CLAMP:
        return _amps(truth, wire, setup.state, rng)
    now = signal(wire.function, setup.state, truth.scenario, wire.variant)
    live_v = truth.supply_v - wire.feed_ohm * (0.3 if wire.has_led else 2.0) - rng.uniform(0, 0.1)
    if setup.state.on(*parse_state("engine").controls):
        live_v += rng.uniform(0.6, 1.8)
    if wire.variant == GROUND_SWITCHED and not now.is_flashing:  # battery through its lamp, ground when on
        return f"{truth.supply_v - rng.uniform(0, 0.1):.1f}" if now.lit is Level.OFF else "0.1"
    if wire.function is Function.MARKER_BETWEEN and now.is_flashing:
        return "12.2" if now.dark is Level.ON else f"0-{rng.choice([1, 2])}"
    if now.is_flashing:
        return rng.choices(["0-12", "0..12 V", "flash", f"{rng.uniform(0, 12):.1f}"], [4, 3, 2, 1])[0]
    if now.lit is Level.ON:
        return rng.choice(["{:.1f}", "{:.2f}", "{:.1f} V"]).format(live_v)
    if now.lit is Level.PART:
        return f"{rng.uniform(0.5, 2.0) if wire.has_led else rng.uniform(2.4, 3.6):.1f}"
    if wire.function is Function.SPARE or (wire.has_led and wire.function is not Function.GROUND):
        return f"{min(rng.expovariate(1.5), truth.supply_v):.2f}" if rng.random() < 0.9 else "OL"
    return rng.choice(["0", "0.0", "0.01", "0.02", "20 mV"])


def _drop_v(truth: TrueAccessPoint, wire: TrueWire, state: State, rng: random.Random) -> float:
    now = signal(wire.function, state, truth.scenario, wire.variant)
    if now.lit is Level.ON or wire.function is Function.SPARE:
        return truth.supply_v - rng.uniform(0, 0.1)
    if wire.function is Function.GROUND:
        return 0.25 * wire.ground_ohm + rng.uniform(0, 0.002)
    if wire.has_led:
        return rng.uniform(6.0, truth.supply_v)
    drop_v = loaded_drop_v(_filament(wire), truth.supply_v, wire.bulbs)
    return drop_v * rng.uniform(0.85, 1.15)


def _filament(wire: TrueWire) -> Filament:
    if wire.function in (Function.LOW_BEAM, Function.HIGH_BEAM, Function.FOG_FRONT) or wire.variant == "beam":
        return BEAM
    is_small = wire.function.startswith("tail") and not wire.function.startswith("tail_stop")
    return SMALL if is_small or wire.variant == "small" else MAIN


def _hertz(truth: TrueAccessPoint, wire: TrueWire, state: State, rng: random.Random) -> str:
    now = signal(wire.function, state, truth.scenario, wire.variant)
    if now.lit in (Level.PART, Level.VARYING):
        return f"{rng.uniform(90, 260):.0f} Hz"
    if now.lit is Level.BUS:
        return f"{rng.uniform(1, 90):.0f} kHz" if rng.random() < 0.8 else "none"
    return f"{rng.uniform(1.2, 1.8):.1f} Hz" if now.is_flashing else rng.choice(["0", "none"])


def _amps(truth: TrueAccessPoint, wire: TrueWire, state: State, rng: random.Random) -> str:
    """What its lamp draws: a marker between two feeds goes dark while the turn is lit, a tail stays lit."""
    now = signal(wire.function, state, truth.scenario, wire.variant)
    if wire.function is Function.GROUND:
        return f"{rng.choice([0.0, 0.6, 2.1]):.1f}"
    lamp_a = 0.2 if wire.has_led or wire.function is Function.MARKER_BETWEEN else 0.6
    if now.is_flashing:
        return rng.choice(["flash", f"0-{lamp_a:.1f}"])
    return f"{lamp_a * rng.uniform(0.9, 1.1):.2f}" if now.lit not in (Level.OFF, Level.BUS) else "0.00"


def _ohms(wire: TrueWire, load: Load, rng: random.Random) -> str:
    leads = rng.uniform(0.1, 0.3)
    if wire.function is Function.GROUND:
        return f"{leads + wire.ground_ohm:.1f} ohm"
    if wire.function is Function.SPARE or wire.has_led or load is Load.OUT:
        return "OL"
    cold = _filament(wire)
    ohm = cold.rated_v / cold.rated_a * (AMBIENT_K / cold.hot_k) ** 1.2 / wire.bulbs
    return f"{ohm + leads:.1f} ohm"
