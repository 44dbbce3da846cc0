"""From facts to plan: what may feed each lead, what was chosen, every size, the circuits that bear it, the sheets.

`plan` is a pure function of `JobFacts`; pages, command line, bench and tests call it.
"""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Callable, Iterator, Mapping, Sequence
from dataclasses import dataclass, replace
from functools import cached_property
from typing import Any, TypeVar

from electrics.build.fitted import what_is_new
from electrics.build.proofs import Tapped
from electrics.build.sheet import BuildPlan, build_of
from electrics.build.steps import Build, Step, steps_of
from electrics.correct.complaints import concerns
from electrics.design.accessories import Accessory, units_as_one
from electrics.design.design import Design
from electrics.design.load import check_load_a, computer_spare_a, switch_limit_a
from electrics.design.sized import part_problem
from electrics.design.sizing import COIL_OHM
from electrics.design.states import states_for
from electrics.design.units import Lead, Unit
from electrics.design.wanted import parse_wanted
from electrics.document.decisions import HookUpDecisions, RunDecision
from electrics.document.job import JobFacts, Wish
from electrics.document.lamp import LampFacts
from electrics.document.way import UNUSED, WayKey
from electrics.identify.belief import Belief
from electrics.identify.leads import SETTLED, LampBelief, LeadBelief, Technology
from electrics.job.added import accessory_of, wished
from electrics.job.bearing import fed_within_limits
from electrics.job.beliefs import lamp_belief, lead_for, scenarios_left, settled_circuits
from electrics.job.cures.registry import as_cured, with_cured_units
from electrics.job.hookup_plan import HookUpPlan, LeadPlan
from electrics.job.host_circuits import circuits_of, loaded_circuit, stands_in
from electrics.job.layout import JobLayout, LeadDraft
from electrics.job.measures import lamp_rows, measures_of
from electrics.job.needs import beliefs_of
from electrics.job.rules import HookUpCase, judge, missing
from electrics.job.sites import Sites, share_keys
from electrics.job.trials import dark_circuits, known_vehicle
from electrics.job.ways import Way, find_ways, place_wires
from electrics.prove.sheet import Sheet, make_sheet
from electrics.reference.functions import kind_of
from electrics.reference.usual import running_v, system_scale
from electrics.vocabulary import Arrangement, Function, Polarity

__all__ = ["Plan", "check_loads", "layout_of", "plan", "tried_kind"]

