"""Diodes and relays: facts of the trade and data sheets."""

from __future__ import annotations

import pytest

from electrics.design.sizing import check_part, choose_diode, choose_relay
from electrics.errors import FactError


def test_a_diode_for_one_21_watt_bulb():
    """Common practice: 2.1 A makes 1.8 W, 70 to 90 K in a sleeve, and costs a fifth of the light."""
    found = choose_diode(2.1, 12)
    assert found.diode.rated_a >= 1.5 * 2.1
    assert found.diode.reverse_v >= 200
    assert found.heat_w == pytest.approx(1.8, abs=0.1)
    assert 70 <= found.rise_k <= 90
    assert found.light_lost == pytest.approx(0.2, abs=0.03)


@pytest.mark.parametrize(("system_v", "least_v"), [(12, 200), (24, 600)])
def test_reverse_voltage_follows_the_system(system_v, least_v):
    """ISO 16750-2 load dump on 12 V, ISO 7637-2 pulse 1 to -600 V on 24 V (from memory)."""
    assert choose_diode(0.3, system_v).diode.reverse_v >= least_v


def test_a_schottky_only_behind_a_suppressor():
    assert choose_diode(2.1, 12).diode.family == "silicon"
    behind = choose_diode(2.1, 12, is_suppressed=True)
    assert behind.diode.family == "schottky"
    assert 0.3 <= behind.drop_v <= 0.6


def test_an_led_current_drops_about_six_tenths():
    """Common practice: 0.6 V at LED currents, silicon."""
    assert choose_diode(0.05, 12).drop_v == pytest.approx(0.7, abs=0.12)


def test_a_hot_coil_pulls_in_later():
    """ISO 7588 kind parts (from memory): 8 V at 23 C, 9.9 V at 85 C; about 85 and 350 ohm, 0.15 A."""
    found = choose_relay(5, 12)
    assert (found.pull_in_v, found.coil_ohm) == (8, 85)
    assert found.pull_in_hot_v == pytest.approx(9.9, abs=0.05)
    assert found.coil_a == pytest.approx(0.15, abs=0.02)
    assert choose_relay(5, 24).coil_ohm == 350


@pytest.mark.parametrize(("load_a", "k_per_w", "is_hot"), [(0.4, 45, False), (2.1, 45, True), (4.2, 20, True)])
def test_a_diode_that_gets_hot_says_so(load_a, k_per_w, is_hot):
    """Common practice: 2.1 A in a sleeve wants air; in open air (20 K/W, estimate) twice as much does, too."""
    assert choose_diode(load_a, 12, k_per_w=k_per_w).is_hot is is_hot


def test_a_diode_that_would_melt_its_sleeve_is_refused_with_what_would_do():
    """3.8 W at 45 K/W make 170 K; adhesive-lined sleeve bears 125 C (makers' figures, from memory)."""
    with pytest.raises(FactError, match=r"3\.\d W .* 1[67]\d K warmer .* relay, split .* open air"):
        choose_diode(4.2, 12)


@pytest.mark.parametrize(("load_a", "led_a", "filament_a"), [(4.0, 20, 20), (8.0, 20, 30), (14.0, 20, 70)])
def test_a_contact_makes_the_inrush_of_cold_filaments(load_a, led_a, filament_a):
    """Ten times the current for tens of milliseconds (common practice); 120 A made by 40 A (ISO 7588, from memory)."""
    assert choose_relay(load_a, 12).contact_a == led_a
    assert choose_relay(load_a, 12, is_filament=True).contact_a == filament_a


@pytest.mark.parametrize(
    ("part", "load_a", "system_v", "complaint"),
    [
        ("converter", 2, 6, "sold for 12 V and 24 V, not for 6 V"),
        ("converter", 8, 12, "more than the 7 A"),
        ("converter", 5, 24, "more than the 4 A"),
        ("timed_relay", 2, 6, "sold for 12 V and 24 V, not for 6 V"),
        ("timed_relay", 12, 12, "more than the 10 A"),
        ("self_switching_bulb", 0, 6, "sold for 12 V and 24 V, not for 6 V"),
    ],
)
def test_a_part_is_taken_for_a_system_and_a_current_that_it_is_sold_for(part, load_a, system_v, complaint):
    """Outputs of modules bear 4 to 7 A, a timed relay 10 A (common practice); what is in no row is sold for all."""
    check_part("converter", 3.9, 24)
    check_part("relay", 50.0, 6)
    with pytest.raises(FactError, match=complaint):
        check_part(part, load_a, system_v)


@pytest.mark.parametrize("load_a", [0, -1, 100])
def test_an_impossible_load_is_refused(load_a):
    for choose in (choose_diode, choose_relay):
        with pytest.raises(FactError, match="no lamp load"):
            choose(load_a, 12)
