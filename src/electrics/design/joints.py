"""How to join and where to ground: the shop's schools, and where they do not fit."""

from __future__ import annotations

from collections.abc import Iterator, Mapping, Sequence
from dataclasses import dataclass, replace
from functools import cache
from itertools import combinations
from math import pi, sqrt

from electrics.document.decisions import Keeps
from electrics.reference.conductor import Conductor, connector_colour
from electrics.reference.tables import Table, read_table

__all__ = [
    "BUS",
    "SLEEVE_FACTOR",
    "STEP_DOWN",
    "GroundFit",
    "GroundMethod",
    "JointFit",
    "JointMethod",
    "JointPlace",
    "better_joint",
    "butt_for",
    "fit_ground",
    "fit_joint",
    "ground_methods",
    "joint_methods",
    "outside_mm",
]

BUS = "bus"
"""How ends are joined that go into no butt connector: a bus bar or a stud, covered."""
SLEEVE_FACTOR = 1.2
"""Inside diameter of a shrink sleeve before shrinking over the joint's (common practice)."""
STRANDED = 1.15
"""Diameter of a stranded conductor over a solid one of the same copper [-] (estimate)."""
WALL_MM = 0.45
"""Insulation wall of thin-wall vehicle cable [mm] (estimate)."""
THICK_GROUND_MM2 = 2.0
"""From this copper on a ground wire counts as thick: 14 AWG (common practice)."""
SLEEVES_MM = (3.2, 4.8, 6.4, 9.5, 12.7, 19.1)
"""Shrink sleeve as sold, inside diameter before shrinking [mm] (common practice, 1/8 to 3/4 inch)."""


@dataclass(frozen=True)
class JointMethod:
    """One way of joining a branch to a factory wire."""

    id: str
    name: str
    good_for: str
    against: str
    cuts_loom: bool
    bears_exposure: bool
    wounds_loom: bool
    comes_apart: bool


@dataclass(frozen=True)
class JointPlace:
    """Where a joint is made, as far as the way of joining depends on it.

    Attributes
    ----------
    is_exposed : bool
        In spray, under the vehicle or on a vibrating part.
    is_monitored : bool
        A computer feeds or watches the circuit: its wires are not wounded.
    comes_off : bool
        The part that carries the lamp comes off or swings.
    is_at_fuse : bool
        The source is a position of the fuse box.
    ground_wire : Conductor or None
        The factory ground wire that is joined as well.
    """

    is_exposed: bool = False
    is_monitored: bool = False
    comes_off: bool = False
    is_at_fuse: bool = False
    keeps: Keeps = Keeps.FOR_GOOD
    ground_wire: Conductor | None = None


@dataclass(frozen=True)
class JointFit:
    """A joint between two wires.

    Attributes
    ----------
    connector_colour : str
        Insulated connector for the thicker of the two.
    sleeve_mm : float
        Shrink sleeve to put on before the joint is made, inside diameter before shrinking [mm].
    warnings : tuple of str
        Rule ids that forbid it: `exposed`, `unlike_gauges`, `monitored`, `thick_ground`, `no_fuse_here`.
    advice : tuple of str
        Rule ids of what speaks for another way here: `comes_off`, `cuts_loom`, `lease`, `single_use`, `at_fuse`;
        `fuse_wakes` is a word with any fuse tap.
    host : Conductor
        The factory wire.
    sleeve_factor : float
        Sleeve's inside over the joint's outside diameter [-].
    """

    method: JointMethod
    connector_colour: str
    sleeve_mm: float
    warnings: tuple[str, ...]
    advice: tuple[str, ...]
    host: Conductor
    sleeve_factor: float

    def of(self, wires: Sequence[Conductor]) -> JointFit:
        """The same way of joining where other wires meet: connector and sleeve for those."""
        colour, sleeve_mm = _sizes(wires, self.sleeve_factor)
        return replace(self, connector_colour=colour, sleeve_mm=sleeve_mm)

    @property
    def against(self) -> tuple[str, ...]:
        """Everything that speaks for another way."""
        return self.warnings + tuple(rule for rule in self.advice if rule != "fuse_wakes")


@dataclass(frozen=True)
class GroundMethod:
    """One way of grounding."""

    id: str
    name: str
    good_for: str
    against: str
    on_body: bool
    by_lamp_wire: bool


@dataclass(frozen=True)
class GroundFit:
    """A way of grounding, judged.

    Attributes
    ----------
    warnings : tuple of str
        Rule ids that forbid it: `comes_off`, `ground_wire` (it carries more than that wire bears).
    advice : tuple of str
        `corrodes`.
    """

    method: GroundMethod
    warnings: tuple[str, ...]
    advice: tuple[str, ...]


@cache
def ground_methods() -> Table[GroundMethod]:
    """The schools of grounding."""
    return read_table(
        "ground_methods",
        ("method", "name", "good_for", "against", "on_body", "by_lamp_wire"),
        lambda row: GroundMethod(
            row["method"],
            row["name"],
            row["good_for"],
            row["against"],
            row["on_body"] == "yes",
            row["by_lamp_wire"] == "yes",
        ),
    )


def fit_ground(method: GroundMethod, place: JointPlace, ground_a: float) -> GroundFit:
    """Judge a way of grounding.

    Parameters
    ----------
    method : GroundMethod
    place : Place
    ground_a : float
        What flows through it, the factory lamps' current included where it is their wire [A].

    Returns
    -------
    GroundFit
    """
    wire = place.ground_wire
    warnings = [
        rule
        for rule, is_broken in (
            ("comes_off", place.comes_off and method.on_body),
            ("ground_wire", wire is not None and ground_a > wire.largest_fuse_a),
        )
        if is_broken
    ]
    return GroundFit(method, tuple(warnings), ("corrodes",) if method.on_body and place.is_exposed else ())


