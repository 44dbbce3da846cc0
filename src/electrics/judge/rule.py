"""A rule: one small class that looks at a case and finds something or nothing.

A rule never asks how a thing came to be: proposed, pressed, typed, read from a file or kept from before, all of it is
the same case.
"""

from __future__ import annotations

from abc import ABC, abstractmethod
from collections.abc import Iterator, Sequence
from dataclasses import replace
from typing import Any, ClassVar, Generic, TypeVar

from electrics.judge.finding import Finding, Severity

__all__ = ["Rule", "look_at"]

Case = TypeVar("Case")


class Rule(ABC, Generic[Case]):
    """One rule.

    Attributes
    ----------
    id : str
        Of its findings.
    severity : Severity
    allows_reason : bool
        Whether somebody may go ahead all the same, with a written reason that the sheet prints.
    source : str
        Where its limit comes from.
    ends : str
        Id of what would end it.
    """

    id: ClassVar[str]
    severity: ClassVar[Severity] = Severity.FORBIDS
    allows_reason: ClassVar[bool] = False
    source: ClassVar[str] = "common practice"
    ends: ClassVar[str] = ""

    @abstractmethod
    def look(self, case: Case) -> Iterator[Finding]:
        """What it finds."""

    def found(self, **what: Any) -> Finding:
        """A finding of this rule."""
        return Finding(self.id, self.severity, **{"source": self.source, "ends": self.ends, **what})


def look_at(case: Case, rules: Sequence[Rule[Case]], reason: str = "") -> tuple[Finding, ...]:
    """Everything that some rules find, in their order.

    Parameters
    ----------
    case : Case
    rules : sequence of Rule
    reason : str
        Why somebody goes ahead against rules that allow it; with it what they find becomes a doubt.
    """
    found = []
    for rule in rules:
        for finding in rule.look(case):
            is_excused = bool(reason) and rule.allows_reason and finding.severity is Severity.FORBIDS
            found.append(replace(finding, severity=Severity.DOUBT, reason=reason) if is_excused else finding)
    return tuple(found)
