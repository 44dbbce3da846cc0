"""What thinks: outputs of a body computer, stop-and-turn converters, brake controllers, a bus line."""

from __future__ import annotations

from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass, replace

import numpy as np
from numpy.typing import NDArray

from electrics.circuit.build import Builder, Solution
from electrics.circuit.cases import Case, Pulse
from electrics.circuit.elements.base import Element, controls_of, element, is_any_on
from electrics.circuit.elements.flashers import FAST, NORMAL_PER_MIN, NOTHING_A
from electrics.circuit.elements.overload import ShortfallRule, TripRule
from electrics.circuit.rhythm import Rhythm
from electrics.errors import CircuitError
from electrics.vocabulary import Control, State

__all__ = ["BrakeController", "Bus", "ComputerOutput", "Converter", "Separator", "TimedRelay"]

Array = NDArray[np.float64]
Flags = NDArray[np.bool_]

OUTPUT_OHM, WATCH_OHM = 0.03, 0.002
FILAMENT_LAW = 0.54
"""How a filament's current goes with its voltage near the rated one [-] (handbook exponents)."""
SENSE_OHM = 4700.0
SENSES_V = 5.0
"""From which a module's input counts as on [V] (estimate)."""
WORKS_FROM_V = 7.0
"""From which a module works at all [V] (estimate)."""


