"""What a finding is, and the registry of the rules that find: each a small function, registered by its name."""

from __future__ import annotations

from collections.abc import Callable, Iterator
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from electrics.circuit.simulate import Point, Simulation

__all__ = ["BY_SIZE", "MAY_BE", "RULES", "CircuitFinding", "Found", "findings", "rule", "sized", "where"]


@dataclass(frozen=True)
class Found:
    """What a rule found at a point: severity, element or node, measured value, limit and their unit."""

    severity: str
    subject: str
    value: float
    limit: float
    unit: str
    by: str = ""
    road: tuple[str, ...] = ()
    mends: str = ""

    def at(self, rule: str, point: Point | None) -> CircuitFinding:
        """The finding of a rule at a point, or with none of the whole circuit."""
        state, phase = ("", "lit") if point is None else (str(point.case.state), "lit" if point.case.lit else "dark")
        values = (self.value, self.limit, self.unit, self.by, self.road, self.mends)
        return CircuitFinding(rule, self.severity, self.subject, state, phase, *values)


@dataclass(frozen=True)
class CircuitFinding:
    """One thing found, where it was found first.

    Attributes
    ----------
    rule : str
        Stable id, a key of `RULES`.
    subject : str
        Element or node; empty for the whole circuit.
    state, phase : str
        What was switched on; `lit` or `dark`.
    value, limit : float
        In `unit`; of the worst state.
    by : str
        The element that causes it, where that is another one.
    road : tuple of str
        The elements that current came by, where it came by the wrong road.
    mends : str
        What ends it, where that is not what the rule usually says: `part`, mend what it is `by`; `ground`, give
        that its ground.
    """

    rule: str
    severity: str
    subject: str
    state: str
    phase: str
    value: float
    limit: float
    unit: str
    by: str = ""
    road: tuple[str, ...] = ()
    mends: str = ""

    @property
    def key(self) -> tuple[str, str, str]:
        """What it is about: rule, subject, and for a flasher the side."""
        sides = [side for side in ("left", "right") if self.rule == "flash_rate" and side in self.state.split("+")]
        return self.rule, self.subject, "".join(sides)


PointRule = Callable[[Point], Iterator[Found]]
Rows = Callable[[Simulation], NDArray[np.bool_]]
RULES: dict[str, PointRule] = {}
"""Every rule by its stable id."""
BY_SIZE: set[str] = set()
"""Those of which the largest value is the worst."""


def findings(simulation: Simulation) -> tuple[CircuitFinding, ...]:
    """Everything that is wrong, each rule and subject once (a flasher once a side) in its worst state, errors first.

    Parameters
    ----------
    simulation : Simulation

    Returns
    -------
    tuple of Finding
    """
    found: dict[tuple[str, str, str], CircuitFinding] = {}
    may_be = {rule: rows(simulation) for rule, rows in MAY_BE.items()}
    for point in simulation.points:
        for rule, look in RULES.items():
            if rule in may_be and not may_be[rule][point.row]:
                continue
            for each in look(point):
                finding = each.at(rule, point)
                known = found.get(finding.key)
                if known is None or (rule in BY_SIZE and finding.value > known.value):
                    found[finding.key] = finding
    return tuple(sorted(found.values(), key=lambda each: each.severity != "error"))


MAY_BE: dict[str, Callable[[Simulation], NDArray[np.bool_]]] = {}
"""For rules that look at many elements: the cases in which they may find something, over all elements at once."""


def where(rule: str) -> Callable[[Rows], Rows]:
    """Register the cases in which a rule may find something."""

    def register(rows: Rows) -> Rows:
        MAY_BE[rule] = rows
        return rows

    return register


def rule(look: PointRule) -> PointRule:
    """Register a rule by its name."""
    RULES[look.__name__] = look
    return look


def sized(look: PointRule) -> PointRule:
    """Register a rule of which the largest value is the worst."""
    BY_SIZE.add(look.__name__)
    return rule(look)
