"""Wire against the published copper tables."""

from __future__ import annotations

import itertools

import pytest

from electrics.errors import TableError
from electrics.reference.conductor import WireStandard, awg_diameter_mm, conductor, conductors, largest_fuse_a


@pytest.mark.parametrize(
    ("awg", "area_mm2", "milliohm_per_m"),
    [
        (10, 5.261, 3.277),
        (12, 3.309, 5.211),
        (14, 2.081, 8.286),
        (16, 1.309, 13.17),
        (18, 0.823, 20.95),
        (20, 0.518, 33.31),
        (22, 0.326, 52.96),
    ],
)
def test_american_gauges_match_the_published_copper_table(awg, area_mm2, milliohm_per_m):
    """AWG copper wire tables at 20 C (published); within 0.2 %."""
    wire = conductor(WireStandard.AWG, str(awg))
    assert wire.area_mm2 == pytest.approx(area_mm2, rel=0.002)
    assert 1e3 * wire.ohm_per_m_20 == pytest.approx(milliohm_per_m, rel=0.002)


def test_the_astm_series_is_anchored_at_its_two_defining_diameters():
    """ASTM B258: 36 AWG is 0.0050 inch, 4/0 (number -3) is 0.4600 inch."""
    assert awg_diameter_mm(36) == pytest.approx(0.0050 * 25.4)
    assert awg_diameter_mm(-3) == pytest.approx(0.4600 * 25.4)


@pytest.mark.parametrize("wire", conductors(WireStandard.METRIC), ids=lambda wire: wire.name)
def test_metric_resistance_is_copper_with_the_allowance_for_stranding(wire):
    """R A = rho: the largest resistances of ISO 6722-1 lie 2 to 13 % above solid copper."""
    assert 1.02 < wire.ohm_per_m_20 * wire.area_mm2 / 0.017241 < 1.13


@pytest.mark.parametrize("wire", conductors(WireStandard.VEHICLE), ids=lambda wire: wire.name)
def test_vehicle_cable_holds_up_to_15_percent_less_copper_than_its_gauge(wire):
    """Up to 12 % less is common practice; 16 gauge cable of 1.12 mm2 is 14 % less."""
    assert 0.85 <= wire.area_mm2 / conductor(WireStandard.AWG, wire.size).area_mm2 < 1.0


@pytest.mark.parametrize("standard", list(WireStandard))
def test_thicker_wire_has_less_resistance_and_bears_no_smaller_fuse(standard):
    wires = conductors(standard)
    for thin, thick in itertools.pairwise(wires):
        assert thin.ohm_per_m_20 > thick.ohm_per_m_20
        assert thin.largest_fuse_a <= thick.largest_fuse_a


def test_copper_at_85_degrees_has_a_quarter_more_resistance():
    """+26 % from 20 to 85 C at 0.393 %/K (IEC 60028)."""
    wire = conductor(WireStandard.AWG, "16")
    assert wire.ohm_per_m(85.0) / wire.ohm_per_m(20.0) == pytest.approx(1.255, abs=0.001)


@pytest.mark.parametrize(
    ("area_mm2", "fuse_a"),
    [
        (0.163, 1.5),
        (0.326, 3),
        (0.5, 4.81),
        (0.518, 5),
        (0.75, 8.80),
        (0.76, 8.97),
        (0.823, 10),
        (1.5, 16.24),
        (6, 30),
    ],
)
def test_between_the_gauges_the_fuse_limit_follows_the_copper(area_mm2, fuse_a):
    """3 A at 0.326 mm2, 5 at 0.518, 10 at 0.823, 15 at 1.309, 20 at 2.081 (common practice), straight lines between."""
    assert largest_fuse_a(area_mm2) == pytest.approx(fuse_a, rel=0.004)


def test_no_wire_bears_far_less_than_one_of_nearly_as_much_copper():
    """0.75 mm2 metric and the 0.76 mm2 sold as 18 gauge are the same wire but for 1 %."""
    metric, gauge = conductor(WireStandard.METRIC, "0.75"), conductor(WireStandard.VEHICLE, "18")
    assert metric.largest_fuse_a == pytest.approx(gauge.largest_fuse_a, rel=0.03)


def test_a_size_nobody_sells_is_named_with_those_there_are():
    with pytest.raises(TableError, match="Sizes are: 22, 20, 18"):
        conductor(WireStandard.AWG, "17")
