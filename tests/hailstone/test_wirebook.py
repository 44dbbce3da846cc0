"""The wire book: kept, searched, begun from, as a file."""

from __future__ import annotations

import pytest
from django.core.files.uploadedfile import SimpleUploadedFile

from briefs import BRIEF
from hailstone.jobs.services import begin_job
from hailstone.wirebook.models import Finding
from migrating import begun_job, latest, migrated

pytestmark = pytest.mark.django_db


@pytest.fixture
def kept(page, job, settled):
    page.post(f"/jobs/{job.id}/identify/{settled.id}/keep/")


def take_in(page, text):
    return page.post("/wire-book/import/", {"file": SimpleUploadedFile("book.csv", text.encode())}, follow=True)


def test_what_is_settled_by_measurement_is_kept_once(page, job, settled, kept):
    page.post(f"/jobs/{job.id}/identify/{settled.id}/keep/")
    assert [(f.pin, f.function) for f in Finding.objects.order_by("pin")] == [
        ("1", "ground"), ("2", "tail"), ("3", "reverse"), ("4", "stop"), ("5", "turn_left"),
    ]  # fmt: skip
    found = Finding.objects.get(pin="3")
    assert (found.make, found.year_from, found.colour, found.how) == ("Merrow", 2014, "WH/GN", "6 readings: volts DC")


def test_a_place_that_is_called_otherwise_and_kept_again_is_one_place(page, job, settled, kept):
    settled.name = "lamp by the ladder"
    settled.save()
    page.post(f"/jobs/{job.id}/identify/{settled.id}/keep/")
    assert set(Finding.objects.values_list("place", flat=True)) == {"lamp by the ladder"}


def test_findings_of_before_refer_to_the_place_they_named(transactional_db):
    end, old = (
        latest(),
        migrated([("wirebook", "0001_initial"), ("jobs", "0009_tools"), ("identify", "0005_all_wires")]),
    )
    job, who = begun_job(old)
    point = old.get_model("identify", "AccessPoint").objects.create(job=job, name="left tail lamp")
    for place, of in (("left tail lamp", job), ("a plug", job), ("left tail lamp", None)):
        old.get_model("wirebook", "Finding").objects.create(
            make="Merrow", model="Skua", place=place, pin="1", function="tail", job=of, who=who
        )
    migrated(end)
    assert list(Finding.objects.order_by("id").values_list("point", flat=True)) == [point.id, None, None]


@pytest.mark.parametrize(("q", "found"), [("skua reverse", 1), ("2014", 5), ("WH/GN", 1), ("skua 1999", 0), ("", 5)])
def test_the_book_is_searched_by_vehicle_year_colour_and_function(page, kept, q, found):
    assert page.get("/wire-book/", {"q": q}).content.decode().count("Delete</button>") == found


def test_a_job_on_the_same_kind_of_vehicle_begins_from_it_as_a_prior(page, who, kept):
    again = begin_job(who, {**BRIEF, "title": "Second van"})
    form = page.get(f"/jobs/{again.id}/identify/new/").content.decode()
    assert "?book=" in form
    other = begin_job(who, {**BRIEF, "title": "Other", "model": "Tern"})
    assert "?book=" not in page.get(f"/jobs/{other.id}/identify/new/").content.decode()
    link = form.split("?book=")[1].split('"')[0]
    form = page.get(f"/jobs/{again.id}/identify/new/?book={link}").content.decode()
    assert "3 WH/GN = reverse" in form
    sent = {
        "name": "left tail lamp",
        "kind": "rear_lamp",
        "side": "left",
        "wires": "3 WH/GN = reverse",
        "claims_origin": "wire_book",
        "claims_from": "seen once",
    }
    text = page.post(f"/jobs/{again.id}/identify/new/", sent, follow=True).content.decode()
    assert "The wire book has reverse on pin 3 (seen once)." in text
    assert "settled" not in text.split('id="wires"')[1].split("</table>")[0].replace("not settled", "")


def test_the_book_goes_out_and_comes_in_the_same(page, kept):
    text = page.get("/wire-book/wire-book.csv").content.decode()
    before = list(Finding.objects.order_by("pin").values_list("make", "place", "pin", "colour", "function", "how"))
    assert "0 of 5 findings were new" in take_in(page, text).content.decode()
    Finding.objects.all().delete()
    take_in(page, text)
    after = list(Finding.objects.order_by("pin").values_list("make", "place", "pin", "colour", "function", "how"))
    assert after == before


def test_a_bad_book_is_refused_whole_with_every_reason(page, kept):
    text = "make,model,access_point,pin,function,year_from,year_to,measured_on\n"
    text += "Oxbow,7,lamp,1,disco,,,\nOxbow,7,lamp,,tail,2020,2010,\nOxbow,7,lamp,2,tail,,,yesterday\n"
    shown = take_in(page, text).content.decode()
    for complaint in ("3 bad rows", "disco", "pin is empty", "is no day"):
        assert complaint in shown
    assert Finding.objects.count() == 5


def test_a_finding_is_taken_out(page, kept):
    page.post(f"/wire-book/{Finding.objects.get(pin='3').id}/take-out/")
    assert Finding.objects.count() == 4
