"""Rules about a plan as a whole: the hook-ups that were chosen, and fixes that are used."""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Collection, Iterator, Mapping, Sequence
from dataclasses import dataclass
from functools import cached_property

from electrics.design.design import EndKind
from electrics.design.states import lit_states
from electrics.design.wanted import parse_wanted
from electrics.document.job import JobFacts
from electrics.document.units import COMMONS
from electrics.document.way import WayKey
from electrics.identify.belief import Belief
from electrics.identify.grounds import good_for_a
from electrics.job.cures.base import Situation
from electrics.job.cures.leads import situation
from electrics.job.cures.registry import refusals
from electrics.job.hookup_plan import HookUpPlan, LeadPlan
from electrics.job.trials import try_way
from electrics.job.ways import Way, place_wires
from electrics.judge.finding import Finding, Severity
from electrics.judge.rule import Rule
from electrics.reference.functions import Tap, kind_of
from electrics.vocabulary import Function, Polarity

__all__ = ["FIX_RULES", "WAY_RULES", "HookUpCase"]


@dataclass(frozen=True)
class HookUpCase:
    """What the rules of a hook-up look at.

    Attributes
    ----------
    facts : JobFacts
        As they were entered: no fix has changed them.
    beliefs : sequence of Belief
        Of its places, in order.
    plan : HookUpPlan
        With every fix that is used.
    reason : str
        Why somebody goes ahead against rules that allow it.
    """

    facts: JobFacts
    beliefs: Sequence[Belief]
    plan: HookUpPlan
    reason: str

    @cached_property
    def situation(self) -> Situation:
        return situation(self.facts.vehicle, self.plan)


class WayGone(Rule[HookUpCase]):
    """A hook-up that was chosen and cannot be had any more; a wire of it that must not be tapped is named."""

    id = "way_gone"

    def look(self, case: HookUpCase) -> Iterator[Finding]:
        gone = [lead for lead in case.plan.leads if lead.is_gone]
        if not gone:
            return
        at = {place.key: place for place in place_wires(case.facts, case.beliefs)}
        for lead in gone:
            sources = WayKey.read(case.facts.hookup.ways[lead.lead.id]).sources
            taken = (at[key] for key in sources if key in at)
            never = [each for each in taken if kind_of(each.wire.function).tap is Tap.NEVER]
            for each in never:
                yield self.found(function=each.wire.function, place=each.place, pin=each.wire.pin)
            if not never:
                yield self.found(lead=lead.lead.id)


class Never(Rule[HookUpCase]):
    """A data line that is tapped."""

    id = "never"

    def look(self, case: HookUpCase) -> Iterator[Finding]:
        for lead in case.plan.leads:
            if lead.chosen is not None and "never" in lead.chosen.candidate.refusals:
                yield self.found(lead=lead.lead.id)


class NotWanted(Rule[HookUpCase]):
    """A chosen hook-up that does not do what is wanted, by logic or on the circuit."""

    id, allows_reason = "not_wanted", True

    def look(self, case: HookUpCase) -> Iterator[Finding]:
        for lead in case.plan.leads:
            if lead.chosen is not None and _is_unwanted(case.plan, lead, lead.chosen):
                yield self.found(lead=lead.lead.id)


def _is_unwanted(plan: HookUpPlan, lead: LeadPlan, way: Way) -> bool:
    """Whether a chosen hook-up gives the wrong light; other rules find what overloads."""
    if way.is_right:
        if plan.together is not None and not plan.together.wrong[plan.leads.index(lead)]:
            return False  # on the design, with all others, it does what is wanted
        trial = try_way(plan.bench, lead.lead, lead.lamps, lead.each_a, way)
        return trial is not None and bool(trial.wrong)
    refusals = set(way.candidate.refusals) - {"computer", "part", "host_load", "switch_load"}
    return bool(refusals or way.candidate.wrong)


class WrongTogether(Rule[HookUpCase]):
    """Leads that are each right alone and wrong once all are connected."""

    id, allows_reason = "together", True

    def look(self, case: HookUpCase) -> Iterator[Finding]:
        plan = case.plan
        if plan.together is None or not all(lead.chosen for lead in plan.leads):
            return
        if any(lead.chosen and _is_unwanted(plan, lead, lead.chosen) for lead in plan.leads):
            return
        for lead, wrong in zip(plan.leads, plan.together.wrong, strict=True):
            if wrong:
                yield self.found(lead=lead.lead.id, states=tuple(map(str, wrong)), detail=str(wrong[0]))


class ControlLacking(Rule[HookUpCase]):
    """A lead that would never be lit, because the vehicle is said to lack the control that it follows."""

    id = "control_lacking"

    def look(self, case: HookUpCase) -> Iterator[Finding]:
        lacking = case.facts.vehicle.not_fitted
        for lead in case.plan.leads:
            missing = [state.effective & lacking for state in lit_states(lead.lead.wanted)] if lacking else []
            if missing and all(missing):
                struck = frozenset.intersection(*missing) or frozenset().union(*missing)
                yield self.found(lead=lead.lead.id, detail=" ".join(sorted(struck)))


