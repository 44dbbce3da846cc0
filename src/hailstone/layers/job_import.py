"""A job out of the database as its file, and a file in as a new job: nothing that is here is overwritten."""

from __future__ import annotations

import json
from dataclasses import dataclass

from django.contrib.auth.models import User
from django.db import transaction

from electrics.job.file.reading import JobFile
from electrics.job.file.writing import job_document
from hailstone.jobs.models import Job
from hailstone.layers.decision_rows import free
from hailstone.layers.job_facts import job_facts
from hailstone.layers.job_rows import write_job
from hailstone.layers.overviews import job_overview
from hailstone.layers.papers import papers_of
from hailstone.layers.record_rows import write_records
from hailstone.layers.records import job_records

__all__ = ["Preview", "file_of", "preview", "take_in"]

NO_TITLE = "Job from a file"


@dataclass(frozen=True)
class Preview:
    """What taking in a job file would do.

    Attributes
    ----------
    title, vehicle : str
        Of the new job.
    asked_title : str
        The title in the file, where a job of that title is here already; else empty.
    brings : tuple of (str, int)
        What it brings, and how much of it.
    left_out : tuple of str
        What stays behind, in sentences.
    """

    title: str
    asked_title: str
    vehicle: str
    brings: tuple[tuple[str, int], ...]
    left_out: tuple[str, ...]


def file_of(job_id: int) -> str:
    """A job as its file, with what was done on it."""
    view = job_overview(job_id)
    document = job_document(job_facts(view.job), papers_of(view.job), job_records(view))
    return json.dumps(document, indent=1, ensure_ascii=False) + "\n"


@transaction.atomic
def take_in(file: JobFile, who: User) -> tuple[Job, list[str]]:
    """Store a job file as a new job, and say what of it was left out.

    Raises
    ------
    FileError
        A text that is too long for its field; nothing is stored then.
    """
    own = file.papers.get("job", {})
    title = free(own.get("title") or NO_TITLE, Job.objects.values_list("title", flat=True))
    job = write_job(file.facts, {**file.papers, "job": {**own, "title": title}}, who)
    records = file.records
    done = len(records.ticks) + len(records.results)
    left = done - write_records(job, records)
    said = sum(len(place.said) for place in file.facts.places)
    told = (
        (said, "Wires whose function is only said count as claims here: measure them."),
        (left, f"{left} of {done} steps and results are left out: by people without a login here, or asked anew."),
        (len(records.signatures), "Signatures stay with the file. Check the job and sign here."),
    )
    return job, [line for count, line in told if count]


def preview(file: JobFile, who: User) -> Preview:
    """What `take_in` would do with a file: it is done and taken back. FileError as there."""
    with transaction.atomic():
        job, left_out = take_in(file, who)
        title, vehicle = job.title, str(job.vehicle)
        transaction.set_rollback(True)
    asked, facts = file.papers.get("job", {}).get("title") or NO_TITLE, file.facts
    brings = (
        ("locations", len(facts.places)),
        ("readings", sum(len(place.point.evidence) for place in facts.places)),
        ("lamps and parts", len(facts.units)),
        ("hook-ups chosen", len(facts.hookup.ways)),
        ("fixes used", len(facts.hookup.cures)),
        ("build steps checked off", len(file.records.ticks)),
        ("test results", len(file.records.results)),
    )
    return Preview(
        title, "" if title == asked else asked, vehicle, tuple(each for each in brings if each[1]), tuple(left_out)
    )
