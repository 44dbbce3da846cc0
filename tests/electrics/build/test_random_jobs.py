"""Random jobs, of any things on any places by any way that is right, light from their sheets alone; with cures too."""

from __future__ import annotations

import json
import random
from dataclasses import replace

import pytest

from electrics.build.sheet import build_of
from electrics.circuit.wiring import review
from electrics.design.units import unit_kinds
from electrics.document.circuits import CircuitNotes, FedBy
from electrics.document.vehicle import Computer, FlasherKind
from electrics.errors import FactError
from electrics.formats.json_file import FileError
from electrics.job.correction import correct, with_cure
from electrics.job.job_file import read_job_file
from electrics.job.plan import plan
from electrics.vocabulary import Arrangement, Function
from protected import unprotected
from said import facts_of, with_best
from sheet_light import lights_as_wanted

JOBS, CURES = 24, 16
WISHES = (
    "tail", "stop", "reverse", "turn_left", "turn_right", "tail and not reverse", "over(turn_left, tail)",
    "reverse or own_switch", "stop_turn_left", "stop_turn_right", "tail or stop", "ignition and reverse",
    "over(turn_left, stop)", "stop and not turn_left", "battery and own_switch", "battery", "own_switch and not tail",
)  # fmt: skip
KINDS = [kind.id for kind in unit_kinds() if kind.id != "towed_own_lamp"]
"""What stands on a towed car already is tried elsewhere: its lamps are no parts of the job."""
SPOTS = ("canopy", "bumper", "gate")
REPLACED = (
    "led_bulbs",
    "led_bulbs_combined",
    "combined_tail_lamps",
    "separate_tail_lamps",
    "led_turns",
    "front_both",
)


@pytest.fixture(autouse=True)
def without_ngspice(monkeypatch):
    """It is asked for the kinds and the forms elsewhere."""
    monkeypatch.setattr("ngspice.NGSPICE", None)


def said(*functions):
    return [{"pin": str(n), "function": function} for n, function in enumerate(functions, start=1)]


def some_places(rng, arrangement):
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
    if rng.random() < 0.3:
        places.append({"name": "high stop", "kind": "high_stop", "wires": said("stop", "ground")})
    return places


def a_unit(rng, name, places):
    unit = {"name": name, "side": rng.choice(["left", "right", ""]), "lamps": rng.choice([1, 1, 1, 3])}
    unit |= {fact: True for fact in ("removable", "swinging", "wet") if rng.random() < 0.15}
    where = rng.random()
    if where < 0.35:
        unit["place"] = rng.choice(SPOTS)
    elif where < 0.6:
        place = rng.choice(places)
        unit |= {"instead_of": place["name"], "side": place.get("side", ""), "lamps": 1}
    if rng.random() < 0.5:
        return unit | {"kind": rng.choice(KINDS)}
    leads = [{"lead": "common", "wants": "ground"}]
    for n in range(rng.choice([1, 2])):
        load = {"amps": rng.choice([0.1, 0.5, 2.1]), "technology": rng.choice(["led", "filament"])}
        leads.append({"lead": f"lead {n}", "wants": rng.choice(WISHES), **load})
    if not unit.get("instead_of") and rng.random() < 0.2:
        leads = [{**each, "wants": "battery" if each["wants"] == "ground" else "reverse"} for each in leads[:2]]
    return unit | {"leads": leads}


def a_job(rng):
    arrangement = rng.choice(["separate", "combined"])
    places = some_places(rng, arrangement)
    units = [a_unit(rng, f"unit {n}", places) for n in range(rng.choice([1, 1, 2, 3]))]
    spots = sorted({unit["place"] for unit in units if "place" in unit})
    habit = {"brake_with_hazard": rng.choice(["flash_wins", "brake_wins"])} if arrangement == "combined" else {}
    return {
        "format": "hailstone-job",
        "version": 1,
        "vehicle": {
            "arrangement": arrangement,
            "computer": rng.choice(["no", "no", "yes"]),
            "system_v": rng.choice([12, 12, 24, 6]),
            **habit,
        },
        "places": places,
        "units": units,
        "distances": [{"between": [spot, places[0]["name"]], "m": round(rng.uniform(0.3, 8), 1)} for spot in spots],
        "runs": [{"ground": rng.choice(["wire", "body", "lamp"]), "joint": rng.choice(["solder", "t_harness"])}],
    }


