"""Random jobs, of any units on any places, light from their sheets alone."""

from __future__ import annotations

import json
import random

from electrics.errors import FactError
from electrics.formats.json_file import FileError
from electrics.hookup.units import unit_kinds
from electrics.job.job_file import read_job_file
from hailstone.plan_file import best_plan
from sheet_light import lights_as_wanted

JOBS = 16
WISHES = (
    "tail", "stop", "reverse", "turn_left", "turn_right", "tail and not reverse", "over(turn_left, tail)",
    "reverse or own_switch", "stop_turn_left", "stop_turn_right", "tail or stop", "ignition and reverse",
)  # fmt: skip


def said(*functions):
    return [{"pin": str(n), "function": function} for n, function in enumerate(functions, start=1)]


def a_job(rng):
    arrangement = rng.choice(["separate", "combined"])
    signals = ("stop", "turn_{}") if arrangement == "separate" else ("stop_turn_{}",)
    places = []
    for side in ("left", "right"):
        rear = [function.format(side) for function in ("ground", "tail", *signals, "reverse")]
        places.append({"name": f"{side} tail lamp", "kind": "rear_lamp", "side": side, "wires": said(*rear)})
        front = said("ground", "tail", f"turn_{side}")
        places.append({"name": f"{side} front lamp", "kind": "front_lamp", "side": side, "wires": front})
    places = rng.sample(places, rng.choice([2, 3, 4]))
    if rng.random() < 0.4:
        places.append({"name": "fuse box", "kind": "fuse_box", "wires": said("tail", "reverse", "battery")})
    return {
        "format": "hailstone-job",
        "version": 1,
        "vehicle": {
            "arrangement": arrangement,
            "computer": "no",
            "system_v": rng.choice([12, 12, 24, 6]),
            **({"brake_with_hazard": "flash_wins"} if arrangement == "combined" else {}),
        },
        "places": places,
        "units": [a_unit(rng, f"unit {n}") for n in range(rng.choice([1, 1, 2, 3]))],
        "runs": [{"ground": rng.choice(["wire", "body", "lamp"]), "joint": rng.choice(["solder", "t_harness"])}],
    }


def a_unit(rng, name):
    unit = {"name": name, "side": rng.choice(["left", "right"]), "lamps": rng.choice([1, 1, 1, 3])}
    if rng.random() < 0.6:
        return unit | {"kind": rng.choice([kind.id for kind in unit_kinds()])}
    leads = [{"lead": "common", "wants": rng.choice(["ground", "ground", "battery"])}]
    for n in range(rng.choice([1, 2])):
        load = {"amps": rng.choice([0.1, 0.5, 2.1]), "technology": rng.choice(["led", "filament"])}
        leads.append({"lead": f"lead {n}", "wants": rng.choice(WISHES), **load})
    return unit | {"leads": leads}


def test_random_jobs_light_from_their_sheets_alone(tmp_path, monkeypatch):
    """Those that have a way for every lead; ngspice is asked for the kinds and forms elsewhere."""
    monkeypatch.setattr("ngspice.NGSPICE", None)
    rng, lit = random.Random(20261127), 0
    while lit < JOBS:
        try:
            found = best_plan(read_job_file(json.dumps(a_job(rng))))
        except (FileError, FactError):  # too much current for any lamp circuit
            continue
        together = found.hookup.together
        if together is not None:
            assert not any(together.wrong)
            lights_as_wanted(found, tmp_path)
            lit += 1
