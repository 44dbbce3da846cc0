"""An access point as a person describes it, or as the wire book knows it, before it is laid out."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

from electrics.document.places import Origin

__all__ = ["SaidPlace", "SaidWire"]


@dataclass(frozen=True)
class SaidWire:
    """A pin as the person listed it; `was` is what it was called before, where it has another name now."""

    label: str
    colour: str
    claim: str = ""
    claim_from: str = ""
    was: str = ""


@dataclass(frozen=True)
class SaidPlace:
    """An access point as the person described it: its wires, and who says what they do."""

    name: str
    kind: str
    side: str
    wires: Sequence[SaidWire]
    claims_from: str = ""
    claims_origin: str = str(Origin.SAID)
    face_rows: int = 0
    seen_from: str = "mating"
    all_wires: bool | None = None
    zone: str = ""
