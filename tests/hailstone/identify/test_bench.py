"""The bench: readings saved one by one, marked, undone, taken in from a file."""

from __future__ import annotations

import re

import pytest
from django.core.files.uploadedfile import SimpleUploadedFile
from django.db import connection
from django.test.utils import CaptureQueriesContext

from briefs import BRIEF
from electrics.formats.readings_csv import read_readings
from electrics.identify.setups import odd_cells
from hailstone.demo.jobs import load_demo
from hailstone.identify.models import Reading, ReadingChange
from hailstone.jobs.models import Job
from hailstone.layers.beliefs import beliefs
from hailstone.layers.overviews import job_overview
from page_words import flat

pytestmark = pytest.mark.django_db
HTMX = {"HX-Request": "true"}


@pytest.fixture
def save(page, job, point):
    def _save(label, text, state="reverse", **more):
        sent = {"pin": point.pins.get(label=label).id, "text": text, "state": state, "supply": "12.6", **more}
        return page.post(f"/jobs/{job.id}/identify/{point.id}/readings/", sent, headers=HTMX)

    return _save


def bench(page, job, point, query=""):
    return page.get(f"/jobs/{job.id}/identify/{point.id}/{query}").content.decode()


def test_a_second_reading_that_reads_otherwise_is_the_last_one_of_its_cell(page, job, settled):
    """The control set anew and the clip moved: whatever it reads then is not asked for a third time."""
    address, pin = f"/jobs/{job.id}/identify/{settled.id}/", settled.pins.get(label="3")
    sent = {"pin": pin.id, "state": "reverse", "supply": "12.6"}

    def asked():
        belief = beliefs(job_overview(job.id).job)[settled.id]
        return [(pin, str(setup.state)) for pin, setup in odd_cells(belief)]

    for state in ("park", "brake", "left"):
        page.post(f"{address}readings/", {**sent, "state": state, "text": "0.0"})
    page.post(f"{address}readings/", {**sent, "state": "brake", "text": "12.3"})
    assert asked() == [("3", "brake")]
    page.post(f"{address}readings/", {**sent, "state": "brake", "text": "11.9", "repeated": "1"})
    assert asked() == []
    page.post(f"{address}readings/", {**sent, "state": "brake", "text": "12.1"})
    assert asked() == [("3", "brake")], "a typing mistake that is put right is no second reading"


def test_a_reading_is_kept_and_every_verdict_answers(save, point):
    response = save("3", "12,2")
    text = flat(response.content.decode())
    assert Reading.objects.get().text == "12,2"
    assert "saved" in text
    assert all(f'id="v{pin.id}" hx-swap-oob="true"' in text for pin in point.pins.all())
    assert "Reverse" in text


def test_advice_and_reasons_follow_a_reading_by_the_address_that_it_names(save, page, job, point):
    found = re.search(r'id="follows"[^>]* hx-get="([^"]+)"', save("3", "12.2").content.decode())
    text = page.get(found[1].replace("&amp;", "&")).content.decode()
    assert all(f'id="{part}"' in text for part in ("advice", "why", "places"))
    assert "12.2 V · reverse" in text


def test_a_reading_takes_no_more_than_twelve_queries_whether_it_is_new_or_typed_over(save, point):
    save("1", "0.0")
    for text in ("12.2", "0.0"):
        with CaptureQueriesContext(connection) as taken:
            save("3", text)
        asked = [query["sql"] for query in taken if not query["sql"].startswith(("SAVEPOINT", "RELEASE"))]
        assert len(asked) <= 12


def test_a_reading_that_cannot_be_read_stays_marked_and_the_rest_is_kept(save, page, job, point):
    save("1", "0.0")
    response = save("3", "about twelve")
    assert 'data-mark="bad"' in response.content.decode()
    assert "Expected volts like 12.4" in response.content.decode()
    text = bench(page, job, point, "?state=reverse")
    assert 'value="about twelve"' in text
    assert 'value="0.0"' in text


def test_a_unit_of_another_instrument_is_marked(save):
    assert "is in ohm" in save("3", "0.4 ohm").content.decode()
    assert 'data-mark="bad"' not in save("3", "0.4 ohm", "rest", instrument="ohms").content.decode()


def test_an_emptied_cell_takes_the_reading_away(save):
    save("3", "12.2")
    save("3", "")
    assert not Reading.objects.exists()
    assert [change.after for change in ReadingChange.objects.all()] == ["", "12.2"]


