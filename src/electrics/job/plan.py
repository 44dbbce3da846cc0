"""From facts to plan: what may feed each lead, what was chosen, every size, the circuits that bear it, the sheets.

`plan` is a pure function of `JobFacts`; pages, command line, bench and tests call it.
"""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from dataclasses import dataclass, replace
from functools import cached_property, partial
from typing import Any

from electrics.build.sheet import LeadBuild, cut_list, parts
from electrics.errors import FactError
from electrics.hookup.accessories import OWN, Accessory, Lead, accessories, on_system, own_kind, together
from electrics.hookup.joints import Place, ground_methods
from electrics.hookup.load import check_load_a, running_v
from electrics.hookup.sized import CircuitFacts, RunFacts, SizedLead, circuit_load, part_problem, size_lead
from electrics.hookup.sizing import COIL_OHM
from electrics.hookup.states import states_for
from electrics.identify.belief import Belief
from electrics.identify.leads import LampBelief, LeadBelief, Technology
from electrics.job.beliefs import believe, lamp_belief, lead_for, scenarios_left, settled_circuits
from electrics.job.facts import FedBy, HookUpDecisions, JobFacts, LampFacts, RunDecision, Wish
from electrics.job.hookup_plan import BuildPlan, CircuitPlan, HookUpPlan, LeadPlan
from electrics.job.rules import faults, missing
from electrics.job.ways import Way, bench_of, find_ways, shown_way
from electrics.prove.sheet import Sheet, make_sheet
from electrics.reference.conductor import WireStandard, conductor
from electrics.reference.fuses import CONTINUOUS_SHARE
from electrics.vocabulary import Function, Polarity

__all__ = ["Plan", "accessory_of", "check_loads", "plan"]

SURE = 0.95
"""From which what the bench test says of the lamp's kind is taken for a fact [-]."""


@dataclass(frozen=True)
class Plan:
    """Everything that follows from the facts and decisions of a job.

    Attributes
    ----------
    beliefs : tuple of Belief
        Of its places, in order.
    """

    facts: JobFacts
    beliefs: tuple[Belief, ...]
    hookup: HookUpPlan

    @cached_property
    def build(self) -> BuildPlan | None:
        """What to cut and lay out, once the hook-up stands."""
        return _build(self.facts, self.hookup)

    @cached_property
    def sheet(self) -> Sheet | None:
        """The test sheet, or None while nothing is planned that could be proven."""
        leads = self.hookup.leads
        if any(each.chosen is None for each in leads):
            return None
        found = {function for function, _ in settled_circuits(self.beliefs)}
        added = {"" if self.hookup.is_single else each.lead.id: each.lead.wanted for each in leads}
        vehicle = self.facts.vehicle
        return make_sheet(found, added, self.hookup.scenarios[0], vehicle.system_v, not_fitted=vehicle.not_fitted)


def plan(facts: JobFacts) -> Plan:
    """Everything that follows from the facts and decisions of a job.

    Parameters
    ----------
    facts : JobFacts

    Returns
    -------
    Plan

    Raises
    ------
    FactError
        A wish cannot be read or is never true, or no lamp circuit carries what is added.
    """
    beliefs = believe(facts.places, facts.vehicle)
    return Plan(facts, beliefs, _hookup(facts, beliefs))


def accessory_of(wish: Wish, system_v: int) -> Accessory:
    """What is added: a kind of the table or one's own, and whatever is added along with it, for this system."""
    if wish.kind == OWN:
        first = own_kind(wish.own_leads, wish.count, wish.each_a)
    else:
        first = on_system(accessories()[wish.kind], system_v)
    others = [on_system(accessories()[id], system_v) for id in wish.also if id != wish.kind]
    if len(first.leads) == 1:
        (lead,) = first.leads
        each_a = lead.each_a if wish.kind == OWN else wish.each_a
        first = replace(first, own=(replace(lead, each_a=each_a, lamps=wish.count),))
    return together(first, others)


