"""The job's circuit from supply to ground as plain shapes, with volts and amps of one state.

Columns are roles, lanes are circuits. What is drawn are the circuits that a way taps, the parts it adds and
the added lamp; the figures are those of the solved circuit.
"""

from __future__ import annotations

from dataclasses import dataclass

from electrics.circuit.elements import Relay, TimedRelay
from electrics.circuit.simulate import Point
from electrics.formats.colour import parse_colour
from electrics.hookup.sources import OWN
from electrics.hookup.trial import ADDED, CARRIES_A, Trial
from electrics.job.hookup_plan import LeadPlan
from electrics.job.ways import Way
from electrics.signals import Level, signal
from electrics.vocabulary import Polarity, State
from hailstone.wording.words import function_name

COLUMNS = ("Supply", "Fuse", "Control", "Tap", "Added", "Lamp", "Ground")
PITCH, TOP, LANE = 176.0, 92.0, 108.0
BOX_W, INLET = 132.0, 26.0
"""Width of a part, and how far apart its lanes enter it."""
PART_NAMES = {
    "relay": "Relay K1",
    "timed_relay": "Timed relay K1",
    "self_switching_bulb": "In the bulb",
    "diode": "Diodes",
    "converter": "Converter",
    "separator": "Converter",
}
"""What stands in the Added column, by the first of these parts that a form brings; else there is a wire only."""


@dataclass(frozen=True)
class Box:
    """A named part: centre, first and second line, whether it carries anything in this state."""

    x: float
    y: float
    name: str
    note: str
    is_live: bool


@dataclass(frozen=True)
class Run:
    """A wire through points, in its base and tracer colour.

    `is_live` where it carries voltage, `is_back` where that comes by the wrong road.
    """

    path: str
    base: str
    tracer: str
    is_live: bool
    is_back: bool = False


@dataclass(frozen=True)
class Label:
    """A text at a point."""

    x: float
    y: float
    text: str


@dataclass(frozen=True)
class CircuitView:
    """The whole drawing."""

    title: str
    width: float
    height: float
    columns: tuple[tuple[float, str], ...]
    boxes: tuple[Box, ...]
    runs: tuple[Run, ...]
    joints: tuple[Label, ...]
    labels: tuple[Label, ...]
    lamp: Box
    glow: float
    ground: tuple[float, float]


def circuit_view(trial: Trial, lead: LeadPlan, way: Way, state: State, *, lit: bool = True) -> CircuitView:
    """Draw a way in a state and phase."""
    point = trial.simulation.at(state, lit=lit)
    form = way.candidate.form
    part = next((part for part in PART_NAMES if part in form.brings), "")
    lanes = len(way.wires) + form.has_own_supply
    x = [PITCH * (n + 0.5) for n in range(len(COLUMNS))]
    middle = TOP + LANE * (lanes - 1) / 2
    entry = x[4] - (BOX_W / 2 if part else 0)
    inlets = [(n - (lanes - 1) / 2) * INLET if part else 0.0 for n in range(lanes)]
    boxes, runs, joints, labels = [], [], [], []
    for n, (place, node) in enumerate(zip(way.wires, trial.nodes, strict=True)):
        y = TOP + LANE * n
        volts = point.volts(node)
        is_live = volts > 0.5
        base, tracer = RED if place.is_own else _colours(place.wire.colour)
        to_part = _bend(x[3], y, entry, middle + inlets[n], 24 + 14 * n)
        boxes.append(Box(x[0], y, f"{_supply_v(point):.1f} V", "running", True))
        if place.is_own:
            own = OWN[way.candidate.sources[n].key]
            where, control = ("by the battery", "Own switch") if own.is_at_battery else ("tap, live with key", "Key")
            boxes.append(Box(x[1], y, "Own fuse", where, True))
            if own.switched_with or not own.is_at_battery:
                boxes.append(Box(x[2], y, control, "on" if is_live else "off", is_live))
            runs += [
                _run([(x[0], y), (x[1], y), (x[2], y)], *RED, True),
                _run([(x[2], y), *to_part], base, tracer, is_live),
            ]
            continue
        name, is_on = function_name(place.wire.function), is_live
        is_back = is_live and place.wire.polarity is Polarity.POSITIVE and not _is_fed(trial, way, n, state, lit=lit)
        if place.wire.polarity is Polarity.GROUND:
            name, is_on = f"{name}, by ground", not is_live
        if is_back:
            is_on = False
            labels.append(Label((x[2] + x[3]) / 2 + 28, y - 14, "≠ backwards"))
        boxes += [
            Box(x[1], y, "Factory fuse", f"pin {place.wire.pin}'s circuit", True),
            Box(x[2], y, name, "on" if is_on else "off", is_on),
        ]
        runs += [
            _run([(x[0], y), (x[1], y), (x[2], y)], *RED, True),
            _run([(x[2] + BOX_W / 2, y), (x[3], y)], base, tracer, is_live, is_back=is_back),
            _run(to_part, base, tracer, is_live, is_back=is_back),
        ]
        joints.append(Label(x[3], y, f"J{len(joints) + 1}"))
        labels.append(Label(x[3], y + 30, f"pin {place.wire.pin} · {round(volts, 1) + 0.0:.1f} V"))
    if form.has_own_supply:
        y = TOP + LANE * (lanes - 1)
        boxes += [
            Box(x[0], y, f"{_supply_v(point):.1f} V", "running", True),
            Box(x[1], y, "Own fuse", "by the battery", True),
        ]
        to_part = _bend(x[1] + BOX_W / 2, y, entry, middle + inlets[-1], 24 + 14 * (lanes - 1))
        runs.append(_run([(x[0], y), (x[1], y), *to_part], *RED, True))
    amps = abs(sum(point.amps(f"{ADDED} lamp {n}") for n in range(1, lead.lamps + 1)))
    light = point.light(f"{ADDED} lamp 1")
    is_lit = light > 0.01
    if part:
        boxes.append(Box(x[4], middle, _part_name(part, form.brings[part]), _part_note(point, part), is_lit))
    runs.append(_run([(x[4] + (BOX_W / 2 if part else 0), middle), (x[5], middle)], "#3a3f44", "", is_lit))
    bottom = TOP + LANE * (lanes - 1) + 70
    runs.append(_run([(x[5], middle), (x[6], middle), (x[6], bottom)], "#1c2024", "", is_lit))
    count = f"{lead.lamps} × " if lead.lamps > 1 else ""
    lamp = Box(x[5], middle, f"{count}added lamp", f"{amps:.2f} A" if is_lit else "dark", is_lit)
    flash = trial.simulation.flash(state)
    if flash:
        rhythm = next(iter(flash.values()))
        labels.append(Label(x[2], TOP - 44, f"{rhythm.per_minute:.0f} a minute, {rhythm.word}"))
    return CircuitView(
        f"The circuit with {state}",
        PITCH * len(COLUMNS),
        bottom + 46,
        tuple(zip((n * PITCH for n in range(len(COLUMNS))), COLUMNS, strict=True)),
        tuple(boxes),
        tuple(runs),
        tuple(joints),
        tuple(labels),
        lamp,
        round(min(light, 1.2), 3),
        (x[6], bottom),
    )


