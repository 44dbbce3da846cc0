"""One broken job takes no other down; what would break one is refused before it is stored."""

from __future__ import annotations

import os
import sqlite3
import subprocess
import sys
from contextlib import closing

import pytest

from briefs import BRIEF
from electrics.document.lamp import Light, Seen, Trial
from hailstone.jobs.models import Job
from hailstone.jobs.services import begin_job
from hailstone.lamp.models import LeadTrial
from hailstone.lamp.services import lay_out, try_pair

pytestmark = pytest.mark.django_db
HTMX = {"HX-Request": "true"}


@pytest.fixture(params=["impossible", "bug"])
def broken(request, page, who, monkeypatch):
    """A job whose stored facts cannot be planned, or on which the program itself fails; and a sound one beside it."""
    sound = begin_job(who, {**BRIEF, "title": "A sound one"})
    job = begin_job(who, {**BRIEF, "title": "A broken one"})
    if request.param == "impossible":
        Job.objects.filter(pk=job.pk).update(added_count=12, added_each_a=26.0)
    else:
        from hailstone.layers import progress

        real = progress.job_facts

        def fails(planned):
            if planned.pk == job.pk:
                raise ZeroDivisionError("float division by zero")
            return real(planned)

        monkeypatch.setattr(progress, "job_facts", fails)
    return job, sound


def test_a_broken_job_is_shown_with_its_reason_and_a_way_in_and_the_others_as_ever(page, broken):
    job, sound = broken
    for path in ("/", "/?q=one"):
        text = page.get(path).content.decode()
        assert "Brief: cannot be computed" in text
        assert "Identify: no wires" in text
    assert page.get(f"/jobs/{sound.id}/hook-up/").status_code == 200
    for path in ("hook-up/", "correct/", "build/", "prove/", "prove/sheet/", "identify/new/"):
        response = page.get(f"/jobs/{job.id}/{path}")
        assert response.status_code == 409
        assert "work out this job" in response.content.decode()
        assert "Go to Brief" in response.content.decode()
    response = page.get(f"/jobs/{job.id}/hook-up/", headers=HTMX)
    assert response["HX-Redirect"] == f"/jobs/{job.id}/"
    brief = page.get(f"/jobs/{job.id}/").content.decode()
    assert "work out this job." in brief
    assert "no lamp circuit" in brief or "ZeroDivisionError" in brief
    assert 'name="added_count"' in brief


def test_a_broken_job_is_mended_in_its_brief_or_removed(page, who):
    job = begin_job(who, {**BRIEF, "title": "A broken one"})
    Job.objects.filter(pk=job.pk).update(added_count=12, added_each_a=26.0)
    sent = {**BRIEF, "version": job.version}
    assert page.post(f"/jobs/{job.id}/", sent).status_code == 302
    assert page.get(f"/jobs/{job.id}/hook-up/").status_code == 200
    Job.objects.filter(pk=job.pk).update(added_count=12, added_each_a=26.0)
    page.post(f"/jobs/{job.id}/remove/", {"title": BRIEF["title"]})
    assert not Job.objects.filter(pk=job.pk).exists()


@pytest.mark.parametrize("amps", ["2.6", "0"])
def test_a_current_on_the_bench_that_all_the_lamps_cannot_draw_is_refused_and_not_stored(page, who, amps):
    job = begin_job(who, {**BRIEF, "added_count": 12, "added_each_a": 1.2})
    lay_out(job, [("white", "WH", ""), ("black", "BK", "")], who)
    try_pair(job.lamp, Trial("black", "white", Seen.DARK), who)
    sent = {
        "plus": "white",
        "minus": "black",
        "seen": "lit",
        "light": "white",
        "amps": amps,
        "amps_a": amps,
        "fuse_a": "",
    }
    response = page.post(f"/jobs/{job.id}/lamp/", sent)
    assert response.status_code == 422
    assert "Not saved" in response.content.decode()
    assert not LeadTrial.objects.filter(seen="lit").exists()
    assert page.get("/").status_code == 200
    assert "work out this job" not in page.get("/").content.decode()


def test_a_brief_that_the_measured_current_makes_impossible_is_refused(page, who):
    job = begin_job(who, {**BRIEF, "added_count": 2, "added_each_a": 1.2})
    lay_out(job, [("white", "WH", ""), ("black", "BK", "")], who)
    try_pair(job.lamp, Trial("black", "white", Seen.DARK), who)
    try_pair(job.lamp, Trial("white", "black", Seen.LIT, Light.WHITE, 2.6), who)
    response = page.post(f"/jobs/{job.id}/", {**BRIEF, "added_count": 12, "version": 1})
    assert response.status_code == 422
    assert "more than 30 A is no lamp circuit" in response.content.decode()
    assert Job.objects.get().added_count == 2


@pytest.mark.parametrize(
    ("next_", "goes"),
    [
        ("/jobs/1/?state=brake%2Bleft&load=in", "/jobs/1/?state=brake%2Bleft&load=in"),
        ("http://[", "/"),
        ("//elsewhere.example/", "/"),
        ("nowhere", "/"),
        ("/a\nSet-Cookie: x=1", "/"),
        ("", "/"),
    ],
)
def test_the_theme_goes_back_only_to_an_address_of_this_site(page, next_, goes):
    response = page.post("/theme/", {"next": next_, "theme": "night"})
    assert response.status_code == 302
    assert response.url == goes
    assert response.cookies["theme"].value == "night"


def test_what_follows_an_ampersand_survives_signing_in(client, job, point):
    where = f"/jobs/{job.id}/identify/{point.id}/?state=brake%2Bleft&instrument=dmm&load=out"
    response = client.get("/", headers={**HTMX, "HX-Current-URL": f"http://testserver{where}"})
    back = response["HX-Redirect"]
    client.force_login(Job.objects.get().created_by)
    assert client.get(back).url == where


SCRIPT = """
import django
django.setup()
from django.core.management import call_command
call_command("migrate", "prove", "0001", verbosity=0)
call_command("migrate", verbosity=0)
call_command("migrate", verbosity=0)
"""


def test_the_database_is_copied_aside_and_the_copy_named_before_a_migration(tmp_path):
    environment = {**os.environ, "HAILSTONE_DATA": str(tmp_path), "DJANGO_SETTINGS_MODULE": "hailstone.settings"}
    done = subprocess.run(
        [sys.executable, "-c", SCRIPT], env=environment, capture_output=True, text=True, check=True, timeout=120
    )
    (copy,) = tmp_path.glob("hailstone-before-*.sqlite3")
    assert done.stderr.count(f"the database was copied to {copy}") == 1
    with closing(sqlite3.connect(copy)) as kept:
        columns = {row[1] for row in kept.execute("pragma table_info(prove_signature)")}
    assert "fingerprint" in columns, "as it was before"
