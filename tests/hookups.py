"""What tests of Hook up do again and again: send a choice, name a pin."""

from __future__ import annotations

HTMX = {"HX-Request": "true"}


def post(page, job, choice, **changes):
    return page.post(f"/jobs/{job.id}/hook-up/", choice | changes, headers=HTMX)


def pin(point, label):
    return point.pins.get(label=label).id
