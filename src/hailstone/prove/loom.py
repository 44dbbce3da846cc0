"""The loom drawn to scale: boxes for places, bands for what runs between them, a line a wire."""

from __future__ import annotations

from collections import Counter
from collections.abc import Sequence
from dataclasses import dataclass

from electrics.build.loom import LoomLeg, LoomNode, LoomView
from electrics.design.design import Wiring
from hailstone.wording.build import ROLES
from hailstone.wording.words import listed

__all__ = ["LoomPicture", "loom_picture"]

WIDTH, BOX_W, LINE_H, PAD = 900.0, 226.0, 19.0, 12.0
HEAD_H, SQUARE_M = 30.0, 0.5
LANE, BETWEEN = 31.0, 2.0
"""From one leg's lane to the next, and between two wires of a leg [px]."""
LEAST_GAP = 22.0
"""Between two boxes [px]."""
MOST_CHARS = 26
"""That a box holds in a line [-]."""
STROKES = {
    "feed": ("#a8281f", ""),
    "supply": ("#7a1f18", "14 3"),
    "trigger": ("#3b5568", "6 3"),
    "sense": ("#3b5568", "2 3"),
    "ground": ("#14222b", ""),
}
"""How a wire is drawn by its role: colour and dashes; its number stands beside it."""


@dataclass(frozen=True)
class Box:
    """A place: its name, parts and joints, a line each."""

    x: float
    y: float
    width: float
    height: float
    name: str
    lines: tuple[tuple[str, float], ...]


@dataclass(frozen=True)
class Strand:
    """One wire of a leg."""

    path: str
    thick: float
    role: str

    @property
    def stroke(self) -> str:
        return STROKES[self.role][0]

    @property
    def dashes(self) -> str:
        return STROKES[self.role][1]


@dataclass(frozen=True)
class Band:
    """A leg: its sleeve, its wires, and what is written on it."""

    path: str
    thick: float
    strands: tuple[Strand, ...]
    x: float
    y: float
    text: str


@dataclass(frozen=True)
class LoomPicture:
    """A drawing with its size [px], grid lines and legend."""

    width: float
    height: float
    boxes: tuple[Box, ...]
    bands: tuple[Band, ...]
    columns: tuple[float, ...]
    rows: tuple[float, ...]
    legend: tuple[str, ...]
    roles: tuple[tuple[str, str, str], ...]


def loom_picture(view: LoomView) -> LoomPicture | None:
    """The picture of a loom; None where nothing is fitted anywhere."""
    if not view.nodes:
        return None
    span_m = max(node.x_m for node in view.nodes) - min(node.x_m for node in view.nodes)
    scale = (WIDTH - BOX_W - 2 * PAD) / max(span_m, 2.0)
    board = _Board(view, scale)
    step = SQUARE_M * scale
    return LoomPicture(
        WIDTH,
        board.height,
        tuple(board.boxes.values()),
        tuple(board.band(n, leg) for n, leg in enumerate(view.legs)),
        tuple(PAD + n * step for n in range(1, int((WIDTH - PAD) / step))),
        tuple(PAD + n * step for n in range(1, int((board.height - PAD) / step))),
        tuple(_wire_text(wire) for wire in view.local),
        tuple((name, *STROKES[id]) for id, name in ROLES.items()),
    )


def _wire_text(wire: Wiring) -> str:
    return f"Wire {wire.label}: {wire.conductor.name}, {wire.cut_m:g} m, stays at the {wire.ends[0].spot.name}"


