"""The hook-up plan that follows from the belief, the decisions and the load."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from dataclasses import dataclass, replace
from functools import cached_property
from typing import Any

from electrics.build.sheet import CutRun, LeadBuild, Part, cut_list, parts
from electrics.circuit.findings import Finding
from electrics.errors import FactError
from electrics.hookup.accessories import OWN, Accessory, Lead, accessories, own_kind, together
from electrics.hookup.joints import Keeps, Place, ground_methods
from electrics.hookup.load import HostLoad, check_load_a, running_v
from electrics.hookup.sized import CircuitFacts, RunFacts, SizedLead, circuit_load, size_lead
from electrics.hookup.sizing import COIL_OHM
from electrics.hookup.states import states_for
from electrics.hookup.trial import Together
from electrics.identify.leads import LampBelief, LeadBelief, Technology
from electrics.reference.conductor import WireStandard, conductor
from electrics.reference.fuses import CONTINUOUS_SHARE
from electrics.signals import Scenario
from electrics.vocabulary import Function, Polarity, State
from hailstone.hookup.models import HookUp
from hailstone.jobs.models import Job
from hailstone.layers.lamp import lamp_belief, lead_for
from hailstone.layers.scenarios import scenarios
from hailstone.layers.ways import Bench, Way, bench_of, find_ways, try_all, try_way

SURE = 0.95
"""From which what the bench test says of the lamp's kind is taken for a fact [-]."""
KINDS_OF_DECISION = 4
"""What is decided in this layer: the ways, the circuits, who feeds them, the runs."""


@dataclass(frozen=True)
class Open:
    """Something still open or forbidden: an id that `hailstone.wording.hookup` puts into words, and where."""

    id: str
    lead: str = ""
    function: Function | None = None
    detail: str = ""


@dataclass(frozen=True)
class LeadPlan:
    """One lead of what is added: what could feed it, best first by logic, what was chosen, and its sizes.

    Attributes
    ----------
    is_gone : bool
        The way that was chosen cannot be had any more.
    """

    lead: Lead
    each_a: float
    lamps: int
    ways: tuple[Way, ...]
    chosen: Way | None
    is_gone: bool
    measured: LeadBelief | None
    run: dict[str, Any]
    follows: bool
    sized: SizedLead

    @property
    def amps_a(self) -> float:
        return self.each_a * self.lamps

    @property
    def right(self) -> tuple[Way, ...]:
        return tuple(way for way in self.ways if way.is_right)

    @property
    def shown(self) -> Way | None:
        """The way that pictures and tables are of: the chosen one, else the best, if any is right."""
        return self.chosen or next(iter(self.right), None)


@dataclass(frozen=True)
class CircuitPlan:
    """A factory circuit that is tapped: what is noted of it, and its load with what is added."""

    function: Function
    facts: dict[str, Any]
    added_a: float
    bears_lamp: bool
    load: HostLoad | None


