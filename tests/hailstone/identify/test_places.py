"""Faces, the other side, photos, the call sheet, and two people at one bench."""

from __future__ import annotations

import io
from datetime import UTC, datetime

import pytest
from django.core.files.uploadedfile import SimpleUploadedFile
from PIL import Image

from briefs import BRIEF
from electrics.job.sites import Sites
from hailstone.identify.face import make_face
from hailstone.identify.models import AccessPoint, Photo, Reading
from hailstone.jobs.services import begin_job
from hailstone.layers.beliefs import beliefs
from hailstone.layers.job_facts import job_facts
from hailstone.layers.overviews import job_overview
from page_words import flat

pytestmark = pytest.mark.django_db


@pytest.fixture
def address(job, point):
    return f"/jobs/{job.id}/identify/{point.id}/"


def lay_out(page, job, **more):
    sent = {"name": "plug", "kind": "connector", "side": "", "wires": "", **more}
    return page.post(f"/jobs/{job.id}/identify/new/", sent, follow=True).content.decode()


def face_of(name):
    place = AccessPoint.objects.get(name=name)
    view = job_overview(place.job_id)
    return make_face(place, list(place.pins.all()), beliefs(view.job)[place.id], frozenset())


def test_a_standard_plug_brings_its_pins_and_is_drawn_from_the_side_that_is_said(page, job):
    lay_out(page, job, name="socket", kind="blade_7")
    lay_out(page, job, name="behind", kind="blade_7", seen_from="wires")
    front, back = face_of("socket"), face_of("behind")
    assert [contact.label for contact in front.contacts] == list("1234567")
    assert "looking into it" in front.title
    assert "wire side" in back.title
    for a, b in zip(front.contacts, back.contacts, strict=True):
        assert (a.x + b.x, a.y) == (100, b.y)


def test_a_connector_of_n_cavities_is_a_numbered_grid(page, job):
    text = lay_out(page, job, wires="1-12", face_rows="2")
    assert 'class="face"' in text
    contacts = face_of("plug").contacts
    assert len(contacts) == 12
    assert len({contact.y for contact in contacts}) == 2


def test_a_fuse_box_speaks_of_slots_and_names_every_control_that_lights_one(page, job):
    assert "slots" in lay_out(page, job, name="fuses", kind="fuse_box", wires="1-3\nF7")
    place = AccessPoint.objects.get(name="fuses")
    for state, text in (("brake", "12.2"), ("park", "0"), ("left", "0-12")):
        sent = {"pin": place.pins.get(label="F7").id, "state": state, "supply": "12.6", "text": text}
        page.post(f"/jobs/{job.id}/identify/{place.id}/readings/", sent)
    text = page.get(f"/jobs/{job.id}/identify/{place.id}/").content.decode()
    assert "Found live in brake and left (flashing)." in text
    assert "Stop and turn left" in text


def test_the_other_side_starts_with_the_functions_mirrored_and_the_colours_unknown(page, job, settled, address):
    text = page.post(address + "repeat/", follow=True).content.decode()
    other = AccessPoint.objects.get(name="right tail lamp")
    assert [pin.claim for pin in other.pins.all()] == ["ground", "tail", "reverse", "stop", "turn_right"]
    assert {pin.colour for pin in other.pins.all()} == {""}
    assert not Reading.objects.filter(pin__point=other).exists()
    assert "As on the other side (left tail lamp): stop expected on pin 4." in text
    again = page.post(address + "repeat/", follow=True).content.decode()
    assert "is there already" in again


