"""The load bar: what a fuse carries now, what is added, and where 80 % of it lies."""

from __future__ import annotations

from dataclasses import dataclass

from electrics.hookup.load import HostLoad

WIDTH = 400.0


@dataclass(frozen=True)
class LoadBar:
    """Lengths on a bar of `WIDTH`, which stands for the fuse rating or the load, whichever is larger."""

    present: float
    added: float
    limit: float


def load_bar(host: HostLoad) -> LoadBar:
    """The bar of a host circuit."""
    per_a = WIDTH / max(host.fuse_a, host.total_a)
    return LoadBar(round(host.present_a * per_a, 1), round(host.added_a * per_a, 1), round(host.allowed_a * per_a, 1))
