"""A candidate on the vehicle itself: attached to its circuit, solved in every state, compared and judged.

What the search says by logic must be what the solved circuit shows: contacts that close, diodes that drop,
fuses that blow, flashers that speed up, current that runs back.
"""

from __future__ import annotations

from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass
from functools import lru_cache

from electrics.circuit.elements import Element, Lamp, Led, Relay
from electrics.circuit.findings import Finding, findings
from electrics.circuit.simulate import GLOWS, Simulation, simulate
from electrics.hookup.accessories import Lead
from electrics.hookup.forms import Form
from electrics.hookup.load import running_v
from electrics.hookup.states import TABLE_STATES
from electrics.lighting.vehicle import FactoryCircuit, FlasherKind, Lamps, Vehicle, factory_circuit
from electrics.signals import GROUND_SWITCHED, Level, Scenario, Signal
from electrics.vocabulary import Function, Polarity, State

__all__ = ["Trial", "node_of", "try_out", "vehicle_with"]

FULL = 0.3
"""Share of nominal light from which a lamp counts as on; between this and a glow it is dim [-] (estimate)."""
ADDED = "added"


@dataclass(frozen=True)
class Trial:
    """What a candidate does on the vehicle.

    Attributes
    ----------
    shows : mapping of State to Signal
        What the added lamp shows.
    wrong : tuple of State
        Where that is not what is wanted.
    upsets : tuple of Finding
        What is found now and was not before.
    """

    simulation: Simulation
    shows: Mapping[State, Signal]
    wrong: tuple[State, ...]
    upsets: tuple[Finding, ...]


@lru_cache(maxsize=64)
def vehicle_with(
    functions: frozenset[tuple[Function, str]], scenario: Scenario, *, system_v: int = 12, has_computer: bool = False
) -> FactoryCircuit:
    """A vehicle whose circuit has these functions in these variants, at the voltage that loads are judged at.

    Parameters
    ----------
    functions : frozenset of (Function, str)
        What was identified, with its variant.
    scenario : Scenario
    system_v : int
        6, 12 or 24 [V].
    has_computer : bool
        Whether a computer flashes and counts the lamps.

    Returns
    -------
    FactoryCircuit
    """
    names = {function for function, _ in functions}
    drl = next((variant for function, variant in functions if function is Function.DRL), "")
    one_wire = any(function.startswith("tail_stop") for function in names)
    pulsed = (Function.TAIL, "pulsed") in functions
    apart = bool(names & {Function.TAIL_LEFT, Function.TAIL_RIGHT}) and not pulsed and Function.TAIL not in names
    return factory_circuit(
        Vehicle(
            system_v=system_v,
            resting_v=running_v(system_v),
            scenario=scenario,
            flasher=FlasherKind.COMPUTER if has_computer else FlasherKind.ELECTRONIC,
            counts_bulbs=has_computer,
            one_wire=one_wire,
            pulsed_tail=pulsed and not one_wire,
            sides_apart=apart and not one_wire,
            drl=drl,
            low_stays=(Function.LOW_BEAM, "stays") in functions,
            has_fogs=bool(names & {Function.FOG_FRONT, Function.FOG_REAR}),
            has_trailer_socket=Function.BRAKE_CONTROLLER in names,
            ground_switched_stop=(Function.STOP, GROUND_SWITCHED) in functions,
            rear=Lamps.FILAMENT,
        )
    )


def node_of(factory: FactoryCircuit, function: Function, variant: str = "") -> str:
    """The first point of the vehicle's circuit with this function (and variant); empty where it has none."""
    return next(
        (spot.node for spot in factory.spots.values() if spot.function is function and variant in ("", spot.variant)),
        "",
    )


def try_out(
    form: Form,
    lead: Lead,
    nodes: Sequence[str],
    factory: FactoryCircuit,
    scenario: Scenario,
    *,
    count: int = 1,
    each_a: float | None = None,
    states: Sequence[State] = TABLE_STATES,
) -> Trial:
    """Attach a form of hook-up to a vehicle and see.

    Parameters
    ----------
    form : Form
    lead : Lead
    nodes : sequence of str
        Where its sources are on the vehicle's circuit.
    factory : FactoryCircuit
    scenario : Scenario
        The vehicle's.
    count : int
        Lamps on the lead [-].
    each_a : float, optional
        Current of each [A]; the lead's usual one otherwise.
    states : sequence of State

    Returns
    -------
    Trial
    """
    out = f"{ADDED}_lead"
    parts = form.build(ADDED, nodes, out)
    if factory.vehicle.system_v != 12:
        parts = tuple(_scaled(part, factory.vehicle.system_v / 12) for part in parts)
    lamps = _lamps(lead, out, count, each_a or lead.each_a, factory.vehicle.system_v / 12)
    simulation = simulate(factory.network.with_elements(*parts, *lamps), states)
    shows = {state: _shown(simulation, state) for state in states}
    wrong = tuple(state for state in states if shows[state] != lead.wanted.signal(state, scenario))
    return Trial(simulation, shows, wrong, _new(findings(simulation), _before(factory, tuple(states))))


def _scaled(part: Element, scale: float) -> Element:
    """A relay for another system voltage: coil and thresholds in proportion."""
    if not isinstance(part, Relay):
        return part
    return Relay(
        name=part.name,
        nodes=part.nodes,
        coil_ohm=part.coil_ohm * scale**2,
        pull_in_v=part.pull_in_v * scale,
        drop_out_v=part.drop_out_v * scale,
        suppression=part.suppression,
    )


def _lamps(lead: Lead, out: str, count: int, each_a: float, scale: float) -> Iterable[Element]:
    first, second = (out, "gnd") if lead.polarity is Polarity.POSITIVE else ("bat", out)
    for n in range(1, count + 1):
        nodes = {"from": first, "to": second}
        if lead.technology == "filament":
            yield Lamp(name=f"{ADDED} lamp {n}", nodes=nodes, rated_v=12.8 * scale, rated_a=each_a)
        else:
            yield Led(
                name=f"{ADDED} lamp {n}",
                nodes=nodes,
                amps_a=each_a,
                at_v=13.5 * scale,
                threshold_v=7.5 * scale,
            )


def _shown(simulation: Simulation, state: State) -> Signal:
    levels = []
    for lit in (True, False):
        light = simulation.at(state, lit=lit).light(f"{ADDED} lamp 1")
        levels.append(Level.ON if light >= FULL else Level.PART if light > GLOWS else Level.OFF)
    return Signal(levels[0], levels[1])


@lru_cache(maxsize=64)
def _before(factory: FactoryCircuit, states: tuple[State, ...]) -> frozenset[tuple[str, str]]:
    found = findings(simulate(factory.network, states))
    return frozenset((finding.rule, finding.subject) for finding in found)


def _new(found: Iterable[Finding], before: frozenset[tuple[str, str]]) -> tuple[Finding, ...]:
    return tuple(finding for finding in found if (finding.rule, finding.subject) not in before)
