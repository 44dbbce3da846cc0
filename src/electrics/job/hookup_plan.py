"""What follows for one hook-up: leads with their ways and sizes, circuits with their load, what is still open."""

from __future__ import annotations

from dataclasses import dataclass
from functools import cached_property

from electrics.build.sheet import CutRun, Part
from electrics.circuit.findings import Finding
from electrics.hookup.accessories import Accessory, Lead
from electrics.hookup.load import HostLoad
from electrics.hookup.sized import SizedLead
from electrics.hookup.trial import Together
from electrics.identify.leads import LampBelief, LeadBelief
from electrics.job.facts import CircuitNotes, RunDecision
from electrics.job.ways import Bench, Way, shown_way, try_all, try_way
from electrics.signals import Scenario
from electrics.vocabulary import Function, State

__all__ = ["KINDS_OF_DECISION", "BuildPlan", "CircuitPlan", "HookUpPlan", "LeadPlan", "Open"]

KINDS_OF_DECISION = 4
"""What is decided in this layer: the ways, the circuits, who feeds them, the runs."""


@dataclass(frozen=True)
class Open:
    """Something still open or forbidden: an id that `hailstone.wording.hookup` puts into words, and where."""

    id: str
    lead: str = ""
    function: Function | None = None
    detail: str = ""


@dataclass(frozen=True)
class LeadPlan:
    """One lead of what is added: what could feed it, best first by logic, what was chosen, and its sizes.

    Attributes
    ----------
    is_gone : bool
        The way that was chosen cannot be had any more.
    """

    lead: Lead
    each_a: float
    lamps: int
    ways: tuple[Way, ...]
    chosen: Way | None
    is_gone: bool
    measured: LeadBelief | None
    run: RunDecision
    follows: bool
    sized: SizedLead

    @property
    def amps_a(self) -> float:
        return self.each_a * self.lamps

    @property
    def right(self) -> tuple[Way, ...]:
        return tuple(way for way in self.ways if way.is_right)

    @property
    def shown(self) -> Way | None:
        """The way that pictures and tables are of."""
        return shown_way(self.ways, self.chosen)


@dataclass(frozen=True)
class CircuitPlan:
    """A factory circuit that is tapped: what is noted of it, and its load with what is added."""

    function: Function
    notes: CircuitNotes
    added_a: float
    bears_lamp: bool
    load: HostLoad | None


@dataclass(frozen=True)
class HookUpPlan:
    """Everything layer three says.

    Attributes
    ----------
    scenarios : tuple of Scenario
        The variants that the vehicle may be of, the likeliest first.
    missing, faults : tuple of Open
        The decisions still open, and what forbids this hook-up.
    """

    accessory: Accessory
    leads: tuple[LeadPlan, ...]
    circuits: tuple[CircuitPlan, ...]
    lamp: LampBelief | None
    voltage_v: float
    scenarios: tuple[Scenario, ...]
    states: tuple[State, ...]
    bench: Bench
    missing: tuple[Open, ...]
    faults: tuple[Open, ...]
    override: str

    @property
    def is_single(self) -> bool:
        return len(self.leads) == 1

    @property
    def added_a(self) -> float:
        """What all leads draw together [A]."""
        return sum(lead.amps_a for lead in self.leads)

    @property
    def overridden(self) -> str:
        """The reason for a way that is not right, where one was taken."""
        return self.override if any(lead.chosen and not lead.chosen.is_right for lead in self.leads) else ""

    @property
    def has_ways(self) -> bool:
        return any(lead.ways for lead in self.leads)

    @property
    def is_complete(self) -> bool:
        return not self.missing and not self.faults

    @cached_property
    def open_kinds(self) -> tuple[str, ...]:
        """The kinds of decision still open."""
        return tuple(dict.fromkeys(item.id for item in self.missing))

    @cached_property
    def together(self) -> Together | None:
        """Every lead's chosen way on the vehicle at once; None while one is open, or there is only one."""
        taken = [(lead.lead, lead.lamps, lead.each_a, lead.chosen) for lead in self.leads if lead.chosen]
        return try_all(self.bench, taken) if len(taken) == len(self.leads) > 1 else None

    @cached_property
    def upsets(self) -> tuple[Finding, ...]:
        """What the chosen ways upset on the vehicle's circuit, all of them together."""
        if self.together is not None:
            return self.together.upsets
        found: list[Finding] = []
        for lead in self.leads:
            trial = try_way(self.bench, lead.lead, lead.lamps, lead.each_a, lead.chosen) if lead.chosen else None
            found += trial.upsets if trial else ()
        return tuple(found)

    @property
    def decided_share(self) -> float:
        """How much of the layer is decided [-]."""
        return 1 - len(self.open_kinds) / KINDS_OF_DECISION

    def lead(self, id: str) -> LeadPlan:
        """A lead by its id, else the first."""
        return next((lead for lead in self.leads if lead.lead.id == id), self.leads[0])


@dataclass(frozen=True)
class BuildPlan:
    """What is cut and laid out."""

    runs: tuple[CutRun, ...]
    parts: tuple[Part, ...]
