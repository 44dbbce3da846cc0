"""The build sheet's steps: one thing at one place each, in the order in which hands work.

Every step comes from a line of the design: what no wire, joint, part or lamp asks for has no step. The order follows
from what hangs on what: taps are proven before anything is cut, the wait for the airbag reserve runs beside bench
work, what gets hot is bolted down and relays are checked before they are joined, ground before feed at each place,
the battery's post last, and no fuse goes in before the battery is back on (common practice).
"""

from __future__ import annotations

from collections.abc import Callable, Iterable, Iterator, Mapping, Sequence
from dataclasses import dataclass, field
from math import sqrt
from typing import NamedTuple

from electrics.build.legs import legs_of
from electrics.build.parts import between_vehicles, lamps_of
from electrics.build.proofs import Proof, Tapped, proof_of
from electrics.build.sheet import BuildPlan
from electrics.build.step_kinds import Stage, StepKind, step_kinds
from electrics.design.additions import node_of_wire
from electrics.design.design import End, EndKind, Fitted, Join, Wiring, own_function
from electrics.design.groups import BATTERY_SPOT
from electrics.design.joints import outside_mm
from electrics.design.labels import anchor_of
from electrics.design.routes import Spot
from electrics.design.units import Unit
from electrics.reference.usual import GROUND_LOSS_V
from electrics.reference.zones import zones
from electrics.signals import Scenario
from electrics.vocabulary import Control

__all__ = ["Build", "Step", "StepKey", "minutes_of", "steps_of"]

HANDWORK = ("flasher", "pilot_diodes", "plug_turned", "other_bulb", "separate_bulb")
"""Cures that are something to do besides the parts that they bring."""
CHECKED = ("relay", "timed_relay", "diode", "decoder", "load_resistor", "dark_resistor")
"""Parts that are measured on the bench before they are joined, by their line in the parts list."""
BOLTED = ("relay", "timed_relay", "load_resistor", "decoder", "separator", "converter", "switch")
"""Parts that are screwed down where they sit."""
FUSES = ("fuse", "fuse_tap")
PLUGGED = ("socket", "stays")
"""Ways of joining that cut nothing and need no tool."""
GROMMETS_MM = ((4.0, 6.5), (6.0, 9.5), (8.0, 11.0), (10.0, 14.0), (14.0, 19.0), (19.0, 25.0))
"""Blind rubber grommets: the bundle that goes through, and the hole that they sit in [mm] (from memory)."""


class StepKey(NamedTuple):
    """What a step is known by, whatever else changes: its kind, its place and what it is about there."""

    kind: str
    place: str
    subject: str


@dataclass(frozen=True)
class Step:
    """One thing to do at one place.

    Attributes
    ----------
    place : str
        Where; empty for what is done at the bench or the whole vehicle.
    subject : str
        What it is about there, by names; empty where the place says it all.
    about : EndKind or None
        What the subject is named after: a pin's place, a unit.
    count : float
        How many of what its kind counts: wires, joints, metres [-].
    """

    kind: StepKind
    place: str = ""
    subject: str = ""
    about: EndKind | None = None
    count: float = 1.0
    wires: tuple[Wiring, ...] = ()
    joins: tuple[Join, ...] = ()
    parts: tuple[Fitted, ...] = ()
    ends: tuple[End, ...] = ()
    units: tuple[Unit, ...] = ()
    proof: Proof | None = None
    cure: str = ""
    hole_mm: float = 0.0
    """The hole that its wires go through [mm]; 0 for none."""
    loss_v: float = 0.0
    """The most that a ground may lose under load [V]; 0 where nothing is measured."""

    @property
    def key(self) -> StepKey:
        return StepKey(self.kind.id, self.place, self.subject)

    @property
    def minutes(self) -> float:
        """Usual time [min]."""
        return self.kind.minutes * self.count


@dataclass(frozen=True)
class Build:
    """What steps are made from.

    Attributes
    ----------
    plan : BuildPlan
    tapped : mapping of str to Tapped
        What the wires that are tapped do, by their keys.
    scenarios : sequence of Scenario
    not_fitted : frozenset of Control
    scale : float
        Of voltages, over 12 V [-].
    """

    plan: BuildPlan
    tapped: Mapping[str, Tapped] = field(default_factory=dict)
    scenarios: Sequence[Scenario] = ()
    not_fitted: frozenset[Control] = frozenset()
    scale: float = 1.0


