"""How a housed resistor is mounted, and what that makes of its watts: rise over the air, and how fast.

On a plate the body warms over about a kelvin a watt in half a minute, the plate in a quarter of an hour: two stages.
In free air there is one, the body's own heat.
"""

from __future__ import annotations

from dataclasses import dataclass
from functools import cache
from math import exp

from electrics.reference.parts import BODY_LIMIT_C, RATED_AT_C, HousedResistor, housed_resistors
from electrics.reference.tables import Table, read_table

__all__ = ["Mount", "Stage", "bears_w", "body_c", "mounts", "stages"]


@dataclass(frozen=True)
class Mount:
    """A way to mount one.

    Attributes
    ----------
    plates : float
        Its kelvin a watt over those of the standard plate; 0 for free air [-].
    body_share : float
        Of the rise that lies between body and plate [-].
    body_s, rest_s : float
        Time constants of body and plate [s].
    limit_c : float
        What a body on it may reach: its own limit, or that of the paint under it [C].
    """

    id: str
    name: str
    plates: float
    body_share: float
    body_s: float
    rest_s: float
    limit_c: float


@dataclass(frozen=True)
class Stage:
    """One exponential on the way to the settled rise: kelvin a watt, and its time constant [s]."""

    k_per_w: float
    tau_s: float


@cache
def mounts() -> Table[Mount]:
    """The mounts there are, by id, coolest first."""
    return read_table(
        "mounts",
        ("mount", "name", "plates", "body_share", "body_s", "rest_s", "limit_c"),
        lambda row: Mount(
            row["mount"],
            row["name"],
            float(row["plates"]),
            float(row["body_share"]),
            float(row["body_s"]),
            float(row["rest_s"]),
            float(row["limit_c"]),
        ),
    )


def stages(case_w: float, mount: str) -> tuple[Stage, ...]:
    """The stages of a case size [W] on a mount."""
    case, how = housed_resistors()[f"{case_w:g}"], mounts()[mount]
    if not how.plates:
        k_per_w = case.kelvin_per_watt(on_plate=False)
        return (Stage(k_per_w, k_per_w * case.heat_capacity_j_per_k),)
    k_per_w = min(how.plates * case.kelvin_per_watt(on_plate=True), _most(case))
    body = how.body_share * k_per_w
    return Stage(body, how.body_s), Stage(k_per_w - body, how.rest_s)


def _most(case: HousedResistor) -> float:
    """No plate makes a case hotter than free air does [K/W]."""
    return case.kelvin_per_watt(on_plate=False)


def body_c(case_w: float, mount: str, power_w: float, seconds: float, ambient_c: float = RATED_AT_C) -> float:
    """Body of a case after some time at a mean power.

    Parameters
    ----------
    case_w : float
        Case size [W].
    mount : str
        Of `mounts`.
    power_w : float
        Mean power [W].
    seconds : float
        Since it was cold [s]; infinite for where it settles.
    ambient_c : float
        Air around it [C].

    Returns
    -------
    float
        Above 200 C the part is destroyed and the figure means nothing [C].
    """
    return ambient_c + power_w * sum(
        stage.k_per_w * (1.0 - exp(-seconds / stage.tau_s)) for stage in stages(case_w, mount)
    )


def bears_w(case_w: float, mount: str, ambient_c: float = RATED_AT_C) -> float:
    """What a case bears for good on a mount [W]."""
    return (BODY_LIMIT_C - ambient_c) / sum(stage.k_per_w for stage in stages(case_w, mount))
