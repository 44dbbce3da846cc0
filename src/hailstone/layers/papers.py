"""What a job and its vehicle are called, and whose they are, from their rows."""

from __future__ import annotations

from electrics.document.papers import PAPERS, Papers
from hailstone.jobs.models import Job

__all__ = ["papers_of"]


def papers_of(job: Job) -> Papers:
    """What is known of `electrics.document.papers.PAPERS`."""
    rows = {"job": job, "vehicle": job.vehicle}
    found = ((part, {name: getattr(rows[part], name) for name in names}) for part, names in PAPERS.items())
    return {part: {name: value for name, value in said.items() if value not in (None, "")} for part, said in found}
