"""The hook-up plan that follows from the belief, the decisions and the load."""

from __future__ import annotations

from dataclasses import dataclass

from electrics.build.sheet import CutRun, Part, cut_list, parts
from electrics.hookup.joints import JointFit, fit_joint, joint_methods
from electrics.hookup.load import HostLoad, check_load_a, host_load, running_v
from electrics.hookup.run import SHOP_RANGE_MM2, Run, WireOption, wire_options
from electrics.hookup.taps import Addition, Tap, additions, rank_taps
from electrics.identify.leads import LampBelief, LeadBelief
from electrics.reference import conductor as wires
from electrics.reference.bulbs import bulbs
from electrics.reference.fuses import Fuse
from electrics.vocabulary import Function
from hailstone.hookup.models import HookUp
from hailstone.jobs.models import Job
from hailstone.layers.beliefs import beliefs
from hailstone.layers.lamp import lamp_belief, lead_for


@dataclass(frozen=True)
class PlaceTap:
    """A tap and the access point it is at."""

    point_id: int
    point_name: str
    pin_id: int
    tap: Tap


@dataclass(frozen=True)
class HookUpPlan:
    """Everything layer three says; parts that cannot be computed yet are None.

    `missing` names the decisions still open, `faults` what forbids this hook-up; both are ids that
    `hailstone.wording.hookup` puts into words.
    """

    addition: Addition
    lamp: LampBelief | None
    lead: LeadBelief | None
    added_a: float
    voltage_v: float
    taps: tuple[PlaceTap, ...]
    chosen: PlaceTap | None
    host: HostLoad | None
    options: tuple[WireOption, ...]
    option: WireOption | None
    joint: JointFit | None
    branch_needs_fuse: bool
    missing: tuple[str, ...]
    faults: tuple[str, ...]

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


def plan_hookup(job: Job) -> HookUpPlan:
    """Derive the plan of layer three from a job with its facts."""
    choice = hookup_of(job)
    addition = additions()[job.addition]
    lamp = lamp_belief(job)
    lead = lead_for(lamp, addition.wanted) if lamp else None
    measured_a = lead.amps_a if lead else None
    added_a = check_load_a(job.added_count, job.added_each_a if measured_a is None else measured_a)
    voltage_v = running_v(job.vehicle.system_v)
    taps = _taps(job, addition.wanted)
    chosen = next((tap for tap in taps if tap.pin_id == choice.tap_id), None)
    host_wire = wires.conductor(wires.WireStandard.AWG, choice.host_wire)
    host = _host(choice, added_a, host_wire, voltage_v)
    options = _options(choice, added_a, voltage_v)
    option = _chosen_option(options, choice.wire_size)
    missing = [
        name
        for name, is_missing in (
            ("tap", chosen is None),
            ("host", host is None),
            ("run", not options),
            ("fed_by", choice.fed_by == HookUp.FedBy.UNKNOWN),
        )
        if is_missing
    ]
    faults = [
        name
        for name, is_broken in (
            ("tap", chosen is not None and not chosen.tap.is_right),
            ("computer", choice.fed_by == HookUp.FedBy.COMPUTER),
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
        joint = fit_joint(method, host_wire, option.conductor, exposed=choice.is_exposed)
        if "exposed" in joint.warnings or "unlike_gauges" in joint.warnings:
            faults.append("joint")
    return HookUpPlan(
        addition,
        lamp,
        lead,
        added_a,
        voltage_v,
        taps,
        chosen,
        host,
        options,
        option,
        joint,
        bool(option and host and host.fuse_a > option.conductor.largest_fuse_a),
        tuple(missing),
        tuple(faults),
    )


def plan_build(job: Job, plan: HookUpPlan) -> BuildPlan | None:
    """What to cut and lay out, once the hook-up stands."""
    choice = hookup_of(job)
    if not plan.is_complete or plan.option is None or plan.joint is None or plan.fuse is None:
        return None
    runs = cut_list(plan.option.conductor, choice.out_m or 0.0, choice.back_m or 0.0)
    return BuildPlan(runs, parts(job.added_count, runs, plan.fuse, plan.joint))


def _taps(job: Job, wanted: Function) -> tuple[PlaceTap, ...]:
    found = []
    believed = beliefs(job)
    for point in job.points.all():
        ids = {pin.label: pin.id for pin in point.pins.all()}
        found += [
            PlaceTap(point.id, point.name, ids[tap.wire.pin], tap) for tap in rank_taps(believed[point.id], wanted)
        ]
    return tuple(sorted(found, key=lambda place: (not place.tap.is_right, len(place.tap.wrong))))


def _host(choice: HookUp, added_a: float, host_wire: wires.Conductor, voltage_v: float) -> HostLoad | None:
    if choice.host_fuse_a is None or choice.host_count is None or not choice.host_bulb:
        return None
    bulb = bulbs()[choice.host_bulb]
    return host_load(bulb, choice.host_count, added_a, choice.host_fuse_a, host_wire.largest_fuse_a, voltage_v)


def _options(choice: HookUp, added_a: float, voltage_v: float) -> tuple[WireOption, ...]:
    if choice.out_m is None or choice.back_m is None:
        return ()
    run = Run(choice.out_m, choice.back_m, added_a, voltage_v)
    return wire_options(run, wires.WireStandard(choice.wire_standard))


def _chosen_option(options: tuple[WireOption, ...], size: str) -> WireOption | None:
    """The size that was picked, else the thinnest within the shop range that is right."""
    by_size = {option.conductor.size: option for option in options}
    if size in by_size:
        return by_size[size]
    right = [option for option in options if option.is_right and option.conductor.area_mm2 >= SHOP_RANGE_MM2]
    return right[0] if right else None


__all__ = ["BuildPlan", "HookUpPlan", "PlaceTap", "hookup_of", "plan_build", "plan_hookup"]
