"""The lamp on the bench: leads, trials, and what Hook up takes from them."""

from __future__ import annotations

from itertools import permutations

import pytest
from django.utils import timezone

from electrics.document.lamp import Light, Seen, Trial
from hailstone.jobs.models import Job
from hailstone.lamp.models import FittedLamp, LeadTrial
from hailstone.lamp.services import lay_out, try_pair
from hailstone.layers.overviews import job_overview
from migrating import begun_job, latest, migrated
from page_words import flat

pytestmark = pytest.mark.django_db
WHITE_LED = (("white", "black", "dark", "", ""), ("black", "white", "lit", "white", "1,15"))


@pytest.fixture
def lamp(page, job):
    return page.post(f"/jobs/{job.id}/lamp/leads/", {"leads": "white\nblack"}, follow=True).content.decode()


def try_all(page, job, trials=WHITE_LED):
    for plus, minus, seen, light, amps in trials:
        sent = {"plus": plus, "minus": minus, "seen": seen, "light": light, "amps_a": amps}
        text = page.post(f"/jobs/{job.id}/lamp/", sent).content.decode()
    return text


def test_the_first_pair_is_asked_for_with_its_caution(lamp):
    assert "to positive" in lamp
    assert "1 A fuse" in lamp
    assert "first tests to 50 mA" in lamp


def test_leads_with_misleading_colours_are_found_and_hook_up_takes_the_current(page, job, settled, lamp):
    text = try_all(page, job)
    assert "Every lead is known. Stop testing." in text
    assert "Common, negative" in text
    hookup = page.get(f"/jobs/{job.id}/hook-up/").content.decode()
    assert "1 × 1.15 A as measured" in flat(hookup)


def test_a_reverse_job_stops_at_the_reverse_lead_and_says_what_stays_open(page, job, settled, who):
    lay_out(job, [(lead, "", "") for lead in ("red", "black", "white", "blue")], who)
    seen = ("white", "black", "lit", "white", "0,9"), ("black", "white", "dark", "", "")
    assert "Enough for this job" not in try_all(page, job, seen)  # black may be a second feed, white the common plus
    text = flat(try_all(page, job, [("red", "black", "lit", "red", "0,3")]))
    assert "Enough for this job. Stop testing." in text
    assert "White is for reverse and black is common. Blue stays open: not needed, cap its end." in text
    assert "✓ known" in page.get(f"/jobs/{job.id}/identify/{settled.id}/").content.decode()
    every = page.get(f"/jobs/{job.id}/lamp/?every=1").content.decode()
    assert "Enough for this job" not in every
    assert "through a 1 A fuse" in every


def test_a_sellers_chart_is_a_claim_and_not_part_of_the_name(page, job, settled):
    text = page.post(f"/jobs/{job.id}/lamp/leads/", {"leads": "white = ground\nblack: reverse"}, follow=True)
    assert "Chart: ground" in text.content.decode()
    assert [(lead.label, lead.claim) for lead in job.lamp.leads.all()] == [("white", "ground"), ("black", "reverse")]
    text = try_all(page, job, [("white", "black", "lit", "white", "1,15"), ("black", "white", "dark", "", "")])
    assert "The chart says ground. The tests win." in text
    assert "The chart says white is ground; the bench shows otherwise" in flat(
        page.get(f"/jobs/{job.id}/hook-up/").content.decode()
    )
    again = page.get(f"/jobs/{job.id}/lamp/leads/").content.decode()
    assert "white = ground" in again
    refused = page.post(f"/jobs/{job.id}/lamp/leads/", {"leads": "white = gronud\nblack"}).content.decode()
    assert "“gronud” is no function" in refused


def test_where_no_pair_tells_more_it_asks_for_the_currents_that_are_missing_and_for_no_other(page, job):
    """Three leads that light alike, red: without currents tail and stop cannot be told apart; with one, that is said."""
    page.post(f"/jobs/{job.id}/lamp/leads/", {"leads": "black\nbrown\ngreen"})
    pairs = [(plus, minus) for plus, minus in permutations(("black", "brown", "green"), 2)]

    def told(amps):
        shown = [
            (plus, minus, "lit", "red", amps) if minus == "black" else (plus, minus, "dark", "", "")
            for plus, minus in pairs
        ]
        return try_all(page, job, shown)

    assert "Again, and enter its current this time" in told("")
    assert "Measure the current of brown and green." in told("")
    assert "Measure the current" not in told("0.12")
    assert "enter its current" not in told("0.12")


def test_undo_takes_the_last_trial_back(page, job, lamp):
    try_all(page, job)
    text = page.post(f"/jobs/{job.id}/lamp/undo/", follow=True).content.decode()
    assert "Undone: black to positive, white to negative: lit." in text
    assert LeadTrial.objects.count() == 1


