"""The reference tables: what the numbers mean, and that a broken table is refused."""

from __future__ import annotations

import csv
import math
from importlib.resources import files

import pytest

from electrics.document.places import Side
from electrics.errors import TableError
from electrics.identify.kinds import access_kinds, count_prior, plug_pins
from electrics.reference import tables
from electrics.reference.bulbs import bulbs
from electrics.reference.fuses import fuses
from electrics.reference.usual import usual_circuit, usual_circuits
from electrics.vocabulary import FUNCTIONS, Arrangement, Function

NAMES = sorted(path.name for path in files("electrics.reference").joinpath("data").iterdir())


@pytest.mark.parametrize("name", NAMES)
def test_every_row_names_a_known_source_and_basis(name):
    text = files("electrics.reference").joinpath("data", name).read_text("utf-8")
    for row in csv.DictReader(text.splitlines()):
        assert row["source"] in tables.sources()
        assert row["basis"] in tables.BASES


@pytest.mark.parametrize(
    ("text", "complaint"),
    [
        ("a,b,source\n1,2,trade\n", "columns are"),
        ("a,b,source,basis\n", "no rows"),
        ("a,b,source,basis\n1,2,trade,estimate\n1,3,trade,estimate\n", "stands twice"),
        ("a,b,source,basis\n1,2,hearsay,estimate\n", "unknown source"),
        ("a,b,source,basis\n1,2,trade,guess\n", "unknown source or basis"),
        ("a,b,source,basis\n1,two,trade,estimate\n", "cannot be read"),
    ],
)
def test_a_broken_table_is_refused(text, complaint, tmp_path, monkeypatch):
    (tmp_path / "data").mkdir()
    (tmp_path / "data" / "broken.csv").write_text(text)
    tables.sources()
    monkeypatch.setattr(tables, "files", lambda package: tmp_path)
    with pytest.raises(TableError, match=complaint):
        tables.read_table("broken", ("a", "b"), lambda row: float(row["b"]))


def test_a_missing_row_names_those_there_are():
    with pytest.raises(TableError, match="P21W"):
        bulbs()["candle"]


def test_fuse_steps_rise_as_sold():
    """Blade ratings, ISO 8820-3 (from memory)."""
    assert [fuse.rating_a for fuse in fuses()] == [1, 2, 3, 4, 5, 7.5, 10, 15, 20, 25, 30, 35, 40]


@pytest.mark.parametrize("kind", [kind.id for kind in access_kinds()])
@pytest.mark.parametrize("arrangement", list(Arrangement))
def test_prior_counts_are_distributions(kind, arrangement):
    prior = count_prior(kind, Side.LEFT, arrangement, 30)
    assert prior.shape == (len(FUNCTIONS), 31)
    assert prior.sum(axis=1) == pytest.approx(1.0, abs=1e-6)


def test_a_left_lamp_expects_left_functions():
    own = count_prior("rear_lamp", Side.LEFT, Arrangement.SEPARATE, 5)
    left, right = FUNCTIONS.index(Function.TURN_LEFT), FUNCTIONS.index(Function.TURN_RIGHT)
    assert own[left, 1] > 50 * own[right, 1]
    assert count_prior("rear_lamp", Side.RIGHT, Arrangement.SEPARATE, 5)[right, 1] == own[left, 1]


@pytest.mark.parametrize(
    ("bulb", "volts", "watts", "largest_w"),
    [
        ("P21W", 12, 21, 26.5),
        ("W16W", 12, 16, 21.35),
        ("R5W", 13.5, 5, 5.5),
        ("T4W", 13.5, 4, 4.4),
        ("P21/5W tail", 13.5, 6, 6.6),
    ],
)
def test_a_bulb_of_the_regulation_has_its_usual_watts_for_monitors_and_its_largest_for_fuses(
    bulb, volts, watts, largest_w
):
    """UN R37, from memory: the largest at 13.5 V is some 6 % above the usual of a main filament, 10 % of a small one."""
    found = bulbs()[bulb]
    assert volts * found.nominal_current_a(volts) == pytest.approx(watts)
    assert 13.5 * found.largest_current_a(13.5) == pytest.approx(largest_w)


