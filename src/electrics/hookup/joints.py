"""How to join: the shop's school, and where it does not fit."""

from __future__ import annotations

from dataclasses import dataclass
from functools import cache
from math import pi, sqrt

from electrics.reference.conductor import Conductor
from electrics.reference.tables import Table, read_table

__all__ = ["JointFit", "JointMethod", "fit_joint", "joint_methods"]

SLEEVE_FACTOR = 1.2
"""Inside diameter of a shrink sleeve before shrinking over the joint's (common practice)."""
WALL_MM = 0.45
"""Insulation wall of thin-wall vehicle cable [mm] (estimate)."""
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
        Rule ids that forbid it: `exposed`, `unlike_gauges`, `monitored`.
    advice : tuple of str
        Rule ids of what speaks for another way here: `comes_off`, `cuts_loom`, `fuse_wakes`.
    """

    method: JointMethod
    connector_colour: str
    sleeve_mm: float
    warnings: tuple[str, ...]
    advice: tuple[str, ...] = ()


@cache
def joint_methods() -> Table[JointMethod]:
    """The schools of joining."""
    return read_table(
        "joint_methods",
        ("method", "name", "good_for", "against", "cuts_loom", "exposed"),
        lambda row: JointMethod(
            row["method"],
            row["name"],
            row["good_for"],
            row["against"],
            row["cuts_loom"] == "yes",
            row["exposed"] == "yes",
        ),
    )


def fit_joint(
    method: JointMethod,
    host: Conductor,
    branch: Conductor,
    *,
    exposed: bool,
    monitored: bool = False,
    comes_off: bool = False,
) -> JointFit:
    """Judge a joint and size its connector and sleeve.

    Parameters
    ----------
    method : JointMethod
    host, branch : Conductor
        The factory wire and the added one.
    exposed : bool
        In spray, under the vehicle or on a vibrating part.
    monitored : bool
        A computer feeds or watches the circuit: its wires are not wounded.
    comes_off : bool
        The part that carries the lamp comes off or swings.

    Returns
    -------
    JointFit
    """
    outside = [2 * sqrt(wire.area_mm2 / pi) * 1.15 + 2 * WALL_MM for wire in (host, branch)]
    across = sqrt(sum(diameter**2 for diameter in outside))
    sleeve_mm = next((size for size in SLEEVES_MM if size >= SLEEVE_FACTOR * across), SLEEVES_MM[-1])
    thicker = max(host, branch, key=lambda wire: wire.area_mm2)
    warnings = [
        rule
        for rule, is_broken in (
            ("exposed", exposed and not method.bears_exposure),
            ("unlike_gauges", method.id == "displacement_tap" and host.sleeve_colour != branch.sleeve_colour),
            ("monitored", method.id == "displacement_tap" and monitored),
        )
        if is_broken
    ]
    advice = [
        rule
        for rule, applies in (
            ("comes_off", comes_off and method.id not in ("t_harness", "disconnect")),
            ("cuts_loom", method.cuts_loom and monitored),
            ("fuse_wakes", method.id == "fuse_tap"),
        )
        if applies
    ]
    return JointFit(method, thicker.sleeve_colour, sleeve_mm, tuple(warnings), tuple(advice))
