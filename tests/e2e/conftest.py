"""A real server with the demo, and a real browser. Each server has a folder of its own."""

from __future__ import annotations

import os
import signal
import socket
import subprocess
import sys
import time
import urllib.request
from pathlib import Path

import pytest

from browser import browser
from hailstone.demo import DEMO_PASSWORD, DEMO_USER


class Server:
    """`hailstone demo` as a process that can be started, stopped hard and started again on its data."""

    def __init__(self, data: Path) -> None:
        self.data = data
        with socket.socket() as free:
            free.bind(("127.0.0.1", 0))
            self.port = free.getsockname()[1]
        self.address = f"http://127.0.0.1:{self.port}"
        self.process: subprocess.Popen[bytes] | None = None

    def start(self) -> None:
        environment = {**os.environ, "HAILSTONE_DATA": str(self.data), "PORT": str(self.port), "HAILSTONE_TZ": "UTC"}
        command = [sys.executable, "-m", "hailstone.cli", "demo"]
        self.process = subprocess.Popen(
            command, env=environment, stderr=subprocess.DEVNULL, start_new_session=True
        )
        for _ in range(150):
            try:
                urllib.request.urlopen(f"{self.address}/sign-in/", timeout=2).close()
                return
            except OSError:
                time.sleep(0.1)
        raise RuntimeError("the server did not start")

    def kill(self) -> None:
        """Stop it as hard as a pulled plug would stop the process."""
        assert self.process is not None
        os.killpg(self.process.pid, signal.SIGKILL)
        self.process.wait()


@pytest.fixture(scope="session")
def server(tmp_path_factory):
    started = Server(tmp_path_factory.mktemp("data"))
    started.start()
    yield started
    started.kill()


@pytest.fixture
def own_server(tmp_path):
    started = Server(tmp_path)
    started.start()
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

    def _open(server: Server, *, width: int = 1280, height: int = 800):
        context = chromium.new_context(
            viewport={"width": width, "height": height}, locale="en-GB", timezone_id="UTC", base_url=server.address
        )
        contexts.append(context)
        context.set_default_timeout(8000)
        page = context.new_page()
        page.on("pageerror", lambda error: errors.append(str(error)))
        page.on("console", lambda m: errors.append(m.text) if "Content Security Policy" in m.text else None)
        page.goto("/sign-in/")
        page.get_by_label("Name").fill(DEMO_USER)
        page.get_by_label("Password").fill(DEMO_PASSWORD)
        page.keyboard.press("Enter")
        page.get_by_role("heading", name="Jobs").wait_for()
        return page

    yield _open
    for context in contexts:
        context.close()
    assert errors == []
