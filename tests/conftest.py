"""What a run says of itself at its end; and databases in memory, one a worker."""

from __future__ import annotations

import gc
import os

import pytest
from hypothesis import settings

from ngspice import MISSING, NGSPICE

# the same examples in every run, so that none fails by chance elsewhere; SEARCH=1 looks for new ones
settings.register_profile("same", derandomize=True)
settings.register_profile("search")
settings.load_profile("search" if os.environ.get("SEARCH") else "same")


def pytest_configure(config):
    """Little of what tests make is garbage that only a collector frees: it looks less often."""
    gc.freeze()
    gc.set_threshold(200_000, 50, 100)


def pytest_unconfigure(config):
    """The very last line: a run without ngspice does not claim the check against it."""
    if NGSPICE is None and not hasattr(config, "workerinput"):
        print(f"\n{MISSING}.")


def pytest_collection_modifyitems(items):
    """Those in the browser first: they take longest, and at the end one worker would wait for the other."""
    items.sort(key=lambda item: item.get_closest_marker("e2e") is None)


@pytest.fixture(scope="session")
def django_db_modify_db_settings():
    """Nothing to rename for a worker: its database is in its own memory."""
