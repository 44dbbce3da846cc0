"""Where to tap: each wire's signal against the behaviour wanted, in every state.

A direct tap passes the wire's signal on unchanged, so its truth table is the wire's own. Both variants of
`brake_with_hazard` count, and the flash phases are compared lit and dark.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from functools import cache, lru_cache

from electrics.identify.belief import Belief, WireBelief
from electrics.reference.tables import Table, read_table
from electrics.signals import Scenario, Signal, signal
from electrics.vocabulary import (
    Arrangement,
    BrakeWithHazard,
    Function,
    Polarity,
    State,
    parse_state,
)

__all__ = ["TABLE_STATES", "Addition", "Tap", "TruthRow", "additions", "rank_taps", "truth_table"]

TABLE_STATES: tuple[State, ...] = tuple(
    parse_state(text)
    for text in (
        "rest",
        "key",
        "park",
        "brake",
        "left",
        "right",
        "hazard",
        "reverse",
        "low",
        "fog_rear",
        "brake+left",
        "brake+right",
        "brake+hazard",
        "park+left",
        "park+right",
        "park+hazard",
        "park+brake",
        "park+reverse",
        "brake+reverse",
    )
)
"""States that a hook-up is compared in: every control, and the combinations that catch people out."""

NEVER = frozenset({Function.DATA, Function.SPARE, Function.DEAD_FEED, Function.GROUND, Function.MARKER_BETWEEN})


@dataclass(frozen=True)
class Addition:
    """Something people add, and the behaviour it wants.

    Attributes
    ----------
    lamp : str
        What one of it is called on a sheet.
    each_a : float
        Usual current of one [A].
    """

    id: str
    name: str
    lamp: str
    wanted: Function
    count: int
    each_a: float


@dataclass(frozen=True)
class TruthRow:
    """One state: what is wanted and what a tap gives."""

    state: State
    wanted: Signal
    got: Signal

    @property
    def agrees(self) -> bool:
        return self.wanted == self.got


@dataclass(frozen=True)
class Tap:
    """One wire as a place to tap.

    Attributes
    ----------
    rows : tuple of TruthRow
        Wanted against got in every state of `TABLE_STATES`.
    wrong : tuple of State
        Where they differ, in any variant of the vehicle.
    refusals : tuple of str
        Rule ids: `never` (data, spare, dead feed, ground, marker), `unsettled`, `differs`, `pulsed`,
        `ground_switched`; empty when it may be tapped.
    """

    wire: WireBelief
    rows: tuple[TruthRow, ...]
    wrong: tuple[State, ...]
    refusals: tuple[str, ...]

    @property
    def is_right(self) -> bool:
        return not self.refusals


@cache
def additions() -> Table[Addition]:
    """The things people add."""
    return read_table(
        "additions",
        ("addition", "name", "lamp", "wanted", "count", "each_a"),
        lambda row: Addition(
            row["addition"],
            row["name"],
            row["lamp"],
            Function(row["wanted"]),
            int(row["count"]),
            float(row["each_a"]),
        ),
    )


@lru_cache(maxsize=1024)
def truth_table(wanted: Function, source: Function, scenario: Scenario, variant: str = "") -> tuple[TruthRow, ...]:
    """Wanted against got in every state, for a lamp tapped straight to a circuit.

    Parameters
    ----------
    wanted : Function
        The behaviour wanted.
    source : Function
        What the tapped wire does.
    scenario : Scenario
        Of the vehicle.
    variant : str
        Which way of doing it the tapped wire has; empty for the most common one.

    Returns
    -------
    tuple of TruthRow
        One for each of `TABLE_STATES`.
    """
    return tuple(
        TruthRow(state, signal(wanted, state, scenario), signal(source, state, scenario, variant))
        for state in TABLE_STATES
    )


def rank_taps(belief: Belief, wanted: Function) -> tuple[Tap, ...]:
    """Every wire of an access point as a tap for a behaviour, best first.

    Parameters
    ----------
    belief : Belief
    wanted : Function

    Returns
    -------
    tuple of Tap
        Allowed taps first, then by the number of wrong states and by certainty; the losers say why.
    """
    arrangement = max(belief.arrangement, key=lambda key: belief.arrangement[key])
    taps = [_judge(wire, wanted, arrangement) for wire in belief.wires]
    return tuple(sorted(taps, key=lambda tap: (len(tap.refusals) > 0, len(tap.wrong), -tap.wire.probability)))


def _judge(wire: WireBelief, wanted: Function, arrangement: Arrangement) -> Tap:
    tables = [truth_table(wanted, wire.function, Scenario(arrangement, who), wire.variant) for who in BrakeWithHazard]
    wrong = _wrong_states(tables)
    refusals = [
        rule
        for rule, is_broken in (
            ("never", wire.function in NEVER),
            ("differs", bool(wrong) and wire.function not in NEVER),
            ("ground_switched", wire.polarity is Polarity.GROUND),
            ("pulsed", any(row.got.word in ("part", "varying") for row in tables[0])),
            ("unsettled", not wire.is_settled),
        )
        if is_broken
    ]
    return Tap(wire, tables[0], wrong, tuple(refusals))


def _wrong_states(tables: Sequence[Sequence[TruthRow]]) -> tuple[State, ...]:
    return tuple(rows[0].state for rows in zip(*tables, strict=True) if not all(row.agrees for row in rows))
