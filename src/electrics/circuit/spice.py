"""A circuit as a SPICE deck for one state and phase, which ngspice runs as it stands.

Relays, fuses, flashers and modules stand as they were found; filaments are behavioural sources with a thermal
node whose volts are kelvin; what pulses stands in its high part, with filaments at the heat of the mean.
"""

from __future__ import annotations

import re
from collections.abc import Iterator

from electrics.circuit.build import LEAK_S, Branch
from electrics.circuit.junction import SOFT_V, THERMAL_V
from electrics.circuit.simulate import Point

__all__ = ["node_names", "spice_deck"]


def spice_deck(point: Point, *, title: str = "", ammeters: bool = False) -> str:
    """The deck of one solved point.

    Parameters
    ----------
    point : Point
    title : str
        First line of the deck.
    ammeters : bool
        Put a source of 0 V in series with every branch, so that its current is printed; `am<k>` is branch k.

    Returns
    -------
    str
    """
    case = point.case
    phase = "lit" if case.lit else "dark"
    lines = [f"* {title or 'circuit'}: {case.state}, {phase} phase".replace("\n", " ")]
    names = node_names(point)
    for name, safe in names.items():
        if name != safe and safe != "0":
            lines.append(f"* node {safe} is {name}")
    for k, branch in enumerate(point.simulation.network.system.branches):
        first, second = names[branch.first], names[branch.second]
        if ammeters:
            lines.append(f"Vam{k} {first} am{k} 0")
            first = f"am{k}"
        lines += _branch(point, k, branch, first, second)
    lines += [
        f"Rleak{n} {safe} 0 {1 / LEAK_S:g}" for n, safe in enumerate(dict.fromkeys(names.values())) if safe != "0"
    ]
    lines += [".options reltol=1e-6 abstol=1e-12 vntol=1e-9 gmin=1e-15", ".op", ".end"]
    return "\n".join(lines) + "\n"


def node_names(point: Point) -> dict[str, str]:
    """Every node's name in the deck; the reference is 0."""
    network = point.simulation.network
    names = {network.reference: "0"}
    taken = {"0"}
    for name in network.system.node_names:
        # with a beginning of its own no node can be one of the deck's inner nodes (e3, t7, am2)
        safe = base = "n_" + re.sub(r"[^a-z0-9_]", "_", name.lower())
        count = 1
        while safe in taken:
            count += 1
            safe = f"{base}_{count}"
        taken.add(safe)
        names[name] = safe
    return names


def _branch(point: Point, k: int, branch: Branch, first: str, second: str) -> Iterator[str]:
    system, row = point.simulation.network.system, point.row
    yield f"* {branch.owner} {branch.name}".rstrip()
    if branch.group == "resistor":
        gate = system.gate_of[branch.place]
        if gate >= 0 and not point.simulation.solution.gates[row, gate]:
            yield f"* open: {first} {second}"
        else:
            yield f"R{k} {first} {second} {system.ohm[branch.place]:.9g}"
    elif branch.group == "emf":
        volts = point.simulation.solution.emf[row, branch.place]
        ohm = system.emf_ohm[branch.place]
        if ohm:
            yield f"V{k} {first} e{k} {volts:.9g}"
            yield f"R{k} e{k} {second} {ohm:.9g}"
        else:
            yield f"V{k} {first} {second} {volts:.9g}"
    elif branch.group == "filament":
        yield from _filament(point, k, branch.place, first, second)
    elif branch.group == "junction":
        junctions, n = system.junctions, branch.place
        yield f"D{k} {first} {second} d{k}"
        yield (
            f".model d{k} d(is={junctions.saturation_a[n]:.9g} n={junctions.slope_v[n] / THERMAL_V:.9g} "
            f"rs={junctions.series_ohm[n]:.9g})"
        )
    elif branch.group == "powered":
        powered, n = system.powered, branch.place
        v = f"V({first},{second})"
        draws = f"{0.5 * powered.watts[n]:.9g} * {v} / ({v} * {v} + {SOFT_V**2:g})"
        started = f"tanh(({v} - {powered.start_v[n]:.9g}) / {powered.width_v[n]:.9g})"
        yield f"B{k} {first} {second} I = {draws} * (1 + {started})"
    else:
        regulated, n = system.regulated, branch.place
        yield (
            f"B{k} {first} {second} I = {0.5 * regulated.amps_a[n]:.9g} * "
            f"({regulated.offset[n]:.15g} + tanh((V({first},{second}) - {regulated.start_v[n]:.9g}) / "
            f"{regulated.width_v[n]:.9g}))"
        )


def _filament(point: Point, k: int, place: int, first: str, second: str) -> Iterator[str]:
    filaments = point.simulation.network.system.filaments
    heat = point.simulation.solution.heat[point.row, place]
    if point.is_pulsed:
        yield f"R{k} {first} {second} {1 / filaments.conductance_s(heat)[place]:.9g}"
        return
    hot_k, hot_ohm, ambient_k = filaments.hot_k[place], filaments.hot_ohm[place], filaments.ambient_k
    loss = filaments.rated_v[place] * filaments.rated_a[place] / (hot_k**4 - ambient_k**4)
    volts = f"V({first},{second})" if second != "0" else f"V({first})"
    if first == "0":
        volts = f"(-V({second}))"
    current = f"{volts} / ({hot_ohm:.9g} * pow(max(V(t{k}), {ambient_k:g}) / {hot_k:g}, 1.2))"
    yield f"B{k} {first} {second} I = {current}"
    yield f"Bh{k} 0 t{k} I = {volts} * {current}"
    yield f"Bl{k} t{k} 0 I = {loss:.9g} * (pow(max(V(t{k}), 0), 4) - {ambient_k**4:.9g})"
    yield f"Rt{k} t{k} 0 1e12"
    yield f".nodeset v(t{k})=1500"
