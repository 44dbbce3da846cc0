"""What a fix is: proposed from a situation, put into the design by its decision, and tried there.

Whether it fixes is seen by trying it. A fix acts in one of four ways, each a method with a plain default: parts at
leads, other facts of a unit, other facts of the vehicle, or another decision on the hook-up in place of a record.
"""

from __future__ import annotations

from abc import ABC, abstractmethod
from collections.abc import Iterator, Mapping, Sequence
from dataclasses import dataclass, replace
from math import inf
from typing import ClassVar

from electrics.correct.effects import Effect
from electrics.correct.resistor import ResistorFit
from electrics.design.additions import Addition
from electrics.design.inserts import Insert
from electrics.design.sizing import DiodeChoice
from electrics.design.units import Lead, Unit
from electrics.document.decisions import CureDecision
from electrics.document.job import JobFacts
from electrics.document.vehicle import FlasherKind, Idle, VehicleFacts
from electrics.errors import FactError
from electrics.reference.functions import kind_of
from electrics.vocabulary import Function

__all__ = ["FLASHES", "LIT_AMISS", "CureLead", "Fix", "Proposal", "Refusal", "Situation", "WatchedSide"]

FLASHES = ("flash_rate", "outage_warning", "given_up")
"""What a missing load upsets."""
LIT_AMISS = ("wrong_road", "back_feed", "factory_lamp", "lit_amiss", "linked_leads")
"""What current by the wrong path upsets."""


@dataclass(frozen=True)
class CureLead:
    """A lead of the design, as far as fixes hang on it.

    Attributes
    ----------
    function : Function
        Of the factory circuit that carries its lamp; the first that it taps where none does.
    side : str
        Of that circuit: `left`, `right` or empty.
    flashes : bool
        Whether its lamp is carried by a circuit that flashes.
    amps_a : float
        What hangs on it [A].
    own_supply : bool
        Its lamp is fed from the battery, past the factory circuit.
    is_pulsed : bool
        It hangs on a circuit in pulses.
    form : str
        How it is hooked up.
    others : tuple of (str, str)
        The other right ways: form and key, the best of each form.
    sizes : tuple of str
        Wire sizes thicker than its own, the next first.
    grounds : tuple of str
        The schools of ground that may be for it and are not its own.
    names : frozenset of str
        What belongs to it in the circuit: lamps, parts, wires, joints.
    """

    id: str
    function: Function
    side: str
    flashes: bool = True
    unit: Unit | None = None
    amps_a: float = 0.0
    is_filament: bool = False
    is_ground: bool = False
    own_supply: bool = False
    is_pulsed: bool = False
    form: str = ""
    others: tuple[tuple[str, str], ...] = ()
    sizes: tuple[str, ...] = ()
    grounds: tuple[str, ...] = ()
    names: frozenset[str] = frozenset()

    @property
    def steady_of(self) -> Function | None:
        """Its circuit where that does not flash; None where it does."""
        return None if self.flashes else self.function

    @property
    def can_be_held(self) -> bool:
        """Whether its circuit burns steadily in some state: the brake on a combined lamp, a tail lamp all night."""
        return kind_of(self.function).can_be_held or not self.flashes


@dataclass(frozen=True)
class WatchedSide:
    """What watches one side, or one output, and what it is short of.

    Attributes
    ----------
    leads : tuple of CureLead
        Where a resistor can be fitted.
    threshold_a, load_a : float
        What is made up for, a margin beyond what is waited for, and what flows at the lowest running voltage [A].
    spare_a : float
        What its fuse allows beyond what flows [A].
    """

    name: str
    leads: tuple[CureLead, ...]
    threshold_a: float
    load_a: float
    spare_a: float = inf
    loss_v: float = 0.0


@dataclass(frozen=True)
class Situation:
    """What a fix is proposed for."""

    effects: tuple[Effect, ...]
    system_v: int
    flasher: FlasherKind
    has_computer: bool
    sides: tuple[WatchedSide, ...]
    leads: tuple[CureLead, ...] = ()
    idle: Idle = Idle.DARK
    pilot: str = ""
    stock_ohm: tuple[float, ...] = ()
    body: str = "car"
    habits: tuple[tuple[str, float], ...] = ()

    def at(self, decision: CureDecision) -> tuple[CureLead, ...]:
        """The leads that a decision is fitted at."""
        return tuple(lead for lead in self.leads if lead.id in decision.leads)

    def has(self, *rules: str) -> bool:
        """Whether one of these rules is among the effects."""
        return any(effect.rule in rules for effect in self.effects)

    def concerned(self, *rules: str) -> tuple[CureLead, ...]:
        """The leads that effects of some rules are about, by what they name; all where they name none."""
        named: set[str] = set()
        for effect in self.effects:
            if effect.rule in rules:
                named |= {*effect.subjects, effect.finding.by, *effect.finding.road}
        return tuple(lead for lead in self.leads if lead.names & named) or self.leads


