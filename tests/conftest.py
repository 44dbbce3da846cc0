"""What a run says of itself at its end; and databases in memory, one a worker."""

from __future__ import annotations

import pytest

from ngspice import MISSING, NGSPICE


def pytest_unconfigure(config):
    """The very last line: a run without ngspice does not claim the check against it."""
    if NGSPICE is None and not hasattr(config, "workerinput"):
        print(f"\n{MISSING}.")


@pytest.fixture(scope="session")
def django_db_modify_db_settings():
    """Nothing to rename for a worker: its database is in its own memory."""
