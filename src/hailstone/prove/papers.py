"""Build, loom, labels and test sheet for paper: pages to print, PDF, SVG and CSV."""

from __future__ import annotations

import csv
from collections.abc import Mapping, Sequence
from io import StringIO
from typing import Any

from django.http import Http404, HttpResponse
from django.shortcuts import render
from django.template.loader import render_to_string
from django.views.decorators.http import require_GET
from icalendar import Calendar, Event

from hailstone.layers.overviews import job_overview
from hailstone.layers.progress import Overview
from hailstone.prove import shown
from hailstone.prove.build_content import build_context, loom_of_job
from hailstone.prove.content import sheet_content
from hailstone.prove.models import Signature
from hailstone.prove.pdf import NoPdfError, pdf_of
from hailstone.shop.request import Request
from hailstone.wording.build import part_row, wire_row

LABELS_A_ROW = 8


@require_GET
def build_paper(request: Request, job_id: int) -> HttpResponse:
    """The build sheet for paper: every step in full."""
    view = job_overview(job_id)
    return render(request, "prove/build_paper.html", {"view": view, "page": build_context(view)})


@require_GET
def loom(request: Request, job_id: int) -> HttpResponse:
    """The loom alone, as a drawing."""
    view = job_overview(job_id)
    picture = loom_of_job(view)
    if picture is None:
        raise Http404("no loom yet")
    text = render_to_string("prove/_loom.svg", {"loom": picture, "alone": True})
    headers = {"Content-Disposition": f'inline; filename="loom-{job_id}.svg"'}
    return HttpResponse(text, content_type="image/svg+xml", headers=headers)


@require_GET
def build_pdf(request: Request, job_id: int) -> HttpResponse:
    """The build sheet as PDF."""
    view = job_overview(job_id)
    return _pdf(view, "build-sheet", "prove/_paper_steps.html", {"view": view, "page": build_context(view)})


@require_GET
def labels(request: Request, job_id: int) -> HttpResponse:
    """Numbers for both ends of every wire, to cut out, as PDF."""
    view = job_overview(job_id)
    wires = [wire_row(wire, view.build.joins) for wire in view.build.wires for _ in range(2)] if view.build else []
    rows = [wires[n : n + LABELS_A_ROW] for n in range(0, len(wires), LABELS_A_ROW)]
    return _pdf(view, "labels", "prove/_labels.html", {"view": view, "rows": rows})


@require_GET
def cuts_csv(request: Request, job_id: int) -> HttpResponse:
    """The cut list as CSV."""
    view = job_overview(job_id)
    head = ("wire", "from", "to", "for", "size", "run_m", "cut_m", "assumed")
    rows = []
    for wire in view.build.wires if view.build else ():
        said = wire_row(wire, view.build.joins) if view.build else {}
        ends = (said["label"], said["from"], said["to"], said["role"], said["wire"])
        rows.append((*ends, f"{wire.routed_m:g}", f"{wire.cut_m:g}", "yes" if wire.is_assumed else "no"))
    return _csv(view, "cut-list", head, rows)


@require_GET
def parts_csv(request: Request, job_id: int) -> HttpResponse:
    """The parts list as CSV."""
    view = job_overview(job_id)
    rows = [part_row(part) for part in view.build.parts] if view.build else []
    return _csv(view, "parts", ("count", "part", "which"), rows)


@require_GET
def look_again(request: Request, job_id: int) -> HttpResponse:
    """The day to look again, of the last signature, as a calendar file."""
    view = job_overview(job_id)
    signature = view.signed.last if view.signed else None
    if signature is None or signature.look_again_on is None:
        raise Http404("no day to look again")
    calendar, event = Calendar(), Event()
    calendar.add("prodid", "-//Hailstone//look again//EN")
    calendar.add("version", "2.0")
    event.add("uid", f"look-again-{job_id}-{signature.number}@hailstone")
    event.add("dtstamp", signature.at)
    event.add("dtstart", signature.look_again_on)
    event.add("summary", f"Look again: {view.job.vehicle}, {view.job.title}")
    if signature.temporary:
        event.add("description", f"Still temporary: {signature.temporary}")
    calendar.add_component(event)
    return _file(calendar.to_ical(), "text/calendar; charset=utf-8", f"look-again-{job_id}.ics")


def _csv(view: Overview, name: str, head: Sequence[str], rows: Sequence[Sequence[object]]) -> HttpResponse:
    text = StringIO()
    writer = csv.writer(text)
    writer.writerow(head)
    writer.writerows([[_harmless(cell) for cell in row] for row in rows])
    return _file(text.getvalue(), "text/csv; charset=utf-8", f"{name}-{view.job.pk}.csv")


def _harmless(cell: object) -> object:
    """What a spreadsheet would take for a formula is text."""
    return f"'{cell}" if isinstance(cell, str) and cell[:1] in ("=", "+", "-", "@") else cell


def _pdf(view: Overview, name: str, template: str, context: Mapping[str, Any]) -> HttpResponse:
    try:
        found = pdf_of(template, {"title": f"{view.job.title}: {name.replace('-', ' ')}", **context})
    except NoPdfError as error:
        return HttpResponse(str(error), status=503, content_type="text/plain; charset=utf-8")
    return _file(found, "application/pdf", f"{name}-{view.job.pk}.pdf", shows=True)


def _file(content: str | bytes, kind: str, name: str, *, shows: bool = False) -> HttpResponse:
    headers = {"Content-Disposition": f'{"inline" if shows else "attachment"}; filename="{name}"'}
    return HttpResponse(content, content_type=kind, headers=headers)


@require_GET
def sheet(request: Request, job_id: int) -> HttpResponse:
    """The sheet for paper: what was signed, as it was signed, or how it stands now."""
    return render(request, "prove/sheet.html", _sheet_context(job_overview(job_id), request.GET.get("revision", "")))


@require_GET
def sheet_pdf(request: Request, job_id: int) -> HttpResponse:
    """The same as PDF."""
    view = job_overview(job_id)
    context = _sheet_context(view, request.GET.get("revision", ""))
    if "sheet" not in context:
        raise Http404("no sheet yet")
    return _pdf(view, "test-sheet", "prove/_paper_sheet.html", context)


def _sheet_context(view: Overview, asked: str) -> dict[str, Any]:
    revision = _revision(view, asked)
    if asked and revision is None:
        raise Http404("no such revision")
    if revision is None and view.is_signed and view.signed:
        revision = view.signed.last
    context: dict[str, Any] = {
        "view": view,
        "layer": "prove",
        "revision": revision,
        "revisions": shown.revisions(view),
    }
    if revision is not None:
        context["sheet"] = revision.sheet
    elif view.proof is not None:
        context |= {"sheet": sheet_content(view, view.proof), "changes": shown.changes(view)}
    return context


def _revision(view: Overview, asked: str) -> Signature | None:
    revisions = view.signed.revisions if view.signed else ()
    return next((each for each in revisions if str(each.number) == asked), None)
