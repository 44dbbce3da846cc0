"""Many rows at once cost a fixed number of queries."""

from __future__ import annotations

import pytest
from django.core.files.uploadedfile import SimpleUploadedFile
from django.db import connection
from django.test.utils import CaptureQueriesContext

from hailstone.identify.models import Pin, Reading, ReadingChange
from hailstone.wirebook.models import Finding

pytestmark = pytest.mark.django_db
MOST_QUERIES = 30
STATES = ("rest", "park", "brake", "left", "right", "reverse", "low", "hazard")


def posted(page, address, name, text):
    with CaptureQueriesContext(connection) as counted:
        response = page.post(address, {"file": SimpleUploadedFile(name, text.encode())})
    assert response.status_code == 302
    return len(counted)


def test_400_readings_are_taken_in_within_30_queries_and_keep_their_history(page, job, point):
    rows = [f"loom,{n},BK,{state},{12.0 + n / 100:.2f}" for n in range(1, 51) for state in STATES]
    text = "access_point,pin,colour,state,reading\n" + "\n".join(rows)
    address = f"/jobs/{job.id}/identify/{point.id}/import/"
    assert posted(page, address, "many.csv", text) <= MOST_QUERIES
    assert Reading.objects.count() == 400 == ReadingChange.objects.count()
    assert Pin.objects.filter(point__name="loom", colour="BK").count() == 50
    assert [pin.label for pin in Pin.objects.filter(point__name="loom")][:3] == ["1", "2", "3"]
    again = text.replace("12.01", "0.00")
    assert posted(page, address, "again.csv", again) <= MOST_QUERIES
    assert Reading.objects.count() == 400
    assert Reading.objects.filter(text="0.00").count() == len(STATES)
    assert ReadingChange.objects.filter(before="12.01", after="0.00").count() == len(STATES)


def test_the_last_of_two_rows_of_one_cell_counts(page, job, point):
    text = "pin,state,reading\n3,reverse,0.0\n3,reverse,12.2\n"
    posted(page, f"/jobs/{job.id}/identify/{point.id}/import/", "two.csv", text)
    assert Reading.objects.get(pin__label="3", state="reverse").text == "12.2"


def test_2000_findings_are_taken_in_within_30_queries_and_only_once(page):
    rows = [f"Merrow,Skua,201{n % 9},lamp {n},{n},tail" for n in range(2000)]
    text = "make,model,year_from,access_point,pin,function\n" + "\n".join(rows)
    assert posted(page, "/wire-book/import/", "book.csv", text) <= MOST_QUERIES
    assert Finding.objects.count() == 2000
    assert posted(page, "/wire-book/import/", "book.csv", text) <= MOST_QUERIES
    assert Finding.objects.count() == 2000
