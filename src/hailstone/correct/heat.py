"""Heat of a load resistor over time as a plot: flashing and brake held, at the highest voltage, with the limits."""

from __future__ import annotations

from dataclasses import dataclass

from electrics.correct.resistor import FLASHING_DUTY
from electrics.document.vehicle import VehicleFacts
from electrics.job.correction import Correction
from electrics.job.cures.base import Proposal
from electrics.reference.habits import AIR_C, habit
from electrics.reference.mounts import body_c, mounts
from electrics.reference.usual import HIGHEST_V, system_scale

__all__ = ["Curve", "HeatPlot", "heat_plot"]

MINUTES, STEPS = 30, 60
WIDTH, HEIGHT, LEFT, TOP, BOTTOM = 470, 250, 44, 14, 30
MOST_C = 240.0
LIMITS = ((60.0, "skin burns"), (100.0, "loom and housings give way"), (200.0, "the case dies"))


@dataclass(frozen=True)
class Curve:
    """One curve: its points as a path, what it is, where it ends [C], and where its name stands."""

    path: str
    name: str
    end_c: float
    label_y: float
    is_dashed: bool


@dataclass(frozen=True)
class HeatPlot:
    """Curves, limits as (height, text) and ticks as (place, text)."""

    title: str
    curves: tuple[Curve, ...]
    limits: tuple[tuple[float, str], ...]
    x_ticks: tuple[tuple[float, str], ...]
    y_ticks: tuple[tuple[float, str], ...]
    width: int = WIDTH
    height: int = HEIGHT
    left: int = LEFT
    bottom: int = HEIGHT - BOTTOM


def heat_plot(found: Correction, vehicle: VehicleFacts) -> HeatPlot | None:
    """The heat of the resistor that is offered first, or was taken; None where none is."""
    resistors = [each for each in found.open if each.fit is not None and each.decision is not None]
    taken = {(cure.ohm, cure.mount) for cure in found.taken}
    chosen = next((each for each in resistors if each.fit and (each.fit.ohm, each.fit.mount) in taken), None)
    proposal = chosen or next(iter(resistors), None)
    return _plot(proposal, vehicle) if proposal is not None else None


def _plot(proposal: Proposal, vehicle: VehicleFacts) -> HeatPlot | None:
    fit = proposal.fit
    if fit is None or fit.case_w is None:
        return None
    lit_w = (HIGHEST_V * system_scale(vehicle.system_v)) ** 2 / fit.ohm
    air_c = habit(vehicle.habits, AIR_C)
    duties = [(FLASHING_DUTY, "flashing", False)]
    if "held_hot" in proposal.costs:
        duties.append((1.0, "brake held", True))
    curves = tuple(_curve(fit.case_w, fit.mount, duty * lit_w, air_c, name, dashed) for duty, name, dashed in duties)
    return HeatPlot(
        f"Heat of {fit.ohm:g} Ω in a {fit.case_w:g} W case, {mounts()[fit.mount].name}, in air of {air_c:g} °C",
        curves,
        tuple((_y(limit), text) for limit, text in LIMITS),
        tuple((_x(minute), f"{minute} min") for minute in range(0, MINUTES + 1, 10)),
        tuple((_y(celsius), f"{celsius:g} °C") for celsius in (25, 60, 100, 150, 200)),
    )


def _curve(case_w: float, mount: str, watts: float, air_c: float, name: str, is_dashed: bool) -> Curve:
    times = [60.0 * MINUTES * n / STEPS for n in range(STEPS + 1)]
    temperatures = [body_c(case_w, mount, watts, seconds, air_c) for seconds in times]
    points = [f"{_x(t / 60):.1f} {_y(min(c, MOST_C)):.1f}" for t, c in zip(times, temperatures, strict=True)]
    end_c = temperatures[-1]
    label_y = _y(min(end_c, MOST_C)) + (-7 if is_dashed else 16)
    return Curve("M" + " L".join(points), name, end_c, label_y, is_dashed)


def _x(minutes: float) -> float:
    return round(LEFT + (WIDTH - LEFT - 10) * minutes / MINUTES, 1)


def _y(celsius: float) -> float:
    return round(TOP + (HEIGHT - TOP - BOTTOM) * (1 - celsius / MOST_C), 1)
