"""How fast circuits are solved, beside ngspice in the same run; how the cost grows; memory of the process."""

from __future__ import annotations

import resource
import shutil
import statistics
import subprocess
import sys
import tempfile
import time
from collections.abc import Callable
from pathlib import Path

from electrics.circuit.elements import Battery, Diode, Fuse, Ground, Lamp, Led, Switch, Wire
from electrics.circuit.network import Network
from electrics.circuit.simulate import Simulation, simulate
from electrics.circuit.spice import spice_deck
from electrics.circuit.timeline import timeline
from electrics.design.states import TABLE_STATES
from electrics.lighting.samples import sample_circuits

RUNS = 7


def largest() -> tuple[str, Network]:
    """The sample circuit with the most elements."""
    return max(sample_circuits().items(), key=lambda item: len(item[1].elements))


def state_table_ms(network: Network) -> float:
    """Median time of all states and phases, the circuit compiled anew each time [ms]."""
    return 1e3 * _median(lambda: simulate(Network(network.elements), TABLE_STATES))


def ngspice_ms(network: Network) -> tuple[float, float, int] | None:
    """The same points in ngspice: started once a deck, and one process for all [ms]; None where it is missing."""
    ngspice = shutil.which("ngspice")
    if ngspice is None:
        return None
    with tempfile.TemporaryDirectory() as folder:
        decks = _decks(simulate(network, TABLE_STATES), Path(folder))

        def each() -> None:
            for deck in decks:
                subprocess.run([ngspice, "-b", str(deck)], capture_output=True, check=True)

        script = Path(folder) / "all.sp"
        lines = "".join(f"source {deck}\nrun\nremcirc\n" for deck in decks)
        script.write_text(f"* all decks in turn\n.control\n{lines}quit\n.endc\n.end\n")

        def together() -> None:
            subprocess.run([ngspice, "-b", str(script)], capture_output=True, stdin=subprocess.DEVNULL, check=False)

        return 1e3 * _median(each, 3), 1e3 * _median(together, 5), len(decks)


def timeline_ms(network: Network) -> float:
    """Median time of ten seconds: turn, brake while turning, reverse [ms]."""
    schedule = [(0.0, "left"), (5.0, "brake+left"), (8.0, "brake+reverse")]
    return 1e3 * _median(lambda: timeline(Network(network.elements), schedule, 10.0))


def growth() -> list[tuple[int, float]]:
    """Elements, and median time of the state table [ms], for made-up circuits of growing size."""
    return [(len(network.elements), state_table_ms(network)) for network in map(_chain, (20, 50, 100, 200))]


def peak_mb() -> float:
    """Largest memory of a process that solves the largest sample and follows it for ten seconds [MB]."""
    code = """from bench.circuit import *
_, network = largest()
simulate(network, TABLE_STATES)
timeline(network, [(0.0, "left")], 10.0)
print(own_mb())"""
    done = subprocess.run([sys.executable, "-c", code], capture_output=True, text=True, check=True)
    return float(done.stdout)


def own_mb() -> float:
    """Largest memory of this process so far [MB]."""
    return resource.getrusage(resource.RUSAGE_SELF).ru_maxrss / 1024


def _decks(simulation: Simulation, folder: Path) -> list[Path]:
    decks = []
    for n, point in enumerate(simulation.points):
        decks.append(folder / f"{n}.cir")
        decks[-1].write_text(spice_deck(point))
    return decks


def _median(action: Callable[[], object], runs: int = RUNS) -> float:
    times = []
    for _ in range(runs + 1):
        start = time.perf_counter()
        action()
        times.append(time.perf_counter() - start)
    return statistics.median(times[1:])


def _chain(count: int) -> Network:
    """Lamps of both kinds on fused feeds, every seventh behind a diode, their grounds in common."""
    parts: list[object] = [Battery(name="B", nodes={"+": "bat", "-": "gnd"})]
    controls = ("park", "brake", "left", "reverse")
    n = 0
    while len(parts) + 4 <= count:
        n += 1
        feed, pin, ground = f"feed{n // 3}", f"pin{n}", f"ground{n // 4}"
        if n % 3 == 1 or n == 1:
            control = (controls[n // 3 % len(controls)],)
            parts.append(Fuse(name=f"F{n}", nodes={"from": "bat", "to": f"fused{n // 3}"}, rating_a=20))
            parts.append(Switch(name=f"S{n}", nodes={"from": f"fused{n // 3}", "to": feed}, closed_with=control))
        if n % 4 == 0 or n == 1:
            parts.append(Ground(name=f"G{n}", nodes={"at": ground, "to": "gnd"}))
        kind = Led if n % 2 else Lamp
        parts.append(kind(name=f"L{n}", nodes={"from": pin, "to": ground}))
        joined = {"from": feed, "to": pin}
        if n % 7 == 0:
            parts.append(Diode(name=f"D{n}", nodes={"anode": feed, "cathode": pin}, part="6A10"))
        else:
            parts.append(Wire(name=f"W{n}", nodes=joined, length_m=3))
    return Network(tuple(parts))  # type: ignore[arg-type]
