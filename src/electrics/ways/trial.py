"""A candidate on the vehicle itself: attached to its circuit, solved in every state, compared and judged.

What the search says by logic must be what the solved circuit shows: contacts that close, diodes that drop,
fuses that blow, flashers that speed up, current that runs back.
"""

from __future__ import annotations

from collections.abc import Iterable, Iterator, Mapping, Sequence
from dataclasses import dataclass, replace
from functools import lru_cache

import numpy as np
from numpy.typing import NDArray

from electrics.circuit.elements import Element, Relay
from electrics.circuit.findings import CircuitFinding, findings
from electrics.circuit.network import Network
from electrics.circuit.simulate import GLOWS, Simulation, simulate
from electrics.design.assemble import bare
from electrics.design.forms import Form
from electrics.design.groups import DASH_SPOT, GroupFeed, GroupTap, LeadLoad, WiredGroup
from electrics.design.netlist import PLACEHOLDER, Netlist
from electrics.design.sources import own_feed
from electrics.design.states import TABLE_STATES
from electrics.design.units import Lead, Unit
from electrics.lighting.vehicle import FactoryCircuit
from electrics.reference.conductor import WireStandard, conductors
from electrics.signals import Level, Scenario, Signal, signal
from electrics.vocabulary import FUNCTIONS, Function, State
from electrics.ways.before import as_before, disturbed, new_since
from electrics.ways.losses import FULL, losses, woken
from electrics.ways.shared_light import own_light, shared_light, without_shared

__all__ = [
    "Attachment",
    "Installed",
    "Replaced",
    "Together",
    "WayTrial",
    "gone_of",
    "places_of",
    "try_installed",
    "try_out",
    "try_together",
]

CARRIES_A = 1e-3
"""From which a contact counts as carrying [A]."""
COIL_RESTS_A = 0.01
"""Coil current with everything off from which a relay counts as energised [A]."""
ADDED = "added"
"""What a lamp that is tried is called."""


@dataclass(frozen=True)
class WayTrial:
    """What a candidate does on the vehicle.

    Attributes
    ----------
    shows : mapping of State to Signal
        What the added lamp shows: on the first variant of the vehicle on which that is wrong, else on the likeliest.
    seen_on : mapping of State to Scenario
        That variant.
    wrong : tuple of State
        Where that is not what is wanted.
    upsets : tuple of Finding
        What is found now and was not before.
    nodes : tuple of str
        Where its sources are on the circuit, those of one's own included.
    """

    simulation: Simulation
    shows: Mapping[State, Signal]
    seen_on: Mapping[State, Scenario]
    wrong: tuple[State, ...]
    upsets: tuple[CircuitFinding, ...]
    nodes: tuple[str, ...] = ()


def places_of(lead: Lead) -> tuple[str, ...]:
    """Where the lamps a lead replaces are: both sides, or the side its behavior names."""
    sides = {side for f in lead.wanted.functions for side in ("left", "right") if f.endswith(side)}
    if len(sides) != 1:
        return lead.replaces
    (side,) = sides
    return tuple(place for place in lead.replaces if not place.endswith({"left": "right", "right": "left"}[side]))


def try_out(
    form: Form,
    lead: Lead,
    nodes: Sequence[str],
    factories: Sequence[FactoryCircuit],
    *,
    count: int = 1,
    each_a: float | None = None,
    states: Sequence[State] = TABLE_STATES,
) -> WayTrial:
    """Attach a form of hook-up to a vehicle and see.

    Parameters
    ----------
    form : Form
    lead : Lead
    nodes : sequence of str
        Where its sources are on the vehicle's circuit; the key for one of one's own.
    factories : sequence of FactoryCircuit
        The variants that the vehicle may be of, the likeliest first.
    count : int
        Lamps on the lead [-].
    each_a : float, optional
        Current of each [A]; the lead's usual one otherwise.
    states : sequence of State

    Returns
    -------
    Trial
    """
    one = Attachment(form, lead, tuple(nodes), count, each_a or lead.each_a)
    found = try_together([one], factories, states=states)
    return WayTrial(found.simulation, found.shows[0], found.seen_on[0], found.wrong[0], found.upsets, found.nodes[0])


Replaced = tuple[Function, tuple[str, ...], int]
"""A circuit, places, and how many lamps are taken out at each; 0 for all."""