@pytest.mark.parametrize(
    ("more", "complaint"),
    [
        ({"supply": "flat"}, "Battery now"),
        ({"supply": "120"}, "Expected 4.5 to 32 V"),
        ({"text": "9" * 70}, "longer than 60"),
    ],
)
def test_what_cannot_be_kept_is_said_and_nothing_changes(save, more, complaint):
    response = save("3", **{"text": "12.2", **more})
    assert response.status_code == 422
    assert complaint in response.content.decode()
    assert not Reading.objects.exists()


@pytest.mark.parametrize("more", [{"state": "clutch"}, {"instrument": "sundial"}, {"load": "maybe"}])
def test_an_address_with_an_unknown_column_is_not_found(save, page, job, point, more):
    assert save("3", "12.2", **more).status_code == 404


def test_the_odd_reading_is_named_and_measured_again(save, page, job, settled):
    save("2", "12.2", "low")
    assert "disagrees with the rest" in save("2", "0.0", "high").content.decode()
    odd = "Pin 2 read 0 V in high beam, but every other reading says tail. Measure again."
    assert odd in bench(page, job, settled, "follows/?state=high")
    assert "Measure again" not in save("2", "12.3", "high").content.decode()
    assert "Measure again" not in bench(page, job, settled, "follows/?state=high")


def test_undo_takes_back_my_last_change_step_by_step(save, page, job, point):
    save("3", "1.2")
    save("3", "12.2")
    address = f"/jobs/{job.id}/identify/{point.id}/undo/"
    assert "back to “1.2”" in page.post(address, {"state": "reverse"}, follow=True).content.decode()
    assert Reading.objects.get().text == "1.2"
    page.post(address, {"state": "reverse"})
    assert not Reading.objects.exists()
    assert (
        "Nothing of yours is left to undo" in page.post(address, {"state": "reverse"}, follow=True).content.decode()
    )


def test_undo_leaves_alone_what_somebody_else_wrote_since(save, page, job, point, django_user_model):
    save("3", "1.2")
    page.force_login(django_user_model.objects.create_user("odd", password="x"))
    save("3", "12.2")
    page.force_login(django_user_model.objects.get(username="ina"))
    page.post(f"/jobs/{job.id}/identify/{point.id}/undo/", {"state": "reverse"})
    assert Reading.objects.get().text == "12.2"


def test_history_says_who_when_before_and_after(save, page, job, point):
    address = f"/jobs/{job.id}/identify/{point.id}/history/"
    assert "No reading has been typed here yet." in page.get(address).content.decode()
    save("3", "1.2", "brake+left")
    save("3", "12.2", "brake+left")
    page.post(f"/jobs/{job.id}/identify/{point.id}/undo/", {"state": "rest"})
    text = flat(page.get(address).content.decode())
    assert text.count("<td>ina</td>") == 2
    assert text.index("<b>12.2</b>") < text.index("<b>1.2</b>")
    assert "<td>Brake + left</td><td>1.2</td>" in text
    assert text.count("<td>undone</td>") == 1


def test_a_good_file_is_taken_in_whole(page, job, point):
    text = 'pin,colour,state,reading\n3,WH/GN,reverse,"12,2"\n6,PK,reverse,0\n'
    response = page.post(
        f"/jobs/{job.id}/identify/{point.id}/import/",
        {"file": SimpleUploadedFile("r.csv", text.encode())},
        follow=True,
    )
    assert "2 readings taken in from r.csv" in response.content.decode()
    assert point.pins.filter(label="6", colour="PK").exists()
    assert Reading.objects.count() == 2


@pytest.mark.parametrize(
    ("data", "complaints"),
    [
        (b"pin,state,reading\n1,rest,x\n2,clutch,0\n3,rest,0\n", ["2 bad rows", "line 2:", "line 3:"]),
        (b"pin,state,reading\n1,rest,\xff\n", ["is not UTF-8"]),
        (b"\x89PNG\r\n\x1a\n", ["is not UTF-8"]),
        (b"pin,state,reading\n" + b"1,rest,0\n" * 120_000, ["larger than 1 MB"]),
        (None, ["No file was chosen"]),
    ],
)
def test_a_bad_file_is_refused_whole_with_every_reason(page, job, point, data, complaints):
    sent = {} if data is None else {"file": SimpleUploadedFile("r.csv", data)}
    response = page.post(f"/jobs/{job.id}/identify/{point.id}/import/", sent)
    assert response.status_code == 422
    for complaint in complaints:
        assert complaint in response.content.decode()
    assert not Reading.objects.exists()


