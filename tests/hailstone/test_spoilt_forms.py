"""Forms sent with whatever a person, a browser extension or a cut line may make of them: refused, never a failure."""

from __future__ import annotations

import random
import re

import pytest

from briefs import BRIEF
from electrics.signals import Scenario
from electrics.vocabulary import Arrangement
from hailstone.jobs.models import Job
from hailstone.jobs.services import begin_job
from measured import SEPARATE, measured

pytestmark = pytest.mark.django_db

ODD = (
    "", "0", "-1", "²", "1e999", "nan", "9" * 20, "turn left", "left", "#1", "#x", "\x00", "ä" * 500, "{}", "[1]",
    "1,5", "row 1", "battery", "a" * 5000, "'", "<b>", "own", "direct:1", "relay:1,2", "@battery", ":", ",,,", "200",
)  # fmt: skip
PAGES = ("", "units/", "hook-up/", "lamp/leads/", "prove/", "build/", "identify/")
SENT = 60


def forms_of(page, job):
    """Every form of a job's pages: its address, and its fields with what stands in them."""
    found = {}
    for name in PAGES:
        html = page.get(f"/jobs/{job.id}/{name}", follow=True).content.decode()
        for head, body in re.findall(r"<form([^>]*)>(.*?)</form>", html, re.DOTALL):
            target = re.search(r'(?:action|hx-post)="([^"]+)"', head)
            address = target[1] if target else f"/jobs/{job.id}/{name}"
            if not re.search(r"sign-out|theme|jobs/\d+/remove", address):
                found[address] = re.findall(r'name="([^"]+)"(?:[^>]*?value="([^"]*)")?', body)
    return found


def test_no_form_however_spoilt_makes_the_program_fail(page, who):
    page.raise_request_exception = False
    job = begin_job(who, {**BRIEF, "addition": "lit_mirrors"})
    measured(job, who, SEPARATE, Scenario(Arrangement.SEPARATE), 1)
    page.post(f"/jobs/{job.id}/hook-up/", {"best": "1", "version": "0"})
    page.post(f"/jobs/{job.id}/units/begin/")
    forms = list(forms_of(page, job).items())
    assert len(forms) > 15
    rng, failed = random.Random("spoilt forms"), []
    for n in range(SENT):
        address, fields = rng.choice(forms)
        stored = Job.objects.select_related("hookup").get()
        version = stored.hookup.version if "hook-up" in address else stored.version
        sent: dict[str, list[str]] = {}
        for name, value in fields:
            odd = rng.choice(ODD) if rng.random() < 0.4 else value
            sent.setdefault(name, []).append(str(version) if name == "version" and rng.random() < 0.8 else odd)
        if page.post(address, sent).status_code >= 500:
            failed.append((address, sent))
        if n % 3 == 0 and page.get(f"/jobs/{job.id}/{rng.choice(PAGES)}", follow=True).status_code >= 500:
            failed.append(("afterwards", address, sent))
    assert failed == []
    assert b"work out this job" not in page.get("/").content
