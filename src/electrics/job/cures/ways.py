"""Fixes that are another hook-up: what diodes, relays and modules of the search fix, each a class of forms."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import replace
from typing import ClassVar

from electrics.document.decisions import CureDecision
from electrics.document.job import JobFacts
from electrics.job.cures.base import LIT_AMISS, CureLead, Fix, Proposal, Situation

__all__ = ["BY_FORM", "DiodeOrFix", "OtherWay", "PulseModuleFix", "RelayWay"]

OVERLOADED = ("fuse_load", "blown_fuse", "shut_off", "overload_warning", "wire_load")
RESTLESS = ("pulsed_coil", "chatter", "coil_at_rest", "order_matters", "pulses_filled")


class OtherWay(Fix):
    """The best way of some forms for every lead that is concerned.

    Attributes
    ----------
    forms : frozenset of str
        What it may choose from; empty for whatever no other class has.
    rules : tuple of str
        What it may fix.
    """

    id, is_record = "other_way", False
    forms: ClassVar[frozenset[str]] = frozenset()
    rules: ClassVar[tuple[str, ...]] = (*OVERLOADED, *RESTLESS)

    def proposals(self, situation: Situation) -> Iterator[Proposal]:
        if not situation.has(*self.rules):
            return
        ways = {}
        for lead in situation.concerned(*self.rules):
            key = self._best(lead)
            if key:
                ways[lead.id] = key
        if ways:
            decision = CureDecision(self.id, tuple(ways), ways=tuple(ways.items()))
            yield Proposal(self.id, tuple(ways), decision=decision)

    def _best(self, lead: CureLead) -> str:
        if lead.form in self.forms:
            return ""
        taken = frozenset().union(*(each.forms for each in BY_FORM))
        return next(
            (key for form, key in lead.others if (form in self.forms if self.forms else form not in taken)), ""
        )

    def decided(self, facts: JobFacts, decision: CureDecision) -> JobFacts:
        return replace(facts, hookup=replace(facts.hookup, ways={**facts.hookup.ways, **dict(decision.ways)}))


class DiodeOrFix(OtherWay):
    """A diode for each of two sources that were tied together."""

    id, forms, rules = "diode_or", frozenset({"diode_or"}), LIT_AMISS

    def _best(self, lead: CureLead) -> str:
        return super()._best(lead) if lead.form == "joined" else ""


class RelayWay(OtherWay):
    """A relay: for power, for polarity, for logic."""

    id = "relay"
    forms = frozenset({"relay", "relay_or", "and", "and_not", "to_ground", "from_ground"})
    rules = (*OVERLOADED, "coil_at_rest")


class PulseModuleFix(OtherWay):
    """A module with a supply of its own whose inputs bear pulses."""

    id = "module"
    forms = frozenset({"pulse_module", "converter", "separate_turn", "separate_stop"})
    rules = ("shut_off", *RESTLESS)


BY_FORM: tuple[type[OtherWay], ...] = (DiodeOrFix, RelayWay, PulseModuleFix)
"""Those that have forms of their own."""
