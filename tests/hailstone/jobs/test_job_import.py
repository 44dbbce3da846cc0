"""A job goes out as a file and comes in again as another, equal in every fact; nothing is overwritten."""

from __future__ import annotations

import html
import json
import re
from pathlib import Path

import pytest
from django.contrib.auth.models import User
from django.core.files.uploadedfile import SimpleUploadedFile

from electrics.formats.json_file import FileError
from electrics.job.file.reading import read_whole
from hailstone.jobs.models import Job, Vehicle
from hailstone.layers.job_import import file_of, take_in
from hailstone.layers.overviews import job_overview
from measured import all_pass
from stepped import build_all

pytestmark = pytest.mark.django_db
EXAMPLES = sorted((Path(__file__).parents[3] / "docs/formats/examples").glob("job-*.json"))


def without(document, *parts):
    return {name: part for name, part in document.items() if name not in (*parts, "title")}


def test_what_goes_out_comes_in_equal_with_steps_and_results(hooked_up, who):
    build_all(hooked_up, who)
    all_pass(hooked_up, job_overview(hooked_up.id).proof.sheet.lines, who)
    first = file_of(hooked_up.id)
    second, left = take_in(read_whole(first), who)
    again, was = json.loads(file_of(second.id)), json.loads(first)
    assert without(again) == without(was)
    assert again["title"] == f"{was['title']} 2"
    assert was["ticks"]
    assert was["results"]
    assert left == []
    assert (Job.objects.count(), Vehicle.objects.count()) == (2, 2)


def test_what_somebody_unknown_did_is_left_out_and_said(hooked_up, who):
    build_all(hooked_up, who)
    text = file_of(hooked_up.id)
    User.objects.filter(pk=who.pk).update(username="somebody else")
    job, left = take_in(read_whole(text), User.objects.get())
    assert not job.ticks.exists()
    assert any("left out" in line for line in left)


@pytest.mark.parametrize("path", EXAMPLES, ids=lambda path: path.stem)
def test_a_job_of_another_shop_keeps_its_lamps_hook_ups_and_lengths(path, who):
    """What is only said of a wire becomes a claim; everything else comes out as it went in."""
    file = read_whole(path.read_text())
    job, _ = take_in(file, who)
    (found, given) = (json.loads(file_of(each.id)) for each in (job, take_in(read_whole(file_of(job.id)), who)[0]))
    assert without(found) == without(given)
    assert [unit["name"] for unit in found["units"]] == [unit.name for unit in file.facts.units]
    assert len(found.get("distances", ())) == len(file.facts.distances)
    assert len(found.get("cures", ())) == len(file.facts.hookup.cures)


def test_a_name_too_long_for_its_field_is_refused_and_nothing_is_stored(hooked_up, who):
    document = json.loads(file_of(hooked_up.id))
    document["vehicle"]["make"] = "M" * 41
    with pytest.raises(FileError, match="longer than 40 characters"):
        take_in(read_whole(json.dumps(document)), who)
    assert Job.objects.count() == 1


def uploaded(page, text, name="job.json"):
    return page.post("/jobs/from-file/", {"file": SimpleUploadedFile(name, text.encode())})


def test_a_file_is_looked_at_before_it_is_taken_in(page, hooked_up):
    text = file_of(hooked_up.id)
    seen = uploaded(page, text)
    assert seen.status_code == 200
    told = html.unescape(seen.content.decode())
    assert f"A job called “{hooked_up.title}” is here already." in told
    assert f"{len(json.loads(text)['places'])} locations" in told
    carried = re.search(r"<textarea[^>]*>(.*)</textarea>", told, re.DOTALL)[1]
    assert Job.objects.count() == 1  # looked at, not taken in
    for n in (2, 3):  # the same file twice is two jobs, and the first stays as it was
        taken = page.post("/jobs/from-file/", {"text": carried, "take": "1"})
        assert taken.status_code == 302
        assert Job.objects.latest("pk").title == f"{hooked_up.title} {n}"
    assert file_of(hooked_up.id) == text


@pytest.mark.parametrize(
    "text",
    ["", "{", "pin,state\n1,rest", '{"format": "hailstone-hookup"}', '{"format": "hailstone-job", "version": 99}'],
)
def test_what_is_no_job_file_is_refused_and_nothing_is_stored(page, db, text):
    answer = uploaded(page, text)
    assert answer.status_code == 422
    assert "Nothing was taken in." in answer.content.decode()
    assert not Job.objects.exists()
