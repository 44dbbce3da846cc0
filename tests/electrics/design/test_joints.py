"""The schools of joining and grounding: facts of the trade, common practice all of them."""

from __future__ import annotations

from dataclasses import replace

import pytest

from electrics.design.joints import JointPlace, better_joint, fit_ground, fit_joint, ground_methods, joint_methods
from electrics.document.decisions import Keeps
from electrics.reference.conductor import WireStandard, conductor

AWG = {size: conductor(WireStandard.AWG, size) for size in ("20", "18", "16", "14", "12")}
DRY = JointPlace()


def fit(method, place=DRY, host="18", branch="18"):
    return fit_joint(joint_methods()[method], AWG[host], AWG[branch], place)


@pytest.mark.parametrize(
    ("method", "place", "host", "broken"),
    [
        ("displacement_tap", JointPlace(is_exposed=True), "18", "exposed"),
        ("displacement_tap", DRY, "14", "unlike_gauges"),
        ("displacement_tap", JointPlace(is_monitored=True), "18", "monitored"),
        ("displacement_tap", JointPlace(ground_wire=AWG["12"]), "18", "thick_ground"),
        ("disconnect", JointPlace(is_exposed=True), "18", "exposed"),
        ("fuse_tap", DRY, "18", "no_fuse_here"),
    ],
)
def test_a_way_of_joining_is_refused_where_it_does_not_hold(method, place, host, broken):
    assert broken in fit(method, place, host).warnings
    assert broken not in fit("t_harness", place, host).warnings


@pytest.mark.parametrize("method", ["solder", "crimp_butt", "t_harness"])
def test_sealed_ways_bear_spray(method):
    assert fit(method, JointPlace(is_exposed=True)).warnings == ()


@pytest.mark.parametrize(
    ("method", "place", "said"),
    [
        ("crimp_butt", JointPlace(comes_off=True), "comes_off"),
        ("crimp_butt", JointPlace(is_monitored=True), "cuts_loom"),
        ("solder", JointPlace(keeps=Keeps.LEASE), "lease"),
        ("solder", JointPlace(keeps=Keeps.SINGLE_USE), "single_use"),
        ("crimp_butt", JointPlace(is_at_fuse=True), "at_fuse"),
        ("fuse_tap", JointPlace(is_at_fuse=True), "fuse_wakes"),
    ],
)
def test_what_speaks_for_another_way_is_said(method, place, said):
    assert said in fit(method, place).advice


@pytest.mark.parametrize(
    ("place", "instead"),
    [
        (JointPlace(is_at_fuse=True, is_exposed=True), "fuse_tap"),
        (JointPlace(keeps=Keeps.LEASE, is_exposed=True), "t_harness"),
        (JointPlace(comes_off=True, is_exposed=True), "t_harness"),
    ],
)
def test_the_way_that_fits_is_proposed_and_a_fitting_one_is_left_alone(place, instead):
    found = better_joint(fit("crimp_butt", place), AWG["18"], AWG["18"], place)
    assert found.method.id == instead
    assert found.against == ()
    assert better_joint(found, AWG["18"], AWG["18"], place) is None


def test_connector_and_sleeve_follow_the_thicker_wire():
    """Red 22 to 18, blue 16 to 14, yellow 12 to 10 AWG (common practice)."""
    assert [fit("crimp_butt", host=host).connector_colour for host in ("20", "16", "12")] == ["red", "blue", "yellow"]
    assert fit("crimp_butt", host="12", branch="12").sleeve_mm > fit("crimp_butt", host="20").sleeve_mm


def test_no_body_ground_on_a_part_that_comes_off():
    """Not through hinges, painted brackets or a bed that comes off."""
    place = JointPlace(comes_off=True)
    assert [method.id for method in ground_methods() if fit_ground(method, place, 1.0).warnings] == ["body", "weld"]
    assert not fit_ground(ground_methods()["body"], DRY, 1.0).warnings


@pytest.mark.parametrize(("amps", "is_refused"), [(4.9, False), (5.1, True)])
def test_a_lamps_own_ground_wire_bears_what_is_added_to_it(amps, is_refused):
    """20 AWG in a loom: 5 A at most."""
    place = replace(DRY, ground_wire=AWG["20"])
    assert bool(fit_ground(ground_methods()["lamp"], place, amps).warnings) is is_refused