@dataclass(frozen=True)
class HookUpPlan:
    """Everything layer three says.

    Attributes
    ----------
    scenarios : tuple of Scenario
        The variants that the vehicle may be of, the likeliest first.
    missing, faults : tuple of Open
        The decisions still open, and what forbids this hook-up.
    """

    accessory: Accessory
    leads: tuple[LeadPlan, ...]
    circuits: tuple[CircuitPlan, ...]
    lamp: LampBelief | None
    voltage_v: float
    scenarios: tuple[Scenario, ...]
    states: tuple[State, ...]
    bench: Bench
    missing: tuple[Open, ...]
    faults: tuple[Open, ...]
    override: str

    @property
    def is_single(self) -> bool:
        return len(self.leads) == 1

    @property
    def added_a(self) -> float:
        """What all leads draw together [A]."""
        return sum(lead.amps_a for lead in self.leads)

    @property
    def overridden(self) -> str:
        """The reason for a way that is not right, where one was taken."""
        return self.override if any(lead.chosen and not lead.chosen.is_right for lead in self.leads) else ""

    @property
    def has_ways(self) -> bool:
        return any(lead.ways for lead in self.leads)

    @property
    def is_complete(self) -> bool:
        return not self.missing and not self.faults

    @cached_property
    def open_kinds(self) -> tuple[str, ...]:
        """The kinds of decision still open."""
        return tuple(dict.fromkeys(item.id for item in self.missing))

    @cached_property
    def together(self) -> Together | None:
        """Every lead's chosen way on the vehicle at once; None while one is open, or there is only one."""
        taken = [(lead.lead, lead.lamps, lead.each_a, lead.chosen) for lead in self.leads if lead.chosen]
        return try_all(self.bench, taken) if len(taken) == len(self.leads) > 1 else None

    @cached_property
    def upsets(self) -> tuple[Finding, ...]:
        """What the chosen ways upset on the vehicle's circuit, all of them together."""
        if self.together is not None:
            return self.together.upsets
        found: list[Finding] = []
        for lead in self.leads:
            trial = try_way(self.bench, lead.lead, lead.lamps, lead.each_a, lead.chosen) if lead.chosen else None
            found += trial.upsets if trial else ()
        return tuple(found)

    @property
    def decided_share(self) -> float:
        """How much of the layer is decided [-]."""
        return 1 - len(self.open_kinds) / KINDS_OF_DECISION

    def lead(self, id: str) -> LeadPlan:
        """A lead by its id, else the first."""
        return next((lead for lead in self.leads if lead.lead.id == id), self.leads[0])


@dataclass(frozen=True)
class BuildPlan:
    """What is cut and laid out."""

    runs: tuple[CutRun, ...]
    parts: tuple[Part, ...]


def hookup_of(job: Job) -> HookUp:
    """The job's decisions, or fresh ones that are not saved yet."""
    try:
        return job.hookup
    except HookUp.DoesNotExist:
        return HookUp(job=job, changed_by=job.changed_by)


def accessory_of(job: Job) -> Accessory:
    """What the job adds: a kind of the table or one's own, and whatever is added along with it."""
    first = own_kind(job.own_leads, job.added_count) if job.addition == OWN else accessories()[job.addition]
    others = [accessories()[id] for id in job.also.split(",") if id and id != job.addition]
    if len(first.leads) == 1:
        lead = replace(first.leads[0], each_a=job.added_each_a, lamps=job.added_count)
        first = replace(first, own=(lead,))
    return together(first, others)


def plan_hookup(job: Job) -> HookUpPlan:
    """Derive the plan of layer three from a job with its facts."""
    choice = hookup_of(job)
    lamp = lamp_belief(job)
    accessory = _as_tested(accessory_of(job), lamp)
    possible = scenarios(job)
    states = states_for(lead.wanted for lead in accessory.leads)
    bench = bench_of(job, possible)
    found = find_ways(job, choice, accessory.leads, possible, states)
    drafts = []
    for lead, measured, each_a in _loads(accessory, lamp):
        ways = found[lead.id]
        chosen = next((way for way in ways if way.key == choice.ways.get(lead.id)), None)
        drafts.append((lead, each_a, ways, chosen, measured))
    shown = [chosen or next((way for way in ways if way.is_right), None) for _, _, ways, chosen, _ in drafts]
    circuits = _circuits(choice, drafts, shown, job.vehicle.system_v)
    leads = []
    for n, (lead, each_a, ways, chosen, measured) in enumerate(drafts):
        run = choice.run_of(lead.id)
        sharing_a = _sharing_a(choice, run["back_m"], lead, drafts)
        sized = _sized(choice, accessory, run, each_a * lead.lamps, sharing_a, shown[n], circuits, job)
        follows = n > 0 and not choice.leads.get(lead.id)
        is_gone = chosen is None and bool(choice.ways.get(lead.id))
        leads.append(LeadPlan(lead, each_a, lead.lamps, ways, chosen, is_gone, measured, run, follows, sized))
    plan = HookUpPlan(
        accessory,
        tuple(leads),
        circuits,
        lamp,
        running_v(job.vehicle.system_v),
        possible,
        states,
        bench,
        (),
        (),
        choice.override.strip(),
    )
    return replace(plan, missing=tuple(_missing(plan)), faults=tuple(_faults(plan)))


