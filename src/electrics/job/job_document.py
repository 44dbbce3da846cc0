"""Writes the job file, `hailstone-job`: facts, decisions and records by names, nothing that follows from them.

What is read back makes the same plan. Lamps tried on the bench are not in it.
"""

from __future__ import annotations

from collections.abc import Iterator, Mapping
from dataclasses import fields
from typing import Any

from electrics.design.units import Unit
from electrics.document.decisions import CureDecision, RunDecision
from electrics.document.vehicle import PRONGS, Idle, VehicleFacts
from electrics.document.way import WayKey
from electrics.formats.reading_text import Reading
from electrics.job.facts import JobFacts, PlaceFacts
from electrics.job.plan import accessory_of
from electrics.job.records import Records
from electrics.job.unit_entries import entry_of

__all__ = ["job_document"]

UNIT_WORDS = {"ohm": " ohm", "C": " C", "": ""}
RUN_NAMES = tuple(field.name for field in fields(RunDecision) if field.name != "overrides")


def job_document(
    facts: JobFacts, title: str = "", papers: Mapping[str, object] | None = None, records: Records | None = None
) -> dict[str, Any]:
    """A job as its file.

    Parameters
    ----------
    facts : JobFacts
    title : str
    papers : mapping of str to object, optional
        What the core does not know of the vehicle: make, model, year, registration and the like; empty ones are left
        out.
    records : Records, optional
        What was done and seen.

    Returns
    -------
    dict
        In the form of docs/formats/job.schema.json.
    """
    written = _Writer(facts).document(title, papers or {})
    return written | {name: part for name, part in (records or Records()).document().items() if part}


class _Writer:
    def __init__(self, facts: JobFacts) -> None:
        self.facts = facts
        self.units = facts.units or accessory_of(facts).units
        self.lead_of = {lead.id: (unit, lead.label or lead.id) for unit in self.units for lead in unit.leads}
        self.pin_of = {
            key: (place.point.name, wire.pin)
            for place in facts.places
            for key, wire in zip(place.wire_keys, place.point.wires, strict=True)
        }

    def document(self, title: str, papers: Mapping[str, object]) -> dict[str, Any]:
        decided = self.facts.hookup
        known = {name: value for name, value in papers.items() if value not in (None, "")}
        parts: dict[str, Any] = {
            "title": title,
            "vehicle": {**known, **_vehicle(self.facts.vehicle)},
            "places": [*map(_place, self.facts.places), *self._spots()],
            "distances": [{"between": sorted(pair), "m": m} for pair, m in self.facts.distances.items()],
            "units": [_unit(unit) for unit in self.units],
            "circuits": [_circuit(self.facts, name) for name in decided.circuits if name],
            "runs": list(self._runs()),
            "choices": list(self._choices()),
            "cures": [self._cure(cure) for cure in decided.cures],
            "overrides": list(self._overrides()),
            "keeps": str(decided.keeps),
            "override": decided.override,
            "complaint": self.facts.complaint,
        }
        return {"format": "hailstone-job", "version": 1, **{name: part for name, part in parts.items() if part}}

    def _spots(self) -> Iterator[dict[str, Any]]:
        for name, zone in self.facts.zones.items():
            yield {"name": name, "zone": zone}

    def _choices(self) -> Iterator[dict[str, Any]]:
        for lead, key in self.facts.hookup.ways.items():
            way = WayKey.read(key)
            if lead not in self.lead_of or not way.form:
                continue
            unit, label = self.lead_of[lead]
            sources = [self._source(each) for each in way.sources]
            if way.is_unused or (sources and all(sources)):
                yield {"unit": unit.name, "lead": label, "way": way.form, "from": sources}

    def _source(self, key: str) -> dict[str, str]:
        if key.startswith("@"):
            return {"own": key[1:]}
        if key not in self.pin_of:
            return {}
        place, pin = self.pin_of[key]
        return {"place": place, "pin": pin}

    def _runs(self) -> Iterator[dict[str, Any]]:
        decided = self.facts.hookup
        first = next(iter(self.lead_of), "")
        usual = _run(decided.run)
        common = {name: value for name, value in usual.items() if name not in ("out_m", "back_m")}
        yield common
        own = {"out_m", "back_m"} & usual.keys()
        if own and first and first not in decided.runs:
            yield {**self._at(first), **usual}
        for lead, run in decided.runs.items():
            if lead in self.lead_of:
                yield {**self._at(lead), **_run(run)}

    def _overrides(self) -> Iterator[dict[str, Any]]:
        decided = self.facts.hookup
        first = next(iter(self.lead_of), "")
        runs = {first: decided.run, **decided.runs} if first and first not in decided.runs else decided.runs
        for lead, run in runs.items():
            if lead in self.lead_of:
                yield from ({**self._at(lead), "input": id, "value": value} for id, value in run.overrides.items())

    def _at(self, lead: str) -> dict[str, str]:
        unit, label = self.lead_of[lead]
        return {"unit": unit.name, "lead": label}

    def _cure(self, cure: CureDecision) -> dict[str, Any]:
        at = [self._at(lead) for lead in cure.leads if lead in self.lead_of]
        found: dict[str, Any] = {
            "cure": cure.cure,
            "leads": at,
            "ohm": cure.ohm,
            "case_w": cure.case_w,
            "mount": cure.mount if cure.case_w else "",
            "part": cure.part,
            "microfarad": cure.microfarad,
            "series_ohm": cure.series_ohm,
            "bleed_ohm": cure.bleed_ohm,
        }
        return {name: value for name, value in found.items() if value}


