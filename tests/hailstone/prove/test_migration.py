"""Signatures of an earlier version are carried over from their stored results alone."""

from __future__ import annotations

import datetime as dt

import pytest
from django.utils import timezone

from hailstone.layers.overviews import job_overview
from migrating import latest, migrated

BEFORE = [("prove", "0001_initial"), ("jobs", "0003_also"), ("identify", "0003_faces_photos_conflicts")]


@pytest.fixture
def earlier(transactional_db):
    """The database as an earlier version left it."""
    end = latest()
    yield migrated(BEFORE)
    migrated(end)


def test_old_signatures_keep_what_was_seen_and_never_stand_again_by_an_upgrade(earlier):
    who = earlier.get_model("auth", "User").objects.create(username="ina")
    vehicle = earlier.get_model("jobs", "Vehicle").objects.create(make="Merrow", model="Skua", year=2014)
    job = earlier.get_model("jobs", "Job").objects.create(
        vehicle=vehicle, title="Reverse lamps", addition="reverse_lamps", added_count=2, added_each_a=1.2,
        supply_v=12.6, created_by=who, changed_by=who,
    )  # fmt: skip
    at = timezone.now() - dt.timedelta(days=9)
    results = earlier.get_model("prove", "Result").objects
    for line, expected in (
        ("rest|added", "must_not:off"),
        ("reverse|added", "must:on"),
        ("measure|feed_drop", "x:0:1"),
    ):
        results.create(job=job, line=line, expected=expected, outcome="pass", reading="0.31", who=who, at=at)
    earlier.get_model("prove", "Signature").objects.create(
        job=job, fingerprint="f" * 64, verdict="passed", who=who, at=at + dt.timedelta(hours=1)
    )
    migrated(latest())
    found = job_overview(job.pk).signed
    assert not found.stands, "whether it stood then cannot be known"
    assert (found.last.number, found.last.sheet["carried_over"]) == (1, True)
    assert found.last.sheet["lamps"] == ["Added"]
    assert [state["name"] for state in found.last.sheet["states"]] == ["Rest", "Reverse"]
    assert found.last.sheet["measured"][0]["reading"] == "0.31"
    assert [change.key for change in found.changes] == ["fallen"]
