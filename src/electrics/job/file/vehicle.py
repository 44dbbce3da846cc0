"""The vehicle in the job file: every field of `VehicleFacts` by its own name; flasher and habits in groups."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from typing import Any

from electrics.document.vehicle import PRONGS, VehicleFacts
from electrics.document.written import typed, written
from electrics.errors import FactError
from electrics.job.file.places import function_named
from electrics.reference.habits import stated_of
from electrics.vocabulary import Control

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
    earlier = []
    for each in entry.get("earlier", ()):
        try:
            earlier.append({**each, "function": function_named(each["function"])})
        except FactError as error:
            faults.append(f"vehicle, earlier: {each['place']}, pin {each['pin']}: {error}")
    own = {name: value for name, value in entry.items() if name not in ("flasher", BY_A_FIX)}
    own |= {
        "earlier": earlier,
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
    grouped = {"flasher": flasher, "habits": dict(vehicle.habits)}
    return {**found, **{name: value for name, value in grouped.items() if value}}


def _prongs(terminals: Sequence[str]) -> str:
    """How many prongs a flasher has, by the names of its terminals; empty for none named."""
    if {name.strip().upper() for name in terminals} & GROUND_NAMES:
        return "ground"
    return next((id for id, names in PRONGS.items() if len(names) == len(terminals)), "")