class _Board:
    """Boxes in a row for each distance from the left side; every leg has its lane below a row."""

    def __init__(self, view: LoomView, scale: float) -> None:
        self.rows = sorted({node.y_m for node in view.nodes})
        self.row_of = {node.name: self.rows.index(node.y_m) for node in view.nodes}
        self.boxes: dict[str, Box] = {}
        self.lane: dict[int, float] = {}
        self.exits = Counter(name for leg in view.legs for name in (leg.first.name, leg.second.name))
        self.used: Counter[str] = Counter()
        least_x, top = min(node.x_m for node in view.nodes), PAD
        for at in range(len(self.rows)):
            nodes = sorted((node for node in view.nodes if self.row_of[node.name] == at), key=lambda node: node.x_m)
            top = self._place(nodes, top, least_x, scale)
            for n, leg in enumerate(view.legs):
                if min(self.row_of[leg.first.name], self.row_of[leg.second.name]) == at:
                    top += LANE
                    self.lane[n] = top
            top += LEAST_GAP
        self.height = top

    def _place(self, nodes: Sequence[LoomNode], top: float, least_x: float, scale: float) -> float:
        """Places a row from `top` on, and says where it ends."""
        row: list[Box] = []
        for node in nodes:
            lines = _lines(node)
            height = HEAD_H + LINE_H * len(lines)
            x, y = PAD + (node.x_m - least_x) * scale, top
            while any(_covers(x, y, height, box) for box in row):
                y += LEAST_GAP
            texts = tuple((text, y + HEAD_H + LINE_H * (n + 0.55)) for n, text in enumerate(lines))
            row.append(Box(x, y, BOX_W, height, _short(node.name), texts))
            self.boxes[node.name] = row[-1]
        return max(box.y + box.height for box in row)

    def band(self, n: int, leg: LoomLeg) -> Band:
        """A leg, down from its upper box to its lane and on to the other."""
        upper, lower = leg.first.name, leg.second.name
        if self.row_of[upper] > self.row_of[lower]:
            upper, lower = lower, upper
        lane, (x1, x2) = self.lane[n], (self._exit(upper), self._exit(lower))
        y1 = self.boxes[upper].y + self.boxes[upper].height
        box = self.boxes[lower]
        y2 = box.y if self.row_of[lower] > self.row_of[upper] else box.y + box.height
        points = [(x1, y1), (x1, lane), (x2, lane), (x2, y2)]
        thick = [_thickness(wire) for wire in leg.wires]
        total = sum(thick) + BETWEEN * (len(thick) - 1)
        strands, at = [], -total / 2
        for wire, width in zip(leg.wires, thick, strict=True):
            at += width / 2
            strands.append(Strand(_path(points, at), width, wire.role))
            at += width / 2 + BETWEEN
        labels = listed(wire.label for wire in leg.wires)
        noun, end = "wires" if len(leg.wires) > 1 else "wire", " assumed" if leg.is_assumed else ""
        text = f"{noun} {labels} · {leg.length_m:.2g} m{end}"
        middle = min(max((x1 + x2) / 2, 90.0), WIDTH - 90.0)
        return Band(_path(points, 0.0), total + 6.0, tuple(strands), middle, lane - total / 2 - 6.0, text)

    def _exit(self, name: str) -> float:
        """Where the next leg leaves a box: side by side along its edge."""
        self.used[name] += 1
        box = self.boxes[name]
        return box.x + box.width * self.used[name] / (self.exits[name] + 1)


def _covers(x: float, y: float, height: float, box: Box) -> bool:
    beside = x >= box.x + box.width + LEAST_GAP or box.x >= x + BOX_W + LEAST_GAP
    return not (beside or y >= box.y + box.height + LEAST_GAP or box.y >= y + height + LEAST_GAP)


def _short(text: str) -> str:
    return text if len(text) <= MOST_CHARS else text[: MOST_CHARS - 1] + "…"


def _lines(node: LoomNode) -> list[str]:
    found = [f"{part.label} · {part.value}" if part.value else part.label for part in node.parts]
    if node.joins:
        labels = [join.label.removeprefix("joint ") for join in node.joins]
        found.append(f"joints {listed(labels)}" if len(labels) > 1 else f"joint {labels[0]}")
    return [_short(text) for text in found]


def _thickness(wire: Wiring) -> float:
    """Lines are drawn by the copper: a 10 AWG wire is plainly thicker than an 18 AWG one."""
    return round(1.6 + 0.55 * wire.conductor.area_mm2, 2)


def _path(points: Sequence[tuple[float, float]], shift: float) -> str:
    """A line beside the middle of its leg, the same distance from it all the way."""
    moved = [(x + shift, y + shift) for x, y in points]
    return "M" + " L".join(f"{x:.1f} {y:.1f}" for x, y in moved)
