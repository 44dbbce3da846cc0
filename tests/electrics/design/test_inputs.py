"""Inputs of the sizes: usual values, overrides, and overrides that cannot stand together."""

from __future__ import annotations

import pytest
from hypothesis import given
from hypothesis import strategies as st

from electrics.design.forms import FORMS
from electrics.design.inputs import INPUTS, assume, check_fuse
from electrics.design.joints import JointPlace
from electrics.design.sized import CircuitFacts, RunFacts, circuit_load, size_lead
from electrics.errors import FactError
from electrics.reference.conductor import WireStandard, conductor, conductors

AWG18 = conductor(WireStandard.AWG, "18")
BY_ID = {form.id: form for form in FORMS}


def sized(load_a=2.4, form="direct", system_v=12, **facts):
    run = RunFacts(**{"out_m": 3.4, "back_m": 0.6, **facts})
    return size_lead(run, load_a, system_v, BY_ID[form], JointPlace(), AWG18)


@pytest.mark.parametrize(("system_v", "most_v", "reverse_v"), [(6, 0.25, 200), (12, 0.5, 200), (24, 1.0, 600)])
def test_usual_values_follow_the_system(system_v, most_v, reverse_v):
    """Half a volt on 12 V (common practice); load dump and pulse 1 (ISO 16750-2, ISO 7637-2, from memory)."""
    found = assume(2.0, system_v, {})
    assert found["most_drop_v"] == pytest.approx(most_v, abs=0.001)
    assert found["reverse_v"] == reverse_v
    assert not found.overrides


def test_an_override_that_says_the_usual_is_none():
    assert assume(2.0, 12, {"hot_c": 85.0}).overrides == {}


@pytest.mark.parametrize("one", INPUTS, ids=lambda one: one.id)
def test_every_input_refuses_what_cannot_be(one):
    for value in (one.low - 0.01 * abs(one.low) - 0.001, one.high * 1.01):
        with pytest.raises(FactError, match="cannot be") as refused:
            assume(0.5, 12, {one.id: value})
        assert refused.value.field == one.id


def test_an_unknown_input_is_refused():
    with pytest.raises(FactError, match="no input"):
        assume(2.0, 12, {"luck": 1.0})


def test_a_fuse_that_the_wire_does_not_bear_names_both_ways_out():
    with pytest.raises(FactError, match="Nearest: 10 A, or 14 AWG"):
        check_fuse(assume(2.0, 12, {"fuse_a": 20.0}), AWG18, conductors(WireStandard.AWG))


def test_a_picked_fuse_takes_the_wire_that_it_protects():
    """15 A on 16 AWG at least (common practice), whatever the load would do with."""
    found = sized(overrides={"fuse_a": 15.0})
    assert (found.option.conductor.size, found.fuse.rating_a) == ("16", 15)


def test_a_wire_in_the_engine_bay_and_a_shared_way_back_lose_more():
    """2.4 A, 20.95 mohm/m at 20 C, 3.4 m out and 0.6 m back: 0.201 V; with 5 A more in the way back 0.264 V, by hand."""
    cold = {"hot_c": 20.0}
    alone, shared = (sized(overrides=cold, size="18", shared_a=amps).option.drop_v for amps in (0.0, 5.0))
    assert alone == pytest.approx(0.201, abs=0.001)
    assert shared == pytest.approx(0.264, abs=0.001)


@given(st.floats(0.1, 8), st.floats(0.5, 20), st.floats(1, 3))
def test_whatever_is_overridden_the_fuse_carries_the_load_and_protects_the_wire(load_a, out_m, factor):
    found = sized(load_a, out_m=out_m, overrides={"fuse_factor": factor})
    if found.fuse is not None:
        assert factor * load_a <= found.fuse.rating_a <= found.option.conductor.largest_fuse_a


@pytest.mark.parametrize(
    ("form", "relay", "diode"), [("direct", False, False), ("relay", True, False), ("diode_or", False, True)]
)
def test_a_form_brings_its_parts_sized(form, relay, diode):
    found = sized(1.2, form=form)
    assert (found.relay is not None, found.diode is not None) == (relay, diode)


def test_diodes_before_a_coil_carry_the_coil_and_not_the_lamps():
    """13.5 V over 85 ohm is 0.16 A: the smallest generic diode does (ISO 7588 kind parts, from memory)."""
    found = sized(20.0, form="relay_or")
    assert found.relay.coil_a == pytest.approx(0.16, abs=0.01)
    assert found.diode.diode.rated_a == 1


def test_a_load_that_no_part_bears_is_a_fault_with_its_reason():
    found = sized(9.0, form="diode_or")
    assert "part" in found.faults
    assert "No generic diode bears 1.5 times 9 A" in found.problem


def test_a_clamp_overrules_the_bulbs():
    """Two P21W draw 3.93 A at 13.5 V (UN R37, from memory)."""
    facts = CircuitFacts("P21W", 2, 10.0, 10.0)
    assert circuit_load(facts, 1.0, 13.5).present_a == pytest.approx(3.93, abs=0.01)
    assert circuit_load(CircuitFacts("P21W", 2, 10.0, 10.0, measured_a=5.1), 1.0, 13.5).present_a == 5.1
    assert circuit_load(CircuitFacts("", None, 10.0, 10.0), 1.0, 13.5) is None


def test_a_load_that_no_wire_carries_names_the_nearest_that_one_does():
    """10 AWG with a 30 A fuse bears 24 A at 1.25 x; 20 A over 4.11 mohm/m hot loses 0.405 V in 4.9 m, by hand."""
    assert sized(28.0).nearest == ("load_a", pytest.approx(24.0))
    what, out_m = sized(20.0, out_m=8.0).nearest
    assert (what, out_m + 0.6) == ("out_m", pytest.approx(4.92, abs=0.05))


def test_added_filaments_start_cold_too():
    """About ten times their running current (common practice)."""
    facts = CircuitFacts("P21W", 1, 10.0, 10.0)
    plain, more = (circuit_load(facts, 2.1, 13.5, added_filament_a=amps).inrush_a for amps in (0.0, 2.1))
    assert more - plain == pytest.approx(21.0)