@pytest.mark.parametrize("bulb", [bulb.name for bulb in bulbs() if bulb.has_largest and not bulb.is_led])
def test_no_usual_bulb_draws_more_than_the_largest_may(bulb):
    found = bulbs()[bulb]
    assert 0.85 < found.nominal_current_a(13.5) / found.largest_current_a(13.5) < 0.97


@pytest.mark.parametrize(
    ("bulb", "volts", "amps"),
    [
        *[(name, 12.8, 2.10) for name in ("1156", "1157", "2057", "3156", "3157")],
        *[(f"{name} tail", 14.0, amps) for name, amps in (("1157", 0.59), ("2057", 0.48), ("3157", 0.59))],
        *[("7443", 12.0, 1.75), ("7443 tail", 12.0, 0.42), ("194", 14.0, 0.27), ("168", 14.0, 0.35)],
        *[("67", 13.5, 0.59), ("89", 13.0, 0.58)],
    ],
)
def test_a_trade_number_draws_its_design_current_whatever_it_is_asked_for(bulb, volts, amps):
    """SAE J573, from memory."""
    found = bulbs()[bulb]
    assert found.nominal_current_a(volts) == pytest.approx(amps) == found.largest_current_a(volts)


@pytest.mark.parametrize("bulb", [bulb.name for bulb in bulbs() if not bulb.is_led])
def test_small_filaments_are_cooler(bulb):
    """Main filaments some 2800 K, those of 10 W and less some 2500 K (handbook, from memory)."""
    found = bulbs()[bulb]
    as_on_12_v = found.nominal_a * found.system_v / 12
    assert found.hot_k == (2800 if as_on_12_v > 0.95 else 2500)


def test_the_contacts_of_the_7_blade_socket_stand_where_they_are():
    """Into the vehicle's socket, key up, clockwise from the upper left: tail, battery, right, brake, ground, left (from memory)."""
    pins = {pin.pin: pin for pin in plug_pins() if pin.plug == "blade_7"}
    centre = pins.pop("7")
    assert (centre.function, centre.x, centre.y) == (Function.REVERSE, 50, 50)

    def angle(pin):
        return (math.degrees(math.atan2(pin.x - 50, 50 - pin.y)) + 60) % 360

    assert [pin.pin for pin in sorted(pins.values(), key=angle)] == ["3", "4", "6", "2", "1", "5"]


def test_a_6_v_circuit_has_the_watts_of_12_v_at_twice_the_amps_and_wire_for_them():
    """UN R37 (from memory): 21 W at 6 V too, 27.6 W at most at 6.75 V. Four sizes thicker is 2.5 times the copper."""
    six, twelve = (usual_circuit("stop", system_v) for system_v in (6, 12))
    draws = [bulbs()[usual.bulb].largest_current_a(v) for usual, v in ((six, 6.75), (twelve, 13.5))]
    assert draws[0] == pytest.approx(2 * draws[1], rel=0.06)
    assert (six.fuse_a, int(six.wire)) == (2 * twelve.fuse_a, int(twelve.wire) - 4)


@pytest.mark.parametrize("name", [usual.led for usual in usual_circuits()])
def test_an_led_lamp_draws_the_same_watts_on_every_system_a_tenth_to_a_third_of_a_bulbs(name):
    """Common practice."""
    found = [bulbs()[name], bulbs()[f"{name} 24 V"], bulbs()[f"{name} 6 V"]]
    assert {round(bulb.nominal_v * bulb.nominal_a, 3) for bulb in found} == {
        round(found[0].nominal_v * found[0].nominal_a, 3)
    }
    usual = next(each for each in usual_circuits() if each.led == name)
    assert 0.05 <= found[0].nominal_a / bulbs()[usual.bulb].nominal_current_a(13.5) <= 0.5
    assert found[0].nominal_current_a(6.0) == 0.0
