"""The job board and the brief."""

from __future__ import annotations

from django.contrib import messages
from django.http import HttpResponse
from django.shortcuts import redirect, render
from django.views.decorators.http import require_POST

from electrics.errors import FactError
from electrics.identify.tools import EVERY_TOOL
from hailstone.jobs import queries, services
from hailstone.jobs.forms import BeforeForm, BriefForm, NewJobForm
from hailstone.jobs.things import ABOUT, things
from hailstone.layers.decisions import decisions_of
from hailstone.layers.overviews import job_as_it_is
from hailstone.layers.versions import StaleError
from hailstone.shop.fields import at_version
from hailstone.shop.request import Request


def board(request: Request) -> HttpResponse:
    """Every job with its rings, the one last worked on first."""
    text = request.GET.get("q", "")
    page, jobs = queries.board(text, request.GET.get("page", "1"))
    template = "jobs/_board.html" if request.htmx and not request.htmx.boosted else "jobs/board.html"
    return render(request, template, {"page": page, "jobs": jobs, "q": text})


def new(request: Request) -> HttpResponse:
    """A new job: the brief, empty, or with the vehicle of an earlier job."""
    vehicle = queries.vehicle(request.POST.get("vehicle") or request.GET.get("vehicle", ""))
    initial = {"tools": sorted(EVERY_TOOL)} | (BriefForm.vehicle_facts(vehicle) if vehicle is not None else {})
    form = NewJobForm(request.POST or None, initial=initial)
    if request.method == "POST" and form.is_valid():
        job = services.begin_job(request.user, form.cleaned_data, vehicle=vehicle)
        return redirect("identify", job_id=job.id)
    status = 422 if form.is_bound else 200
    context = {"form": form, "vehicle": vehicle, "things": things(form.picked()), "abouts": ABOUT}
    return render(request, "jobs/new.html", context, status=status)


def brief(request: Request, job_id: int) -> HttpResponse:
    """The brief of a job."""
    view = job_as_it_is(job_id)
    form = BriefForm(request.POST or None, initial=BriefForm.facts_of(view.job))
    status = 200
    stale = ""
    if request.method == "POST":
        status = 422
        if form.is_valid():
            try:
                services.change_brief(view.job, request.user, form.cleaned_data)
            except StaleError as error:
                status, stale = 409, str(error)
                at_version(form, error.version)
            except FactError as error:
                form.add_error("added_count" if error.field == "count" else "added_each_a", str(error))
            else:
                messages.success(request, "Brief saved.")
                return redirect("brief", job_id=job_id)
    context = {
        "view": view,
        "form": form,
        "stale": stale,
        "layer": "brief",
        "others": queries.others(view.job),
        "units": decisions_of(view.job).units,
    }
    return render(request, "jobs/brief.html", context, status=status)


def before(request: Request, job_id: int) -> HttpResponse:
    """What is noted before the work: rates, warnings, what fails already."""
    view = job_as_it_is(job_id)
    form = BeforeForm(request.POST or None, initial=view.job.as_found)
    if request.method == "POST" and form.is_valid():
        services.note_before(view.job, request.user, form.cleaned_data)
        messages.success(request, "Noted. The test sheet compares with it.")
        return redirect("before", job_id=job_id)
    context = {"view": view, "form": form, "layer": "brief"}
    return render(request, "jobs/before.html", context, status=422 if form.is_bound else 200)


@require_POST
def remove(request: Request, job_id: int) -> HttpResponse:
    """Delete a job after the person typed its title."""
    view = job_as_it_is(job_id)
    if request.POST.get("title", "").strip() != view.job.title:
        messages.error(request, "Not removed: the title typed is not this job's.")
        return redirect("brief", job_id=job_id)
    services.remove_job(view.job)
    messages.success(request, f"“{view.job.title}” is removed.")
    return redirect("board")