@element("computer_output", ("supply", "out"), is_way=True)
@dataclass(frozen=True, kw_only=True)
class ComputerOutput(Element):
    """A lamp output of a body computer: senses its current, may pulse, shuts off on overload.

    Attributes
    ----------
    full_with, dims_with, flashes_with, flashes_unless_full : tuple of str
        Controls with which it is on; pulsed; flashing whatever else; flashing unless a control of `full_with` is on.
    duty : float
        Share of the time that a pulsed output is high [-].
    warn_below_a, warn_above_a : float
        A lit lamp drawing less is taken for dead, one drawing more for another bulb; 0 where it does not look [A].
    law_v : float
        Where its limits go with what a filament draws at the voltage of the moment: at which voltage they are
        given; 0 where they are fixed [V].
    trip_above_a : float
        It shuts off above this [A].
    doubles : bool
        A dead turn lamp makes it flash at twice the rate.
    gives_up : bool
        It shuts off a lamp that it takes for dead.
    latches : bool
        Its message stays until the next key cycle.
    leak_ohm : float
        A pull-up from its supply while it is off; 0 for none [ohm].
    test_pulses : bool
        It tests its lamp cold with full pulses while off, `test_hz` a second of `test_ms` each.
    pulse_hz : float
        How often it pulses when dimmed [Hz].
    """

    full_with: tuple[str, ...] = ()
    dims_with: tuple[str, ...] = ()
    flashes_with: tuple[str, ...] = ()
    flashes_unless_full: tuple[str, ...] = ()
    duty: float = 0.22
    warn_below_a: float = 0.0
    trip_above_a: float = 15.0
    doubles: bool = True
    test_pulses: bool = False
    warn_above_a: float = 0.0
    law_v: float = 0.0
    gives_up: bool = False
    latches: bool = False
    leak_ohm: float = 0.0
    test_hz: float = 1.0
    test_ms: float = 1.0
    pulse_hz: float = 100.0

    beats = True

    def expecting(self, full_a: float, least_a: float, most_a: float = 0.0) -> ComputerOutput:
        return replace(self, warn_below_a=least_a, warn_above_a=most_a)

    def check(self) -> None:
        self.positive("trip_above_a", "test_hz", "test_ms", "pulse_hz")
        self.positive("warn_below_a", "warn_above_a", "law_v", "leak_ohm", zero=True)
        if not 0.01 <= self.duty <= 0.99:
            raise CircuitError(self.name, "", f"duty is {self.duty:g}. Expected 0.01 to 0.99.")
        if 0 < self.warn_above_a <= self.warn_below_a:
            raise CircuitError(self.name, "", "warn_above_a is not above warn_below_a.")
        controls_of(self, "full_with", "dims_with", "flashes_with", "flashes_unless_full")

    def limits_a(self, volts: float) -> tuple[float, float]:
        """Between what currents a lit lamp is taken for whole at a supply voltage [A]; no upper one is infinite."""
        law = float((volts / self.law_v) ** FILAMENT_LAW) if self.law_v and volts > 0 else 1.0
        return law * self.warn_below_a, law * self.warn_above_a if self.warn_above_a else float("inf")

    def flashes(self, state: State) -> bool:
        """Whether it flashes in a state."""
        if is_any_on(state, self.flashes_with):
            return True
        return is_any_on(state, self.flashes_unless_full) and not is_any_on(state, self.full_with)

    def is_pulsed(self, state: State) -> bool:
        """Whether it is pulsed in a state."""
        return is_any_on(state, self.dims_with) and not is_any_on(state, self.full_with) and not self.flashes(state)

    def is_high(self, case: Case) -> bool:
        """Whether it gives battery voltage in a case."""
        if self.flashes(case.state):
            return case.lit
        if is_any_on(case.state, self.full_with):
            return True
        return is_any_on(case.state, self.dims_with) and case.high

    def rhythm(self, load_a: float) -> Rhythm:
        """How it flashes with a load in its lit phase [A]."""
        if load_a < NOTHING_A and not self.warn_below_a:
            return Rhythm(0.0, 0.0, "dead")
        if load_a < self.warn_below_a and self.gives_up:
            return Rhythm(0.0, 0.0, "dead")
        is_short = load_a < self.warn_below_a and self.doubles
        return Rhythm(NORMAL_PER_MIN * (FAST if is_short else 1.0), 0.5, "fast" if is_short else "normal")

    def beat(self, case: Case, lit_a: float, dark_a: float) -> Rhythm | None:
        return self.rhythm(lit_a) if self.flashes(case.state) else None

    @property
    def lets_through_a(self) -> float:
        return self.trip_above_a

    def passes_on(self, branch: str) -> int:
        return int(branch != "leak")

    def build(self, b: Builder) -> None:
        inner = f"{self.name}.driver"
        trip = b.gate(lambda case: True)
        guarded = b.resistor(self.name, self.at("supply"), inner, OUTPUT_OHM, name="driver", gate=trip)
        watched = inner
        if self.gives_up and self.warn_below_a:
            watched, gate = f"{self.name}.watched", b.gate(lambda case: True)
            branch = b.resistor(self.name, inner, watched, WATCH_OHM, name="watched", gate=gate)
            b.rule(ShortfallRule(self.name, gate, branch, self._misses_a, self.is_high))
        b.resistor(self.name, watched, self.at("out"), OUTPUT_OHM, gate=b.gate(self.is_high))
        if self.leak_ohm:
            is_off = b.gate(lambda case: not self.is_high(case))
            b.resistor(self.name, self.at("supply"), self.at("out"), self.leak_ohm, name="leak", gate=is_off)
        if self.dims_with:
            b.pulse(Pulse(self.name, self.is_pulsed, self.duty, self.pulse_hz))
        b.rule(TripRule(self.name, trip, (guarded,), self.trip_above_a))

    def _misses_a(self, solution: Solution) -> Array:
        """Below what it takes a lit lamp for dead in every case, (n_cases,) [A]."""
        supply = solution.volts(self.at("supply"))
        return np.array([self.limits_a(float(volts))[0] for volts in supply])


@dataclass(frozen=True, kw_only=True)
class Module(Element):
    """What has a supply and a ground of its own, and shuts off above `limit_a` [A] until its supply is cycled."""

    limit_a: float = 6.0

    @property
    def lets_through_a(self) -> float:
        return self.limit_a

    def passes_on(self, branch: str) -> int:
        return int(branch == "supply" or branch.endswith("_out"))

    def check(self) -> None:
        self.positive("limit_a")


