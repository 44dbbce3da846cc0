"""Runs SPICE decks in ngspice, many in one process, and reads their operating points."""

from __future__ import annotations

import re
import shutil
import subprocess
from collections.abc import Sequence
from pathlib import Path

NGSPICE = shutil.which("ngspice")
MISSING = "ngspice is not installed: the circuits were NOT checked against it in this run"
_VALUE = re.compile(r"^([a-z0-9_#]+) = (-?\d\.\d+e[+-]\d+)\s*$", re.M)
_MARK = "deck number "


def operating_points(decks: Sequence[str], folder: Path) -> list[dict[str, float] | None]:
    """Node voltages [V] and source currents [A, `name#branch`] of each deck; None where ngspice finds none."""
    lines = []
    for n, deck in enumerate(decks):
        path = folder / f"deck{n}.cir"
        path.write_text(deck)
        lines.append(f"echo {_MARK}{n}\nsource {path}\nrun\nprint all\nremcirc\ndestroy all\n")
    script = folder / "all.sp"
    script.write_text(f"* all decks in turn\n.control\nset numdgt=8\n{''.join(lines)}quit\n.endc\n.end\n")
    command = [NGSPICE, "-b", str(script)]
    done = subprocess.run(command, capture_output=True, text=True, timeout=300, check=False, stdin=subprocess.DEVNULL)
    parts = re.split(rf"^{_MARK}(\d+)\s*$", done.stdout, flags=re.M)
    found = {int(n): text for n, text in zip(parts[1::2], parts[2::2], strict=True)}
    values = [{name: float(value) for name, value in _VALUE.findall(found.get(n, ""))} for n in range(len(decks))]
    return [each or None for each in values]


def in_time(deck: str, nodes: Sequence[str], folder: Path) -> dict[str, list[tuple[float, float]]]:
    """Time [s] and volts [V] of some nodes of a deck with a `.tran` line of its own."""
    circuit, table, script = folder / "tran.cir", folder / "tran.txt", folder / "tran.sp"
    circuit.write_text(deck)
    shown = " ".join(f"v({node})" for node in nodes)
    lines = ["set wr_singlescale", f"source {circuit}", "run", f"wrdata {table} {shown}", "quit"]
    script.write_text("* in time\n.control\n" + "\n".join(lines) + "\n.endc\n.end\n")
    command = [NGSPICE, "-b", str(script)]
    subprocess.run(command, capture_output=True, timeout=120, check=False, stdin=subprocess.DEVNULL)
    rows = [[float(value) for value in line.split()] for line in table.read_text().splitlines()]
    return {node: [(row[0], row[n + 1]) for row in rows] for n, node in enumerate(nodes)}
