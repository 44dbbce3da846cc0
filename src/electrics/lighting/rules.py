"""Rules about what is said of the vehicle itself."""

from __future__ import annotations

from collections.abc import Iterator, Sequence

from electrics.document.vehicle import VehicleFacts
from electrics.judge.finding import Finding, Severity
from electrics.judge.rule import Rule

__all__ = ["VEHICLE_RULES"]


class NoComputerYetOneFlashes(Rule[VehicleFacts]):
    """A vehicle that is said to have no computer and whose turn lamps a computer flashes."""

    id = "computer_contradicted"

    def look(self, case: VehicleFacts) -> Iterator[Finding]:
        if case.contradicts_itself:
            yield self.found()


class ComputerAssumed(Rule[VehicleFacts]):
    """A computer flashes the turn lamps and nobody said what else it does: it is treated as powering them all."""

    id, severity = "computer_assumed", Severity.DOUBT

    def look(self, case: VehicleFacts) -> Iterator[Finding]:
        if case.assumes_computer:
            yield self.found()


VEHICLE_RULES: Sequence[Rule[VehicleFacts]] = (NoComputerYetOneFlashes(), ComputerAssumed())
