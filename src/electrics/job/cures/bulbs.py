"""Fixes that are another lamp: the filament bulb back in its socket, or a bulb on separate wires."""

from __future__ import annotations

from collections.abc import Iterator, Mapping, Sequence
from dataclasses import replace

from electrics.design.units import Lead, Unit, unit_kinds
from electrics.document.decisions import CureDecision
from electrics.document.job import JobFacts
from electrics.job.cures.base import FLASHES, LIT_AMISS, Fix, Proposal, Situation
from electrics.reference.bulbs import bulbs
from electrics.reference.usual import usual_circuit
from electrics.vocabulary import Function

__all__ = ["OtherBulb", "SeparateBulb"]

AT_ITS_LAMP = ("test_pulse_glow", "ghost_glow", "lit_amiss", "over_volts")
"""Rules that name the lamp whose bulb is to go back."""

OWN_WIRING = {"towed_own_lamp": "towed_lamp"}
"""Kinds of lamps that stay on their own vehicle's wires, and the kind that is a bulb with wires of its own."""


class OtherBulb(Fix):
    """The filament bulb that the vehicle waits for, back in its socket."""

    id, keeps_wish = "other_bulb", False

    def proposals(self, situation: Situation) -> Iterator[Proposal]:
        if not situation.has(*FLASHES, *AT_ITS_LAMP, "never_dark"):
            return
        short = {lead.id for side in situation.sides for lead in side.leads} if situation.has(*FLASHES) else set()
        named = {lead.id for lead in situation.concerned(*AT_ITS_LAMP)}
        others = named if situation.has(*AT_ITS_LAMP) else set()
        leads = tuple(
            lead.id
            for lead in situation.leads
            if lead.id in short | others
            and lead.unit is not None
            and lead.unit.in_socket
            and not lead.is_filament
            and usual_circuit(str(lead.function), situation.system_v) is not None
        )
        if leads:
            yield Proposal(self.id, leads, decision=CureDecision(self.id, leads), costs=("no_led",))

    def parts(self, decision: CureDecision, leads: Sequence[Lead]) -> Mapping[str, int]:
        return {"filament_bulb": sum(lead.lamps for lead in leads if lead.id in decision.leads)}

    def changed(self, unit: Unit, decision: CureDecision, facts: JobFacts) -> Unit:
        leads = tuple(_as_filament(lead, facts) if lead.id in decision.leads else lead for lead in unit.leads)
        return replace(unit, leads=leads)


class SeparateBulb(Fix):
    """A bulb of its own in the lamp, on wires of its own, in place of diodes in the car's."""

    id = "separate_bulb"

    def proposals(self, situation: Situation) -> Iterator[Proposal]:
        if not situation.has(*LIT_AMISS, "shut_off", "outage_warning", "pulses_filled"):
            return
        leads = tuple(
            lead.id
            for lead in situation.leads
            if lead.unit is not None and lead.unit.kind is not None and lead.unit.kind.id in OWN_WIRING
        )
        if leads:
            yield Proposal(self.id, leads, decision=CureDecision(self.id, leads))

    def changed(self, unit: Unit, decision: CureDecision, facts: JobFacts) -> Unit:
        if unit.kind is None or unit.kind.id not in OWN_WIRING:
            return unit
        if not any(lead.id in decision.leads for lead in unit.leads):
            return unit
        return replace(unit, kind=unit_kinds()[OWN_WIRING[unit.kind.id]])


def _as_filament(lead: Lead, facts: JobFacts) -> Lead:
    """A lead with the bulb that was noted of its circuit, else with the usual one."""
    function = str(next(iter(lead.wanted.functions), Function.STOP))
    usual = usual_circuit(function, facts.vehicle.system_v)
    if usual is None:
        return lead
    noted = facts.circuit(function).host_bulb
    bulb = bulbs()[noted if noted and not bulbs()[noted].is_led else usual.bulb]
    return replace(lead, technology="filament", each_a=bulb.nominal_a)
