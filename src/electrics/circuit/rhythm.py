"""How something flashes."""

from __future__ import annotations

from dataclasses import dataclass

__all__ = ["Rhythm"]


@dataclass(frozen=True)
class Rhythm:
    """How a flasher flashes: flashes a minute (none when steady or dead), lit share of the period, and in a word."""

    per_minute: float
    duty: float
    word: str