OTHERS_OWN = "towed_own"
STAYS_DARK = parse_wanted("tail and not tail")
"""The lamps of a towed car's own that are not wired: dark whatever the vehicle in front does."""
Found = Mapping[str, tuple[Way, ...]]
Decision = TypeVar("Decision")
MAY_BE_LIT = 0.5
"""How likely an open wire is a lamp's from which the test sheet watches that lamp [-]."""
REAR_LAMPS = {
    Arrangement.SEPARATE: frozenset({Function.TAIL, Function.STOP, Function.TURN_LEFT, Function.TURN_RIGHT}),
    Arrangement.COMBINED: frozenset({Function.TAIL, Function.STOP_TURN_LEFT, Function.STOP_TURN_RIGHT}),
}
"""Lamps that every vehicle has: watched on the sheet where wires stay open, whoever identified them."""
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
        """What to cut and lay out, from the first chosen way on; of a complaint only what cures it."""
        fitted = None
        if self.facts.complaint:
            fitted = plan(self.facts.without_cures(), like=self).hookup.design
        return _build(self.facts, self.hookup, fitted)

    @cached_property
    def steps(self) -> tuple[Step, ...]:
        """The steps of the build sheet, in order; none while there is no build."""
        if self.build is None:
            return ()
        tapped = {
            place.key: Tapped(place.wire.function, place.wire.variant)
            for each in self.hookup.leads
            for place in (each.shown.tapped if each.shown else ())
        }
        vehicle = self.facts.vehicle
        scale = system_scale(vehicle.system_v)
        return steps_of(Build(self.build, tapped, self.hookup.scenarios, vehicle.not_fitted, scale))

    @cached_property
    def sheet(self) -> Sheet | None:
        """The test sheet, or None while nothing is planned that could be proven."""
        leads = self.hookup.leads
        if not self.hookup.is_begun and any(each.chosen is None for each in leads):
            return None
        found = ({function for function, _ in settled_circuits(self.beliefs)} | self._unsettled) - self._dark()
        added = {"" if self.hookup.is_single else each.lead.id: each.lead.wanted for each in leads}
        vehicle, scenarios = self.facts.vehicle, self.hookup.scenarios
        units = self.hookup.accessory.units
        if any(unit.kind is not None and unit.kind.is_towed for unit in units):
            added[OTHERS_OWN] = STAYS_DARK
        return make_sheet(
            found,
            added,
            scenarios[0],
            vehicle.system_v,
            not_fitted=vehicle.not_fitted,
            measures=measures_of(self.facts, self.hookup, frozenset(found)),
            rows=lamp_rows(self.hookup),
            others=[each for each in scenarios[1:] if each.arrangement is scenarios[0].arrangement],
        )

    def taking(self, ways: Mapping[str, str], *, instead: bool = False) -> Plan:
        """The plan with some ways taken, by lead and key, where none was chosen, or instead of those that were."""
        if not ways:
            return self
        chosen = self.facts.hookup.ways
        decided = replace(self.facts.hookup, ways={**chosen, **ways} if instead else {**ways, **chosen})
        return plan(replace(self.facts, hookup=decided), like=self)

    @property
    def _unsettled(self) -> set[Function]:
        """What the wires that the job did not need most likely are: their lamps are watched all the same."""
        wires = [wire for belief in self.beliefs for wire in belief.wires if not wire.is_settled]
        lit = {wire.function for wire in wires if wire.probability >= MAY_BE_LIT and kind_of(wire.function).has_lamp}
        arrangement = self.hookup.scenarios[0].arrangement
        rear = REAR_LAMPS[arrangement] if wires else frozenset()
        return lit | set(rear)

    def _dark(self) -> frozenset[Function]:
        """The circuits none of whose factory lamps is left: all of them made way for others."""
        taken = [(lead.lead, lead.shown) for lead in self.hookup.leads if lead.shown]
        return dark_circuits(self.hookup.bench, taken)


def plan(facts: JobFacts, *, like: Plan | None = None) -> Plan:
    """Everything that follows from the facts and decisions of a job.

    Parameters
    ----------
    facts : JobFacts
    like : Plan, optional
        Of the same wires and wishes: what was identified and the ways by logic are taken from it.

    Returns
    -------
    Plan

    Raises
    ------
    FactError
        A wish cannot be read or is never true, or no lamp circuit carries what is added.
    """
    beliefs = like.beliefs if like else beliefs_of(facts)
    return Plan(facts, beliefs, _hookup(facts, beliefs, like.hookup.found if like else None))


def layout_of(facts: JobFacts, beliefs: Sequence[Belief], found: Found | None = None) -> JobLayout:
    """Ways, sizes and design of a job, before anything is solved on the vehicle's circuit.

    `found` are its ways by logic where they are known: they hang on wires and wishes, not on lengths, fuses or bulbs.
    """
    decided = facts.hookup
    lamp = lamp_belief(facts.lamp)
    added = accessory_of(facts)
    tried = tried_kind(added, facts.lamp)
    concerned = with_cured_units(_concerned(_as_tested(added, lamp, tried), facts.complaint), facts)
    accessory, unused = _used(concerned, decided.ways)
    possible = scenarios_left(beliefs, facts.vehicle)
    states = states_for(lead.wanted for lead in accessory.leads)
    if found is None:
        found = find_ways(facts, beliefs, accessory.leads, possible, states)
    runs = _runs(decided, accessory.leads)
    drafts: dict[str, LeadDraft] = {}
    sites = Sites.of(facts, tuple(place_wires(facts, beliefs)), accessory.units)
    unit_of = {unit.id: unit for unit in accessory.units}
    loads = list(_loads(accessory, lamp, tried))
    alike_a: dict[tuple[str, Polarity], float] = defaultdict(float)
    on_output_a: dict[Function, float] = defaultdict(float)
    for lead, _, usual_a in loads:
        alike_a[lead.wanted.text, lead.polarity] += usual_a * lead.lamps
        for function in lead.wanted.functions:
            if not stands_in(facts, lead, usual_a * lead.lamps, function):
                on_output_a[function] += usual_a * lead.lamps

    def order(load: tuple[Lead, LeadBelief | None, float]) -> tuple[object, ...]:
        """What comes first shares its parts with what follows: the heavier, then by what and where it is."""
        lead, _, usual_a = load
        spot = sites.spot_of_unit(unit_of[lead.unit], runs[lead.id])
        far_m = sites.routes.between(sites.named_spot("battery"), spot).m
        return -usual_a * lead.lamps, lead.wanted.text, str(lead.polarity), lead.side, spot.zone, far_m

    for lead, measured, usual_a in sorted(loads, key=order):
        parted = [each for each in drafts.values() if each.shown and each.shown.candidate.form.parts]
        shared = frozenset().union(*(share_keys(each.shown, lead) for each in parted if each.shown))
        reach = sites.reach_of(unit_of[lead.unit], runs[lead.id])
        alike = alike_a[lead.wanted.text, lead.polarity]
        ways = _in_order(facts, found[lead.id], lead, alike, runs[lead.id], shared, reach, on_output_a)
        chosen = next((way for way in ways if way.is_of(decided.ways.get(lead.id, ""))), None)
        if lead.id not in decided.ways:
            chosen = _as_its_mate(lead, accessory.leads, decided.ways, ways)
        drafts[lead.id] = LeadDraft(lead, usual_a, runs[lead.id], ways, chosen, measured)
    listed = [drafts[lead.id] for lead, *_ in loads]
    return JobLayout(facts, sites, accessory, listed, circuits_of(facts, listed), found, unused)