def _hookup(facts: JobFacts, beliefs: Sequence[Belief]) -> HookUpPlan:
    decided, system_v = facts.hookup, facts.vehicle.system_v
    lamp = lamp_belief(facts.lamp)
    accessory = _as_tested(accessory_of(facts.wish, system_v), lamp)
    possible = scenarios_left(beliefs)
    states = states_for(lead.wanted for lead in accessory.leads)
    found = find_ways(facts, beliefs, accessory.leads, possible, states)
    runs = _runs(decided, accessory.leads)
    drafts = []
    for lead, measured, usual_a in _loads(accessory, lamp):
        ways = _in_order(found[lead.id], lead, usual_a * lead.lamps, runs[lead.id], system_v)
        chosen = next((way for way in ways if way.is_of(decided.ways.get(lead.id, ""))), None)
        drafts.append(_Draft(lead, usual_a, runs[lead.id], ways, chosen, measured))
    circuits = _circuits(decided, drafts, system_v)
    leads = []
    for n, draft in enumerate(drafts):
        lead = draft.lead
        sized = _sized(decided, accessory, draft, _sharing_a(draft, drafts), circuits, system_v)
        follows = n > 0 and lead.id not in decided.runs
        is_gone = draft.chosen is None and bool(decided.ways.get(lead.id))
        each_a = draft.load_a / lead.lamps
        plans = (lead, each_a, lead.lamps, draft.ways, draft.chosen, is_gone, draft.measured, draft.run)
        leads.append(LeadPlan(*plans, follows, sized))
    found_plan = HookUpPlan(
        accessory,
        tuple(leads),
        circuits,
        lamp,
        running_v(system_v),
        possible,
        states,
        bench_of(facts, beliefs, possible),
        (),
        (),
        decided.override.strip(),
    )
    return replace(found_plan, missing=missing(found_plan), faults=faults(found_plan))


def check_loads(wish: Wish, lamp: LampFacts | None, system_v: int) -> None:
    """Refuse what no lamp circuit carries, as brief and bench test of the lamp together have it: FactError."""
    tried = lamp_belief(lamp)
    list(_loads(_as_tested(accessory_of(wish, system_v), tried), tried))


def _loads(accessory: Accessory, lamp: LampBelief | None) -> Iterator[tuple[Lead, LeadBelief | None, float]]:
    """Each lead with what the bench test says of it and the current of one lamp [A]."""
    for lead in accessory.leads:
        measured = lead_for(lamp, lead.wanted.functions[0]) if lamp else None
        each_a = measured.amps_a if measured and measured.amps_a is not None else lead.each_a
        check_load_a(lead.lamps, each_a)
        yield lead, measured, each_a


def _build(facts: JobFacts, plan: HookUpPlan) -> BuildPlan | None:
    if not plan.is_complete:
        return None
    built = []
    for lead in plan.leads:
        sized, way = lead.sized, lead.chosen
        if way is None or sized.option is None or sized.joint is None or sized.fuse is None:
            return None
        built.append(
            LeadBuild(
                "" if plan.is_single else lead.lead.id,
                lead.lamps,
                len(way.tapped),
                way.candidate.form,
                sized.option.conductor,
                sized.assumed["load_a"],
                sized.fuse,
                sized.joint,
                lead.run.out_m or 0.0,
                lead.run.back_m or 0.0,
                tuple(source.key for source in way.candidate.sources if source.is_own),
            )
        )
    runs = cut_list(built)
    return BuildPlan(runs, parts(facts.wish.count, built, runs))


def _as_tested(accessory: Accessory, lamp: LampBelief | None) -> Accessory:
    """An accessory as its lamp proved to be on the bench: with a common plus its leads want a ground."""
    if lamp is None or not lamp.is_settled:
        return accessory
    chance = dict(lamp.technology)
    facts: dict[str, Any] = {}
    if lamp.way_round[0] == "common_plus":
        facts = {"polarity": Polarity.GROUND, "technology": "led"}
    elif chance[Technology.FILAMENT] >= SURE:
        facts = {"technology": "filament"}
    return replace(accessory, own=tuple(replace(lead, **facts) for lead in accessory.leads)) if facts else accessory


def _in_order(ways: tuple[Way, ...], lead: Lead, load_a: float, run: RunDecision, system_v: int) -> tuple[Way, ...]:
    """The ways in order of merit, those barred whose relay or diode does not bear the load."""
    is_filament = lead.technology == "filament"
    forms = {way.candidate.form.id: way.candidate.form for way in ways}
    barred = {
        id
        for id, form in forms.items()
        if part_problem(load_a, system_v, form, run.overrides, is_filament=is_filament)
    }
    marked = [way.barred("part") if way.candidate.form.id in barred else way for way in ways]
    return tuple(sorted(marked, key=lambda way: way.candidate.cost)) if barred else ways


