"""Where facts change, what was chosen is judged again; a pair is decided once."""

import json
from dataclasses import replace

import pytest

from electrics.document.circuits import FedBy
from electrics.document.vehicle import Computer
from electrics.document.way import UNUSED
from electrics.job.better import best_plan, better_ways
from electrics.job.file.reading import read_job_file
from electrics.job.judging import findings_of
from electrics.job.plan import plan


def lamp(side, **wires):
    found = [{"pin": pin.removeprefix("pin"), "function": function} for pin, function in wires.items()]
    return {"name": f"{side} rear lamp", "kind": "rear_lamp", "side": side, "wires": found}


def document(places, units, vehicle=None, **parts):
    facts = {"arrangement": "separate", "computer": "no", **(vehicle or {})}
    return json.dumps(
        {"format": "hailstone-job", "version": 1, "vehicle": facts, "places": places, "units": units, **parts}
    )


def pods(*sides, amps=0.3, wants="tail"):
    leads = [
        {"lead": "red", "wants": wants, "amps": amps, "technology": "led"},
        {"lead": "black", "wants": "ground"},
    ]
    return [{"name": f"{side} pod", "side": side, "leads": leads} for side in sides]


def read(*arguments, **parts):
    return read_job_file(document(*arguments, **parts))


def chosen(facts):
    """The facts with the best hook-up chosen for every lead."""
    found = best_plan(plan(facts))
    return replace(facts, hookup=replace(facts.hookup, ways=found.facts.hookup.ways))


def rules(facts):
    return [each.rule for each in findings_of(plan(facts))]


def test_a_lamp_of_its_own_that_was_measured_after_the_choice_is_better_now():
    """Both joined at the left lamp; then the right one is opened: its own wire saves the run across the car."""
    left, right = lamp("left", pin1="ground", pin2="tail"), lamp("right", pin1="ground", pin2="tail")
    first = chosen(read([left], pods("left", "right")))
    assert "better_way" not in rules(first)
    after = replace(read([left, right], pods("left", "right")), hookup=first.hookup)
    assert rules(after).count("better_way") == 1
    ((lead, way),) = better_ways(plan(after))[0].ways.items()
    assert (lead, way.main.place) == ("right pod: red", "right rear lamp")
    taken = replace(after, hookup=replace(after.hookup, ways={**after.hookup.ways, lead: way.key}))
    assert "better_way" not in rules(taken)


def test_a_relay_that_a_computer_asked_for_is_one_part_too_many_without_one():
    places = [lamp("left", pin1="ground", pin2="tail")]
    with_computer = chosen(read(places, pods("left", amps=1.5), {"computer": "yes"}))
    assert next(iter(with_computer.hookup.ways.values())).startswith("relay:")
    without = replace(with_computer, vehicle=replace(with_computer.vehicle, computer=Computer.NO))
    assert without.circuit("tail").fed_by is FedBy.PLAIN
    (better,) = better_ways(plan(without))
    assert [way.candidate.form.id for way in better.ways.values()] == ["direct"]


def test_what_upsets_more_is_never_called_better():
    """3 A straight on the reverse wire loses over 0.5 V; the relay has a part more and upsets nothing."""
    places = [lamp("left", pin1="ground", pin3="reverse")]
    distances = [{"between": ["left rear lamp", "pod"], "m": 1}, {"between": ["battery", "left rear lamp"], "m": 5}]
    pod = [{"name": "pod", "leads": pods("", amps=3, wants="reverse")[0]["leads"]}]
    facts = chosen(read(places, pod, distances=distances))
    assert list(facts.hookup.ways.values()) == ["relay:left rear lamp / 3"]
    assert rules(facts) == []


@pytest.mark.parametrize("order", [("left", "right"), ("right", "left")])
@pytest.mark.parametrize("side", ["left", "right"])
def test_what_is_chosen_for_one_side_holds_for_the_other_whichever_is_listed_first(order, side):
    places = [lamp("left", pin1="ground", pin2="tail"), lamp("right", pin1="ground", pin2="tail")]
    facts = read(places, pods(*order))
    relay = {f"{side} pod: red": f"relay:{side} rear lamp / 2"}
    found = plan(replace(facts, hookup=replace(facts.hookup, ways=relay))).hookup
    assert {lead.chosen.key for lead in found.leads} == {f"relay:{side} rear lamp / 2"}  # one relay for both
    straight = {f"{side} pod: red": f"direct:{side} rear lamp / 2"}
    found = plan(replace(facts, hookup=replace(facts.hookup, ways=straight))).hookup
    assert all(lead.chosen.key == f"direct:{lead.lead.side} rear lamp / 2" for lead in found.leads)
    run = replace(facts.hookup.run, joint="solder", ground="weld")
    soldered = plan(replace(facts, hookup=replace(facts.hookup, runs={f"{order[0]} pod: red": run}))).hookup
    assert {lead.run.joint for lead in soldered.leads} == {"solder"}


@pytest.mark.parametrize("side", ["left", "right"])
def test_a_lead_that_is_left_unused_on_one_side_is_on_both(side):
    two = [
        {
            **unit,
            "leads": [*unit["leads"], {"lead": "blue", "wants": "stop", "amps": 0.3, "technology": "led"}],
        }
        for unit in pods("left", "right")
    ]
    facts = read([lamp("left", pin1="ground", pin2="tail", pin3="stop")], two)
    unused = {f"{side} pod: blue": UNUSED}
    found = plan(replace(facts, hookup=replace(facts.hookup, ways=unused))).hookup
    assert {lead.id for lead in found.unused} == {"left pod: blue", "right pod: blue"}


def test_sides_that_were_parted_say_how_they_differ():
    places = [lamp("left", pin1="ground", pin2="tail"), lamp("right", pin1="ground", pin2="tail")]
    facts = chosen(read(places, pods("left", "right")))
    ways = {**facts.hookup.ways, "right pod: red": "relay:right rear lamp / 2"}
    (finding,) = [
        each
        for each in plan(replace(facts, hookup=replace(facts.hookup, ways=ways))).hookup.findings
        if each.rule == "sides_differ"
    ]
    assert finding.detail == "hook_up"


def front(side):
    return {**lamp(side, pin1="ground", pin2="tail", pin3=f"turn_{side}"), "name": f"{side} front lamp"}


def flashing_park_bulbs():
    return [{"name": f"{side} bulb", "side": side, "kind": "front_bulb"} for side in ("left", "right")]


def test_the_best_is_no_hookup_that_overloads_a_wire_where_another_does_not():
    """20 AWG carries 5 A (the limit that the finding names); four tail bulbs and both new ones draw more."""
    facts = read([front("left"), front("right")], flashing_park_bulbs())
    first = {each.lead.id: each.right[0].key for each in plan(facts).hookup.leads}
    by_logic = replace(facts, hookup=replace(facts.hookup, ways=first))
    assert [each.rule for each in plan(by_logic).hookup.forbidden]
    assert not plan(chosen(facts)).hookup.forbidden
    assert not plan(
        replace(
            by_logic,
            hookup=replace(
                by_logic.hookup,
                ways={
                    **first,
                    **{id: way.key for each in better_ways(plan(by_logic)) for id, way in each.ways.items()},
                },
            ),
        )
    ).hookup.forbidden