def _used(accessory: Accessory, ways: Mapping[str, str]) -> tuple[Accessory, tuple[tuple[Unit, Lead], ...]]:
    """An accessory without the leads that are left unused, and those; one lead of a job is used at least.

    What is decided for one lead of a pair holds for the other until somebody decides otherwise for it.
    """
    leads = accessory.leads
    unused = {lead.id for lead in leads if ways.get(lead.id, _of_mate(lead, leads, ways)) == UNUSED}
    if not unused or len(unused) == len(leads):
        return accessory, ()
    units = [
        replace(unit, leads=tuple(lead for lead in unit.leads if lead.id not in unused)) for unit in accessory.units
    ]
    left = tuple((unit, lead) for unit in accessory.units for lead in unit.leads if lead.id in unused)
    return accessory.of_units([unit for unit in units if unit.leads]), left


def _of_mate(lead: Lead, leads: Sequence[Lead], decided: Mapping[str, Decision]) -> Decision | None:
    """What is decided of the same lead of the other unit of a pair; None for nothing."""
    return next((decided[each.id] for each in lead.mates(leads) if each.id in decided), None)


def _concerned(accessory: Accessory, complaint: str) -> Accessory:
    """Of what was changed already, the leads that a complaint can be about: no other wire is identified for it."""
    units = [
        replace(unit, leads=tuple(lead for lead in unit.leads if concerns(complaint, lead.wanted.functions)))
        for unit in accessory.units
    ]
    left = [unit for unit in units if unit.leads]
    return accessory.of_units(left) if complaint and left else accessory


def _hookup(said: JobFacts, beliefs: Sequence[Belief], found: Found | None = None) -> HookUpPlan:
    facts = as_cured(said)
    decided, system_v = facts.hookup, facts.vehicle.system_v
    laid = layout_of(facts, beliefs, found)
    possible = scenarios_left(beliefs, facts.vehicle)
    leads = []
    for n, draft in enumerate(laid.drafts):
        lead = draft.lead
        follows = n > 0 and lead.id not in decided.runs
        is_gone = draft.chosen is None and bool(decided.ways.get(lead.id))
        each_a = draft.load_a / lead.lamps
        plans = (lead, each_a, lead.lamps, draft.ways, draft.chosen, is_gone, draft.measured, draft.run)
        leads.append(LeadPlan(*plans, follows, laid.sized[lead.id], *laid.lengths_m(draft)))
    lamp = lamp_belief(facts.lamp)
    colours = lead_colours(laid.accessory, lamp, tried_kind(laid.accessory, facts.lamp))
    found_plan = HookUpPlan(
        laid.accessory,
        tuple(leads),
        tuple(laid.circuits),
        lamp,
        running_v(system_v),
        possible,
        states_for(lead.wanted for lead in laid.accessory.leads),
        known_vehicle(facts, beliefs, possible),
        (),
        (),
        decided.override.strip(),
        laid.design and laid.design.coloured(colours),
        laid.found,
        laid.drawn and laid.drawn.coloured(colours),
        tuple(lead for _, lead in laid.unused),
    )
    found_plan = fed_within_limits(found_plan, laid, lambda design: design.coloured(colours))
    case = HookUpCase(said, beliefs, found_plan, found_plan.override)
    return replace(found_plan, missing=missing(found_plan), findings=judge(case))


