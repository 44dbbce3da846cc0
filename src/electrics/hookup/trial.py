"""A candidate on the vehicle itself: attached to its circuit, solved in every state, compared and judged.

What the search says by logic must be what the solved circuit shows: contacts that close, diodes that drop,
fuses that blow, flashers that speed up, current that runs back.
"""

from __future__ import annotations

from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass, replace
from functools import lru_cache

import numpy as np
from numpy.typing import NDArray

from electrics.circuit.elements import Element, Lamp, Led, Relay
from electrics.circuit.findings import Finding, findings
from electrics.circuit.network import Network
from electrics.circuit.simulate import GLOWS, Simulation, simulate
from electrics.hookup.accessories import Lead
from electrics.hookup.forms import Form, own_feed
from electrics.hookup.load import running_v
from electrics.hookup.states import NEVER, TABLE_STATES
from electrics.lighting.vehicle import FactoryCircuit, FlasherKind, Lamps, Vehicle, factory_circuit
from electrics.signals import GROUND_SWITCHED, Level, Scenario, Signal
from electrics.vocabulary import Function, Polarity, State

__all__ = ["Trial", "node_of", "places_of", "try_out", "vehicle_with"]

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
    nodes : tuple of str
        Where its sources are on the circuit, those of one's own included.
    """

    simulation: Simulation
    shows: Mapping[State, Signal]
    wrong: tuple[State, ...]
    upsets: tuple[Finding, ...]
    nodes: tuple[str, ...] = ()


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
    vehicle = Vehicle(
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
    factory = factory_circuit(vehicle)
    extras = tuple(sorted(each for each in functions if each[0] not in NEVER and not node_of(factory, *each)))
    return factory_circuit(replace(vehicle, extras=extras)) if extras else factory


def node_of(factory: FactoryCircuit, function: Function, variant: str = "", places: Sequence[str] = ()) -> str:
    """The first point of the vehicle's circuit with this function (and variant); empty where it has none.

    Points at `places` (`rear left`) go before others.
    """
    found = [
        (place, spot.node)
        for place, spot in factory.spots.items()
        if spot.function is function and variant in ("", spot.variant)
    ]
    found.sort(key=lambda each: each[0].partition(":")[0] not in places)
    return next((node for _, node in found), "")


def places_of(lead: Lead) -> tuple[str, ...]:
    """Where the lamps that a lead replaces are: both sides, or the one that its wish speaks of."""
    sides = {side for f in lead.wanted.functions for side in ("left", "right") if f.endswith(side)}
    if len(sides) != 1:
        return lead.replaces
    (side,) = sides
    return tuple(place for place in lead.replaces if not place.endswith({"left": "right", "right": "left"}[side]))


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
        Where its sources are on the vehicle's circuit; `BATTERY` or `OWN_SWITCH` for those of one's own.
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
    own = [own_feed(node, f"{ADDED} {n}") if node.startswith("@") else ((), node) for n, node in enumerate(nodes)]
    parts = tuple(part for feed, _ in own for part in feed) + form.build(ADDED, [node for _, node in own], out)
    if factory.vehicle.system_v != 12:
        parts = tuple(_scaled(part, factory.vehicle.system_v / 12) for part in parts)
    lamps = _lamps(lead, out, count, each_a or lead.each_a, factory.vehicle.system_v / 12)
    gone = _replaced(factory, nodes, places_of(lead))
    left = Network(tuple(element for element in factory.network.elements if element.name not in gone))
    network = left.with_changed(*form.changes(left)).with_elements(*parts, *lamps)
    simulation = simulate(network, states)
    shows = {state: _shown(simulation, state) for state in states}
    wrong = {state for state in states if shows[state] != lead.wanted.signal(state, scenario)}
    before = _before(factory, tuple(states))
    upsets = _new(findings(simulation), before.findings) + _disturbed(simulation, before, gone)
    for relay in (part for part in parts if isinstance(part, Relay)):
        held = simulate(network, states, held=True)
        stuck = [state for state in states if _shown(held, state) != shows[state]]
        wrong.update(state for state in stuck if _shown(held, state) != lead.wanted.signal(state, scenario))
        if stuck:
            coil_v = abs(held.at(stuck[0]).volts(relay.at("86")) - held.at(stuck[0]).volts(relay.at("85")))
            where = (str(stuck[0]), "lit", coil_v, relay.drop_out_v, "V")
            upsets += (Finding("order_matters", "error", relay.name, *where),)
    in_order = tuple(state for state in states if state in wrong)
    return Trial(simulation, shows, in_order, upsets, tuple(node for _, node in own))


def _replaced(factory: FactoryCircuit, nodes: Sequence[str], places: Sequence[str]) -> frozenset[str]:
    """Names of the factory lamps at these places that hang on the tapped circuits."""
    functions = {spot.function for spot in factory.spots.values() if spot.node in nodes}
    pins = {
        spot.node
        for place, spot in factory.spots.items()
        if place.partition(":")[0] in places and spot.function in functions
    }
    return frozenset(
        element.name
        for element in factory.network.elements
        if isinstance(element, (Lamp, Led)) and not pins.isdisjoint(element.nodes.values())
    )


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
        level = _level(simulation.at(state, lit=lit).light(f"{ADDED} lamp 1"))
        levels.append((Level.OFF, Level.PART, Level.ON)[level])
    return Signal(levels[0], levels[1])


def _level(light: float) -> int:
    """How a lamp looks: 0 dark, 1 dim, 2 on."""
    return 2 if light >= FULL else int(light > GLOWS)


@dataclass(frozen=True)
class _Before:
    """The vehicle as it was: what was found, and how each lamp looked in each case."""

    findings: frozenset[tuple[str, str]]
    light: Mapping[tuple[str, str], NDArray[np.float64]]


@lru_cache(maxsize=64)
def _before(factory: FactoryCircuit, states: tuple[State, ...]) -> _Before:
    simulation = simulate(factory.network, states)
    found = findings(simulation)
    return _Before(frozenset((finding.rule, finding.subject) for finding in found), simulation.light)


def _new(found: Iterable[Finding], before: frozenset[tuple[str, str]]) -> tuple[Finding, ...]:
    return tuple(finding for finding in found if (finding.rule, finding.subject) not in before)


def _disturbed(simulation: Simulation, before: _Before, gone: frozenset[str]) -> tuple[Finding, ...]:
    """Factory lamps that look another way than before in some case: the first case of each."""
    found = []
    for (name, branch), was in before.light.items():
        if name in gone:
            continue
        now = simulation.light[name, branch]
        levels = [np.digitize(light, (GLOWS, FULL)) for light in (was, now)]
        for n in np.flatnonzero(levels[0] != levels[1])[:1]:
            case = simulation.cases.all[n]
            phase = "lit" if case.lit else "dark"
            found.append(
                Finding("factory_lamp", "error", name, str(case.state), phase, float(now[n]), float(was[n]), "share")
            )
    return tuple(found)
