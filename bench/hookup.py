"""How long the search for a hook-up takes: the accessory of most leads, and 12 sources for 6 leads."""

from __future__ import annotations

import json
import statistics
import time
from typing import Any

from electrics.hookup.accessories import accessories
from electrics.job.hookup_file import read_job
from electrics.job.ways import forget

TWELVE = (
    "tail",
    "stop",
    "turn_left",
    "turn_right",
    "stop_turn_left",
    "stop_turn_right",
    "reverse",
    "battery",
    "ignition",
    "low_beam",
    "high_beam",
    "drl",
)
SIX = ("tail", "stop_turn_left", "stop_turn_right", "reverse", "stop", "tail and not reverse")


def search_ms(functions: tuple[str, ...], **wanted: Any) -> float:
    """Median time of searching all leads and trying their ways on the circuit until the best is known [ms]."""
    sources = [{"name": function, "function": function} for function in functions]
    text = json.dumps({"format": "hailstone-hookup", "version": 1, "sources": sources, **wanted})
    times = []
    for _ in range(6):
        forget()
        start = time.perf_counter()
        job = read_job(text)
        for lead in job.leads:
            job.judged(lead)
        times.append(time.perf_counter() - start)
    return 1e3 * statistics.median(times[1:])


def largest_job() -> float:
    """The accessory with the most leads, on the circuits of a rear lamp [ms]."""
    largest = max(accessories(), key=lambda each: len(each.leads))
    return search_ms((*TWELVE[:4], *TWELVE[6:9]), accessory=largest.id)


def large_vehicle() -> float:
    """Twelve sources, six leads [ms]."""
    leads = [{"lead": f"lead {n}", "wanted": text, "each_a": 0.3} for n, text in enumerate(SIX)]
    return search_ms(TWELVE, arrangement="combined", leads=leads)
