"""A real server with the demo, and a real browser: one of each a worker, its data as new for every test."""

from __future__ import annotations

import fcntl
import os
import re
import shutil
import sqlite3
import subprocess
import sys
from contextlib import closing
from dataclasses import dataclass, field

import pytest
from playwright.sync_api import expect

from browser import browser
from demo_server import DemoServer

expect.set_options(timeout=30000)  # ms: a busy machine is no fault

SIGN_IN = """
import django
django.setup()
from django.contrib.auth import BACKEND_SESSION_KEY, HASH_SESSION_KEY, SESSION_KEY, get_user_model
from django.contrib.sessions.backends.db import SessionStore
who = get_user_model().objects.get()
session = SessionStore()
session[SESSION_KEY] = str(who.pk)
session[BACKEND_SESSION_KEY] = "django.contrib.auth.backends.ModelBackend"
session[HASH_SESSION_KEY] = who.get_session_auth_hash()
session.create()
print(session.session_key)
"""


@dataclass(frozen=True)
class Prepared:
    """The demo's data, with somebody signed in."""

    folder: object
    session: str


@pytest.fixture(scope="session")
def prepared(tmp_path_factory, testrun_uid):
    """Whichever worker is first prepares for all of them, the others wait for it."""
    shared = tmp_path_factory.getbasetemp().parent / f"prepared-{testrun_uid}"
    shared.mkdir(exist_ok=True)
    with (shared / "lock").open("w") as lock:
        fcntl.flock(lock, fcntl.LOCK_EX)
        session = shared / "session"
        if not session.exists():
            session.write_text(_prepare(shared / "data"))
        return Prepared(shared / "data", session.read_text())


def _prepare(data) -> str:
    """Load the demo and sign somebody in; the session's key."""
    environment = {**os.environ, "HAILSTONE_DATA": str(data), "DJANGO_SETTINGS_MODULE": "hailstone.settings"}
    subprocess.run([sys.executable, "-m", "hailstone.cli", "demo", "--no-serve"], env=environment, check=True)
    signed_in = subprocess.run(
        [sys.executable, "-c", SIGN_IN], env=environment, check=True, capture_output=True, text=True
    )
    return signed_in.stdout.strip()


@pytest.fixture(scope="session")
def worker_server(prepared, tmp_path_factory):
    data = tmp_path_factory.mktemp("data")
    shutil.copytree(prepared.folder, data, dirs_exist_ok=True)
    started = DemoServer(data)
    started.start()
    yield started
    started.kill()


@pytest.fixture
def server(prepared, worker_server):
    """The worker's server on data as new; a test may kill it and start it again."""
    if not worker_server.is_running:
        worker_server.start()
    name = "hailstone.sqlite3"
    files = (prepared.folder / name, worker_server.data / name)
    with closing(sqlite3.connect(files[0])) as new, closing(sqlite3.connect(files[1])) as used:
        new.backup(used)
    return worker_server


@pytest.fixture(scope="session")
def chromium():
    # the browser keeps an event loop in this thread; a worker may have tests of the database left to do
    os.environ["DJANGO_ALLOW_ASYNC_UNSAFE"] = "true"
    with browser() as opened:
        yield opened


@dataclass
class Trouble:
    """What went wrong in the browser, and what a test says will: `expect` takes patterns of it, `may` of what might."""

    found: list[str] = field(default_factory=list)
    expected: list[str] = field(default_factory=list)
    tolerated: list[str] = field(default_factory=list)

    def expect(self, *patterns: str) -> None:
        self.expected += patterns

    def may(self, *patterns: str) -> None:
        self.tolerated += patterns

    @property
    def unexpected(self) -> list[str]:
        known = [*self.expected, *self.tolerated]
        return [each for each in self.found if not any(re.search(pattern, each) for pattern in known)]


@pytest.fixture
def trouble():
    """Fails the test on any script, policy or htmx error and on any request that fails unexpectedly."""
    seen = Trouble()
    yield seen
    assert seen.unexpected == []
    for pattern in seen.expected:
        assert any(re.search(pattern, each) for each in seen.found), f"nothing was like {pattern}"


def _note_failure(trouble, request):
    """What a page that is left gives up is none."""
    if "ERR_ABORTED" not in (request.failure or ""):
        trouble.found.append(f"failed: {request.method} {request.url} {request.failure}")


@pytest.fixture
def open_page(chromium, prepared, trouble):
    """Opens a page on a server, signed in; the board unless another address is given."""
    contexts = []

    def _open(server: DemoServer, address: str = "/", *, width: int = 1280, height: int = 800, clock_from=None):
        context = chromium.new_context(
            viewport={"width": width, "height": height},
            locale="en-GB",
            timezone_id="UTC",
            base_url=server.address,
            reduced_motion="reduce",  # what blinks is drawn all the time
        )
        contexts.append(context)
        context.add_cookies([{"name": "sessionid", "value": prepared.session, "url": server.address}])
        context.set_default_timeout(30000)
        page = context.new_page()
        if clock_from is not None:  # seconds since 1970; the test may stop the page's clock and move it on
            page.clock.install(time=clock_from)
        page.on("pageerror", lambda error: trouble.found.append(f"script: {error}"))
        # htmx says its errors on the console, a refused policy and a failed request stand there as well
        page.on("console", lambda m: trouble.found.append(f"console: {m.text}") if m.type == "error" else None)
        page.on("requestfailed", lambda r: _note_failure(trouble, r))
        page.on("response", lambda r: trouble.found.append(f"{r.status}: {r.url}") if r.status >= 400 else None)
        page.goto(address)
        page.get_by_role("heading").first.wait_for()
        return page

    yield _open
    for context in contexts:
        context.close()
