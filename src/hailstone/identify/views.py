"""The bench and what is done on it."""

from __future__ import annotations

from collections.abc import Callable

from django.contrib import messages
from django.core.paginator import Paginator
from django.http import Http404, HttpResponse
from django.shortcuts import redirect, render
from django.urls import reverse
from django.views.decorators.http import require_GET, require_POST

from electrics.document.way import WayKey
from electrics.errors import InputError, ReadingsFileError
from electrics.formats.colour import parse_colour
from electrics.formats.csv_rows import decode
from electrics.formats.readings_csv import read_readings, write_readings
from electrics.identify.belief import Belief
from electrics.vocabulary import Control, parse_state
from hailstone.identify import services
from hailstone.identify.bench import (
    asked_setup,
    end_sentence,
    find_pin,
    make_bench,
    make_verdicts,
    only_point,
    safe_supply,
)
from hailstone.identify.calls import make_calls
from hailstone.identify.earlier import earlier_places
from hailstone.identify.forms import PointForm
from hailstone.identify.history import changes_at, show_change
from hailstone.identify.models import AccessPoint, Photo
from hailstone.identify.news import news_for, told
from hailstone.identify.photo import keep_photo, remove_photo
from hailstone.identify.places import other_side, second_plug
from hailstone.layers.beliefs import beliefs, controls_needed
from hailstone.layers.decisions import decisions_of
from hailstone.layers.facts import jobs_with_readings
from hailstone.layers.lacks import NOT_FITTED, note_not_fitted
from hailstone.layers.overviews import find_point, job_overview
from hailstone.layers.places import SaidPlace
from hailstone.layers.progress import Overview
from hailstone.layers.versions import StaleError
from hailstone.layers.wirebook import known_places
from hailstone.shop.fields import at_version
from hailstone.shop.request import Request
from hailstone.wording.words import listed, state_name

MOST_CSV_BYTES = 1_000_000
CHANGES_A_PAGE = 50


@require_GET
def entry(request: Request, job_id: int) -> HttpResponse:
    """To the first access point, or to laying one out."""
    view = job_overview(job_id)
    point = view.job.points.first()
    if point is None:
        return redirect("new_point", job_id=job_id)
    return redirect("bench", job_id=job_id, point_id=point.id)


@require_GET
def bench(request: Request, job_id: int, point_id: int) -> HttpResponse:
    """The bench, its open column named by the address."""
    view, point = find_point(job_id, point_id)
    return _bench(request, view, point)


@require_POST
def save_reading(request: Request, job_id: int, point_id: int) -> HttpResponse:
    """Keep one reading and answer with every verdict."""
    pin = find_pin(job_id, point_id, request.POST.get("pin", ""))
    setup = asked_setup(request.POST, pin.point)
    try:
        supply_v = safe_supply(request.POST.get("supply", ""), pin.point.job.supply_v)
        conflict = services.save_reading(
            pin,
            setup,
            request.POST.get("text", ""),
            supply_v,
            request.user,
            seen=request.POST.get("seen"),
            again="again" in request.POST,
            repeated="repeated" in request.POST,
        )
    except InputError as error:
        context = {"pin": pin, "why": str(error)}
        return render(request, "identify/_refused.html", context, status=422)
    context = {"bench": make_verdicts(job_id, point_id, setup), "saved": pin.id, "conflict": conflict}
    return render(request, "identify/_answer.html", context)


@require_GET
def follows(request: Request, job_id: int, point_id: int) -> HttpResponse:
    """What follows a reading by its own request: what to do next, the reasons, and how far the job is."""
    view, point = find_point(job_id, point_id)
    made = make_bench(view, point, asked_setup(request.GET, point), request.user)
    return render(request, "identify/_follows.html", {"bench": made, "view": view, "layer": "identify", "oob": True})


@require_POST
def not_fitted(request: Request, job_id: int, point_id: int) -> HttpResponse:
    """Note that the vehicle has no such control: it is not asked for any more."""
    view, _ = find_point(job_id, point_id)
    asked = set(request.POST.get("controls", "").split(","))
    controls = {control for group, _ in NOT_FITTED for control in group.split(",")} & asked
    if not controls:
        raise Http404("no such control")
    needed_for = sorted(controls & set(map(str, controls_needed(view.job))))
    if needed_for:
        names = listed(state_name(parse_state(each)).lower() for each in needed_for)
        messages.error(request, f"This job needs {names}. Change what is added in the brief first.")
        return redirect("bench", job_id=job_id, point_id=point_id)
    note_not_fitted(view.job, map(Control, controls), request.user)
    messages.success(request, "Noted: this vehicle has none. The brief takes it back.")
    return redirect("bench", job_id=job_id, point_id=point_id)


@require_POST
def chart(request: Request, job_id: int, point_id: int) -> HttpResponse:
    """Ask for readings of every wire, or again only of those that the job taps."""
    view, _ = find_point(job_id, point_id)
    services.set_chart(view.job, every_wire=request.POST.get("wires") == "every")
    return redirect("bench", job_id=job_id, point_id=point_id)


