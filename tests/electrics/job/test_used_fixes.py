"""Random fixes that are used, not proposed: what the handbook forbids is never clean, on 6, 12 and 24 V.

The limits are worked out here once more, from the handbook's own figures and not from the program's.
"""

import json

from hypothesis import given, settings
from hypothesis import strategies as st

from electrics.job.better import best_plan
from electrics.job.file.reading import read_job_file
from electrics.job.judging import findings_of
from electrics.job.plan import plan

PLATE_K_PER_W = {10: 17.5, 15: 11.67, 25: 7.0, 50: 3.5, 75: 2.333, 100: 1.75}
"""(200 - 25) C over the watts on the standard metal plate (data sheets of housed resistors, from memory)."""
OVER_PLATE = {"metal": 1.0, "beam": 6 / 3.5, "painted": 8 / 3.5}
"""Kelvin a watt over those of the plate: beam 6, painted sheet 8 for the 50 W case (handbook, an estimate)."""
LIMIT_C = {"metal": 200.0, "beam": 200.0, "painted": 80.0}
FREE_AIR_W = {10: 5.5, 15: 7, 25: 9, 50: 14, 75: 24, 100: 30}
AIR_C, TOLERANCE, FLASHING = 40.0, 0.05, 0.75
DIODES = {"1N4001": (1, 50), "1N4004": (1, 400), "1N4007": (1, 1000), "1N5404": (3, 400), "6A10": (6, 1000)}
"""Rated current [A] and reverse voltage [V] (data sheets of the generic parts, from memory)."""
REVERSE_V = {6: 200, 12: 200, 24: 600}


def job(system_v, is_combined, computer, amps, cure):
    side = "stop_turn" if is_combined else "turn"
    places = [
        {
            "name": f"{each} lamp",
            "kind": "rear_lamp",
            "side": each,
            "wires": [{"pin": "1", "function": "ground"}, {"pin": "3", "function": f"{side}_{each}"}],
        }
        for each in ("left", "right")
    ]
    kind = "led_bulb_set_combined" if is_combined else "led_bulb_set"
    lead = {"lead": "turn", "wants": f"{side}_left", "amps": amps, "technology": "led"}
    unit = {"name": "LED", "kind": kind, "side": "left", "instead_of": "left lamp"}
    vehicle = {"system_v": system_v, "arrangement": "combined" if is_combined else "separate"}
    flasher = {"computer": "yes", "flasher": {"kind": "computer"}} if computer else {"computer": "no"}
    return json.dumps(
        {
            "format": "hailstone-job",
            "version": 1,
            "vehicle": {**vehicle, **flasher},
            "places": places,
            "units": [{**unit, "leads": [lead, {"lead": "shell", "wants": "ground"}]}],
            "cures": [cure],
        }
    )


def resistors():
    return st.builds(
        lambda ohm, case_w, mount: {
            "cure": "load_resistor",
            "ohm": ohm,
            "case_w": case_w,
            "mount": mount,
            "leads": [{"unit": "LED", "lead": "turn"}],
        },
        st.sampled_from((1.5, 3, 5.6, 6.8, 8.2, 10, 22, 24, 33, 47)),
        st.sampled_from(sorted(PLATE_K_PER_W)),
        st.sampled_from(("metal", "beam", "painted", "free_air")),
    )


def diodes():
    return st.builds(
        lambda part: {"cure": "diode", "part": part, "leads": [{"unit": "LED", "lead": "turn"}]},
        st.sampled_from(sorted(DIODES)),
    )


def is_forbidden(system_v, is_combined, computer, amps, cure):
    """By the handbook alone."""
    if cure["cure"] == "flasher":
        return computer
    if cure["cure"] == "diode":
        rated_a, reverse_v = DIODES[cure["part"]]
        return rated_a < 1.5 * amps or reverse_v < REVERSE_V[system_v]
    if cure["mount"] == "free_air":
        return True
    heat_w = (1.0 if is_combined else FLASHING) * (15 * system_v / 12) ** 2 / (cure["ohm"] * (1 - TOLERANCE))
    k_per_w = PLATE_K_PER_W[cure["case_w"]] * OVER_PLATE[cure["mount"]]
    k_per_w = min(k_per_w, 175 / FREE_AIR_W[cure["case_w"]])  # no plate is worse than the air around it
    return AIR_C + k_per_w * heat_w > LIMIT_C[cure["mount"]] * 1.02


@settings(deadline=None, max_examples=60)
@given(
    st.sampled_from((6, 12, 24)),
    st.booleans(),
    st.booleans(),
    st.sampled_from((0.2, 0.3, 0.9, 2.2)),
    st.one_of(resistors(), diodes(), st.just({"cure": "flasher"})),
)
def test_a_fix_that_the_handbook_forbids_is_never_clean_once_it_is_used(system_v, combined, computer, amps, cure):
    found = best_plan(plan(read_job_file(job(system_v, combined, computer, amps, cure))))
    if is_forbidden(system_v, combined, computer, amps, cure):
        assert {each.severity for each in findings_of(found)} & {"forbids", "upset"}
        assert any(fault.cure for fault in found.hookup.faults)
