"""Every kind of accessory from brief to signed sheet, on 12 V, and some on 6 and 24 V."""

from __future__ import annotations

import pytest
from django.utils import timezone

from briefs import BRIEF, CIRCUIT, SECOND_CIRCUIT
from electrics.design.accessories import accessories
from electrics.prove.sheet import Outcome
from electrics.signals import Scenario
from electrics.vocabulary import Arrangement
from hailstone.identify.models import Reading
from hailstone.jobs.models import Job
from hailstone.layers.overviews import job_overview
from hailstone.prove import services
from hailstone.prove.models import BuildTick
from measured import COMBINED, SEPARATE, F, all_pass, measured
from page_words import odd_words
from posted import send
from stepped import keys_of

pytestmark = pytest.mark.django_db
KINDS = [
    *((each.id, 12) for each in accessories()),
    ("reverse_switch", 24),
    ("licence_cutout", 24),
    ("rear_loom", 24),
    ("motorcycle_signals", 6),
    ("ground_switched_lamp", 6),
]
ARRANGEMENT = {
    **dict.fromkeys(
        ("light_bar", "combined_tail_lamps", "led_bulbs_combined", "towed_car", "towed_car_diodes"),
        Arrangement.COMBINED,
    )
}
EMPTY = ("camera_trigger", "front_both", "licence_cutout", "light_bar")
"""Read without a reading as well: one lead, two with one wish, a cut-out, five functions."""
PAGES = (
    "",
    "units/",
    "identify/",
    "lamp/",
    "lamp/leads/",
    "hook-up/",
    "correct/",
    "build/",
    "prove/",
    "prove/sheet/",
)


def odd_on_pages(page, job):
    """What any page of a job says that is no word; without readings the hook-up page is the same for every lead.

    Of a pair the page of one lamp's lead says what the other's says, but for the side; what is said of a place hangs on
    no accessory, so it is read for a few.
    """
    are_read = Reading.objects.filter(pin__point__job=job).exists()
    each = {(lead.lead.kind, lead.lead.label): lead.lead.id for lead in job_overview(job.id).plan.leads if are_read}
    leads = [f"hook-up/?lead={id}" for id in each.values()]
    tails = ("", "?open=1", "history/", "call-sheet/", "edit/")
    places = job.points.all() if job.addition in EMPTY else ()
    points = [f"identify/{point.id}/{tail}" for point in places for tail in tails]
    found = []
    for name in (*PAGES, *leads, *points):
        response = page.get(f"/jobs/{job.id}/{name}", follow=True)
        assert response.status_code == 200, name
        found += [f"{name} {odd}" for odd in odd_words(response.content.decode())]
    return sorted(set(found))


@pytest.mark.parametrize(("accessory", "system_v"), KINDS)
def test_an_accessory_goes_from_brief_to_signed_sheet(page, who, accessory, system_v):
    arrangement = ARRANGEMENT.get(accessory, Arrangement.SEPARATE)
    kind, scale = accessories()[accessory], system_v / 12
    facts = {
        **BRIEF,
        "addition": accessory,
        "added_count": kind.count,
        "added_each_a": round(kind.leads[0].each_a / scale, 3),
        "system_v": system_v,
        "supply_v": 12.6 * scale,
        "arrangement": str(arrangement),
    }
    assert page.post("/jobs/new/", facts).status_code == 302
    job = Job.objects.get()
    functions = COMBINED if arrangement is Arrangement.COMBINED else SEPARATE
    functions += (F.DRL,) if accessory == "front_daytime" else ()
    if accessory in EMPTY:
        assert odd_on_pages(page, job) == []
    measured(job, who, functions, Scenario(arrangement), scale)
    hook_up = f"/jobs/{job.id}/hook-up/"
    bulb = {6: "", 12: "P21W", 24: "P21W 24 V"}[system_v]
    facts = {**CIRCUIT, **SECOND_CIRCUIT, "host_bulb": bulb, "host_bulb_2": bulb, "measured_a": "" if bulb else "2"}
    facts |= {"measured_a_2": facts["measured_a"], "host_fuse_a": "15", "host_wire": "14", "host_wire_2": "14"}
    facts |= {"out_m": "2.5", "back_m": "0.5", "ground": "wire", "ground_wire": "16", "keeps": "for_good"}
    facts |= {"joint": "crimp_butt", "wire_standard": "awg", "is_exposed": "on", "host_fuse_a_2": "15"}
    page.post(hook_up, facts | {"best": "1", "version": "1"})
    for lead in job_overview(job.id).plan.leads:
        plan = job_overview(job.id).plan
        if not plan.missing + plan.faults:  # what nobody noted is assumed
            break
        version = Job.objects.get().hookup.version
        page.post(hook_up, facts | {"lead": lead.lead.id, "version": str(version)})
    plan = job_overview(job.id).plan
    assert plan.missing + plan.faults == ()
    assert all(lead.chosen.is_right for lead in plan.leads)
    assert plan.is_single or not any(plan.together.wrong)
    assert "<h2>Parts</h2>" in page.get(f"/jobs/{job.id}/build/").content.decode()
    if (accessory, system_v) not in KINDS[-3:]:  # which say nothing that the same kind on 12 V does not
        assert odd_on_pages(page, job) == []
    proof = job_overview(job.id).proof
    sent = {"group": str(proof.sheet.states[-1]), "outcome": str(Outcome.PASS)}
    assert page.post(f"/jobs/{job.id}/prove/record/", sent).status_code == 200
    all_pass(job, proof.sheet.lines, who)
    now, keys = timezone.now(), keys_of(job)
    BuildTick.objects.bulk_create(BuildTick(job=job, step=step, who=who, at=now) for step in keys[1:])
    services.tick(job, keys[0], services.TickState.DONE, who)
    sent = {"temporary": "", "look_again_on": ""}
    assert send(page, f"/jobs/{job.id}/prove/", "prove/sign/", **sent).status_code == 302
    assert job_overview(job.id).is_signed


def test_two_kinds_on_one_job_and_what_is_refused_are_said_in_words(page, who):
    added = {"addition": "mirror_turn_pair", "also": ["licence_cutout", "led_bulbs"], "added_count": 2}
    assert page.post("/jobs/new/", {**BRIEF, **added, "added_each_a": 0.3}).status_code == 302
    job = Job.objects.get()
    measured(job, who, SEPARATE, Scenario(Arrangement.SEPARATE), 1)
    assert odd_on_pages(page, job) == []
    hook_up = f"/jobs/{job.id}/hook-up/"
    sources = [str(pin.id) for pin in job.points.get().pins.all()]
    refused = [
        page.post("/jobs/new/", {**BRIEF, "addition": "own", "own_leads": "x = turn left and not turn left"}),
        page.post("/jobs/new/", {**BRIEF, "addition": "own", "own_leads": "x = tail; 99 A"}),
        page.post("/jobs/new/", {**BRIEF, "system_v": "13", "added_each_a": "much", "make": ""}),
        page.post(hook_up, {"hand": "mirror_turn_pair-left-turn", "hand_source": sources[:2], "version": "0"}),
        page.post(hook_up, {**CIRCUIT, "out_m": "far", "joint": "glue", "version": "0"}),
        page.post(f"/jobs/{job.id}/prove/sign/", {"look_again_on": "soon"}),
    ]
    assert [odd for response in refused for odd in odd_words(response.content.decode())] == []