@require_POST
def undo(request: Request, job_id: int, point_id: int) -> HttpResponse:
    """Take back this person's last reading and show where it was."""
    point = only_point(job_id, point_id)
    change = services.undo_last(point, request.user)
    if change is None:
        messages.info(request, "Nothing of yours is left to undo here.")
    else:
        now = f"back to “{change.before}”" if change.before else "taken away again"
        messages.success(request, f"Pin {change.pin.label}, {change.state}: {now}.")
    setup = asked_setup(request.POST, point)
    query = f"?state={str(setup.state).replace('+', '%2B')}&instrument={setup.instrument}&load={setup.load}"
    return redirect(reverse("bench", args=[job_id, point_id]) + query)


@require_GET
def history(request: Request, job_id: int, point_id: int) -> HttpResponse:
    """Every change of every reading at one access point, the latest first."""
    view, point = find_point(job_id, point_id)
    page = Paginator(changes_at(point), CHANGES_A_PAGE).get_page(request.GET.get("page", "1"))
    context = {"view": view, "point": point, "layer": "identify", "page": page}
    return render(request, "identify/history.html", context | {"changes": [show_change(c) for c in page]})


@require_POST
def import_csv(request: Request, job_id: int, point_id: int) -> HttpResponse:
    """Take in a readings file whole, or list every bad row and store nothing."""
    view, point = find_point(job_id, point_id)
    upload = request.FILES.get("file")
    try:
        if upload is None:
            raise InputError("No file was chosen. Choose a CSV file of readings first.")
        if (upload.size or 0) > MOST_CSV_BYTES:
            raise InputError("This file is larger than 1 MB. A readings file has a line a reading: is it this one?")
        rows = read_readings(decode(upload.read()))
    except ReadingsFileError as error:
        return _bench(request, view, point, problems=[str(problem) for problem in error.problems])
    except InputError as error:
        return _bench(request, view, point, problems=[str(error)])
    count = services.import_rows(view.job, point, rows, request.user)
    messages.success(request, f"{count} readings taken in from {upload.name}.")
    return redirect("bench", job_id=job_id, point_id=point_id)


@require_GET
def export_csv(request: Request, job_id: int, point_id: int) -> HttpResponse:
    """The readings of one access point as a readings file; what cannot be read is left out."""
    point = only_point(job_id, point_id)
    rows = [
        {
            "access_point": point.name,
            "pin": pin.label,
            "colour": parse_colour(pin.colour).text,
            "state": reading.state,
            "instrument": reading.instrument,
            "reading": reading.text,
            "load": reading.load,
            "supply": f"{reading.supply_v:g}",
            "against": reading.against_label,
            "note": reading.note,
            "claim": pin.claim,
            "claim_from": pin.claim_from or (point.claims_from if pin.claim else ""),
        }
        for pin in point.pins.all()
        for reading in pin.readings.all()
        if services.is_readable(reading)
    ]
    response = HttpResponse(write_readings(rows), content_type="text/csv; charset=utf-8")
    response["Content-Disposition"] = f'attachment; filename="readings-{job_id}-{point_id}.csv"'
    return response


def new_point(request: Request, job_id: int) -> HttpResponse:
    """Lay out an access point of this job."""
    view = job_overview(job_id)
    places = view.job.points.all()
    others, sides = {point.name for point in places}, {point.side for point in places}
    known = [place for place in known_places(view.job.vehicle) if place.name not in others]
    initial = {
        "name": "",
        "kind": "rear_lamp",
        "side": "right" if "left" in sides and "right" not in sides else "left",
    }
    for place in known:
        if place.key == request.GET.get("book"):
            initial = PointForm.facts_of_place(place.as_place())
    form = PointForm(request.POST or None, initial=initial, others=others, body=view.job.vehicle.said.body)
    if request.method == "POST" and form.is_valid():
        point = services.add_point(view.job, form.place(), request.user)
        form.state_length(view.job, request.user)
        return redirect("bench", job_id=job_id, point_id=point.id)
    context = {"view": view, "form": form, "layer": "identify", "point": None, "known": known}
    return render(request, "identify/point.html", context, status=422 if form.is_bound else 200)


def earlier(request: Request, job_id: int) -> HttpResponse:
    """The places that earlier jobs on this vehicle measured; a posted one is laid out, its verdicts as claims."""
    job = jobs_with_readings().filter(pk=job_id).first()
    if job is None:
        raise Http404("no such job")
    places = earlier_places(job)
    if request.method == "POST":
        place = next((each for each in places if str(each.key) == request.POST.get("place")), None)
        if place is None:
            messages.error(request, "Not added: that location is here already, or its earlier job is gone.")
            return redirect("new_point", job_id=job_id)
        point = services.add_point(job, place.as_place(), request.user)
        return redirect("bench", job_id=job_id, point_id=point.id)
    return render(request, "identify/_earlier.html", {"places": places, "job_id": job_id})


