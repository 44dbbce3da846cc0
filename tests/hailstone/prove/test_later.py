"""What is temporary and when to look again: proposed from the job, and in a calendar."""

from __future__ import annotations

from datetime import date, timedelta

import pytest
from icalendar import Calendar

from hailstone.layers.overviews import job_overview
from hailstone.prove.later import later
from measured import all_pass
from posted import send
from stepped import build_all

pytestmark = pytest.mark.django_db
TODAY = date(2026, 12, 2)


def test_taps_without_a_crimp_are_temporary_and_looked_at_after_some_weeks(page, hooked_up, choice):
    """Driven some weeks, then made for good (common practice)."""
    for_good = later(job_overview(hooked_up.id), TODAY)
    assert for_good.temporary == ""
    page.post(
        f"/jobs/{hooked_up.id}/hook-up/", {**choice, "joint": "displacement_tap", "is_exposed": "", "version": "1"}
    )
    found = later(job_overview(hooked_up.id), TODAY)
    assert "insulation-displacement taps (joint 1)" in found.temporary
    assert timedelta(days=14) <= found.look_again_on - TODAY <= timedelta(days=60)


def test_the_day_to_look_again_goes_into_a_calendar(page, hooked_up, who):
    """Read back by the calendar's own library."""
    address = f"/jobs/{hooked_up.id}/prove/look-again.ics"
    assert page.get(address).status_code == 404
    build_all(hooked_up, who)
    all_pass(hooked_up, job_overview(hooked_up.id).proof.sheet.lines, who)
    send(page, f"/jobs/{hooked_up.id}/prove/", "prove/sign/", temporary="ties", look_again_on="2027-05-31")
    (event,) = Calendar.from_ical(page.get(address).content).walk("VEVENT")
    assert (event.decoded("dtstart"), "ties" in event["description"]) == (date(2027, 5, 31), True)
    assert str(hooked_up) in event["summary"]


def test_what_is_proposed_stands_in_the_form(page, hooked_up, who):
    build_all(hooked_up, who)
    all_pass(hooked_up, job_overview(hooked_up.id).proof.sheet.lines, who)
    text = page.get(f"/jobs/{hooked_up.id}/prove/").content.decode()
    day = later(job_overview(hooked_up.id), date.today()).look_again_on
    assert f'value="{day:%Y-%m-%d}"' in text
