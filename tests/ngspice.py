"""Runs SPICE decks in ngspice and reads its operating points."""

from __future__ import annotations

import re
import shutil
import subprocess
from pathlib import Path

NGSPICE = shutil.which("ngspice")
MISSING = "ngspice is not installed: the circuits were NOT checked against it in this run"
_ROW = re.compile(r"^\s*([a-z0-9_#]+)\s+(-?\d\.\d+e[+-]\d+)\s*$", re.M)


def operating_point(deck: str, folder: Path) -> dict[str, float] | None:
    """Node voltages [V] and source currents [A, `name#branch`] of a deck; None where ngspice finds none."""
    path = folder / "deck.cir"
    path.write_text(deck)
    done = subprocess.run([NGSPICE, "-b", str(path)], capture_output=True, text=True, timeout=60, check=False)
    values = {name: float(value) for name, value in _ROW.findall(done.stdout)}
    return values or None
