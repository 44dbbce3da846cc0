"""Reads jobs."""

from __future__ import annotations

from django.core.paginator import Page, Paginator
from django.db.models import Q

from hailstone.jobs.models import Job, Vehicle
from hailstone.layers.broken import Broken, try_overview
from hailstone.layers.facts import jobs_with_facts
from hailstone.layers.progress import Overview

PAGE_SIZE = 12


def board(text: str, page: int | str) -> tuple[Page[Job], list[Overview | Broken]]:
    """One page of the board, newest first, narrowed by words in title, vehicle, papers or customer."""
    jobs = jobs_with_facts()
    for word in text.split()[:8]:
        jobs = jobs.filter(
            Q(title__icontains=word)
            | Q(vehicle__make__icontains=word)
            | Q(vehicle__model__icontains=word)
            | Q(vehicle__registration__icontains=word)
            | Q(vehicle__vin__icontains=word)
            | Q(customer__icontains=word)
            | Q(order_number__icontains=word)
        )
    found = Paginator(jobs, PAGE_SIZE).get_page(page)
    return found, [try_overview(job) for job in found.object_list]


def vehicle(id: str) -> Vehicle | None:
    """A vehicle by the id in an address; None for none."""
    return Vehicle.objects.filter(pk=id).first() if id.isdecimal() and len(id) < 10 else None


def others(job: Job) -> list[Job]:
    """The other jobs on a job's vehicle, the latest first."""
    return list(Job.objects.filter(vehicle_id=job.vehicle_id).exclude(pk=job.pk)[:8])
