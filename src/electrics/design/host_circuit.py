"""A factory circuit that is tapped, loaded with what is added."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, field

from electrics.design.load import HostLoad
from electrics.document.circuits import CircuitNotes, FedBy
from electrics.vocabulary import Function

__all__ = ["CircuitPlan"]


@dataclass(frozen=True)
class CircuitPlan:
    """A factory circuit that is tapped: what is noted or `assumed` of it, and its load with what is added.

    Attributes
    ----------
    fresh_a : float
        Of `added_a` what takes no larger bulb's place [A].
    is_tow : bool
        It is tapped at a tow socket alone, whose module or fuse carries what is added.
    """

    function: Function
    notes: CircuitNotes
    added_a: float
    bears_lamp: bool
    load: HostLoad | None
    assumed: Mapping[str, object] = field(default_factory=dict)
    fresh_a: float = 0.0
    is_tow: bool = False

    @property
    def is_by_module(self) -> bool:
        """Whether it is tapped at a tow socket that a module feeds."""
        return self.is_tow and self.notes.fed_by is FedBy.COMPUTER
