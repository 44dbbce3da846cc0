"""Rules about what is designed: loads on factory circuits and added switches, and the sizes of each lead."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from dataclasses import dataclass
from math import inf
from typing import Any

from electrics.design.host_circuit import CircuitPlan
from electrics.design.load import MASKS_SHARE, computer_spare_a, switch_limit_a
from electrics.design.sized import SizedLead
from electrics.document.circuits import CircuitNotes, FedBy
from electrics.judge.finding import Finding, Severity
from electrics.judge.rule import Rule

__all__ = ["CIRCUIT_RULES", "LEAD_RULES", "SWITCH_RULES", "CircuitCase", "LeadCase", "SwitchCase"]

NEARLY_A = 1e-9
"""Sums of decimals are compared with this much room [A]."""


@dataclass(frozen=True)
class CircuitCase:
    """A factory circuit that is tapped, and what somebody `noted` of it."""

    circuit: CircuitPlan
    noted: CircuitNotes
    system_v: int

    @property
    def is_on_computer(self) -> bool:
        """Whether a computer's output is to carry added lamps."""
        circuit = self.circuit
        return circuit.notes.fed_by is FedBy.COMPUTER and circuit.bears_lamp and not circuit.is_tow

    @property
    def spare_a(self) -> float:
        """What such an output can carry besides its own lamps [A]."""
        return computer_spare_a(self.system_v)

    @property
    def on(self) -> dict[str, Any]:
        return {"function": self.circuit.function, "unit": "A"}


@dataclass(frozen=True)
class SwitchCase:
    """The leads that an added switch carries itself, with the current of each [A]."""

    carried: tuple[tuple[str, float], ...]
    system_v: int


@dataclass(frozen=True)
class LeadCase:
    """One lead with its sizes."""

    lead: str
    sized: SizedLead


class OnComputer(Rule[CircuitCase]):
    """More added load on a computer's output than a relay coil would be."""

    id, allows_reason = "computer", True

    def look(self, case: CircuitCase) -> Iterator[Finding]:
        if case.is_on_computer and case.circuit.fresh_a > case.spare_a + NEARLY_A:
            yield self.found(value=case.circuit.fresh_a, limit=case.spare_a, **case.on, ends="relay")


class LittleOnComputer(Rule[CircuitCase]):
    """A small added load on a computer's output: as little as a relay coil, but its limits are unpublished."""

    id, severity = "computer_small", Severity.DOUBT

    def look(self, case: CircuitCase) -> Iterator[Finding]:
        if case.is_on_computer and case.circuit.fresh_a <= case.spare_a + NEARLY_A:
            yield self.found(value=case.circuit.fresh_a, limit=case.spare_a, **case.on)


class MasksDeadBulb(Rule[CircuitCase]):
    """An added load on a computer's output, large enough to hide a dead bulb."""

    id, severity = "computer_masks", Severity.DOUBT

    def look(self, case: CircuitCase) -> Iterator[Finding]:
        load = case.circuit.load
        most_a = MASKS_SHARE * load.present_a if load is not None else inf
        if case.is_on_computer and case.circuit.fresh_a > most_a:
            yield self.found(value=case.circuit.fresh_a, limit=most_a, **case.on)


class FuseLoad(Rule[CircuitCase]):
    """A factory fuse over its continuous limit."""

    id, source, ends = "fuse_load", "ISO 8820-3; 80 % is common practice", "relay"

    def look(self, case: CircuitCase) -> Iterator[Finding]:
        load = case.circuit.load
        if load is not None and not load.fits_fuse and not case.circuit.is_by_module:
            yield self.found(value=load.largest_a, limit=load.allowed_a, **case.on)


class TowSocketLoad(Rule[CircuitCase]):
    """The module behind a tow socket carries a trailer's lamps, and no more."""

    id, ends = "tow_load", "relay"

    def look(self, case: CircuitCase) -> Iterator[Finding]:
        load = case.circuit.load
        if load is not None and not load.fits_fuse and case.circuit.is_by_module:
            yield self.found(value=load.largest_a, limit=load.allowed_a, **case.on)


class WireLoad(Rule[CircuitCase]):
    """A factory wire over its ampacity."""

    id, ends = "wire_load", "relay"

    def look(self, case: CircuitCase) -> Iterator[Finding]:
        load = case.circuit.load
        if load is not None and not load.fits_wire:
            yield self.found(value=load.largest_a, limit=load.wire_allowed_a, **case.on)


class FuseTooSmallAlready(Rule[CircuitCase]):
    """A noted fuse that today's bulbs, noted or assumed, already overload."""

    id, severity = "fuse_noted_small", Severity.DOUBT

    def look(self, case: CircuitCase) -> Iterator[Finding]:
        load = case.circuit.load
        if load is not None and case.noted.host_fuse_a is not None and load.present_a > load.fuse_a:
            yield self.found(value=load.present_a, limit=load.fuse_a, **case.on)


class SwitchLoad(Rule[SwitchCase]):
    """Lamps that an added switch carries itself beyond its rating."""

    id, source, ends = "switch_load", "ratings of dash switches (from memory)", "relay"

    def look(self, case: SwitchCase) -> Iterator[Finding]:
        most_a, total_a = switch_limit_a(case.system_v), sum(amps_a for _, amps_a in case.carried)
        if total_a > most_a:
            yield self.found(lead=case.carried[0][0], value=total_a, limit=most_a, unit="A")


class Sized(Rule[LeadCase]):
    """A lead that no stocked size, connection, ground or part suits; one rule for each."""

    def __init__(self, id: str, ends: str = "") -> None:
        self.id, self.ends = id, ends  # type: ignore[misc]

    def look(self, case: LeadCase) -> Iterator[Finding]:
        if self.id in case.sized.faults:
            yield self.found(lead=case.lead, detail=case.sized.problem if self.id == "part" else "")


class Drop(Rule[LeadCase]):
    """A run over its voltage-drop limit."""

    id, ends = "drop", "thicker_wire"

    def look(self, case: LeadCase) -> Iterator[Finding]:
        sized = case.sized
        if self.id in sized.faults and sized.option is not None:
            lost = {"value": sized.option.drop_v, "limit": sized.assumed.rules.most_v, "unit": "V"}
            yield self.found(lead=case.lead, **lost)


CIRCUIT_RULES: Sequence[Rule[CircuitCase]] = (
    OnComputer(),
    LittleOnComputer(),
    MasksDeadBulb(),
    FuseLoad(),
    TowSocketLoad(),
    WireLoad(),
    FuseTooSmallAlready(),
)
SWITCH_RULES: Sequence[Rule[SwitchCase]] = (SwitchLoad(),)
LEAD_RULES: Sequence[Rule[LeadCase]] = (
    Sized("no_wire"),
    Drop(),
    Sized("no_fuse", "thicker_wire"),
    Sized("joint"),
    Sized("ground", "better_ground"),
    Sized("part"),
)
