"""Readings between two pins refer to both; before, they knew the second by its label."""

from __future__ import annotations

from django.utils import timezone

from hailstone.identify.models import Reading, ReadingChange
from migrating import begun_job, latest, migrated


def test_what_was_read_against_a_pin_refers_to_it_and_against_one_that_is_gone_goes(transactional_db):
    end, old = latest(), migrated([("identify", "0005_all_wires"), ("jobs", "0009_tools")])
    job, who = begun_job(old)
    points = [
        old.get_model("identify", "AccessPoint").objects.create(job=job, name=f"{side} lamp")
        for side in ("left", "right")
    ]
    pins = [
        old.get_model("identify", "Pin").objects.create(point=point, label=label, position=n)
        for point in points
        for n, label in enumerate(("1", "2"))
    ]
    when = timezone.now()
    for n, against in enumerate(("", "2", "7")):
        cell = {"pin": pins[2], "state": ("rest", "park", "brake")[n], "against": against}
        old.get_model("identify", "Reading").objects.create(
            **cell, text="12", supply_v=12.6, taken_by=who, taken_at=when
        )
        old.get_model("identify", "ReadingChange").objects.create(**cell, after="12", changed_by=who, changed_at=when)
    migrated(end)
    for cells in (Reading, ReadingChange):
        assert list(cells.objects.order_by("id").values_list("state", "against")) == [
            ("rest", None),
            ("park", pins[3].id),
        ]
