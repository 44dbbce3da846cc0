"""Load resistors: from the current that a flasher or a monitor waits for to ohms, watts, case, mount and heat.

A resistor is sized at the lowest running voltage, where it draws least, and judged at the highest, where it heats
most. Its tolerance counts against it both times. What is taken is the largest that passes: it is the coolest.
"""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from dataclasses import dataclass
from functools import cache
from math import inf

from electrics.errors import FactError
from electrics.reference.mounts import bears_w, body_c, mounts
from electrics.reference.parts import BODY_LIMIT_C, RATED_AT_C, housed_resistors
from electrics.reference.usual import HIGHEST_V, LED_STARTS_V, LOWEST_V, RUNNING_V, system_scale

__all__ = [
    "FLASHING_DUTY",
    "TRADE_OHM",
    "Need",
    "ResistorFit",
    "Window",
    "choose_case",
    "e_series",
    "fit_resistor",
    "is_sold",
    "led_least_a",
    "mean_heat_w",
    "window",
]

TOLERANCE = 0.05
TRADE_OHM = (3.0, 5.0, 6.0, 8.0, 10.0, 25.0, 50.0)
"""What the trade sells as load resistors for 12 V [ohm] (common practice); on 6 and 24 V E12 and E24 are sold."""
FLASHING_DUTY = 0.75
"""The largest lit share of a flash that is legal (SAE J590, from memory) [-]."""
FILAMENT_EXPONENT = 0.54
AIM_C = 170.0
"""What a body is kept below where a larger case does it: what lies near it lives longer [C] (estimate)."""


@dataclass(frozen=True)
class Need:
    """What a resistor must make up.

    Attributes
    ----------
    threshold_a : float
        What flasher or monitor waits for [A].
    led_a : float
        What the LEDs on it draw at running voltage [A].
    bulbs_a : float
        What the filament bulbs that stay draw at running voltage [A].
    most_a : float
        What fuse and wire allow at the highest voltage, all together [A]; infinite where not known.
    count : int
        Resistors that share it, all alike [-].
    is_held : bool
        The circuit can burn steadily: the brake on a combined lamp, a tail lamp all night.
    system_v : int
        6, 12 or 24 [V].
    loss_v : float
        What the wires to it lose with the load that is waited for, some more than they do [V].
    """

    threshold_a: float
    led_a: float = 0.0
    bulbs_a: float = 0.0
    most_a: float = inf
    count: int = 1
    is_held: bool = False
    system_v: int = 12
    loss_v: float = 0.0

    @property
    def scale(self) -> float:
        return system_scale(self.system_v)

    @property
    def duty(self) -> float:
        return 1.0 if self.is_held else FLASHING_DUTY


@dataclass(frozen=True)
class Window:
    """What a resistor must lie between [ohm], and the current that is missing at the lowest voltage [A]."""

    least_ohm: float
    most_ohm: float
    missing_a: float


@dataclass(frozen=True)
class ResistorFit:
    """A resistor that passes.

    Attributes
    ----------
    series : str
        Where its value comes from: `trade`, `E12`, `E24` or `stock`.
    amps_a, watts_w : float
        One of them at running voltage, lit [A], [W].
    heat_w : float
        Mean at the highest voltage with the largest duty that can occur [W].
    case_w : float or None
        The smallest case that survives that on its mount; None where none does.
    settled_c : float
        Its body then [C]; above 200 C the figure means nothing.
    """

    ohm: float
    series: str
    count: int
    amps_a: float
    watts_w: float
    heat_w: float
    case_w: float | None
    mount: str
    settled_c: float

    @property
    def survives(self) -> bool:
        return self.case_w is not None


def led_least_a(led_a: float, volts: float, scale: float = 1.0) -> float:
    """The least that LEDs may draw at a voltage [A]: a string, whose current falls faster than any other's.

    Parameters
    ----------
    led_a : float
        At running voltage [A].
    volts : float
        [V]
    scale : float
        Of the system over 12 V [-].
    """
    return led_a * min(max((volts / scale - LED_STARTS_V) / (RUNNING_V - LED_STARTS_V), 0.0), 1.0)