@dataclass(frozen=True)
class Attachment:
    """A form of hook-up on a lead, as it is put on a vehicle; see `try_out`."""

    form: Form
    lead: Lead
    nodes: tuple[str, ...]
    count: int
    each_a: float


@dataclass(frozen=True)
class Together:
    """What several leads do on the vehicle at once: what each shows, where it is wrong, and what they upset.

    All but `upsets` and the simulation, which is of the likeliest variant, are by lead and as in a `Trial`.
    """

    simulation: Simulation
    shows: tuple[Mapping[State, Signal], ...]
    seen_on: tuple[Mapping[State, Scenario], ...]
    wrong: tuple[tuple[State, ...], ...]
    upsets: tuple[CircuitFinding, ...]
    nodes: tuple[tuple[str, ...], ...]


def try_together(
    attachments: Sequence[Attachment],
    factories: Sequence[FactoryCircuit],
    *,
    states: Sequence[State] = TABLE_STATES,
) -> Together:
    """Attach several leads to a vehicle at once and see, on every variant that it may be of.

    Parameters
    ----------
    attachments : sequence of Attachment
    factories : sequence of FactoryCircuit
        The variants, the likeliest first.
    states : sequence of State

    Returns
    -------
    Together
        In the order of the attachments.
    """
    found = [_try_on(attachments, factory, asked) for factory, asked in _where_they_differ(factories, states)]
    return found[0] if len(found) == 1 else _merged(found, states)


def _where_they_differ(
    factories: Sequence[FactoryCircuit], states: Sequence[State]
) -> list[tuple[FactoryCircuit, Sequence[State]]]:
    """Every state on the likeliest variant, and on the others the states in which some wire differs."""
    first = factories[0].vehicle.scenario
    others = [(factory, differing(tuple(states), first, factory.vehicle.scenario)) for factory in factories[1:]]
    return [(factories[0], states), *((factory, asked) for factory, asked in others if asked)]


@lru_cache(maxsize=256)
def differing(states: tuple[State, ...], first: Scenario, other: Scenario) -> tuple[State, ...]:
    """The states in which some wire differs between two variants of a vehicle."""
    return tuple(
        state
        for state in states
        if any(signal(function, state, first) != signal(function, state, other) for function in FUNCTIONS)
    )


def _merged(found: Sequence[Together], states: Sequence[State]) -> Together:
    """What several variants of a vehicle show, as one: the first that is wrong in a state speaks for it."""
    first = found[0]
    shows, seen_on, wrong = [], [], []
    for n in range(len(first.shows)):
        speaks = {state: next((each for each in found if state in each.wrong[n]), first) for state in states}
        shows.append({state: each.shows[n][state] for state, each in speaks.items()})
        seen_on.append({state: each.seen_on[n][state] for state, each in speaks.items()})
        wrong.append(tuple(state for state, each in speaks.items() if state in each.wrong[n]))
    upsets: dict[tuple[str, str, str], CircuitFinding] = {}
    for upset in (upset for each in found for upset in each.upsets):
        upsets.setdefault(upset.key, upset)
    return Together(first.simulation, tuple(shows), tuple(seen_on), tuple(wrong), tuple(upsets.values()), first.nodes)


def _try_on(attachments: Sequence[Attachment], factory: FactoryCircuit, states: Sequence[State]) -> Together:
    groups = [_group(n, each) for n, each in enumerate(attachments)]
    netlist = Netlist(groups, factory.vehicle.system_v)
    tapped = {tap.key: tap.key for group in groups for tap in group.taps if not tap.is_own}
    parts = bare(netlist, tapped)
    gone = frozenset(name for each in attachments for name in _replaced(factory, each.nodes, places_of(each.lead)))
    leads = [each.lead for each in attachments]
    lights = [
        tuple(light.element.name for light in netlist.lights if light.unit == group.loads[0].unit.name)
        for group in groups
    ]
    found = _solved(parts, gone, [each.form for each in attachments], leads, lights, factory, states)
    return replace(found, nodes=tuple(tuple(_sources(netlist, n)) for n in range(len(groups))))


def _sources(netlist: Netlist, n: int) -> Iterator[str]:
    """Where the sources of a group are on the circuit."""
    for i, tap in enumerate(netlist.groups[n].taps):
        yield netlist.root(own_feed(tap.key, f"w{n} {i}")[1]) if tap.is_own else tap.key


