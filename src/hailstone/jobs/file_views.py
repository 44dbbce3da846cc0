"""A job as its file: out of the shop, and in as a new job after a look at what that would do."""

from __future__ import annotations

from typing import Any

from django.contrib import messages
from django.http import HttpResponse
from django.shortcuts import redirect, render
from django.views.decorators.http import require_GET

from electrics.errors import InputError
from electrics.formats.csv_rows import decode
from electrics.formats.json_file import FileError
from electrics.job.file.reading import read_whole
from hailstone.layers.job_import import file_of, preview, take_in
from hailstone.shop.request import Request

MOST_FILE_BYTES = 2_000_000
MOST_FAULTS = 20
"""Faults of a file that a page lists; one more is rarely read."""


@require_GET
def job_file(request: Request, job_id: int) -> HttpResponse:
    """Facts and decisions of a job as a file that the command line and another workshop read."""
    headers = {"Content-Disposition": f'attachment; filename="job-{job_id}.json"'}
    return HttpResponse(file_of(job_id), content_type="application/json", headers=headers)


def job_in(request: Request) -> HttpResponse:
    """Choose a job file, see what it would bring, and take it in; nothing is stored before that."""
    context: dict[str, Any] = {}
    if request.method != "POST":
        return render(request, "jobs/job_in.html", context)
    try:
        text = request.POST.get("text") or _uploaded(request)
        file = read_whole(text)
        if "take" in request.POST:
            job, left_out = take_in(file, request.user)
            messages.success(request, f"“{job.title}” is a job here now.")
            for line in left_out:
                messages.info(request, line)
            return redirect("brief", job_id=job.pk)
        context = {"preview": preview(file, request.user), "text": text}
    except FileError as error:
        faults = list(error.faults)
        context = {"faults": faults[:MOST_FAULTS], "rest": len(faults) - MOST_FAULTS}
    except InputError as error:
        context = {"faults": [str(error)]}
    return render(request, "jobs/job_in.html", context, status=422 if "faults" in context else 200)


def _uploaded(request: Request) -> str:
    upload = request.FILES.get("file")
    if upload is None:
        raise InputError("No file was chosen. Choose a job file first: its name ends in .json.")
    if (upload.size or 0) > MOST_FILE_BYTES:
        raise InputError("This file is larger than 2 MB. No job is: is it this one?")
    return decode(upload.read(), "a job file, JSON")
