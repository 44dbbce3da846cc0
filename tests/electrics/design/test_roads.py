"""What common wires carry over their whole road, by hand; and what goes into one butt connector."""

import json

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from electrics.design.joints import STEP_DOWN, butt_for
from electrics.design.roads import amp_metres
from electrics.design.routes import Routes, Spot
from electrics.job.better import best_plan
from electrics.job.file.reading import read_job_file
from electrics.job.plan import plan

A, B, C = (Spot(name, "rear") for name in "abc")


def routed(**stated):
    routes = Routes({frozenset(pair): m for pair, m in stated.items()})
    return lambda first, second: routes.between(first, second).m


def test_a_stretch_carries_what_all_lamps_behind_it_draw():
    """By hand: 1 m with 5 A, then 2 m with 3 A: 5 A m to the near lamp, 11 A m to the far one."""
    found = amp_metres(A, {B: 2.0, C: 3.0}, routed(ab=1.0, bc=2.0))
    assert found == {B: 5.0, C: 11.0}
    assert amp_metres(A, {C: 3.0, B: 2.0}, routed(ab=1.0, bc=2.0)) == found


@settings(deadline=None, max_examples=25)
@given(st.lists(st.floats(0.3, 6.0), min_size=2, max_size=4), st.sampled_from((6, 12, 24)), st.randoms())
def test_the_order_of_units_changes_nothing_but_names(lengths, system_v, rng):
    """The same wires in another order: same sizes, same lengths, same fuses, same findings."""
    units = [
        {
            "name": f"pod {n}",
            "leads": [
                {"lead": "red", "wants": "reverse", "amps": 2, "technology": "led"},
                {"lead": "black", "wants": "ground"},
            ],
        }
        for n, _ in enumerate(lengths)
    ]
    distances = [{"between": ["battery", "left tail lamp"], "m": 5}]
    distances += [{"between": ["left tail lamp", f"pod {n}"], "m": round(m, 2)} for n, m in enumerate(lengths)]
    found = []
    for _ in range(2):
        document = {
            "format": "hailstone-job",
            "version": 1,
            "vehicle": {"system_v": system_v, "arrangement": "separate", "computer": "no"},
            "places": [
                {
                    "name": "left tail lamp",
                    "kind": "rear_lamp",
                    "side": "left",
                    "wires": [{"pin": "1", "function": "ground"}, {"pin": "3", "function": "reverse"}],
                }
            ],
            "units": list(units),
            "distances": list(distances),
        }
        hookup = best_plan(plan(read_job_file(json.dumps(document)))).hookup
        design = hookup.design
        found.append(
            (
                sorted((wire.role, wire.conductor.name, wire.routed_m) for wire in design.wires) if design else None,
                sorted((part.part, part.value) for part in design.parts) if design else None,
                sorted(finding.rule for finding in hookup.findings),
                sorted(upset.rule for upset in hookup.upsets),
            )
        )
        rng.shuffle(units)
        rng.shuffle(distances)
    assert found[0] == found[1]


@pytest.mark.parametrize(
    ("areas", "connector"),
    [
        ([0.82, 0.82], "red"),  # two 18 AWG
        ([2.08, 0.82], "blue"),  # 14 with 18 folded back
        ([2.08, 2.08, 2.08], "yellow"),  # one folded back, two (4.16) beside each other
        ([5.26, 0.82], STEP_DOWN),
        ([5.26, 5.26], "yellow"),
        ([5.26, 5.26, 5.26], ""),  # two 10 AWG are 10.5 mm2: more than yellow takes
        ([0.82] * 9, ""),
        ([0.13], ""),
    ],
)
def test_what_goes_into_one_butt_connector(areas, connector):
    """Red 0.25 to 1.65, blue 1.04 to 2.63, yellow 2.63 to 6.64 mm2 a barrel, two ends a side (from memory)."""
    assert butt_for(areas) == connector


def test_three_ten_gauge_wires_meet_on_a_bus(tmp_path):
    """Four 3 A pods 5 m from the battery: 10 AWG that branches goes into no butt."""
    pods = [f"{side} pod{n}" for side in ("left", "right") for n in ("", " II")]
    leads = [
        {"lead": "red", "wants": "reverse", "amps": 3, "technology": "led"},
        {"lead": "black", "wants": "ground"},
    ]
    pairs = (("battery", "lamp", 5), ("lamp", "left pod", 0.7), ("left pod", "right pod", 1.2))
    pairs += (("left pod", "left pod II", 0.3), ("right pod", "right pod II", 0.3))
    document = {
        "format": "hailstone-job",
        "version": 1,
        "vehicle": {"arrangement": "separate", "computer": "no"},
        "places": [
            {
                "name": "lamp",
                "kind": "rear_lamp",
                "side": "left",
                "wires": [{"pin": "1", "function": "ground"}, {"pin": "3", "function": "reverse"}],
            }
        ],
        "units": [{"name": name, "leads": leads} for name in pods],
        "distances": [{"between": [first, second], "m": m} for first, second, m in pairs],
    }
    design = best_plan(plan(read_job_file(json.dumps(document)))).hookup.design
    wires = {f"wire {wire.label}": wire.conductor.area_mm2 for wire in design.wires}
    for join in design.joins:
        thick = [wires[end.what] for end in join.members if wires.get(end.what, 0) > 5]
        assert join.method != "crimp_butt" or len(thick) < 3
    assert "bus" in {join.method for join in design.joins}