def check_loads(wish: Wish, lamp: LampFacts | None, system_v: int, units: Sequence[Unit] = ()) -> None:
    """Refuse what no lamp circuit carries, as brief or units and bench test together have it: FactError."""
    tested = lamp_belief(lamp)
    added = units_as_one(units) if units else wished(wish, system_v)
    kind = tried_kind(added, lamp)
    list(_loads(_as_tested(added, tested, kind), tested, kind))


def tried_kind(accessory: Accessory, lamp: LampFacts | None) -> str:
    """Which kind of the things that are fitted was tried on the bench: as was said, else the first."""
    kinds = [lead.kind for lead in accessory.leads]
    return lamp.kind if lamp is not None and lamp.kind in kinds else next(iter(kinds), "")


def lead_colours(accessory: Accessory, lamp: LampBelief | None, kind: str) -> dict[tuple[str, str], str]:
    """What the lamp's own leads are called, as the bench test settled it: by unit and lead, its common as well."""
    if lamp is None:
        return {}
    found = {}
    for unit in accessory.units:
        for lead in unit.leads:
            belief = lead_for(lamp, lead.wanted.functions[0]) if lead.kind == kind else None
            if belief is not None:
                for name in unit.names:
                    found[name, (lead.label or lead.id).replace("_", " ")] = belief.lead
                    if lamp.common is not None:
                        found[name, "ground"] = found[name, "plus"] = lamp.common.lead
    return found


def tried_for(accessory: Accessory, kind: str) -> tuple[Function, ...]:
    """What the leads of the lamp on the bench are to show on this job; none where a bench cannot tell one of them."""
    unit = next((lead.unit for lead in accessory.leads if lead.kind == kind), "")
    wanted = tuple(lead.wanted.functions[0] for lead in accessory.leads if lead.unit == unit)
    return wanted if all(kind_of(function).leads for function in wanted) else ()


def _loads(
    accessory: Accessory, lamp: LampBelief | None, kind: str
) -> Iterator[tuple[Lead, LeadBelief | None, float]]:
    """Each lead with what the bench test says of it and the current of one lamp [A].

    What all lamps of one behaviour draw together must be what a lamp circuit carries. What was measured holds for
    the `kind` that was on the bench.
    """
    alike: dict[tuple[str, Polarity], int] = defaultdict(int)
    for lead in accessory.leads:
        measured = lead_for(lamp, lead.wanted.functions[0]) if lamp and lead.kind == kind else None
        each_a = measured.amps_a if measured and measured.amps_a is not None else lead.each_a
        alike[lead.wanted.text, lead.polarity] += lead.lamps
        check_load_a(alike[lead.wanted.text, lead.polarity], each_a)
        yield lead, measured, each_a


def _build(facts: JobFacts, plan: HookUpPlan, fitted: Design | None) -> BuildPlan | None:
    if not plan.is_begun or plan.design is None:
        return None
    cures = [cure.cure for cure in facts.hookup.cures]
    if fitted is not None:
        return build_of(what_is_new(plan.design, fitted), plan.accessory.of_units(()), cures)
    return build_of(plan.design, plan.accessory, cures)


def _as_tested(accessory: Accessory, lamp: LampBelief | None, kind: str) -> Accessory:
    """An accessory as its lamp of a kind proved to be on the bench: with a common plus its leads want a ground."""
    if lamp is None or lamp.common is None or lamp.way_round[1] < SETTLED:
        return accessory
    chance = dict(lamp.technology)
    facts: dict[str, Any] = {}
    if lamp.way_round[0] == "common_plus":
        facts = {"polarity": Polarity.GROUND, "technology": "led"}
    elif chance[Technology.FILAMENT] >= SURE:
        facts = {"technology": "filament"}
    return accessory.with_leads(kind, **facts) if facts else accessory


