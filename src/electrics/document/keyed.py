"""A job's document with every part under its key, so that two can be compared fact by fact.

Works on the document as `electrics.document.written` writes it, of this version or an earlier one. A fact that was
left as usual and one that nobody asked for yet come out alike: every part is filled up with its usual values first.
"""

from __future__ import annotations

import json
from collections.abc import Iterable, Mapping
from dataclasses import fields
from functools import cache
from typing import Any

from electrics.document.circuits import CircuitNotes
from electrics.document.decisions import CureDecision, HookUpDecisions, RunDecision
from electrics.document.job import Wish
from electrics.document.lamp import FIRST_FUSE_A
from electrics.document.places import AccessPoint
from electrics.document.units import LeadFacts, UnitFacts
from electrics.document.vehicle import VehicleFacts

__all__ = ["READINGS", "keyed"]

Written = Mapping[str, Any]
READINGS = "readings"
"""What was measured and claimed, a text for each wire: it counts through what follows from it."""
_ELSEWHERE = ("circuits", "run", "runs", "ways", "cures", "labels")
"""Decisions with a family each, and the numbers on wires, which stay as printed."""


def keyed(document: Written) -> dict[str, Any]:
    """The facts of a written document under their keys.

    Parameters
    ----------
    document : mapping
        `JobFacts` as `written` writes it. Places and wires go by their keys, lamps and leads by their ids.

    Returns
    -------
    dict
        By family (`vehicle`, `place`, `unit`, `run`, ...), in it by key, in it by field.
    """
    decided = document.get("hookup", {})
    places = document.get("places", ())
    runs = {"": decided.get("run", {}), **decided.get("runs", {})}
    vehicle = _whole(VehicleFacts, document.get("vehicle", {}))
    return {
        "vehicle": {name: _listed(value) for name, value in vehicle.items()},
        "job": _wish(document.get("wish", {})) | {"complaint": document.get("complaint")},
        "as_found": document.get("as_found", {}),
        "place": {place["key"]: _place(place) for place in places},
        "unit": {unit.get("id") or unit["name"]: _unit(unit) for unit in document.get("units", ())},
        "spot": document.get("zones", {}),
        "distance": {f"{first} to {second}": m for first, second, m in document.get("distances", ())},
        "hookup": {name: value for name, value in _whole(HookUpDecisions, decided).items() if name not in _ELSEWHERE},
        "circuit": {name: _whole(CircuitNotes, notes) for name, notes in decided.get("circuits", {}).items()},
        "run": {lead: _whole(RunDecision, run) for lead, run in runs.items()},
        "way": decided.get("ways", {}),
        "cure": {cure["cure"]: _cure(cure) for cure in decided.get("cures", ())},
        "lamp": _lamp(document.get("lamp") or {}),
        READINGS: dict(each for place in places for each in _readings(place)),
    }


def _whole(kind: type, entry: Written) -> dict[str, Any]:
    """A written part with the usual values of the fields in which nothing was said."""
    return _usual(kind) | dict(entry)


@cache
def _usual(kind: type) -> dict[str, Any]:
    found = {field.name: field.default for field in fields(kind)}
    return {name: usual for name, usual in found.items() if isinstance(usual, str | int | float)}


def _wish(wish: Written) -> dict[str, Any]:
    said = _whole(Wish, wish)
    names = {"kind": "addition", "count": "added_count", "each_a": "added_each_a", "also": "also"}
    return {names.get(name, name): ",".join(value) if name == "also" else value for name, value in said.items()}


def _place(place: Written) -> dict[str, Any]:
    point = _whole(AccessPoint, place["point"])
    own = {name: value for name, value in point.items() if name not in ("wires", "evidence", "repeated")}
    pins = {key: {"label": wire["pin"], "colour": wire.get("colour")} for key, wire in _wires(place)}
    said = {pin: " ".join(filter(None, each)) for pin, *each in place.get("said", ())}
    return {**own, "pin": pins, "said": said}


def _wires(place: Written) -> Iterable[tuple[str, Written]]:
    return zip(place.get("wire_keys", ()), place["point"].get("wires", ()), strict=True)


def _unit(unit: Written) -> dict[str, Any]:
    leads = {lead.get("id") or lead["lead"]: _whole(LeadFacts, lead) | {"id": None} for lead in unit.get("leads", ())}
    return _whole(UnitFacts, unit) | {"id": None, "leads": leads}


def _cure(cure: Written) -> dict[str, Any]:
    return _whole(CureDecision, cure) | {"cure": None, "leads": ", ".join(cure.get("leads", ()))}


def _lamp(lamp: Written) -> dict[str, Any]:
    claims = dict(lamp.get("claims", ()))
    trials = {}
    for trial in lamp.get("trials", ()):
        amps = "" if trial.get("amps_a") is None else f"{trial['amps_a']:g} A"
        fuse = f"fuse {trial.get('fuse_a', FIRST_FUSE_A):g} A"
        shown = filter(None, (trial["seen"], trial.get("light"), amps, fuse))
        trials[f"{trial['plus']} to {trial['minus']}"] = " ".join(shown)
    leads = {label: {"label": label, "claim": claims.get(label)} for label in lamp.get("leads", ())}
    return {"kind": lamp.get("kind"), "lead": leads, "trial": trials}


def _readings(place: Written) -> Iterable[tuple[str, str]]:
    point = place["point"]
    for key, wire in _wires(place):
        own = [each for each in point.get("evidence", ()) if each["pin"] == wire["pin"]]
        again = [each for each in point.get("repeated", ()) if each[0] == wire["pin"]]
        said = (json.dumps(each, sort_keys=True) for each in (*own, *again, *wire.get("claims", ())))
        yield key, "; ".join(sorted(said))


def _listed(value: Any) -> Any:
    """A list that says something as a whole, as one text; pairs by their names."""
    if not isinstance(value, list | tuple):
        return value
    is_paired = all(isinstance(each, list | tuple) for each in value)
    return dict(value) if is_paired else "; ".join(map(str, value))
