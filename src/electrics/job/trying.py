"""Ways and designs tried on the vehicle's own circuit, as far as its wires were identified."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field
from functools import lru_cache

from electrics.hookup.additions import rewired
from electrics.hookup.assemble import assemble, vehicle_nodes
from electrics.hookup.design import Design
from electrics.hookup.forms import Form
from electrics.hookup.judge import Judged, judge
from electrics.hookup.states import states_for
from electrics.hookup.trial import Installed, Replaced, Together, Trial, gone_of, places_of, try_installed, try_out
from electrics.hookup.units import Lead
from electrics.hookup.vehicles import node_of, vehicles_with
from electrics.identify.belief import Belief
from electrics.job.beliefs import settled_circuits
from electrics.job.cures.registry import CURABLE
from electrics.job.facts import Computer, JobFacts
from electrics.job.ways import Way, forget_searches
from electrics.lighting.vehicle import FactoryCircuit, FlasherKind, Idle
from electrics.reference.habits import AIR_C, habit
from electrics.signals import Scenario
from electrics.vocabulary import Function, State

__all__ = ["Bench", "bench_of", "dark_circuits", "forget", "judge_ways", "try_design", "try_way"]


@dataclass(frozen=True)
class Bench:
    """The vehicle that ways are tried on: what was identified, how it is built, and the variants it may be of."""

    found: frozenset[tuple[Function, str]]
    scenarios: tuple[Scenario, ...]
    system_v: int
    has_computer: bool
    counted: tuple[tuple[Function, str, int], ...] = ()
    flasher: FlasherKind = FlasherKind.ELECTRONIC
    pilot: str = ""
    idle: Idle = Idle.DARK
    habits: tuple[tuple[str, float], ...] = ()
    volts: float | None = None
    """What the supply is set to, key off and engine on [V]; None for running and charging."""

    def factories(self) -> tuple[FactoryCircuit, ...]:
        """The circuit that the factory built, in each variant, the likeliest first."""
        return _factories(self)


def bench_of(facts: JobFacts, beliefs: Sequence[Belief], scenarios: tuple[Scenario, ...]) -> Bench:
    """The vehicle of a job, as far as its wires are settled."""
    vehicle = facts.vehicle
    return Bench(
        frozenset(settled_circuits(beliefs)),
        scenarios,
        vehicle.system_v,
        vehicle.computer is Computer.YES,
        facts.counted,
        vehicle.usual_flasher,
        vehicle.pilot,
        vehicle.idle,
        vehicle.habits,
    )


def try_way(bench: Bench, lead: Lead, lamps: int, each_a: float, way: Way) -> Trial | None:
    """A way on this vehicle's own circuit, solved in every state; None where a circuit it taps is not modelled."""
    states = way.candidate.trial_states
    return _tried(way.candidate.form, _taps(way), lead, lamps, each_a, bench, states)


def try_design(
    bench: Bench,
    design: Design,
    taken: Sequence[tuple[Lead, Way]],
    factories: tuple[FactoryCircuit, ...] = (),
    *,
    is_followed: bool = False,
) -> Together | None:
    """A design on the vehicle's circuit: every wire, joint and part of it; None where a circuit is not modelled.

    Parameters
    ----------
    bench : Bench
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
        factories or _factories(bench),
        states,
        habit(bench.habits, AIR_C),
        is_followed,
    )


def dark_circuits(bench: Bench, taken: Sequence[tuple[Lead, Way]]) -> frozenset[Function]:
    """The vehicle's circuits none of whose lamps is left when those that were replaced are taken out."""
    replaced = _replaced(taken)
    factory = _factories(bench)[0]
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
        source.key if place.is_own else (place.wire.function, place.wire.variant)
        for source, place in zip(way.candidate.sources, way.wires, strict=True)
    )


def judge_ways(
    bench: Bench, lead: Lead, lamps: int, each_a: float, ways: Sequence[Way], *, at_least: int
) -> tuple[tuple[Way, Judged], ...]:
    """Ways in order of merit on this vehicle; see `electrics.hookup.judge`."""
    by_key: Mapping[str, Way] = {way.key: way for way in ways}
    judged = judge(
        [way.candidate for way in ways],
        lambda candidate: try_way(bench, lead, lamps, each_a, by_key[candidate.key]),
        at_least=at_least,
        curable=CURABLE,
    )
    return tuple((by_key[each.candidate.key], each) for each in judged)


Tapped = str | tuple[Function, str]
"""A source: the key of one of one's own, or a function of the vehicle in its variant."""


def _nodes(taps: Sequence[Tapped], lead: Lead, factory: FactoryCircuit) -> list[str]:
    places = places_of(lead)
    return [tap if isinstance(tap, str) else node_of(factory, *tap, places) for tap in taps]


def _factories(bench: Bench) -> tuple[FactoryCircuit, ...]:
    return vehicles_with(
        bench.found,
        bench.scenarios,
        system_v=bench.system_v,
        has_computer=bench.has_computer,
        counted=bench.counted,
        flasher=bench.flasher,
        volts=bench.volts,
        pilot=bench.pilot,
        idle=bench.idle,
        habits=bench.habits,
    )


@lru_cache(maxsize=128)
def _tried(
    form: Form,
    taps: tuple[Tapped, ...],
    lead: Lead,
    lamps: int,
    each_a: float,
    bench: Bench,
    states: tuple[State, ...],
) -> Trial | None:
    factories = _factories(bench)
    nodes = _nodes(taps, lead, factories[0])
    if not all(nodes):
        return None
    return try_out(form, lead, nodes, factories, count=lamps, each_a=each_a, states=states)


def forget() -> None:
    """Forget every search and trial: so a measurement begins cold."""
    forget_searches()
    for known in (_tried, _installed):
        known.cache_clear()
