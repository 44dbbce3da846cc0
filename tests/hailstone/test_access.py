"""Who may open what: every address, signed in or not, with a job there or not."""

from __future__ import annotations

import pytest
from django.test import Client
from django.urls import URLPattern, URLResolver, get_resolver, reverse

from briefs import BRIEF
from hailstone.jobs.services import begin_job

pytestmark = pytest.mark.django_db

# name: (arguments, method, status when signed in, status when the job is nobody's)
TABLE = {
    "board": ("", "get", 200, None),
    "new_job": ("", "get", 200, None),
    "job_in": ("", "get", 200, None),
    "brief": ("job", "get", 200, 404),
    "remove_job": ("job", "post", 302, 404),
    "correct": ("job", "get", 200, 404),
    "identify": ("job", "get", 302, 404),
    "new_point": ("job", "get", 200, 404),
    "earlier": ("job", "get", 200, 404),
    "bench": ("job point", "get", 200, 404),
    "save_reading": ("job point", "post", 404, 404),
    "history": ("job point", "get", 200, 404),
    "undo": ("job point", "post", 302, 404),
    "not_fitted": ("job point", "post", 404, 404),
    "chart": ("job point", "post", 302, 404),
    "import_csv": ("job point", "post", 422, 404),
    "export_csv": ("job point", "get", 200, 404),
    "edit_point": ("job point", "get", 200, 404),
    "remove_point": ("job point", "post", 302, 404),
    "repeat_point": ("job point", "post", 302, 404),
    "second_plug": ("job point", "post", 302, 404),
    "call_sheet": ("job point", "get", 200, 404),
    "photo": ("job point", "get", 404, 404),
    "news": ("job point", "get", 200, 404),
    "keep_point": ("job point", "post", 302, 404),
    "lamp": ("job", "get", 302, 404),
    "leads": ("job", "get", 200, 404),
    "undo_trial": ("job", "post", 404, 404),
    "assumed": ("job", "get", 200, 404),
    "units": ("job", "get", 200, 404),
    "begin_units": ("job", "post", 302, 404),
    "add_unit": ("job", "post", 302, 404),
    "save_unit": ("job", "post", 422, 404),
    "remove_unit": ("job", "post", 422, 404),
    "add_place": ("job", "post", 422, 404),
    "remove_place": ("job", "post", 409, 404),
    "take_back": ("job", "post", 302, 404),
    "job_file": ("job", "get", 200, 404),
    "wire_book": ("", "get", 200, None),
    "export_book": ("", "get", 200, None),
    "import_book": ("", "post", 422, None),
    "schools": ("", "get", 200, None),
    "words": ("", "get", 200, None),
    "take_out": ("point", "post", 404, None),
    "hookup": ("job", "get", 200, 404),
    "follows": ("job point", "get", 200, 404),
    "hookup_assumed": ("job", "get", 200, 404),
    "distance": ("job", "post", 302, 404),
    "cures": ("job", "get", 200, 404),
    "take_cure": ("job", "post", 409, 404),
    "keep_flasher": ("job", "post", 302, 404),
    "keep_habits": ("job", "post", 302, 404),
    "before": ("job", "get", 200, 404),
    "build": ("job", "get", 200, 404),
    "build_paper": ("job", "get", 200, 404),
    "build_pdf": ("job", "get", 200, 404),
    "labels": ("job", "get", 200, 404),
    "cuts_csv": ("job", "get", 200, 404),
    "parts_csv": ("job", "get", 200, 404),
    "loom": ("job", "get", 404, 404),
    "sheet_pdf": ("job", "get", 404, 404),
    "look_again": ("job", "get", 404, 404),
    "tick": ("job", "post", 404, 404),
    "prove": ("job", "get", 200, 404),
    "record": ("job", "post", 404, 404),
    "sign": ("job", "post", 404, 404),
    "sheet": ("job", "get", 200, 404),
}
OPEN = {"sign_in": 200, "sign_out": 302, "theme": 405}