def window(need: Need, tolerance: float = TOLERANCE) -> Window:
    """Between which nominal values a resistor must lie, tolerance counted.

    Parameters
    ----------
    need : Need
    tolerance : float
        Of the resistor [-].

    Returns
    -------
    Window

    Raises
    ------
    FactError
        Currents or a tolerance that cannot be.
    """
    _check(need, tolerance)
    low_v, high_v = LOWEST_V * need.scale, HIGHEST_V * need.scale
    falls = (low_v / (RUNNING_V * need.scale)) ** FILAMENT_EXPONENT
    missing_a = need.threshold_a - led_least_a(need.led_a, low_v, need.scale) - need.bulbs_a * falls
    most_ohm = inf if missing_a <= 0 else need.count * (low_v - need.loss_v) / missing_a / (1 + tolerance)
    rises = (high_v / (RUNNING_V * need.scale)) ** FILAMENT_EXPONENT
    spare_a = (
        need.most_a
        - need.led_a * (high_v / need.scale - LED_STARTS_V) / (RUNNING_V - LED_STARTS_V)
        - need.bulbs_a * rises
    )
    least_ohm = 0.0 if spare_a == inf else inf if spare_a <= 0 else need.count * high_v / spare_a / (1 - tolerance)
    return Window(least_ohm, most_ohm, max(missing_a, 0.0))


def fit_resistor(
    need: Need,
    *,
    mount: str = "metal",
    ambient_c: float = RATED_AT_C,
    tolerance: float = TOLERANCE,
    stock_ohm: Sequence[float] = (),
) -> ResistorFit | None:
    """The largest value that passes, with the smallest case that survives.

    Parameters
    ----------
    need : Need
    mount : str
        Of `electrics.reference.mounts`.
    ambient_c : float
        Air around it [C].
    tolerance : float
        [-]
    stock_ohm : sequence of float
        What the shop has, in place of trade values and E series [ohm].

    Returns
    -------
    ResistorFit or None
        None where nothing is missing, or no value lies in the window.
    """
    found = window(need, tolerance)
    if found.most_ohm == inf:
        return None
    for ohm, series in _values(need, stock_ohm):
        if found.least_ohm <= ohm <= found.most_ohm:
            return describe(need, ohm, series, mount=mount, ambient_c=ambient_c, tolerance=tolerance)
    return None


def describe(
    need: Need,
    ohm: float,
    series: str = "",
    *,
    mount: str = "metal",
    ambient_c: float = RATED_AT_C,
    tolerance: float = TOLERANCE,
) -> ResistorFit:
    """What a value means in watts, case and heat; see `fit_resistor`."""
    running_v = RUNNING_V * need.scale
    heat_w = mean_heat_w(ohm, need.duty, need.system_v, tolerance)
    limit_c = mounts()[mount].limit_c if mount in mounts().rows else BODY_LIMIT_C
    case_w = choose_case(heat_w, mount, ambient_c, min(AIM_C, limit_c)) or choose_case(
        heat_w, mount, ambient_c, limit_c
    )
    largest = max(case.watts for case in housed_resistors())
    settled_c = body_c(case_w or largest, mount, heat_w, inf, ambient_c)
    return ResistorFit(ohm, series, need.count, running_v / ohm, running_v**2 / ohm, heat_w, case_w, mount, settled_c)


def mean_heat_w(ohm: float, duty: float, system_v: int, tolerance: float = TOLERANCE) -> float:
    """Heat in a resistor at the highest voltage, its tolerance against it [W].

    Parameters
    ----------
    ohm : float
        [ohm]
    duty : float
        Share of the time that it is on [-].
    system_v : int
        6, 12 or 24 [V].
    tolerance : float
        Of the resistor [-].
    """
    return duty * (HIGHEST_V * system_scale(system_v)) ** 2 / (ohm * (1 - tolerance))


