"""Rules for what capacitors do between two pulses and two beats, and for lamps that a known fault keeps dark."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import replace

from electrics.circuit.cases import is_flashing
from electrics.circuit.elements import ComputerOutput
from electrics.circuit.rules import Found, rule, sized
from electrics.circuit.simulate import GLOWS, Point, Simulation
from electrics.circuit.transient import cold_test_phases, flash_phases, transient

__all__: list[str] = []

LONGEST_LIT = 0.75
"""Share of its period that a turn lamp may be lit [-] (SAE J590)."""
FILLED = 2.0
"""A pulsed lamp that gives this many times what its pulses would give looks like another function [-] (estimate)."""
DARKER = 0.5
"""A lamp that gives less than this share of what it would give without the fault is dark or dim by it [-]."""
BEATS, PULSES = 4, 3


@rule
def test_pulse_glow(point: Point) -> Iterator[Found]:
    """An LED that lights up in the pulses by which a computer tests its lamps cold; a filament is too slow to."""
    if not point.case.state.is_dead:
        return
    network, state = point.simulation.network, point.case.state
    quick = [lamp.name for lamp in network.elements if lamp.is_quick]
    for output in network.of(ComputerOutput):
        if not output.test_pulses or not quick:
            continue
        pulsing = network.with_changed(replace(output, full_with=(str(state),), flashes_with=(), dims_with=()))
        if network.system.charges:
            phases = cold_test_phases(network, output, state, pulsing, pulses=PULSES)
            run = transient(phases)
            last = run.times_s > (PULSES - 1) / output.test_hz
            shown = {name: float(run.light[name, ""][last].max()) for name in quick if (name, "") in run.light}
        else:
            on = Simulation(pulsing, [state]).at(state)
            shown = {name: on.light(name) for name in quick}
        for name, light in shown.items():
            if light > GLOWS + point.light(name):
                yield Found("warning", name, light, GLOWS, "of its light")


@sized
def never_dark(point: Point) -> Iterator[Found]:
    """A turn lamp that a capacitor keeps lit between two beats."""
    network, case = point.simulation.network, point.case
    if not network.system.charges or not is_flashing(case.state) or not case.lit:
        return
    if not any(rhythm.per_minute > 0 for rhythm in point.simulation.flash(case.state).values()):
        return
    dark = point.simulation.at(case.state, lit=False)
    beating = [
        lamp.name
        for lamp in network.elements
        if lamp.is_quick and point.light(lamp.name) > GLOWS and dark.light(lamp.name) < GLOWS
    ]
    if not beating:
        return
    phases = flash_phases(network, case.state, beats=BEATS)
    whole_s = sum(phase.seconds for phase in phases)
    begin_s = whole_s * (BEATS - 2) / BEATS
    run = transient(phases)
    for name in beating:
        share = run.lit_s(name, above=GLOWS, since_s=begin_s) / (whole_s - begin_s)
        if share > LONGEST_LIT:
            yield Found("error", name, share, LONGEST_LIT, "of the time")


@rule
def pulses_filled(point: Point) -> Iterator[Found]:
    """A lamp on a dimmed, pulsed feed that a capacitor makes about as bright as in its full state."""
    network, case = point.simulation.network, point.case
    if not network.system.charges or not point.is_pulsed:
        return
    duty = next(pulse.duty for pulse in network.system.pulses if pulse.is_on(case.state))
    for lamp in network.elements:
        light = point.light(lamp.name)
        if lamp.is_quick and light > FILLED * duty and light > DARKER:
            yield Found("error", lamp.name, light, duty, "of its light")


@rule
def dark_by_fault(point: Point) -> Iterator[Found]:
    """A lamp that would give at least twice its light if a part that is known to be broken were whole."""
    for name, whole in _mended(point.simulation):
        then = whole.at(point.case.state, lit=point.case.lit)
        for (lamp, branch), light in whole.light.items():
            would = float(light[then.row])
            if would > GLOWS and point.light(lamp, branch) < DARKER * would:
                yield Found("error", lamp, point.light(lamp, branch), would, "of its light", name)


def _mended(simulation: Simulation) -> tuple[tuple[str, Simulation], ...]:
    """The circuit with each broken part made whole, solved in the same states; kept with the simulation."""
    found = simulation.kept.get("mended")
    if found is None:
        network = simulation.network
        broken = [element for element in network.elements if element.mended is not element]
        found = simulation.kept["mended"] = tuple(
            (element.name, Simulation(network.with_changed(element.mended), simulation.states)) for element in broken
        )
    return found
