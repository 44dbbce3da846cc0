"""The added run of wire: voltage drop, fuse, and the thinnest size that passes both.

Drop counts the way out and the way back: a chassis return shortens the way back to a measured or
assumed length of wire.
"""

from __future__ import annotations

from dataclasses import dataclass

from electrics.errors import FactError
from electrics.reference.conductor import HOT_C, Conductor, WireStandard, conductors
from electrics.reference.fuses import FuseRating, fuses
from electrics.reference.usual import FEED_LOSS_V, RUNNING_V

__all__ = [
    "SHOP_RANGE_MM2",
    "Run",
    "RunRules",
    "WireOption",
    "choose_fuse",
    "drop_v",
    "wire_options",
]

FUSE_FACTOR = 1.25
"""A fuse is at least this many times the load (common practice)."""
AIM_SHARE = 0.03
"""Share of the voltage that a lamp run may drop (common practice; 0.4 V on 12 V)."""
NEVER_OVER_SHARE = FEED_LOSS_V / RUNNING_V
"""Never over 0.5 V on a 12 V system running at 13.5 V (common practice)."""
LONGEST_RUN_M = 60.0
SHOP_RANGE_MM2 = 0.75
"""Thinnest copper for added lamps, 18 AWG and its metric neighbour (common practice: 14 to 18 AWG)."""


@dataclass(frozen=True)
class Run:
    """A length of wire out to the load, and back.

    Attributes
    ----------
    out_m, back_m : float
        Length of wire each way [m]; `back_m` is short with a chassis return.
    load_a : float
        Current [A].
    voltage_v : float
        Running voltage [V].
    shared_a : float
        What others send through the same way back [A].
    """

    out_m: float
    back_m: float
    load_a: float
    voltage_v: float
    shared_a: float = 0.0

    def __post_init__(self) -> None:
        for field, length in (("out_m", self.out_m), ("back_m", self.back_m)):
            if not 0 <= length <= LONGEST_RUN_M:
                raise FactError(
                    field, f"{length:g} m of wire cannot be. Expected up to {LONGEST_RUN_M:g} m; is it in metres?"
                )
        if self.out_m == 0:
            raise FactError("out_m", "The way out has no length. Measure it along the factory loom.")


@dataclass(frozen=True)
class RunRules:
    """What a run is judged by.

    Attributes
    ----------
    aim_v, most_v : float
        Drop to aim at, and never to exceed [V].
    fuse_factor : float
        A fuse's rating over the load [-].
    fuse_a : float or None
        A fuse picked by hand [A]; the smallest that will do otherwise.
    """

    aim_v: float
    most_v: float
    fuse_factor: float = FUSE_FACTOR
    fuse_a: float | None = None


@dataclass(frozen=True)
class WireOption:
    """One size of wire for a run, judged.

    Attributes
    ----------
    drop_v, drop_share : float
        Over the way out and back, hot [V], [-].
    fuse : Fuse or None
        Smallest standard fuse that carries the load and protects the wire; None when there is none.
    faults : tuple of str
        Rule ids it breaks: `aim` (over 3 %), `drop` (over 0.5 V on 12 V), `fuse`; empty when it is right.
    """

    conductor: Conductor
    drop_v: float
    drop_share: float
    fuse: FuseRating | None
    faults: tuple[str, ...]

    @property
    def is_right(self) -> bool:
        return not self.faults


def drop_v(conductor: Conductor, run: Run, temperature_c: float = HOT_C) -> float:
    """Voltage lost out and back [V], conductor at `temperature_c` [C]."""
    carried = run.load_a * run.out_m + (run.load_a + run.shared_a) * run.back_m
    return carried * conductor.ohm_per_m(temperature_c)


def choose_fuse(load_a: float, wire_limit_a: float, factor: float = FUSE_FACTOR) -> FuseRating | None:
    """Smallest standard fuse at or above 1.25 x the load and at or below the wire's limit.

    Parameters
    ----------
    load_a : float
        Continuous current [A].
    wire_limit_a : float
        Largest fuse for the wire [A].
    factor : float
        In place of 1.25 [-].

    Returns
    -------
    Fuse or None
        None when the wire is too thin for any.
    """
    for fuse in fuses():
        if factor * load_a <= fuse.rating_a <= wire_limit_a:
            return fuse
    return None


def wire_options(
    run: Run, standard: WireStandard, temperature_c: float = HOT_C, rules: RunRules | None = None
) -> tuple[WireOption, ...]:
    """Every size of a standard, judged for a run; thinnest first.

    Parameters
    ----------
    run : Run
    standard : WireStandard
    temperature_c : float
        Of the copper [C].
    rules : RunRules, optional
        3 %, 0.5 V on 12 V and the smallest fuse otherwise.

    Returns
    -------
    tuple of WireOption
        The first that is right is the one to take.
    """
    rules = rules or RunRules(AIM_SHARE * run.voltage_v, NEVER_OVER_SHARE * run.voltage_v)
    options = []
    for conductor in conductors(standard):
        drop = drop_v(conductor, run, temperature_c)
        fuse = choose_fuse(run.load_a, conductor.largest_fuse_a, rules.fuse_factor)
        if rules.fuse_a is not None:
            fits = rules.fuse_factor * run.load_a <= rules.fuse_a <= conductor.largest_fuse_a
            fuse = next((each for each in fuses() if each.rating_a == rules.fuse_a), None) if fits else None
        faults = [
            fault
            for fault, is_broken in (
                ("aim", drop > rules.aim_v),
                ("drop", drop > rules.most_v),
                ("fuse", fuse is None),
            )
            if is_broken
        ]
        options.append(WireOption(conductor, drop, drop / run.voltage_v, fuse, tuple(faults)))
    return tuple(options)