def edit_point(request: Request, job_id: int, point_id: int) -> HttpResponse:
    """Change an access point's name, kind, side and wires."""
    view, point = find_point(job_id, point_id)
    others = {other.name for other in view.job.points.all() if other.id != point.id}
    chosen = {source for way in decisions_of(view.job).ways.values() for source in WayKey.read(way).sources}
    readings = [reading for pin in point.pins.all() for reading in pin.readings.all()]
    measured = {id for reading in readings for id in (reading.pin_id, reading.against_id)}
    pins = {pin.label: pin.id in measured or str(pin.id) in chosen for pin in point.pins.all()}
    form = PointForm(
        request.POST or None,
        initial=PointForm.facts_of(point) | PointForm.length_of(view.job, point, others),
        others=others,
        pins=list(pins),
        used={label for label, is_used in pins.items() if is_used},
        body=view.job.vehicle.said.body,
    )
    status, stale = 200, ""
    if request.method == "POST":
        status = 422
        if form.is_valid():
            try:
                version = form.cleaned_data["version"]
                services.change_point(point, form.place(), request.user, version=version)
                form.state_length(view.job, request.user)
                return redirect("bench", job_id=job_id, point_id=point_id)
            except StaleError as error:
                status, stale = 409, str(error)
                at_version(form, error.version)
    context = {"view": view, "form": form, "layer": "identify", "point": point, "stale": stale}
    return render(request, "identify/point.html", context, status=status)


@require_POST
def repeat_point(request: Request, job_id: int, point_id: int) -> HttpResponse:
    """Start the same lamp on the other side: its functions expected, its colours unknown."""
    return _start_beside(
        request,
        *find_point(job_id, point_id),
        other_side,
        " as a weak expectation. Colours differ from side to side: note them, and measure.",
        "The other side is there already, or this place has no side.",
    )


@require_POST
def add_second_plug(request: Request, job_id: int, point_id: int) -> HttpResponse:
    """Start the other plug of a splitter: the same pins, their functions expected."""
    return _start_beside(
        request,
        *find_point(job_id, point_id),
        second_plug,
        ", expected on the same pins. Check them.",
        "The second plug is there already, or no splitter fits this place.",
    )


def _start_beside(
    request: Request,
    view: Overview,
    point: AccessPoint,
    start: Callable[[AccessPoint, Belief, set[str]], SaidPlace | None],
    expected: str,
    refused: str,
) -> HttpResponse:
    """Lay out a place that starts from another; `expected` is how its functions count."""
    place = start(point, beliefs(view.job)[point.id], {other.name for other in view.job.points.all()})
    if place is None:
        messages.error(request, refused)
        return redirect("bench", job_id=view.job.id, point_id=point.id)
    made = services.add_point(view.job, place, request.user)
    messages.success(request, f"“{made.name}” starts with the functions of “{point.name}”{expected}")
    return redirect("bench", job_id=view.job.id, point_id=made.id)


@require_GET
def call_sheet(request: Request, job_id: int, point_id: int) -> HttpResponse:
    """The next three states at once, to print or to call out."""
    view, point = find_point(job_id, point_id)
    end = end_sentence(view.job, point.id)
    context = {"view": view, "point": point, "end": end, "calls": make_calls(view.job, point)}
    return render(request, "identify/call_sheet.html", context)


def photo(request: Request, job_id: int, point_id: int) -> HttpResponse:
    """The photo of the connector; a new one by form."""
    point = only_point(job_id, point_id)
    if request.method != "POST":
        picture = Photo.objects.filter(point=point).first()
        if picture is None:
            raise Http404("no photo")
        response = HttpResponse(bytes(picture.jpeg), content_type="image/jpeg")
        response["Cache-Control"] = "private, no-cache"
        return response
    try:
        if "remove" in request.POST:
            remove_photo(point, request.user)
        else:
            photo = request.FILES.get("photo")
            if photo is None:
                raise InputError("No photo was chosen. Choose a picture first.")
            keep_photo(point, photo, request.user)
    except InputError as error:
        messages.error(request, str(error))
    return redirect("bench", job_id=job_id, point_id=point_id)


def news(request: Request, job_id: int, point_id: int) -> HttpResponse:
    """What others did here meanwhile; posted when it has been read."""
    point = only_point(job_id, point_id)
    if request.method == "POST":
        told(point, request.user)
    since = request.GET.get("since", "")
    found = news_for(point, request.user, int(since) if since.isdecimal() else None)
    return render(request, "identify/_news.html", {"news": found, "job_id": job_id, "point_id": point_id})


@require_POST
def remove_point(request: Request, job_id: int, point_id: int) -> HttpResponse:
    """Delete an access point after the person typed its name."""
    point = only_point(job_id, point_id)
    if request.POST.get("name", "").strip() != point.name:
        messages.error(request, "Not deleted: that isn't this location's name.")
        return redirect("edit_point", job_id=job_id, point_id=point_id)
    services.remove_point(point, request.user)
    messages.success(request, f"“{point.name}” and its readings are removed.")
    return redirect("identify", job_id=job_id)


def _bench(request: Request, view: Overview, point: AccessPoint, problems: list[str] | None = None) -> HttpResponse:
    setup = asked_setup(request.GET, point)
    made = make_bench(view, point, setup, request.user)
    context = {"bench": made, "view": view, "layer": "identify", "problems": problems or []}
    return render(request, "identify/bench.html", context, status=422 if problems else 200)
