"""Ways and designs tried on the vehicle's own circuit, as far as its wires were identified."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field
from functools import lru_cache

from electrics.design.additions import rewired
from electrics.design.assemble import assemble, vehicle_nodes
from electrics.design.design import Design
from electrics.design.forms import Form
from electrics.design.states import states_for
from electrics.design.units import Lead
from electrics.document.circuits import FedBy
from electrics.document.job import JobFacts
from electrics.identify.belief import Belief
from electrics.job.beliefs import settled_circuits
from electrics.job.cures.registry import CURABLE
from electrics.job.ways import Way, forget_searches, place_wires
from electrics.lighting.vehicle import FactoryCircuit
from electrics.reference.habits import AIR_C, habit
from electrics.signals import Scenario
from electrics.vocabulary import Function, State
from electrics.ways.ranking import Judged, rank
from electrics.ways.trial import Installed, Replaced, Together, WayTrial, gone_of, places_of, try_installed, try_out
from electrics.ways.vehicles import KnownVehicle, node_of

__all__ = ["dark_circuits", "forget", "judge_ways", "known_vehicle", "try_design", "try_way"]


def known_vehicle(facts: JobFacts, beliefs: Sequence[Belief], scenarios: tuple[Scenario, ...]) -> KnownVehicle:
    """The vehicle of a job, as far as its wires are settled."""
    by_module = sorted(
        {
            (place.wire.function, place.wire.variant)
            for place in place_wires(facts, beliefs)
            if place.is_tow and place.wire.is_settled and facts.circuit(place.wire.function).fed_by is FedBy.COMPUTER
        }
    )
    found = frozenset(settled_circuits(beliefs))
    return KnownVehicle(found, scenarios, facts.vehicle, facts.counted, facts.noted_fuses, tuple(by_module))


def try_way(bench: KnownVehicle, lead: Lead, lamps: int, each_a: float, way: Way) -> WayTrial | None:
    """A way on this vehicle's own circuit, solved in every state; None where a circuit it taps is not modelled."""
    states = way.candidate.trial_states
    return _tried(way.candidate.form, _taps(way), lead, lamps, each_a, bench, states)


def try_design(
    bench: KnownVehicle,
    design: Design,
    taken: Sequence[tuple[Lead, Way]],
    factories: tuple[FactoryCircuit, ...] = (),
    *,
    is_followed: bool = False,
) -> Together | None:
    """A design on the vehicle's circuit: every wire, joint and part of it; None where a circuit is not modelled.

    Parameters
    ----------
    bench : KnownVehicle
    design : Design
    taken : sequence of (Lead, Way)
    factories : tuple of FactoryCircuit, optional
        Vehicles in place of the bench's, with the same points.
    is_followed : bool
        Capacitors are followed through time, on the likeliest variant.
    """
    states = states_for([lead.wanted for lead, _ in taken], [way.candidate.tapped for _, way in taken])
    pins = {
        place.key: (place.wire.function, place.wire.variant, place.near) for _, way in taken for place in way.tapped
    }
    lights: dict[str, list[str]] = {}
    for light in design.lights:
        lights.setdefault(light.lead, []).append(light.element.name)
    forms = tuple(way.candidate.form for _, way in taken)
    leads = tuple(lead for lead, _ in taken)
    replaced = _replaced(taken) + design.emptied
    lamps = tuple(tuple(lights[lead.id]) for lead in leads)
    keyed = _Keyed(repr(design), design)
    return _installed(
        keyed,
        forms,
        leads,
        lamps,
        replaced,
        tuple(pins.items()),
        factories or bench.factories(),
        states,
        habit(bench.facts.habits, AIR_C),
        is_followed,
    )


