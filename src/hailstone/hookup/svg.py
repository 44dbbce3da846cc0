"""The load bar: what a fuse carries now, what is added, and where 80 % of it lies."""

from __future__ import annotations

from dataclasses import dataclass

from electrics.design.load import HostLoad

WIDTH = 400.0


@dataclass(frozen=True)
class LoadBar:
    """Lengths on a bar of `WIDTH`: the fuse rating or the load, whichever is larger."""

    present: float
    added: float
    limit: float
    wire: float | None
    """Where the host wire's limit lies; None where that is beyond the bar."""


def load_bar(host: HostLoad) -> LoadBar:
    """The bar of a host circuit."""
    per_a = WIDTH / max(host.fuse_a, host.total_a)
    wire = host.wire_allowed_a * per_a
    present, added, limit = (round(amps * per_a, 1) for amps in (host.present_a, host.added_a, host.allowed_a))
    return LoadBar(present, added, limit, round(wire, 1) if wire <= WIDTH else None)
