"""What LED lamps upset on each kind of vehicle, and which cure holds on the circuit, against ngspice too."""

from __future__ import annotations

from dataclasses import replace

import pytest

import ngspice
from electrics.circuit.spice import node_names, spice_deck
from electrics.document.circuits import CircuitNotes, FedBy
from electrics.document.vehicle import Computer, FlasherKind
from electrics.job.correction import _at_voltages, correct, effects_of, try_proposal, with_cure
from electrics.job.cures.registry import CURES
from electrics.job.plan import plan
from electrics.vocabulary import Arrangement
from said import facts_of, with_best
from sheet_light import lights_as_wanted

KINDS = [
    ("led_bulbs", Arrangement.SEPARATE, {}),
    ("led_bulbs", Arrangement.SEPARATE, {"flasher": FlasherKind.BIMETAL}),
    ("led_bulbs", Arrangement.SEPARATE, {"computer": Computer.YES}),
    ("combined_tail_lamps", Arrangement.COMBINED, {}),
    ("led_bulbs_combined", Arrangement.COMBINED, {"system_v": 24}),
    ("led_bulbs_combined", Arrangement.COMBINED, {"computer": Computer.YES}),
]


def swapped(accessory, arrangement, vehicle, **decided):
    facts = facts_of(accessory, arrangement, **decided)
    return with_best(replace(facts, vehicle=replace(facts.vehicle, **vehicle)))


def proposal(correction, cure, mount=""):
    return next(each for each in correction.open if each.cure == cure and each.mount in ("", mount))


@pytest.mark.parametrize(("accessory", "arrangement", "vehicle"), KINDS)
def test_both_sides_are_named_with_the_right_word_and_the_first_cure_holds(accessory, arrangement, vehicle):
    """Common practice: load-sensing and computers double, a bimetal slows or stays lit."""
    found = swapped(accessory, arrangement, vehicle)
    result = correct(found)
    rates = [effect for effect in result.before if effect.rule == "flash_rate"]
    assert {
        side for effect in rates for side in ("left", "right") if side in effect.side + effect.finding.subject
    } == {
        "left",
        "right",
    }
    is_bimetal = vehicle.get("flasher") is FlasherKind.BIMETAL
    assert all((effect.finding.value < 60) if is_bimetal else (effect.finding.value > 120) for effect in rates)
    has_computer = "computer" in vehicle
    assert proposal(result, "flasher").refusal == ("no_flasher" if has_computer else "")
    assert proposal(result, "series_resistor").refusal == "in_series"
    assert proposal(result, "load_resistor", "free_air").refusal == "free_air"
    first = proposal(result, "load_resistor", "metal") if has_computer else proposal(result, "flasher")
    tried = try_proposal(found, first, result.before)
    assert not [effect for effect in tried.left if effect.rule in ("flash_rate", "outage_warning")]
    assert not [effect for effect in tried.new if effect.finding.severity == "error"]


def test_a_resistor_is_a_part_of_the_design_with_its_ground_and_the_sheet_lights_with_it(tmp_path):
    found = swapped("led_bulbs", Arrangement.SEPARATE, {})
    result = correct(found)
    cure = proposal(result, "load_resistor", "metal")
    cured = plan(with_cure(found.facts, cure.decision))
    resistors = [part for part in cured.hookup.design.parts if part.part == "load_resistor"]
    assert len(resistors) == 2
    assert {part.leads for part in resistors} == {("left-turn",), ("right-turn",)}
    for part in resistors:
        ends = [{end.what for end in wire.ends} for wire in cured.build.wires if wire.role == "ground"]
        joined = [{member.what for member in join.members} for join in cured.build.joins]
        assert any(part.label in each for each in joined) or any(part.label in each for each in ends)
    row = next(part for part in cured.build.parts if part.id == "load_resistor")
    assert row.count == 2
    assert f"{cure.fit.ohm:g} ohm" in row.detail
    assert effects_of(cured) == ()
    lights_as_wanted(cured, tmp_path)


@pytest.mark.skipif(ngspice.NGSPICE is None, reason=ngspice.MISSING)
@pytest.mark.parametrize("cure", ["flasher", "load_resistor"])
def test_before_and_after_each_cure_the_circuit_is_as_ngspice_solves_it(cure, tmp_path):
    found = swapped("led_bulbs", Arrangement.SEPARATE, {})
    result = correct(found)
    cured = plan(with_cure(found.facts, proposal(result, cure, "metal").decision))
    for each in (found, cured):
        for _, together in _at_voltages(each):
            points = [together.simulation.at(state) for state in ("left", "brake+left", "park")]
            decks = [spice_deck(point) for point in points]
            for point, volts in zip(points, ngspice.operating_points(decks, tmp_path), strict=True):
                names = node_names(point)
                for node in point.simulation.network.nodes:
                    if node != "gnd":
                        assert volts.get(names[node].lower(), 0.0) == pytest.approx(point.volts(node), abs=0.02)


def test_an_addition_on_plain_circuits_upsets_nothing_and_is_offered_no_cure():
    found = swapped("running_lamps", Arrangement.SEPARATE, {})
    result = correct(found)
    assert result.before == ()
    assert result.open == ()


def test_the_set_of_bulbs_that_somebody_counted_decides_whether_it_hurries():
    """Three bulbs a side, one of them an LED now: 3.7 A of 5.25 A are less than the set short of half a bulb."""
    notes = {f"turn_{side}": CircuitNotes(FedBy.PLAIN, "P21W", 3, 15.0, "18") for side in ("left", "right")}
    found = swapped("led_bulbs", Arrangement.SEPARATE, {}, circuits=notes)
    waits = next(effect for effect in correct(found).before if effect.rule == "flash_rate")
    assert waits.finding.value > 120
    cure = proposal(correct(found), "load_resistor", "metal")
    assert cure.fit.count == 1
    tried = try_proposal(found, cure, correct(found).before)
    assert "flash_rate" not in {effect.rule for effect in tried.left}


def test_every_cure_has_an_id_of_its_own():
    assert len({cure.id for cure in CURES}) == len(CURES)