def test_what_is_exported_reads_back_the_same(page, job, settled, save):
    save("2", "no idea", "key")
    rows = read_readings(page.get(f"/jobs/{job.id}/identify/{settled.id}/readings.csv").content.decode())
    readable = Reading.objects.exclude(text="no idea")
    assert len(rows) == readable.count()
    assert {(row.pin, str(row.state), row.text) for row in rows} == {
        (r.pin.label, r.state, r.text) for r in readable.select_related("pin")
    }


@pytest.mark.parametrize(
    ("wires", "complaint"),
    [
        ("1 BK\n1 BN", "Pin 1 is listed twice"),
        ("1 GR", "GR can mean grey or green"),
        ("", "required"),
        ("\n".join(f"{n} BK" for n in range(61)), "more than 60"),
    ],
)
def test_wires_that_make_no_sense_are_asked_about(page, job, wires, complaint):
    sent = {"name": "lamp", "kind": "rear_lamp", "side": "left", "wires": wires}
    response = page.post(f"/jobs/{job.id}/identify/new/", sent)
    assert response.status_code == 422
    assert complaint in response.content.decode()


def test_a_lamp_needs_its_side_and_a_name_of_its_own(page, job, point):
    sent = {"name": "left tail lamp", "kind": "rear_lamp", "side": "", "wires": "1 BK"}
    text = page.post(f"/jobs/{job.id}/identify/new/", sent).content.decode()
    assert "is on the left or the right" in text
    assert "of that name already" in text


def test_a_claim_is_kept_with_its_origin_and_disputed_loudly_when_wrong(page, job, settled):
    wires = "1 BK\n2 BN = Tail\n3 WH/GN = backup\n4 YE = park\n5 VT"
    sent = {
        "version": "1",
        "name": "lamp",
        "kind": "rear_lamp",
        "side": "left",
        "wires": wires,
        "claims_from": "the chart",
    }
    assert page.post(f"/jobs/{job.id}/identify/{settled.id}/edit/", sent).status_code == 302
    text = bench(page, job, settled)
    assert text.count("The chart says pin 4 is tail; it measures as stop. Trust the measurement.") == 2
    assert "The chart says pin 3 is reverse." in text
    assert flat(text).count("≠ not as expected") == 1
    form = page.get(f"/jobs/{job.id}/identify/{settled.id}/edit/").content.decode()
    assert "4 YE = tail" in form
    assert 'value="the chart"' in form


def test_two_pins_swapped_against_the_chart_are_named_together(page, job, settled):
    wires = "1 BK\n2 BN = stop\n3 WH/GN\n4 YE = tail\n5 VT"
    sent = {"version": "1", "name": "lamp", "kind": "rear_lamp", "side": "left", "wires": wires}
    page.post(f"/jobs/{job.id}/identify/{settled.id}/edit/", sent)
    text = bench(page, job, settled)
    assert "Pins 2 and 4 are swapped against what was said of them." in text
    assert "Pins 4 and 2 are swapped" not in text


def test_a_new_place_takes_its_wires_with_their_claims(page, job):
    sent = {
        "name": "lamp",
        "kind": "rear_lamp",
        "side": "left",
        "wires": "1 BK\n2 BN = tail",
        "claims_from": "a sheet",
    }
    response = page.post(f"/jobs/{job.id}/identify/new/", sent, follow=True)
    assert "A sheet says pin 2 is tail." in response.content.decode()


def test_the_demo_loads_into_an_empty_database_and_leaves_a_full_one_alone(db):
    load_demo()
    assert any(job_overview(job.id).is_signed for job in Job.objects.all())
    notes = {layer.note for job in Job.objects.all() for layer in job_overview(job.id).layers}
    assert {"signed", "no wires"} <= notes
    assert any("1 odd" in note for note in notes)
    load_demo()
    assert Job.objects.count() == 13


def test_a_claim_that_is_no_function_is_asked_about(page, job):
    sent = {"name": "lamp", "kind": "rear_lamp", "side": "left", "wires": "1 BK = disco"}
    response = page.post(f"/jobs/{job.id}/identify/new/", sent)
    assert response.status_code == 422
    assert "“disco” isn&#x27;t a wire function" in response.content.decode()


