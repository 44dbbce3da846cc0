"""One thing that is fitted, as it comes from its form."""

from __future__ import annotations

import math
import re
from collections.abc import Mapping
from typing import Any

from django.http import QueryDict

from electrics.errors import FactError
from electrics.job.unit_entries import COMMONS

__all__ = ["CARRIERS", "FOUND", "LEAD_FIELDS", "WATERS", "carried_of", "entry_from", "lead_rows", "spacing_m"]

CARRIERS: Mapping[str, Mapping[str, bool]] = {
    "": {},
    "fixed": {"removable": False, "swinging": False},
    "removable": {"removable": True, "swinging": False},
    "swinging": {"removable": False, "swinging": True},
}
WATERS: Mapping[str, Mapping[str, bool]] = {"": {}, "wet": {"wet": True}, "dry": {"wet": False}}
"""What a thing is carried by and whether it gets wet: what is chosen, and what is written down for it."""

FOUND: Mapping[str, Mapping[str, bool]] = {"": {}, "turned": {"turned": True}}
"""How its LEDs were found to be in: the right way round, or not."""

MOST_LEADS = 8
LEAD_FIELDS = {
    "id": "lead_id",
    "lead": "lead",
    "wants": "wants",
    "amps": "amps",
    "technology": "technology",
    "sockets": "sockets",
}
"""A lead's facts, and the fields of its row."""


def entry_from(sent: QueryDict, stored: Mapping[str, Any], ids: list[str]) -> dict[str, Any]:
    """The form of one thing as it is written down; FactError for what cannot be read.

    A lead's row carries the lead's id, one of `ids`, so a new name keeps what was decided for it; an emptied name
    takes it out.
    """
    name = " ".join(sent.get("name", "").split())
    if not name or len(name) > 60:
        raise FactError("name", "Name it in up to 60 letters, like left tail lamp.")
    side = sent.get("side", "")
    if side not in ("", "left", "right"):
        raise FactError("side", "The side is left, right or neither.")
    lamps = _lamps(sent.get("lamps", "1"))
    common = "battery" if sent.get("common") == "battery" else "ground"
    leads = []
    for id, label, wants, amps, technology, sockets in lead_rows(sent):
        if not label.strip():
            continue
        lead: dict[str, Any] = {"id": id} if id in ids else {}
        lead |= {"lead": label.strip()[:40], "wants": " ".join(wants.split())[:400], "amps": _amps(label, amps)}
        lead |= {"technology": technology, "polarity": str(COMMONS[common]), **_sockets(label, sockets)}
        leads.append(lead)
    if not 1 <= len(leads) <= MOST_LEADS:
        raise FactError("leads", f"{name}: {len(leads)} leads cannot be planned. Expected 1 to {MOST_LEADS}.")
    carried, water = sent.get("carried", ""), sent.get("water", "")
    if carried not in CARRIERS or water not in WATERS or sent.get("turned", "") not in FOUND:
        raise FactError("carried", "Choose what it is mounted on and whether it gets wet, or leave both at usual.")
    return {
        "id": stored["id"],
        "name": name,
        "kind": stored["kind"],
        "side": side,
        "place": sent.get("place", ""),
        "instead_of": sent.get("instead_of", ""),
        "lamps": lamps,
        "spacing_m": spacing_m(sent.get("spacing", ""), lamps),
        **CARRIERS[carried],
        **WATERS[water],
        **FOUND[sent.get("turned", "")],
        **_backfeed(sent.get("backfeed", "")),
        "leads": [*leads, {"lead": common, "wants": common}],
    }


def lead_rows(sent: QueryDict) -> list[tuple[str, ...]]:
    """The rows of a thing's leads, a text for each of `LEAD_FIELDS`; what a row does not send is empty."""
    columns = [sent.getlist(field) for field in LEAD_FIELDS.values()]
    count = len(sent.getlist(LEAD_FIELDS["lead"]))
    return list(zip(*(column + [""] * (count - len(column)) for column in columns), strict=False))[:count]


def carried_of(entry: Mapping[str, Any]) -> dict[str, str]:
    """What stands in the two fields for a thing that is written down."""
    said = {name: entry[name] for name in ("removable", "swinging") if name in entry}
    carried = next((id for id, facts in CARRIERS.items() if facts == said), "swinging")
    water = next(id for id, facts in WATERS.items() if facts == {k: v for k, v in entry.items() if k == "wet"})
    return {"carried": carried, "water": water, "turned": "turned" if entry.get("turned") else ""}


def spacing_m(text: str, lamps: int) -> float:
    """From one lamp to the next [m]: `0.3`, `row 1.2` (end to end), `ring 0.6` (across)."""
    found = re.fullmatch(r"(row|ring)?\s*([0-9]{1,6}(?:[.,][0-9]{1,6})?)\s*m?", text.strip().lower(), re.ASCII)
    if found is None:
        raise FactError(
            "spacing", f"“{text[:20]}” is no spacing. Expected metres from lamp to lamp (0.3), row 1.2 or ring 0.6."
        )
    metres = float(found[2].replace(",", "."))
    if found[1] == "row":
        metres /= max(lamps - 1, 1)
    elif found[1] == "ring":
        metres *= math.pi / lamps
    if not 0.02 <= metres <= 5:
        raise FactError("spacing", f"{metres:g} m from lamp to lamp cannot be. Expected 0.02 to 5 m.")
    return round(metres, 4)


def _lamps(text: str) -> int:
    if not re.fullmatch("[0-9]{1,2}", text.strip(), re.ASCII) or not 1 <= int(text) <= 20:
        raise FactError("lamps", f"“{text[:20]}” lamps cannot be. Expected 1 to 20 in parallel.")
    return int(text)


def _sockets(label: str, text: str) -> dict[str, int]:
    """How many bulbs of a lead were counted at its lamp; nothing while nobody has."""
    if not text.strip():
        return {}
    if not re.fullmatch("[1-6]", text.strip(), re.ASCII):
        raise FactError("sockets", f"{label}: “{text[:20]}” sockets cannot be. Expected 1 to 6, or nothing for all.")
    return {"sockets": int(text)}


def _backfeed(text: str) -> dict[str, float]:
    """Volts that one lead sends another, across 1 kohm; nothing while nobody has measured."""
    number = text.strip().removesuffix("V").strip().replace(",", ".")
    if not number:
        return {}
    if not re.fullmatch(r"[0-9]{0,2}\.?[0-9]{0,6}", number, re.ASCII) or number == ".":
        raise FactError("backfeed", f"“{text[:20]}” is no voltage. Expected volts across 1 kΩ, like 0.4.")
    return {"backfeed_v": float(number)}


def _amps(label: str, text: str) -> float:
    number = text.strip().removesuffix("A").strip().replace(",", ".")
    if not re.fullmatch(r"[0-9]{0,4}\.?[0-9]{0,6}", number, re.ASCII) or number in ("", "."):
        raise FactError("amps", f"{label}: “{text[:20]}” is no current. Expected amps of one lamp, like 0.4.")
    return float(number)