def steps_of(build: Build) -> tuple[Step, ...]:
    """The steps of a build sheet in the order of work.

    Parameters
    ----------
    build : Build

    Returns
    -------
    tuple of Step
        Keys are unique.
    """
    spots, stages = _spots(build.plan), list(Stage)
    made = [step for make in MAKERS for step in make(build)]
    if not any(step.kind.rests == "own" for step in made):  # nothing is touched: what is left is to look at it
        made = list(_test_again(build))

    def order(step: Step) -> tuple[object, ...]:
        rank = _rank(spots.get(step.place)) if step.kind.stage in BY_PLACE else FIRST
        rank = {"open_up": FIRST, "battery_post": LAST}.get(step.kind.id, rank)
        is_feed = bool(step.joins) and not _is_ground(step.joins[0], build.plan)
        return stages.index(step.kind.stage), rank, step.kind.rank, is_feed

    return tuple(sorted(made, key=order))


def minutes_of(steps: Iterable[Step]) -> float:
    """How long some steps take [min]: their usual times, and of a wait what no other bench work fills."""
    steps = list(steps)
    work = sum(step.minutes for step in steps)
    for n, step in enumerate(steps):
        beside = [each.minutes for each in steps[n + 1 :] if each.kind.stage in (Stage.OFF, Stage.FIT)]
        work += max(0.0, step.kind.wait_min - sum(beside))
    return work


BY_PLACE = (Stage.LIVE, Stage.FIT, Stage.CONNECT)
FIRST, LAST = (0, 0.0, 0.0, ""), (2, 0.0, 0.0, "")


def _rank(spot: Spot | None) -> tuple[object, ...]:
    """By which places are gone through: from the rear to the front, the fuse box and the battery last."""
    if spot is None:
        return FIRST
    zone = zones()[spot.zone]
    return int(spot.zone in ("battery", "fuse box")) + 1, -zone.along, zone.across, spot.name


def _spots(plan: BuildPlan) -> dict[str, Spot]:
    ends = [end for wire in plan.wires for end in wire.ends] + [end for join in plan.joins for end in join.members]
    found = {end.spot.name: end.spot for end in (*ends, *plan.capped, *plan.sealed)}
    return {part.spot.name: part.spot for part in plan.fitted} | found


def _is_ground(join: Join, plan: BuildPlan) -> bool:
    grounds = {f"wire {wire.label}" for wire in plan.wires if wire.role == "ground"}
    return any(
        (end.kind is EndKind.WIRE and end.what in grounds) or (end.kind is EndKind.UNIT and end.terminal == "ground")
        for end in join.members
    )


def _opened(plan: BuildPlan) -> dict[str, Spot]:
    """The places of the vehicle that are opened: where its own wires or lamps are."""
    pins = [end for join in plan.joins for end in join.members if end.kind in (EndKind.PIN, EndKind.SUPPLY)]
    return {end.spot.name: end.spot for end in (*pins, *(end for end in plan.capped if end.kind is EndKind.PIN))}


def _open_up(build: Build) -> Iterator[Step]:
    for name in _opened(build.plan):
        yield Step(step_kinds()["open_up"], name)


def _prove_taps(build: Build) -> Iterator[Step]:
    seen = set()
    for join in build.plan.joins:
        for end in join.members:
            tapped = _tapped(build, end)
            if tapped is None or join.method in PLUGGED or end.node in seen or _is_ground(join, build.plan):
                continue
            seen.add(end.node)
            proof = proof_of(end, tapped, build.scenarios, build.not_fitted)
            subject = f"{end.what} {end.terminal}"
            yield Step(
                step_kinds()["prove_tap"],
                end.spot.name,
                subject,
                EndKind.PIN,
                ends=(end,),
                proof=proof,
                joins=(join,),
            )


def _tapped(build: Build, end: End) -> Tapped | None:
    """What a factory wire does; None for what is none, or does nothing that anything is fed by."""
    if end.kind is not EndKind.PIN:
        return None
    own = own_function(end.key)
    return Tapped(own) if own else build.tapped.get(end.key)


