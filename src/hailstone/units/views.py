"""Lamps and parts: side, place, leads with their ground; places without wires; undo."""

from __future__ import annotations

from collections.abc import Callable
from typing import Any

from django.contrib import messages
from django.http import HttpResponse, HttpResponseRedirect
from django.shortcuts import redirect, render
from django.urls import reverse
from django.views.decorators.http import require_GET, require_POST

from electrics.design.units import unit_kinds
from electrics.design.units_of_facts import unit_facts_of
from electrics.design.wanted import parse_wanted
from electrics.document.units import UnitFacts
from electrics.document.written import written
from electrics.errors import InputError
from electrics.job.added import accessory_of
from electrics.reference.zones import zones
from hailstone.jobs.models import Job
from hailstone.layers import undo
from hailstone.layers.decisions import Decisions, decisions_of
from hailstone.layers.job_facts import job_facts
from hailstone.layers.overviews import job_as_it_is
from hailstone.layers.versions import StaleError
from hailstone.shop.request import Request
from hailstone.shop.views import safe_path
from hailstone.units import services
from hailstone.units.forms import LEAD_FIELDS, carried_of, lead_rows, unit_from
from hailstone.wording.hookup import wish_text
from hailstone.wording.kinds import kind_title
from hailstone.wording.words import capital, listed

CARRIED_BY = [
    ("", "usual"),
    ("fixed", "fixed on the body"),
    ("removable", "a part that comes off (plug)"),
    ("swinging", "a part that swings or moves"),
]
WATER = [("", "usual"), ("wet", "in spray"), ("dry", "stays dry")]
ROUND = [("", "right way"), ("turned", "backward (dark)")]
SIDES = [("", "neither side"), ("left", "left"), ("right", "right")]


@require_GET
def units(request: Request, job_id: int) -> HttpResponse:
    """Everything that is fitted on a job."""
    return _page(request, job_id)


@require_POST
def begin(request: Request, job_id: int) -> HttpResponse:
    """From what the brief says by one name to its units one by one."""
    return _change(request, job_id, lambda job: services.begin_units(job, request.user))


@require_POST
def add(request: Request, job_id: int) -> HttpResponse:
    """Add a lamp or part."""

    def add_it(job: Job) -> str:
        services.begin_units(job, request.user)
        job = Job.objects.select_related("vehicle").get(pk=job.pk)
        kind, side = request.POST.get("kind", ""), request.POST.get("side", "")
        return f"Added: {services.add_unit(job, request.user, kind, side, version=job.version)}."

    return _change(request, job_id, add_it)


@require_POST
def save(request: Request, job_id: int) -> HttpResponse:
    """One unit changed."""

    def save_it(job: Job) -> str:
        unit = unit_from(request.POST, services.unit_with(job, request.POST.get("unit", "")))
        services.save_unit(job, request.user, unit, version=_version(request))
        return f"Saved: {unit.name}."

    return _change(request, job_id, save_it)


@require_POST
def remove(request: Request, job_id: int) -> HttpResponse:
    """One unit taken out, with what was decided for it."""

    def remove_it(job: Job) -> str:
        unit = services.unit_with(job, request.POST.get("unit", ""))
        went = services.goes_with(decisions_of(job), unit.lead_keys)
        name = services.remove_unit(job, request.user, unit.id, version=_version(request))
        return f"Removed: {name}." + (f" With it went {listed(went)}. Undo brings it back." if went else "")

    return _change(request, job_id, remove_it)


@require_POST
def place(request: Request, job_id: int) -> HttpResponse:
    """One place more that has no wires."""
    name, zone, version = request.POST.get("name", ""), request.POST.get("zone", ""), _version(request)
    return _change(request, job_id, lambda job: services.add_place(job, request.user, name, zone, version=version))


@require_POST
def remove_place(request: Request, job_id: int) -> HttpResponse:
    """One such place less."""
    name, version = request.POST.get("name", ""), _version(request)
    return _change(request, job_id, lambda job: services.remove_place(job, request.user, name, version=version))


