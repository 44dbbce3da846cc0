"""The layer Correct: what is upset, cures taken and given up, on page, sheets and command line."""

from __future__ import annotations

import json
import re
from dataclasses import replace
from pathlib import Path

import jsonschema
import pytest

from briefs import BRIEF, CHOICE, CIRCUIT
from decisions import decide_only, decided
from electrics.correct.complaints import COMPLAINTS
from electrics.correct.flasher import flasher_questions
from electrics.document.vehicle import FlasherKind
from electrics.job.cures.registry import CURES
from electrics.job.file.reading import read_job_file
from electrics.job.plan import plan
from electrics.signals import Scenario
from electrics.vocabulary import Arrangement
from hailstone.cli import main
from hailstone.hookup.models import HookUp
from hailstone.jobs.models import Job
from hailstone.jobs.services import begin_job
from hailstone.layers.corrections import correction_of
from hailstone.layers.overviews import job_overview
from hailstone.layers.signed import changes_between
from hailstone.wording import complaints
from hailstone.wording import correct as wording
from hailstone.wording.cures import CURE_NAMES, REFUSALS, WHY_NONE
from hookups import HTMX
from measured import COMBINED, SEPARATE, measured
from page_words import flat, odd_words
from posted import send
from signing import facts_now

pytestmark = pytest.mark.django_db
ROOT = Path(__file__).parents[3]
EXAMPLE = ROOT / "docs/formats/examples/job-led-tail-lamps.json"


@pytest.fixture
def tails(page, who):
    """LED tail lamps on a combined vehicle, best ways taken."""
    brief = {"addition": "combined_tail_lamps", "added_count": 2, "added_each_a": 0.4, "arrangement": "combined"}
    job = begin_job(who, {**BRIEF, **brief})
    measured(job, who, COMBINED, Scenario(Arrangement.COMBINED), 1)
    page.post(
        f"/jobs/{job.id}/hook-up/", {**CIRCUIT, "best": "1", "version": job_overview(job.id).job.hookup.version}
    )
    return job


def read(page, job, address="correct/"):
    response = page.get(f"/jobs/{job.id}/{address}")
    assert response.status_code == 200
    return response.content.decode()


def cures_of(page, job):
    """Everything that the fixes' own two requests bring: the first that ends everything, then all others."""
    return read(page, job, "correct/cures/") + read(page, job, "correct/cures/?part=rest")


def number_of(job, cure, mount="metal"):
    found = correction_of(job_overview(job.id).derived)
    return next(n for n, each in enumerate(found.open) if each.cure == cure and each.mount in ("", mount))


def take(page, job, n):
    sent = {"cure": str(n), "version": str(HookUp.objects.get(job=job).version)}
    return page.post(f"/jobs/{job.id}/correct/take/", sent)


def test_what_the_monitor_was_measured_to_do_is_kept_reckoned_with_and_refused_where_it_cannot_be(page, tails):
    address = f"/jobs/{tails.id}/correct/habits/"
    assumed = correction_of(job_overview(tails.id).derived).sides[0].threshold_a
    assert page.post(address, {"warns_share": "62,5", "air_c": "40 °C", "watches_all": "1"}).status_code == 302
    found = job_overview(tails.id)
    assert found.derived.facts.vehicle.habits == (("warns_share", 0.625), ("watches_all", 1.0), ("air_c", 40.0))
    assert correction_of(found.derived).sides[0].threshold_a != assumed
    assert "in air of 40 °C" in cures_of(page, tails)
    for wrong in (
        {"warns_share": "120"},
        {"warns_share": "half"},
        {"leak_ohm": "0"},
        {"air_c": "300"},
        {"watches_all": "9"},
    ):
        refused = page.post(address, wrong)
        assert refused.status_code == 422
        assert odd_words(refused.content.decode()) == []
    assert job_overview(tails.id).derived.facts.vehicle.habits == found.derived.facts.vehicle.habits