def _prove_grounds(build: Build) -> Iterator[Step]:
    kind, loss_v = step_kinds()["prove_ground"], GROUND_LOSS_V * build.scale
    studs = {end.spot.name: end for wire in build.plan.wires for end in wire.ends if end.kind is EndKind.GROUND}
    for name, end in studs.items():
        yield Step(kind, name, ends=(end,), loss_v=loss_v)
    for join in build.plan.joins:
        for end in join.members:
            is_own_pin = end.kind is EndKind.PIN and not end.is_cut and not node_of_wire(end.key)
            if is_own_pin and join.method not in PLUGGED and _is_ground(join, build.plan):
                subject = f"{end.what} {end.terminal}"
                yield Step(kind, end.spot.name, subject, EndKind.PIN, ends=(end,), loss_v=loss_v)


def _make_safe(build: Build) -> Iterator[Step]:
    yield Step(step_kinds()["make_safe"])


def _check_parts(build: Build) -> Iterator[Step]:
    for id in CHECKED:
        parts = tuple(part for part in build.plan.fitted if part.part == id)
        if parts:
            yield Step(step_kinds()["check_part"], subject=id, count=len(parts), parts=parts)


def _cut_wires(build: Build) -> Iterator[Step]:
    if build.plan.wires:
        wires = build.plan.wires
        yield Step(step_kinds()["cut_wires"], count=len(wires), wires=wires)


def _take_out(build: Build) -> Iterator[Step]:
    for unit in build.plan.units:
        if (unit.is_instead and not unit.in_socket) or unit.is_there:
            yield Step(step_kinds()["take_out"], _seat(unit, build.plan), unit.name, EndKind.UNIT, units=(unit,))


def _seat(unit: Unit, plan: BuildPlan) -> str:
    """Where a unit sits: the place of the first of its leads that is joined."""
    ends = (end for join in plan.joins for end in join.members if end.kind is EndKind.UNIT and end.what in unit.names)
    return next((end.spot.name for end in ends), unit.names[0])


def _drill(build: Build) -> Iterator[Step]:
    for unit in build.plan.units:
        if unit.is_instead or unit.in_socket or unit.is_there:
            continue
        seat = _seat(unit, build.plan)
        wires = tuple(
            wire for wire in build.plan.wires if len(wire.by) > 1 and seat in (end.spot.name for end in wire.ends)
        )
        if wires:
            across = sqrt(sum(outside_mm(wire.conductor.area_mm2) ** 2 for wire in wires))
            hole_mm = next((hole for inside, hole in GROMMETS_MM if inside >= across), GROMMETS_MM[-1][1])
            yield Step(
                step_kinds()["drill"], seat, unit.name, EndKind.UNIT, wires=wires, units=(unit,), hole_mm=hole_mm
            )


def _mount_parts(build: Build) -> Iterator[Step]:
    for name, spot in {part.spot.name: part.spot for part in build.plan.fitted}.items():
        for id in BOLTED:
            parts = tuple(part for part in build.plan.fitted if part.part == id and part.spot == spot)
            if parts:
                yield Step(step_kinds()["mount_part"], name, id, count=len(parts), parts=parts)


def _mount_lamps(build: Build) -> Iterator[Step]:
    for unit in build.plan.units:
        if lamps_of(unit) and not unit.in_socket:
            seat = _seat(unit, build.plan)
            yield Step(step_kinds()["mount_lamp"], seat, unit.name, EndKind.UNIT, unit.lamps, units=(unit,))


def _pull(build: Build) -> Iterator[Step]:
    swinging = {_seat(unit, build.plan): unit for unit in build.plan.units if unit.comes_off}
    for leg in legs_of(build.plan.wires):
        units = tuple(unit for place, unit in swinging.items() if place in (leg.first, leg.second))
        yield Step(step_kinds()["pull"], leg.first, leg.second, None, leg.length_m, wires=leg.wires, units=units)


def _ground(build: Build) -> Iterator[Step]:
    studs: dict[str, list[Wiring]] = {}
    ends: dict[str, End] = {}
    for wire in build.plan.wires:
        for end in wire.ends:
            if end.kind is EndKind.GROUND:
                studs.setdefault(end.spot.name, []).append(wire)
                ends[end.spot.name] = end
    for name, wires in studs.items():
        yield Step(step_kinds()["ground"], name, count=len(wires), wires=tuple(wires), ends=(ends[name],))