class RefusedFix(Rule[HookUpCase]):
    """A fix that is used and would be refused if it were proposed."""

    id = "fix_refused"

    def look(self, case: HookUpCase) -> Iterator[Finding]:
        for decision in case.facts.hookup.cures:
            for refusal in refusals(decision, case.situation):
                excused = case.reason if refusal.allows_reason else ""
                yield Finding(
                    refusal.id,
                    Severity.DOUBT if excused else Severity.FORBIDS,
                    decision.leads[0] if decision.leads else "",
                    cure=decision.cure,
                    value=refusal.value,
                    limit=refusal.limit,
                    unit=refusal.unit,
                    source=self.source,
                    reason=excused,
                )


CHART = "the chart"


class LeadChart(Rule[HookUpCase]):
    """A lead that a chart says is for one thing and that is connected for another; no chart is evidence."""

    id, severity = "lead_chart", Severity.DOUBT

    def look(self, case: HookUpCase) -> Iterator[Finding]:
        for unit in case.facts.units:
            for lead in unit.leads:
                if lead.claim and Function(lead.claim) not in _uses(lead.wants):
                    about = f"{unit.name}, {lead.lead}"
                    yield self.found(about=about, detail=lead.claim, source=lead.claim_from or CHART)


def _uses(wants: str) -> Collection[Function]:
    return {Function(wants)} if wants in COMMONS else parse_wanted(wants).functions


class LeadChartDisputed(Rule[HookUpCase]):
    """A lead that the bench settled to be something else than its chart says."""

    id, severity = "lead_chart_disputed", Severity.DOUBT

    def look(self, case: HookUpCase) -> Iterator[Finding]:
        for lead in case.plan.lamp.leads if case.plan.lamp else ():
            if lead.is_disputed:
                yield self.found(about=lead.lead, detail=str(lead.claim), source=CHART)


class GroundShare(Rule[HookUpCase]):
    """A factory ground that dropped too much under a test lamp for all that is to be grounded on it."""

    id, severity, ends = "ground_share", Severity.DOUBT, "better_ground"

    def look(self, case: HookUpCase) -> Iterator[Finding]:
        drawn = grounded_a(case.plan)
        for belief in case.beliefs:
            for wire in belief.wires:
                place, pin = belief.point.name, wire.pin
                limit = good_for_a(wire.evidence) if wire.function is Function.GROUND else None
                if limit is not None and drawn.get((place, pin), 0.0) > limit:
                    yield self.found(place=place, pin=pin, value=drawn[place, pin], limit=limit, unit="A")


def grounded_a(plan: HookUpPlan) -> Mapping[tuple[str, str], float]:
    """What all that is grounded on each factory wire draws together, by place and pin [A]."""
    if plan.design is None:
        return {}
    returned = {wire.label: wire.load_a for wire in plan.design.wires if wire.role == "ground"}
    names, of_unit = {unit.id: unit.name for unit in plan.accessory.units}, defaultdict[str, float](float)
    for lead in plan.leads:
        if lead.lead.polarity is Polarity.POSITIVE:
            of_unit[names[lead.lead.unit]] += lead.amps_a
    found = defaultdict[tuple[str, str], float](float)
    for join in plan.design.joins:
        units = [e.what for e in join.members if e.kind is EndKind.UNIT]
        runs = [e.what.removeprefix("wire ") for e in join.members if e.kind is EndKind.WIRE]
        amps = sum(of_unit[name] for name in units) + sum(returned.get(label, 0.0) for label in runs)
        for end in join.members:
            if end.kind is EndKind.PIN:
                found[end.what, end.terminal] += amps
    return found


class SidesDiffer(Rule[HookUpCase]):
    """The two leads of a pair that are hooked up or joined in different ways: said, so that nobody is surprised."""

    id, severity = "sides_differ", Severity.DOUBT

    def look(self, case: HookUpCase) -> Iterator[Finding]:
        leads = {lead.lead.id: lead for lead in case.plan.leads}
        for lead in case.plan.leads:
            for mate in lead.lead.mates(each.lead for each in case.plan.leads):
                other = leads[mate.id]
                names = list(leads)
                if names.index(mate.id) > names.index(lead.lead.id):
                    differing = [what for what in HOW if _how(lead, what) != _how(other, what)]
                    if differing:
                        yield self.found(lead=lead.lead.id, about=mate.title, detail=" ".join(differing))


HOW = ("hook_up", "joint", "ground", "wire_standard")
"""What of a pair is said where it differs."""


def _how(lead: LeadPlan, what: str) -> str:
    if what == "hook_up":
        return lead.chosen.candidate.form.id if lead.chosen else ""
    return str(getattr(lead.run, what))


WAY_RULES: Sequence[Rule[HookUpCase]] = (WayGone(), Never(), NotWanted(), WrongTogether())
FIX_RULES: Sequence[Rule[HookUpCase]] = (
    ControlLacking(),
    RefusedFix(),
    GroundShare(),
    SidesDiffer(),
    LeadChart(),
    LeadChartDisputed(),
)
