"""The lamp to be fitted, as it was tried on a bench."""

from __future__ import annotations

from dataclasses import dataclass
from enum import StrEnum

from electrics.vocabulary import Function

__all__ = ["FIRST_FUSE_A", "LampFacts", "Light", "Seen", "Trial"]

FIRST_FUSE_A = 1.0
"""Fuse for the first trials: some LEDs die of wrong polarity (common practice: 1 A at most) [A]."""


class Seen(StrEnum):
    """What a trial showed."""

    DARK = "dark"
    DIM = "dim"
    LIT = "lit"
    BLEW = "blew"


class Light(StrEnum):
    """The colour of the light, where it was noted."""

    RED = "red"
    AMBER = "amber"
    WHITE = "white"


@dataclass(frozen=True)
class Trial:
    """One pair tried.

    Attributes
    ----------
    plus, minus : str
        Lead on battery positive and lead on battery negative.
    amps_a : float or None
        Current, when it was measured [A].
    fuse_a : float
        Fuse in the lead [A]; a bright filament blows one of 1 A.
    """

    plus: str
    minus: str
    seen: Seen
    light: Light | None = None
    amps_a: float | None = None
    fuse_a: float = FIRST_FUSE_A


@dataclass(frozen=True)
class LampFacts:
    """The lamp to be fitted as it was tried on the bench: its leads' labels and what every trial showed.

    `kind` is which kind of the job's things it is, by the id of the kind; empty for the first. `claims` are what the
    seller's chart, or whoever else, says of some leads: a prior, never evidence.
    """

    leads: tuple[str, ...]
    trials: tuple[Trial, ...]
    kind: str = ""
    claims: tuple[tuple[str, Function], ...] = ()
