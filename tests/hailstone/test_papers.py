"""Vehicle record, customer, distances: on sheets and in the search, many jobs on one vehicle."""

from __future__ import annotations

import pytest

from briefs import BRIEF
from decisions import decided
from hailstone.hookup.models import HookUp
from hailstone.jobs.models import Job, Vehicle
from hailstone.layers.overviews import job_overview
from signing import facts_now

pytestmark = pytest.mark.django_db
PAPERS = {"registration": "SM 123", "vin": "", "odometer_km": "84000", "customer": "A. Tern", "order_number": "17/4"}


def test_papers_are_on_the_sheets_and_in_the_search_and_nowhere_else(page, hooked_up):
    assert page.post(f"/jobs/{hooked_up.id}/", {**BRIEF, **PAPERS, "version": "1"}).status_code == 302
    for path in ("build/", "prove/sheet/"):
        text = page.get(f"/jobs/{hooked_up.id}/{path}").content.decode()
        assert "Registration SM 123, 84000 km, for A. Tern, order 17/4" in text
    for word in ("sm 123", "Tern", "17/4"):
        assert "Reverse lamps" in page.get(f"/?q={word}").content.decode()
    assert "Reverse lamps" not in page.get("/?q=gull").content.decode()
    assert "Tern" not in page.get("/wire-book/wire-book.csv").content.decode()
    assert facts_now(hooked_up)["papers"]["job"]["customer"] == "A. Tern"


def test_another_job_begins_on_the_same_vehicle_and_the_vehicle_goes_with_its_last(page, hooked_up):
    first = Job.objects.get()
    text = page.get(f"/jobs/new/?vehicle={first.vehicle_id}").content.decode()
    assert 'value="Merrow"' in text
    assert page.post("/jobs/new/", {**BRIEF, "title": "Fog lamp", "vehicle": first.vehicle_id}).status_code == 302
    assert Vehicle.objects.count() == 1
    assert "Fog lamp" in page.get(f"/jobs/{first.id}/").content.decode()
    second = Job.objects.get(title="Fog lamp")
    for job, left in ((first, 1), (second, 0)):
        page.post(f"/jobs/{job.id}/remove/", {"title": job.title})
        assert Vehicle.objects.count() == left


@pytest.mark.parametrize("id", ["99", "x", "", "9" * 40])
def test_a_vehicle_that_is_not_there_is_a_new_one(page, id):
    assert page.get(f"/jobs/new/?vehicle={id}").status_code == 200


def test_a_vin_that_none_can_be_is_refused(page):
    response = page.post("/jobs/new/", {**BRIEF, "vin": "IOQ45678901234567"})
    assert "17 letters and digits" in response.content.decode()


def test_a_distance_is_said_once_and_holds_until_it_is_taken_back(page, hooked_up):
    HookUp.objects.update(out_m=None)
    address, sent = f"/jobs/{hooked_up.id}/distance/", {"first": "left tail lamp", "second": "reverse lamp"}
    before = page.get(f"/jobs/{hooked_up.id}/build/").content.decode()
    assert "left tail lamp to reverse lamp" in before
    page.post(address, sent | {"m": "1,35"})
    (wire, _) = job_overview(hooked_up.id).build.wires
    assert (wire.routed_m, wire.is_assumed) == (1.35, False)
    assert "1.35 m" in page.get(f"/jobs/{hooked_up.id}/build/").content.decode()
    page.post(address, sent | {"m": ""})
    assert job_overview(hooked_up.id).build.wires[0].is_assumed


@pytest.mark.parametrize(
    ("m", "second", "says"),
    [
        ("1000", "reverse lamp", "Expected 0.05 to 60 m"),
        ("0", "reverse lamp", "Expected 0.05 to 60 m"),
        ("far", "reverse lamp", "is no length"),
        ("1", "the moon", "Those locations aren"),
        ("1", "left tail lamp", "from itself"),
    ],
)
def test_a_distance_that_cannot_be_is_refused_and_not_stored(page, hooked_up, m, second, says):
    sent = {"first": "left tail lamp", "second": second, "m": m}
    text = page.post(f"/jobs/{hooked_up.id}/distance/", sent, follow=True).content.decode()
    assert says in text
    assert decided().distances == ()
