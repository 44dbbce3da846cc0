"""The wire book: search, keep, take out, and as a file."""

from __future__ import annotations

from django.contrib import messages
from django.core.paginator import Paginator
from django.http import HttpResponse
from django.shortcuts import get_object_or_404, redirect, render
from django.views.decorators.http import require_GET, require_POST

from electrics.errors import InputError, ReadingsFileError
from electrics.formats.csv_rows import decode
from electrics.formats.wire_book_csv import read_wire_book, write_wire_book
from electrics.identify.kinds import access_kinds
from electrics.vocabulary import Function, Polarity
from hailstone.layers.beliefs import beliefs
from hailstone.layers.overviews import find_point
from hailstone.layers.wirebook import keep_point
from hailstone.shop.request import Request
from hailstone.wirebook import services
from hailstone.wirebook.models import Finding
from hailstone.wirebook.queries import search
from hailstone.wording.words import function_name

PAGE_SIZE = 40
MOST_CSV_BYTES = 2_000_000


@require_GET
def book(request: Request) -> HttpResponse:
    """The book, narrowed by words."""
    return _book(request)


@require_GET
def export_book(request: Request) -> HttpResponse:
    """What the search finds, as a file."""
    rows = (
        {
            "make": finding.make,
            "model": finding.model,
            "year_from": str(finding.year_from or ""),
            "year_to": str(finding.year_to or ""),
            "market": finding.market,
            "access_point": finding.place,
            "kind": finding.kind,
            "side": finding.side,
            "pin": finding.pin,
            "colour": finding.colour,
            "function": finding.function,
            "polarity": finding.polarity,
            "how": finding.how,
            "measured_on": finding.measured_on.isoformat() if finding.measured_on else "",
        }
        for finding in search(request.GET.get("q", ""))
    )
    response = HttpResponse(write_wire_book(rows), content_type="text/csv; charset=utf-8")
    response["Content-Disposition"] = 'attachment; filename="wire-book.csv"'
    return response


@require_POST
def import_book(request: Request) -> HttpResponse:
    """Take in a file of findings whole, or list every bad row and store nothing."""
    upload = request.FILES.get("file")
    try:
        if upload is None:
            raise InputError("No file was chosen. Choose a wire-book CSV first.")
        if (upload.size or 0) > MOST_CSV_BYTES:
            raise InputError("This file is larger than 2 MB. A wire book has a line a wire: is it this one?")
        rows = read_wire_book(decode(upload.read()), (kind.id for kind in access_kinds()))
    except ReadingsFileError as error:
        return _book(request, problems=[str(problem) for problem in error.problems])
    except InputError as error:
        return _book(request, problems=[str(error)])
    new = services.take_in(rows, request.user)
    messages.success(request, f"{new} of {len(rows)} findings were new and are in the book now.")
    return redirect("wire_book")


@require_POST
def keep(request: Request, job_id: int, point_id: int) -> HttpResponse:
    """Keep what is settled at one access point."""
    view, point = find_point(job_id, point_id)
    count = keep_point(view.job, point, beliefs(view.job)[point.id], request.user)
    if count:
        messages.success(request, f"{count} wires of {point.name} are in the wire book now.")
    else:
        messages.info(request, "Nothing is settled by measurement here yet, so nothing was kept.")
    return redirect("bench", job_id=job_id, point_id=point_id)


@require_POST
def take_out(request: Request, finding_id: int) -> HttpResponse:
    """Take one finding out of the book."""
    finding = get_object_or_404(Finding, pk=finding_id)
    messages.success(request, f"Taken out: {finding.place}, pin {finding.pin}.")
    finding.delete()
    return redirect("wire_book")


def _book(request: Request, problems: list[str] | None = None) -> HttpResponse:
    text = request.GET.get("q", "")
    page = Paginator(search(text).select_related("who"), PAGE_SIZE).get_page(request.GET.get("page", "1"))
    context = {
        "q": text,
        "page": page,
        "rows": [(finding, _does(finding)) for finding in page],
        "problems": problems or [],
    }
    template = "wirebook/_findings.html" if request.htmx else "wirebook/book.html"
    return render(request, template, context, status=422 if problems else 200)


def _does(finding: Finding) -> str:
    name = function_name(Function(finding.function))
    return f"{name}, ground-switched" if finding.polarity == Polarity.GROUND else name
