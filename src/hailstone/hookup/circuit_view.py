"""The circuit of one lead from supply to ground as plain shapes, with volts and amps of one state.

Drawn is what the design has: every part, wire and joint that feeds the lead, named as on the build sheet. Columns are
how far something is from the lamp, lanes are what comes in. The figures are of the solved circuit, all leads at once.
"""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass, field

from electrics.circuit.simulate import Point
from electrics.design.design import Design, End, EndKind, Fitted
from electrics.job.hookup_plan import HookUpPlan, LeadPlan
from electrics.job.ways import PlaceWire
from electrics.signals import Level, signal
from electrics.vocabulary import Polarity, State
from electrics.ways.trial import Together
from hailstone.hookup.feed_path import Kind, Knot, Link, Segment, Tail, feed_path_of
from hailstone.hookup.shapes import (
    Box,
    CircuitView,
    Dot,
    Label,
    WireRun,
    colours_of,
    in_lines,
    number_of,
    pin_name,
    run_of,
    short_end,
)
from hailstone.wording.build import TERMINALS
from hailstone.wording.words import function_name

__all__ = ["circuit_view"]

TOP, LANE = 56.0, 94.0
BOX_W, BOX_H = 114.0, 52.0
LAMP_R = 26.0
WIDE = 560.0
"""From supply to lamp at least: a short circuit is not drawn larger for it."""
GAP, PER_JOINT = 36.0, 36.0
"""Between two columns, and more for each joint that lies in line there."""
GLOWS_A = 1e-3
LIVE_V = 0.5
RED, BLACK, LAID = ("#b3372d", ""), ("#1c2024", ""), ("#4f6b7a", "")
"""The supply, what goes to ground, and a wire that is laid, whose colour nobody has said."""


def circuit_view(
    plan: HookUpPlan, design: Design, solved: Together, lead: LeadPlan, state: State, *, lit: bool = True
) -> CircuitView:
    """Draw what feeds a lead in a state and phase.

    Parameters
    ----------
    plan : HookUpPlan
    design : Design
        That the lead is part of.
    solved : Together
        The design on the vehicle.
    lead : LeadPlan
        Must have a way.
    state : State
    lit : bool
        Which half of the flash.
    """
    return _Drawing(plan, design, solved.simulation.at(state, lit=lit), lead, lit=lit).view(solved, state)


@dataclass(eq=False)
class _Place:
    """A node with its position."""

    knot: Knot
    depth: int
    lane: float
    last_lane: float
    ports: dict[int, float] = field(default_factory=dict)
    """The lane of each input, by its number."""