def test_a_flasher_is_taken_built_printed_and_given_up_by_undo(page, tails):
    first = read(page, tails)
    assert "flashes 180 times a minute" in first
    assert "No fix chosen yet" in first
    assert "fixes it" in cures_of(page, tails)
    assert take(page, tails, number_of(tails, "flasher")).status_code == 302
    cured = read(page, tails)
    assert "Fixed. Build it." in cured
    assert cured.count("<figure") == 3
    sheet = read(page, tails, "build/sheet/")
    assert "Load-independent flasher" in sheet
    assert "match its terminals" in sheet
    assert "The dash can no longer warn of a dead bulb" in sheet
    assert "The dash can no longer warn of a dead bulb" in read(page, tails, "prove/sheet/")
    send(page, f"/jobs/{tails.id}/build/", "take-back/")
    assert "No fix chosen yet" in read(page, tails)


def test_what_is_not_fixed_is_told_on_both_sheets_until_it_is(page, tails):
    for layer in ("build", "prove/sheet"):
        assert "Not fixed" in read(page, tails, f"{layer}/"), layer
    take(page, tails, number_of(tails, "flasher"))
    assert "Not fixed" not in read(page, tails, "build/") + read(page, tails, "prove/sheet/")


def test_a_resistor_is_in_the_parts_the_cut_list_and_the_step_that_bolts_it_down(page, tails):
    assert take(page, tails, number_of(tails, "load_resistor")).status_code == 302
    sheet = read(page, tails, "build/sheet/")
    assert "Load resistors, aluminum-housed" in sheet
    assert "Two screws into bare metal" in sheet
    assert "resistor 1" in sheet
    assert "180 times a minute" not in "".join(
        wording.effect_title(each) for each in correction_of(job_overview(tails.id).derived).now
    )


def test_what_is_refused_cannot_be_taken_and_a_stale_page_takes_nothing(page, tails):
    assert take(page, tails, number_of(tails, "load_resistor", "free_air")).status_code == 422
    assert take(page, tails, number_of(tails, "series_resistor")).status_code == 422
    assert take(page, tails, 99).status_code == 422
    stale = page.post(f"/jobs/{tails.id}/correct/take/", {"cure": "0", "version": "0"})
    assert stale.status_code == 409
    assert page.post(f"/jobs/{tails.id}/correct/flasher/", {"flasher": "steam"}).status_code == 422
    assert decided(tails).cures == ()


def test_what_flashes_the_lamps_is_said_and_changes_what_is_upset(page, tails):
    page.post(f"/jobs/{tails.id}/correct/flasher/", {"flasher": "fixed"})
    assert "No problems found" in read(page, tails)
    page.post(f"/jobs/{tails.id}/correct/flasher/", {"flasher": "bimetal"})
    assert "180 times a minute" not in read(page, tails)
    assert "flash" in read(page, tails)


def test_a_cure_is_printed_so_taking_another_wants_a_new_signature(page, tails):
    before = facts_now(tails)
    take(page, tails, number_of(tails, "flasher"))
    changes = changes_between(before, facts_now(tails))
    assert {change.key.partition(":")[0] for change in changes} == {"cure"}


@pytest.mark.parametrize(
    "state", ["rest", "left", "hazard", "brake+left", "park", "reverse", "nonsense", "", "left+right"]
)
def test_the_board_shows_any_state_in_words(page, tails, state):
    response = page.get(f"/jobs/{tails.id}/correct/", {"at": state})
    assert response.status_code == 200
    assert odd_words(response.content.decode()) == []


@pytest.mark.parametrize("addition", ["led_bulbs", "towed_car_diodes", "licence_cutout", "front_both"])
def test_pages_and_cures_are_in_words_for_other_kinds(page, who, addition):
    is_towed = addition.startswith("towed")
    arrangement = "combined" if is_towed else "separate"
    job = begin_job(who, {**BRIEF, "addition": addition, "added_count": 2, "arrangement": arrangement})
    measured(job, who, COMBINED if is_towed else SEPARATE, Scenario(Arrangement(arrangement)), 1)
    page.post(
        f"/jobs/{job.id}/hook-up/", {**CIRCUIT, "best": "1", "version": job_overview(job.id).job.hookup.version}
    )
    assert odd_words(read(page, job)) == []
    assert odd_words(cures_of(page, job)) == []


