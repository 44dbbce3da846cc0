"""What a job and its vehicle are called, and whose they are: for sheets, search and job file; no plan needs it."""

from __future__ import annotations

from typing import Any

from hailstone.jobs.models import Job

__all__ = ["OF_JOB", "OF_VEHICLE", "papers_of"]

OF_JOB = ("title", "customer", "order_number")
OF_VEHICLE = ("make", "model", "year", "market", "registration", "vin", "odometer_km")


def papers_of(job: Job) -> dict[str, dict[str, Any]]:
    """What is known of them, by `job` and `vehicle`."""
    rows = (("job", job, OF_JOB), ("vehicle", job.vehicle, OF_VEHICLE))
    found = ((name, {each: getattr(row, each) for each in names}) for name, row, names in rows)
    return {name: {each: value for each, value in said.items() if value not in (None, "")} for name, said in found}
