"""What turns current into heat in an aluminium case: how it is mounted, the air around it, and what it survives."""

from __future__ import annotations

from dataclasses import dataclass, replace
from typing import ClassVar, Self

from electrics.circuit.elements.base import Element
from electrics.errors import CircuitError
from electrics.reference.mounts import bears_w, body_c, mounts
from electrics.reference.parts import RATED_AT_C, housed_resistors

__all__ = ["Housed"]


@dataclass(frozen=True, kw_only=True)
class Housed(Element):
    """An element with a case, where the size of that is said.

    Attributes
    ----------
    watts : float or None
        Case size, by its label [W]; None for none.
    mounting : str
        Of `electrics.reference.mounts`: `metal` is the standard plate.
    ambient_c : float
        Air around it [C].
    """

    watts: float | None = None
    mounting: str = "metal"
    ambient_c: float = RATED_AT_C

    heats_by: ClassVar[str] = ""
    """The branch whose heat goes into the case."""

    @property
    def bears_w(self) -> float:
        """What it bears for good as it is mounted [W]; without a case size infinite."""
        return bears_w(self.watts, self.mounting, self.ambient_c) if self.watts else float("inf")

    def settled_c(self, power_w: float) -> float:
        """Its body once a mean power [W] has settled [C]."""
        return body_c(self.watts, self.mounting, power_w, float("inf"), self.ambient_c) if self.watts else 0.0

    def in_air(self, ambient_c: float) -> Self:
        return replace(self, ambient_c=ambient_c)

    def check(self) -> None:
        if self.mounting not in mounts().rows:
            raise CircuitError(
                self.name, "", f"mounting is {self.mounting}. Expected one of {', '.join(mounts().rows)}."
            )
        if not -50 <= self.ambient_c <= 120:
            raise CircuitError(self.name, "", f"ambient_c is {self.ambient_c:g}. Expected -50 to 120 C.")
        if self.watts is not None and f"{self.watts:g}" not in housed_resistors().rows:
            sizes = ", ".join(housed_resistors().rows)
            raise CircuitError(self.name, "", f"watts is {self.watts:g}. Case sizes are {sizes} W.")
