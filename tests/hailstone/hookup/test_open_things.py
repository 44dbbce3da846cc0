"""What keeps a hook-up open: who feeds its circuits, and leads that nothing gives."""

from __future__ import annotations

import pytest

from decisions import decided
from electrics.job.file.reading import read_job_file
from hailstone.hookup.models import HookUp
from hailstone.jobs.models import Job
from hailstone.layers.overviews import job_overview
from hookups import HTMX

pytestmark = pytest.mark.django_db


def test_who_feeds_the_circuits_is_said_of_all_that_are_open_at_once(page, job, settled):
    Job.objects.update(addition="high_stop", also="reverse_lamps", added_count=1, added_each_a=0.3)
    job.vehicle.say(computer="unknown")
    job.vehicle.save()
    address = f"/jobs/{job.id}/hook-up/"
    page.post(address, {"version": "0", "best": "1"}, headers=HTMX)
    text = page.get(address).content.decode()
    assert "find out whether a computer feeds this circuit" in text
    assert "Plain switches feed it" in text
    page.post(address, {"version": HookUp.objects.get().version, "fed": "plain"}, headers=HTMX)
    assert {notes["fed_by"] for notes in HookUp.objects.get().circuits.values()} == {"plain"}
    plan_now = job_overview(job.id)
    assert not [item for item in plan_now.plan.missing if item.rule == "fed_by"]
    (lamps,) = (part for part in plan_now.build.parts if part.id == "lamp")
    assert lamps.count == 3, "one stop lamp and a pair along with it"


def test_a_lead_that_nothing_here_gives_is_left_unused_and_capped(page, job, settled):
    """A light bar has a lead for the right turn as well; of a vehicle opened on the left alone it is capped."""
    Job.objects.update(addition="light_bar")
    address = f"/jobs/{job.id}/hook-up/"
    page.post(address, {"version": "0", "best": "1"}, headers=HTMX)
    open_leads = [lead.lead.id for lead in job_overview(job.id).plan.leads if lead.chosen is None]
    assert open_leads
    for id in open_leads:
        sent = {"version": HookUp.objects.get().version, f"way_{id}": "unused:", "lead": id}
        text = page.post(address, sent, headers=HTMX).content.decode()
    assert "Unused, capped" in text
    view = job_overview(job.id)
    assert {lead.id for lead in view.plan.unused} == set(open_leads)
    assert not [item for item in view.plan.missing if item.rule == "tap"]
    sheet = page.get(f"/jobs/{job.id}/build/sheet/").content.decode()
    assert sheet.count("isn&#x27;t used. Insulated cap") == len(open_leads)
    (caps,) = (part for part in view.build.parts if part.id == "cap")
    assert caps.count == len(open_leads)
    document = page.get(f"/jobs/{job.id}/job.json").content.decode()
    assert len(read_job_file(document).hookup.ways) == len(decided().ways)
    again = {"version": HookUp.objects.get().version, f"way_{open_leads[0]}": ""}
    page.post(address, again, headers=HTMX)
    assert open_leads[0] in {lead.lead.id for lead in job_overview(job.id).plan.leads}


def test_no_job_is_left_without_a_lead(page, job, settled):
    page.post(f"/jobs/{job.id}/hook-up/", {"version": "0", "way_reverse": "unused:"}, headers=HTMX)
    assert len(job_overview(job.id).plan.leads) == 1