def check_loads(job: Job) -> None:
    """Refuse what no lamp circuit carries, as the brief and the bench test of the lamp together have it.

    Raises
    ------
    FactError
        Called inside the transaction that writes either, it takes the write back.
    """
    lamp = lamp_belief(job)
    list(_loads(_as_tested(accessory_of(job), lamp), lamp))


def _loads(accessory: Accessory, lamp: LampBelief | None) -> Iterator[tuple[Lead, LeadBelief | None, float]]:
    """Each lead with what the bench test says of it and the current of one lamp [A]."""
    for lead in accessory.leads:
        measured = lead_for(lamp, lead.wanted.functions[0]) if lamp else None
        each_a = measured.amps_a if measured and measured.amps_a is not None else lead.each_a
        check_load_a(lead.lamps, each_a)
        yield lead, measured, each_a


def plan_build(job: Job, plan: HookUpPlan) -> BuildPlan | None:
    """What to cut and lay out, once the hook-up stands."""
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
                lead.run["out_m"] or 0.0,
                lead.run["back_m"] or 0.0,
                tuple(source.key for source in way.candidate.sources if source.is_own),
            )
        )
    runs = cut_list(built)
    return BuildPlan(runs, parts(job.added_count, built, runs))


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


Draft = tuple[Lead, float, tuple[Way, ...], Way | None, LeadBelief | None]


def _circuits(
    choice: HookUp, drafts: Sequence[Draft], shown: Sequence[Way | None], system_v: int
) -> tuple[CircuitPlan, ...]:
    """Every factory circuit that the ways tap, loaded with what they all add to it."""
    added: dict[Function, float] = {}
    filaments: dict[Function, float] = {}
    for (lead, each_a, *_), way in zip(drafts, shown, strict=True):
        overrides = choice.run_of(lead.id)["overrides"]
        load_a = overrides.get("load_a", each_a * lead.lamps)
        coil_a = running_v(system_v) / overrides.get("coil_ohm", COIL_OHM[system_v])
        for function, amps_a in (way.draws_a(load_a, coil_a) if way else {}).items():
            added[function] = added.get(function, 0.0) + amps_a
            if way is not None and lead.technology == "filament" and way.lights_from(function):
                filaments[function] = filaments.get(function, 0.0) + amps_a
    found = []
    for function, added_a in added.items():
        facts = choice.circuit_of(function)
        percent = facts["most_percent"]
        core = CircuitFacts(
            facts["host_bulb"],
            facts["host_count"],
            facts["host_fuse_a"],
            conductor(WireStandard.AWG, facts["host_wire"]).largest_fuse_a,
            facts["measured_a"],
            CONTINUOUS_SHARE if percent is None else percent / 100,
        )
        bears_lamp = any(way is not None and way.lights_from(function) for way in shown)
        filament_a = filaments.get(function, 0.0)
        load = circuit_load(core, added_a, running_v(system_v), added_filament_a=filament_a)
        found.append(CircuitPlan(function, facts, added_a, bears_lamp, load))
    return tuple(found)


def _sharing_a(choice: HookUp, back_m: float | None, lead: Lead, drafts: Sequence[Draft]) -> float:
    """What the other leads that go the same way back send through it [A]."""
    if back_m is None:
        return 0.0
    others = [(other, other_a, choice.run_of(other.id)) for other, other_a, *_ in drafts if other.id != lead.id]
    return sum(
        run["overrides"].get("load_a", other_a * other.lamps)
        for other, other_a, run in others
        if run["back_m"] == back_m
    )


