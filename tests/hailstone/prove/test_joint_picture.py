"""A joint is drawn with every end that goes into it."""

from __future__ import annotations

import pytest

from hailstone.prove.joint_picture import joint_picture
from said import facts_of, with_best


@pytest.mark.parametrize("accessory", ["reverse_switch", "combined_tail_lamps", "towed_car", "running_lamps"])
def test_every_end_is_drawn_once_and_a_cut_wire_twice(accessory):
    found = with_best(facts_of(accessory))
    drawn = 0
    for step in found.steps:
        picture = joint_picture(step)
        assert (picture is not None) == (step.kind.id == "connect")
        if picture is not None:
            (join,) = step.joins
            drawn += 1
            assert len(picture.strands) == len(join.members) + len(join.halved)
            assert len({(strand.is_left, strand.y) for strand in picture.strands}) == len(picture.strands)
            assert all(0 < strand.y < picture.height for strand in picture.strands)
            assert {strand.is_left for strand in picture.strands} == {True, False}
    assert drawn
