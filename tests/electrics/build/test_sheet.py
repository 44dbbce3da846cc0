"""Cut list, spools and parts."""

from __future__ import annotations

from dataclasses import replace

import pytest

from electrics.build.sheet import STEPS, LeadBuild, cut_list, parts, spool_length_m
from electrics.hookup.forms import FORMS
from electrics.hookup.joints import Place, fit_joint, joint_methods
from electrics.reference.conductor import WireStandard, conductor
from electrics.reference.fuses import fuses

WIRE = conductor(WireStandard.AWG, "16")
JOINT = fit_joint(joint_methods()["crimp_butt"], WIRE, WIRE, Place(is_exposed=True))


def built(lead="", form="direct", lamps=2, taps=1, wire=WIRE, load_a=2.4, back_m=1.2):
    form = next(each for each in FORMS if each.id == form)
    return LeadBuild(lead, lamps, taps, form, wire, load_a, fuses()["5"], JOINT, 3.4, back_m)


def listed(*leads):
    return {part.id: part for part in parts(2, leads, cut_list(leads))}


def test_every_run_gets_slack_of_60_to_90_cm_and_ground_is_a_run_too():
    """Common practice."""
    runs = cut_list([built()])
    assert [run.role for run in runs] == ["feed", "ground"]
    for run in runs:
        assert 0.6 <= run.cut_m - run.routed_m - 0.25 <= 0.9
    assert len({run.label for run in runs}) == 2


def test_a_chassis_ground_without_wire_is_no_run():
    assert [run.role for run in cut_list([built(back_m=0.0)])] == ["feed"]


def test_leads_that_go_the_same_way_back_share_one_ground_that_bears_them_all():
    """Two of 8 A on 18 AWG (10 A at most each) come back through wire for 20 A: 14 AWG (common practice)."""
    thin = conductor(WireStandard.AWG, "18")
    runs = cut_list([built("left", wire=thin, load_a=8), built("right", wire=thin, load_a=8), built("x", back_m=3)])
    assert [(run.role, run.lead) for run in runs[:3]] == [("feed", "left"), ("feed", "right"), ("feed", "x")]
    shared, own = runs[3:]
    assert (shared.role, shared.lead, shared.conductor.size) == ("ground", "", "14")
    assert (own.lead, own.routed_m) == ("x", 3)


def test_spools_are_rounded_up_to_whole_metres():
    runs = cut_list([built()])
    assert spool_length_m(runs) == 7
    assert sum(run.cut_m for run in runs) == pytest.approx(6.6)


def test_parts_count_a_joint_at_every_tap_and_one_for_each_lamp():
    found = listed(built())
    assert (found["lamp"].count, found["joint"].count, found["sleeve"].count) == (2, 3, 3)
    assert found["fuse"].detail == "5 A tan"
    assert listed(built(taps=2, form="diode_or"))["joint"].count == 4


@pytest.mark.parametrize(
    ("form", "brings"),
    [
        ("relay", {"relay": 1, "relay_socket": 1}),
        ("relay_or", {"relay": 1, "diode": 2}),
        ("flasher", {"flasher": 1}),
        ("separate_stop", {"separator": 1}),
    ],
)
def test_parts_have_what_each_form_brings_and_a_ring_for_the_battery(form, brings):
    found = listed(built(form=form), built("other"))
    assert {part: found[part].count for part in brings} == brings
    assert found["fuse"].count == found["fuse_holder"].count == 2
    assert found["ring_terminal"].count == 1 + (form not in ("flasher",))


def test_one_flasher_serves_all_leads_and_a_switch_of_ones_own_has_a_fuse_of_its_own():
    assert listed(built("left", form="flasher"), built("right", form="flasher"))["flasher"].count == 1
    switched = replace(built(form="diode_or"), own=("@switch",))
    assert (listed(switched)["switch"].count, listed(switched)["fuse_holder"].count) == (1, 2)


@pytest.mark.parametrize(
    ("form", "own", "wanted"),
    [
        ("and", ("@ignition", "@switch"), {"switch": 1, "relay": 1, "fuse_holder": 3, "ring_terminal": 2}),
        ("and_not", ("@ignition",), {"relay": 1, "fuse_holder": 2, "ring_terminal": 1}),
        ("relay", ("@ignition",), {"relay": 1, "fuse_holder": 2, "ring_terminal": 2}),
        ("held_open", (), {"timed_relay": 1, "diode": 2, "fuse_holder": 1, "ring_terminal": 1}),
        ("self_switching", (), {"self_switching_bulb": 1, "fuse_holder": 1, "ring_terminal": 1}),
    ],
)
def test_what_comes_from_the_battery_gets_a_ring_and_what_comes_from_the_fuse_box_none(form, own, wanted):
    """One ring is the ground's; each source of one's own has a fuse of its own."""
    found = listed(replace(built(form=form), own=own))
    assert {part: found[part].count for part in wanted} == wanted
    assert ("switch" in found) is ("@switch" in own)


def test_ground_is_made_before_the_feed_and_the_fuse_comes_last_before_testing():
    assert STEPS.index("make_safe") == 0
    assert STEPS.index("ground") < STEPS.index("join") < STEPS.index("fuse") < STEPS.index("test_loose")
    assert STEPS.index("test_loose") < STEPS.index("close") < STEPS.index("test_again")
