"""How long the search for a hook-up takes: the accessory of most leads, and 12 sources for 6 leads."""

from __future__ import annotations

import json
import random
import statistics
import time
from dataclasses import replace
from typing import Any

from bench.identify import MORE_STATES, SEED
from bench.vehicles import TrueAccessPoint, TrueWire, measure
from electrics.design.accessories import accessories
from electrics.document.decisions import HookUpDecisions
from electrics.document.job import JobFacts, Wish
from electrics.document.places import PlaceFacts, Setup, Side
from electrics.document.vehicle import VehicleFacts
from electrics.job.hookup_file import read_job
from electrics.job.plan import plan
from electrics.job.trials import forget
from electrics.signals import Scenario
from electrics.vocabulary import Arrangement, Function, parse_state

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


def plan_ms() -> tuple[float, float]:
    """From facts to test lines, the accessory with most leads on a rear lamp measured out: cold, and again [ms]."""
    largest = max(accessories(), key=lambda each: len(each.leads))
    rng = random.Random(SEED)
    functions = [Function.GROUND, *(lead.wanted.functions[0] for lead in largest.leads)]
    wires = tuple(TrueWire(str(n), each, "plain", False, 0.05, 0.01) for n, each in enumerate(functions, start=1))
    truth = TrueAccessPoint("rear_lamp", Side.LEFT, Scenario(Arrangement.SEPARATE), wires, 12.6)
    setups = [*truth.full_grid(), *(Setup(parse_state(state)) for state in MORE_STATES)]
    evidence = tuple(measure(truth, wire, setup, rng, 0.0) for setup in setups for wire in wires)
    place = PlaceFacts("left", replace(truth.empty(), evidence=evidence), tuple(wire.pin for wire in wires))
    facts = JobFacts(VehicleFacts(), (place,), Wish(largest.id, count=largest.count))
    forget()
    times = []
    for _ in range(2):
        start = time.perf_counter()
        found = plan(facts)
        best = {lead.lead.id: lead.right[0].key for lead in found.hookup.leads if lead.right}
        chosen = plan(replace(facts, hookup=HookUpDecisions(best)))
        if chosen.sheet is None or not chosen.sheet.lines:
            raise RuntimeError("the job that is timed has no test sheet")
        times.append(1e3 * (time.perf_counter() - start))
    return times[0], times[1]


def largest_job() -> float:
    """The accessory with the most leads, on the circuits of a rear lamp [ms]."""
    largest = max(accessories(), key=lambda each: len(each.leads))
    return search_ms((*TWELVE[:4], *TWELVE[6:9]), accessory=largest.id)


def large_vehicle() -> float:
    """Twelve sources, six leads [ms]."""
    leads = [{"lead": f"lead {n}", "wanted": text, "each_a": 0.3} for n, text in enumerate(SIX)]
    return search_ms(TWELVE, arrangement="combined", leads=leads)
