"""What stands against checking off a step and against a signature."""

from __future__ import annotations

from dataclasses import replace

import pytest

from electrics.build.step_kinds import step_kinds
from electrics.judge.finding import Severity
from electrics.judge.rule import look_at
from electrics.prove.rules import SIGNING_RULES, STEP_RULES, SigningCase, StepCase

READY = SigningCase(is_complete=True, is_signed=False, steps_open=0, untested=0, failed=0)


def ids(case):
    found = look_at(case, SIGNING_RULES, "somebody's reason")
    assert all(each.severity is Severity.FORBIDS for each in found), "no reason lifts these"
    return [each.rule for each in found]


@pytest.mark.parametrize(
    ("change", "rule"),
    [
        ({"is_complete": False}, "sign_hookup_open"),
        ({"is_signed": True}, "sign_again"),
        ({"steps_open": 1}, "sign_steps_open"),
        ({"untested": 2}, "sign_untested"),
        ({"failed": 1}, "sign_failed"),
    ],
)
def test_each_thing_left_open_stands_against_a_signature_by_itself(change, rule):
    assert ids(READY) == []
    assert ids(replace(READY, **change)) == [rule]


def test_nothing_is_joined_before_the_hook_up_is_complete_and_the_rest_may_be_done():
    kinds = list(step_kinds())
    early = {kind.id for kind in kinds if look_at(StepCase(kind, is_complete=False), STEP_RULES)}
    assert {"connect", "take_out", "battery_post", "fit_fuse", "close"} <= early
    assert {"open_up", "prove_tap", "prove_ground", "make_safe", "cut_wires", "pull"}.isdisjoint(early)
    assert not any(look_at(StepCase(kind, is_complete=True), STEP_RULES) for kind in kinds)