@element(
    "converter", ("supply", "31", "left_out", "right_out"), ("left_in", "right_in", "stop_in", "tail_in", "tail_out")
)
@dataclass(frozen=True, kw_only=True)
class Converter(Module):
    """A stop-and-turn converter with a supply and a ground of its own: combined outputs from separate inputs.

    A turn input that flashes takes its output; otherwise the output follows the brake. Above `limit_a` the
    module shuts off until its supply is cycled. Its inputs bear pulses: the high part counts.
    """

    def build(self, b: Builder) -> None:
        _build_module(
            self,
            b,
            self.limit_a,
            inputs=("left_in", "right_in", "stop_in", "tail_in"),
            outputs={
                "left_out": lambda senses: _turn_else_stop(senses("left_in"), senses("stop_in")),
                "right_out": lambda senses: _turn_else_stop(senses("right_in"), senses("stop_in")),
                "tail_out": lambda senses: senses("tail_in").now,
            },
        )


@element("separator", ("supply", "31"), ("left_in", "right_in", "left_out", "right_out", "stop_out"))
@dataclass(frozen=True, kw_only=True)
class Separator(Module):
    """The converter the other way: separate turn and stop outputs from combined inputs.

    What flashes is a turn signal, what burns steady on either side is the brake; so while both sides flash
    it cannot know of the brake (common practice).
    """

    def build(self, b: Builder) -> None:
        _build_module(
            self,
            b,
            self.limit_a,
            inputs=("left_in", "right_in"),
            outputs={
                "left_out": lambda senses: senses("left_in").flashes & senses("left_in").now,
                "right_out": lambda senses: senses("right_in").flashes & senses("right_in").now,
                "stop_out": lambda senses: senses("left_in").is_steady | senses("right_in").is_steady,
            },
        )


@element("timed_relay", ("30", "87a", "trigger", "31"))
@dataclass(frozen=True, kw_only=True)
class TimedRelay(Element):
    """A break contact that is held open while its trigger flashes or burns, through the dark of each flash too.

    It lives on what its contact carries: with nothing at 30 there is nothing to hold open. Its delay is longer
    than the dark of a flash at 60 a minute, the slowest that is legal (SAE J590, UN R48).
    """

    def passes_on(self, branch: str) -> int:
        return 2 if branch == "87a" else 0

    def build(self, b: Builder) -> None:
        ground = self.at("31")
        contact = b.gate(lambda case: True)
        b.resistor(self.name, self.at("30"), self.at("87a"), OUTPUT_OHM, name="87a", gate=contact)
        b.resistor(self.name, self.at("30"), ground, 10e3, name="idle")
        b.resistor(self.name, self.at("trigger"), ground, SENSE_OHM, name="trigger")
        b.rule(HeldOpenRule(self, "30", (lambda senses: senses("trigger").lit | senses("trigger").dark,), (contact,)))


@dataclass(frozen=True)
class Sensed:
    """What a module's input carries: in this case, and in both phases of its flash, (n_cases,) each."""

    now: Flags
    lit: Flags
    dark: Flags

    @property
    def flashes(self) -> Flags:
        return np.asarray(self.lit & ~self.dark)

    @property
    def is_steady(self) -> Flags:
        return np.asarray(self.lit & self.dark)


Sense = Callable[[str], Sensed]


def _turn_else_stop(turn: Sensed, stop: Sensed) -> Flags:
    return np.asarray(np.where(turn.flashes | turn.now, turn.now, stop.now))


