"""The vehicle in the job file: every field of `VehicleFacts` by its own name; flasher and habits in groups."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from typing import Any

from electrics.document.vehicle import PRONGS, VehicleFacts
from electrics.document.written import typed, written
from electrics.errors import FactError
from electrics.reference.habits import stated_of
from electrics.vocabulary import Control, Function

__all__ = ["read_vehicle", "write_vehicle"]

GROUND_NAMES = {"31", "E", "GND", "GROUND", "-"}
BY_A_FIX = "is_coded"
"""Becomes true by a fix alone: it is written with the fixes."""


def read_vehicle(entry: Mapping[str, Any]) -> tuple[VehicleFacts, list[str]]:
    """The vehicle, and what is wrong with what is said of it, a line each."""
    faults = []
    lacks = [control for control in entry.get("not_fitted", ()) if control in set(Control)]
    for control in entry.get("not_fitted", ()):
        if control not in lacks:
            faults.append(f"vehicle, not_fitted: “{control}” is no control. Known: {', '.join(Control)}.")
    flasher = entry.get("flasher", {})
    habits: tuple[tuple[str, float], ...] = ()
    try:
        habits = stated_of(entry.get("habits", {}))
    except FactError as error:
        faults.append(f"vehicle, habits: {error}")
    said = entry.get("earlier", ())
    earlier = [each for each in said if each["function"] in set(Function)]
    for each in said:
        if each not in earlier:
            where = f"vehicle, earlier: {each['place']}, pin {each['pin']}"
            faults.append(f"{where}: “{each['function']}” is no function of a wire. Known: {', '.join(Function)}.")
    own = {name: value for name, value in entry.items() if name not in ("flasher", BY_A_FIX)}
    own |= {
        "earlier": [{**each, "on": each.get("date", "")} for each in earlier],
        "not_fitted": lacks,
        "habits": habits,
        "prongs": _prongs(flasher.get("terminals", ())),
    }
    found = typed(VehicleFacts, own | ({"flasher": flasher["kind"]} if "kind" in flasher else {}))
    if found.contradicts_itself:
        faults.append("vehicle: computer is “no”, but flasher says a computer flashes the turn lamps. Correct one.")
    return found, faults


def write_vehicle(vehicle: VehicleFacts) -> dict[str, Any]:
    """The vehicle as `read_vehicle` reads it."""
    found = written(vehicle)
    kind, prongs = found.pop("flasher", ""), found.pop("prongs", "")
    found.pop(BY_A_FIX, None)
    flasher = ({"kind": kind} if kind else {}) | ({"terminals": list(PRONGS[prongs])} if prongs in PRONGS else {})
    earlier = [
        {
            "place": each.place,
            "pin": each.pin,
            "function": str(each.function),
            **({"date": each.on} if each.on else {}),
        }
        for each in vehicle.earlier
    ]
    grouped = {"flasher": flasher, "habits": dict(vehicle.habits), "earlier": earlier}
    return {**found, **{name: value for name, value in grouped.items() if value}}


def _prongs(terminals: Sequence[str]) -> str:
    """How many prongs a flasher has, by the names of its terminals; empty for none named."""
    if {name.strip().upper() for name in terminals} & GROUND_NAMES:
        return "ground"
    return next((id for id, names in PRONGS.items() if len(names) == len(terminals)), "")
