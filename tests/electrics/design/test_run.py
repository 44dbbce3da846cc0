"""Drop, fuse and the choice of wire."""

from __future__ import annotations

import pytest
from hypothesis import given
from hypothesis import strategies as st

from electrics.design.run import Run, choose_fuse, drop_v, wire_options
from electrics.errors import FactError
from electrics.reference.conductor import WireStandard, conductor, conductors


def test_drop_counts_the_way_out_and_back():
    """3 A over 4 m out and 4 m back of 16 AWG at 20 C: 3 x 13.17 mohm/m x 8 m = 0.316 V, by hand."""
    wire = conductor(WireStandard.AWG, "16")
    assert drop_v(wire, Run(4.0, 4.0, 3.0, 13.5), 20.0) == pytest.approx(0.316, abs=0.001)
    assert drop_v(wire, Run(4.0, 4.0, 3.0, 13.5)) == pytest.approx(0.316 * 1.255, abs=0.001)


@pytest.mark.parametrize(
    ("load_a", "wire_limit_a", "fuse_a"),
    [
        (2.4, 10, 3),
        (2.5, 10, 4),
        (3.0, 10, 4),
        (4.0, 10, 5),
        (4.1, 10, 7.5),
        (8.0, 10, 10),
        (8.1, 10, None),
        (0.01, 3, 1),
    ],
)
def test_fuse_is_the_smallest_standard_one_that_bears_125_percent(load_a, wire_limit_a, fuse_a):
    fuse = choose_fuse(load_a, wire_limit_a)
    assert (fuse.rating_a if fuse else None) == fuse_a


def test_a_long_run_needs_thicker_wire_for_the_drop_and_a_big_load_for_the_fuse():
    long = [o for o in wire_options(Run(8.0, 8.0, 3.0, 13.5), WireStandard.AWG) if o.is_right]
    big = [o for o in wire_options(Run(0.3, 0.1, 14.0, 13.5), WireStandard.AWG) if o.is_right]
    assert long[0].conductor.size == "12"
    assert big[0].conductor.size == "14"
    assert big[0].fuse.rating_a == 20


def test_between_three_percent_and_half_a_volt_is_bearable_but_not_right():
    """16 AWG, 3 A, 4.3 m each way: 0.426 V hot, between 0.405 V (3 %) and 0.5 V, by hand."""
    options = {o.conductor.size: o for o in wire_options(Run(4.3, 4.3, 3.0, 13.5), WireStandard.AWG)}
    assert options["16"].faults == ("aim",)
    assert not options["16"].is_right
    assert options["18"].faults == ("aim", "drop")
    assert options["14"].is_right


@pytest.mark.parametrize(
    ("out_m", "back_m", "complaint"),
    [(0, 1, "no length"), (-1, 1, "cannot be"), (900, 1, "is it in metres"), (1, 61, "cannot be")],
)
def test_impossible_lengths_are_refused(out_m, back_m, complaint):
    with pytest.raises(FactError, match=complaint):
        Run(out_m, back_m, 1.0, 13.5)


@given(st.floats(0.1, 30), st.floats(0, 30), st.floats(0.01, 20), st.sampled_from(list(WireStandard)))
def test_at_the_same_current_a_thicker_wire_never_drops_more(out_m, back_m, load_a, standard):
    run = Run(out_m, back_m, load_a, 13.5)
    drops = [drop_v(wire, run) for wire in conductors(standard)]
    assert drops == sorted(drops, reverse=True)


@given(st.floats(0.01, 24), st.sampled_from(conductors(WireStandard.AWG)))
def test_a_chosen_fuse_always_protects_the_wire(load_a, wire):
    fuse = choose_fuse(load_a, wire.largest_fuse_a)
    assert fuse is None or 1.25 * load_a <= fuse.rating_a <= wire.largest_fuse_a