class _Drawing:
    def __init__(self, plan: HookUpPlan, design: Design, point: Point, lead: LeadPlan, *, lit: bool) -> None:
        self.plan, self.design, self.point, self.lead, self.lit = plan, design, point, lead, lit
        self.wires: dict[str, PlaceWire] = {
            place.key: place for each in plan.leads if each.shown for place in each.shown.tapped
        }
        unit = next(unit for unit in plan.accessory.units if unit.id == lead.lead.unit)
        label = lead.lead.label or lead.lead.id
        self.lamp, self.tail = feed_path_of(design, unit, lead.lead.id, label, self.wires.keys())
        self.unit = unit
        self.places: dict[Knot, _Place] = {}
        self.next_lane = 0
        self.boxes: list[Box] = []
        self.runs: list[WireRun] = []
        self.joints: list[Dot] = []
        self.labels: list[Label] = []
        self.grounds: list[tuple[float, float]] = []
        self.lights = [light.element.name for light in design.lights if light.lead == lead.lead.id]
        self.pin_nodes = dict(self._pin_nodes())

    # laying out

    def _lay(self, knot: Knot, depth: int) -> None:
        """Give a knot and all that feeds it their columns and lanes."""
        place = self.places[knot] = _Place(knot, depth, self.next_lane, self.next_lane)
        for n, link in enumerate(knot.inputs):
            if n:
                self.next_lane += 1
            place.ports[n] = place.last_lane = self.next_lane
            if link.start in self.places:
                self._deepen(link.start, depth + 1, {knot})
            else:
                self._lay(link.start, depth + 1)
        for _ in knot.hangs:
            self.next_lane += 1

    def _deepen(self, knot: Knot, depth: int, above: set[Knot]) -> None:
        """Move what is fed from here and from further on to the left of both; what runs in a ring stays."""
        if knot not in above and self.places[knot].depth < depth:
            self.places[knot].depth = depth
            for link in knot.inputs:
                if link.start in self.places:
                    self._deepen(link.start, depth + 1, above | {knot})

    def _columns(self) -> tuple[dict[Knot, float], float]:
        """The middle of each knot's column, and where the lamp's column ends; sources stand at the left."""
        deepest = max(place.depth for place in self.places.values())
        has_pins = any(knot.kind is Kind.PIN for knot in self.places)
        column = {
            knot: 0 if knot.kind in (Kind.PIN, Kind.BATTERY) else deepest - place.depth + has_pins
            for knot, place in self.places.items()
        }
        widths = dict.fromkeys(range(max(column.values()) + 1), 24.0)
        gaps = dict.fromkeys(widths, GAP)
        for knot, n in column.items():
            if knot.kind is not Kind.JOINT:
                widths[n] = max(widths[n], BOX_W)
            for link in knot.inputs:
                gaps[n] = max(gaps[n], GAP + PER_JOINT * len(link.joints))
        if has_pins:
            widths[1] = BOX_W
        short = WIDE - 12.0 - sum(widths.values()) - sum(gaps[n] for n in gaps if n)
        spare = max(0.0, short) / max(1, len(gaps) - 1)
        x, middles = 12.0, {}
        for n in sorted(widths):
            x += (gaps[n] + spare if n else 0.0) + widths[n] / 2
            middles[n] = x
            x += widths[n] / 2
        self.middles, self.widths = middles, widths
        self.control_x = middles.get(1, 0.0)
        return {knot: middles[n] for knot, n in column.items()}, x

    # drawing

    def view(self, solved: Together, state: State) -> CircuitView:
        self._lay(self.lamp, 0)
        self.x, right = self._columns()
        self.state, self.rate = state, ""
        for rhythm in solved.simulation.flash(state).values():
            self.rate = f"{rhythm.per_minute:.0f}/min" + ("" if rhythm.word == "normal" else f" {rhythm.word}")
        for knot in self.places:
            self._knot(knot)
        lamp = self._lamp()
        end = self._to_ground(lamp, right)
        lowest = [label.y + 10 for label in self.labels] + [y + 22 for _, y in self.grounds]
        height = max([TOP + LANE * self.next_lane + 74, *lowest])
        glow = max([self.point.light(name) for name in self.lights], default=0.0)
        return CircuitView(
            f"The circuit of {self.lead.lead.title} with {state}",
            end,
            height,
            self._heads(right, end),
            tuple(self.boxes),
            tuple(self.runs),
            tuple(self.joints),
            tuple(self.labels),
            lamp,
            round(min(glow, 1.2), 3),
            tuple(self.grounds),
        )

    def _heads(self, right: float, end: float) -> tuple[tuple[float, float, str], ...]:
        """What the columns are: left edge, width, heading."""
        kinds: dict[float, set[Kind]] = {}
        for knot, x in self.x.items():
            kinds.setdefault(x, set()).add(knot.kind)
        taps = {self.x[knot] for knot in self.x if any(link.start.kind is Kind.PIN for link in knot.inputs)}
        names = []
        for n, x in self.middles.items():
            there = kinds.get(x, set())
            if n == 0:
                name = "Supply"
            elif Kind.LAMP in there:
                name = "Lamp"
            elif Kind.PART in there:
                name = "Fitted"
            else:
                name = ("Tap" if x in taps else "Joint") if there else "Control"
            names.append((x - self.widths[n] / 2 - 6, self.widths[n] + 12, name))
        return (*names, (right + 12, end - right - 14, "Ground"))

    def _y(self, lane: float) -> float:
        return TOP + LANE * lane

    def _knot(self, knot: Knot) -> None:
        place, x = self.places[knot], self.x[knot]
        y = self._y(place.lane)
        if knot.kind is Kind.PIN:
            self._factory(knot, x, y)
        elif knot.kind is Kind.BATTERY:
            self.boxes.append(self._box(x, y, self._source_name(knot), f"{self._supply_v():.1f} V", is_live=True))
        elif knot.kind is Kind.PART and knot.part is not None:
            self._part(knot, knot.part, x)
        elif knot.kind is Kind.JOINT:
            self._joint(knot, x, y)
        for n, link in enumerate(knot.inputs):
            self._link(knot, link, place.ports[n])
        for n, (part, tail) in enumerate(knot.hangs, start=1):
            self._hanging(part, tail, x, y, self._y(place.last_lane + n))

    def _factory(self, knot: Knot, x: float, y: float) -> None:
        """The fuse and the control of a tapped wire, as far as they are known."""
        end = knot.end
        wire = self.wires.get(end.key) if end is not None else None
        if end is None or wire is None:
            is_live = end is not None and self._pin_volts(end) > LIVE_V
            self.boxes.append(self._box(x, y, "Factory", pin_name(end) if end else "", is_live=is_live))
            return
        is_live = self._pin_volts(end) > LIVE_V
        by_ground = wire.wire.polarity is Polarity.GROUND
        is_back = self._is_back(knot)
        circuit = next((each for each in self.plan.circuits if each.function is wire.wire.function), None)
        fuse_a = circuit.load.fuse_a if circuit and circuit.load else None
        is_said = circuit is not None and circuit.notes.host_fuse_a is not None
        fuse = f"Fuse {fuse_a:g} A" if fuse_a is not None else "Factory fuse"
        note = f"{self._supply_v():.1f} V" + ("" if is_said or fuse_a is None else ", assumed")
        name = function_name(wire.wire.function) + (", by ground" if by_ground else "")
        is_on = not is_live if by_ground else is_live and not is_back
        self.boxes += [
            self._box(x, y, fuse, note, is_live=True),
            self._box(self.control_x, y, name, self._control_note(wire, is_on), is_live=is_on),
        ]
        self.runs.append(run_of([(x + BOX_W / 2, y), (self.control_x - BOX_W / 2, y)], RED, is_live=True))
        if is_back:
            self.labels.append(Label(self.control_x + BOX_W / 2 + 26, y - 14, "≠ backwards"))

    def _control_note(self, wire: PlaceWire, is_on: bool) -> str:
        said = "on" if is_on else "off"
        return f"{said}, {self.rate}" if self.rate and "turn" in wire.wire.function else said

    def _part(self, knot: Knot, part: Fitted, x: float) -> None:
        place = self.places[knot]
        top, bottom = self._y(place.lane), self._y(place.last_lane)
        note, is_live = self._part_note(part)
        h = BOX_H + bottom - top
        self.boxes.append(self._box(x, (top + bottom) / 2, part.label.capitalize(), note, is_live=is_live, h=h))
        for n, link in enumerate(knot.inputs):
            if link.terminal not in ("from", "to", "anode", "cathode"):
                y = self._y(place.ports[n])
                self.labels.append(
                    Label(x - BOX_W / 2 + 6, y + 4, TERMINALS.get(link.terminal, link.terminal), "start")
                )
        for n, (terminal, tail) in enumerate(knot.grounds):
            foot = x + (n - (len(knot.grounds) - 1) / 2) * 44
            text = f"{TERMINALS.get(terminal, terminal)}, {short_end(tail.end)}"
            self._sign(foot, bottom + BOX_H / 2, text, is_live=False)

    def _sign(self, x: float, y: float, text: str, *, is_live: bool) -> None:
        """A ground sign below a box, with where it goes."""
        self.runs.append(run_of([(x, y), (x, y + 14)], BLACK, is_live=is_live))
        self.grounds.append((x, y + 14))
        self.labels.append(Label(x + 19, y + 26, text, "start"))

    def _hanging(self, part: Fitted, tail: Tail | None, x: float, y: float, at: float) -> None:
        """A part that connects to one joint alone, drawn below it."""
        note, is_live = self._part_note(part)
        self.runs.append(run_of([(x, y), (x, at - BOX_H / 2)], LAID, is_live=is_live))
        self.boxes.append(self._box(x, at, part.label.capitalize(), note, is_live=is_live))
        if tail is not None:
            self._sign(x, at + BOX_H / 2, short_end(tail.end), is_live=is_live)

    def _joint(self, knot: Knot, x: float, y: float) -> None:
        pins = [link.start.end for link in knot.inputs if link.start.kind is Kind.PIN and link.start.end is not None]
        self.joints.append(Dot(x, y, number_of(knot.name), is_tap=bool(pins)))
        for end in pins:
            self.labels.append(Label(x, y + 25, f"{pin_name(end)} · {self._pin_volts(end):.1f} V"))
        if knot.others:
            more = f" and {len(knot.others) - 1} more" if len(knot.others) > 1 else ""
            self.labels.append(Label(x, y + 41, f"also {knot.others[0]}{more}"))

    def _link(self, knot: Knot, link: Link, lane: float) -> None:
        """The segments from one knot to the next, with the joints between them."""
        start, y = self.places[link.start], self._y(lane)
        begin_x = (
            self.control_x
            if link.start.kind is Kind.PIN and link.start.end is not None and link.start.end.key in self.wires
            else self.x[link.start]
        )
        begin_y = self._y(start.lane)
        x0 = begin_x + (0.0 if link.start.kind is Kind.JOINT else BOX_W / 2)
        inset = {Kind.JOINT: 0.0, Kind.LAMP: LAMP_R}.get(knot.kind, BOX_W / 2)
        x1 = self.x[knot] - inset
        y1 = self._y(self.places[knot].lane) if knot.kind in (Kind.JOINT, Kind.LAMP) else y
        bend = x1 - 16.0 if abs(y - y1) > 1 else None
        path: list[tuple[float, float]] = [(x0, begin_y)]
        if abs(begin_y - y) > 1:
            path.append((x0, y) if link.start.kind is Kind.JOINT else (x0 + 14.0, begin_y))
            if link.start.kind is not Kind.JOINT:
                path.append((x0 + 14.0, y))
        flat = path[-1][0]
        stop = bend if bend is not None else x1
        cuts = [flat + (stop - flat) * (n + 1) / (len(link.joints) + 1) for n in range(len(link.joints))]
        segments = self._merged(link)
        for n, segment in enumerate(segments):
            last = n == len(segments) - 1
            to = [(stop, y)] + ([(bend, y1), (x1, y1)] if bend is not None else []) if last else [(cuts[n], y)]
            volts = self._volts(segment.node)
            is_live = volts > LIVE_V
            is_back = is_live and self._is_back(link.start)
            self.runs.append(
                run_of([*path, *to], self._colour(segment, link.start), is_live=is_live, is_back=is_back)
            )
            if segment.wire is not None:
                middle = (path[-1][0] + to[0][0]) / 2
                self.labels.append(Label(middle, y - 9, f"W{segment.wire.label}"))
            path = [to[-1]]
        self.joints += [Dot(x, y, number_of(name)) for x, name in zip(cuts, link.joints, strict=False)]

    @staticmethod
    def _merged(link: Link) -> list[Segment]:
        """As many segments as there are stretches between joints: the wire's own, where a stretch has several."""
        wanted = len(link.joints) + 1
        segments = list(link.segments)
        while len(segments) > wanted:
            n = next((n for n, each in enumerate(segments) if each.wire is None), 0)
            segments.pop(n)
        while segments and len(segments) < wanted:
            segments.append(segments[-1])
        return segments or [Segment("")] * wanted

    def _lamp(self) -> Box:
        x, y = self.x[self.lamp], self._y(self.places[self.lamp].lane)
        amps = abs(sum(self.point.amps(name) for name in self.lights))
        is_lit = any(self.point.light(name) > 0.01 for name in self.lights) if self.lights else amps > GLOWS_A
        count = f"{self.lead.lamps} × " if self.lead.lamps > 1 else ""
        name = self.lead.lead.label or self.unit.name
        return Box(x, y, 2 * LAMP_R, 2 * LAMP_R, f"{count}{name}", f"{amps:.2f} A" if is_lit else "dark", is_lit)

    def _to_ground(self, lamp: Box, right: float) -> float:
        """From the lamp to the end of its common; where the drawing ends [px]."""
        x, y = lamp.x + LAMP_R, lamp.y
        if self.tail is None:
            return right + 24
        tail, at = self.tail, x
        for part in tail.parts:
            note, is_live = self._part_note(part)
            self.runs.append(run_of([(at, y), (at + GAP, y)], RED, is_live=is_live))
            self.boxes.append(self._box(at + GAP + BOX_W / 2, y, part.label.capitalize(), note, is_live=is_live))
            at += GAP + BOX_W
        end = max(at + 40 + PER_JOINT * len(tail.joints), right + 74)
        colour = RED if tail.end.kind in (EndKind.BATTERY, EndKind.SUPPLY) else BLACK
        foot = y + 54
        path = [(at, y), (end, y), (end, foot)]
        self.runs.append(run_of(path, colour, is_live=lamp.is_live))
        for n, name in enumerate(tail.joints):
            self.joints.append(Dot(at + (end - at) * (n + 1) / (len(tail.joints) + 1), y, number_of(name)))
        wires = [f"W{each.wire.label}" for each in tail.segments if each.wire is not None]
        if wires:
            self.labels.append(Label(end - 8, y + 22, ", ".join(wires), "end"))
        if tail.end.kind in (EndKind.BATTERY, EndKind.SUPPLY):
            self.labels.append(Label(end, foot + 16, "battery positive"))
        else:
            self.grounds.append((end, foot))
            self.labels += [
                Label(end + 4, foot + 32 + 15 * n, text, "end")
                for n, text in enumerate(in_lines(short_end(tail.end)))
            ]
        return end + 30

    # figures and words

    def _box(self, x: float, y: float, name: str, note: str, *, is_live: bool, h: float = BOX_H) -> Box:
        return Box(x, y, BOX_W, h, name, note, is_live)

    def _volts(self, node: str) -> float:
        return abs(self.point.volts(node)) if node in self.point.simulation.places else 0.0

    def _supply_v(self) -> float:
        return self.point.volts("bat")

    def _pin_nodes(self) -> Iterator[tuple[str, str]]:
        """The vehicle's node of each tapped pin, by the end's own: where the joint on it begins, or ends."""
        network = self.point.simulation.network
        for join in self.design.joins:
            pins = [m for m in join.members if m.kind in (EndKind.PIN, EndKind.SUPPLY, EndKind.GROUND)]
            for n, member in enumerate(pins, start=1):
                name = f"{join.label} tap {n}"
                if name in network:
                    yield member.node, network[name].nodes["to" if member.takes else "from"]

    def _pin_volts(self, end: End) -> float:
        return self._volts(self.pin_nodes.get(end.node, ""))

    def _is_back(self, start: Knot) -> bool:
        end = start.end
        if start.kind is not Kind.PIN or end is None or end.key not in self.wires:
            return False
        wire = self.wires[end.key].wire
        if wire.polarity is Polarity.GROUND or self._pin_volts(end) <= LIVE_V:
            return False
        own = signal(wire.function, self.state, self.plan.scenarios[0], wire.variant)
        return (own.lit if self.lit else own.dark) is Level.OFF

    def _colour(self, segment: Segment, start: Knot) -> tuple[str, str]:
        if segment.wire is not None:
            return {"supply": RED, "ground": BLACK}.get(segment.wire.role, LAID)
        end = segment.tail
        if end is not None and end.kind is EndKind.PIN:
            return colours_of(end.colour)
        if end is not None and end.kind is EndKind.UNIT:
            return colours_of(end.terminal)
        return RED if start.kind is Kind.BATTERY else LAID

    def _part_note(self, part: Fitted) -> tuple[str, bool]:
        """What a part does in this state: its value and what it carries, or how its contact stands."""
        name = part.element.name
        if name not in self.point.simulation.network:
            return part.value, False
        if {"85", "86"} <= part.ends.keys():
            is_in = abs(self.point.amps(name, "coil")) > 0.05
            return "pulled in" if is_in else "at rest", is_in
        amps = abs(self.point.amps(name)) if len(part.ends) == 2 else 0.0
        value = part.value.partition(",")[0]
        if len(part.ends) > 2:
            return value, self.point.watts(name) > 0.1
        carried = f"{amps:.2f} A" if amps > 0.005 else "no current"
        return ", ".join(filter(None, (value, carried))), amps > 0.005

    def _source_name(self, knot: Knot) -> str:
        return "Battery" if knot.end is not None and knot.end.kind is EndKind.BATTERY else "Live with key"
