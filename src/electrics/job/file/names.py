"""Names in the job file and the keys that the document goes by: a unit's lead, a place's pin."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from typing import Any

from electrics.design.units import Unit
from electrics.document.places import PlaceFacts
from electrics.errors import FactError

__all__ = ["Names"]

OWN = "@"
"""What the key of a source that is no wire of the vehicle begins with."""


class Names:
    """The units, leads, places and pins of one file."""

    def __init__(self, units: Sequence[Unit], places: Sequence[PlaceFacts]) -> None:
        self.units = {unit.name: unit for unit in units}
        self.places = {place.point.name: place for place in places}
        self._leads = {
            lead.id: {"unit": unit.name, "lead": lead.label or lead.id} for unit in units for lead in unit.leads
        }
        self._pins = {
            key: {"place": place.point.name, "pin": wire.pin}
            for place in places
            for key, wire in zip(place.wire_keys, place.point.wires, strict=True)
        }

    @property
    def leads(self) -> Sequence[str]:
        """Keys of all leads, in order."""
        return tuple(self._leads)

    def lead(self, key: str) -> dict[str, str]:
        """`unit` and `lead` of a lead; KeyError for none of this job."""
        return self._leads[key]

    def source(self, key: str) -> dict[str, str]:
        """A source of a hook-up: `own`, or `place` and `pin`; empty where its wire is gone."""
        return {"own": key.removeprefix(OWN)} if key.startswith(OWN) else self._pins.get(key, {})

    def unit_named(self, name: str) -> Unit:
        """A unit by its name; FactError names those there are."""
        unit = self.units.get(name.strip())
        if unit is None:
            raise FactError("unit", f"there is no unit “{name}”. Units: {', '.join(self.units) or 'none'}.")
        return unit

    def lead_key(self, entry: Mapping[str, Any]) -> str:
        """The key of the lead that an entry names by `unit` and `lead`."""
        unit, label = self.unit_named(entry["unit"]), entry["lead"].strip()
        lead = next((lead for lead in unit.leads if lead.label == label), None)
        if lead is None:
            known = ", ".join(lead.label for lead in unit.leads)
            raise FactError("lead", f"there is no lead “{label}” on it. Leads: {known}.")
        return lead.id

    def source_key(self, entry: Mapping[str, Any]) -> str:
        """The key of the source that an entry names."""
        if "own" in entry:
            return f"{OWN}{entry['own']}"
        place = self.places.get(entry.get("place", "").strip())
        if place is None:
            raise FactError("from", f"there is no place “{entry.get('place', '')}” in this file.")
        pin = entry.get("pin", "").strip()
        pins = [wire.pin for wire in place.point.wires]
        if pin not in pins:
            raise FactError("from", f"there is no pin “{pin}” in {place.point.name}.")
        return place.wire_keys[pins.index(pin)]
