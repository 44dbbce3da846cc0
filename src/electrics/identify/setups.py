"""What could be measured at all, what it costs in effort, and what each function would show.

Shared by the plan (what to measure next) and by what would change a verdict.
"""

from __future__ import annotations

from collections import Counter
from collections.abc import Iterable, Sequence
from dataclasses import dataclass
from functools import cache, lru_cache

import numpy as np
from numpy.typing import NDArray

from electrics.document.places import AccessPoint, Setup, Side
from electrics.identify.belief import HYPOTHESES, MISTAKE_RATE, WORLDS, Belief
from electrics.identify.conditions import conditions
from electrics.identify.kinds import FUSE_BOX, pin_out
from electrics.identify.live import is_dead, is_live
from electrics.identify.tools import EVERY_TOOL, with_tools
from electrics.inference.evidence import allowing_mistakes
from electrics.instruments.condition import Condition
from electrics.instruments.every import meter_for, shown_in
from electrics.reference.tables import Table, read_table
from electrics.vocabulary import FUNCTIONS, Control, Instrument, Load, State, parse_state

__all__ = [
    "ALL_OFF",
    "FIRST_OF",
    "MOST_READ",
    "Cell",
    "Effort",
    "control_efforts",
    "dead_pins",
    "effort_of",
    "odd_cells",
    "open_wires",
    "outcomes_by_world",
    "per_function",
    "pins_done",
    "possible_setups",
    "read_times",
    "wants_helper",
]

Array = NDArray[np.float64]


FIRST_OF = [next(h for h, item in enumerate(HYPOTHESES) if item[0] is f) for f in FUNCTIONS]

WALK, WALK_HELPED = 10.0, 2.0
"""Effort of a walk to the controls and back, and of asking a helper who sits there, in wires touched (estimates)."""

ALL_OFF = parse_state("rest")
PULL_LAMP = 3.0
"""Effort of pulling or swapping a lamp (estimate)."""

MOVE_CLIP = 1.0
"""Effort of moving the ground clip to another spot (estimate)."""

MOST_READ = 2
"""How often one cell is asked for at most [-]: the second time with the control set anew and the clip moved."""

STATES = (
    "rest",
    "key",
    "engine",
    "park",
    "park_left",
    "park_right",
    "low",
    "high",
    "brake",
    "left",
    "right",
    "hazard",
    "reverse",
    "fog_front",
    "fog_rear",
    "trailer_lever",
    "asleep",
    "brake+left",
    "brake+right",
    "brake+hazard",
    "brake+reverse",
    "park+left",
    "park+right",
    "low+fog_rear",
    "low+fog_front",
    "key+park_brake",
)
"""States worth considering: every control alone, and the pairs that save a walk."""
ALL_BUT_ONE = (
    "park+brake",
    "low+brake",
    "low+left",
    "low+right",
    "low+hazard",
    "low+reverse",
    "low+brake+left",
    "low+brake+right",
    "low+brake+reverse",
    "brake+left+reverse",
    "brake+right+reverse",
)
"""States with much on that a single wanted wire is not: where it stays dark, many rivals are gone at once."""
WITH_TRAILER = ("trailer", "trailer+park", "trailer+brake", "trailer+left", "trailer+right", "trailer+reverse")
"""States with a trailer or its tester plugged in: only then some fuses and sockets are live."""


@dataclass(frozen=True)
class Effort:
    """What setting one control costs, in wires touched; alone and with a helper."""

    control: Control
    solo: float
    helped: float
    wants_helper: bool


@cache
def control_efforts() -> Table[Effort]:
    """What setting each control costs."""
    return read_table(
        "control_effort",
        ("control", "solo_effort", "helped_effort", "wants_helper"),
        lambda row: Effort(
            Control(row["control"]),
            float(row["solo_effort"]),
            float(row["helped_effort"]),
            row["wants_helper"] == "yes",
        ),
    )


def wants_helper(state: State) -> bool:
    """Whether a second person, or a prop, is needed to hold this state while probing."""
    return any(control_efforts()[control].wants_helper for control in state.controls)


def possible_setups(
    point: AccessPoint,
    computer_fed: bool,
    not_fitted: frozenset[Control] = frozenset(),
    tools: frozenset[str] = EVERY_TOOL,
    *,
    for_one: bool = False,
) -> Iterable[Setup]:
    """Every set-up worth considering at a place; no filament test lamp where a computer may feed.

    What the place or the vehicle lacks is not asked for, nor what the `tools` at hand cannot read. `for_one` adds the
    states that part a single wire from all the others.
    """
    states = (*STATES, *(ALL_BUT_ONE if for_one else ()), *(WITH_TRAILER if _may_tow(point) else ()))
    every = _every_setup(point, computer_fed, states)
    for setup in with_tools(every, tools, computer_fed=computer_fed):
        if not_fitted.isdisjoint(setup.state.controls):
            yield setup


def _may_tow(point: AccessPoint) -> bool:
    """Whether a place may have wires that are live with a trailer only, or one was plugged in there."""
    is_read = any(Control.TRAILER in item.setup.state.controls for item in point.evidence)
    return is_read or point.kind == FUSE_BOX or bool(pin_out(point.kind))


