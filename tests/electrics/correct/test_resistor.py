"""Load resistors: the window, values, heat and cases, against the handbook's worked example and the closed form."""

from __future__ import annotations

from dataclasses import replace
from math import exp, inf

import pytest
from eseries import E12, E24, find_nearest

from electrics.correct.resistor import (
    Need,
    choose_case,
    describe,
    e_series,
    fit_resistor,
    led_least_a,
    window,
)
from electrics.errors import FactError
from electrics.reference.mounts import body_c, mounts
from electrics.reference.usual import HIGHEST_V, LOWEST_V

EXAMPLE = Need(3.04, 0.4, count=2)
"""Two 2.10 A bulbs replaced by two string LEDs of 0.2 A; the flasher waits for 3.04 A (the handbook's example)."""


@pytest.mark.parametrize(("ohm", "passes"), [(6.0, True), (8.0, False), (10.0, False)])
def test_at_the_lowest_voltage_two_of_six_ohm_pass_and_two_of_eight_do_not(ohm, passes):
    """2 x 11.5 V / 6.6 ohm + 0.274 A = 3.76 A even at +10 %; 2 x 11.5 / 8.4 + 0.274 = 3.01 A, by hand."""
    led_a = led_least_a(0.4, LOWEST_V)
    assert led_a == pytest.approx(2 * 0.137, abs=0.001)
    assert (2 * LOWEST_V / (1.05 * ohm) + led_a >= 3.04) is passes
    assert (ohm <= window(EXAMPLE).most_ohm) is passes


def test_at_twelve_volts_eight_ohm_would_seem_to_pass():
    """Which is why it is sized at 11.5 V."""
    assert 2 * 12.0 / 8.0 + led_least_a(0.4, 12.0) > 3.04


def test_the_largest_that_passes_is_taken_and_one_alone_does_not_do():
    fit = fit_resistor(EXAMPLE)
    assert (fit.ohm, fit.series, fit.count) == (6.0, "trade", 2)
    assert fit_resistor(replace(EXAMPLE, count=1)).ohm < 6.0
    assert fit.amps_a == pytest.approx(2.25)
    assert fit.watts_w == pytest.approx(30.4, abs=0.1)


def test_on_24_volts_four_times_the_ohms_make_the_same_watts():
    """Half the current at twice the volts; 27 ohm is the largest of E12 that passes, 33 is too much (IEC 60063)."""
    need = Need(1.52, 0.2, count=2, system_v=24)
    assert window(need).most_ohm == pytest.approx(4 * window(EXAMPLE).most_ohm)
    fit = fit_resistor(need)
    assert fit.ohm == 27.0 < window(need).most_ohm < 33.0
    assert fit.watts_w == pytest.approx(27.0**2 / 27.0)


def test_nothing_is_fitted_where_nothing_is_missing_or_the_fuse_forbids_it():
    assert fit_resistor(Need(1.0, bulbs_a=2.0)) is None
    assert window(Need(3.0, most_a=1.0)).least_ohm > window(Need(3.0, most_a=1.0)).most_ohm
    assert fit_resistor(Need(3.0, most_a=1.0)) is None


@pytest.mark.parametrize("n", [12, 24])
def test_the_e_series_are_those_of_the_standard(n):
    """IEC 60063, against a library."""
    series = {12: E12, 24: E24}[n]
    assert all(find_nearest(series, value) == pytest.approx(value) for value in e_series(n))
    assert len(set(e_series(n))) == n


def test_what_the_shop_has_goes_before_what_is_sold():
    assert fit_resistor(EXAMPLE, stock_ohm=(4.7, 6.8, 9.1)).ohm == 6.8
    assert fit_resistor(EXAMPLE, stock_ohm=(9.1, 12.0)) is None


@pytest.mark.parametrize("case_w", [10, 15, 25, 50, 75, 100])
def test_a_case_settles_at_its_limit_at_its_rating(case_w):
    """By definition of the ratings (data sheets, from memory): 25 C air, 200 C body."""
    plate = {10: 10, 15: 15, 25: 25, 50: 50, 75: 75, 100: 100}[case_w]
    assert body_c(case_w, "metal", plate, inf) == pytest.approx(200.0)
    assert choose_case(plate, "metal") == case_w


def test_free_air_is_the_closed_form_of_one_exponential():
    """12.5 K/W and 31 J/K: 390 s (data sheets of the generic part, from memory)."""
    for seconds in (10.0, 80.0, 200.0, 1000.0):
        expected = 25 + 15.2 * 12.5 * (1 - exp(-seconds / (12.5 * 31)))
        assert body_c(50, "free_air", 15.2, seconds) == pytest.approx(expected)
    assert body_c(50, "free_air", 15.2, 80.0) > 60
    assert body_c(50, "free_air", 13.5**2 / 6, 240.0) > 200


def test_on_its_plate_twenty_minutes_show_about_four_fifths_of_the_rise():
    """Two time constants, measured after 45 minutes; 20 minutes show 78 % (published estimate)."""
    settled = body_c(50, "metal", 30.0, 45 * 60) - 25
    assert (body_c(50, "metal", 30.0, 20 * 60) - 25) / settled == pytest.approx(0.82, abs=0.05)


def test_cases_of_equal_ohms_act_alike_and_the_smaller_gets_hotter():
    """Fact of the trade: 25 W and 50 W cases turn the same watts into heat."""
    small, large = (body_c(case_w, "metal", 20.0, inf) for case_w in (25, 50))
    assert small > large
    fits = [describe(EXAMPLE, 6.0, mount=mount.id) for mount in mounts()]
    assert len({fit.heat_w for fit in fits}) == 1


def test_six_ohm_that_the_brake_can_hold_survives_on_bare_metal_and_on_nothing_that_passes_200_degrees():
    """Held at 15 V it wants at most 4.7 K/W (published): a 50 W case on its plate has 3.5, in free air 12.5."""
    held = replace(EXAMPLE, is_held=True)
    fit = describe(held, 6.0)
    assert fit.heat_w == pytest.approx(HIGHEST_V**2 / 5.7)
    assert fit.survives
    assert 175 / fit.heat_w == pytest.approx(4.4, abs=0.3)
    assert body_c(50, "free_air", fit.heat_w, inf) > 200
    assert choose_case(fit.heat_w, "free_air") is None


@pytest.mark.parametrize(
    ("need", "tolerance"),
    [
        (Need(0.0), 0.05),
        (Need(99.0), 0.05),
        (Need(3.0, led_a=-1), 0.05),
        (Need(3.0, count=0), 0.05),
        (Need(3.0, system_v=13), 0.05),
        (Need(3.0), 0.5),
        (Need(3.0, most_a=-1), 0.05),
    ],
)
def test_what_cannot_be_is_refused(need, tolerance):
    with pytest.raises(FactError):
        window(need, tolerance)
