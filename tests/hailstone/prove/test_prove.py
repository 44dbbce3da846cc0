"""Build and Prove: ticks, results, the signature and the printed sheet."""

from __future__ import annotations

import pytest

from decisions import decide_only
from electrics.document.places import Setup
from electrics.vocabulary import parse_state
from hailstone.hookup.models import HookUp
from hailstone.identify.services import save_reading
from hailstone.jobs.models import Job
from hailstone.layers import plans
from hailstone.layers.overviews import job_overview
from hailstone.prove.models import BuildTick, Result, Signature
from hailstone.wording import proof as wording
from measured import all_pass
from page_words import flat
from posted import send
from stepped import keys_of

pytestmark = pytest.mark.django_db
HTMX = {"HX-Request": "true"}


@pytest.fixture
def record(page, hooked_up):
    def _record(**sent):
        address = f"/jobs/{hooked_up.id}/prove/?state={sent.get('state', '')}"
        return send(page, address, "prove/record/", headers=HTMX, **sent)

    return _record


@pytest.fixture
def all_passed(hooked_up, who):
    all_pass(hooked_up, job_overview(hooked_up.id).proof.sheet.lines, who)


@pytest.fixture
def all_built(page, hooked_up):
    for step in keys_of(hooked_up):
        tick(page, hooked_up, step, "not_needed" if "secure" in step else "done")


def sign(page, job, **sent):
    return send(page, f"/jobs/{job.id}/prove/", "prove/sign/", follow=True, **sent).content.decode()


def sheet_text(page, job):
    return flat(page.get(f"/jobs/{job.id}/prove/sheet/").content.decode())


def tick(page, job, step, value="done"):
    return page.post(f"/jobs/{job.id}/build/tick/", {"step": step, "value": value}, headers=HTMX)


def test_a_step_is_set_to_a_value_so_two_people_who_tick_it_agree(page, hooked_up):
    for value, count in (("done", 1), ("done", 1), ("open", 0), ("not_needed", 1)):
        (safe,) = keys_of(hooked_up, "make_safe")
        text = tick(page, hooked_up, safe, value).content.decode()
        assert BuildTick.objects.count() == count
    assert "not needed, ina" in flat(text)
    assert tick(page, hooked_up, "paint").status_code == 404
    assert tick(page, hooked_up, safe, "perhaps").status_code == 404


def test_the_build_sheet_lists_cuts_parts_and_caution(page, hooked_up):
    text = page.get(f"/jobs/{hooked_up.id}/build/").content.decode()
    assert "<b>4.4 m</b>" in text
    assert "left tail lamp, pin 3 (WH/GN), both halves + wire 1" in text
    assert "left tail lamp, pin 3 (WH/GN): joint 1" in text
    assert "fuse" not in text.split("<h2>Parts</h2>")[1].split("No added")[0]  # the host's 10 A protects 18 AWG
    assert "the factory fuse protects it" in text
    assert "battery negative off" in text
    assert "tapped at pin 3 (WH/GN), left tail lamp" in text


def test_one_press_passes_a_whole_state_and_leads_to_the_next(record):
    text = record(group="rest", outcome="pass", state="rest").content.decode()
    assert Result.objects.count() == 5
    assert set(Result.objects.values_list("outcome", flat=True)) == {"pass"}
    assert "<h2>Park</h2>" in text


def test_a_press_for_the_state_does_not_overwrite_a_failed_line(record):
    record(line="reverse|added", outcome="fail", state="reverse", note="one side dark")
    record(group="reverse", outcome="pass", state="reverse")
    assert Result.objects.get(line="reverse|added").outcome == "fail"


def test_lamps_that_each_do_what_the_other_should_are_named(record):
    for line in ("brake|added", "brake|factory:stop", "reverse|added"):
        text = record(line=line, state=line.partition("|")[0], outcome="fail").content.decode()
    assert "New lamp and factory stop lamp look swapped." not in flat(
        text
    )  # stop has failed nowhere it should be dark
    text = record(line="reverse|factory:stop", state="reverse", outcome="fail").content.decode()
    assert "look swapped. Each does what the other should: check their two joints." in flat(text)


def test_measured_lines_are_judged_by_the_reading_not_by_the_button(record):
    text = record(line="measure|feed_drop", outcome="pass", reading="0.7", state="measured").content.decode()
    assert Result.objects.get().outcome == "fail"
    assert "1 failed." in text
    response = record(line="measure|ground_drop", outcome="pass", reading="low", state="measured")
    assert response.status_code == 422
    assert "Expected volts" in response.content.decode()
    assert 'value="low"' in response.content.decode()


