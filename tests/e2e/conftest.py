"""A real server with the demo, and a real browser. Each server has a folder of its own."""

from __future__ import annotations

import os
import shutil
import subprocess
import sys

import pytest

from browser import browser
from demo_server import DemoServer, sign_in


@pytest.fixture(scope="session")
def prepared(tmp_path_factory):
    """The demo's database, made once; every server gets a copy."""
    data = tmp_path_factory.mktemp("prepared")
    command = [sys.executable, "-m", "hailstone.cli", "demo", "--no-serve"]
    subprocess.run(command, env={**os.environ, "HAILSTONE_DATA": str(data)}, check=True)
    return data


def _started(prepared, data):
    shutil.copytree(prepared, data, dirs_exist_ok=True)
    server = DemoServer(data)
    server.start()
    return server


@pytest.fixture(scope="session")
def server(prepared, tmp_path_factory):
    started = _started(prepared, tmp_path_factory.mktemp("data"))
    yield started
    started.kill()


@pytest.fixture
def own_server(prepared, tmp_path):
    started = _started(prepared, tmp_path)
    yield started
    started.kill()


@pytest.fixture(scope="session")
def chromium():
    with browser() as opened:
        yield opened


@pytest.fixture
def open_page(chromium):
    """Opens a signed-in page on a server; fails the test when the page reports a script or policy error."""
    contexts, errors = [], []

    def _open(server: DemoServer, *, width: int = 1280, height: int = 800):
        context = chromium.new_context(
            viewport={"width": width, "height": height}, locale="en-GB", timezone_id="UTC", base_url=server.address
        )
        contexts.append(context)
        context.set_default_timeout(15000)
        page = context.new_page()
        page.on("pageerror", lambda error: errors.append(str(error)))
        page.on("console", lambda m: errors.append(m.text) if "Content Security Policy" in m.text else None)
        sign_in(page)
        return page

    yield _open
    for context in contexts:
        context.close()
    assert errors == []
