"""What a hook-up still lacks, and the rules that judge it: ways, circuits, sizes, facts, fixes."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from dataclasses import dataclass
from functools import cached_property
from math import inf

from electrics.design.load import MASKS_SHARE, computer_spare_a, switch_limit_a
from electrics.document.circuits import FedBy
from electrics.document.job import JobFacts
from electrics.document.way import WayKey
from electrics.identify.belief import Belief
from electrics.job.beliefs import against_readings
from electrics.job.cures.base import Situation
from electrics.job.cures.leads import situation
from electrics.job.cures.registry import refusals
from electrics.job.hookup_plan import CircuitPlan, HookUpPlan, LeadPlan
from electrics.job.trials import try_way
from electrics.job.ways import Way, place_wires
from electrics.judge.finding import Finding, Severity
from electrics.judge.rule import Rule, look_at
from electrics.reference.functions import Tap, kind_of

__all__ = ["RULES", "HookUpCase", "judge", "missing"]

NEARLY_A = 1e-9
"""Sums of decimals are compared with this much room [A]."""


def missing(plan: HookUpPlan) -> tuple[Finding, ...]:
    """The decisions still open."""
    found = [Finding("tap", Severity.DOUBT, lead.lead.id) for lead in plan.leads if lead.chosen is None]
    found += [Finding("host", Severity.DOUBT, function=each.function) for each in plan.circuits if each.load is None]
    open_feeds = (each.function for each in plan.circuits if each.notes.fed_by is FedBy.UNKNOWN)
    found += [Finding("fed_by", Severity.DOUBT, function=function) for function in open_feeds]
    return tuple(found)


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


def _on_computer(case: HookUpCase) -> Iterator[tuple[CircuitPlan, float]]:
    """The circuits of a computer that are to carry added lamps, and what each of them spares [A]."""
    spare_a = computer_spare_a(case.facts.vehicle.system_v)
    for circuit in case.plan.circuits:
        if circuit.notes.fed_by is FedBy.COMPUTER and circuit.bears_lamp and not circuit.is_tow:
            yield circuit, spare_a


class OnComputer(Rule[HookUpCase]):
    """Lamps that a computer's output is to carry beyond what it takes of a relay's coil."""

    id, allows_reason = "computer", True

    def look(self, case: HookUpCase) -> Iterator[Finding]:
        for circuit, spare_a in _on_computer(case):
            if circuit.fresh_a > spare_a + NEARLY_A:
                limits = {"value": circuit.fresh_a, "limit": spare_a, "unit": "A"}
                yield self.found(function=circuit.function, ends="relay", **limits)


class LittleOnComputer(Rule[HookUpCase]):
    """Lamps that a computer's output may carry, as it may a coil: its limits are the maker's secret."""

    id, severity = "computer_small", Severity.DOUBT

    def look(self, case: HookUpCase) -> Iterator[Finding]:
        for circuit, spare_a in _on_computer(case):
            if circuit.fresh_a <= spare_a + NEARLY_A:
                yield self.found(function=circuit.function, value=circuit.fresh_a, limit=spare_a, unit="A")


class MasksDeadBulb(Rule[HookUpCase]):
    """An added load on a computer's output that is large enough to stand in for a bulb that is out."""

    id, severity = "computer_masks", Severity.DOUBT

    def look(self, case: HookUpCase) -> Iterator[Finding]:
        for circuit, _ in _on_computer(case):
            most_a = MASKS_SHARE * circuit.load.present_a if circuit.load is not None else inf
            if circuit.fresh_a > most_a:
                yield self.found(function=circuit.function, value=circuit.fresh_a, limit=most_a, unit="A")


class FuseLoad(Rule[HookUpCase]):
    """A factory fuse that carries more than it may for long."""

    id, source = "fuse_load", "ISO 8820-3; 80 % is common practice"

    def look(self, case: HookUpCase) -> Iterator[Finding]:
        for circuit in case.plan.circuits:
            load = circuit.load
            if load is not None and not load.fits_fuse and not _is_by_module(circuit):
                limits = {"value": load.largest_a, "limit": load.allowed_a, "unit": "A"}
                yield self.found(function=circuit.function, ends="relay", **limits)


def _is_by_module(circuit: CircuitPlan) -> bool:
    return circuit.is_tow and circuit.notes.fed_by is FedBy.COMPUTER


class TowSocketLoad(Rule[HookUpCase]):
    """The module behind a tow socket carries a trailer's lamps, and no more."""

    id = "tow_load"

    def look(self, case: HookUpCase) -> Iterator[Finding]:
        for circuit in case.plan.circuits:
            load = circuit.load
            if load is not None and not load.fits_fuse and _is_by_module(circuit):
                limits = {"value": load.largest_a, "limit": load.allowed_a, "unit": "A"}
                yield self.found(function=circuit.function, ends="relay", **limits)


class WireLoad(Rule[HookUpCase]):
    """A factory wire that carries more than it may."""

    id = "wire_load"

    def look(self, case: HookUpCase) -> Iterator[Finding]:
        for circuit in case.plan.circuits:
            load = circuit.load
            if load is not None and not load.fits_wire:
                limits = {"value": load.largest_a, "limit": load.wire_allowed_a, "unit": "A"}
                yield self.found(function=circuit.function, ends="relay", **limits)


