"""Leads with their ways before anything is sized, and what sizing and layout make of them."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field, replace
from functools import cached_property, partial

from electrics.design.accessories import Accessory
from electrics.design.design import Design, End, EndKind
from electrics.design.groups import DASH_SPOT, FIXED_SPOTS, GroundPoint, GroupFeed, LeadLoad, WiredGroup
from electrics.design.host_circuit import CircuitPlan
from electrics.design.joints import JointPlace, ground_methods
from electrics.design.labels import LabelKey, labelled
from electrics.design.layout import lay_out
from electrics.design.roads import amp_metres
from electrics.design.routes import Spot
from electrics.design.sized import RunFacts, SizedLead, size_lead
from electrics.design.units import Lead, Unit
from electrics.document.circuits import FedBy
from electrics.document.decisions import RunDecision
from electrics.document.job import JobFacts
from electrics.errors import FactError
from electrics.identify.leads import LeadBelief
from electrics.job.cures.registry import additions, brought, inserts_at
from electrics.job.sites import Sites, group_key
from electrics.job.ways import PlaceWire, Way, shown_way
from electrics.reference.conductor import Conductor, WireStandard, conductor
from electrics.reference.parts import modules

__all__ = ["JobLayout", "LeadDraft"]

LEAST_AIM_V = 0.05
"""Wires to a lamp are never asked to lose less than this together [V] (estimate)."""
SHORTEST_RUN_M = 0.05
"""A run that is sized is never shorter [m]."""


@dataclass(frozen=True)
class LeadDraft:
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


@dataclass(frozen=True)
class JobLayout:
    """The sizes of every lead, and the design that they make; `found` are the ways by logic, by lead.

    `most_v` is what the wires to a lead may lose, where that is less than a run may: the vehicle before them loses
    the rest [V].
    """

    facts: JobFacts
    sites: Sites
    accessory: Accessory
    drafts: Sequence[LeadDraft]
    circuits: Sequence[CircuitPlan]
    found: Mapping[str, tuple[Way, ...]]
    unused: Sequence[tuple[Unit, Lead]] = ()
    most_v: Mapping[str, float] = field(default_factory=dict)

    def with_facts(self, facts: JobFacts) -> JobLayout:
        """The same ways on other lengths."""
        return replace(self, facts=facts, sites=Sites.of(facts, tuple(self.sites.wires.values()), self.sites.units))

    @cached_property
    def groups(self) -> tuple[tuple[LeadDraft, ...], ...]:
        """The leads that have a way, those of one network together."""
        found: dict[tuple[object, ...], list[LeadDraft]] = {}
        for draft in self.drafts:
            if draft.shown is not None:
                found.setdefault(group_key(draft.shown, draft.lead), []).append(draft)
        return tuple(tuple(each) for each in found.values())

    @cached_property
    def sized(self) -> dict[str, SizedLead]:
        """The sizes of each lead, by its id: what several leads share bears all of them."""
        return {draft.lead.id: self._sized(draft) for draft in self.drafts}

    @cached_property
    def design(self) -> Design | None:
        """Everything that is fitted; None while a lead has no way, or nothing bears it."""
        return self.drawn if all(self._is_drawn(draft) for draft in self.drafts) else None

    @cached_property
    def drawn(self) -> Design | None:
        """What is fitted for the leads that have a way; None where none has."""
        drawn = [each for each in self.groups if all(self._is_drawn(draft) for draft in each)]
        if not drawn:
            return None
        groups = tuple(self._group(each) for each in drawn)
        has_some = {draft.lead.unit for each in drawn for draft in each}
        grounds = {unit.id: self._ground(unit) for unit in self.accessory.units if unit.id in has_some}
        seats = {tap.spot for group in groups for tap in group.taps} | {load.spot for g in groups for load in g.loads}
        studs: dict[str, GroundPoint] = {spot.name: self.sites.stud(spot) for spot in seats}
        studs |= {name: self.sites.stud(spot) for name, spot in FIXED_SPOTS.items()}
        added = additions(self.facts.hookup.cures, self.facts.vehicle)
        design = lay_out(groups, grounds, studs, self.sites.routes, self.facts.vehicle.system_v, added)
        tapped = {tap.key for group in groups for tap in group.taps}
        units = [unit for unit in self.accessory.units if unit.id in has_some]
        capped = [end for unit in units for end in self.sites.capped(unit, tapped, units)]
        for unit, lead in self.unused:
            if unit.id in has_some:
                capped += [End(EndKind.UNIT, name, lead.label or lead.id, self._spot(unit)) for name in unit.names]
        brings = {
            **design.brings,
            **brought(self.facts.hookup.cures, [lead for unit in units for lead in unit.leads]),
        }
        emptied = tuple(each for unit in units for each in self.sites.emptied(unit, tapped))
        whole = replace(design, capped=tuple(dict.fromkeys(capped)), emptied=emptied, brings=brings)
        return labelled(whole, {LabelKey(*key): label for *key, label in self.facts.hookup.labels})

    def _is_drawn(self, draft: LeadDraft) -> bool:
        return draft.shown is not None and self.sized[draft.lead.id].option is not None

    def unit_of(self, lead: Lead) -> Unit:
        """The unit that a lead belongs to."""
        return next(unit for unit in self.accessory.units if unit.id == lead.unit)

    def _first(self, unit: Unit) -> LeadDraft:
        return next(draft for draft in self.drafts if draft.lead.unit == unit.id)

    def _spot(self, unit: Unit) -> Spot:
        return self.sites.spot_of_unit(unit, self._first(unit).run)

    def _ground(self, unit: Unit) -> GroundPoint:
        """Where a unit's ground goes: of what its leads would have, a pin before a stud, and the nearest."""
        spot, first = self._spot(unit), self._first(unit)
        ways = [draft.shown for draft in self.drafts if draft.lead.unit == unit.id and draft.shown is not None]
        points = [self.sites.ground_of(unit, spot, first.run, way) for way in (ways or (None,))]

        def merit(point: GroundPoint) -> tuple[bool, float]:
            return point.end.kind is not EndKind.PIN, self.sites.routes.between(spot, point.end.spot).m

        return min(points, key=merit)

    def _group(self, drafts: Sequence[LeadDraft]) -> WiredGroup:
        hardest = max(drafts, key=lambda draft: self._area_mm2(draft))
        way, sized, run = drafts[0].shown, self.sized[hardest.lead.id], hardest.run
        assert way is not None
        assert sized.option is not None
        loads = []
        for draft in drafts:
            unit = self.unit_of(draft.lead)
            inserts = inserts_at(draft.lead.id, self.facts.hookup.cures)
            loads.append(LeadLoad(unit, draft.lead, draft.load_a, self._spot(unit), draft.run.out_m, inserts))
        taps = tuple(self.sites.tap_of(place, self._fuse_a(place)) for place in way.wires)
        system_v = self.facts.vehicle.system_v
        needed_a = max(draft.load_a for draft in drafts)
        brings = way.candidate.form.brings
        bear = [m for m in modules() if m.part in brings and m.system_v == system_v and m.output_a >= needed_a]
        aim_v = sized.assumed.rules.aim_v
        feed = GroupFeed(
            sized.option.conductor,
            sized.fuse.rating_a if sized.fuse else None,
            sized.joint,
            sized.diode.diode.part if sized.diode else "",
            sized.relay.contact_a if sized.relay else None,
            sized.relay.coil_ohm if sized.relay else None,
            {m.part: m.output_a for m in sorted(bear, key=lambda m: -m.output_a)},  # the least that does, of each
            run.wire_standard,
            max(LEAST_AIM_V, min([aim_v, *(self.most_v.get(draft.lead.id, aim_v) for draft in drafts)])),
            any(draft.run.wire_size for draft in drafts),
        )
        return WiredGroup(way.candidate.form, taps, tuple(loads), feed)

    def _area_mm2(self, draft: LeadDraft) -> float:
        """Copper that a lead's road asks for [mm2]."""
        option = self.sized[draft.lead.id].option
        return option.conductor.area_mm2 if option is not None else 0.0

    def _fuse_a(self, place: PlaceWire) -> float | None:
        """The factory fuse of a tapped circuit: as noted, else the usual one [A]."""
        function = place.wire.function
        return self.facts.circuit(function).host_fuse_a

    def lengths_m(self, draft: LeadDraft) -> tuple[float, float]:
        """Way out and way back of a lead [m]: measured by hand, else along the usual routes."""
        unit, way = self.unit_of(draft.lead), draft.shown
        spot = self._spot(unit)
        routes = self.sites.routes
        out_m = draft.run.out_m
        if out_m is None and way is not None:
            seat = self._seat(way)
            out_m = routes.between(seat, spot).m + (unit.lamps - 1) * unit.spacing_m + self._supply_m(way, seat)
        back_m = draft.run.back_m
        if back_m is None:
            point = self._ground(unit)
            back_m = routes.between(spot, point.end.spot).m
        return max(out_m or 0.0, SHORTEST_RUN_M), back_m

    def _road_m(self, draft: LeadDraft, group: Sequence[LeadDraft], load_a: float) -> float | None:
        """How long a wire with all of a group's load would lose what this lead's road loses [m].

        None where the lead is alone, or somebody measured its run.
        """
        way = draft.shown
        if way is None or len(group) < 2 or any(each.run.out_m is not None for each in group):
            return None
        routes, seat = self.sites.routes, self._seat(way)
        loads_a: dict[Spot, float] = {}
        for each in group:
            spot = self._spot(self.unit_of(each.lead))
            loads_a[spot] = loads_a.get(spot, 0.0) + each.load_a
        spot = self._spot(self.unit_of(draft.lead))
        road = amp_metres(seat, loads_a, lambda first, second: routes.between(first, second).m)[spot]
        unit = self.unit_of(draft.lead)
        in_row = (unit.lamps - 1) * unit.spacing_m * draft.load_a
        return (road + in_row) / load_a + self._supply_m(way, seat)

    def _seat(self, way: Way) -> Spot:
        """Where a lead's feed starts from: the tapped wire, or what is switched or fused by the dash."""
        return DASH_SPOT if way.is_switched else self.sites.tap_of(way.main, None).spot

    def _supply_m(self, way: Way, seat: Spot) -> float:
        """From the battery to there, where the lamps are fed from it [m]."""
        if not (way.candidate.form.has_own_supply or way.main.is_own):
            return 0.0
        return self.sites.routes.between(self.sites.named_spot("battery"), seat).m

    def _sized(self, draft: LeadDraft) -> SizedLead:
        run, way, decided = draft.run, draft.shown, self.facts.hookup
        system_v = self.facts.vehicle.system_v
        group = next((each for each in self.groups if draft in each), (draft,))
        host = next((each for each in self.circuits if way and each.function is way.host.wire.function), None)
        notes = self.facts.circuit(way.host.wire.function if way else "")
        on_lamp_ground = ground_methods()[run.ground].by_lamp_wire
        unit = self.unit_of(draft.lead)
        place = JointPlace(
            is_exposed=run.is_exposed if unit.wet is None else unit.wet,
            is_monitored=notes.fed_by is FedBy.COMPUTER,
            comes_off=unit.comes_off,
            is_at_fuse=bool(way and way.host.is_at_fuse),
            keeps=decided.keeps,
            ground_wire=conductor(WireStandard.AWG, run.ground_wire) if on_lamp_ground else None,
        )
        sharing_a = self._sharing_a(draft)
        out_m, back_m = self.lengths_m(draft)
        if way is None:
            out_m, back_m = run.out_m or out_m, run.back_m or back_m
        overrides = run.overrides
        load_a = draft.usual_a * draft.lead.lamps
        if len(group) > 1:
            overrides = {id: value for id, value in overrides.items() if id != "load_a"}
            load_a = sum(each.load_a for each in group)
            out_m = max(self._road_m(draft, group, load_a) or out_m, SHORTEST_RUN_M)
        core = RunFacts(out_m, back_m, run.wire_standard, run.wire_size, run.joint, run.ground, overrides, sharing_a)
        host_wire: Conductor = conductor(WireStandard.AWG, notes.host_wire)
        present_a = (host.load.present_a if host and host.load else 0.0) + sharing_a if on_lamp_ground else 0.0
        size = partial(
            size_lead,
            load_a=load_a,
            system_v=system_v,
            form=way.candidate.form if way else None,
            place=place,
            host_wire=host_wire,
            ground_present_a=present_a,
            is_filament=draft.lead.technology == "filament",
            keeps_feed=unit.keeps_feed,
        )
        try:
            return size(core)
        except FactError as error:  # kept when it was possible; the load has changed since
            found = size(replace(core, overrides={}, size=""))
            return replace(found, problem=str(error), faults=(*found.faults, "part"))

    def _sharing_a(self, draft: LeadDraft) -> float:
        """What the other leads of the same unit send through its ground [A]."""
        return sum(each.load_a for each in self.drafts if each is not draft and each.lead.unit == draft.lead.unit)
