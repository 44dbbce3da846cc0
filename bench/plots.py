"""Draws docs/plots: what `python -m bench --plots` makes, from the same runs as the printed figures."""

from __future__ import annotations

from itertools import pairwise
from pathlib import Path

import matplotlib

matplotlib.use("agg")
import matplotlib.pyplot as plt

from bench.circuit import growth
from bench.identify import ALL_KINDS, Score, full_grids

PLOTS = Path(__file__).resolve().parent.parent / "docs" / "plots"
EDGES = (0.0, 0.5, 0.7, 0.8, 0.9, 0.95, 0.98, 0.99, 1.0001)
INK, ACCENT = "#22323a", "#1f7a99"


def draw_all() -> None:
    PLOTS.mkdir(exist_ok=True)
    reliability()
    circuit_growth()


def circuit_growth() -> None:
    """How the cost of a state table grows with the number of elements."""
    points = growth()
    figure, axes = plt.subplots(figsize=(5.2, 3.6), dpi=110)
    axes.plot([n for n, _ in points], [ms for _, ms in points], "o-", color=ACCENT)
    axes.set(xlabel="elements [-]", ylabel="all states and phases [ms]", xlim=(0, 210), ylim=(0, None))
    axes.grid(color="#dde5e8", linewidth=0.6)
    figure.tight_layout()
    figure.savefig(PLOTS / "circuit-growth.png")
    plt.close(figure)


def reliability() -> None:
    """How often verdicts are right, against how sure they were."""
    score = Score()
    for mistakes in (0.0, 0.02, 0.05, 0.10):
        score.sure += full_grids(mistakes, ALL_KINDS).sure
        score.sure += full_grids(mistakes, ALL_KINDS, missing=0.5).sure
    figure, axes = plt.subplots(figsize=(5.2, 4.4), dpi=110)
    axes.plot([0, 1], [0, 1], color="#9fb0b8", linewidth=1, label="as sure as it is right")
    for low, high in pairwise(EDGES):
        share, count = score.between(low, high)
        if not count:
            continue
        inside = [sure for sure, _ in score.sure if low <= sure < high]
        centre = sum(inside) / count
        spread = 2 * (max(share * (1 - share), 0.25 / count) / count) ** 0.5
        axes.errorbar(centre, share, yerr=spread, fmt="o", color=ACCENT, ecolor=ACCENT, capsize=3)
        axes.annotate(f"{count}", (centre, share), textcoords="offset points", xytext=(-14, 7), color=INK, fontsize=8)
    axes.set(xlabel="probability of the verdict [-]", ylabel="share of these verdicts that is right [-]")
    axes.set(xlim=(0.2, 1.02), ylim=(0.2, 1.04))
    axes.legend(frameon=False, loc="upper left")
    axes.grid(color="#dde5e8", linewidth=0.6)
    figure.tight_layout()
    figure.savefig(PLOTS / "reliability.png")
    plt.close(figure)