def choose_case(
    heat_w: float, mount: str, ambient_c: float = RATED_AT_C, limit_c: float = BODY_LIMIT_C
) -> float | None:
    """The smallest case whose body stays below a limit [C] at a mean power [W] on a mount; None where none does."""
    if mount not in mounts().rows:
        raise FactError("mount", f"“{mount}” is no mount. Expected one of {', '.join(mounts().rows)}.")
    if not -50 <= ambient_c <= 120:
        raise FactError("ambient_c", f"{ambient_c:g} C around it cannot be. Expected -50 to 120 C.")
    for case in sorted(housed_resistors(), key=lambda each: each.watts):
        share = (limit_c - ambient_c) / (BODY_LIMIT_C - ambient_c)
        if heat_w <= share * bears_w(case.watts, mount, ambient_c):
            return case.watts
    return None


@cache
def e_series(n: int) -> tuple[float, ...]:
    """One decade of E12 or E24 [-] (IEC 60063)."""
    lower = (1.0, 1.1, 1.2, 1.3, 1.5, 1.6, 1.8, 2.0, 2.2, 2.4, 2.7, 3.0)
    upper = (3.3, 3.6, 3.9, 4.3, 4.7, 5.1, 5.6, 6.2, 6.8, 7.5, 8.2, 9.1)
    if n not in (12, 24):
        raise FactError("series", f"E{n} is not kept. Expected E12 or E24.")
    return (*lower, *upper)[:: 24 // n]


def _values(need: Need, stock_ohm: Sequence[float]) -> Iterable[tuple[float, str]]:
    """Values to choose from, each series largest first: what the shop has, else the trade's, then E12 and E24."""
    if stock_ohm:
        return [(ohm, "stock") for ohm in sorted(stock_ohm, reverse=True)]
    trade = [(ohm, "trade") for ohm in sorted(TRADE_OHM, reverse=True)] if need.system_v == 12 else []
    decades = [(round(d * ohm, 2), f"E{n}") for n in (12, 24) for d in (0.1, 1.0, 10.0, 100.0) for ohm in e_series(n)]
    return trade + sorted(decades, key=lambda each: (each[1], -each[0]))


def is_sold(ohm: float, system_v: int, stock_ohm: Sequence[float] = ()) -> bool:
    """Whether a load resistor of a value can be had: from the shelf, from the trade on 12 V, or of E12 or E24."""
    known = {*stock_ohm, *(TRADE_OHM if system_v == 12 else ())}
    known |= {round(decade * each, 3) for decade in (0.1, 1.0, 10.0, 100.0, 1000.0) for each in e_series(24)}
    return any(abs(ohm - each) <= 1e-6 * each for each in known)


def _check(need: Need, tolerance: float) -> None:
    if need.system_v not in (6, 12, 24):
        raise FactError("system_v", f"{need.system_v} V is no vehicle system. Expected 6, 12 or 24 V.")
    if not 0 < need.threshold_a <= 30:
        raise FactError("threshold_a", f"A threshold of {need.threshold_a:g} A cannot be. Expected up to 30 A.")
    for name in ("led_a", "bulbs_a"):
        if not 0 <= getattr(need, name) <= 30:
            raise FactError(name, f"{getattr(need, name):g} A cannot be. Expected 0 to 30 A.")
    if not need.most_a > 0:
        raise FactError("most_a", f"{need.most_a:g} A cannot be allowed. Expected more than nothing.")
    if not 1 <= need.count <= 8:
        raise FactError("count", f"{need.count} resistors cannot be. Expected 1 to 8.")
    if not 0 <= tolerance <= 0.2:
        raise FactError("tolerance", f"A tolerance of {100 * tolerance:g} % cannot be. Expected 0 to 20 %.")
