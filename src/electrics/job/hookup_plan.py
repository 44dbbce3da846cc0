"""What follows for one hook-up: leads with their ways and sizes, circuits with their load, what is still open."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, field
from functools import cached_property

from electrics.circuit.findings import CircuitFinding as Upset
from electrics.design.accessories import Accessory
from electrics.design.design import Design
from electrics.design.host_circuit import CircuitPlan
from electrics.design.sized import SizedLead
from electrics.design.units import Lead
from electrics.design.whole_roads import feed_wires
from electrics.document.decisions import RunDecision
from electrics.identify.leads import LampBelief, LeadBelief
from electrics.job.trials import try_design
from electrics.job.ways import Way, shown_way
from electrics.judge.finding import Finding, Severity
from electrics.reference.conductor import Conductor
from electrics.signals import Scenario
from electrics.vocabulary import State
from electrics.ways.trial import Together
from electrics.ways.vehicles import KnownVehicle

__all__ = ["KINDS_OF_DECISION", "HookUpPlan", "LeadPlan"]

KINDS_OF_DECISION = 3
"""What is decided in this layer: the ways, the circuits, who feeds them."""


CURABLE = ("together", "not_wanted")
"""Faults that a cure may end."""


@dataclass(frozen=True)
class LeadPlan:
    """One lead of what is added: what could feed it, best first by logic, what was chosen, and its sizes.

    Attributes
    ----------
    is_gone : bool
        The way that was chosen cannot be had any more.
    out_m, back_m : float
        Way out and way back [m]: measured by hand, else usual ones.
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
    out_m: float
    back_m: float

    @property
    def is_assumed(self) -> bool:
        """Whether a length of its run is a usual one that nobody has measured."""
        return self.run.out_m is None or self.run.back_m is None

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
class HookUpPlan:
    """Everything layer three says.

    Attributes
    ----------
    scenarios : tuple of Scenario
        The variants that the vehicle may be of, the likeliest first.
    missing : tuple of Finding
        The decisions still open.
    findings : tuple of Finding
        What the rules hold against it; see `electrics.job.rules`.
    design : Design or None
        Of the ways that are shown; None while a lead has none.
    found : mapping of str to tuple of Way
        The ways by logic alone, by lead.
    drawn : Design or None
        Of the leads that have a way, where others have none yet.
    unused : tuple of Lead
        The leads that nothing is joined to: capped.
    """

    accessory: Accessory
    leads: tuple[LeadPlan, ...]
    circuits: tuple[CircuitPlan, ...]
    lamp: LampBelief | None
    voltage_v: float
    scenarios: tuple[Scenario, ...]
    states: tuple[State, ...]
    bench: KnownVehicle
    missing: tuple[Finding, ...]
    findings: tuple[Finding, ...]
    override: str
    design: Design | None = None
    found: Mapping[str, tuple[Way, ...]] = field(default_factory=dict)
    drawn: Design | None = None
    unused: tuple[Lead, ...] = ()

    @property
    def faults(self) -> tuple[Finding, ...]:
        """What forbids this hook-up."""
        return tuple(each for each in self.findings if each.severity is Severity.FORBIDS)

    @property
    def forbidden(self) -> tuple[Finding, ...]:
        """What forbids it whatever fix may still be chosen."""
        return tuple(each for each in self.faults if each.rule not in CURABLE)

    @property
    def doubts(self) -> tuple[Finding, ...]:
        """What is to be confirmed, and what somebody went ahead with for a written reason."""
        return tuple(each for each in self.findings if each.severity is Severity.DOUBT)

    @property
    def is_single(self) -> bool:
        return len(self.leads) == 1

    @property
    def added_a(self) -> float:
        """What all leads draw together [A]."""
        return sum(lead.amps_a for lead in self.leads)

    @property
    def overridden(self) -> str:
        """The reason for going ahead against a rule, where somebody does."""
        return self.override if any(each.reason for each in self.findings) else ""

    @property
    def has_ways(self) -> bool:
        return any(lead.ways for lead in self.leads)

    @property
    def is_complete(self) -> bool:
        """Whether it may be joined and signed: nothing is open, and nothing forbids it."""
        return not self.missing and not self.faults

    @property
    def is_begun(self) -> bool:
        """Whether there is a design to show: a way is chosen, the best ones stand in for those that are open."""
        return self.design is not None and not self.faults and any(lead.chosen for lead in self.leads)

    @property
    def can_be_tried(self) -> bool:
        """Whether there is a design to try cures on: at worst its lamps do not yet as they should."""
        is_chosen = any(lead.chosen for lead in self.leads)
        return (
            self.design is not None
            and is_chosen
            and all(fault.cure or fault.rule in CURABLE for fault in self.faults)
        )

    @property
    def is_forbidden_by_fix(self) -> bool:
        """Whether nothing but a fix that was used forbids it: it is mended in Correct."""
        return bool(self.faults) and all(fault.cure for fault in self.faults)

    @cached_property
    def open_kinds(self) -> tuple[str, ...]:
        """The kinds of decision still open."""
        return tuple(dict.fromkeys(item.rule for item in self.missing))

    @cached_property
    def together(self) -> Together | None:
        """The design on the vehicle, every lead's chosen way at once, the best one of a lead that has none yet.

        None before the first is chosen, and where a circuit is not modelled.
        """
        if self.design is None or not any(lead.chosen for lead in self.leads):
            return None
        taken = [(lead.lead, lead.shown) for lead in self.leads if lead.shown]
        return try_design(self.bench, self.design, taken)

    @cached_property
    def pictured(self) -> Together | None:
        """What pictures are of: the leads that have a way, chosen or best, all at once; None where not modelled."""
        if self.together is not None or self.drawn is None:
            return self.together
        return try_design(
            self.bench, self.drawn, [(lead.lead, lead.shown) for lead in self.drawn_leads if lead.shown]
        )

    @property
    def pictured_states(self) -> tuple[State, ...]:
        """The states that pictures can be of: those of the wishes, and those that were solved."""
        solved = self.pictured.shows if self.pictured is not None else ()
        return tuple(dict.fromkeys((*self.states, *(state for shows in solved for state in shows))))

    @property
    def drawn_leads(self) -> tuple[LeadPlan, ...]:
        """The leads that `drawn` has, in order."""
        lit = {light.lead for light in self.drawn.lights} if self.drawn is not None else set()
        return tuple(lead for lead in self.leads if lead.lead.id in lit)

    @property
    def upsets(self) -> tuple[Upset, ...]:
        """What the chosen ways upset on the vehicle's circuit, all of them together."""
        return self.together.upsets if self.together is not None else ()

    @property
    def decided_share(self) -> float:
        """How much of the layer is decided [-]."""
        return 1 - len(self.open_kinds) / KINDS_OF_DECISION

    def fuses_a(self, lead: str) -> tuple[float, ...]:
        """The ratings of the fuses that are fitted for a lead [A]; none where the host's protects its wire."""
        if self.design is None:
            return ()
        parts = (*self.design.parts_for(lead, "fuse"), *self.design.parts_for(lead, "fuse_tap"))
        return tuple(float(part.value.partition(" ")[0]) for part in parts)

    def feed_wires(self, lead: str) -> tuple[Conductor, ...]:
        """The sizes of the wires that a lead is fed by, thickest first; where it is picked, that of its run."""
        option, is_picked = self.lead(lead).sized.option, bool(self.lead(lead).run.wire_size)
        sizes: set[Conductor] = set()
        if self.design is not None and not is_picked:
            roads = (feed_wires(light, self.design) for light in self.design.lights if light.lead == lead)
            sizes = {wire.conductor for road in roads for wire in road}
        found = sizes or ({option.conductor} if option is not None else set())
        return tuple(sorted(found, key=lambda each: -each.area_mm2))

    def lead(self, id: str) -> LeadPlan:
        """A lead by its id, else the first."""
        return next((lead for lead in self.leads if lead.lead.id == id), self.leads[0])
