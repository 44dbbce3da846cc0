"""What a run says of itself at its end."""

from __future__ import annotations

from ngspice import MISSING, NGSPICE


def pytest_unconfigure(config):
    """The very last line: a run without ngspice does not claim the check against it."""
    if NGSPICE is None and not hasattr(config, "workerinput"):
        print(f"\n{MISSING}.")
