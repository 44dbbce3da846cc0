"""Signatures of earlier versions that stored the columns of every row: read as the document they say.

Nothing is signed this way any more: see `hailstone.layers.signed`.
"""

from __future__ import annotations

import re
from collections.abc import Iterable, Mapping
from typing import Any

from electrics.document.decisions import OF_ONE_LEAD
from electrics.document.keyed import READINGS, keyed
from electrics.document.papers import PAPERS
from electrics.document.vehicle import VehicleFacts
from electrics.document.written import typed, written
from hailstone.identify.models import AccessPoint, Pin
from hailstone.jobs.models import Job
from hailstone.layers.job_facts import concluded

__all__ = ["FORMAT", "keyed_of", "readings_of"]

FORMAT = "2"
"""What such facts call their form."""
_WISH = {"addition": "kind", "own_leads": "own_leads", "added_count": "count", "added_each_a": "each_a"}
_EARLIER = re.compile(r"(\w+)=(?:<[^:]+: )?'([^']*)'")


def keyed_of(facts: Mapping[str, Any]) -> dict[str, Any]:
    """Such facts under the keys of the document (`electrics.document.keyed`), with what was done and seen."""
    job, vehicle, lamp = facts.get("job", {}), facts.get("vehicle", {}), facts.get("lamp", {})
    found = keyed(_document(facts))
    leads = lamp.get("lead", {}).values()
    found["lamp"] = lamp | {"lead": {e["label"]: {"label": e["label"], "claim": e.get("claim")} for e in leads}}
    found["distance"] = {" to ".join(sorted(key.split(" to "))): m for key, m in facts.get("distance", {}).items()}
    found["job"] |= {name: job.get(name) for name in PAPERS["job"]}
    found["vehicle"] |= {name: vehicle.get(name) for name in PAPERS["vehicle"]}
    return {**found, **{name: facts.get(name, {}) for name in (READINGS, "step", "result", "derived")}}


def readings_of(job: Job) -> dict[str, str]:
    """The readings of every wire as such facts hold them."""
    return {str(pin.id): _readings(point, pin) for point in job.points.all() for pin in point.pins.all()}


def _document(facts: Mapping[str, Any]) -> dict[str, Any]:
    job = facts.get("job", {})
    runs = dict(facts.get("run", {}))
    first = runs.pop("", {})
    followed = {**first, **OF_ONE_LEAD}
    wish = {name: job[column] for column, name in _WISH.items() if column in job}
    also = job.get("also", "")
    return {
        "vehicle": _vehicle(facts.get("vehicle", {}), job.get("arrangement", "")),
        "places": [_place(key, place) for key, place in facts.get("place", {}).items()],
        "wish": {**wish, "also": also.split(",") if also else []},
        "complaint": job.get("complaint"),
        "as_found": job.get("as_found", {}),
        "units": [
            {**unit, "id": key, "leads": [{**lead, "id": id} for id, lead in unit.get("leads", {}).items()]}
            for key, unit in facts.get("unit", {}).items()
        ],
        "zones": facts.get("spot", {}),
        "hookup": {
            **facts.get("hookup", {}),
            "circuits": facts.get("circuit", {}),
            "run": first,
            "runs": {lead: {**followed, **own} for lead, own in runs.items()},
            "ways": facts.get("way", {}),
            "cures": [
                {**cure, "cure": name, "leads": [each for each in (cure.get("leads") or "").split(", ") if each]}
                for name, cure in facts.get("cure", {}).items()
            ],
        },
    }


def _vehicle(said: Mapping[str, Any], arrangement: str) -> dict[str, Any]:
    own = {name: value for name, value in said.items() if name not in (*PAPERS["vehicle"], "flasher_looks")}
    if "not_fitted" in own:
        own["not_fitted"] = own["not_fitted"].split(",")
    if "habits" in own:
        own["habits"] = [[name, value] for name, value in own["habits"].items()]
    if "earlier" in own:
        own["earlier"] = [dict(_EARLIER.findall(each)) for each in own["earlier"].split("; ")]
    if arrangement:
        own["arrangement"] = arrangement
    return written(concluded(typed(VehicleFacts, own), said.get("flasher_looks", {})))


def _place(key: str, place: Mapping[str, Any]) -> dict[str, Any]:
    pins = place.get("pin", {})
    wires = [{"pin": pin["label"], "colour": pin.get("colour")} for pin in pins.values()]
    point = {name: value for name, value in place.items() if name != "pin"}
    return {"key": key, "point": {**point, "wires": wires}, "wire_keys": list(pins)}


def _readings(point: AccessPoint, pin: Pin) -> str:
    claims = filter(None, (pin.claim, point.claims_origin if pin.claim else "", pin.claim_from))
    return "; ".join([*_texts(pin), " ".join(claims)])


def _texts(pin: Pin) -> Iterable[str]:
    return sorted(
        f"{each.state} {each.instrument} {each.load} {each.against_label} {each.supply_v:g} V "
        f"{each.text}{' twice' if each.is_confirmed else ' again' if each.is_repeated else ''}"
        for each in pin.readings.all()
    )
