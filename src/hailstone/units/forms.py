"""One lamp or part as it comes from its form."""

from __future__ import annotations

import math
import re
from collections.abc import Mapping

from django.http import QueryDict

from electrics.document.units import COMMONS, LeadFacts, UnitFacts
from electrics.errors import FactError

__all__ = ["CARRIERS", "FOUND", "LEAD_FIELDS", "WATERS", "carried_of", "lead_rows", "spacing_m", "unit_from"]

CARRIERS: Mapping[str, Mapping[str, bool]] = {
    "": {},
    "fixed": {"removable": False, "swinging": False},
    "removable": {"removable": True, "swinging": False},
    "swinging": {"removable": False, "swinging": True},
}
WATERS: Mapping[str, Mapping[str, bool]] = {"": {}, "wet": {"wet": True}, "dry": {"wet": False}}
"""What it's mounted on and whether it gets wet: what is chosen, and what is written down for it."""

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


def unit_from(sent: QueryDict, stored: UnitFacts) -> UnitFacts:
    """The form of one unit as it is written down; FactError for what cannot be read.

    A lead's row carries the lead's id, so a new name keeps what was decided for it; an emptied name takes it out.
    """
    name = " ".join(sent.get("name", "").split())
    if not name or len(name) > 60:
        raise FactError("name", "Give it a name of up to 60 letters, like left tail lamp.")
    side = sent.get("side", "")
    if side not in ("", "left", "right"):
        raise FactError("side", "The side is left, right or neither.")
    lamps = _lamps(sent.get("lamps", "1"))
    common = "battery" if sent.get("common") == "battery" else "ground"
    leads = list[LeadFacts]()
    before = dict(zip(stored.lead_keys, stored.leads, strict=True))
    for id, label, wants, amps, technology, sockets in lead_rows(sent):
        if not label.strip():
            continue
        leads.append(
            LeadFacts(
                label.strip()[:40],
                " ".join(wants.split())[:400],
                _amps(label, amps),
                technology,
                str(COMMONS[common]),
                _sockets(label, sockets),
                id if id in before else "",
                **({"claim": before[id].claim, "claim_from": before[id].claim_from} if id in before else {}),
            )
        )
    if not 1 <= len(leads) <= MOST_LEADS:
        raise FactError("leads", f"{name}: {len(leads)} leads. Expected 1 to {MOST_LEADS}.")
    carried, water = sent.get("carried", ""), sent.get("water", "")
    if carried not in CARRIERS or water not in WATERS or sent.get("turned", "") not in FOUND:
        raise FactError("carried", "Choose what it is mounted on and whether it gets wet, or leave both at usual.")
    return UnitFacts(
        name,
        stored.kind,
        side,
        sent.get("place", ""),
        sent.get("instead_of", ""),
        lamps,
        spacing_m(sent.get("spacing", ""), lamps),
        **{**CARRIERS[carried], **WATERS[water], **FOUND[sent.get("turned", "")]},
        backfeed_v=_backfeed_v(sent.get("backfeed", "")),
        leads=(*leads, LeadFacts(common, common)),
        id=stored.id,
    )


def lead_rows(sent: QueryDict) -> list[tuple[str, ...]]:
    """The rows of a unit's leads, a text for each of `LEAD_FIELDS`; what a row does not send is empty."""
    columns = [sent.getlist(field) for field in LEAD_FIELDS.values()]
    count = len(sent.getlist(LEAD_FIELDS["lead"]))
    return list(zip(*(column + [""] * (count - len(column)) for column in columns), strict=False))[:count]


def carried_of(unit: UnitFacts) -> dict[str, str]:
    """What its form has in the fields for how it is carried and how it was found."""
    said = {"removable": unit.removable, "swinging": unit.swinging}
    own = {name: value for name, value in said.items() if value is not None}
    carried = next((id for id, facts in CARRIERS.items() if facts == own), "swinging")
    water = "" if unit.wet is None else "wet" if unit.wet else "dry"
    return {"carried": carried, "water": water, "turned": "turned" if unit.turned else ""}


def spacing_m(text: str, lamps: int) -> float:
    """From one lamp to the next [m]: `0.3`, `row 1.2` (end to end), `ring 0.6` (across)."""
    found = re.fullmatch(r"(row|ring)?\s*([0-9]{1,6}(?:[.,][0-9]{1,6})?)\s*m?", text.strip().lower(), re.ASCII)
    if found is None:
        raise FactError(
            "spacing", f"“{text[:20]}” isn't a spacing. Expected metres from lamp to lamp (0.3), row 1.2 or ring 0.6."
        )
    metres = float(found[2].replace(",", "."))
    if found[1] == "row":
        metres /= max(lamps - 1, 1)
    elif found[1] == "ring":
        metres *= math.pi / lamps
    if not 0.02 <= metres <= 5:
        raise FactError("spacing", f"{metres:g} m from lamp to lamp. Expected 0.02 to 5 m.")
    return round(metres, 4)


def _lamps(text: str) -> int:
    if not re.fullmatch("[0-9]{1,2}", text.strip(), re.ASCII) or not 1 <= int(text) <= 20:
        raise FactError("lamps", f"“{text[:20]}” lamps. Expected 1 to 20 in parallel.")
    return int(text)


def _sockets(label: str, text: str) -> int:
    """How many bulbs of a lead were counted at its lamp; 0 while nobody has."""
    if not text.strip():
        return 0
    if not re.fullmatch("[1-6]", text.strip(), re.ASCII):
        raise FactError("sockets", f"{label}: “{text[:20]}” sockets. Expected 1 to 6, or nothing for all.")
    return int(text)


def _backfeed_v(text: str) -> float | None:
    """Across 1 kohm from one lead, another one fed [V]; None while not measured."""
    number = text.strip().removesuffix("V").strip().replace(",", ".")
    if not number:
        return None
    if not re.fullmatch(r"[0-9]{0,2}\.?[0-9]{0,6}", number, re.ASCII) or number == ".":
        raise FactError("backfeed", f"“{text[:20]}” isn't a voltage. Expected volts across 1 kΩ, like 0.4.")
    return float(number)


def _amps(label: str, text: str) -> float:
    number = text.strip().removesuffix("A").strip().replace(",", ".")
    if not re.fullmatch(r"[0-9]{0,4}\.?[0-9]{0,6}", number, re.ASCII) or number in ("", "."):
        raise FactError("amps", f"{label}: “{text[:20]}” isn't a current. Expected amps of one lamp, like 0.4.")
    return float(number)
