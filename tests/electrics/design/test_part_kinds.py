"""What parts draw while a vehicle runs, by Ohm's law at 13.5 V on a 12 V system (common practice)."""

from __future__ import annotations

from dataclasses import replace

import pytest

from electrics.circuit.elements import Converter, Decoder, Relay, Resistor
from electrics.design.groups import GroupFeed
from electrics.design.part_kinds import Behind, coil_a, part_kind
from electrics.design.sizing import COIL_OHM
from electrics.reference.conductor import WireStandard, conductor
from electrics.vocabulary import Arrangement
from said import facts_of, with_best

FEED = GroupFeed(conductor(WireStandard.AWG, "18"), None, None)


def seen(element, system_v, *behind_a):
    """What a part sees that has these loads behind its outputs [A]."""
    return Behind(element, FEED, system_v, lambda *_: max(behind_a, default=0.0), lambda *_: sum(behind_a))


def demand_a(element, terminal, system_v, *behind_a):
    return part_kind(element).demand_a(terminal, seen(element, system_v, *behind_a))


@pytest.mark.parametrize(("system_v", "ohm", "amps"), [(6, 1.5, 4.5), (12, 6.0, 2.25), (24, 25.0, 1.08)])
def test_a_load_resistor_draws_by_ohms_law(system_v, ohm, amps):
    element = Resistor(name="R", nodes={"from": "a", "to": "gnd"}, ohm=ohm)
    assert demand_a(element, "from", system_v) == pytest.approx(amps)
    assert part_kind(element).ground_a("to", seen(element, system_v)) == pytest.approx(amps)


def test_a_decoder_draws_its_load_and_its_bleed_beside_the_lamp():
    nodes = {"in": "a", "out": "b", "31": "gnd"}
    element = Decoder(name="D", nodes=nodes, microfarad=470, series_ohm=0.0, load_ohm=6.0, bleed_ohm=330.0)
    assert demand_a(element, "in", 12, 0.3) == pytest.approx(0.3 + 13.5 / 6 + 13.5 / 330)


@pytest.mark.parametrize(("system_v", "least", "most"), [(6, 0.2, 0.4), (12, 0.13, 0.2), (24, 0.06, 0.12)])
def test_a_coil_draws_what_relays_of_its_system_draw(system_v, least, most):
    """Data sheets of plug-in relays: some 1.6 to 2 W, 85 ohm on 12 V (from memory)."""
    assert coil_a(FEED, system_v) == pytest.approx({6: 6.75, 12: 13.5, 24: 27.0}[system_v] / COIL_OHM[system_v])
    assert least <= coil_a(FEED, system_v) <= most
    assert coil_a(replace(FEED, coil_ohm=100.0), 12) == pytest.approx(0.135)
    relay = Relay(name="K", nodes={"86": "a", "85": "gnd", "30": "b", "87": "c"})
    assert demand_a(relay, "86", system_v, 5.0) == pytest.approx(coil_a(FEED, system_v))
    assert demand_a(relay, "30", system_v, 5.0) == 5.0


def test_a_module_is_fed_with_all_that_its_outputs_give_and_little_for_itself():
    nodes = {name: name for name in ("supply", "31", "left_in", "right_in", "stop_in", "left_out", "right_out")}
    element = Converter(name="M", nodes=nodes)
    assert 4.2 < demand_a(element, "supply", 12, 2.1, 2.1) <= 4.2 + 0.1
    assert demand_a(element, "left_in", 12, 2.1) <= 0.02


def test_both_sides_of_a_pair_share_one_converter():
    """Combined lamps on a vehicle with separate signals: one module makes both sides (common practice)."""
    found = with_best(facts_of("combined_tail_lamps", Arrangement.SEPARATE))
    forms = {lead.chosen.candidate.form.id for lead in found.hookup.leads}
    assert "converter" in forms
    (module,) = (part for part in found.build.parts if part.id == "converter")
    assert module.count == 1
