"""From chosen ways to the design: where things are, and which leads one network feeds."""

from __future__ import annotations

from collections.abc import Callable, Collection, Mapping, Sequence
from dataclasses import dataclass, replace
from functools import cached_property
from typing import Any

from electrics.design.design import End, EndKind
from electrics.design.groups import BATTERY_SPOT, FIXED_SPOTS, GroundPoint, GroupTap
from electrics.design.joints import ground_methods
from electrics.design.routes import Routes, Spot
from electrics.design.units import Lead, Unit
from electrics.document.decisions import RunDecision
from electrics.document.job import JobFacts
from electrics.document.places import PlaceFacts, Side
from electrics.identify.kinds import access_kinds, side_named
from electrics.job.ways import PlaceWire, Way
from electrics.reference.functions import kind_of
from electrics.reference.zones import zone_of, zones
from electrics.signals import DARK, Scenario
from electrics.vocabulary import Arrangement, Function, parse_state

__all__ = ["Sites", "group_key", "share_keys"]


def share_keys(way: Way, lead: Lead) -> frozenset[tuple[object, ...]]:
    """What a way may share with another lead's: the whole network, or one half of a module on the same input."""
    sources, brings = way.candidate.sources, way.candidate.form.brings
    found: set[tuple[object, ...]] = {group_key(way, lead)}
    if "converter" in brings:
        found.add(("converter", sources[0].key))
    if "separator" in brings:
        found |= {("separator", source.key) for source in sources}
    return frozenset(found)


def group_key(way: Way, lead: Lead) -> tuple[object, ...]:
    """Leads with the same key are fed by one and the same network."""
    keys = [source.key for source in way.candidate.sources]
    form = way.candidate.form
    return form.id, tuple(sorted(keys) if form.is_symmetric else keys), lead.polarity