RED = ("#b3372d", "")


def _supply_v(point: Point) -> float:
    return point.volts("bat")


def _is_fed(trial: Trial, way: Way, n: int, state: State, *, lit: bool) -> bool:
    """Whether a tapped circuit has voltage of its own in a state and phase."""
    wire = way.wires[n].wire
    carried = signal(wire.function, state, trial.seen_on[state], wire.variant)
    return (carried.lit if lit else carried.dark) is not Level.OFF


def _part_name(part: str, count: int) -> str:
    return "Relays K1 and K2" if part == "relay" and count > 1 else PART_NAMES[part]


def _part_note(point: Point, part: str) -> str:
    """What the added part does: of two relays the one in front first."""
    network = point.simulation.network
    relays = [name for name in (f"{ADDED} first relay", f"{ADDED} relay") if name in network]
    if part == "relay":
        coils = {relay.name for relay in network.of(Relay)}
        pulled = [abs(point.amps(name, "coil")) > 0.05 for name in relays if name in coils]
        if len(pulled) > 1:
            return ", ".join("in" if is_in else "at rest" for is_in in pulled)
        return "pulled in, 30 to 87" if pulled[0] else "at rest, 30 to 87a"
    if part in ("timed_relay", "self_switching_bulb"):
        timed = next(each.name for each in network.of(TimedRelay) if each.name in relays)
        passes = abs(point.amps(timed, "87a")) > CARRIES_A
        held = point.volts(network[timed].at("30")) > 0.5
        return "steady feed passes" if passes else "steady feed held open" if held else "at rest"
    return "stripe to the lamp" if part == "diode" else "own supply and ground"


def _colours(colour: str) -> tuple[str, str]:
    parsed = parse_colour(colour)
    if not parsed.parts:
        return "#8a979e", ""
    return parsed.parts[0].hex, parsed.parts[1].hex if len(parsed.parts) > 1 else ""


def _bend(x0: float, y0: float, x1: float, y1: float, before: float) -> list[tuple[float, float]]:
    if abs(y0 - y1) < 1:
        return [(x0, y0), (x1, y1)]
    turn = x1 - before
    return [(x0, y0), (turn, y0), (turn, y1), (x1, y1)]


def _run(points: list[tuple[float, float]], base: str, tracer: str, is_live: bool, *, is_back: bool = False) -> Run:
    return Run("M" + " L".join(f"{x:g} {y:g}" for x, y in points), base, tracer, is_live, is_back)