def test_every_cure_refusal_and_cost_has_words():
    assert {cure.id for cure in CURES} == set(CURE_NAMES)
    source = "".join(path.read_text() for path in (ROOT / "src/electrics/job/cures").glob("*.py"))
    refused = set(re.findall(r'(?:refusal=|Refusal\()"([a-z_]+)"', source)) | {
        "too_hot",
        "paint_too_hot",
        "full_pulses",
    }
    assert refused - set(WHY_NONE) == set(REFUSALS)
    assert {cost for cost in wording.COSTS if f'"{cost}"' in source} == set(wording.COSTS) - {"bulb_told"}


def test_the_command_line_says_the_same_in_its_published_form(capsys):
    schema = json.loads((ROOT / "docs/formats/correct.schema.json").read_text())
    assert main(["correct", str(EXAMPLE), "--json"]) == 0
    document = json.loads(capsys.readouterr().out)
    jsonschema.Draft202012Validator(schema).validate(document)
    assert {effect["side"] for effect in document["upset"]} == {"left", "right"}
    assert document["cures"][0]["verdict"] == "fixes it"
    assert main(["correct", str(EXAMPLE)]) == 0
    assert "Load-independent flasher: fixes it" in capsys.readouterr().out


def test_a_job_file_that_holds_a_cure_is_tried_with_it(tmp_path, capsys):
    document = json.loads(EXAMPLE.read_text())
    path = tmp_path / "job.json"
    for cures, said in (
        ([{"cure": "flasher"}], "Fixed. Build it."),
        (
            [{"cure": "load_resistor", "ohm": 6, "leads": [{"unit": "left lamp", "lead": "red"}]}],
            "left with this fix",
        ),
    ):
        path.write_text(json.dumps({**document, "cures": cures}))
        assert main(["correct", str(path)]) == 0
        assert said in capsys.readouterr().out.splitlines()[0]
    for wrong in (
        [{"cure": "prayer"}],
        [{"cure": "load_resistor"}],
        [{"cure": "load_resistor", "ohm": 6, "mount": "x"}],
    ):
        path.write_text(json.dumps({**document, "cures": wrong}))
        assert main(["correct", str(path)]) == 1
        assert "Traceback" not in capsys.readouterr().err


def test_the_size_of_a_resistor_is_that_of_the_worked_example(capsys):
    line = ["size", "resistor", "--amps", "0.4", "--threshold", "3.04", "--count", "2", "--json"]
    assert main(line) == 0
    document = json.loads(capsys.readouterr().out)
    schema = json.loads((ROOT / "docs/formats/size.schema.json").read_text())
    jsonschema.Draft202012Validator(schema).validate(document)
    assert document["result"]["ohm"] == 6.0
    assert main([*line[:4], "--threshold", "-1"]) == 1


def test_a_decision_keeps_all_that_is_printed(tails):
    found = correction_of(job_overview(tails.id).derived)
    decision = found.open[number_of(tails, "load_resistor")].decision
    assert (decision.case_w, decision.mount, len(decision.leads)) == (75.0, "metal", 2)


def test_looks_at_the_flasher_are_kept_and_say_what_it_likely_is_and_what_to_look_at_next(page, tails):
    assert "Next:" in read(page, tails)
    sent = {"flasher": "", "one_out": "same"}
    assert page.post(f"/jobs/{tails.id}/correct/flasher/", sent).status_code == 302
    text = read(page, tails)
    assert "By these looks: fixed-rate flasher" in text
    assert odd_words(text) == []
    assert page.post(f"/jobs/{tails.id}/correct/flasher/", {"flasher": "", "one_out": "loud"}).status_code == 422
    assert Job.objects.get(pk=tails.id).vehicle.flasher_looks == {"one_out": "same"}


def test_every_look_and_answer_has_words():
    for question in flasher_questions():
        assert wording.LOOKS[question.id]
        assert all(wording.ANSWERS[question.id, answer] for answer in question.answers)
    assert {str(kind) for kind in FlasherKind} < set(map(str, wording.FLASHERS))


def test_why_is_said_in_figures(page, tails):
    assert "so it reads a bulb as out" in read(page, tails)