def _in_order(
    facts: JobFacts,
    ways: tuple[Way, ...],
    lead: Lead,
    load_a: float,
    run: RunDecision,
    shared: frozenset[tuple[object, ...]],
    reach: Callable[[Way], float],
    on_output_a: Mapping[Function, float],
) -> tuple[Way, ...]:
    """The ways in order of merit: barred what does not bear the load, of equal ones the own side's, then the nearest.

    A way is barred where no relay, diode or module is sold for the load of all leads that want the same, or where the
    load is too much for the factory circuit. A part that an earlier lead already has (`shared`) counts as free. A
    computer's output can feed lamps only while all that want its function (`on_output_a` [A]) draw no more than it
    has to spare.
    """
    is_filament, system_v = lead.technology == "filament", facts.vehicle.system_v
    forms = {way.candidate.form.id: way.candidate.form for way in ways}
    barred = {
        id
        for id, form in forms.items()
        if part_problem(load_a, system_v, form, run.overrides, is_filament=is_filament)
    }
    bears: dict[tuple[Function, float, bool], bool] = {}

    def is_borne(way: Way) -> bool:
        if lead.replaces:  # judged by the difference, once the whole hook-up is known
            return True
        coil_a = running_v(system_v) / run.overrides.get("coil_ohm", COIL_OHM[system_v])
        for function, amps_a in way.draws_a(load_a, coil_a).items():
            key = function, amps_a, way.lights_from(function)
            if key not in bears:
                heats = amps_a if is_filament and way.lights_from(function) else 0.0
                is_tow = all(place.is_tow for place in way.tapped)
                load = loaded_circuit(facts, function, amps_a, heats, is_tow=is_tow).load
                bears[key] = load is None or (load.fits_fuse and load.fits_wire)
            if not bears[key]:
                return False
        return True

    spare_a, switch_a = computer_spare_a(system_v), switch_limit_a(system_v)
    takes_lamp = {
        function: stands_in(facts, lead, load_a, function) or max(on_output_a[function], load_a) <= spare_a
        for function in {way.host.wire.function for way in ways if "computer" in way.candidate.refusals}
    }
    right, others = [], []
    for each in ways:
        way = each.without("computer") if takes_lamp.get(each.host.wire.function) else each
        if way.candidate.form.id in barred:
            others.append(way.barred("part"))
        elif load_a > switch_a and way.is_switched:
            others.append(way.barred("switch_load"))
        elif not way.is_right:
            others.append(way)
        elif is_borne(way):
            right.append(way)
        else:
            others.append(way.barred("host_load"))

    def merit(way: Way) -> tuple[float, ...]:
        is_new = not (shared and share_keys(way, lead) & shared)
        return (*way.candidate.cost, is_new, way.strange_to(lead.side), reach(way))

    return (*sorted(right, key=merit), *sorted(others, key=lambda way: way.candidate.cost))


def _as_its_mate(lead: Lead, leads: Sequence[Lead], decided: Mapping[str, str], ways: Sequence[Way]) -> Way | None:
    """As the other lead of the pair is hooked up, if it fits: one relay or module for both, else on this side."""
    key = _of_mate(lead, leads, decided) or ""
    form = WayKey.read(key).form
    alike = [way for way in ways if way.is_right and way.candidate.form.id == form]
    shared = (way for way in alike if way.candidate.form.parts and way.is_of(key))
    return next(shared, next(iter(alike), None))


def _runs(decided: HookUpDecisions, leads: Sequence[Lead]) -> dict[str, RunDecision]:
    """The run of each lead: done as its mate's or the first's is, measured as its own unit's."""
    following = decided.followed
    found = {}
    for n, lead in enumerate(leads):
        mate = _of_mate(lead, leads, decided.runs)
        usual = decided.run if not n else following
        if mate is not None and n:
            usual = replace(mate, overrides={}, out_m=None, back_m=None)
        found[lead.id] = decided.runs.get(lead.id, usual)
    for lead in leads:
        run, mates = found[lead.id], [found[each.id] for each in leads if each.unit == lead.unit]
        out_m = next((each.out_m for each in (run, *mates) if each.out_m is not None), None)
        back_m = next((each.back_m for each in (run, *mates) if each.back_m is not None), None)
        found[lead.id] = replace(run, out_m=out_m, back_m=back_m)
    return found