def _sized(
    choice: HookUp,
    accessory: Accessory,
    run: dict[str, Any],
    load_a: float,
    sharing_a: float,
    way: Way | None,
    circuits: Sequence[CircuitPlan],
    job: Job,
) -> SizedLead:
    host = next((each for each in circuits if way and each.function is way.host.wire.function), None)
    facts = choice.circuit_of(way.host.wire.function if way else "")
    on_lamp_ground = ground_methods()[run["ground"]].by_lamp_wire
    place = Place(
        is_exposed=run["is_exposed"],
        is_monitored=facts["fed_by"] == HookUp.FedBy.COMPUTER,
        comes_off=accessory.is_removable or accessory.is_swinging,
        is_at_fuse=bool(way and way.host.is_at_fuse),
        keeps=Keeps(choice.keeps),
        ground_wire=conductor(WireStandard.AWG, run["ground_wire"]) if on_lamp_ground else None,
    )
    core = RunFacts(
        run["out_m"],
        run["back_m"],
        WireStandard(run["wire_standard"]),
        run["wire_size"],
        run["joint"],
        run["ground"],
        run["overrides"],
        sharing_a,
    )
    host_wire = conductor(WireStandard.AWG, facts["host_wire"])
    form = way.candidate.form if way else None
    present_a = (host.load.present_a if host and host.load else 0.0) + sharing_a if on_lamp_ground else 0.0
    try:
        return size_lead(core, load_a, job.vehicle.system_v, form, place, host_wire, ground_present_a=present_a)
    except FactError as error:  # kept when it was possible; the load has changed since
        plain = replace(core, overrides={}, size="")
        found = size_lead(plain, load_a, job.vehicle.system_v, form, place, host_wire, ground_present_a=present_a)
        return replace(found, problem=str(error), faults=(*found.faults, "part"))


def _missing(plan: HookUpPlan) -> list[Open]:
    found = [Open("tap", lead.lead.id) for lead in plan.leads if lead.chosen is None]
    found += [Open("host", function=each.function) for each in plan.circuits if each.load is None]
    unknown = HookUp.FedBy.UNKNOWN
    found += [Open("fed_by", function=each.function) for each in plan.circuits if each.facts["fed_by"] == unknown]
    return found + [Open("run", lead.lead.id) for lead in plan.leads if not lead.sized.options]


def _faults(plan: HookUpPlan) -> list[Open]:
    found = [Open("way_gone", lead.lead.id) for lead in plan.leads if lead.is_gone]
    for lead in plan.leads:
        if lead.chosen is not None:
            found += [Open(rule, lead.lead.id) for rule in _way_faults(plan, lead, lead.chosen)]
    if plan.together is not None and not plan.override and not any(item.id == "not_wanted" for item in found):
        found += [
            Open("together", lead.lead.id, detail=str(wrong[0]))
            for lead, wrong in zip(plan.leads, plan.together.wrong, strict=True)
            if wrong
        ]
    for circuit in plan.circuits:
        by_computer = circuit.facts["fed_by"] == HookUp.FedBy.COMPUTER
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
    return found


def _way_faults(plan: HookUpPlan, lead: LeadPlan, way: Way) -> list[str]:
    """What forbids a chosen way, by logic or on the circuit; the computer has a fault of its own."""
    refusals = set(way.candidate.refusals) - {"computer"}
    faults = ["never"] if "never" in refusals else []
    if plan.override:
        return faults
    if way.is_right:
        trial = try_way(plan.bench, lead.lead, lead.lamps, lead.each_a, way)
        return ["not_wanted"] if trial is not None and trial.wrong else faults
    return [*faults, "not_wanted"] if refusals or way.candidate.wrong else faults


__all__ = [
    "KINDS_OF_DECISION",
    "BuildPlan",
    "CircuitPlan",
    "HookUpPlan",
    "LeadPlan",
    "Open",
    "check_loads",
    "hookup_of",
    "plan_build",
    "plan_hookup",
]
