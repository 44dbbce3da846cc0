"""Flashers: bimetal, electronic that senses its load, and electronic with a fixed rate."""

from __future__ import annotations

from dataclasses import dataclass, replace

import numpy as np
from numpy.typing import NDArray

from electrics.circuit.build import Builder, Solution
from electrics.circuit.cases import Case, is_flashing
from electrics.circuit.elements.base import Element, element
from electrics.circuit.elements.overload import TripRule
from electrics.circuit.rhythm import Rhythm
from electrics.errors import CircuitError

__all__ = ["Flasher", "Rhythm"]

Array = NDArray[np.float64]
Flags = NDArray[np.bool_]

CONTACT_OHM, GUARD_OHM = 0.02, 0.002
NORMAL_PER_MIN = 90.0
"""Rate with all lamps whole (UN R48: 90 plus or minus 30)."""
FAST = 2.0
"""Warning of a dead lamp: about twice the rate (common practice)."""
HOLDS_BELOW = 0.4
"""Share of its rated load under which a bimetal flasher never opens (estimate)."""
MOST_SHARE = 1.15
"""Load beyond which a bimetal flasher gets no faster: those for hazards too are made for it [-] (estimate)."""
SUPPLY_SHARE = 0.6
"""Share of its supply that an electronic flasher needs between supply and ground (estimate)."""
NOTHING_A = 0.005
STAYS_CLOSED_A = 0.01
"""What flows through a contact in the dark phase that never opened [A]."""
HALF_MAIN_BULB_A = 1.05
"""Half a main bulb of 2.10 A (SAE J573): what the full set may lack before one is missed [A] (common practice)."""


@element("flasher", ("49", "49a"), ("31", "c"))
@dataclass(frozen=True, kw_only=True)
class Flasher(Element):
    """A flasher by its kind.

    Attributes
    ----------
    type : str
        `bimetal` (rate by load), `electronic` (doubles when it misses load) or `fixed`.
    rated_a : float
        Load of the full set of lamps [A].
    threshold_a : float or None
        Below this an electronic one doubles; default: the set less half a main bulb [A].
    needs_ground : bool
        A three-terminal part that is dead without its ground.
    when_short : str
        What an electronic one does when it misses load: `fast`, `steady` (lit without a beat) or `off`.
    trips_above_a : float
        An electronic one shuts off above this until the next key cycle; 0 for one that does not [A].
    """

    type: str = "electronic"
    rated_a: float = 4.2
    threshold_a: float | None = None
    needs_ground: bool = False
    when_short: str = "fast"
    trips_above_a: float = 0.0

    beats = True
    conducts = True

    @property
    def lets_through_a(self) -> float | None:
        return self.trips_above_a or None

    def expecting(self, full_a: float, least_a: float, most_a: float = 0.0) -> Flasher:
        return replace(self, rated_a=full_a, threshold_a=least_a)

    def check(self) -> None:
        self.positive("rated_a")
        if self.threshold_a is not None:
            self.positive("threshold_a", zero=True)
        if self.type not in ("bimetal", "electronic", "fixed"):
            raise CircuitError(self.name, "", f"type is {self.type}. Expected bimetal, electronic or fixed.")
        if self.when_short not in ("fast", "steady", "off"):
            raise CircuitError(self.name, "", f"when_short is {self.when_short}. Expected fast, steady or off.")
        self.positive("trips_above_a", zero=True)

    @property
    def misses_below_a(self) -> float:
        """Load under which a lamp is taken to be missing [A]."""
        return self.rated_a - HALF_MAIN_BULB_A if self.threshold_a is None else self.threshold_a

    def rhythm(self, load_a: float) -> Rhythm:
        """How it flashes with a load in its lit phase [A]."""
        if load_a < NOTHING_A:
            return Rhythm(0.0, 0.0, "dead")
        if self.type == "bimetal":
            share = load_a / self.rated_a
            if share < HOLDS_BELOW:
                return Rhythm(0.0, 1.0, "steady")
            word = "normal" if share > 0.8 else "slow"
            return Rhythm(NORMAL_PER_MIN * min(share, MOST_SHARE) ** 1.5, 0.5, word)
        if self.is_short(load_a):
            short = {"fast": Rhythm(FAST * NORMAL_PER_MIN, 0.5, "fast"), "steady": Rhythm(0.0, 1.0, "steady")}
            return short.get(self.when_short, Rhythm(0.0, 0.0, "dead"))
        return Rhythm(NORMAL_PER_MIN, 0.5, "normal")

    def is_short(self, load_a: float) -> bool:
        """Whether an electronic one misses load."""
        return self.type == "electronic" and load_a < self.misses_below_a

    def beat(self, case: Case, lit_a: float, dark_a: float) -> Rhythm | None:
        rhythm = self.rhythm(lit_a)
        stays_closed = dark_a > STAYS_CLOSED_A and rhythm.word != "steady"
        return Rhythm(0.0, 1.0, "steady") if stays_closed else rhythm

    def passes_on(self, branch: str) -> int:
        return int(branch in ("", "pilot", "guard"))

    def build(self, b: Builder) -> None:
        gate = b.gate(lambda case: (case.lit and is_flashing(case.state)) or self.type == "bimetal")
        supply = self.at("49")
        if self.trips_above_a and self.type != "bimetal":
            supply, trip = f"{self.name}.guarded", b.gate(lambda case: True)
            guard = b.resistor(self.name, self.at("49"), supply, GUARD_OHM, name="guard", gate=trip)
            b.rule(TripRule(self.name, trip, (guard,), self.trips_above_a))
        branch = b.resistor(self.name, supply, self.at("49a"), CONTACT_OHM, gate=gate)
        if "c" in self.nodes:
            b.resistor(self.name, supply, self.at("c"), CONTACT_OHM, name="pilot", gate=gate)
        if self.type != "bimetal" and "31" in self.nodes:
            b.resistor(self.name, self.at("49"), self.at("31"), 5e3, name="supply")
        b.rule(FlasherRule(self, gate, branch))


class FlasherRule:
    """A bimetal contact opens only when its load heats it; an electronic one needs its supply."""

    is_slow = False

    def __init__(self, flasher: Flasher, gate: int, branch: int) -> None:
        self.owner, self.gates, self.branch, self.flasher = flasher.name, (gate,), branch, flasher

    def update(self, solution: Solution, gates: Flags) -> tuple[Flags, Array]:
        flasher, cases = self.flasher, solution.cases
        asked = np.array([is_flashing(case.state) for case in cases.all])
        lit = np.array([case.lit for case in cases.all])
        if flasher.type == "bimetal":
            load = np.abs(solution.currents[:, self.branch])[cases.lit]
            closed = lit | ~asked | (load < HOLDS_BELOW * flasher.rated_a)
        else:
            closed = lit & asked
            if flasher.type == "electronic" and flasher.when_short != "fast":
                load = np.abs(solution.currents[:, self.branch])[cases.lit]
                is_short = load < flasher.misses_below_a
                closed = asked & (lit | is_short) if flasher.when_short == "steady" else closed & ~is_short
            if flasher.needs_ground:
                supply = solution.between(flasher.at("49"), flasher.at("31"))
                closed &= supply > SUPPLY_SHARE * np.abs(solution.volts(flasher.at("49")))
                closed &= "31" in flasher.nodes
        return closed[:, None], np.zeros(len(closed))
