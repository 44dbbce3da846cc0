"""Whole runs of wire sized a second time from first principles: copper, the gauge formula, and the rules of the trade.

Shares no table and no function with what it checks: diameters from the formula of ASTM B258, copper at 100 % IACS
(1.7241e-8 ohm m at 20 C, 0.393 % a kelvin, IEC 60028), blade sizes of ISO 8820-3 (from memory), the largest fuse for a
gauge, 3 %, 0.5 V and 1.25 (common practice).
"""

from __future__ import annotations

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from electrics.design.inputs import assume
from electrics.design.joints import JointPlace
from electrics.design.run import Run, wire_options
from electrics.design.sized import RunFacts, size_lead
from electrics.reference.conductor import HOT_C, WireStandard, conductor

BLADES_A = (1, 2, 3, 4, 5, 7.5, 10, 15, 20, 25, 30, 35, 40)
LARGEST_FUSE_A = {22: 3, 20: 5, 18: 10, 16: 15, 14: 20, 12: 25, 10: 30}
PLACE = JointPlace()
RUNNING_V = {6: 6.75, 12: 13.5, 24: 27.0}


def ohm_per_m(gauge, celsius):
    diameter_m = 0.127e-3 * 92 ** ((36 - gauge) / 39)
    area_m2 = 3.141592653589793 / 4 * diameter_m**2
    return 1.7241e-8 / area_m2 * (1 + 0.00393 * (celsius - 20))


def by_hand(out_m, back_m, load_a, shared_a, system_v):
    """Drop and fuse of every gauge, and the thinnest from 18 AWG on that breaks no rule."""
    found, chosen = {}, None
    for gauge, largest_a in LARGEST_FUSE_A.items():
        lost_v = ohm_per_m(gauge, HOT_C) * (load_a * out_m + (load_a + shared_a) * back_m)
        fuse_a = next((blade for blade in BLADES_A if 1.25 * load_a <= blade <= largest_a), None)
        found[gauge] = lost_v, fuse_a
        is_right = lost_v <= 0.03 * RUNNING_V[system_v] and fuse_a is not None
        chosen = gauge if is_right and chosen is None and gauge <= 18 else chosen
    return found, chosen


lengths = st.floats(0.1, 12.0).map(lambda x: round(x, 1))
loads = st.floats(0.05, 24.0).map(lambda x: round(x, 2))


@given(lengths, lengths, loads, st.sampled_from([0.0, 1.5]), st.sampled_from([6, 12, 24]))
@settings(max_examples=150, deadline=None)
def test_any_run_is_sized_as_by_hand(out_m, back_m, load_a, shared_a, system_v):
    expected, chosen = by_hand(out_m, back_m, load_a, shared_a, system_v)
    run = Run(out_m, back_m, load_a, RUNNING_V[system_v], shared_a)
    rules = assume(load_a, system_v, {}).rules
    for option in wire_options(run, WireStandard.AWG, HOT_C, rules):
        lost_v, fuse_a = expected[int(option.conductor.size)]
        assert option.drop_v == pytest.approx(lost_v, rel=0.005), "the gauge table rounds to three digits"
        assert (option.fuse.rating_a if option.fuse else None) == fuse_a
        near_the_limit = abs(lost_v / RUNNING_V[system_v] - 0.03) < 0.0005
        if not near_the_limit:
            assert ("aim" in option.faults) == (lost_v > 0.03 * RUNNING_V[system_v])
        assert ("fuse" in option.faults) == (fuse_a is None)
    if not any(abs(lost_v / RUNNING_V[system_v] - 0.03) < 0.0005 for lost_v, _ in expected.values()):
        facts = RunFacts(out_m, back_m, WireStandard.AWG, "", "crimp_butt", "wire", {}, shared_a)
        sized = size_lead(facts, load_a, system_v, None, PLACE, conductor(WireStandard.AWG, "18"))
        assert (int(sized.option.conductor.size) if sized.option else None) == chosen


@given(lengths, loads, st.sampled_from([6, 12, 24]))
@settings(max_examples=80, deadline=None)
def test_what_is_named_as_nearest_can_be_had_and_a_little_more_cannot(out_m, load_a, system_v):
    """Where no gauge will do, the shorter way or the smaller load that is named does, and five percent more does not."""
    facts = RunFacts(out_m * 5, 0.5, WireStandard.AWG, "", "crimp_butt", "wire", {}, 0.0)
    host = conductor(WireStandard.AWG, "18")
    sized = size_lead(facts, load_a, system_v, None, PLACE, host)
    if sized.nearest is None:
        return
    what, value = sized.nearest
    for share, is_had in ((0.995, True), (1.05, False)):
        way_m = value * share if what == "out_m" else 0.1
        amps = value * share if what == "load_a" else load_a
        _, chosen = by_hand(way_m, 0.5, amps, 0.0, system_v)
        assert (chosen is not None) is is_had, f"{what} {value * share:.2f}"


@pytest.mark.parametrize(("system_v", "amps"), [(6, 7.0), (12, 3.5), (24, 1.75)])
def test_the_same_watts_on_another_system_want_another_wire(system_v, amps):
    """Half the volts: twice the amps on half the drop, so four times the copper (Ohm's law)."""
    _, chosen = by_hand(4.0, 4.0, amps, 0.0, system_v)
    assert chosen == {6: None, 12: 14, 24: 18}[system_v]
    facts = RunFacts(4.0, 4.0, WireStandard.AWG, "", "crimp_butt", "wire", {}, 0.0)
    sized = size_lead(facts, amps, system_v, None, PLACE, conductor(WireStandard.AWG, "18"))
    assert (int(sized.option.conductor.size) if sized.option else None) == chosen
