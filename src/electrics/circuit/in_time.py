"""Rules for what capacitors do between two pulses and two beats."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from dataclasses import replace

from electrics.circuit.cases import is_flashing
from electrics.circuit.elements import ComputerOutput
from electrics.circuit.network import Network
from electrics.circuit.rules import Found, rule, sized
from electrics.circuit.simulate import GLOWS, Point, Simulation
from electrics.circuit.transient import cold_test_phases, flash_phases, transient
from electrics.vocabulary import State

__all__: list[str] = []

LONGEST_LIT = 0.75
"""Share of its period that a turn lamp may be lit [-] (SAE J590)."""
FILLED = 2.0
"""A pulsed lamp that gives this many times what its pulses would give looks like another function [-] (estimate)."""
BRIGHT = 0.5
"""Share of its light from which a pulsed lamp is as bright as in its full state [-] (estimate)."""
BEATS, PULSES = 4, 3


@rule
def test_pulse_glow(point: Point) -> Iterator[Found]:
    """An LED that lights up in the pulses by which a computer tests its lamps cold; a filament is too slow to."""
    if not point.case.state.is_dead:
        return
    network, state = point.simulation.network, point.case.state
    quick = [lamp.name for lamp in network.elements if lamp.is_quick]
    testing = [output for output in network.of(ComputerOutput) if output.test_pulses]
    if not testing or not quick or (network.system.charges and not point.simulation.is_followed):
        return
    shown: dict[str, float] = {}
    if network.system.charges:
        slowest = min(testing, key=lambda output: output.test_hz)
        run = transient(cold_test_phases(network, slowest, state, _pulsing(network, testing, state), pulses=PULSES))
        last = run.times_s > (PULSES - 1) / slowest.test_hz
        shown = {name: float(run.light[name, ""][last].max()) for name in quick if (name, "") in run.light}
    else:
        for output in testing:
            on = Simulation(_pulsing(network, [output], state), [state]).at(state)
            for name in quick:
                shown[name] = max(shown.get(name, 0.0), on.light(name))
    for name, light in shown.items():
        if light > GLOWS + point.light(name):
            yield Found("warning", name, light, GLOWS, "of its light")


def _pulsing(network: Network, outputs: Sequence[ComputerOutput], state: State) -> Network:
    """The network in a test pulse of some outputs."""
    for output in outputs:
        network = network.with_changed(replace(output, full_with=(str(state),), flashes_with=(), dims_with=()))
    return network


@sized
def never_dark(point: Point) -> Iterator[Found]:
    """A turn lamp that a capacitor keeps lit between two beats."""
    simulation, case = point.simulation, point.case
    if (
        not simulation.is_followed
        or not simulation.network.system.charges
        or not is_flashing(case.state)
        or not case.lit
    ):
        return
    shares = _lit_shares(simulation)
    for beat in _beating(point):
        share = shares.get(beat, 0.0)
        if share > LONGEST_LIT:
            yield Found("error", beat[0], share, LONGEST_LIT, "of the time")


Beat = tuple[str, float, float]
"""A quick lamp with its light in the lit and in the dark phase, rounded: in whatever state, it fades alike."""


def _beating(point: Point) -> frozenset[Beat]:
    simulation, state = point.simulation, point.case.state
    if not any(rhythm.per_minute > 0 for rhythm in simulation.flash(state).values()):
        return frozenset()
    dark = simulation.at(state, lit=False)
    return frozenset(
        (lamp.name, round(point.light(lamp.name), 1), round(dark.light(lamp.name), 1))
        for lamp in simulation.network.elements
        if lamp.is_quick and point.light(lamp.name) > GLOWS > dark.light(lamp.name)
    )


def _lit_shares(simulation: Simulation) -> dict[Beat, float]:
    """Which share of its period every beating lamp is lit: as few states followed in time as show them all."""
    found: dict[Beat, float] | None = simulation.kept.get("lit_shares")
    if found is not None:
        return found
    found = simulation.kept["lit_shares"] = {}
    points = [point for point in simulation.points if is_flashing(point.case.state) and point.case.lit]
    left = {point.case.state: set(_beating(point)) for point in points}
    while any(left.values()):
        state = max(left, key=lambda each: len(left[each]))
        phases = flash_phases(simulation.network, state, beats=BEATS)
        whole_s = sum(phase.seconds for phase in phases)
        begin_s = whole_s * (BEATS - 2) / BEATS
        run = transient(phases)
        for beat in left[state]:
            found[beat] = run.lit_s(beat[0], above=GLOWS, since_s=begin_s) / (whole_s - begin_s)
        left = {each: beats - found.keys() for each, beats in left.items()}
    return found


@rule
def pulses_filled(point: Point) -> Iterator[Found]:
    """A lamp on a dimmed, pulsed feed that a capacitor makes about as bright as in its full state."""
    network, case = point.simulation.network, point.case
    if not network.system.charges or not point.is_pulsed:
        return
    duty = next(pulse.duty for pulse in network.system.pulses if pulse.is_on(case.state))
    for lamp in network.elements:
        light = point.light(lamp.name)
        if lamp.is_quick and light > FILLED * duty and light > BRIGHT:
            yield Found("error", lamp.name, light, duty, "of its light")