class SwitchLoad(Rule[HookUpCase]):
    """Lamps that an added switch carries itself beyond its rating."""

    id, source, ends = "switch_load", "ratings of dash switches (from memory)", "relay"

    def look(self, case: HookUpCase) -> Iterator[Finding]:
        most_a = switch_limit_a(case.facts.vehicle.system_v)
        carried = [lead for lead in case.plan.leads if lead.chosen is not None and lead.chosen.is_switched]
        total_a = sum(lead.amps_a for lead in carried)
        if total_a > most_a:
            yield self.found(lead=carried[0].lead.id, value=total_a, limit=most_a, unit="A")


class Sized(Rule[HookUpCase]):
    """A lead that no size, connection, ground or part is right for; one rule for each that can fail."""

    def __init__(self, id: str, ends: str = "") -> None:
        self.id, self.ends = id, ends  # type: ignore[misc]

    def look(self, case: HookUpCase) -> Iterator[Finding]:
        for lead in case.plan.leads:
            if self.id in lead.sized.faults:
                yield self.found(lead=lead.lead.id, detail=lead.sized.problem if self.id == "part" else "")


class Drop(Rule[HookUpCase]):
    """A run that loses more than it may."""

    id, ends = "drop", "thicker_wire"

    def look(self, case: HookUpCase) -> Iterator[Finding]:
        for lead in case.plan.leads:
            sized = lead.sized
            if self.id in sized.faults and sized.option is not None:
                lost = {"value": sized.option.drop_v, "limit": sized.assumed.rules.most_v, "unit": "V"}
                yield self.found(lead=lead.lead.id, **lost)


class SaidAgainstReadings(Rule[HookUpCase]):
    """A function that somebody decided on and that the wire's own readings speak against."""

    id = "said_against_readings"

    def look(self, case: HookUpCase) -> Iterator[Finding]:
        for odd in against_readings(case.facts.places, case.facts.vehicle):
            states = tuple(str(each.setup.state) for each in odd.readings)
            yield self.found(function=odd.said, place=odd.place, pin=odd.pin, states=states, detail=str(odd.reads_as))


class ClaimDisputed(Rule[HookUpCase]):
    """A wire that a chart, a wire book or another said to be one thing and that is settled as another by readings."""

    id, severity = "claim_disputed", Severity.DOUBT

    def look(self, case: HookUpCase) -> Iterator[Finding]:
        for place, belief in zip(case.facts.places, case.beliefs, strict=True):
            decided = {pin for pin, *_ in place.said}
            for wire in belief.wires:
                if wire.pin in decided:
                    continue
                for function in dict.fromkeys(claim.function for claim in wire.disputed):
                    yield self.found(
                        function=wire.function, place=place.point.name, pin=wire.pin, detail=str(function)
                    )


class NoComputerYetOneFlashes(Rule[HookUpCase]):
    """A vehicle that is said to have no computer and whose turn lamps a computer flashes."""

    id = "computer_contradicted"

    def look(self, case: HookUpCase) -> Iterator[Finding]:
        if case.facts.vehicle.contradicts_itself:
            yield self.found()


class ComputerAssumed(Rule[HookUpCase]):
    """A computer flashes the turn lamps and nobody said what else it does: it is taken to power them all."""

    id, severity = "computer_assumed", Severity.DOUBT

    def look(self, case: HookUpCase) -> Iterator[Finding]:
        if case.facts.vehicle.assumes_computer:
            yield self.found()


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


class FuseTooSmallAlready(Rule[HookUpCase]):
    """A fuse as it was noted that the bulbs which are there, as noted or assumed, already overload."""

    id, severity = "fuse_noted_small", Severity.DOUBT

    def look(self, case: HookUpCase) -> Iterator[Finding]:
        for circuit in case.plan.circuits:
            load, notes = circuit.load, case.facts.hookup.circuit_of(circuit.function)
            if load is not None and notes.host_fuse_a is not None and load.present_a > load.fuse_a:
                yield self.found(function=circuit.function, value=load.present_a, limit=load.fuse_a, unit="A")


RULES: Sequence[Rule[HookUpCase]] = (
    SaidAgainstReadings(),
    ClaimDisputed(),
    NoComputerYetOneFlashes(),
    ComputerAssumed(),
    WayGone(),
    Never(),
    NotWanted(),
    WrongTogether(),
    OnComputer(),
    LittleOnComputer(),
    MasksDeadBulb(),
    FuseLoad(),
    TowSocketLoad(),
    WireLoad(),
    FuseTooSmallAlready(),
    SwitchLoad(),
    Sized("no_wire"),
    Drop(),
    Sized("no_fuse", "thicker_wire"),
    Sized("joint"),
    Sized("ground", "better_ground"),
    Sized("part"),
    RefusedFix(),
    SidesDiffer(),
)
"""Every rule of a hook-up, in the order that its findings are told."""


def judge(case: HookUpCase) -> tuple[Finding, ...]:
    """What all rules find in a hook-up."""
    return look_at(case, RULES, case.reason)
