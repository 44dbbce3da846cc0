"""Units as they are written down thing by thing, in the job file and by the pages: `units` of docs/formats/job.md.

An entry of the pages also carries ids, for itself and for its leads, so that decisions stay when a name changes.
"""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import replace
from typing import Any

from electrics.design.accessories import check_wishes, own_lead
from electrics.design.load import check_load_a
from electrics.design.units import Lead, Unit, UnitKind, unit_kinds
from electrics.errors import FactError
from electrics.identify.kinds import FUSE_BOX, access_kinds
from electrics.job.facts import PlaceFacts
from electrics.vocabulary import Polarity

__all__ = ["CARRIED", "COMMONS", "SPACING_M", "entry_of", "instead_twice", "parted", "unit_of"]

COMMONS = {"ground": Polarity.POSITIVE, "battery": Polarity.GROUND}
"""What the common lead of a unit wants, and the polarity of its other leads."""
CARRIED = ("removable", "swinging", "wet", "turned", "backfeed_v")
"""What may be said of how a unit is carried, where it is not as its kind says, and of what was found on it."""
UNSAID = {"turned": False}
"""What means that nothing was found."""
SPACING_M = 0.3
"""From one lamp of a row to the next while nobody says [m] (estimate)."""


def unit_of(entry: Mapping[str, Any], places: Mapping[str, PlaceFacts], system_v: int) -> Unit:
    """A unit as it is written down.

    Parameters
    ----------
    entry : mapping
        Of the schema of the job file; `id` of it and of its leads where the pages wrote it.
    places : mapping of str to PlaceFacts
        The places of the job, by name.
    system_v : int
        6, 12 or 24 [V].

    Returns
    -------
    Unit

    Raises
    ------
    FactError
        A kind, a place or a wish that cannot be, no ground, or more than a lamp circuit carries.
    """
    name, side = entry["name"].strip(), entry.get("side", "")
    id = entry.get("id", name)
    kind = _kind(entry)
    lamps = entry.get("lamps", 1)
    place, instead_of = entry.get("place", "").strip(), entry.get("instead_of", "").strip()
    if instead_of and instead_of not in places:
        known = ", ".join(places) or "none"
        raise FactError("instead_of", f"there is no place “{instead_of}” here. Places: {known}.")
    if instead_of and not places[instead_of].point.side == side:
        raise FactError(
            "instead_of",
            f"a unit on the {side or 'middle'} cannot stand in for {instead_of}, which is on the "
            f"{places[instead_of].point.side or 'middle'}. Give both the same side.",
        )
    if kind is not None and kind.is_sided and not side and not entry.get("leads"):
        raise FactError("side", f"a {kind.name} is on the left or on the right. Say which.")
    leads = _leads(entry, kind, side, system_v) if entry.get("leads") else _usual_leads(kind, side, system_v)
    if not leads:
        raise FactError("leads", "has no leads. List them, or give it a kind.")
    check_wishes(leads)
    for lead in leads:
        check_load_a(lamps * max(lead.sockets, 1), lead.each_a)
    ids = {each["lead"].strip(): each.get("id", "") for each in entry.get("leads", ())}
    replaces = _replaces(kind, side, places.get(instead_of))
    leads = [
        replace(
            lead,
            id=ids.get(lead.label) or f"{id}: {lead.label}",
            name=f"{name}, {lead.label}",
            unit=id,
            side=side,
            lamps=lamps * max(lead.sockets, 1),
            replaces=replaces,
            kind=kind.id if kind else "",
        )
        for lead in leads
    ]
    carried = {name: entry[name] for name in CARRIED if entry.get(name) is not None}
    spacing_m = entry.get("spacing_m", SPACING_M)
    return Unit(id, name, kind, side, tuple(leads), lamps, spacing_m, place, instead_of, **carried)


def entry_of(unit: Unit) -> dict[str, Any]:
    """A unit written down, with its ids: `unit_of` makes the same unit of it."""
    polarities = {lead.polarity for lead in unit.leads}
    wants = next(text for text, polarity in COMMONS.items() if polarity in polarities)
    return {
        "id": unit.id,
        "name": unit.name,
        "kind": unit.kind.id if unit.kind else "",
        "side": unit.side,
        "place": unit.place,
        "instead_of": unit.instead_of,
        "lamps": unit.lamps,
        "spacing_m": unit.spacing_m,
        **{name: getattr(unit, name) for name in CARRIED if getattr(unit, name) not in (None, UNSAID.get(name))},
        "leads": [
            *(
                {
                    "id": lead.id,
                    "lead": lead.label or lead.id,
                    "wants": lead.wanted.text,
                    "amps": lead.each_a,
                    "technology": lead.technology,
                    "polarity": str(lead.polarity),
                    **({"sockets": lead.sockets} if lead.sockets else {}),
                }
                for lead in unit.leads
            ),
            {"lead": wants, "wants": wants},
        ],
    }


