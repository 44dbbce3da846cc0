"""What a hook-up still lacks, and what forbids it."""

from __future__ import annotations

from electrics.job.facts import FedBy
from electrics.job.hookup_plan import HookUpPlan, LeadPlan, Open
from electrics.job.trying import try_way
from electrics.job.ways import Way

__all__ = ["faults", "missing"]


def missing(plan: HookUpPlan) -> tuple[Open, ...]:
    """The decisions still open."""
    found = [Open("tap", lead.lead.id) for lead in plan.leads if lead.chosen is None]
    found += [Open("host", function=each.function) for each in plan.circuits if each.load is None]
    open_feeds = (each.function for each in plan.circuits if each.notes.fed_by is FedBy.UNKNOWN)
    found += [Open("fed_by", function=function) for function in open_feeds]
    return tuple(found)


def faults(plan: HookUpPlan) -> tuple[Open, ...]:
    """What forbids this hook-up."""
    found = [Open("way_gone", lead.lead.id) for lead in plan.leads if lead.is_gone]
    for lead in plan.leads:
        if lead.chosen is not None:
            found += [Open(rule, lead.lead.id) for rule in _way_faults(plan, lead, lead.chosen)]
    is_whole = all(lead.chosen for lead in plan.leads)
    if (
        is_whole
        and plan.together is not None
        and not plan.override
        and not any(item.id == "not_wanted" for item in found)
    ):
        found += [
            Open("together", lead.lead.id, detail=str(wrong[0]))
            for lead, wrong in zip(plan.leads, plan.together.wrong, strict=True)
            if wrong
        ]
    for circuit in plan.circuits:
        by_computer = circuit.notes.fed_by is FedBy.COMPUTER
        load = circuit.load
        broken = {
            "computer": by_computer and circuit.bears_lamp,
            "fuse_load": load is not None and not load.fits_fuse,
            "wire_load": load is not None and not load.fits_wire,
        }
        found += [Open(rule, function=circuit.function) for rule, is_broken in broken.items() if is_broken]
    for lead in plan.leads:
        for rule in lead.sized.faults:
            found.append(Open(rule, lead.lead.id, detail=lead.sized.problem if rule == "part" else ""))
    return tuple(found)


def _way_faults(plan: HookUpPlan, lead: LeadPlan, way: Way) -> list[str]:
    """What forbids a chosen way, by logic or on the circuit; what does not bear it has faults of its own."""
    refusals = set(way.candidate.refusals) - {"computer", "part", "host_load"}
    faults = ["never"] if "never" in refusals else []
    if plan.override:
        return faults
    if way.is_right:
        if plan.together is not None and not plan.together.wrong[plan.leads.index(lead)]:
            return faults  # on the design, with all others, it does what is wanted
        trial = try_way(plan.bench, lead.lead, lead.lamps, lead.each_a, way)
        return ["not_wanted"] if trial is not None and trial.wrong else faults
    return [*faults, "not_wanted"] if refusals or way.candidate.wrong else faults