def test_a_reading_that_is_refused_takes_the_earlier_pass_with_it(record):
    record(line="measure|feed_drop", outcome="pass", reading="0.3", state="measured")
    assert Result.objects.get().outcome == "pass"
    assert record(line="measure|feed_drop", outcome="pass", reading="0.3 Hz", state="measured").status_code == 422
    assert [each.outcome for each in Result.objects.all()] == ["pass", "untested"]  # the earlier one is kept


def test_a_sheet_with_an_untested_line_is_never_passed_and_cannot_be_signed(
    page, record, hooked_up, all_passed, all_built
):
    record(line="hazard|added", outcome="untested", state="hazard")
    assert "Not finished: 1 line not tested" in sheet_text(page, hooked_up)
    response = page.post(f"/jobs/{hooked_up.id}/prove/sign/", {})
    assert response.status_code == 422
    assert "Not signed: 1 line not tested" in response.content.decode()
    assert not Signature.objects.exists()


def test_with_a_dangerous_assumption_open_the_plan_is_shown_but_neither_joined_nor_signed(page, job, choice):
    job.vehicle.say(computer="unknown")
    job.vehicle.save()
    page.post(f"/jobs/{job.id}/hook-up/", choice | {"fed_by": "unknown"})
    for layer, shown in (("build", "Cut"), ("prove", "lines not tested"), ("correct", "problem")):
        text = page.get(f"/jobs/{job.id}/{layer}/").content.decode()
        assert "Don't splice or sign yet." in text, layer
        assert "whether a computer feeds this circuit" in text, layer
        assert shown in text, layer
    (opened,), joint = keys_of(job, "open_up"), keys_of(job, "connect")[0]
    assert tick(page, job, opened).status_code == 200
    refused = tick(page, job, joint)
    assert (refused.status_code, "Not checked off" in refused.content.decode()) == (422, True)
    assert [each.step for each in job.ticks.all()] == [opened]
    assert "isn&#x27;t complete" in sign(page, job)


def test_a_sheet_with_an_open_step_cannot_be_signed(page, hooked_up, all_passed, all_built):
    tick(page, hooked_up, keys_of(hooked_up, "close")[0], "open")
    assert "1 build step open" in flat(page.get(f"/jobs/{hooked_up.id}/prove/").content.decode())
    assert "Not signed: 1 build step" in sign(page, hooked_up)
    assert not Signature.objects.exists()


def test_a_passed_sheet_is_signed_and_printed(page, hooked_up, all_passed, all_built):
    sent = {"temporary": "cable tie at the bumper", "look_again_on": "2027-05-31"}
    text = sign(page, hooked_up, **sent)
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


def change_result(page, job):
    sent = {"line": "measure|feed_drop", "outcome": "pass", "reading": "0.45", "state": "measured"}
    send(page, f"/jobs/{job.id}/prove/?state=measured", "prove/record/", headers=HTMX, **sent)


def change_vehicle(page, job):
    Job.objects.get().vehicle.__class__.objects.update(make="Tarn")


def change_hookup(**changes):
    return lambda page, job: HookUp.objects.update(**changes)


def change_colour(page, job):
    job.points.get().pins.filter(label="3").update(colour="WH/RD")


def change_step(page, job):
    tick(page, job, keys_of(job, "secure")[0], "done")


CHANGES = {
    "result": (change_result, "The result of “feed drop at the lamp”: pass 0.05 V, now pass 0.45."),
    "make": (change_vehicle, "The make: Merrow, now Tarn."),
    "joint": (change_hookup(joint="solder"), "The connection: crimp butt, now solder."),
    "run length": (change_hookup(out_m=4.1), "The feed length: 3.4 m, now 4.1 m."),
    "colour": (change_colour, "The color (left tail lamp pin 3): WH/GN, now WH/RD."),
    "step": (change_step, "The step “Tie down”: not needed, now done."),
}


REWIRED = ("joint", "run length")
"""After these every line is tested again."""