def test_changing_the_wires_keeps_the_readings_of_those_that_stay(page, job, settled):
    everything = Reading.objects.count()
    before = Reading.objects.filter(pin__label__in="1235").count()
    sent = {"version": "1", "name": "lamp", "kind": "rear_lamp", "side": "left", "wires": "1 BK\n2 BN\n3 WH\n5 VT"}
    refused = page.post(f"/jobs/{job.id}/identify/{settled.id}/edit/", sent)
    assert refused.status_code == 422
    assert "Pin 4 is no longer listed, and has readings or a choice." in refused.content.decode()
    assert Reading.objects.count() == everything
    sent["gone"] = "renamed"  # no new name is there to take it
    assert page.post(f"/jobs/{job.id}/identify/{settled.id}/edit/", sent).status_code == 422
    sent["gone"] = "removed"
    assert page.post(f"/jobs/{job.id}/identify/{settled.id}/edit/", sent).status_code == 302
    assert Reading.objects.count() == before
    assert page.post(f"/jobs/{job.id}/identify/{settled.id}/edit/", sent).status_code == 409


def test_a_pin_of_another_name_keeps_its_readings_and_those_against_it(page, job, settled):
    before = dict(Reading.objects.filter(pin__label="4").values_list("state", "text"))
    Reading.objects.filter(pin__label="3", state="brake").update(against=settled.pins.get(label="4"))
    sent = {"version": "1", "name": "lamp", "kind": "rear_lamp", "side": "left"}
    sent["wires"] = "1 BK\n2 BN\n3 WH\n4b GN\n5 VT"
    refused = page.post(f"/jobs/{job.id}/identify/{settled.id}/edit/", sent)
    assert (refused.status_code, "4 is 4b now" in refused.content.decode()) == (422, True)
    sent["gone"] = "renamed"
    assert page.post(f"/jobs/{job.id}/identify/{settled.id}/edit/", sent).status_code == 302
    assert dict(Reading.objects.filter(pin__label="4b").values_list("state", "text")) == before
    assert Reading.objects.get(pin__label="3", state="brake").against_label == "4b"


def test_a_pin_that_others_were_read_against_is_not_removed_unasked_and_takes_those_readings(page, job, settled):
    """Left behind, they would count as read against ground."""
    Reading.objects.filter(pin__label="4").delete()
    Reading.objects.filter(pin__label="3", state="brake").update(against=settled.pins.get(label="4"))
    sent = {"version": "1", "name": "lamp", "kind": "rear_lamp", "side": "left", "wires": "1 BK\n2 BN\n3 WH\n5 VT"}
    refused = page.post(f"/jobs/{job.id}/identify/{settled.id}/edit/", sent)
    assert (refused.status_code, "4 is no longer listed" in refused.content.decode()) == (422, True)
    page.post(f"/jobs/{job.id}/identify/{settled.id}/edit/", sent | {"gone": "removed"})
    assert not Reading.objects.filter(pin__label="3", state="brake").exists()


def test_switches_lead_to_the_state_with_that_control_changed(page, job, point):
    text = bench(page, job, point, "?state=brake%2Bleft")
    assert 'href="?state=brake%2Bright&' in text
    assert 'href="?state=left&' in text
    assert 'href="?state=rest&' in text


def test_a_large_connector_shows_every_wire(page, job, point):
    wires = "\n".join(f"{n} BK" for n in range(1, 25))
    sent = {"version": "1", "name": "plug", "kind": "connector", "side": "", "wires": wires}
    page.post(f"/jobs/{job.id}/identify/{point.id}/edit/", sent)
    assert bench(page, job, point).count('class="reading"') == 24


def test_a_wire_that_the_job_needs_and_that_is_not_here_is_said_at_once(save, page, job, point):
    """With the key off in reverse every wire reads nothing: the wanted one is missed, not called ground in silence."""
    for pin in point.pins.all():
        save(pin.label, "0", "rest")
    assert "which this job needs" not in bench(page, job, point)
    for pin in point.pins.all():
        save(pin.label, "0")
    assert "None of these wires is reverse, which this job needs" in bench(page, job, point)
    save("3", "12.2", "park+reverse")
    save("3", "12.2", "brake+reverse")
    assert "which this job needs" not in bench(page, job, point)