def _group(n: int, each: Attachment) -> WiredGroup:
    """A lead with its way, as a design is laid out from; sizes come later, so it is fed by the thickest wire."""
    name = f"{ADDED} {n + 1}" if n else ADDED
    lead = replace(each.lead, lamps=each.count)
    unit = Unit(name, name, None, lead.side, (lead,), each.count)
    taps = tuple(
        GroupTap(node, node, "", DASH_SPOT, Function.SPARE, is_own=node.startswith("@"), fuse_a=0.0)
        for node in each.nodes
    )
    wire = max(conductors(WireStandard.AWG), key=lambda wire: wire.area_mm2)
    feed = GroupFeed(wire, wire.largest_fuse_a, None, PLACEHOLDER)
    return WiredGroup(each.form, taps, (LeadLoad(unit, lead, each.count * each.each_a, DASH_SPOT),), feed)


@dataclass(frozen=True)
class Installed:
    """A design on a vehicle's circuit.

    Attributes
    ----------
    parts : tuple of Element
        Everything that is added.
    replaced : tuple of (Function, tuple of str, int)
        Tapped circuits, the places on them whose factory lamps are taken out, and how many at each; 0 for all.
    forms, leads, lamps : tuples
        By lead: the form of its way, the lead, and the names of all elements that give its light.
    rewired : frozenset of str
        Factory wires and parts that the design stands in place of.
    """

    parts: tuple[Element, ...]
    replaced: tuple[Replaced, ...]
    forms: tuple[Form, ...]
    leads: tuple[Lead, ...]
    lamps: tuple[tuple[str, ...], ...]
    rewired: frozenset[str] = frozenset()


def try_installed(
    installed: Sequence[Installed],
    factories: Sequence[FactoryCircuit],
    states: Sequence[State],
    *,
    is_followed: bool = False,
) -> Together:
    """A design on every variant of a vehicle: what each lead's lamps show, and what is upset.

    Parameters
    ----------
    installed : sequence of Installed
        One for each variant: the vehicle's nodes may differ.
    factories : sequence of FactoryCircuit
        The variants, the likeliest first.
    states : sequence of State
    is_followed : bool
        Capacitors are followed through time, on the likeliest variant.

    Returns
    -------
    Together
        A lead is wrong where any of its lamps is.
    """
    found: list[Together] = []
    of_factory = dict(zip(factories, installed, strict=True))
    for factory, asked in _where_they_differ(factories, states):
        each = of_factory[factory]
        gone = gone_of(factory, each.replaced) | each.rewired
        follows = is_followed and not found
        one = _solved(each.parts, gone, each.forms, each.leads, each.lamps, factory, asked, is_followed=follows)
        before = as_before(factory, tuple(asked)).lost
        lost = losses(one.simulation, _lost_before(each, factory, before), before)
        found.append(replace(one, upsets=one.upsets + lost + woken(one.simulation)))
    return found[0] if len(found) == 1 else _merged(found, states)


def _lost_before(
    installed: Installed, factory: FactoryCircuit, before: Mapping[str, NDArray[np.float64]]
) -> dict[str, NDArray[np.float64] | None]:
    """By lamp, the factory's own feed loss at the lamp it replaces, (n_cases,) [V]."""
    found: dict[str, NDArray[np.float64] | None] = {}
    for lead, names in zip(installed.leads, installed.lamps, strict=True):
        places = places_of(lead)
        its = [each for each in installed.replaced if each[1] == places and each[0] in lead.wanted.functions]
        lost = [before[name] for name in gone_of(factory, its) if name in before]
        found |= dict.fromkeys(names, np.max(lost, axis=0) if lost else None)
    return found


def gone_of(factory: FactoryCircuit, replaced: Iterable[Replaced]) -> frozenset[str]:
    """Names of the factory lamps that come out; where a lamp has several bulbs, as many as were counted."""
    gone: set[str] = set()
    for function, places, most in replaced:
        nodes = [spot.node for spot in factory.spots.values() if spot.function is function]
        for place in places if most else (places,):
            there = _replaced(factory, nodes, (place,) if isinstance(place, str) else place)
            left = sorted(there - gone)
            gone.update(left[:most] if most else left)
    return frozenset(gone)


