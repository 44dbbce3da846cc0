"""The demo as a process on a folder of its own, for browser tests and screenshots."""

from __future__ import annotations

import contextlib
import os
import signal
import socket
import subprocess
import sys
import tempfile
import time
import urllib.request
from pathlib import Path

from playwright.sync_api import Page

from hailstone.demo.login import DEMO_PASSWORD, DEMO_USER

START_WITHIN_S = 60  # a busy machine that compiles everything anew; it is looked at ten times a second


class DemoServer:
    """`hailstone demo`, which can be started, stopped hard and started again on its data."""

    def __init__(self, data: Path) -> None:
        self.data = data
        with socket.socket() as free:
            free.bind(("127.0.0.1", 0))
            self.port = free.getsockname()[1]
        self.address = f"http://127.0.0.1:{self.port}"
        self.process: subprocess.Popen[bytes] | None = None

    def start(self) -> None:
        """Start it and wait until it answers."""
        own = {"HAILSTONE_DATA": str(self.data), "PORT": str(self.port), "HAILSTONE_TZ": "UTC"}
        environment = {**os.environ, **own, "WEB_CONCURRENCY": "1"}  # one process keeps all that was computed
        command = [sys.executable, "-m", "hailstone.cli", "demo"]
        with tempfile.TemporaryFile() as said:
            self.process = subprocess.Popen(command, env=environment, stderr=said, start_new_session=True)
            until = time.monotonic() + START_WITHIN_S
            while self.is_running and time.monotonic() < until:
                try:
                    urllib.request.urlopen(f"{self.address}/sign-in/", timeout=2).close()
                    return
                except OSError:
                    time.sleep(0.1)
            died = not self.is_running
            self.kill()
            said.seek(0)
            what = "died while starting" if died else f"did not answer within {START_WITHIN_S} s"
            raise RuntimeError(f"the demo {what}: {said.read().decode(errors='replace')[-2000:]}")

    @property
    def is_running(self) -> bool:
        return self.process is not None and self.process.poll() is None

    def kill(self) -> None:
        """Stop it as hard as a pulled plug would stop the process."""
        if self.process is not None:
            with contextlib.suppress(ProcessLookupError):
                os.killpg(self.process.pid, signal.SIGKILL)
            self.process.wait()


def sign_in(page: Page) -> None:
    """Sign in with the demo login and wait for the job board."""
    page.goto("/sign-in/")
    page.get_by_label("Name").fill(DEMO_USER)
    page.get_by_label("Password").fill(DEMO_PASSWORD)
    page.keyboard.press("Enter")
    page.get_by_role("heading", name="Jobs").wait_for()
