"""Load on the host circuit."""

from __future__ import annotations

import pytest

from electrics.design.load import check_load_a, host_load
from electrics.errors import FactError
from electrics.reference.bulbs import bulbs
from electrics.reference.usual import running_v


@pytest.mark.parametrize(("bulb", "watts"), [("P21W", 26.5), ("R5W", 5.5), ("W16W", 21.35), ("R10W", 11.0)])
def test_european_bulbs_draw_at_most_their_rated_watts(bulb, watts):
    """Largest watts at 13.5 V, UN R37 (from memory)."""
    assert bulbs()[bulb].largest_current_a(13.5) * 13.5 == pytest.approx(watts)


def test_american_bulbs_are_brought_to_the_running_voltage():
    """1156: 12.8 V 2.10 A (SAE J573, from memory); handbook exponent 0.55 gives 2.162 A at 13.5 V."""
    assert bulbs()["1156"].nominal_current_a(13.5) == pytest.approx(2.10 * (13.5 / 12.8) ** 0.55, rel=0.002)


def test_a_24_volt_bulb_takes_about_half_the_amps():
    """29.7 W at 28 V against 26.5 W at 13.5 V (UN R37, from memory)."""
    assert bulbs()["P21W 24 V"].largest_current_a(28.0) == pytest.approx(29.7 / 28.0)


def test_two_reverse_bulbs_and_three_amps_of_pods_fit_ten_but_not_seven_and_a_half():
    """3.93 A + 3.0 A = 6.93 A against 80 % of 10 A and of 7.5 A, by hand."""
    loads = [host_load(bulbs()["P21W"], 2, 3.0, fuse, 10.0, 13.5) for fuse in (10.0, 7.5)]
    assert loads[0].total_a == pytest.approx(6.926, abs=0.001)
    assert [load.allowed_a for load in loads] == [8.0, 6.0]
    assert [load.fits_fuse for load in loads] == [True, False]


def test_leds_count_at_the_most_they_may_draw():
    """54 W of LEDs at 11.5 V are 4.70 A where 4.0 A were measured at 13.5 V, by hand: too much for what 4 A fits."""
    load = host_load(bulbs()["P21W"], 2, 4.0, 10.0, 10.0, 13.5)
    assert load.largest_a == pytest.approx(3.926 + 54 / 11.5, abs=0.002)
    assert load.total_a < load.allowed_a < load.largest_a
    assert not load.fits_fuse
    assert host_load(bulbs()["P21W"], 2, 4.0, 10.0, 10.0, 13.5, added_filament_a=4.0).fits_fuse


def test_the_host_wire_is_a_limit_of_its_own():
    load = host_load(bulbs()["P21W"], 2, 3.0, 20.0, 5.0, 13.5)
    assert load.fits_fuse
    assert not load.fits_wire


def test_filaments_start_at_ten_times_their_current():
    """Common practice; cold resistance is 1/12 to 1/15 of hot."""
    assert host_load(bulbs()["P21W"], 1, 0.0, 10.0, 10.0, 13.5).inrush_a == pytest.approx(19.6, abs=0.1)


@pytest.mark.parametrize(
    ("count", "each_a", "complaint"),
    [
        (0, 1.0, "0 lamps"),
        (2, 0.0, "Expected 0.001"),
        (2, -1.0, "Expected 0.001"),
        (1, 300.0, "is the point missing"),
        (10, 20.0, "no lamp circuit"),
    ],
)
def test_impossible_loads_are_refused_with_the_reason(count, each_a, complaint):
    with pytest.raises(FactError, match=complaint):
        check_load_a(count, each_a)


def test_running_voltage_by_system():
    assert [running_v(v) for v in (6, 12, 24)] == [6.75, 13.5, 27.0]
    with pytest.raises(FactError, match="no vehicle system"):
        running_v(42)