@pytest.mark.parametrize("what", CHANGES)
def test_whatever_is_printed_and_changed_wants_a_new_revision_that_shows_what(
    page, hooked_up, all_passed, all_built, what, who
):
    change, sentence = CHANGES[what]
    sign(page, hooked_up)
    before = Signature.objects.get().sheet
    assert "Prove: signed" in page.get("/").content.decode()
    change(page, hooked_up)
    assert "Prove: signed" not in page.get("/").content.decode()
    assert sentence in page.get(f"/jobs/{hooked_up.id}/prove/").content.decode()
    assert "Signed: <b>" not in sheet_text(page, hooked_up)
    assert Signature.objects.get().sheet == before
    for step in keys_of(hooked_up):
        tick(page, hooked_up, step, "done" if what == "step" or "secure" not in step else "not_needed")
    all_pass(hooked_up, [line for line in job_overview(hooked_up.id).proof.sheet.lines if what in REWIRED], who)
    assert "Signed as revision 2." in sign(page, hooked_up)
    printed = sheet_text(page, hooked_up)
    assert "revision 2" in printed
    assert sentence in printed
    first = page.get(f"/jobs/{hooked_up.id}/prove/sheet/?revision=1").content.decode()
    assert "revision 1" in first
    assert page.get(f"/jobs/{hooked_up.id}/prove/sheet/?revision=9").status_code == 404


def test_what_a_newer_program_derives_otherwise_un_signs_nothing(
    page, hooked_up, all_passed, all_built, monkeypatch, settings
):
    """Another way of sizing, other words, lines that there were not: the sheet is printed as it was signed."""
    sign(page, hooked_up)
    printed = sheet_text(page, hooked_up)
    monkeypatch.setitem(wording.MEASURES, "feed_drop", "Something else altogether")
    monkeypatch.setattr("electrics.prove.sheet.STATES", ("rest", "park", "park+brake"))
    settings.WORKSHOP = "Another shop"
    plans.forget()
    assert job_overview(hooked_up.id).proof.verdict != "passed"
    assert "Prove: signed" in page.get("/").content.decode()
    again = sheet_text(page, hooked_up)
    assert again.partition("<main")[2] == printed.partition("<main")[2]


def test_a_reading_that_leaves_the_verdict_as_it_was_changes_no_signature(
    page, hooked_up, all_passed, all_built, who
):
    sign(page, hooked_up)
    pin = hooked_up.points.get().pins.get(label="3")
    save_reading(pin, Setup(parse_state("brake+reverse")), "12.1", 12.6, who)
    assert "Prove: signed" in page.get("/").content.decode()


def test_two_signatures_at_once_are_one(page, hooked_up, all_passed, all_built):
    sign(page, hooked_up)
    assert "signed already" in sign(page, hooked_up)
    assert Signature.objects.count() == 1


def test_a_changed_plan_makes_its_lines_untested_again(page, hooked_up, all_passed, job):
    job.refresh_from_db()
    job.addition, job.title = "high_stop", "High stop lamp"
    job.save()
    stop = job.points.get().pins.get(label="4")
    decide_only(ways={"stop": f"direct:{stop.id}"})
    proof = job_overview(job.id).proof
    again = {line.key for line in proof.sheet.lines if line.key not in proof.results}
    assert {"brake|added", "reverse|added", "rest|added"} <= again  # another lamp on another wire
    assert proof.fallen["rest|added"].outcome == "pass"  # what was seen before is kept beside it
    assert "rest|factory:turn_left" not in again


def test_lines_and_states_that_do_not_exist_are_not_found(record):
    assert record(line="moon|added", outcome="pass").status_code == 404
    assert record(line="rest|added", outcome="splendid").status_code == 404


@pytest.mark.parametrize("changes", [{"wire_size": "16"}, {"fed_by": "computer"}])
def test_a_signature_does_not_outlive_another_wire_or_a_forbidden_hook_up(
    page, hooked_up, all_passed, all_built, choice, changes
):
    sign(page, hooked_up)
    assert "Signed: <b>ina</b>" in sheet_text(page, hooked_up)
    page.post(f"/jobs/{hooked_up.id}/hook-up/", choice | changes)
    assert "covered an earlier plan" in sheet_text(page, hooked_up)


def test_the_sheet_opens_where_no_fuse_protects_the_wire(page, job, hooked_up, choice):
    """2.5 A wants 3.125 A and 22 AWG bears 3 A: the drop over 0.6 m is fine, the fuse is not."""
    job.added_each_a = 2.5
    job.save()
    short = {"wire_size": "22", "out_m": "0.5", "back_m": "0.1"}
    page.post(f"/jobs/{job.id}/hook-up/", choice | short)
    assert [fault.rule for fault in job_overview(job.id).plan.faults] == ["no_fuse"]
    assert "22 AWG" in sheet_text(page, job)


@pytest.mark.parametrize(("state", "warns"), [("reverse", True), ("park+reverse", True), ("brake", False)])
def test_the_caution_for_reverse_stands_where_reverse_is_selected(page, hooked_up, state, warns):
    text = page.get(f"/jobs/{hooked_up.id}/prove/", {"state": state}).content.decode()
    assert ("Chock the wheels" in text) is warns
