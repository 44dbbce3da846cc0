"""What was decided: how a lead is run, and which fixes are used."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, field

from electrics.reference.conductor import WireStandard

__all__ = ["CureDecision", "RunDecision"]


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


@dataclass(frozen=True)
class CureDecision:
    """A cure that was taken; see `electrics.job.cures`.

    Attributes
    ----------
    cure : str
        Id of the cure.
    leads : tuple of str
        The leads that it is fitted at; empty for one that holds for the whole vehicle.
    ohm, case_w, mount : float, float, str
        Of load resistors [ohm], [W].
    part : str
        Number of a diode, size of a wire, school of a ground.
    microfarad, series_ohm, bleed_ohm : float
        Of a decoder [microfarad], [ohm].
    ways : tuple of (str, str)
        Leads and the keys of their ways, of a cure that is another hook-up.
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