def _connect(build: Build) -> Iterator[Step]:
    for join in build.plan.joins:
        if join.method not in PLUGGED:
            end = anchor_of(join, build.plan.wires)
            subject = " ".join(filter(None, (end.what, end.terminal)))
            yield Step(step_kinds()["connect"], join.spot.name, subject, end.kind, joins=(join,))


def _plug_in(build: Build) -> Iterator[Step]:
    for unit in build.plan.units:
        if not unit.in_socket:
            continue
        joins = tuple(
            join
            for join in build.plan.joins
            if join.method == "socket" and any(end.what in unit.names for end in join.members)
        )
        place = joins[0].spot.name if joins else _seat(unit, build.plan)
        yield Step(step_kinds()["plug_in"], place, unit.name, EndKind.UNIT, joins=joins, units=(unit,))


def _terminals(build: Build) -> Iterator[Step]:
    for part in build.plan.fitted:
        wires = tuple(
            wire
            for wire in build.plan.wires
            if any(end.kind is EndKind.PART and end.what == part.label and not end.is_flying for end in wire.ends)
        )
        if wires:
            yield Step(
                step_kinds()["terminals"],
                part.spot.name,
                part.label,
                EndKind.PART,
                len(wires),
                wires=wires,
                parts=(part,),
            )


def _caps(build: Build) -> Iterator[Step]:
    for end in build.plan.capped:
        yield Step(step_kinds()["cap"], end.spot.name, f"{end.what} {end.terminal}", end.kind, ends=(end,))


def _seals(build: Build) -> Iterator[Step]:
    for end in build.plan.sealed:
        yield Step(step_kinds()["seal"], end.spot.name, f"{end.what} {end.terminal}", EndKind.PART, ends=(end,))


def _plug_halves(build: Build) -> Iterator[Step]:
    for unit in build.plan.units:
        if unit.is_removable and not unit.in_socket:
            yield Step(step_kinds()["plug_half"], _seat(unit, build.plan), unit.name, EndKind.UNIT, units=(unit,))


def _tow_plug(build: Build) -> Iterator[Step]:
    wires = between_vehicles(build.plan.wires)
    if wires:
        yield Step(step_kinds()["tow_plug"], wires[0].by[0], wires=wires)


def _fixes(build: Build) -> Iterator[Step]:
    for cure in dict.fromkeys(build.plan.cures):
        if cure in HANDWORK:
            yield Step(step_kinds()["fix"], subject=cure, cure=cure)


def _battery_post(build: Build) -> Iterator[Step]:
    wires = tuple(wire for wire in build.plan.wires if any(end.kind is EndKind.BATTERY for end in wire.ends))
    if wires:
        yield Step(step_kinds()["battery_post"], BATTERY_SPOT.name, count=len(wires), wires=wires)


def _battery_on(build: Build) -> Iterator[Step]:
    yield Step(step_kinds()["battery_on"])


def _fit_fuses(build: Build) -> Iterator[Step]:
    parts = tuple(part for part in build.plan.fitted if part.part in FUSES)
    if parts:
        yield Step(step_kinds()["fit_fuse"], count=len(parts), parts=parts)


def _test_loose(build: Build) -> Iterator[Step]:
    yield Step(step_kinds()["test_loose"])


def _secure(build: Build) -> Iterator[Step]:
    yield Step(step_kinds()["secure"])


def _close(build: Build) -> Iterator[Step]:
    for name in _opened(build.plan):
        yield Step(step_kinds()["close"], name)


def _test_again(build: Build) -> Iterator[Step]:
    yield Step(step_kinds()["test_again"])


MAKERS: Sequence[Callable[[Build], Iterator[Step]]] = (
    _open_up,
    _prove_taps,
    _prove_grounds,
    _make_safe,
    _check_parts,
    _cut_wires,
    _take_out,
    _drill,
    _mount_parts,
    _mount_lamps,
    _pull,
    _ground,
    _connect,
    _plug_in,
    _terminals,
    _caps,
    _seals,
    _tow_plug,
    _plug_halves,
    _fixes,
    _battery_post,
    _battery_on,
    _fit_fuses,
    _test_loose,
    _secure,
    _close,
    _test_again,
)
"""Who makes the steps, one function a kind; the order is the kinds'."""
