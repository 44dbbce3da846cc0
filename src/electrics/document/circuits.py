"""What somebody noted about a factory circuit."""

from __future__ import annotations

from dataclasses import dataclass
from enum import StrEnum

__all__ = ["CircuitNotes", "FedBy"]


class FedBy(StrEnum):
    """What feeds one factory circuit."""

    UNKNOWN = "unknown"
    PLAIN = "plain"
    COMPUTER = "computer"


@dataclass(frozen=True)
class CircuitNotes:
    """What is noted of a factory circuit.

    Attributes
    ----------
    host_bulb, host_count : str, int or None
        The bulbs that are on it from the factory, and how many; empty while not noted.
    host_fuse_a : float or None
        Its fuse [A].
    host_wire : str
        AWG of its wire.
    measured_a : float or None
        Its present current by clamp, in place of the bulbs' [A].
    most_percent : float or None
        Of its fuse's rating that may flow for long, where not the usual [%].
    """

    fed_by: FedBy = FedBy.UNKNOWN
    host_bulb: str = ""
    host_count: int | None = None
    host_fuse_a: float | None = None
    host_wire: str = "20"
    measured_a: float | None = None
    most_percent: float | None = None

    @property
    def names_lamps(self) -> bool:
        """Whether somebody has noted what lamps are on it, or how many."""
        return bool(self.host_bulb) or self.host_count is not None
