"""Draws docs/plots: what `python -m bench --plots` makes, from the same runs as the printed figures."""

from __future__ import annotations

from collections.abc import Mapping
from itertools import pairwise
from pathlib import Path

import matplotlib

matplotlib.use("agg")
import matplotlib.pyplot as plt

from bench.circuit import growth
from bench.identify import ALL_KINDS, Score, full_grids, lower_bound, upper_bound
from bench.taps import Tally

PLOTS = Path(__file__).resolve().parent.parent / "docs" / "plots"
EDGES = (0.0, 0.5, 0.7, 0.8, 0.9, 0.95, 0.98, 0.99, 1.0001)
STATED = (0.0, 1e-3, 2e-3, 3e-3, 5e-3, 1e-2, 1.0)
LEAST_INSIDE = 30
INK, ACCENT, ROUTINE = "#22323a", "#1f7a99", "#8a6d3b"


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


def taps(found: Mapping[tuple[str, str], Tally]) -> None:
    """How many jobs have their right taps after how many readings; and how often a stated wrong tap was one."""
    figure, (done, told) = plt.subplots(1, 2, figsize=(9.6, 4.2), dpi=110)
    for n, style in ((1, "-"), (2, "--"), (3, ":")):
        for player, color in (("advice", ACCENT), ("routine", ROUTINE)):
            tally = found[player, f"{n} wanted, alone"]
            after = sorted(tally.right_after)
            share = [100.0 * (k + 1) / tally.jobs for k in range(len(after))]
            done.step(after, share, style, where="post", color=color, label=f"{player}, {n} wanted")
    done.set(xlabel="readings taken [-]", ylabel="jobs with all the right taps [%]", xlim=(0, 45), ylim=(0, 101))
    done.legend(frameon=False, loc="lower right", fontsize=8)
    pairs = sorted(each for (player, _), tally in found.items() if player == "advice" for each in tally.told)
    told.plot([1e-4, 0.1], [1e-4, 0.1], color="#9fb0b8", linewidth=1, label="as often wrong as stated")
    for low, high in pairwise(STATED):
        inside = [each for each in pairs if low <= each[0] < high]
        wrong = sum(was for _, was in inside)
        if len(inside) >= LEAST_INSIDE:
            stated = sum(doubt for doubt, _ in inside) / len(inside)
            least, most = lower_bound(wrong, len(inside)), upper_bound(wrong, len(inside))
            told.plot([stated, stated], [max(least, 1e-4), most], color=ACCENT)
            told.plot(stated, max(wrong / len(inside), 1e-4), "o", color=ACCENT)
            told.annotate(
                f"{wrong} of {len(inside)}", (stated, most), color=INK, fontsize=8, ha="center", va="bottom"
            )
    told.set(xscale="log", yscale="log", xlim=(3e-4, 0.03), ylim=(1e-4, 0.1))
    told.set(xlabel="stated chance of a wrong tap in a job [-]", ylabel="jobs with a wrong tap, 90 % between [-]")
    told.legend(frameon=False, loc="upper left", fontsize=8)
    for axes in (done, told):
        axes.grid(color="#dde5e8", linewidth=0.6)
    figure.tight_layout()
    figure.savefig(PLOTS / "taps.png")
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
