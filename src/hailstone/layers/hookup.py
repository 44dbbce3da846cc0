"""The hook-up plan that follows from the belief, the decisions and the load."""

from __future__ import annotations

from dataclasses import dataclass, replace
from functools import lru_cache

from electrics.build.sheet import RELAYS, CutRun, Part, cut_list, parts
from electrics.hookup.accessories import OWN, Accessory, Lead, accessories, own_kind, together
from electrics.hookup.forms import Form, Source
from electrics.hookup.joints import JointFit, fit_joint, joint_methods
from electrics.hookup.load import HostLoad, check_load_a, host_load, running_v
from electrics.hookup.run import SHOP_RANGE_MM2, Run, WireOption, wire_options
from electrics.hookup.search import Candidate, scenarios_of, search, source_levels, wanted_levels
from electrics.hookup.states import NEVER
from electrics.hookup.trial import Trial, node_of, try_out, vehicle_with
from electrics.identify.belief import WORLDS, WireBelief
from electrics.identify.leads import LampBelief, LeadBelief
from electrics.reference import conductor as wires
from electrics.reference.bulbs import bulbs
from electrics.reference.fuses import Fuse
from electrics.signals import Scenario
from electrics.vocabulary import Arrangement, Function
from hailstone.hookup.models import HookUp
from hailstone.jobs.models import Job, Vehicle
from hailstone.layers.beliefs import beliefs
from hailstone.layers.lamp import lamp_belief, lead_for

RELAY_FORMS = frozenset(RELAYS)
"""Forms of hook-up that take a relay."""
SHOWN_WAYS = 4
"""Right ways that are shown; further ones only cost more parts."""
COIL_A = 0.16
"""What a relay's coil draws on 12 V [A] (85 ohm at 13.5 V, ISO 7588 kind parts, from memory)."""


@dataclass(frozen=True)
class PlaceWire:
    """An identified wire and where it is."""

    point_id: int
    point_name: str
    pin_id: int
    wire: WireBelief


@dataclass(frozen=True)
class Way:
    """A candidate with the wires that it taps."""

    candidate: Candidate
    wires: tuple[PlaceWire, ...]

    @property
    def key(self) -> str:
        return self.candidate.key

    @property
    def is_right(self) -> bool:
        return self.candidate.is_right

    @property
    def main(self) -> PlaceWire:
        """The wire it is named by: the first it taps."""
        return self.wires[0]

    @property
    def host(self) -> PlaceWire:
        """The wire whose circuit carries the lamp; the first it taps where none does."""
        carrying = [wire for wire, load in zip(self.wires, self.candidate.form.loads, strict=True) if load == "lamp"]
        return (carrying or self.wires)[0]

    def draws_a(self, function: Function, lamps_a: float) -> float:
        """What it adds to the circuit of a function: its lamps, or a coil [A]."""
        taps = zip(self.wires, self.candidate.form.loads, strict=True)
        return sum(lamps_a if load == "lamp" else COIL_A for place, load in taps if place.wire.function is function)

    @property
    def loads_host(self) -> bool:
        """Whether the lamp's own current comes from the tapped circuit."""
        return "lamp" in self.candidate.form.loads


@dataclass(frozen=True)
class LeadPlan:
    """One lead of what is added: what could feed it, best first, and what was chosen."""

    lead: Lead
    each_a: float
    lamps: int
    ways: tuple[Way, ...]
    chosen: Way | None

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
class HookUpPlan:
    """Everything layer three says; parts that cannot be computed yet are None.

    `missing` names the decisions still open, `faults` what forbids this hook-up; both are ids that
    `hailstone.wording.hookup` puts into words.
    """

    accessory: Accessory
    leads: tuple[LeadPlan, ...]
    lamp: LampBelief | None
    lead: LeadBelief | None
    added_a: float
    sized_a: float
    voltage_v: float
    scenario: Scenario
    host: HostLoad | None
    options: tuple[WireOption, ...]
    option: WireOption | None
    joint: JointFit | None
    branch_needs_fuse: bool
    missing: tuple[str, ...]
    faults: tuple[str, ...]
    override: str

    @property
    def overridden(self) -> str:
        """The reason for a way that is not right, where one was taken."""
        return self.override if any(lead.chosen and not lead.chosen.is_right for lead in self.leads) else ""

    @property
    def chosen(self) -> Way | None:
        """The way chosen for the first lead."""
        return self.leads[0].chosen

    @property
    def has_ways(self) -> bool:
        return any(lead.ways for lead in self.leads)

    @property
    def is_measured(self) -> bool:
        """Whether the added current was measured on the lamp itself."""
        return self.lead is not None and self.lead.amps_a is not None

    @property
    def is_complete(self) -> bool:
        return not self.missing and not self.faults

    @property
    def decided_share(self) -> float:
        """How much of the layer is decided [-]."""
        return 1 - len(self.missing) / 4

    @property
    def fuse(self) -> Fuse | None:
        return self.option.fuse if self.option else None

    @property
    def forms(self) -> tuple[str, ...]:
        """The forms chosen, for the parts list."""
        return tuple(lead.chosen.candidate.form.id for lead in self.leads if lead.chosen)


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
    if others and len(first.leads) == 1:
        lead = replace(first.leads[0], each_a=job.added_each_a, lamps=job.added_count)
        first = replace(first, own=(lead,))
    return together(first, others)