def _vehicle(vehicle: VehicleFacts) -> dict[str, Any]:
    found: dict[str, Any] = {
        "system_v": vehicle.system_v,
        "computer": str(vehicle.computer),
        "body": vehicle.body,
        "not_fitted": sorted(map(str, vehicle.not_fitted)),
        "arrangement": str(vehicle.arrangement) if vehicle.arrangement else "",
        "brake_with_hazard": str(vehicle.brake_with_hazard) if vehicle.brake_with_hazard else "",
        "flasher": _flasher(vehicle),
        "pilot": vehicle.pilot,
        "idle": "" if vehicle.idle is Idle.DARK else str(vehicle.idle),
        "habits": dict(vehicle.habits),
    }
    return {name: value for name, value in found.items() if value}


def _flasher(vehicle: VehicleFacts) -> dict[str, Any]:
    kind = {"kind": str(vehicle.flasher)} if vehicle.flasher else {}
    return kind | ({"terminals": list(PRONGS[vehicle.prongs])} if vehicle.prongs in PRONGS else {})


def _place(place: PlaceFacts) -> dict[str, Any]:
    said = {pin: (function, variant) for pin, function, variant in place.said}
    wires = []
    for wire in place.point.wires:
        entry: dict[str, Any] = {"pin": wire.pin}
        if wire.colour:
            entry["colour"] = wire.colour
        if wire.pin in said:
            function, variant = said[wire.pin]
            entry |= {"function": str(function), **({"variant": variant} if variant else {})}
        for claim in wire.claims[:1]:
            entry |= {"claim": str(claim.function), **({"claim_from": claim.who} if claim.who else {})}
        wires.append(entry)
    readings = [
        {
            "pin": each.pin,
            "state": str(each.setup.state),
            "instrument": str(each.setup.instrument),
            "load": str(each.setup.load),
            "reading": _reading(each.reading),
            "supply": f"{each.supply_v:g}",
            **({"against": each.against} if each.against else {}),
        }
        for each in place.point.evidence
    ]
    side = str(place.point.side)
    parts: dict[str, Any] = {"side": side, "wires": wires, "readings": readings}
    if place.point.all_wires is not None:
        parts["all_wires"] = place.point.all_wires
    return {
        "name": place.point.name,
        "kind": place.point.kind,
        **{n: part for n, part in parts.items() if part not in ("", [])},
    }


def _reading(reading: Reading) -> str:
    if reading.word is not None:
        return str(reading.word)
    number = f"{reading.low:.6g}" if not reading.is_swing else f"{reading.low:.6g}-{reading.high:.6g}"
    return number + UNIT_WORDS.get(reading.unit, f" {reading.unit}")


def _unit(unit: Unit) -> dict[str, Any]:
    entry = entry_of(unit)
    leads = [{name: value for name, value in each.items() if name != "id"} for each in entry["leads"]]
    optional = ("kind", "side", "place", "instead_of")
    gone = {"id", "leads", *(name for name in optional if not entry[name])}
    return {**{name: value for name, value in entry.items() if name not in gone}, "leads": leads}


def _circuit(facts: JobFacts, function: str) -> dict[str, Any]:
    """What is noted of a circuit; with lamps without a number, or a number alone, what is assumed of the other."""
    notes = facts.hookup.circuit_of(function)
    found: dict[str, Any] = {
        "function": function,
        "fed_by": str(notes.fed_by),
        "fuse_a": notes.host_fuse_a,
        "wire": f"{notes.host_wire} AWG",
        "measured_a": notes.measured_a,
        "most_percent": notes.most_percent,
    }
    there = facts.circuit(function)
    if notes.names_lamps and there.host_bulb and there.host_count is not None:
        found["bulbs"] = [{"bulb": there.host_bulb, "count": there.host_count}]
    return {name: value for name, value in found.items() if value is not None}


def _run(run: RunDecision) -> dict[str, Any]:
    found = {name: getattr(run, name) for name in RUN_NAMES}
    found["wire_standard"] = str(run.wire_standard)
    return {name: value for name, value in found.items() if value is not None and value != ""}