def _solved(
    parts: Sequence[Element],
    gone: frozenset[str],
    forms: Sequence[Form],
    leads: Sequence[Lead],
    lamps: Sequence[Sequence[str]],
    factory: FactoryCircuit,
    states: Sequence[State],
    *,
    is_followed: bool = False,
) -> Together:
    scenario = factory.vehicle.scenario
    left = tuple(element for element in factory.network.elements if element.name not in gone)
    network = Network((*left, *parts))
    simulation = simulate(network, states)
    simulation.is_followed = is_followed
    wanted = [{state: lead.wanted.signal(state, scenario) for state in states} for lead in leads]
    shows, wrong = [], []
    shared = [shared_light(lead, leads, wanted) for lead in leads]
    for names, wish, also in zip(lamps, wanted, shared, strict=True):
        each = [_shown(simulation, states, name) for name in names]
        bad = {
            state: [
                seen
                for seen in each
                if not _agrees(own_light(seen[state], wish[state], also.get(state)), wish[state])
            ]
            for state in states
        }
        shows.append({state: (bad[state] or each)[0][state] for state in states})
        wrong.append({state for state in states if bad[state]})
    before = as_before(factory, tuple(states))
    found = without_shared(findings(simulation), simulation, lamps, shared)
    upsets = new_since(found, before.findings) + disturbed(simulation, before, gone)
    fitted = {part.name for part in parts}
    relays = [relay for relay in network.of(Relay) if relay.name in fitted]
    upsets += _never_resting(simulation, relays)
    if relays:
        held = simulate(network, states, held=True)
        for names, seen, wish, bad_states in zip(lamps, shows, wanted, wrong, strict=True):
            then = [_shown(held, states, name) for name in names]
            bad_states.update(
                state for state in states if any(each[state] not in (seen[state], wish[state]) for each in then)
            )
        upsets += _held(simulation, held, relays, states)
    in_order = [tuple(state for state in states if state in bad) for bad in wrong]
    seen_on = (dict.fromkeys(states, scenario),) * len(leads)
    return Together(simulation, tuple(shows), seen_on, tuple(in_order), upsets, ())


def _never_resting(simulation: Simulation, relays: Sequence[Relay]) -> tuple[CircuitFinding, ...]:
    """Relays whose coil draws current with everything off: they empty the battery, and wear."""
    resting = [state for state in simulation.states if state.is_dead]
    return tuple(
        CircuitFinding("coil_at_rest", "error", relay.name, str(state), "lit", amps, COIL_RESTS_A, "A")
        for state in resting[:1]
        for relay in relays
        if (amps := abs(simulation.at(state).amps(relay.name, "coil"))) > COIL_RESTS_A
    )


def _held(
    simulation: Simulation, held: Simulation, relays: Sequence[Relay], states: Sequence[State]
) -> tuple[CircuitFinding, ...]:
    """Relays that hold only because they were pulled in before, each with the first state where they do."""
    found = []
    for relay in relays:
        for state in states:
            now, then = (
                [abs(each.at(state).amps(relay.name, contact)) > CARRIES_A for contact in ("87", "87a")]
                for each in (simulation, held)
            )
            if now != then:
                coil_v = abs(held.at(state).volts(relay.at("86")) - held.at(state).volts(relay.at("85")))
                where = (str(state), "lit", coil_v, relay.drop_out_v, "V")
                found.append(CircuitFinding("order_matters", "error", relay.name, *where))
                break
    return tuple(found)


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
        if element.glows and not pins.isdisjoint(element.nodes.values())
    )


LEVELS = (Level.OFF, Level.PART, Level.ON)


def _shown(simulation: Simulation, states: Sequence[State], name: str) -> dict[State, Signal]:
    """What a lamp shows in every state: dark, dim or on, lit and dark."""
    looks = np.digitize(simulation.light[name, ""], (GLOWS, FULL), right=False)
    return {
        state: Signal(
            LEVELS[looks[simulation.row(state)]],
            LEVELS[looks[simulation.row(state, lit=False)]],
        )
        for state in states
    }


def _agrees(seen: Signal, wish: Signal) -> bool:
    """Whether what is seen is what is wanted; of a voltage that varies any light will do."""
    pairs = ((seen.lit, wish.lit), (seen.dark, wish.dark))
    return all(shown is want or (want is Level.VARYING and shown is not Level.OFF) for shown, want in pairs)
