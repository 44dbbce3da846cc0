"""What the page tests share: a person signed in, and a job with a lamp opened."""

from __future__ import annotations

import pytest
from django.template import Template
from django.test.utils import _TestState

from briefs import BRIEF, CHOICE
from electrics.document.places import Setup
from electrics.vocabulary import Instrument, Load, parse_state
from hailstone.identify.services import add_point
from hailstone.jobs.services import begin_job
from hailstone.layers.places import SaidPlace, SaidWire
from lamps import GRID
from measured import keep


@pytest.fixture(scope="session", autouse=True)
def contexts_not_recorded(django_test_environment):
    """Nothing here looks at what a template was given; Django's test client copies it for every part of a page."""
    Template._render = _TestState.saved_data.template_render


@pytest.fixture(autouse=True)
def quick_passwords(settings):
    """The real hasher is slow on purpose; nothing here is about it."""
    settings.PASSWORD_HASHERS = ["django.contrib.auth.hashers.MD5PasswordHasher"]


@pytest.fixture
def who(django_user_model):
    return django_user_model.objects.create_user("ina", password="low-tide")


@pytest.fixture
def page(client, who):
    client.force_login(who)
    return client


@pytest.fixture
def job(who):
    return begin_job(who, BRIEF)


@pytest.fixture
def point(job, who):
    wires = [SaidWire(str(n), colour) for n, colour in enumerate(["BK", "BN", "WH/GN", "YE", "VT"], start=1)]
    return add_point(job, SaidPlace("left tail lamp", "rear_lamp", "left", wires), who)


@pytest.fixture
def settled(point, who):
    """The same lamp, measured out."""
    pins = {pin.label: pin for pin in point.pins.all()}
    rows = [
        (pins[label], Setup(parse_state(state), *(how or (Instrument.DMM, Load.IN))), text)
        for state, readings, *how in GRID
        for label, text in readings.items()
    ]
    keep(rows, 12.6, who)
    return point


@pytest.fixture
def choice(settled):
    """A complete hook-up as the form sends it."""
    return {**CHOICE, "way_reverse": f"direct:{settled.pins.get(label='3').id}"}


@pytest.fixture
def hooked_up(page, job, choice):
    assert page.post(f"/jobs/{job.id}/hook-up/", choice).status_code == 200
    return job
