"""What is fitted, thing by thing: side, place, leads with their ground; places that have no wires; taking back."""

from __future__ import annotations

from collections.abc import Callable
from typing import Any

from django.contrib import messages
from django.http import HttpResponse, HttpResponseRedirect
from django.shortcuts import redirect, render
from django.urls import reverse
from django.views.decorators.http import require_GET, require_POST

from electrics.design.units import unit_kinds
from electrics.design.wanted import parse_wanted
from electrics.errors import InputError
from electrics.job.plan import accessory_of
from electrics.job.unit_entries import entry_of, parted
from electrics.reference.zones import zones
from hailstone.jobs.models import Job
from hailstone.layers import undo
from hailstone.layers.decision_rows import lead_ids
from hailstone.layers.decisions import Decisions, decisions_of
from hailstone.layers.job_facts import job_facts
from hailstone.layers.overviews import job_as_it_is
from hailstone.layers.versions import StaleError
from hailstone.shop.request import Request
from hailstone.shop.views import safe_path
from hailstone.units import services
from hailstone.units.forms import LEAD_FIELDS, carried_of, entry_from, lead_rows
from hailstone.wording.hookup import wish_text
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
    """From what the brief says by one name to its things one by one."""
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
    """One thing changed."""

    def save_it(job: Job) -> str:
        stored = services.entry_with(job, request.POST.get("unit", ""))
        entry = entry_from(request.POST, stored, lead_ids(stored))
        services.save_unit(job, request.user, entry, version=_version(request))
        return f"Saved: {entry['name']}."

    return _change(request, job_id, save_it)


@require_POST
def remove(request: Request, job_id: int) -> HttpResponse:
    """One thing taken out, with what was decided for it."""

    def remove_it(job: Job) -> str:
        entry = services.entry_with(job, request.POST.get("unit", ""))
        went = services.goes_with(decisions_of(job), lead_ids(entry))
        name = services.remove_unit(job, request.user, entry["id"], version=_version(request))
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
    entries = decided.units or [entry_of(unit) for unit in accessory_of(job_facts(job)).units]
    points = [(f"#{point.id}", point.name) for point in job.points.all()]
    refused = request.POST.get("unit") if problem else None
    context = {
        "view": view,
        "layer": "brief",
        "problem": capital(problem),
        "is_begun": bool(decided.units),
        "units": [_typed(request, _shown(each, decided), is_typed=each["id"] == refused) for each in entries],
        "places": points + [(spot["name"], spot["name"]) for spot in decided.spots],
        "lamps": points,
        "spots": [(spot["name"], zones()[spot["zone"]].name) for spot in decided.spots],
        "kinds": [(kind.id, kind.name) for kind in unit_kinds()],
        "zones": [(zone.id, zone.name) for zone in zones()],
        "sides": SIDES,
        "carriers": CARRIED_BY,
        "rounds": ROUND,
        "waters": WATER,
        "last": undo.last_change(job),
    }
    return render(request, "units/units.html", context, status=status)


def _shown(entry: dict[str, Any], decided: Decisions) -> dict[str, Any]:
    """One thing as its card shows it."""
    ids = lead_ids(entry)
    _, (common, *_) = parted(entry["leads"])
    rows = [
        {**each, "id": id, "wants": each["wants"].replace("_", " "), "amps": f"{each['amps']:g}"}
        | {"wish": wish_text(parse_wanted(each["wants"]))}
        for id, each in zip(ids, entry["leads"], strict=True)
        if each is not common
    ]
    return {
        **entry,
        **carried_of(entry),
        "leads": rows,
        "common": common["wants"],
        "spacing": f"{entry['spacing_m']:g}",
        "backfeed": f"{entry['backfeed_v']:g}" if entry.get("backfeed_v") is not None else "",
        "in_socket": bool(entry["kind"]) and unit_kinds()[entry["kind"]].in_socket,
        "kind_name": unit_kinds()[entry["kind"]].name if entry["kind"] else "own kind",
        "goes": services.goes_with(decided, ids),
        "is_open": False,
    }


def _typed(request: Request, shown: dict[str, Any], *, is_typed: bool) -> dict[str, Any]:
    """What was typed and refused stands in its card still."""
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