def _every_setup(point: AccessPoint, computer_fed: bool, states: Sequence[str]) -> Iterable[Setup]:
    other = {Side.LEFT: "right", Side.RIGHT: "left"}.get(point.side)
    for text in states:
        if other is None or f"+{other}" not in text:
            yield Setup(parse_state(text))
    for text in ("park+left", "park+right"):  # a marker without a ground of its own: dark while the turn is lit
        if other is None or not text.endswith(f"+{other}"):
            yield Setup(parse_state(text), Instrument.CLAMP)
    rest = parse_state("rest")
    yield Setup(rest, Instrument.HERTZ)  # a battery feed from a single-wire bus
    yield Setup(parse_state("key"), Instrument.HERTZ)  # at rest it may sleep
    if _has_lamp_to_pull(point, computer_fed):
        yield Setup(rest, Instrument.OHMS, Load.OUT)
    yield Setup(rest, Instrument.OHMS, Load.IN)
    if not computer_fed:
        yield Setup(rest, Instrument.LOADED_DROP)


def _has_lamp_to_pull(point: AccessPoint, computer_fed: bool) -> bool:
    """Not at a fuse box; at a plug only where a computer forbids the test lamp that would tell as much."""
    return point.kind != FUSE_BOX and (computer_fed or not pin_out(point.kind))


def effort_of(setup: Setup, current: Setup | None, *, solo: bool, anew: bool = False) -> float:
    """Effort of going from one set-up to another, in wires touched; from all off where none is set.

    `anew` switches off and on again what is set already, and moves the clip.
    """
    effort = MOVE_CLIP if anew else 0.0
    if setup.state != (current.state if current else ALL_OFF) or (anew and setup.state != ALL_OFF):
        efforts = [control_efforts()[control] for control in setup.state.controls]
        effort = (WALK if solo else WALK_HELPED) + sum(item.solo if solo else item.helped for item in efforts)
    if setup.load is not (current.load if current else Load.IN):
        effort += PULL_LAMP
    if current is not None and setup.instrument is not current.instrument:
        effort += 1.0
    return effort


def open_wires(belief: Belief) -> list[int]:
    """Indices of the wires that are not settled."""
    return [w for w, wire in enumerate(belief.wires) if not wire.is_settled]


def pins_done(belief: Belief) -> dict[Setup, set[str]]:
    """The pins already read in each set-up."""
    done: dict[Setup, set[str]] = {}
    for evidence in belief.point.evidence:
        done.setdefault(evidence.setup, set()).add(evidence.pin)
    return done


Cell = tuple[str, Setup]
"""A pin in a set-up."""


def read_times(belief: Belief) -> Counter[Cell]:
    """How often each cell was read."""
    times = Counter((item.pin, item.setup) for item in belief.point.evidence)
    times.update(cell for cell in belief.point.repeated if cell in times)
    return times


def odd_cells(belief: Belief) -> list[Cell]:
    """Cells whose readings contradict the rest or were spoilt by a slip, and that may be read once more."""
    times = read_times(belief)
    found = [(each.evidence.pin, each.evidence.setup) for each in belief.contradictions]
    found += [(pin, family.setup) for family in belief.families for pin in family.pins]
    return [cell for cell in dict.fromkeys(found) if times[cell] < MOST_READ]


def dead_pins(belief: Belief) -> set[str]:
    """Pins that have read nothing with everything off, and have never been live: only there ohms may be asked for."""
    odd = {id(each.evidence) for each in belief.contradictions}
    evidence = [item for item in belief.point.evidence if id(item) not in odd]
    found = {item.pin for item in evidence if item.setup.state.is_dead and is_dead(item)}
    return found - {item.pin for item in evidence if is_live(item)}


@lru_cache(maxsize=512)
def outcomes_by_world(setup: Setup) -> Array:
    """Chance of each kind of outcome, (n_worlds, n_hypotheses, n_outcomes) [-], mistakes included."""
    table = [
        [
            _outcomes_in(setup.instrument, conditions(function, variant, setup.state, scenario, lamps, setup.load))
            for function, variant, _ in HYPOTHESES
        ]
        for scenario, lamps in WORLDS
    ]
    return np.array(table)


@lru_cache(maxsize=4096)
def _outcomes_in(instrument: Instrument, where: tuple[tuple[Condition, float], ...]) -> Array:
    """The same on a pin in known conditions, (n_outcomes,) [-]; relative to the battery, so any voltage will do."""
    meter, supply_v = meter_for(instrument), 12.6
    right = shown_in(instrument, where, supply_v).outcomes(meter.edges)
    return allowing_mistakes(right, meter.mistaken(supply_v).outcomes(meter.edges), MISTAKE_RATE)


def per_function(belief: Belief, wires: Sequence[int], setup: Setup) -> tuple[Array, Array]:
    """Each function's probability per wire, and its outcomes: (n_wires, n_functions), (n_functions, n_outcomes).

    Variants of one function are averaged: telling them apart is worth nothing here.
    """
    outcomes = np.einsum("g,gho->ho", belief.worlds, outcomes_by_world(setup))
    weight = belief.unclaimed[list(wires)].sum(axis=0) + 1e-12
    given = np.add.reduceat(weight[:, None] * outcomes, FIRST_OF, axis=0)
    given /= np.maximum(np.add.reduceat(weight, FIRST_OF), 1e-300)[:, None]
    return np.add.reduceat(belief.unclaimed[list(wires)], FIRST_OF, axis=1), given