@dataclass(frozen=True)
class Sites:
    """Where everything of a job is.

    Attributes
    ----------
    wires : mapping of str to PlaceWire
        The identified wires, by key.
    units : tuple of Unit
        What is fitted: a wire ends where its lamp is taken out.
    """

    facts: JobFacts
    routes: Routes
    wires: Mapping[str, PlaceWire]
    units: tuple[Unit, ...] = ()

    @classmethod
    def of(cls, facts: JobFacts, wires: Sequence[PlaceWire], units: Sequence[Unit] = ()) -> Sites:
        routes = Routes(facts.distances, facts.vehicle.body)
        return cls(facts, routes, {wire.key: wire for wire in wires}, tuple(units))

    def spot_of_place(self, place: PlaceFacts) -> Spot:
        """Where an access point is."""
        usual = access_kinds()[place.point.kind].zone
        return Spot(place.point.name, place.point.zone or zone_of(usual, place.point.side))

    def lamp_place(self, unit: Unit) -> PlaceFacts | None:
        """The opened lamp that a unit stands in place of, with its own pigtail; None where it was not opened."""
        if unit.instead_of:
            return next((place for place in self.facts.places if place.point.name == unit.instead_of), None)
        if unit.kind is None or not unit.kind.is_instead:
            return None
        zone, wanted = unit.kind.zone(unit.side), {f for lead in unit.leads for f in lead.wanted.functions}

        def fit(place: PlaceFacts) -> tuple[int, str]:
            """What it has of what the lamp shows, most first; of equal ones the lamp on the left is named first."""
            has = {self.wires[key].wire.function for key in place.wire_keys if key in self.wires}
            return -len(has & wanted), place.point.name

        found = [
            place
            for place in self.facts.places
            if access_kinds()[place.point.kind].has_lamp
            and self.spot_of_place(place).zone == zone
            and _side_of(place) in ("", unit.side)  # the other one's lamp is opened: this one's is not
        ]
        own = sorted([each for each in found if _side_of(each) == unit.side] or found, key=fit)
        alike = [each for each in own if fit(each)[0] == fit(own[0])[0]]
        return alike[-1 if unit.side == Side.RIGHT else 0] if alike else None

    def spot_of_unit(self, unit: Unit, run: RunDecision) -> Spot:
        """Where a unit is: at the lamp it replaces, else at its own seat; a row keeps its spacing."""
        place = self.lamp_place(unit)
        if place is not None and (run.out_m is None or unit.in_socket):
            return replace(self.spot_of_place(place), spacing_m=unit.spacing_m)
        if unit.place:
            return replace(self.named_spot(unit.place), spacing_m=unit.spacing_m)
        zone = unit.kind.zone(unit.side) if unit.kind else zone_of("rear", unit.side)
        is_taken = any(each.point.name == unit.name for each in self.facts.places)
        return Spot(f"{unit.name} (new)" if is_taken else unit.name, zone, spacing_m=unit.spacing_m)

    def named_spot(self, name: str) -> Spot:
        """A place by its name: an access point, or somewhere that only has a name."""
        place = next((place for place in self.facts.places if place.point.name == name), None)
        if place is not None:
            return self.spot_of_place(place)
        return FIXED_SPOTS.get(name) or Spot(name, self.facts.zones.get(name) or self._zone_near(name))

    def _zone_near(self, name: str) -> str:
        """The zone of the nearest place that has one, by stated distances; the rear where none leads there."""
        known = {place.point.name: self.spot_of_place(place).zone for place in self.facts.places}
        known |= {spot.name: spot.zone for spot in FIXED_SPOTS.values()} | dict(self.facts.zones)
        found = [
            (m, known[other])
            for pair, m in self.facts.distances.items()
            if name in pair
            for other in pair - {name}
            if other in known
        ]
        return min(found, default=(0.0, "rear centre"))[1]

    def reach_of(self, unit: Unit, run: RunDecision) -> Callable[[Way], float]:
        """How far a way's wires are from a unit, all together [m]."""
        spot, known = self.spot_of_unit(unit, run), dict[str, float]()

        def reach(way: Way) -> float:
            for place in way.tapped:
                if place.place not in known:
                    known[place.place] = self.routes.between(self.named_spot(place.place), spot).m
            return sum(known[place.place] for place in way.tapped)

        return reach

    def tap_of(self, place: PlaceWire, fuse_a: float | None) -> GroupTap:
        """A source of a way as it is laid out."""
        function = place.wire.function
        if place.is_own:
            return GroupTap(place.key, "", "", BATTERY_SPOT, function, is_own=True)
        spot = self.named_spot(place.place)
        return GroupTap(
            place.key,
            place.place,
            place.wire.pin,
            spot,
            function,
            is_at_fuse=place.is_at_fuse,
            fuse_a=fuse_a,
            colour=place.wire.colour,
            goes_on=self._goes_on(place),
        )

    def ground_of(self, unit: Unit, spot: Spot, run: RunDecision, first: Way | None) -> GroundPoint:
        """Where a unit's ground goes, by its pigtail or the school of the shop; one that it has already stays."""
        method = ground_methods()[run.ground]
        has_already = "ground of the socket" if unit.in_socket else "its own ground" if unit.keeps_ground else ""
        places = [place for place in (self.lamp_place(unit),) if place is not None and run.back_m is None]
        if method.by_lamp_wire and first is not None and not has_already:
            places += [place for place in self.facts.places if place.key == first.host.place_key]
        for place in places:
            pin = self._ground_pin(place)
            if pin is not None:
                return GroundPoint(pin, run.back_m)
            if has_already:
                at = self.spot_of_place(place)
                return GroundPoint(End(EndKind.PIN, place.point.name, has_already, at))
        if has_already:
            return GroundPoint(End(EndKind.PIN, unit.name, has_already, spot))
        point = self.stud(spot, run.back_m)
        if method.on_body:
            body = End(EndKind.GROUND, f"body beside {spot.name}", "", spot, is_flying=False)
            point = GroundPoint(body, run.back_m)
        if spot.zone.startswith("towed") and first is not None:
            return replace(point, bond=self._towing_ground(first))
        return point

    def _towing_ground(self, way: Way) -> End:
        """The ground of the vehicle that feeds: the pin of the tow socket that is tapped, else a stud near the tap.

        A lamp's ground wire is not made for what a whole second set of lamps returns.
        """
        place = next(place for place in self.facts.places if place.key == way.host.place_key)
        pin = self._ground_pin(place) if way.host.is_tow else None
        return pin or self.stud(self.spot_of_place(place)).end

    def capped(self, unit: Unit, tapped: Collection[str], units: Sequence[Unit]) -> tuple[End, ...]:
        """The wires of the old lamp that nothing is joined to any more; `units` are all that are fitted."""
        if self.lamp_place(unit) is None and unit.kind is not None and unit.kind.is_instead and not unit.in_socket:
            spot = self.spot_of_unit(unit, RunDecision())
            name = unit.name if unit.is_there else f"old lamp in the place of {unit.name}"
            return (End(EndKind.PIN, name, "its factory feeds", spot),)
        found = []
        for there, wire in self._left_over(unit, tapped):
            lost = None if self._is_shown(wire.wire.function, unit, units) else wire.wire.function
            found.append(replace(self._pin(there, wire), lost=lost))
        return tuple(found)

    def emptied(self, unit: Unit, tapped: Collection[str]) -> tuple[tuple[Function, tuple[str, ...], int], ...]:
        """The circuits whose lamps go with the old lamp though nothing takes their place, and where they were."""
        places = next((lead.replaces for lead in unit.leads), ())
        return tuple((wire.wire.function, places, 0) for _, wire in self._left_over(unit, tapped))

    def _left_over(self, unit: Unit, tapped: Collection[str]) -> list[tuple[PlaceFacts, PlaceWire]]:
        """The lamp wires of the old lamp that nothing is joined to, each with its place."""
        place = self.lamp_place(unit)
        if place is None or unit.in_socket:
            return []
        wires = [self.wires[key] for key in place.wire_keys if key in self.wires and key not in tapped]
        return [(place, wire) for wire in wires if kind_of(wire.wire.function).has_lamp]

    def _is_shown(self, function: Function, unit: Unit, units: Sequence[Unit]) -> bool:
        """Whether whatever switches a factory lamp lights something on the unit's side, or in the middle."""
        kind, scenario = kind_of(function), Scenario(self.facts.vehicle.arrangement or Arrangement.SEPARATE)
        switches = [*kind.full_with, *kind.dims_with, *kind.flashes_with] or [str(kind.shown_with)]
        states = [parse_state(switch) for switch in switches]
        leads = [lead for each in units if each.side in ("", unit.side) for lead in each.leads]
        return all(any(lead.wanted.signal(state, scenario) != DARK for lead in leads) for state in states)

    def _pin(self, place: PlaceFacts, wire: PlaceWire) -> End:
        spot = self.spot_of_place(place)
        said: dict[str, Any] = {"key": wire.key, "colour": wire.wire.colour, "is_at_fuse": wire.is_at_fuse}
        said["goes_on"] = self._goes_on(wire)
        return End(EndKind.PIN, place.point.name, wire.wire.pin, spot, **said)

    def _goes_on(self, wire: PlaceWire) -> bool:
        """Whether a factory wire feeds something beyond where it is reached: no fuse slot, no lamp that is gone."""
        return not wire.is_at_fuse and wire.key not in self._ending

    @cached_property
    def _ending(self) -> frozenset[str]:
        """The wires that end where they are reached: all at a lamp that is replaced; of one that is rewired, or gets
        another bulb, those that feed it, because their other half is its lead."""
        found = set[str]()
        for unit in self.units:
            place, is_kept = self.lamp_place(unit), unit.in_socket or unit.is_there
            if place is None or not (unit.is_instead or is_kept):
                continue
            own = {function for lead in unit.leads for function in lead.wanted.functions}
            known = (self.wires[key] for key in place.wire_keys if key in self.wires)
            found |= {wire.key for wire in known if not is_kept or wire.wire.function in own}
        return frozenset(found)

    def stud(self, spot: Spot, back_m: float | None = None) -> GroundPoint:
        """The ground stud near a place."""
        name = f"ground stud, {zones()[spot.zone].name}"
        return GroundPoint(
            End(EndKind.GROUND, name, "", Spot(name, spot.zone, near=spot.name), is_flying=False), back_m
        )

    def _ground_pin(self, place: PlaceFacts) -> End | None:
        for key in place.wire_keys:
            wire = self.wires.get(key)
            if wire is not None and wire.wire.function is Function.GROUND and wire.wire.is_settled:
                return self._pin(place, wire)
        return None


def _side_of(place: PlaceFacts) -> str:
    """The side that a place is on, as was said, else as its name speaks of it."""
    return str(place.point.side or side_named(place.point.name))
