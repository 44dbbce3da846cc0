"""The job board and the brief."""

from __future__ import annotations

import pytest
from django.db import connection
from django.test.utils import CaptureQueriesContext
from django.utils import timezone

from briefs import BRIEF
from hailstone.identify.models import Photo
from hailstone.jobs.models import Job
from hailstone.jobs.services import begin_job
from hailstone.lamp.services import lay_out
from stepped import build_all

pytestmark = pytest.mark.django_db


def form(**changes):
    sent = {name: "" if value is None else str(value) for name, value in BRIEF.items()} | {"version": "1"}
    return sent | changes


def test_an_empty_board_says_how_to_begin(page):
    assert b"Start the first job" in page.get("/").content


def test_a_new_job_goes_straight_to_its_wires(page):
    response = page.post("/jobs/new/", form(supply_v="12,4 V"), follow=True)
    assert response.redirect_chain[-1][0].endswith("/identify/new/")
    assert Job.objects.get().supply_v == 12.4


@pytest.mark.parametrize(
    ("field", "value", "complaint"),
    [
        ("supply_v", "24.9", "cannot be a 12 V battery"),
        ("supply_v", "1.26", "Expected 10.0 to 15.5 V"),
        ("supply_v", "full", "This is no number"),
        ("year", "1850", "1850 cannot be. Expected 1900 to 2100."),
        ("system_v", "42", "not one of the available choices"),
        ("added_each_a", "400", "is the point missing"),
        ("added_each_a", "0", "Expected 0.001"),
        ("added_count", "0", "0 lamps cannot be planned"),
        ("added_count", "25", "Expected 1 to 20"),
        ("make", "", "required"),
        ("addition", "fog_machine", "not one of the available choices"),
    ],
)
def test_an_impossible_vehicle_or_load_is_refused_and_what_was_typed_stays(page, field, value, complaint):
    response = page.post("/jobs/new/", form(**{field: value}))
    assert response.status_code == 422
    assert complaint in response.content.decode()
    assert 'value="Reverse lamps"' in response.content.decode()
    assert not Job.objects.exists()


def test_a_job_begins_with_what_it_is_about_and_on_what_alone(page):
    sent = {
        "about": "add",
        "things": ["high_stop", "camera_trigger"],
        "make": "Merrow",
        "model": "Skua",
        "system_v": "24",
    }
    assert page.post("/jobs/new/", sent).status_code == 302
    job = Job.objects.get()
    assert (job.addition, job.also, job.title) == ("high_stop", "camera_trigger", "Extra high stop lamp")
    assert (job.supply_v, job.added_count, job.added_each_a) == (25.2, 1, 0.15)  # the watts stay on 24 V


@pytest.mark.parametrize(
    ("sent", "complaint"),
    [
        ({}, "Pick what you&#x27;re fitting"),
        ({"about": "wrong", "things": "led_bulbs"}, "Choose what&#x27;s wrong."),
        ({"things": ["high_stop", "own"], "own_leads": "red = tail; 0.2 A"}, "Custom leads start alone"),
        ({"things": "teapot"}, "not one of the available choices"),
        ({"about": "tea", "things": "high_stop"}, ""),
        (
            {"things": ["combined_tail_lamps", "led_bulbs"]},
            "both replace the same lamps. Choose one",
        ),
    ],
)
def test_a_job_that_says_too_little_is_asked_on_and_keeps_what_was_picked(page, sent, complaint):
    response = page.post("/jobs/new/", {"make": "Merrow", "model": "Skua", "system_v": "12", **sent})
    assert (response.status_code, complaint in response.content.decode()) == (422, True)
    assert 'value="Skua"' in response.content.decode()
    for thing in (sent.get("things", ()),) if isinstance(sent.get("things"), str) else sent.get("things", ()):
        if thing != "teapot":
            assert f'value="{thing}" checked' in response.content.decode()
    assert not Job.objects.exists()


def test_a_24_volt_lorry_has_a_24_volt_battery(page):
    assert page.post("/jobs/new/", form(system_v="24", supply_v="25.1")).status_code == 302


def test_a_stale_brief_is_not_stored_and_keeps_what_was_typed(page, job):
    assert page.post(f"/jobs/{job.id}/", form(title="First")).status_code == 302
    response = page.post(f"/jobs/{job.id}/", form(title="Second"))
    assert response.status_code == 409
    text = response.content.decode()
    assert "ina changed this at" in text
    assert 'value="Second"' in text
    assert Job.objects.get().title == "First"
    again = page.post(f"/jobs/{job.id}/", form(title="Second", version="2"))
    assert again.status_code == 302
    assert Job.objects.get().title == "Second"


def test_a_job_is_removed_only_when_its_title_is_typed(page, job, settled):
    page.post(f"/jobs/{job.id}/remove/", {"title": "reverse"})
    assert Job.objects.exists()
    page.post(f"/jobs/{job.id}/remove/", {"title": "Reverse lamps"})
    assert not Job.objects.exists()


@pytest.mark.parametrize(("q", "found"), [("skua", 3), ("mirror", 1), ("merrow mirror", 1), ("lorry", 0)])
def test_the_board_is_searched_by_words(page, who, q, found):
    for title in ("Reverse lamps", "Mirror turn", "Reverse again"):
        begin_job(who, {**BRIEF, "title": title})
    text = page.get("/", {"q": q}).content.decode()
    assert text.count('class="tile"') == found
    assert found or "No job matches" in text


def test_no_page_needs_more_than_12_queries_whatever_the_number_of_jobs(page, who, hooked_up, settled):
    build_all(hooked_up, who)
    for n in range(40):
        begin_job(who, {**BRIEF, "title": f"Job {n}"})
    lay_out(hooked_up, [("white", "", ""), ("black", "", "")], who)
    Photo.objects.create(point=settled, jpeg=b"", width=4, height=3, added_by=who, added_at=timezone.now())
    paths = ["/", "/?page=2", "/?q=job"]
    paths += [
        f"/jobs/{hooked_up.id}/{layer}"
        for layer in ("", "units/", "lamp/", "hook-up/", "correct/", "build/", "prove/", "prove/sheet/")
    ]
    paths += [f"/jobs/{hooked_up.id}/identify/{settled.id}/"]
    for path in paths:
        with CaptureQueriesContext(connection) as counted:
            assert page.get(path).status_code == 200
        assert len(counted) <= 12, path


def test_the_tile_shows_what_to_do_next(page, settled):
    text = page.get("/").content.decode()
    assert "Hook up: 2 of 3" in text
    assert "Identify: 2 of 2" in text
