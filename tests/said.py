"""A vehicle of which somebody says what every wire does, and jobs on it."""

from __future__ import annotations

from dataclasses import replace

from electrics.design.accessories import accessories
from electrics.design.units_of_facts import unit_facts_of
from electrics.document.decisions import HookUpDecisions
from electrics.document.job import JobFacts, Wish
from electrics.document.places import AccessPoint, PlaceFacts, Side, Wire
from electrics.document.vehicle import VehicleFacts
from electrics.job.added import accessory_of
from electrics.job.plan import plan
from electrics.vocabulary import Arrangement, Function

COMBINED = {"combined_tail_lamps", "led_bulbs_combined"}


def place(name, kind, side, functions):
    said = tuple(
        (str(n), Function(f.partition(":")[0]), f.partition(":")[2] or "plain") for n, f in enumerate(functions)
    )
    wires = tuple(Wire(pin, "") for pin, *_ in said)
    keys = tuple(f"{name} {pin}" for pin, *_ in said)
    return PlaceFacts(name, AccessPoint(name, wires, (), kind, Side(side)), keys, said)


def vehicle(arrangement):
    """Both rear lamps and both front lamps open, the fuse box too."""
    rear = [
        "ground",
        "tail",
        *(["stop", "turn_{}"] if arrangement is Arrangement.SEPARATE else ["stop_turn_{}"]),
        "reverse",
    ]
    places = [
        place(f"{side} rear lamp", "rear_lamp", side, [f.format(side) for f in rear]) for side in ("left", "right")
    ]
    front = ["ground", "tail", "turn_{}", "drl:key"]
    places += [
        place(f"{side} front lamp", "front_lamp", side, [f.format(side) for f in front]) for side in ("left", "right")
    ]
    return tuple(places)


def facts_of(accessory, arrangement=None, **decided):
    arrangement = arrangement or (Arrangement.COMBINED if accessory in COMBINED else Arrangement.SEPARATE)
    kind = accessories()[accessory]
    wish = Wish(accessory, count=kind.count, each_a=kind.leads[0].each_a)
    return JobFacts(
        VehicleFacts(arrangement=arrangement), vehicle(arrangement), wish, hookup=HookUpDecisions(**decided)
    )


def with_best(facts):
    ways = {lead.lead.id: lead.shown.key for lead in plan(facts).hookup.leads}
    return plan(replace(facts, hookup=replace(facts.hookup, ways=ways)))


def job(accessory, arrangement, vehicle=None, **found):
    """A job with the best ways taken, its units as they were found to be."""
    facts = facts_of(accessory, arrangement)
    facts = replace(facts, vehicle=replace(facts.vehicle, **(vehicle or {})))
    units = tuple(unit_facts_of(replace(unit, **found)) for unit in accessory_of(facts).units)
    return with_best(replace(facts, units=units))
