"""Opens Debian's chromium without a monitor, for screenshots and browser tests."""

from __future__ import annotations

import shutil
from collections.abc import Iterator
from contextlib import contextmanager

from playwright.sync_api import Browser, sync_playwright

QUIET = [
    "--no-sandbox",
    "--disable-gpu",
    "--disable-gpu-rasterization",  # Debian switches it on, and there is no such hardware
    "--no-first-run",
    "--disable-background-networking",
    "--disable-sync",
    "--disable-extensions",
]


@contextmanager
def browser() -> Iterator[Browser]:
    """A browser that is closed at the end."""
    path = shutil.which("chromium")
    if path is None:
        raise RuntimeError("chromium is missing: apt-get install chromium")
    with sync_playwright() as playwright:
        opened = playwright.chromium.launch(executable_path=path, args=[*QUIET, "--disable-component-update"])
        yield opened
        opened.close()