def test_the_same_vehicle_comes_back_with_its_wires_as_dated_claims(page, who, job, settled):
    Reading.objects.update(taken_at=datetime(2026, 3, 1, 12, tzinfo=UTC))
    again = begin_job(who, {**BRIEF, "title": "Camera"}, vehicle=job.vehicle)
    offered = page.get(f"/jobs/{again.id}/identify/earlier/").content.decode()
    assert "Start from left tail lamp" in offered
    assert "measured 1 Mar 2026" in flat(offered)
    text = page.post(f"/jobs/{again.id}/identify/earlier/", {"place": settled.id}, follow=True).content.decode()
    point = again.points.get()
    assert [pin.claim for pin in point.pins.all()] == ["ground", "tail", "reverse", "stop", "turn_left"]
    assert "Measured on 1 Mar 2026, pin 4 was stop." in text
    assert not any(wire.is_settled for wire in beliefs(job_overview(again.id).job)[point.id].wires)
    assert "Start from" not in page.get(f"/jobs/{again.id}/identify/earlier/").content.decode()
    gone = page.post(f"/jobs/{again.id}/identify/earlier/", {"place": settled.id}, follow=True).content.decode()
    assert "Not added" in gone
    assert "Start from" not in page.get(f"/jobs/{job.id}/identify/earlier/").content.decode()


def test_a_connector_says_where_it_is_and_how_far_and_wire_lengths_start_there(page, job):
    text = lay_out(page, job, wires="1-4", zone="behind cab", far_m="2,1", far_from="battery")
    assert "behind the cab, 2.1 m from battery" in flat(text)
    plug = AccessPoint.objects.get(name="plug")
    facts = job_facts(job_overview(job.id).job)
    assert Sites.of(facts, ()).named_spot("plug").zone == "behind cab"
    assert facts.distances == {frozenset(("plug", "battery")): 2.1}
    edit = f"/jobs/{job.id}/identify/{plug.id}/edit/"
    sent = {"version": plug.version, "name": "frame plug", "kind": "connector", "wires": "1-4", "zone": "behind cab"}
    page.post(edit, sent | {"far_m": "3", "far_from": "dash"})
    facts = job_facts(job_overview(job.id).job)
    assert facts.distances == {frozenset(("frame plug", "dash")): 3.0}
    plug.refresh_from_db()
    page.post(edit, sent | {"version": plug.version, "far_m": "", "far_from": "dash"})
    assert not job_facts(job_overview(job.id).job).distances


@pytest.mark.parametrize(
    ("said", "complaint"),
    [
        ({"far_m": "2", "far_from": ""}, "from where the wire run was measured"),
        ({"far_m": "200", "far_from": "battery"}, "Expected 0.05 to 60 m"),
        ({"kind": "rear_lamp", "side": "left", "zone": "rear right"}, "this is on the right"),
        ({"zone": "moon"}, "Select a valid choice"),
    ],
)
def test_a_place_that_cannot_be_there_is_refused_with_what_to_do(page, job, said, complaint):
    assert complaint in lay_out(page, job, wires="1-4", **said)
    assert not AccessPoint.objects.exists()


def test_the_second_plug_of_a_splitter_expects_what_the_first_has_on_the_same_pins(page, job):
    plug = AccessPoint.objects.create(job=job, name="plug", kind="flat_4")
    for n, label in enumerate("1234"):
        plug.pins.create(label=label, colour="BN", position=n)
    here = f"/jobs/{job.id}/identify/{plug.id}/"
    assert "add its second plug" in page.get(here).content.decode()
    page.post(here + "second-plug/")
    second = AccessPoint.objects.get(name="plug, second plug")
    assert (second.kind, second.claims_origin, second.claims_from) == ("flat_4", "splitter", "plug")
    assert [pin.label for pin in second.pins.all()] == list("1234")
    assert "is there already" in page.post(here + "second-plug/", follow=True).content.decode()


def picture(kind="JPEG", size=(64, 48), **more):
    out = io.BytesIO()
    Image.new("RGB", size, "navy").save(out, kind, **more)
    return out.getvalue()


def test_a_photo_is_kept_without_the_position_where_it_was_taken(page, address, point):
    exif = Image.Exif()
    exif[0x8825] = {1: "N", 2: (54.0, 10.0, 0.0)}
    exif[0x010F] = "a camera"
    sent = SimpleUploadedFile("lamp.jpg", picture(exif=exif))
    page.post(address + "photo/", {"photo": sent})
    response = page.get(address + "photo/")
    assert response["Content-Type"] == "image/jpeg"
    with Image.open(io.BytesIO(response.content)) as kept:
        assert kept.size == (64, 48)
        assert not kept.getexif()
    assert "Photo of left tail lamp" in page.get(address).content.decode()
    page.post(address + "photo/", {"remove": "1"})
    assert not Photo.objects.exists()


