"""Wires of a whole road, from source to lamp: no lamp loses more on its feed than a run may, wherever it is shared."""

from __future__ import annotations

from dataclasses import replace

import pytest

from electrics.document.decisions import RunDecision
from said import facts_of, with_best

OHM_PER_M = {"10": 0.00328, "12": 0.00521, "14": 0.00829, "16": 0.01317, "18": 0.02095}
"""Copper at 20 C (ASTM B258 by common tables)."""


def feed_upsets(found):
    return [upset for upset in found.hookup.upsets if upset.rule == "feed_drop"]


@pytest.mark.parametrize("system_v", [12, 24])
@pytest.mark.parametrize("accessory", ["towed_car", "rear_loom", "combined_tail_lamps", "reverse_lamps"])
def test_what_is_proposed_loses_no_more_than_a_run_may(accessory, system_v):
    """0.5 V on 12 V (common practice), in proportion on 24 V; the factory's own loss before a tap is in it."""
    facts = facts_of(accessory)
    found = with_best(replace(facts, vehicle=replace(facts.vehicle, system_v=system_v)))
    assert feed_upsets(found) == []


def test_what_both_sides_share_and_what_goes_on_lose_no_more_together():
    """By hand from the cut list: a module's battery wire bears both sides, the wire behind it one; 0.5 V for all."""
    wires = with_best(facts_of("towed_car")).hookup.design.wires
    lost_v = {wire: wire.load_a * wire.routed_m * OHM_PER_M[wire.conductor.size] for wire in wires}
    roads = [
        [wire for wire in wires if wire.role in ("feed", "supply") and any(end.what in names for end in wire.ends)]
        for names in ({"battery", f"{side} towed-car lamp"} for side in ("left", "right"))
    ]
    assert all(0 < sum(lost_v[wire] for wire in road) < 0.5 for road in roads)


def test_a_size_that_somebody_picked_stays_and_what_it_loses_is_said():
    facts = facts_of("towed_car")
    leads = [each.lead.id for each in with_best(facts).hookup.leads]
    thin = dict.fromkeys(leads, RunDecision(wire_size="18"))
    found = with_best(replace(facts, hookup=replace(facts.hookup, runs=thin)))
    assert {wire.conductor.size for wire in found.hookup.design.wires if wire.role == "feed"} == {"18"}
    assert feed_upsets(found)
