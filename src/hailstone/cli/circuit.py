"""`hailstone simulate` and `hailstone spice`: a circuit file in, a document or a deck out. No database."""

from __future__ import annotations

import math
from collections.abc import Sequence
from typing import Any

from electrics.circuit.file import read_circuit
from electrics.circuit.findings import CircuitFinding
from electrics.circuit.network import Network
from electrics.circuit.simulate import Point, Simulation, simulate
from electrics.circuit.spice import spice_deck
from electrics.circuit.wiring import review
from electrics.design.states import TABLE_STATES
from electrics.vocabulary import State, parse_state
from hailstone.wording.circuit import finding_sentence

__all__ = ["as_document", "deck_of", "simulate_text"]


def simulate_text(text: str, states: Sequence[str]) -> tuple[Simulation, tuple[CircuitFinding, ...]]:
    """A circuit file solved in some states (default: those a hook-up is compared in), and what is wrong.

    Raises
    ------
    CircuitError, StateError
        Naming the element, node or control.
    """
    network = read_circuit(text)
    simulation = simulate(network, [parse_state(state) for state in states] or states_of(network))
    return simulation, review(simulation)


def states_of(network: Network) -> tuple[State, ...]:
    """The states that a circuit is solved in when none is asked for: the table's, and those of its other controls."""
    named = {control for element in network.elements for control in element.controls}
    known = {str(control) for state in TABLE_STATES for control in state.controls}
    own = sorted(named - known)
    return (*TABLE_STATES, *(parse_state(text) for control in own for text in (control, f"key+{control}")))


def deck_of(text: str, state: str, *, dark: bool) -> str:
    """The SPICE deck of one state and phase."""
    simulation = simulate(read_circuit(text), [state])
    return spice_deck(simulation.at(state, lit=not dark), title="Hailstone circuit")


def as_document(
    simulation: Simulation, found: Sequence[CircuitFinding], ohms: Sequence[tuple[str, str, float]] = ()
) -> dict[str, Any]:
    """What `--json` prints (docs/formats/simulation.schema.json); `ohms` are two nodes and what is between them."""
    return {
        "points": [_point(point) for point in simulation.points],
        "flash": {
            str(state): {
                name: {"per_minute": _round(rhythm.per_minute), "duty": rhythm.duty, "is": rhythm.word}
                for name, rhythm in rhythms.items()
            }
            for state in simulation.states
            if (rhythms := simulation.flash(state))
        },
        "findings": [
            {
                "rule": each.rule,
                "severity": each.severity,
                "subject": each.subject,
                "state": each.state,
                "phase": each.phase,
                "value": _round(each.value),
                "limit": _round(each.limit),
                "unit": each.unit,
                "by": each.by,
                "text": finding_sentence(each),
            }
            for each in found
        ],
        "ohms": [
            {"between": [first, second], "ohm": _round(ohm) if math.isfinite(ohm) else None}
            for first, second, ohm in ohms
        ],
    }


def _point(point: Point) -> dict[str, Any]:
    simulation = point.simulation
    branches = simulation.network.system.branches
    elements: dict[str, dict[str, Any]] = {}
    for element in simulation.network.elements:
        names = dict.fromkeys(branch.name for branch in branches if branch.owner == element.name)
        elements[element.name] = {
            "amps": {name or "main": _round(point.amps(element.name, name)) for name in names},
            "watts": _round(point.watts(element.name)),
        }
    for owner, branch in simulation.light:
        elements[owner].setdefault("light", {})[branch or "main"] = _round(point.light(owner, branch))
    for name, share in simulation.fuse_loads(point).items():
        elements[name]["load"] = _round(share)
    return {
        "state": str(point.case.state),
        "phase": "lit" if point.case.lit else "dark",
        "pulsed": point.is_pulsed,
        "volts": {node: _round(point.volts(node)) for node in simulation.network.nodes},
        "elements": elements,
    }


def _round(value: float) -> float:
    """Six significant figures, and no noise below a microvolt or microampere."""
    if abs(value) < 1e-6 or not math.isfinite(value):
        return 0.0
    return float(f"{value:.6g}")