@cache
def joint_methods() -> Table[JointMethod]:
    """The schools of joining."""
    return read_table(
        "joint_methods",
        ("method", "name", "good_for", "against", "cuts_loom", "exposed", "wounds", "comes_apart"),
        lambda row: JointMethod(
            row["method"],
            row["name"],
            row["good_for"],
            row["against"],
            row["cuts_loom"] == "yes",
            row["exposed"] == "yes",
            row["wounds"] == "yes",
            row["comes_apart"] == "yes",
        ),
    )


def fit_joint(
    method: JointMethod,
    host: Conductor,
    branch: Conductor,
    place: JointPlace,
    *,
    sleeve_factor: float = SLEEVE_FACTOR,
) -> JointFit:
    """Judge a joint and size its connector and sleeve.

    Parameters
    ----------
    method : JointMethod
    host, branch : Conductor
        The factory wire and the added one.
    place : Place
    sleeve_factor : float
        Sleeve's inside over the joint's outside diameter [-].

    Returns
    -------
    JointFit
    """
    colour, sleeve_mm = _sizes((host, branch), sleeve_factor)
    in_box = method.id == "fuse_tap" and place.is_at_fuse
    pierces = method.id == "displacement_tap"
    wounds = method.cuts_loom or method.wounds_loom
    thick = place.ground_wire is not None and place.ground_wire.area_mm2 >= THICK_GROUND_MM2
    warnings = {
        "exposed": place.is_exposed and not method.bears_exposure and not in_box,
        "unlike_gauges": pierces and host.sleeve_colour != branch.sleeve_colour,
        "monitored": pierces and place.is_monitored,
        "thick_ground": pierces and thick,
        "no_fuse_here": method.id == "fuse_tap" and not place.is_at_fuse,
    }
    advice = {
        "comes_off": place.comes_off and method.id not in ("t_harness", "disconnect"),
        "cuts_loom": method.cuts_loom and place.is_monitored,
        "lease": place.keeps is Keeps.LEASE and wounds,
        "single_use": place.keeps is Keeps.SINGLE_USE and not method.comes_apart,
        "at_fuse": place.is_at_fuse and method.id != "fuse_tap",
        "fuse_wakes": method.id == "fuse_tap",
    }
    return JointFit(method, colour, sleeve_mm, _true(warnings), _true(advice), host, sleeve_factor)


def _sizes(wires: Sequence[Conductor], sleeve_factor: float) -> tuple[str, float]:
    """Connector and sleeve [mm] of a joint: the thickest wire in one barrel, all others in the other."""
    areas_mm2 = sorted(wire.area_mm2 for wire in wires)
    across = sqrt(sum(outside_mm(area_mm2) ** 2 for area_mm2 in areas_mm2))
    sleeve_mm = next((size for size in SLEEVES_MM if size >= sleeve_factor * across), SLEEVES_MM[-1])
    return connector_colour(max(areas_mm2[-1], sum(areas_mm2[:-1]))), sleeve_mm


def outside_mm(area_mm2: float) -> float:
    """Outside diameter of a thin-wall wire [mm] by its copper [mm2] (estimate)."""
    return 2 * sqrt(area_mm2 / pi) * STRANDED + 2 * WALL_MM


BARRELS_MM2 = {"red": (0.25, 1.65), "blue": (1.04, 2.63), "yellow": (2.63, 6.64)}
"""Bared copper that one barrel of an insulated butt connector takes [mm2] (from memory)."""
MOST_A_SIDE = 2
"""Ends that go into one barrel [-] (common practice)."""
STEP_DOWN = "step-down"


def butt_for(areas_mm2: Sequence[float]) -> str:
    """Whether the ends that meet go into one butt connector: its color, `step-down`, or empty for none.

    Parameters
    ----------
    areas_mm2 : sequence of float
        Copper of every end [mm2]. A thin end that is alone in its barrel is folded back.
    """
    if not 2 <= len(areas_mm2) <= 2 * MOST_A_SIDE:
        return ""
    found = ""
    for first in _sides(areas_mm2):
        second = list(areas_mm2)
        for area_mm2 in first:
            second.remove(area_mm2)
        if not 1 <= len(second) <= MOST_A_SIDE:
            continue
        fitting = [_colours(side) for side in (first, second)]
        both = [colour for colour in BARRELS_MM2 if all(colour in colours for colours in fitting)]
        if both:
            return both[0]
        found = found or (STEP_DOWN if all(fitting) else "")
    return found


def _sides(areas_mm2: Sequence[float]) -> Iterator[tuple[float, ...]]:
    for n in range(1, MOST_A_SIDE + 1):
        yield from combinations(areas_mm2, n)


def _colours(side: Sequence[float]) -> set[str]:
    """The connectors whose barrel takes some ends."""
    sums = [sum(side), 2 * side[0]] if len(side) == 1 else [sum(side)]
    return {c for c, (least, most) in BARRELS_MM2.items() if any(least <= each <= most for each in sums)}


def better_joint(fit: JointFit, host: Conductor, branch: Conductor, place: JointPlace) -> JointFit | None:
    """The way of joining that least speaks against here; None where the chosen one is as good."""
    every = [fit_joint(method, host, branch, place) for method in joint_methods()]
    best = min(every, key=lambda each: (len(each.warnings), len(each.against)))
    is_better = (len(best.warnings), len(best.against)) < (len(fit.warnings), len(fit.against))
    return best if is_better else None


def _true(rules: Mapping[str, bool]) -> tuple[str, ...]:
    return tuple(rule for rule, holds in rules.items() if holds)