def plan_hookup(job: Job) -> HookUpPlan:
    """Derive the plan of layer three from a job with its facts."""
    choice = hookup_of(job)
    accessory = accessory_of(job)
    lamp = lamp_belief(job)
    is_single = len(accessory.leads) == 1
    lead = lead_for(lamp, accessory.leads[0].wanted.functions[0]) if lamp and is_single else None
    measured_a = lead.amps_a if lead else None
    each_a = job.added_each_a if measured_a is None else measured_a
    arrangement, scenario = _arrangement(job)
    leads = _leads(job, choice, accessory, each_a, arrangement)
    added_a = check_load_a(job.added_count, each_a) if is_single else max(each.amps_a for each in leads)
    sized_a = added_a if choice.load_override_a is None else choice.load_override_a
    voltage_v = running_v(job.vehicle.system_v)
    chosen = [each.chosen for each in leads]
    host_wire = wires.conductor(wires.WireStandard.AWG, choice.host_wire)
    host = _host(choice, _on_host(leads, sized_a, choice.load_override_a), host_wire, voltage_v)
    options = _options(choice, sized_a, voltage_v)
    option = _chosen_option(options, choice.wire_size)
    missing = [
        name
        for name, is_missing in (
            ("tap", None in chosen),
            ("host", host is None),
            ("run", not options),
            ("fed_by", choice.fed_by == HookUp.FedBy.UNKNOWN),
        )
        if is_missing
    ]
    is_lamp_on_host = any(way is not None and way.loads_host for way in chosen)
    faults = [
        name
        for name, is_broken in (
            ("tap", not choice.override and any(way is not None and bool(_own_refusals(way)) for way in chosen)),
            ("never", any(way is not None and "never" in way.candidate.refusals for way in chosen)),
            ("computer", choice.fed_by == HookUp.FedBy.COMPUTER and is_lamp_on_host),
            ("fuse_load", host is not None and not host.fits_fuse),
            ("wire_load", host is not None and not host.fits_wire),
            ("no_wire", bool(options) and option is None),
            ("drop", option is not None and "drop" in option.faults),
            ("common_plus", lamp is not None and lamp.way_round[0] == "common_plus" and lamp.is_settled),
            ("no_fuse", option is not None and "fuse" in option.faults),
        )
        if is_broken
    ]
    joint = None
    if option is not None:
        method = joint_methods()[choice.joint]
        joint = fit_joint(
            method,
            host_wire,
            option.conductor,
            exposed=choice.is_exposed,
            monitored=choice.fed_by == HookUp.FedBy.COMPUTER,
            comes_off=accessory.is_removable or accessory.is_swinging,
        )
        if joint.warnings:
            faults.append("joint")
    return HookUpPlan(
        accessory,
        leads,
        lamp,
        lead,
        added_a,
        sized_a,
        voltage_v,
        scenario,
        host,
        options,
        option,
        joint,
        bool(option and host and host.fuse_a > option.conductor.largest_fuse_a),
        tuple(missing),
        tuple(faults),
        choice.override.strip(),
    )


def try_way(job: Job, plan: HookUpPlan, lead: LeadPlan, way: Way) -> Trial | None:
    """A way on this vehicle's own circuit, solved in every state; None where a circuit it taps is not modelled."""
    found = frozenset(
        (wire.function, wire.variant) for belief in beliefs(job).values() for wire in belief.wires if wire.is_settled
    )
    has_computer = job.vehicle.computer == Vehicle.Computer.YES
    taps = tuple((place.wire.function, place.wire.variant) for place in way.wires)
    return _tried(
        way.candidate.form,
        taps,
        lead.lead,
        lead.lamps,
        lead.each_a,
        found,
        plan.scenario,
        job.vehicle.system_v,
        has_computer,
    )


@lru_cache(maxsize=128)
def _tried(
    form: Form,
    taps: tuple[tuple[Function, str], ...],
    lead: Lead,
    lamps: int,
    each_a: float,
    found: frozenset[tuple[Function, str]],
    scenario: Scenario,
    system_v: int,
    has_computer: bool,
) -> Trial | None:
    factory = vehicle_with(found, scenario, system_v=system_v, has_computer=has_computer)
    nodes = [node_of(factory, *tap) for tap in taps]
    if not all(nodes):
        return None
    return try_out(form, lead, nodes, factory, scenario, count=lamps, each_a=each_a)


def plan_build(job: Job, plan: HookUpPlan) -> BuildPlan | None:
    """What to cut and lay out, once the hook-up stands."""
    choice = hookup_of(job)
    if not plan.is_complete or plan.option is None or plan.joint is None or plan.fuse is None:
        return None
    runs = cut_list(plan.option.conductor, choice.out_m or 0.0, choice.back_m or 0.0)
    return BuildPlan(runs, parts(job.added_count, runs, plan.fuse, plan.joint, plan.forms))