@dataclass(frozen=True)
class _Draft:
    """A lead with its run and its ways, before anything is sized."""

    lead: Lead
    usual_a: float
    run: RunDecision
    ways: tuple[Way, ...]
    chosen: Way | None
    measured: LeadBelief | None

    @property
    def shown(self) -> Way | None:
        """The way that sizes are of."""
        return shown_way(self.ways, self.chosen)

    @property
    def load_a(self) -> float:
        """What hangs on the lead: typed in for it, else its lamps as measured or as such lamps draw [A]."""
        return self.run.overrides.get("load_a", self.usual_a * self.lead.lamps)


def _runs(decided: HookUpDecisions, leads: Sequence[Lead]) -> dict[str, RunDecision]:
    """The run of each lead; one that follows the first takes its way, but no number typed in for that one."""
    following = replace(decided.run, overrides={})
    return {lead.id: decided.runs.get(lead.id, following if n else decided.run) for n, lead in enumerate(leads)}


def _circuits(decided: HookUpDecisions, drafts: Sequence[_Draft], system_v: int) -> tuple[CircuitPlan, ...]:
    """Every factory circuit that the ways tap, loaded with what they all add to it."""
    added: dict[Function, float] = {}
    filaments: dict[Function, float] = {}
    for draft in drafts:
        way = draft.shown
        coil_a = running_v(system_v) / draft.run.overrides.get("coil_ohm", COIL_OHM[system_v])
        for function, amps_a in (way.draws_a(draft.load_a, coil_a) if way else {}).items():
            added[function] = added.get(function, 0.0) + amps_a
            if way is not None and draft.lead.technology == "filament" and way.lights_from(function):
                filaments[function] = filaments.get(function, 0.0) + amps_a
    found = []
    for function, added_a in added.items():
        notes = decided.circuit_of(function)
        percent = notes.most_percent
        core = CircuitFacts(
            notes.host_bulb,
            notes.host_count,
            notes.host_fuse_a,
            conductor(WireStandard.AWG, notes.host_wire).largest_fuse_a,
            notes.measured_a,
            CONTINUOUS_SHARE if percent is None else percent / 100,
        )
        bears_lamp = any(draft.shown is not None and draft.shown.lights_from(function) for draft in drafts)
        filament_a = filaments.get(function, 0.0)
        load = circuit_load(core, added_a, running_v(system_v), added_filament_a=filament_a)
        found.append(CircuitPlan(function, notes, added_a, bears_lamp, load))
    return tuple(found)


def _sharing_a(draft: _Draft, drafts: Sequence[_Draft]) -> float:
    """What the other leads that go the same way back send through it [A]."""
    if draft.run.back_m is None:
        return 0.0
    return sum(each.load_a for each in drafts if each is not draft and each.run.back_m == draft.run.back_m)


def _sized(
    decided: HookUpDecisions,
    accessory: Accessory,
    draft: _Draft,
    sharing_a: float,
    circuits: Sequence[CircuitPlan],
    system_v: int,
) -> SizedLead:
    run, way = draft.run, draft.shown
    host = next((each for each in circuits if way and each.function is way.host.wire.function), None)
    notes = decided.circuit_of(way.host.wire.function if way else "")
    on_lamp_ground = ground_methods()[run.ground].by_lamp_wire
    place = Place(
        is_exposed=run.is_exposed,
        is_monitored=notes.fed_by is FedBy.COMPUTER,
        comes_off=accessory.is_removable or accessory.is_swinging,
        is_at_fuse=bool(way and way.host.is_at_fuse),
        keeps=decided.keeps,
        ground_wire=conductor(WireStandard.AWG, run.ground_wire) if on_lamp_ground else None,
    )
    core = RunFacts(
        run.out_m, run.back_m, run.wire_standard, run.wire_size, run.joint, run.ground, run.overrides, sharing_a
    )
    host_wire = conductor(WireStandard.AWG, notes.host_wire)
    form = way.candidate.form if way else None
    present_a = (host.load.present_a if host and host.load else 0.0) + sharing_a if on_lamp_ground else 0.0
    size = partial(
        size_lead,
        load_a=draft.usual_a * draft.lead.lamps,
        system_v=system_v,
        form=form,
        place=place,
        host_wire=host_wire,
        ground_present_a=present_a,
        is_filament=draft.lead.technology == "filament",
    )
    try:
        return size(core)
    except FactError as error:  # kept when it was possible; the load has changed since
        found = size(replace(core, overrides={}, size=""))
        return replace(found, problem=str(error), faults=(*found.faults, "part"))
