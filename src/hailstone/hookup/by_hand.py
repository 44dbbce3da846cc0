"""Connecting by hand: wires picked one after the other, then the lead they are to feed."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from itertools import zip_longest

from electrics.design.sources import own_for
from electrics.design.units import Lead
from electrics.identify.kinds import FUSE_BOX
from electrics.job.hookup_plan import HookUpPlan
from electrics.job.ways import Way
from hailstone.hookup.services import WAY
from hailstone.layers.beliefs import beliefs
from hailstone.layers.progress import Overview
from hailstone.shop.request import Request
from hailstone.wording import hookup as wording

SOURCE_KEYS = "qsxcyzijmn"
"""Keys that pick the first ten sources; those of the switch strip stay free."""
LEAD_KEYS = ",.-;'/=\\"

REFUSED = (
    "Can't connect these. Don't use a data line, spare or ground. Two wires must differ, and both "
    "must be settled. Use a second wire only where one isn't enough. See the closest hook-ups above."
)


@dataclass(frozen=True)
class HandSource:
    """A source that can be picked."""

    id: str
    name: str
    colour: str
    key: str


def hand_sources(view: Overview) -> list[HandSource]:
    """Every wire of the job, and what is one's own."""
    believed = beliefs(view.job)
    several = len(view.job.points.all()) > 1
    found = [
        (
            str(pin.id),
            wording.source_name(believed[point.id].wire(pin.label), is_at_fuse=point.kind == FUSE_BOX)
            + (f", {point.name}" if several else ""),
            pin.colour,
        )
        for point in view.job.points.all()
        for pin in point.pins.all()
    ]
    own = own_for(lead.lead.wanted for lead in view.plan.leads)
    found += [(each.key, wording.OWN_SOURCES[each.key], "") for each in own]
    keys = [*SOURCE_KEYS, *("" for _ in found)]
    return [HandSource(*each, key) for each, key in zip(found, keys, strict=False)]


def hand_leads(plan: HookUpPlan) -> list[tuple[str, str, str]]:
    """Leads, by id and title, with the keys that connect to them."""
    leads = [each.lead for each in plan.leads]
    keys = zip_longest(leads, LEAD_KEYS[: len(leads)], fillvalue="")
    return [(lead.id, lead.title, key) for lead, key in keys if isinstance(lead, Lead)]


def connected(view: Overview, request: Request) -> tuple[dict[str, str], str]:
    """The way that was connected by hand, as a decision, or why it is none."""
    lead_id = request.POST.get("hand", "")
    lead = next((lead for lead in view.plan.leads if lead.lead.id == lead_id), None)
    if lead is None:
        return {}, ""
    ticked = request.POST.getlist("hand_source")
    order = [id for id in request.POST.get("hand_order", "").split(",") if id in ticked]
    picked = order + [id for id in ticked if id not in order]
    if not picked:
        return {}, "Pick one wire or two first, then the lead they feed."
    form = request.POST.get("hand_form", "")
    found = _fitting(lead.ways, picked, form)
    return ({WAY + lead_id: found.key}, "") if found else ({}, REFUSED)


def _fitting(ways: Sequence[Way], picked: Sequence[str], form_id: str) -> Way | None:
    """The best way on just these sources; a form that was asked for takes them in the order they were picked."""
    found = []
    for way in ways:
        keys, form = [source.key for source in way.candidate.sources], way.candidate.form
        is_asked = not form_id or (form.id == form_id and (form.is_symmetric or keys == list(picked)))
        if sorted(keys) == sorted(picked) and is_asked:
            found.append(way)
    return min(found, key=lambda way: way.candidate.cost, default=None)