def _arrangement(job: Job) -> tuple[Arrangement, Scenario]:
    """What the readings at all places make likeliest."""
    belief = next(iter(beliefs(job).values()), None)
    if belief is None:
        return Arrangement.SEPARATE, Scenario(Arrangement.SEPARATE)
    scenario, _ = WORLDS[int(belief.worlds.argmax())]
    return scenario.arrangement, scenario


def _leads(
    job: Job, choice: HookUp, accessory: Accessory, each_a: float, arrangement: Arrangement
) -> tuple[LeadPlan, ...]:
    scenarios = scenarios_of(arrangement)
    is_computer_fed = choice.fed_by == HookUp.FedBy.COMPUTER
    places: dict[str, PlaceWire] = {}
    sources = []
    for point in job.points.all():
        ids = {pin.label: pin.id for pin in point.pins.all()}
        for wire in beliefs(job)[point.id].wires:
            key = str(ids[wire.pin])
            places[key] = PlaceWire(point.id, point.name, ids[wire.pin], wire)
            if wire.function in NEVER:
                continue
            sources.append(
                Source(
                    key,
                    source_levels(wire.function, wire.variant, scenarios),
                    wire.polarity,
                    is_at_fuse=point.kind == "fuse_box",
                    is_computer_fed=is_computer_fed,
                    is_settled=wire.is_settled,
                )
            )
    sources = _once(sources)
    is_single = len(accessory.leads) == 1
    found = []
    for lead in accessory.leads:
        ways = tuple(
            Way(candidate, tuple(places[source.key] for source in candidate.sources))
            for candidate in search(lead, sources, wanted_levels(lead, scenarios))
        )
        chosen = next((way for way in ways if way.key == choice.ways.get(lead.id)), None)
        found.append(
            LeadPlan(
                lead,
                each_a if is_single else lead.each_a,
                job.added_count if is_single else lead.lamps,
                ways,
                chosen,
            )
        )
    return tuple(found)


def _once(sources: list[Source]) -> list[Source]:
    """At most one pair's worth of alike circuits: the first two of each behaviour are enough for any network."""
    seen: dict[bytes, int] = {}
    kept = []
    for source in sorted(sources, key=lambda each: (not each.is_settled, not each.is_at_fuse)):
        alike = source.levels.tobytes() + source.polarity.encode()
        seen[alike] = seen.get(alike, 0) + 1
        if seen[alike] <= MOST_ALIKE:
            kept.append(source)
    return sorted(kept, key=lambda each: int(each.key))


MOST_ALIKE = 6


def _own_refusals(way: Way) -> tuple[str, ...]:
    """What forbids a way apart from the computer, which has a fault and a sentence of its own."""
    return tuple(rule for rule in way.candidate.refusals if rule != "computer") + (
        ("wrong",) if way.candidate.wrong else ()
    )


def _on_host(leads: tuple[LeadPlan, ...], sized_a: float, override_a: float | None) -> float:
    """What all chosen leads together add to the circuit that the first one is on [A]."""
    main = leads[0].chosen
    if main is None:
        return sized_a
    amps_a = [each.amps_a for each in leads]
    if override_a is not None:
        amps_a[0] = override_a
    taken = zip(leads, amps_a, strict=True)
    return sum(each.chosen.draws_a(main.host.wire.function, lamps_a) for each, lamps_a in taken if each.chosen)


def _host(choice: HookUp, added_a: float, host_wire: wires.Conductor, voltage_v: float) -> HostLoad | None:
    if choice.host_fuse_a is None or choice.host_count is None or not choice.host_bulb:
        return None
    bulb = bulbs()[choice.host_bulb]
    return host_load(bulb, choice.host_count, added_a, choice.host_fuse_a, host_wire.largest_fuse_a, voltage_v)


def _options(choice: HookUp, added_a: float, voltage_v: float) -> tuple[WireOption, ...]:
    if choice.out_m is None or choice.back_m is None:
        return ()
    run = Run(choice.out_m, choice.back_m, added_a, voltage_v)
    hot_c = wires.HOT_C if choice.hot_override_c is None else choice.hot_override_c
    return wire_options(run, wires.WireStandard(choice.wire_standard), hot_c)


def _chosen_option(options: tuple[WireOption, ...], size: str) -> WireOption | None:
    """The size that was picked, else the thinnest within the shop range that is right."""
    by_size = {option.conductor.size: option for option in options}
    if size in by_size:
        return by_size[size]
    right = [option for option in options if option.is_right and option.conductor.area_mm2 >= SHOP_RANGE_MM2]
    return right[0] if right else None


__all__ = [
    "RELAY_FORMS",
    "SHOWN_WAYS",
    "BuildPlan",
    "HookUpPlan",
    "LeadPlan",
    "PlaceWire",
    "Way",
    "hookup_of",
    "plan_build",
    "plan_hookup",
    "try_way",
]
