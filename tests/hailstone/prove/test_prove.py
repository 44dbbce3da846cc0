"""Build and Prove: ticks, results, the signature and the printed sheet."""

from __future__ import annotations

import hashlib

import pytest

from hailstone.hookup.models import HookUp
from hailstone.jobs.queries import job_overview
from hailstone.layers.proof import expectation
from hailstone.prove.models import BuildTick, Result, Signature

pytestmark = pytest.mark.django_db
HTMX = {"HX-Request": "true"}
MEASURED = {"feed_drop": "0.31", "ground_drop": "0.06", "flash_rate_left": "88 /min"}


@pytest.fixture
def record(page, hooked_up):
    def _record(**sent):
        return page.post(f"/jobs/{hooked_up.id}/prove/record/", sent, headers=HTMX)

    return _record


@pytest.fixture
def all_passed(record, hooked_up):
    sheet = job_overview(hooked_up.id).proof.sheet
    for state in sheet.states:
        record(group=str(state), outcome="pass", state=str(state))
    for line in sheet.lines:
        if line.measure:
            record(line=line.key, outcome="pass", reading=MEASURED.get(line.measure.id, ""), state="measured")


def sheet_text(page, job):
    return page.get(f"/jobs/{job.id}/prove/sheet/").content.decode()


def test_steps_are_ticked_with_who_and_unticked(page, hooked_up):
    for expected in (1, 0):
        page.post(f"/jobs/{hooked_up.id}/build/tick/", {"step": "make_safe"}, headers=HTMX)
        assert BuildTick.objects.count() == expected
    assert page.post(f"/jobs/{hooked_up.id}/build/tick/", {"step": "paint"}).status_code == 404


def test_the_build_sheet_lists_cuts_parts_and_caution(page, hooked_up):
    text = page.get(f"/jobs/{hooked_up.id}/build/").content.decode()
    assert "<b>4.4 m</b>" in text
    assert "3 A violet" in text
    assert "battery negative off" in text
    assert "tap pin 3 (WH/GN) at left tail lamp" in text


def test_one_press_passes_a_whole_state_and_leads_to_the_next(record):
    text = record(group="rest", outcome="pass", state="rest").content.decode()
    assert Result.objects.count() == 5
    assert set(Result.objects.values_list("outcome", flat=True)) == {"pass"}
    assert "<h2>Park</h2>" in text


def test_a_press_for_the_state_does_not_overwrite_a_failed_line(record):
    record(line="reverse|added", outcome="fail", state="reverse", note="one side dark")
    record(group="reverse", outcome="pass", state="reverse")
    assert Result.objects.get(line="reverse|added").outcome == "fail"


def test_measured_lines_are_judged_by_the_reading_not_by_the_button(record):
    text = record(line="measure|feed_drop", outcome="pass", reading="0.7", state="measured").content.decode()
    assert Result.objects.get().outcome == "fail"
    assert "1 failed." in text
    response = record(line="measure|ground_drop", outcome="pass", reading="low", state="measured")
    assert response.status_code == 422
    assert "Expected volts" in response.content.decode()
    assert 'value="low"' in response.content.decode()


def test_a_sheet_with_an_untested_line_is_never_passed_and_cannot_be_signed(page, record, hooked_up, all_passed):
    record(line="hazard|added", outcome="untested", state="hazard")
    assert "Not finished: 1 lines not tested" in sheet_text(page, hooked_up)
    response = page.post(f"/jobs/{hooked_up.id}/prove/sign/", {})
    assert response.status_code == 422
    assert "Not signed: 1 lines are not tested" in response.content.decode()
    assert not Signature.objects.exists()


def test_a_passed_sheet_is_signed_and_printed(page, hooked_up, all_passed):
    sent = {"temporary": "cable tie at the bumper", "look_again_on": "2027-05-31"}
    text = page.post(f"/jobs/{hooked_up.id}/prove/sign/", sent, follow=True).content.decode()
    assert "Passed and signed by ina." in text
    printed = sheet_text(page, hooked_up)
    assert "Signed: <b>ina</b>" in printed
    assert "cable tie at the bumper" in printed
    assert "31 May 2027" in printed
    assert "not tested" not in printed
    assert "Prove: signed" in page.get("/").content.decode()


def test_a_date_that_is_none_is_refused(page, hooked_up, all_passed):
    response = page.post(f"/jobs/{hooked_up.id}/prove/sign/", {"look_again_on": "soon"})
    assert response.status_code == 422
    assert "2026-05-31" in response.content.decode()


def test_a_signature_does_not_outlive_what_it_was_put_under(page, record, hooked_up, all_passed):
    page.post(f"/jobs/{hooked_up.id}/prove/sign/", {})
    record(line="measure|feed_drop", outcome="pass", reading="0.45", state="measured")
    assert "was for another plan or other results" in sheet_text(page, hooked_up)
    assert "Signed: <b>" not in sheet_text(page, hooked_up)


def test_a_changed_plan_makes_its_lines_untested_again(page, hooked_up, all_passed, job):
    job.refresh_from_db()
    job.addition, job.title = "high_stop", "High stop lamp"
    job.save()
    stop = job.points.get().pins.get(label="4")
    HookUp.objects.update(ways={"stop": f"direct:{stop.id}"})
    proof = job_overview(job.id).proof
    again = {line.key for line in proof.sheet.lines if line.key not in proof.results}
    assert {"brake|added", "reverse|added"} <= again
    assert "rest|added" not in again


def test_lines_and_states_that_do_not_exist_are_not_found(record):
    assert record(line="moon|added", outcome="pass").status_code == 404
    assert record(line="rest|added", outcome="splendid").status_code == 404


@pytest.mark.parametrize("changes", [{"wire_size": "16"}, {"fed_by": "computer"}])
def test_a_signature_does_not_outlive_another_wire_or_a_forbidden_hook_up(
    page, hooked_up, all_passed, choice, changes
):
    page.post(f"/jobs/{hooked_up.id}/prove/sign/", {})
    assert "Signed: <b>ina</b>" in sheet_text(page, hooked_up)
    page.post(f"/jobs/{hooked_up.id}/hook-up/", choice | changes)
    assert "was for another plan or other results" in sheet_text(page, hooked_up)


def test_the_sheet_opens_where_no_fuse_protects_the_wire(page, job, hooked_up, choice):
    """2 x 1.25 A wants 3.125 A and 22 AWG bears 3 A: the drop over 0.6 m is fine, the fuse is not."""
    job.added_each_a = 1.25
    job.save()
    short = {"wire_size": "22", "out_m": "0.5", "back_m": "0.1"}
    text = page.post(f"/jobs/{job.id}/hook-up/", choice | short).content.decode()
    assert "No standard fuse both carries this load and protects this wire." in text
    assert "loses more than the 0.5 V" not in text
    assert "22 AWG" in sheet_text(page, job)


def test_a_signature_put_by_an_earlier_version_still_stands(hooked_up):
    """The digest as it was made when there was one run a job: what was added to it since stands at its end."""
    view = job_overview(hooked_up.id)
    lead = view.plan.leads[0]
    parts = ["reverse_lamps", "2.4", lead.chosen.key, "18 AWG", "3", ""]
    parts += [
        f"{key}={asked}" for key, asked in sorted((line.key, expectation(line)) for line in view.proof.sheet.lines)
    ]
    assert view.proof.fingerprint == hashlib.sha256("\n".join(parts).encode()).hexdigest()
