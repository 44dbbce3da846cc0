"""Rules about a complaint: what the flasher cannot cause, and what the circuit as entered does not show."""

from __future__ import annotations

from collections.abc import Callable, Iterator, Sequence
from dataclasses import dataclass

from electrics.correct.complaints import CANNOT, shown_by
from electrics.correct.effects import Effect
from electrics.document.vehicle import FlasherKind
from electrics.judge.finding import Finding, Severity
from electrics.judge.rule import Rule

__all__ = ["COMPLAINT_RULES", "ComplaintCase"]


@dataclass(frozen=True)
class ComplaintCase:
    """A complaint, the flasher as far as known, and what the circuit shows before any fix: solved when asked."""

    complaint: str
    flasher: FlasherKind | None
    before: Callable[[], tuple[Effect, ...]]

    @property
    def is_impossible(self) -> bool:
        """Whether such a flasher cannot do what is complained of."""
        return (self.complaint, self.flasher) in CANNOT


class ComplaintCannot(Rule[ComplaintCase]):
    """A complaint that this flasher cannot cause."""

    id, severity = "complaint_cannot", Severity.DOUBT

    def look(self, case: ComplaintCase) -> Iterator[Finding]:
        if case.complaint and case.is_impossible:
            yield self.found(detail=case.complaint, about=str(case.flasher))


class ComplaintUnshown(Rule[ComplaintCase]):
    """A complaint that the circuit as it was entered does not show."""

    id, severity = "complaint_unshown", Severity.DOUBT

    def look(self, case: ComplaintCase) -> Iterator[Finding]:
        if case.complaint and not case.is_impossible and not shown_by(case.complaint, case.before()):
            yield self.found(detail=case.complaint)


COMPLAINT_RULES: Sequence[Rule[ComplaintCase]] = (ComplaintCannot(), ComplaintUnshown())
