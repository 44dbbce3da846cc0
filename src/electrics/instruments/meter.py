"""What an instrument is: what it puts into a circuit, what it shows there, and where its display falls."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace
from functools import cached_property
from typing import TYPE_CHECKING, Any

from electrics.formats.reading_text import Reading
from electrics.instruments.condition import Condition
from electrics.instruments.display import Display
from electrics.vocabulary import Control, Instrument, State

if TYPE_CHECKING:  # the solver takes longer to load than a reading to be weighed, which needs none
    from electrics.circuit.network import Network
    from electrics.circuit.simulate import Point

__all__ = ["AT_BATTERY", "Held", "Meter", "Probe", "swinging"]

AT_BATTERY = (Condition.BATTERY, Condition.PULLED_UP, Condition.BETWEEN_LIT)
NODE, GROUND, PLUS = "node", "ground", "plus"
"""Where an end of what an instrument puts into the circuit goes."""
BUS_HZ = 50e3
"""What a busy fast bus reads as [Hz] (estimate)."""
PHASES_APART = 0.04
"""Share of the supply from which a display is seen to swing [-] (estimate)."""


@dataclass(frozen=True)
class Probe:
    """Where an instrument is held to a circuit.

    Attributes
    ----------
    node : str
        The wire's end that the tip touches.
    ground, plus : str
        Nodes of proven ground and of the battery, for clips.
    wire : str
        Name of the element whose current a clamp goes around; empty for none.
    """

    network: Network
    node: str
    ground: str = "gnd"
    plus: str = "bat"
    wire: str = ""

    def ends(self, first: str, second: str) -> dict[str, str]:
        """Nodes of a part with two ends."""
        nodes = {NODE: self.node, GROUND: self.ground, PLUS: self.plus}
        return {"from": nodes[first], "to": nodes[second]}


@dataclass(frozen=True)
class Held:
    """One phase of a state, solved with the instrument in place."""

    probe: Probe
    point: Point

    @property
    def volts(self) -> float:
        """At the tip against ground, mean over pulses [V]."""
        return self.point.volts(self.probe.node) - self.point.volts(self.probe.ground)

    @property
    def supply_v(self) -> float:
        return self.point.volts(self.probe.plus) - self.point.volts(self.probe.ground)

    @property
    def amps(self) -> float:
        """In the wire that a clamp goes around, mean over pulses [A]."""
        return abs(self.point.amps(self.probe.wire)) if self.probe.wire else 0.0

    @property
    def light(self) -> float:
        """Of the test lamp, as a share of its nominal [-]."""
        return self.point.light(HELD)

    @cached_property
    def ends_v(self) -> tuple[float, float]:
        """The high and the low part of a pulse; the same twice where nothing pulses [V]."""
        across = self.point.simulation.solution.between(self.probe.node, self.probe.ground)
        high, low = across[self.point.row], across[self.point.simulation.cases.pair[self.point.row]]
        return float(high), float(low)

    @property
    def duty(self) -> float:
        """Share of the time in the high part of a pulse [-]."""
        return float(self.point.simulation.cases.share[self.point.row])

    @property
    def hz(self) -> float:
        """How often it pulses, or a bus talks; 0 for neither [Hz]."""
        from electrics.circuit.elements import Bus

        state, network = self.point.case.state, self.probe.network
        if not state.on(Control.ASLEEP) and any(bus.at("line") == self.probe.node for bus in network.of(Bus)):
            return BUS_HZ
        if abs(self.ends_v[0] - self.ends_v[1]) < PHASES_APART * self.supply_v:
            return 0.0
        return max((pulse.hz for pulse in network.system.pulses if pulse.is_on(state)), default=0.0)

    @property
    def flash_hz(self) -> float:
        """How often the lamps flash in this state; 0 where nothing does [Hz]."""
        beats = self.point.simulation.flash(self.point.case.state)
        return max((beat.per_minute / 60.0 for beat in beats.values()), default=0.0)


HELD = "(instrument)"
"""Name of what an instrument puts into the circuit."""


class Meter:
    """One instrument: what it shows on a solved circuit, its axis, its displays, and the borders that tell outcomes
    apart when planning."""

    instrument: Instrument
    edges: tuple[float, ...] = ()
    is_evidence = True
    most_repeats = 2.0
    """How often a cell counts at most [-]: its readings aren't independent, confirmation comes from another state."""
    puts: tuple[tuple[str, str, str, dict[str, Any]], ...] = ()
    """What it puts into the circuit: kind of element, where its ends go, values."""

    def read(self, probe: Probe, states: Sequence[State | str]) -> tuple[Reading, ...]:
        """What it shows on a circuit, state by state; raises as `held` does."""
        return tuple(map(self.shows, self.held(probe, states)))

    def held(self, probe: Probe, states: Sequence[State | str]) -> list[list[Held]]:
        """Every state solved with it in place: lit and dark phase, or the one that there is.

        Raises
        ------
        CircuitError
            A node or wire that is not there, or a circuit that cannot be solved.
        KeyError
            An instrument that shows nothing of a circuit.
        """
        from electrics.circuit.elements import KINDS
        from electrics.circuit.network import Network
        from electrics.circuit.simulate import simulate

        parts = (
            KINDS[kind](name=f"{HELD} {n}" if n else HELD, nodes=probe.ends(first, second), **values).scaled(
                probe.network.system_scale
            )
            for n, (kind, first, second, values) in enumerate(self.puts)
        )
        wired = Network((*probe.network.elements, *parts), probe.network.reference)
        solved = simulate(wired, states)
        there = replace(probe, network=wired)
        return [
            [Held(there, point) for point in dict.fromkeys(solved.at(state, lit=lit) for lit in (True, False))]
            for state in states
        ]

    def shows(self, phases: Sequence[Held]) -> Reading:
        """What it shows of a state: lit and dark phase, or the one that there is."""
        raise KeyError(self.instrument)

    def axis(self, value: float, unit: str, supply_v: float) -> float:
        """A number shown, on the axis of the displays."""
        return value

    def swings(self, reading: Reading, supply_v: float) -> bool:
        """Whether a display jumps as a flasher makes it: a slow meter neither falls to nothing nor rises to the
        battery, so it goes by how far the two ends lie apart."""
        return reading.high > 0.25 * supply_v and reading.low < 0.6 * reading.high

    def display(self, condition: Condition, supply_v: float) -> Display:
        raise KeyError(condition)

    def mistaken(self, supply_v: float) -> Display:
        """What stands there when the wrong pin was probed, the control was off or the probe did not touch."""
        raise KeyError(self.instrument)

    def likelihood(self, reading: Reading, shown: Display, supply_v: float, shift: float = 0.0) -> float:
        """How likely the reading is under a display; `shift` is added to a number first [axis]."""
        if reading.word is not None:
            return shown.mass(reading.word)
        if reading.is_swing and self.swings(reading, supply_v):
            return shown.mass(None)
        middle = (reading.low + reading.high) / 2
        return shown.density(self.axis(middle, reading.unit, supply_v) + shift)


def swinging(shown: Sequence[float], unit: str, apart: float) -> Reading:
    """One number where the phases show the same within `apart`, else the two ends of a swing."""
    low, high = min(shown), max(shown)
    if high - low < apart:
        low = high = shown[0]
    return Reading(low + 0.0, high + 0.0, unit)