@pytest.mark.parametrize(
    ("data", "complaint"),
    [
        (b"about the lamp", "is no picture that can be read here"),
        (picture()[:200], "is no picture that can be read here"),
        (picture("GIF"), "Expected a JPEG, PNG or WebP"),
        (b"\xff\xd8" + bytes(50_000_000), "has 50 MB"),
        (None, "No photo was chosen"),
    ],
    ids=["text", "cut off", "another kind", "50 MB", "none"],
)
def test_what_is_no_photo_gets_an_answer_and_the_old_one_stays(page, address, data, complaint):
    page.post(address + "photo/", {"photo": SimpleUploadedFile("good.png", picture("PNG"))})
    sent = {} if data is None else {"photo": SimpleUploadedFile("bad.jpg", data)}
    assert complaint in page.post(address + "photo/", sent, follow=True).content.decode()
    assert Photo.objects.count() == 1


def test_the_call_sheet_holds_three_states_with_room_to_write(page, job, point, address):
    text = page.get(address + "call-sheet/").content.decode()
    assert text.count('class="call"') == 3
    assert text.count('class="write-here"') >= 3


def test_two_people_in_one_cell_the_later_counts_and_both_are_told(page, job, point, address, django_user_model):
    other = django_user_model.objects.create_user("odd", password="x")
    sent = {"pin": point.pins.get(label="3").id, "state": "reverse", "supply": "12.6"}
    page.post(address + "readings/", {**sent, "text": "12.2", "seen": ""}, headers={"HX-Request": "true"})
    page.force_login(other)
    answer = page.post(address + "readings/", {**sent, "text": "0.3", "seen": ""}, headers={"HX-Request": "true"})
    assert "ina typed “12.2” here" in answer.content.decode()
    assert Reading.objects.get().text == "0.3"
    page.force_login(django_user_model.objects.get(username="ina"))
    assert "odd changed your “12.2” at pin 3" in page.get(address).content.decode()
    assert "odd changed your" in page.get(address + "news/", {"since": "0"}).content.decode()
    assert "odd changed your" not in page.post(address + "news/", {"since": "0"}).content.decode()
    assert page.get(address + "history/").content.decode().count("<td>ina</td>") == 1


@pytest.mark.parametrize("name", ["right tail lamp", "tail lamp RH"])
def test_a_name_and_a_side_that_contradict_each_other_are_asked_about(page, job, name):
    sent = {"name": name, "kind": "rear_lamp", "side": "left", "wires": "1 BK"}
    response = page.post(f"/jobs/{job.id}/identify/new/", sent)
    assert response.status_code == 422
    assert "The name says right and the side left. Which is it?" in response.content.decode()
    assert page.post(f"/jobs/{job.id}/identify/new/", {**sent, "side": "right"}).status_code == 302


@pytest.mark.parametrize(("name", "kind"), [("right license lamp", "licence_lamp"), ("right fuses", "fuse_box")])
def test_the_side_that_is_proposed_says_nothing_of_a_place_that_has_none(page, job, name, kind):
    sent = {"name": name, "kind": kind, "side": "left", "wires": "1 BK"}
    assert page.post(f"/jobs/{job.id}/identify/new/", sent).status_code == 302
    assert job.points.get(name=name).side == ""


@pytest.mark.parametrize(("body", "status"), [("motorcycle", 302), ("car", 422)])
def test_a_motorcycle_has_one_tail_lamp_in_the_middle(page, job, body, status):
    job.vehicle.say(body=body)
    job.vehicle.save()
    sent = {"name": "tail lamp", "kind": "rear_lamp", "side": "", "wires": "1\n2\n3"}
    assert page.post(f"/jobs/{job.id}/identify/new/", sent).status_code == status
