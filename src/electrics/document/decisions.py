"""What was decided: how a lead is run, and which fixes are used."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, field, replace
from enum import StrEnum
from typing import Any

from electrics.document.circuits import CircuitNotes
from electrics.reference.conductor import WireStandard

__all__ = ["OF_ONE_LEAD", "CureDecision", "HookUpDecisions", "Keeps", "RunDecision"]


@dataclass(frozen=True)
class RunDecision:
    """What is decided for one lead's run; see `electrics.design.sized.RunFacts`.

    Attributes
    ----------
    ground_wire : str
        AWG of the factory ground wire, where that is joined.
    is_exposed : bool
        It gets wet.
    """

    out_m: float | None = None
    back_m: float | None = None
    ground: str = "wire"
    ground_wire: str = "18"
    wire_standard: WireStandard = WireStandard.AWG
    wire_size: str = ""
    joint: str = "crimp_butt"
    is_exposed: bool = True
    overrides: Mapping[str, float] = field(default_factory=dict)


OF_ONE_LEAD: Mapping[str, Any] = {"overrides": {}, "out_m": None, "back_m": None}
"""What of a run is measured or typed for one lead: nobody follows it there."""


@dataclass(frozen=True)
class CureDecision:
    """A fix that is used; see `electrics.job.cures`.

    Attributes
    ----------
    cure : str
        Id of the fix.
    leads : tuple of str
        The leads that it is fitted at; empty for one that holds for the whole vehicle.
    ohm, case_w, mount : float, float, str
        Of load resistors [ohm], [W].
    part : str
        Number of a diode, size of a wire, school of a ground.
    microfarad, series_ohm, bleed_ohm : float
        Of a decoder [microfarad], [ohm].
    ways : tuple of (str, str)
        Leads and the keys of their ways, of a fix that is another hook-up.
    """

    cure: str
    leads: tuple[str, ...] = ()
    ohm: float = 0.0
    case_w: float = 0.0
    mount: str = "metal"
    part: str = ""
    microfarad: float = 0.0
    series_ohm: float = 0.0
    bleed_ohm: float = 0.0
    ways: tuple[tuple[str, str], ...] = ()


class Keeps(StrEnum):
    """How long the work is to stay."""

    FOR_GOOD = "for_good"
    SINGLE_USE = "single_use"
    LEASE = "lease"


@dataclass(frozen=True)
class HookUpDecisions:
    """What was decided on how things are joined.

    Attributes
    ----------
    ways : mapping of str to str
        Key of the chosen way, by lead.
    override : str
        Why a way that is wrong somewhere is taken all the same.
    run : RunDecision
        Of the first lead, and of every lead that has no run itself.
    runs : mapping of str to RunDecision
        By lead, where one differs from the first.
    circuits : mapping of str to CircuitNotes
        By function; under an empty one what holds for all others.
    cures : tuple of CureDecision
    labels : tuple of (str, str, str, str)
        Numbers of wires and joints that stay: kind, place, subject and the number; see `electrics.design.labels`.
    """

    ways: Mapping[str, str] = field(default_factory=dict)
    override: str = ""
    keeps: Keeps = Keeps.FOR_GOOD
    run: RunDecision = field(default_factory=RunDecision)
    runs: Mapping[str, RunDecision] = field(default_factory=dict)
    circuits: Mapping[str, CircuitNotes] = field(default_factory=dict)
    cures: tuple[CureDecision, ...] = ()
    labels: tuple[tuple[str, str, str, str], ...] = ()

    @property
    def followed(self) -> RunDecision:
        """The first lead's run as others follow it: numbers and lengths typed in for the first are its own."""
        return replace(self.run, **OF_ONE_LEAD)

    def circuit_of(self, function: str) -> CircuitNotes:
        """The notes as they stand for a factory circuit."""
        return self.circuits.get(function) or self.circuits.get("") or CircuitNotes()
