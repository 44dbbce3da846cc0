"""A finding: what a rule holds against a job, how bad it is, what it is about, and the value against its limit."""

from __future__ import annotations

from dataclasses import dataclass
from enum import StrEnum

from electrics.vocabulary import Function

__all__ = ["Finding", "Severity"]


class Severity(StrEnum):
    """How bad a finding is."""

    FORBIDS = "forbids"
    """Nothing may be joined or signed."""
    UPSET = "upset"
    """Something on the vehicle goes wrong; fix it."""
    DOUBT = "doubt"
    """Confirm it."""


@dataclass(frozen=True)
class Finding:
    """What a rule found.

    Attributes
    ----------
    rule : str
        Id of the rule; `hailstone.wording` has its words.
    severity : Severity
    lead : str
        The lead it is about; empty for none.
    function : Function or None
        The factory circuit it is about.
    place, pin : str
        The wire it is about.
    cure : str
        The fix it is about.
    about : str
        A part, wire or lamp of the solved circuit, by its name there.
    states : tuple of str
        Where it shows.
    value, limit : float or None
        What it is, and what it is held against [unit].
    unit : str
        Of `value` and `limit`.
    source : str
        Where the limit comes from.
    detail : str
        What else its sentence needs.
    ends : str
        Id of what would end it; empty where nothing single does.
    reason : str
        Why it was used all the same, where somebody wrote that down.
    """

    rule: str
    severity: Severity
    lead: str = ""
    function: Function | None = None
    place: str = ""
    pin: str = ""
    cure: str = ""
    about: str = ""
    states: tuple[str, ...] = ()
    value: float | None = None
    limit: float | None = None
    unit: str = ""
    source: str = ""
    detail: str = ""
    ends: str = ""
    reason: str = ""