def _names(patterns):
    for pattern in patterns:
        if isinstance(pattern, URLResolver):
            yield from _names(pattern.url_patterns)
        elif isinstance(pattern, URLPattern):
            yield pattern.name


def test_the_table_names_every_address():
    assert set(_names(get_resolver().url_patterns)) == set(TABLE) | set(OPEN)


def address(name, job_id, point_id):
    given = {"job": job_id, "point": point_id}
    return reverse(name, args=[given[word] for word in TABLE[name][0].split()])


@pytest.mark.parametrize("name", TABLE)
def test_nobody_gets_in_without_signing_in(name, client, job, point):
    _, method, *_ = TABLE[name]
    response = getattr(client, method)(address(name, job.id, point.id))
    assert response.status_code == 302
    assert response.url.startswith("/sign-in/")


@pytest.mark.parametrize("name", TABLE)
def test_a_person_signed_in_gets_what_there_is(name, page, job, point):
    _, method, status, _ = TABLE[name]
    assert getattr(page, method)(address(name, job.id, point.id)).status_code == status


@pytest.mark.parametrize("name", [name for name, row in TABLE.items() if row[3]])
def test_a_job_of_nobody_says_what_to_do(name, page, job, point):
    _, method, _, status = TABLE[name]
    response = getattr(page, method)(address(name, 999, point.id))
    assert response.status_code == status
    assert b"To the job board" in response.content


def test_a_lamp_of_another_job_is_not_found(page, job, point, who):
    other = begin_job(who, BRIEF)
    assert page.get(f"/jobs/{other.id}/identify/{point.id}/").status_code == 404


@pytest.mark.parametrize("name", OPEN)
def test_open_addresses_answer_everybody(name, client):
    assert client.get(reverse(name)).status_code == OPEN[name]


def test_an_unknown_address_says_what_to_do(page):
    response = page.get("/no/such/place/")
    assert response.status_code == 404
    assert b"open it from there" in response.content


@pytest.mark.parametrize("name", [name for name, row in TABLE.items() if row[1] == "post"])
def test_an_address_for_forms_opened_by_hand_says_where_to_go(name, page, job, point):
    response = page.get(address(name, job.id, point.id))
    assert response.status_code == 405
    assert b"This address only takes a form" in response.content


def test_a_form_that_is_too_old_says_what_to_do(who):
    strict = Client(enforce_csrf_checks=True)
    strict.force_login(who)
    response = strict.post("/jobs/new/", {"title": "x"})
    assert response.status_code == 403
    assert b"reload the page and send it again" in response.content


def test_a_fragment_of_someone_signed_out_reloads_the_page(client, job, point):
    headers = {"HX-Request": "true", "HX-Current-URL": f"http://testserver/jobs/{job.id}/identify/{point.id}/"}
    response = client.post(f"/jobs/{job.id}/identify/{point.id}/readings/", headers=headers)
    assert response["HX-Redirect"].endswith(f"?next=%2Fjobs%2F{job.id}%2Fidentify%2F{point.id}%2F")


def test_no_script_or_style_from_elsewhere_is_allowed(page):
    policy = page.get("/")["Content-Security-Policy"]
    assert "script-src 'self'" in policy
    assert "default-src 'none'" in policy
    assert "unsafe" not in policy
    assert "http" not in policy


def test_pages_hold_no_inline_script_or_style(page, hooked_up, settled):
    for path in ("/", "/jobs/new/", *[f"/jobs/{hooked_up.id}/{layer}/" for layer in ("hook-up", "build", "prove")]):
        text = page.get(path).content.decode()
        assert " style=" not in text
        assert "<style" not in text
        assert " onclick=" not in text
        assert text.count("<script") == text.count("<script src=")


def test_the_theme_is_remembered_and_goes_back_only_to_this_site(client):
    response = client.post("/theme/", {"theme": "night", "next": "https://elsewhere.example/"})
    assert response.url == "/"
    assert response.cookies["theme"].value == "night"
    assert b'data-theme="night"' in client.get("/sign-in/").content
