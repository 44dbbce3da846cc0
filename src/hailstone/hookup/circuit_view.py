"""The job's circuit from supply to ground as plain shapes, with volts and amps of one state.

Columns are roles, lanes are circuits. What is drawn are the circuits that a way taps, the parts it adds and
the added lamp; the figures are those of the solved circuit.
"""

from __future__ import annotations

from dataclasses import dataclass

from electrics.circuit.simulate import Point
from electrics.formats.colour import parse_colour
from electrics.hookup.trial import ADDED, Trial
from electrics.vocabulary import Polarity, State
from hailstone.layers.hookup import LeadPlan, Way
from hailstone.wording.words import function_name

COLUMNS = ("Supply", "Fuse", "Control", "Tap", "Added", "Lamp", "Ground")
PITCH, TOP, LANE = 176.0, 92.0, 108.0
BOX_W, INLET = 132.0, 26.0
"""Width of a part, and how far apart its lanes enter it."""
PARTS = {
    "diode_or": "Diodes",
    "relay": "Relay K1",
    "and": "Relay K1",
    "and_not": "Relay K1",
    "to_ground": "Relay K1",
    "from_ground": "Relay K1",
    "converter": "Converter",
}
"""What stands in the Added column, by form; a direct tap adds a wire only."""
FROM_BATTERY = ("relay", "from_ground", "converter")


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
    """A wire through points, in its base and tracer colour; `is_live` where it carries voltage."""

    path: str
    base: str
    tracer: str
    is_live: bool


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
    form = way.candidate.form.id
    lanes = len(way.wires) + (form in FROM_BATTERY)
    x = [PITCH * (n + 0.5) for n in range(len(COLUMNS))]
    middle = TOP + LANE * (lanes - 1) / 2
    entry = x[4] - (BOX_W / 2 if form in PARTS else 0)
    inlets = [(n - (lanes - 1) / 2) * INLET for n in range(lanes)]
    nodes = tapped_nodes(point, form)
    boxes, runs, joints, labels = [], [], [], []
    for n, place in enumerate(way.wires):
        y = TOP + LANE * n
        base, tracer = _colours(place.wire.colour)
        volts = point.volts(nodes[n])
        is_live = volts > 0.5
        name, is_on = function_name(place.wire.function), is_live
        if place.wire.polarity is Polarity.GROUND:
            name, is_on = f"{name}, by ground", not is_live
        boxes += [
            Box(x[0], y, f"{_supply_v(point):.1f} V", "running", True),
            Box(x[1], y, "Factory fuse", f"pin {place.wire.pin}'s circuit", True),
            Box(x[2], y, name, "on" if is_on else "off", is_on),
        ]
        runs += [
            _run([(x[0], y), (x[1], y), (x[2], y)], *RED, True),
            _run([(x[2] + BOX_W / 2, y), (x[3], y)], base, tracer, is_live),
            _run(_bend(x[3], y, entry, middle + inlets[n], 24 + 14 * n), base, tracer, is_live),
        ]
        joints.append(Label(x[3], y, f"J{n + 1}"))
        labels.append(Label(x[3], y + 30, f"pin {place.wire.pin} · {volts:.1f} V"))
    if form in FROM_BATTERY:
        y = TOP + LANE * (lanes - 1)
        boxes += [
            Box(x[0], y, f"{_supply_v(point):.1f} V", "running", True),
            Box(x[1], y, "Own fuse", "by the battery", True),
        ]
        runs.append(
            _run(
                [
                    (x[0], y),
                    (x[1], y),
                    *_bend(x[1] + BOX_W / 2, y, entry, middle + inlets[-1], 24 + 14 * (lanes - 1)),
                ],
                *RED,
                True,
            )
        )
    amps = abs(sum(point.amps(f"{ADDED} lamp {n}") for n in range(1, lead.lamps + 1)))
    light = point.light(f"{ADDED} lamp 1")
    is_lit = light > 0.01
    if form in PARTS:
        boxes.append(Box(x[4], middle, PARTS[form], _part_note(point, form), is_lit))
    runs.append(_run([(x[4] + (BOX_W / 2 if form in PARTS else 0), middle), (x[5], middle)], "#3a3f44", "", is_lit))
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


def tapped_nodes(point: Point, form: str) -> list[str]:
    """The nodes that the added parts hang on, read off the parts themselves."""
    network = point.simulation.network
    names = {
        "direct": [("run", "from")],
        "direct_ground": [("run", "to")],
        "diode_or": [("diode 1", "anode"), ("diode 2", "anode")],
        "relay": [("relay", "86")],
        "and": [("relay", "86"), ("relay", "30")],
        "and_not": [("relay", "86"), ("relay", "30")],
        "to_ground": [("relay", "86")],
        "from_ground": [("relay", "85")],
        "converter": [("module", "stop_in"), ("module", "left_in")],
    }[form]
    return [network[f"{ADDED} {part}"].at(terminal) for part, terminal in names]


def _part_note(point: Point, form: str) -> str:
    if PARTS[form].startswith("Relay"):
        is_in = abs(point.amps(f"{ADDED} relay", "coil")) > 0.05
        return "pulled in, 30 to 87" if is_in else "at rest, 30 to 87a"
    return {"diode_or": "stripe to the lamp", "converter": "own supply and ground"}[form]


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


def _run(points: list[tuple[float, float]], base: str, tracer: str, is_live: bool) -> Run:
    return Run("M" + " L".join(f"{x:g} {y:g}" for x, y in points), base, tracer, is_live)
