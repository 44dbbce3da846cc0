"""From facts to plan, as in a notebook: no database, no pages."""

from __future__ import annotations

from dataclasses import replace

import pytest

from electrics.errors import FactError
from electrics.job.facts import (
    CircuitNotes,
    Computer,
    FedBy,
    HookUpDecisions,
    JobFacts,
    PlaceFacts,
    RunDecision,
    VehicleFacts,
    Wish,
)
from electrics.job.plan import plan
from electrics.vocabulary import Arrangement, Function
from lamps import GRID, REAR, point

NOTES = CircuitNotes(FedBy.PLAIN, "P21W", 2, 10.0, "18")
DECIDED = HookUpDecisions(
    {"reverse": "direct:lamp 3"}, run=RunDecision(out_m=3.4, back_m=0.6), circuits={Function.REVERSE: NOTES}
)
FACTS = JobFacts(
    VehicleFacts(arrangement=Arrangement.SEPARATE, computer=Computer.NO),
    (PlaceFacts("left", point(*GRID), tuple(f"lamp {pin}" for pin in REAR)),),
    Wish("reverse_lamps", count=2, each_a=1.2),
    hookup=DECIDED,
)


def test_a_plan_follows_from_facts_alone():
    """2 x 1.2 A over 4 m: 18 AWG loses 0.25 V hot (20.95 ohm/km at 20 C, ASTM B258), 3 A bears 1.25 x 2.4 A."""
    found = plan(FACTS)
    assert found.beliefs[0].wire("3").function is Function.REVERSE
    (lead,) = found.hookup.leads
    assert lead.chosen.is_right
    assert lead.chosen.main.key == "lamp 3"
    assert found.hookup.missing + found.hookup.faults == ()
    assert lead.sized.option.conductor.name == "18 AWG"
    assert lead.sized.option.drop_v == pytest.approx(0.25, abs=0.01)
    assert lead.sized.fuse.rating_a == 3
    assert [run.role for run in found.build.runs] == ["feed", "ground"]
    assert {"added", "factory:reverse"} <= {line.lamp.id for line in found.sheet.lines if line.lamp}


@pytest.mark.parametrize(
    ("changed", "missing"),
    [
        ({"ways": {}}, {"tap"}),
        ({"circuits": {}}, {"host", "fed_by"}),
        ({"run": RunDecision()}, {"run"}),
    ],
    ids=["no way", "nothing noted", "no run"],
)
def test_what_is_not_decided_is_missing_and_nothing_is_built(changed, missing):
    found = plan(replace(FACTS, hookup=replace(DECIDED, **changed)))
    assert {each.id for each in found.hookup.missing} == missing
    assert found.build is None


def test_a_way_that_cannot_be_had_any_more_is_said():
    gone = replace(DECIDED, ways={"reverse": "direct:lamp 9"})
    assert {each.id for each in plan(replace(FACTS, hookup=gone)).hookup.faults} == {"way_gone"}


def test_what_no_lamp_circuit_carries_is_refused():
    with pytest.raises(FactError, match="A"):
        plan(replace(FACTS, wish=Wish("reverse_lamps", count=12, each_a=9.0)))