@pytest.mark.parametrize(
    ("sent", "complaint"),
    [
        ({"plus": "white", "minus": "white", "seen": "lit"}, "both posts"),
        ({"plus": "white", "minus": "black", "seen": "lit", "amps_a": "900"}, "current"),
        ({"plus": "white", "minus": "green", "seen": "lit"}, "Not saved"),
    ],
)
def test_a_trial_that_cannot_be_is_not_kept(page, job, lamp, sent, complaint):
    response = page.post(f"/jobs/{job.id}/lamp/", sent)
    assert response.status_code == 422
    assert complaint in response.content.decode()
    assert not LeadTrial.objects.exists()


@pytest.mark.parametrize(("leads", "complaint"), [("white", "Expected 2 to 7"), ("a\na", "same name")])
def test_leads_that_make_no_sense_are_asked_about(page, job, leads, complaint):
    response = page.post(f"/jobs/{job.id}/lamp/leads/", {"leads": leads})
    assert response.status_code == 422
    assert complaint in response.content.decode()


def test_a_lamp_with_a_common_plus_is_offered_a_switched_ground(page, who, job, settled):
    """Its feeds want a ground: a relay, 30 to ground and 87 to the lamp (common practice)."""
    lay_out(job, [(lead, "", "") for lead in ("red", "black", "white")], who)
    lamp = FittedLamp.objects.get()
    for plus, minus in permutations(("red", "black", "white"), 2):
        light = {"black": Light.RED, "white": Light.WHITE}[minus] if plus == "red" else None
        try_pair(lamp, Trial(plus, minus, Seen.LIT if light else Seen.DARK, light, 0.5 if light else None), who)
    text = page.get(f"/jobs/{job.id}/hook-up/").content.decode()
    assert "Relay to ground (30 ground, 87 lamp), coil on pin 3 (reverse)" in text
    assert "reverse, by ground" in text
    assert "Direct from pin 3 (reverse)" not in text


def test_what_the_bench_showed_counts_for_the_kind_that_lay_there_and_goes_only_when_somebody_says_so(page, job):
    Job.objects.update(addition="high_stop", also="running_lamps", added_count=1, added_each_a=0.3)
    address = f"/jobs/{job.id}/lamp/"
    assert page.post(f"{address}leads/", {"leads": "red\nblack", "kind": "running_lamp"}).status_code == 302
    for plus, minus, seen, amps in (("red", "black", "lit", "0.25"), ("black", "red", "dark", "0")):
        page.post(address, {"plus": plus, "minus": minus, "seen": seen, "light": "red", "amps_a": amps})
    leads = job_overview(job.id).plan.leads
    assert [lead.measured is not None for lead in leads if lead.lead.kind != "running_lamp"] == [False]
    refused = page.post(f"{address}leads/", {"leads": "yellow\nblack", "kind": "running_lamp"})
    assert (refused.status_code, "What was tried on red would go" in refused.content.decode()) == (422, True)
    assert LeadTrial.objects.count() == 2
    assert "red is yellow now" in refused.content.decode()
    sent = {"leads": "yellow\nblack", "kind": "running_lamp"}
    assert page.post(f"{address}leads/", {**sent, "gone": "renamed"}).status_code == 302
    assert [str(trial) for trial in LeadTrial.objects.all()] == [
        "yellow to positive, black to negative: lit", "black to positive, yellow to negative: dark",
    ]  # fmt: skip
    more = page.post(f"{address}leads/", {**sent, "leads": "black\ngreen\nwhite", "gone": "renamed"})
    assert (more.status_code, "1 missing, 2 new" in more.content.decode()) == (422, True)
    assert page.post(f"{address}leads/", {**sent, "leads": "black\ngreen", "gone": "removed"}).status_code == 302
    assert LeadTrial.objects.count() == 0


@pytest.mark.parametrize("address", ["lamp/leads/", "identify/{point}/edit/"])
def test_an_answer_that_is_none_is_refused_where_it_can_be_seen(page, job, settled, lamp, address):
    sent = {"leads": "white\nblack\nred", "name": "lamp", "kind": "rear_lamp", "side": "left", "version": "1"}
    sent |= {"wires": "1\n2\n3\n4\n5", "gone": "perhaps"}
    if "lamp" in address:
        sent["kind"] = ""
    answer = page.post(f"/jobs/{job.id}/" + address.format(point=settled.id), sent)
    assert (answer.status_code, "perhaps is not one of" in answer.content.decode()) == (422, True)


def test_trials_of_before_refer_to_the_leads_they_named(transactional_db):
    end, old = latest(), migrated([("lamp", "0002_kind"), ("jobs", "0009_tools")])
    job, who = begun_job(old)
    lamp = old.get_model("lamp", "FittedLamp").objects.create(job=job, leads=[["red", "RD"], ["black 1", ""]])
    old.get_model("lamp", "LeadTrial").objects.create(
        lamp=lamp, plus="red", minus="black 1", seen="lit", who=who, at=timezone.now()
    )
    migrated(end)
    assert list(FittedLamp.objects.get().leads.values_list("label", "colour")) == [("red", "RD"), ("black 1", "")]
    assert str(LeadTrial.objects.get()) == "red to positive, black 1 to negative: lit"