def test_a_job_that_begins_with_a_complaint_says_whether_the_circuit_shows_it(page, who, tails):
    facts = {**BRIEF, "complaint": "fast_flash", "addition": "combined_tail_lamps", "added_each_a": 0.4}
    assert page.post("/jobs/new/", facts).status_code == 302
    assert Job.objects.first().complaint == "fast_flash"
    assert page.post("/jobs/new/", {**facts, "complaint": "hiccups"}).status_code == 422
    for complaint, said in (
        ("fast_flash", "The circuit shows that."),
        ("glow", "doesn&#x27;t show it. Read the volts at the lamp"),
    ):
        Job.objects.filter(pk=tails.id).update(complaint=complaint)
        text = read(page, tails)
        assert said in text
        assert odd_words(text) == []


def leak(job, volts):
    """Each thing sends so much from one lead to another."""
    decide_only(job, units=tuple(replace(each, backfeed_v=volts) for each in decided(job).units))


def test_the_page_opens_with_what_is_complained_of(page, tails):
    page.post(f"/jobs/{tails.id}/units/begin/")
    leak(tails, 13.48)
    Job.objects.filter(pk=tails.id).update(complaint="warning")
    lamp_first = read(page, tails)
    Job.objects.filter(pk=tails.id).update(complaint="fast_flash")
    leak(tails, 2.0)
    flash_first = read(page, tails)
    assert lamp_first.index("none of its feeds") < lamp_first.index("times a minute")
    assert "flashes 180 times a minute" in flash_first.split("</p></div>")[0]


def test_every_complaint_has_words_and_something_to_look_at():
    assert set(COMPLAINTS) == set(complaints.COMPLAINTS) == set(complaints.LOOK_AT)


def test_a_job_goes_out_as_a_file_and_the_command_line_makes_the_same_plan_of_it(page, tails, tmp_path, capsys):
    take(page, tails, number_of(tails, "load_resistor"))
    response = page.get(f"/jobs/{tails.id}/job.json")
    assert response.status_code == 200
    assert "attachment" in response["Content-Disposition"]
    facts = read_job_file(response.content.decode())
    ours, theirs = job_overview(tails.id).derived, plan(facts)
    assert [part.value for part in theirs.hookup.design.parts] == [part.value for part in ours.hookup.design.parts]
    assert [line.key for line in theirs.sheet.lines][-3:] == [line.key for line in ours.sheet.lines][-3:]
    path = tmp_path / "job.json"
    path.write_bytes(response.content)
    assert main(["correct", str(path)]) == 0
    said = capsys.readouterr().out.splitlines()
    assert said[0] in read(page, tails)
    assert "Left tail lamp, turn loses 0.72 V on its feed" in said[1]
    assert said[3].startswith("  Without it: Flasher flashes 180 times a minute with left")


def test_resistors_come_from_the_shops_shelf_where_it_says_what_is_on_it(page, tails):
    ways = {"joint": "crimp_butt", "ground": "wire", "wire_standard": "awg", "correction": "flasher"}
    assert page.post("/schools/", {**ways, "stock_ohm": "two, 6"}).status_code == 422
    assert page.post("/schools/", {**ways, "stock_ohm": "4.7 ohm, 6"}).status_code == 302
    assert "Load resistor 6 Ω" in cures_of(page, tails)
    page.post("/schools/", {**ways, "stock_ohm": "25, 50"})
    assert "None of the resistors in stock works" in cures_of(page, tails)
    page.post("/schools/", {**ways, "stock_ohm": ""})
    assert "Load resistor 6 Ω" in cures_of(page, tails)