def parted(leads: Sequence[Mapping[str, Any]]) -> tuple[list[Mapping[str, Any]], list[Mapping[str, Any]]]:
    """The leads that want something of the vehicle, and the common ones, as they are written down.

    Common is the ground. Where there is none it is the battery plus, of a lamp that is switched by ground; beside a
    ground, a lead that wants `battery` is fed for good.
    """
    wants = {each["wants"].strip() for each in leads}
    common = next((text for text in COMMONS if text in wants), "")
    own: list[Mapping[str, Any]] = []
    commons: list[Mapping[str, Any]] = []
    for each in leads:
        (commons if each["wants"].strip() == common else own).append(each)
    return own, commons


def instead_twice(units: Sequence[Unit]) -> list[str]:
    """Lamps that two units stand in for, each said in a line."""
    by_place: dict[str, list[str]] = {}
    for unit in units:
        if unit.instead_of:
            by_place.setdefault(unit.instead_of, []).append(unit.name)
    return [
        f"units: “{'” and “'.join(names)}” both stand in for {place}. One takes its place, the other is added."
        for place, names in by_place.items()
        if len(names) > 1
    ]


def _kind(entry: Mapping[str, Any]) -> UnitKind | None:
    kind = entry.get("kind", "")
    if kind and kind not in unit_kinds().rows:
        raise FactError("kind", f"there is no kind of unit “{kind}”. Known: {', '.join(unit_kinds().rows)}.")
    return unit_kinds()[kind] if kind else None


def _leads(entry: Mapping[str, Any], kind: UnitKind | None, side: str, system_v: int) -> list[Lead]:
    own, commons = parted(entry["leads"])
    if not commons:
        raise FactError(
            "leads",
            "none of its leads is its ground. Name it with wants “ground”, or the common plus of a lamp that is "
            "switched by ground with wants “battery”.",
        )
    if len(commons) > 1:
        common = commons[0]["wants"].strip()
        raise FactError(
            "leads", f"has {len(commons)} leads that want {common}. Join them, and name one: they are its common."
        )
    polarity = COMMONS[commons[0]["wants"].strip()]
    usual = {lead.wanted.text: lead for lead in _usual_leads(kind, side, system_v)}
    found = []
    for each in own:
        known = usual.get(each["wants"].strip())
        amps = each.get("amps", known.each_a if known else None)
        if amps is None:
            raise FactError("leads", f"{each['lead']}: amps is missing. State what one lamp on it draws.")
        technology = each.get("technology", known.technology if known else "led")
        lead = own_lead(each["lead"], each["wants"], each.get("polarity", str(polarity)), technology, amps)
        switches = kind is not None and kind.switches_itself
        sockets = each.get("sockets", 0)
        if sockets and not (kind and kind.in_socket):
            raise FactError(
                "sockets", f"{each['lead']}: only what is a bulb has sockets. Give it a kind that is one."
            )
        found.append(replace(lead, label=each["lead"].strip(), switches_itself=switches, sockets=sockets))
    labels = [lead.label for lead in found]
    if len(set(labels)) < len(labels):
        raise FactError("leads", "two leads have the same name. Give each its own.")
    return found


def _usual_leads(kind: UnitKind | None, side: str, system_v: int) -> list[Lead]:
    scale = 12 / system_v
    found = kind.leads(side) if kind else ()
    return [replace(lead, label=lead.id, each_a=lead.each_a * scale) for lead in found]


def _replaces(kind: UnitKind | None, side: str, place: PlaceFacts | None) -> tuple[str, ...]:
    """Places of the vehicle's circuit whose lamps are taken out."""
    if place is not None:
        zone = access_kinds()[place.point.kind].zone
        if place.point.kind == FUSE_BOX:
            return ()
        return (
            ("rear",)
            if zone == "rear centre"
            else tuple(f"{zone} {each}" for each in ([side] if side else ["left", "right"]))
        )
    return kind.replaces(side) if kind else ()