@require_POST
def take_back(request: Request, job_id: int) -> HttpResponse:
    """Undo the last change of units, ways, runs, circuits or ticks, whoever made it."""
    try:
        last = undo.take_back(job_as_it_is(job_id).job, request.user, request.POST.get("change", ""))
    except undo.UndoneError:
        messages.info(request, "Nothing undone: the job was changed meanwhile. Look again, then undo.")
    else:
        said = f"Undone: {last.what}." if last else "Nothing is left to undo on this job."
        messages.success(request, said)
    return HttpResponseRedirect(safe_path(request, request.POST.get("next", ""), reverse("hookup", args=[job_id])))


def _change(request: Request, job_id: int, change: Callable[[Job], str | None]) -> HttpResponse:
    job = job_as_it_is(job_id).job
    try:
        said = change(job)
    except StaleError as error:
        return _page(request, job_id, problem=str(error), status=409)
    except InputError as error:
        return _page(request, job_id, problem=str(error), status=422)
    if said:
        messages.success(request, said)
    return redirect("units", job_id=job_id)


def _version(request: Request) -> int | None:
    text = request.POST.get("version", "")
    return int(text) if text.isdecimal() and len(text) < 9 else None


def _page(request: Request, job_id: int, *, problem: str = "", status: int = 200) -> HttpResponse:
    view = job_as_it_is(job_id)
    job, decided = view.job, decisions_of(view.job)
    fitted = decided.units or [unit_facts_of(unit).with_plain_commons for unit in accessory_of(job_facts(job)).units]
    points = [(f"#{point.id}", point.name) for point in job.points.all()]
    refused = request.POST.get("unit") if problem else None
    may = {
        "is_begun": bool(decided.units),
        "places": points + [(name, name) for name in decided.spots],
        "lamps": points,
        "spots": [(name, zones()[zone].name) for name, zone in decided.spots.items()],
        "kinds": [(kind.id, kind_title(kind)) for kind in unit_kinds()],
        "zones": [(zone.id, zone.name) for zone in zones()],
        "sides": SIDES,
        "carriers": CARRIED_BY,
        "rounds": ROUND,
        "waters": WATER,
    }
    context = {
        "view": view,
        "layer": "brief",
        "problem": capital(problem),
        "is_begun": bool(decided.units),
        "may": may,
        "units": [_typed(request, _shown(each, decided), is_typed=each.id == refused) for each in fitted],
        "last": undo.last_change(job),
    }
    return render(request, "units/units.html", context, status=status)


def _shown(unit: UnitFacts, decided: Decisions) -> dict[str, Any]:
    """One unit as its card shows it."""
    common, *_ = unit.commons
    rows = [
        {
            **written(each),
            "id": key,
            "wants": each.wants.replace("_", " "),
            "amps": f"{each.amps:g}",
            "wish": wish_text(parse_wanted(each.wants)),
        }
        for key, each in zip(unit.lead_keys, unit.leads, strict=True)
        if each is not common
    ]
    return {
        **written(unit),
        **carried_of(unit),
        "id": unit.key,
        "leads": rows,
        "common": common.wants,
        "spacing": f"{unit.spacing_m:g}",
        "backfeed": "" if unit.backfeed_v is None else f"{unit.backfeed_v:g}",
        "in_socket": bool(unit.kind) and unit_kinds()[unit.kind].in_socket,
        "kind_name": unit_kinds()[unit.kind].name if unit.kind else "custom",
        "goes": services.goes_with(decided, unit.lead_keys),
        "is_open": False,
    }


def _typed(request: Request, shown: dict[str, Any], *, is_typed: bool) -> dict[str, Any]:
    """What was typed and refused stays in its card."""
    if not is_typed or "name" not in request.POST:
        return shown
    sent = request.POST
    leads = [dict(zip(LEAD_FIELDS, row, strict=True)) for row in lead_rows(sent) if any(row[1:4])]
    names = (
        "name",
        "side",
        "place",
        "instead_of",
        "lamps",
        "spacing",
        "common",
        "carried",
        "water",
        "turned",
        "backfeed",
    )
    return shown | {name: sent.get(name, "") for name in names} | {"leads": leads, "is_open": True}