def test_a_cure_is_taken_beside_another_and_given_up_by_itself(page, tails):
    page.post(f"/jobs/{tails.id}/units/begin/")
    assert "One lead feeds another" in page.get(f"/jobs/{tails.id}/units/").content.decode()
    leak(tails, 2.0)
    cures = cures_of(page, tails)
    assert "Together: " in cures
    take(page, tails, number_of(tails, "flasher"))
    assert "Add to the chosen fix" in cures_of(page, tails)
    take(page, tails, "more-0")
    assert {each.cure for each in decided(tails).cures} == {"flasher", "diode"}
    assert "Fixed. Build it." in read(page, tails)
    take(page, tails, "drop-diode")
    assert {each.cure for each in decided(tails).cures} == {"flasher"}
    assert take(page, tails, "more-7").status_code == 422
    take(page, tails, "")
    take(page, tails, "all")
    assert {each.cure for each in decided(tails).cures} == {"flasher", "diode"}


def test_the_road_to_a_lamp_that_must_be_dark_is_drawn_and_its_ring_leads_there(page, tails):
    page.post(f"/jobs/{tails.id}/units/begin/")
    leak(tails, 13.48)
    text = page.get(f"/jobs/{tails.id}/correct/", {"at": "brake"}).content.decode()
    assert "How current gets to" in text
    assert "tail lamp, inside" in text
    assert "lets it through" in text
    assert 'href="#road"' in text
    assert odd_words(text) == []


def test_what_looks_leave_no_doubt_about_is_what_the_circuit_has(page, tails):
    assert "180 times a minute" in read(page, tails)
    page.post(f"/jobs/{tails.id}/correct/flasher/", {"flasher": "", "clicks": "soft"})
    assert job_overview(tails.id).derived.facts.vehicle.flasher is None
    sure = {"flasher": "", "clicks": "soft", "one_out": "steady", "prongs": "two"}
    page.post(f"/jobs/{tails.id}/correct/flasher/", sure)
    assert job_overview(tails.id).derived.facts.vehicle.flasher is FlasherKind.BIMETAL
    assert "Assumed." in read(page, tails)
    page.post(f"/jobs/{tails.id}/correct/flasher/", {**sure, "flasher": "electronic"})
    assert job_overview(tails.id).derived.facts.vehicle.flasher is FlasherKind.ELECTRONIC


def test_a_complaint_that_the_flasher_cannot_have_and_a_vehicle_without_one_are_noticed(page, tails):
    Job.objects.filter(pk=tails.id).update(complaint="slow_flash")
    page.post(f"/jobs/{tails.id}/correct/flasher/", {"flasher": "electronic"})
    assert "it doesn&#x27;t slow down. Check which flasher it is" in read(page, tails)
    job = Job.objects.get(pk=tails.id)
    job.vehicle.say(body="trailer")
    job.vehicle.save()
    assert "A trailer has no flasher" in cures_of(page, tails)


def test_factory_leds_are_asked_for_where_they_are_said_and_hold_for_both_sides(page, tails):
    assumed = flat(read(page, tails, "hook-up/assumed/"))
    assert "Stop and turn left: bulbs (assumed). With factory LEDs the plan changes." in assumed
    lead = re.search(r'href="\?lead=([^&]+)&amp;drawer=loads"', assumed)[1]
    assert "drawer-loads" in read(page, tails, f"hook-up/?lead={lead}&drawer=loads")
    assert "Now fix the problems it causes" in read(page, tails, "hook-up/")
    sent = {**CHOICE, "host_count": "", "version": HookUp.objects.get().version, "lead": lead}
    sent |= {"circuit": "stop_turn_left", "host_bulb": "LED main", "out_m": "", "back_m": ""}
    assert page.post(f"/jobs/{tails.id}/hook-up/", sent, headers=HTMX).status_code == 200
    assert HookUp.objects.get().circuits["stop_turn_left"]["host_bulb"] == "LED main"
    assert "no LEDs" not in read(page, tails, "hook-up/assumed/")
    assert "Now fix the problems it causes" not in read(page, tails, "hook-up/")


def test_a_fix_that_the_facts_now_refuse_stands_on_build_and_prove_with_the_way_to_correct(page, tails):
    take(page, tails, number_of(tails, "flasher"))
    assert job_overview(tails.id).plan.is_begun
    tails.vehicle.say(computer="yes")
    tails.vehicle.save()
    for address in ("build/", "prove/"):
        told = read(page, tails, address)
        assert "Don’t build this." in told
        assert f'href="/jobs/{tails.id}/correct/">Go to Correct' in told
