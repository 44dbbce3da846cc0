"""A job out of the database as its file, and a file in as a new job: nothing that is here is overwritten."""

from __future__ import annotations

import json

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

__all__ = ["file_of", "take_in"]

NO_TITLE = "Job from a file"


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