def by_right_ways(rng, found, *, best):
    """The plan with a right way for each lead: the best, or any."""
    right = {lead.lead.id: lead.right for lead in found.hookup.leads if lead.right}
    return found.taking({id: (ways[0] if best else rng.choice(ways)).key for id, ways in right.items()})


def test_random_jobs_light_from_their_sheets_alone(tmp_path):
    """Those that have a way for every lead. Of other ways than the best the plan may say what all of them do at once."""
    rng, lit = random.Random(20261128), 0
    while lit < JOBS:
        best = lit % 2 == 0
        try:
            found = by_right_ways(rng, plan(read_job_file(json.dumps(a_job(rng)))), best=best)
        except (FileError, FactError):  # too much current for any lamp circuit, two things in place of one
            continue
        together = found.hookup.together
        if together is None or not all(lead.chosen for lead in found.hookup.leads):
            continue
        if any(together.wrong):
            assert not best
            continue
        lights_as_wanted(found, tmp_path)
        assert list(unprotected(found, build_of(found.hookup.design, found.hookup.accessory))) == []
        assert wrong_wiring(found) == []
        lit += 1


def wrong_wiring(found):
    """What the rules for a circuit that a person drew hold against the parts and wires of a design."""
    own = {part.label for part in found.hookup.design.parts} | {
        light.element.name for light in found.hookup.design.lights
    }
    own |= {f"wire {wire.label}" for wire in found.hookup.design.wires}
    seen = review(found.hookup.together.simulation)
    return [(each.rule, each.subject) for each in seen if each.rule in SIZED_BY_US and each.subject in own]


@pytest.mark.parametrize("system_v", [6, 12, 24])
def test_what_else_hangs_on_the_wires_of_a_towed_car_is_of_its_system(system_v):
    facts = facts_of("towed_car_diodes", Arrangement.COMBINED)
    found = with_best(replace(facts, vehicle=replace(facts.vehicle, system_v=system_v)))
    seen = review(found.hookup.together.simulation)
    assert [each for each in seen if each.rule in ("wrong_system", "over_volts")] == []


SIZED_BY_US = ("fuse_for_wire", "no_fuse", "wrong_system", "over_volts", "flashers_in_series", "sneak_feed")


def test_a_fuse_that_is_too_large_for_its_wire_is_found():
    """The test above can fail: 18 AWG behind 30 A."""
    found = with_best(
        facts_of("reverse_lamps", circuits={"reverse": CircuitNotes(FedBy.PLAIN, "P21W", 2, 10.0, "18")})
    )
    (circuit,) = (each for each in found.hookup.circuits if each.function is Function.REVERSE)
    larger = replace(circuit, notes=replace(circuit.notes, host_fuse_a=30.0))
    build = build_of(found.hookup.design, found.hookup.accessory)
    assert list(unprotected(found, build)) == []
    assert list(unprotected(replace(found, hookup=replace(found.hookup, circuits=(larger,))), build))


def a_replacement(rng):
    """Lamps in place of a vehicle's own, which may watch them."""
    kind = rng.choice(REPLACED)
    facts = facts_of(kind, Arrangement.COMBINED if "combined" in kind else Arrangement.SEPARATE)
    vehicle = replace(facts.vehicle, system_v=rng.choice([12, 12, 24]), computer=rng.choice(list(Computer)))
    if vehicle.computer is not Computer.YES:
        vehicle = replace(vehicle, flasher=rng.choice([FlasherKind.BIMETAL, FlasherKind.ELECTRONIC]))
    return with_best(replace(facts, vehicle=vehicle))


def test_whatever_cures_are_taken_the_lamps_light_from_the_sheet(tmp_path):
    """Any cure that is offered and not refused, and after it another."""
    rng, taken = random.Random(7), set()
    for _ in range(CURES):
        found = a_replacement(rng)
        for _ in range(2):
            offered = [each for each in correct(found).open if not each.refusal and each.decision is not None]
            if not offered:
                break
            cure = rng.choice(offered[:4])
            found = plan(with_cure(found.facts, cure.decision))
            assert not any(found.hookup.together.wrong), cure.cure
            lights_as_wanted(found, tmp_path)
            taken.add(cure.cure)
    assert {"flasher", "load_resistor"} <= taken
