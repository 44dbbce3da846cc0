"""Random jobs, of any things on any places by any way that is right, light from their sheets alone; with cures too."""

from __future__ import annotations

import json
import random
from dataclasses import replace

import pytest

from electrics.build.sheet import build_of
from electrics.circuit.wiring import review
from electrics.document.circuits import CircuitNotes, FedBy
from electrics.document.vehicle import Computer, FlasherKind
from electrics.errors import FactError
from electrics.formats.json_file import FileError
from electrics.job.correction import correct, with_cure
from electrics.job.file.reading import read_job_file
from electrics.job.plan import plan
from electrics.vocabulary import Arrangement, Function
from protected import unprotected
from random_jobs import a_job
from said import facts_of, with_best
from sheet_light import lights_as_wanted

JOBS, CURES = 24, 16
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