def _build_module(
    module: Element,
    b: Builder,
    limit_a: float,
    *,
    inputs: Sequence[str],
    outputs: Mapping[str, Callable[[Sense], Flags]],
) -> None:
    """A module on a supply of its own: inputs that are only sensed, outputs switched from its supply."""
    ground, inner = module.at("31"), f"{module.name}.rail"
    trip = b.gate(lambda case: True)
    rail = b.resistor(module.name, module.at("supply"), inner, OUTPUT_OHM, name="supply", gate=trip)
    b.resistor(module.name, inner, ground, 10e3, name="idle")
    for terminal in inputs:
        if terminal in module.nodes:
            b.resistor(module.name, module.at(terminal), ground, SENSE_OHM, name=terminal)
    fitted = {name: rule for name, rule in outputs.items() if name in module.nodes}
    gates = []
    for name in fitted:
        gates.append(b.gate(lambda case: False))
        b.resistor(module.name, inner, module.at(name), OUTPUT_OHM, name=name, gate=gates[-1])
    b.rule(ModuleRule(module, "supply", tuple(fitted.values()), tuple(gates)))
    b.rule(TripRule(module.name, trip, (rail,), limit_a))


class ModuleRule:
    """What a module's outputs do, by what its inputs carry against its own ground; nothing without its supply."""

    is_slow = False

    def __init__(
        self, module: Element, supply: str, outputs: tuple[Callable[[Sense], Flags], ...], gates: tuple[int, ...]
    ) -> None:
        self.owner, self.module, self.outputs, self.gates = module.name, module, outputs, gates
        self.supply = module.at(supply)

    def update(self, solution: Solution, gates: Flags) -> tuple[Flags, Array]:
        cases = solution.cases
        works = solution.between(self.supply, self.module.at("31")) >= WORKS_FROM_V

        def senses(terminal: str) -> Sensed:
            if terminal not in self.module.nodes:
                off = np.zeros(len(works), dtype=bool)
                return Sensed(off, off, off)
            volts = solution.between(self.module.at(terminal), self.module.at("31"))
            now = np.asarray(np.maximum(volts, volts[cases.pair]) >= SENSES_V)
            return Sensed(now, now[cases.lit], now[cases.dark])

        return np.stack([works & output(senses) for output in self.outputs], axis=1), np.zeros(len(works))


class HeldOpenRule(ModuleRule):
    """Contacts that open by what the inputs carry, and are closed without a supply."""

    def update(self, solution: Solution, gates: Flags) -> tuple[Flags, Array]:
        opens, load = super().update(solution, gates)
        return ~opens, load


@element("brake_controller", ("supply", "out"))
@dataclass(frozen=True, kw_only=True)
class BrakeController(Element):
    """The output for electric trailer brakes: pulsed, by pedal or lever."""

    duty: float = 0.4
    braking_with: tuple[str, ...] = ("brake", "trailer_lever")
    pulse_hz: float = 200.0

    varies = True

    def check(self) -> None:
        controls_of(self, "braking_with")
        if not 0.01 <= self.duty <= 0.99:
            raise CircuitError(self.name, "", f"duty is {self.duty:g}. Expected 0.01 to 0.99.")

    def passes_on(self, branch: str) -> int:
        return 1

    def build(self, b: Builder) -> None:
        def is_braking(state: State) -> bool:
            return is_any_on(state, self.braking_with)

        gate = b.gate(lambda case: is_braking(case.state) and case.high)
        b.resistor(self.name, self.at("supply"), self.at("out"), OUTPUT_OHM, gate=gate)
        b.pulse(Pulse(self.name, is_braking, self.duty, self.pulse_hz))


@element("bus", ("line", "31"))
@dataclass(frozen=True, kw_only=True)
class Bus(Element):
    """One wire of a bus: rests at 2.5 V while awake (ISO 11898-2), at nothing asleep."""

    recessive_v: float = 2.5

    @property
    def talks_at_v(self) -> float:
        return self.recessive_v

    def build(self, b: Builder) -> None:
        def volts(case: Case) -> float:
            return 0.0 if case.state.on(Control.ASLEEP) else self.recessive_v

        b.emf(self.name, self.at("line"), self.at("31"), volts, 60.0)