def dark_circuits(bench: KnownVehicle, taken: Sequence[tuple[Lead, Way]]) -> frozenset[Function]:
    """The vehicle's circuits none of whose lamps is left when those that were replaced are taken out."""
    replaced = _replaced(taken)
    factory = bench.factories()[0]
    gone = gone_of(factory, replaced)
    found = set()
    for function in {function for function, *_ in replaced}:
        nodes = {spot.node for spot in factory.spots.values() if spot.function is function}
        lamps = [
            element.name
            for element in factory.network.elements
            if element.glows and not nodes.isdisjoint(element.nodes.values())
        ]
        if lamps and gone.issuperset(lamps):
            found.add(function)
    return frozenset(found)


def _replaced(taken: Sequence[tuple[Lead, Way]]) -> tuple[Replaced, ...]:
    """The tapped circuits of which lamps are taken out, at which places, and how many."""
    return tuple(
        (place.wire.function, places_of(lead), lead.sockets)
        for lead, way in taken
        for place in way.tapped
        if lead.replaces
    )


@dataclass(frozen=True)
class _Keyed:
    """A design that compares by all that it says, so that one is solved once."""

    key: str
    design: Design = field(compare=False)


@lru_cache(maxsize=32)
def _installed(
    keyed: _Keyed,
    forms: tuple[Form, ...],
    leads: tuple[Lead, ...],
    lamps: tuple[tuple[str, ...], ...],
    replaced: tuple[Replaced, ...],
    pins: tuple[tuple[str, tuple[Function, str, tuple[str, ...]]], ...],
    factories: tuple[FactoryCircuit, ...],
    states: tuple[State, ...],
    air_c: float,
    is_followed: bool,
) -> Together | None:
    installed, instead = [], rewired(end.key for end in keyed.design.ends())
    for factory in factories:
        nodes = {key: node_of(factory, *found) for key, found in pins}
        if not all(nodes.values()):
            return None
        parts = tuple(part.in_air(air_c) for part in assemble(keyed.design, vehicle_nodes(keyed.design, nodes)))
        installed.append(Installed(parts, replaced, forms, leads, lamps, instead))
    return try_installed(installed, factories, states, is_followed=is_followed)


def _taps(way: Way) -> tuple[Tapped, ...]:
    return tuple(
        source.key if place.is_own else (place.wire.function, place.wire.variant, place.near if place.is_tow else ())
        for source, place in zip(way.candidate.sources, way.wires, strict=True)
    )


def judge_ways(
    bench: KnownVehicle, lead: Lead, lamps: int, each_a: float, ways: Sequence[Way], *, at_least: int
) -> tuple[tuple[Way, Judged], ...]:
    """Ways in order of merit on this vehicle; see `electrics.ways.ranking`."""
    by_key: Mapping[str, Way] = {way.key: way for way in ways}
    judged = rank(
        [way.candidate for way in ways],
        lambda candidate: try_way(bench, lead, lamps, each_a, by_key[candidate.key]),
        at_least=at_least,
        curable=CURABLE,
    )
    return tuple((by_key[each.candidate.key], each) for each in judged)


Tapped = str | tuple[Function, str, tuple[str, ...]]
"""A source: the key of an added one, or a function of the vehicle in its variant, and where, if not at the lamp."""


def _nodes(taps: Sequence[Tapped], lead: Lead, factory: FactoryCircuit) -> list[str]:
    places = places_of(lead)
    return [tap if isinstance(tap, str) else node_of(factory, *tap[:2], tap[2] or places) for tap in taps]


@lru_cache(maxsize=128)
def _tried(
    form: Form,
    taps: tuple[Tapped, ...],
    lead: Lead,
    lamps: int,
    each_a: float,
    bench: KnownVehicle,
    states: tuple[State, ...],
) -> WayTrial | None:
    factories = bench.factories()
    nodes = _nodes(taps, lead, factories[0])
    if not all(nodes):
        return None
    return try_out(form, lead, nodes, factories, count=lamps, each_a=each_a, states=states)


def forget() -> None:
    """Forget every search and trial: so a measurement begins cold."""
    forget_searches()
    for known in (_tried, _installed):
        known.cache_clear()
