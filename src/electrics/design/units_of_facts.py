"""Units as people wrote them down, completed by what their kind and place say: `UnitFacts` to `Unit`, and back."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import replace
from functools import lru_cache
from typing import NamedTuple

from electrics.design.accessories import check_wishes, own_lead
from electrics.design.load import check_load_a
from electrics.design.units import Lead, Unit, UnitKind, unit_kinds
from electrics.document.places import PlaceFacts, Side
from electrics.document.units import COMMONS, LeadFacts, UnitFacts
from electrics.errors import FactError
from electrics.identify.kinds import FUSE_BOX, access_kinds
from electrics.reference.usual import system_scale

__all__ = ["twice_instead", "unit_facts_of", "unit_of", "units_of"]

CARRIED = ("removable", "swinging", "wet", "turned", "backfeed_v")
"""What is said of how a unit is carried, and of what was found on it: taken as it is."""


class _Lamp(NamedTuple):
    """What counts of the access point whose lamp a unit replaces."""

    side: Side
    kind: str


def units_of(said: Sequence[UnitFacts], places: Sequence[PlaceFacts], system_v: int) -> tuple[Unit, ...]:
    """Every unit of a job; FactError as for one, and for two that replace one lamp."""
    by_name = {place.point.name: place for place in places}
    units = tuple(unit_of(each, by_name, system_v) for each in said)
    twice = twice_instead(units)
    if twice:
        raise FactError("instead_of", twice[0])
    return units


def unit_of(said: UnitFacts, places: Mapping[str, PlaceFacts], system_v: int) -> Unit:
    """A unit from what was written down.

    Parameters
    ----------
    said : UnitFacts
    places : mapping of str to PlaceFacts
        The access points of the job, by name.
    system_v : int
        6, 12 or 24 [V].

    Returns
    -------
    Unit

    Raises
    ------
    FactError
        A kind, a place or a behaviour that cannot be, no ground, or more than a lamp circuit carries.
    """
    if said.instead_of and said.instead_of not in places:
        known = ", ".join(places) or "none"
        raise FactError("instead_of", f"there is no place “{said.instead_of}” here. Places: {known}.")
    point = places[said.instead_of].point if said.instead_of else None
    return _unit(said, _Lamp(point.side, point.kind) if point else None, system_v)


@lru_cache(maxsize=512)
def _unit(said: UnitFacts, lamp: _Lamp | None, system_v: int) -> Unit:
    side = said.side
    kind = _kind(said)
    if lamp is not None and lamp.side != side:
        raise FactError(
            "instead_of",
            f"a unit on the {side or 'middle'} can't replace the lamp at {said.instead_of}, which is on the "
            f"{lamp.side or 'middle'}. Give both the same side.",
        )
    if kind is not None and kind.is_sided and not side and not said.leads:
        raise FactError("side", f"a {kind.name} is on the left or on the right. Say which.")
    leads = _leads(said, kind, system_v) if said.leads else _usual_leads(kind, side, system_v)
    if not leads:
        raise FactError("leads", "has no leads. List them, or give it a kind.")
    check_wishes(leads)
    for lead in leads:
        check_load_a(said.lamps * max(lead.sockets, 1), lead.each_a)
    ids = dict(zip((each.lead for each in said.leads), said.lead_keys, strict=True))
    replaces = _replaces(kind, side, lamp)
    leads = [
        replace(
            lead,
            id=ids.get(lead.label) or f"{said.key}: {lead.label}",
            name=f"{said.name}, {lead.label}",
            unit=said.key,
            side=side,
            lamps=said.lamps * max(lead.sockets, 1),
            replaces=replaces,
            kind=kind.id if kind else "",
        )
        for lead in leads
    ]
    return Unit(
        said.key,
        said.name,
        kind,
        side,
        tuple(leads),
        said.lamps,
        said.spacing_m,
        said.place,
        said.instead_of,
        **{name: getattr(said, name) for name in CARRIED},
    )


def unit_facts_of(unit: Unit) -> UnitFacts:
    """A unit written down, with its ids: `unit_of` makes the same unit of it."""
    polarities = {lead.polarity for lead in unit.leads}
    common = next(text for text, polarity in COMMONS.items() if polarity in polarities)
    own = (
        LeadFacts(
            lead.label or lead.id,
            lead.wanted.text,
            lead.each_a,
            lead.technology,
            str(lead.polarity),
            lead.sockets,
            lead.id,
        )
        for lead in unit.leads
    )
    return UnitFacts(
        unit.name,
        unit.kind.id if unit.kind else "",
        unit.side,
        unit.place,
        unit.instead_of,
        unit.lamps,
        unit.spacing_m,
        **{name: getattr(unit, name) for name in CARRIED},
        leads=(*own, LeadFacts(common, common)),
        id=unit.id,
    )


def twice_instead(units: Sequence[Unit]) -> list[str]:
    """Lamps that two units replace, a line each."""
    by_place: dict[str, list[str]] = {}
    for unit in units:
        if unit.instead_of:
            by_place.setdefault(unit.instead_of, []).append(unit.name)
    return [
        f"units: “{'” and “'.join(names)}” both replace the lamp at {place}. One takes its place, the other is added."
        for place, names in by_place.items()
        if len(names) > 1
    ]


def _kind(said: UnitFacts) -> UnitKind | None:
    if said.kind and said.kind not in unit_kinds().rows:
        raise FactError("kind", f"there is no kind of unit “{said.kind}”. Known: {', '.join(unit_kinds().rows)}.")
    return unit_kinds()[said.kind] if said.kind else None


def _leads(said: UnitFacts, kind: UnitKind | None, system_v: int) -> list[Lead]:
    commons = said.commons
    if not commons:
        raise FactError(
            "leads",
            "none of its leads is its ground. Name it with wants “ground”, or the common plus of a lamp that is "
            "switched by ground with wants “battery”.",
        )
    common = commons[0].wants.strip()
    if len(commons) > 1:
        raise FactError(
            "leads", f"has {len(commons)} leads that want {common}. Join them, and name one: they are its common."
        )
    usual = {lead.wanted.text: lead for lead in _usual_leads(kind, said.side, system_v)}
    found = []
    for each in said.own_leads:
        known = usual.get(each.wants.strip())
        amps = known.each_a if each.amps is None and known else each.amps
        if amps is None:
            raise FactError("leads", f"{each.lead}: amps is missing. State what one lamp on it draws.")
        technology = each.technology or (known.technology if known else "led")
        lead = own_lead(each.lead, each.wants, each.polarity or str(COMMONS[common]), technology, amps)
        switches = kind is not None and kind.switches_itself
        if each.sockets and not (kind and kind.in_socket):
            raise FactError("sockets", f"{each.lead}: only a bulb has sockets. Give it a kind that is a bulb.")
        found.append(replace(lead, label=each.lead, switches_itself=switches, sockets=each.sockets))
    labels = [lead.label for lead in found]
    if len(set(labels)) < len(labels):
        raise FactError("leads", "two leads have the same name. Give each its own.")
    return found


def _usual_leads(kind: UnitKind | None, side: str, system_v: int) -> list[Lead]:
    scale = 1 / system_scale(system_v)
    found = kind.leads(side) if kind else ()
    return [replace(lead, label=lead.id, each_a=lead.each_a * scale) for lead in found]


def _replaces(kind: UnitKind | None, side: str, lamp: _Lamp | None) -> tuple[str, ...]:
    """Places of the vehicle's circuit whose lamps are taken out."""
    if lamp is None:
        return kind.replaces(side) if kind else ()
    if lamp.kind == FUSE_BOX:
        return ()
    zone = access_kinds()[lamp.kind].zone
    if zone == "rear centre":
        return ("rear",)
    return tuple(f"{zone} {each}" for each in ([side] if side else ["left", "right"]))
