"""What jobs of the demo are made from: a brief, and readings typed in column by column."""

from __future__ import annotations

from django.contrib.auth.models import User

from electrics.document.places import Setup
from electrics.vocabulary import Instrument, Load, parse_state
from hailstone.identify.models import AccessPoint
from hailstone.identify.services import save_reading

__all__ = ["GROUND", "Columns", "brief", "read_in"]

Columns = tuple[tuple[str, str, str, dict[str, str]], ...]
"""State, instrument, load, and the readings by pin."""

GROUND = ("rest", "ohms", "out", {"1": "0.2 ohm"})
"""What settles a ground: with the lamp pulled no feed is that near to battery negative."""


def brief(title: str, **facts: object) -> dict[str, object]:
    """A brief of the shop, some facts as given."""
    return {
        "title": title,
        "make": "Merrow",
        "model": "Skua",
        "year": 2014,
        "market": "islands",
        "system_v": 12,
        "computer": "yes",
        "addition": "reverse_lamps",
        "added_count": 2,
        "added_each_a": 1.2,
        "supply_v": 12.6,
        "arrangement": "",
        "has_helper": True,
        "not_fitted": ["fog_front", "park_left", "park_right", "trailer_lever"],
        **facts,
    }


def read_in(point: AccessPoint, columns: Columns, who: User, supply_v: float = 12.6) -> None:
    """Type readings in at a supply voltage [V]."""
    pins = {pin.label: pin for pin in point.pins.all()}
    for state, instrument, load, readings in columns:
        setup = Setup(parse_state(state), Instrument(instrument), Load(load))
        for label, text in readings.items():
            save_reading(pins[label], setup, text, supply_v, who)
