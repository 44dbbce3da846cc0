"""Cut list, spools and parts."""

from __future__ import annotations

import pytest

from electrics.build.sheet import STEPS, cut_list, parts, spool_length_m
from electrics.hookup.joints import fit_joint, joint_methods
from electrics.reference.conductor import WireStandard, conductor
from electrics.reference.fuses import fuses

WIRE = conductor(WireStandard.AWG, "16")


def test_every_run_gets_slack_of_60_to_90_cm_and_ground_is_a_run_too():
    """Common practice."""
    runs = cut_list(WIRE, 3.4, 1.2)
    assert [run.role for run in runs] == ["feed", "ground"]
    for run in runs:
        assert 0.6 <= run.cut_m - run.routed_m - 0.25 <= 0.9
    assert len({run.label for run in runs}) == 2


def test_a_chassis_ground_without_wire_is_no_run():
    assert [run.role for run in cut_list(WIRE, 3.4, 0.0)] == ["feed"]


def test_spools_are_rounded_up_to_whole_metres():
    runs = cut_list(WIRE, 3.4, 1.2)
    assert spool_length_m(runs) == 7
    assert sum(run.cut_m for run in runs) == pytest.approx(6.6)


def test_parts_count_a_joint_at_the_tap_and_one_for_each_lamp():
    joint = fit_joint(joint_methods()["crimp_butt"], WIRE, WIRE, exposed=True)
    listed = {part.id: part for part in parts(2, cut_list(WIRE, 3.4, 1.2), fuses()["5"], joint)}
    assert (listed["lamp"].count, listed["joint"].count, listed["sleeve"].count) == (2, 3, 3)
    assert listed["fuse"].detail == "5 A tan"


def test_ground_is_made_before_the_feed_and_the_fuse_comes_last_before_testing():
    assert STEPS.index("make_safe") == 0
    assert STEPS.index("ground") < STEPS.index("join") < STEPS.index("fuse") < STEPS.index("test_loose")
    assert STEPS.index("test_loose") < STEPS.index("close") < STEPS.index("test_again")