def test_what_the_battery_or_the_key_feeds_is_missed_on_no_lamp(save, page, job, point):
    Job.objects.filter(pk=job.pk).update(addition="own", own_leads="red = battery\nblue = ignition and reverse")
    for pin in point.pins.all():
        for state in ("rest", "key", "reverse"):
            save(pin.label, "0", state)
    assert re.findall("None of these wires is (.+?), which this job needs", bench(page, job, point)) == ["reverse"]


def test_a_state_that_was_not_on_is_told_as_one_mistake_and_its_cells_are_marked(save, page, job, settled):
    for pin in settled.pins.all():
        save(pin.label, "0", "park+brake+reverse")
    text = bench(page, job, settled, "?state=rest")
    assert "looks like nothing was on" in text
    assert text.count("disagrees with the rest") >= 5


def test_what_is_at_hand_is_said_once_and_kept_to(page, job, point):
    sent = {**BRIEF, "version": "1", "tools": ["led_probe"]}
    assert page.post(f"/jobs/{job.id}/", sent).status_code == 302
    text = bench(page, job, point)
    assert "with the LED probe: red, green" in text
    assert "Read volts" not in text
    everything = {**BRIEF, "version": "2", "tools": ["multimeter", "test_lamp", "led_probe", "clamp"]}
    page.post(f"/jobs/{job.id}/", everything)
    assert Job.objects.get().tools == ""
    assert "Read volts on" in bench(page, job, point)


def test_advice_is_for_the_taps_of_the_job_and_ends_when_they_are_sure(save, page, job, point):
    """A reverse lamp: reverse on, the wire that lights; dark at rest and with its doubles; a ground that holds."""
    assert "For the" in bench(page, job, point)
    for pin in point.pins.all():
        save(pin.label, "12.2" if pin.label == "3" else "0.0")
    assert "Enough for this job" not in bench(page, job, point)
    save("3", "0.0", "rest")
    save("3", "0.0", "low+brake")
    for state in ("rest", "low+brake", "left"):
        save("1", "0.0", state)
    for label, ohms in (("1", "0.2"), ("2", "1.9"), ("4", "0.6"), ("5", "0.6")):
        save(label, ohms, "rest", instrument="ohms", load="out" if label == "1" else "in")
    save("2", "12.1", "park")
    save("4", "12.1", "brake")
    text = flat(bench(page, job, point))
    assert "Enough for this job: pin 3 is reverse and pin 1 is ground." in text
    assert "Hook up" in text
    assert "2 of 2" in text


def test_a_switch_asks_for_every_wire_and_is_remembered_with_the_job(page, job, settled):
    address = f"/jobs/{job.id}/identify/{settled.id}/chart/"
    assert "Chart every wire" in bench(page, job, settled)
    page.post(address, {"wires": "every"})
    assert Job.objects.get().charts_all
    assert "Only what this job needs" in bench(page, job, settled)
    page.post(address, {"wires": "job"})
    assert "Enough for this job" in bench(page, job, settled)


def test_another_lamp_brings_the_advice_back_and_nothing_measured_is_lost(page, job, settled):
    readings = Reading.objects.count()
    Job.objects.filter(pk=job.pk).update(addition="own", own_leads="red = fog_rear")
    text = bench(page, job, settled)
    assert "Enough for this job" not in text or "no wire here is rear fog" in text
    assert Reading.objects.count() == readings


def test_what_the_job_hangs_on_is_not_struck_out(page, job, point):
    assert "No reverse on this vehicle" not in bench(page, job, point)
    answer = page.post(f"/jobs/{job.id}/identify/{point.id}/not-fitted/", {"controls": "reverse"}, follow=True)
    assert "This job needs reverse" in answer.content.decode()
    assert not Job.objects.get().vehicle.said.not_fitted


def test_a_reading_that_is_to_be_taken_again_is_confirmed_by_one_press(save, page, job, point):
    save("1", "0.004", "rest", instrument="loaded_drop")
    text = flat(bench(page, job, point))
    assert "Move the clip and measure pin 1 again" in text
    assert "Pin 1 reads 0.004 again" in text
    save("1", "", "rest", instrument="loaded_drop", again="1")
    assert Reading.objects.get().is_confirmed
    assert "measure pin 1 again" not in flat(bench(page, job, point))