@dataclass(frozen=True)
class Refusal:
    """Why a fix must not be fitted here.

    Attributes
    ----------
    id : str
        Its words are in `hailstone.wording.correct`.
    value, limit : float or None
        What it is, and what it may be [unit].
    allows_reason : bool
        Whether somebody may fit it all the same, with a written reason: never what destroys itself or does nothing.
    """

    id: str
    value: float | None = None
    limit: float | None = None
    unit: str = ""
    allows_reason: bool = False


@dataclass(frozen=True)
class Proposal:
    """A fix as it would be fitted here.

    Attributes
    ----------
    cure : str
        Id of its class.
    leads : tuple of str
        The leads that parts are fitted at.
    fit : ResistorFit or None
        Of a load resistor.
    diode : DiodeChoice or None
        Of a diode.
    decision : CureDecision or None
        What taking it decides; None where it is refused or only named.
    refusal : str
        Why it must not be; empty where it may be tried.
    costs : tuple of str
        Ids of what stays or becomes worse with it, to be told.
    """

    cure: str
    leads: tuple[str, ...] = ()
    fit: ResistorFit | None = None
    diode: DiodeChoice | None = None
    decision: CureDecision | None = None
    refusal: str = ""
    costs: tuple[str, ...] = ()

    @property
    def is_named(self) -> bool:
        """Whether it is named and not computed."""
        return self.decision is None and not self.refusal

    @property
    def mount(self) -> str:
        return self.fit.mount if self.fit else ""


class Fix(ABC):
    """One kind of fix.

    Attributes
    ----------
    brings : mapping of str to int
        Parts of the list that it is fitted with besides those at leads.
    at_leads : bool
        Whether it is fitted at leads, so that a job file names them.
    ends : mapping of str to int
        What it ends wherever it may be fitted, by rule, and its parts for that: ways are ranked with it [-].
    hides_outage : bool
        Whether nobody is told of a dead lamp any more once it is fitted.
    keeps_wish : bool
        Whether what was wished for is still what is fitted.
    is_slow : bool
        Whether it is followed through time, so that trying it takes a second.
    """

    id: ClassVar[str]
    brings: ClassVar[Mapping[str, int]] = {}
    at_leads: ClassVar[bool] = True
    hides_outage: ClassVar[bool] = False
    keeps_wish: ClassVar[bool] = True
    is_slow: ClassVar[bool] = False
    ends: ClassVar[Mapping[str, int]] = {}
    proves: ClassVar[tuple[str, ...]] = ()
    """Lines of the test sheet that must pass before anybody signs."""
    is_record: ClassVar[bool] = True
    """Whether it is kept as a fix; else it is another decision on the hook-up."""

    @abstractmethod
    def proposals(self, situation: Situation) -> Iterator[Proposal]:
        """How it would be fitted here; nothing where it does not apply."""

    def held_against(self, decision: CureDecision, situation: Situation) -> Iterator[Refusal]:
        """What forbids it here, proposed or used, however it came to be decided."""
        yield from ()

    def inserts(self, decision: CureDecision) -> tuple[Insert, ...]:
        """What is fitted at each of its leads."""
        return ()

    def additions(self, decision: CureDecision, vehicle: VehicleFacts) -> tuple[Addition, ...]:
        """What is fitted at the vehicle itself."""
        return ()

    def parts(self, decision: CureDecision, leads: Sequence[Lead]) -> Mapping[str, int]:
        """Parts that it is fitted with besides those at leads [-]; `leads` are the job's."""
        return self.brings

    def applied(self, facts: JobFacts, decision: CureDecision) -> JobFacts:
        """The facts that a plan is made from while it is fitted."""
        return facts

    def changed(self, unit: Unit, decision: CureDecision, facts: JobFacts) -> Unit:
        """A unit as it is while it is fitted."""
        return unit

    def decided(self, facts: JobFacts, decision: CureDecision) -> JobFacts:
        """The facts once it is taken: it stands in place of another of its kind at the same leads."""
        kept = [each for each in facts.hookup.cures if each.cure != decision.cure]
        return replace(facts, hookup=replace(facts.hookup, cures=(*kept, decision)))

    def check(self, decision: CureDecision) -> None:
        """FactError for a decision from outside that cannot be."""
        if not self.is_record:
            raise FactError("cure", f"“{self.id}” is no cure that is kept: choose the way, wire or ground itself.")
        if self.at_leads and not decision.leads:
            raise FactError("cures", f"the {self.id.replace('_', ' ')} wants the leads that it is fitted at.")
