"""Decisions in the job file: chosen hook-ups, runs, numbers typed in and fixes, each at its lead."""

from __future__ import annotations

from collections.abc import Iterator, Mapping, Sequence
from dataclasses import fields, replace
from typing import Any

from electrics.design.forms import FORMS
from electrics.design.inputs import assume
from electrics.document.decisions import CureDecision, HookUpDecisions, RunDecision
from electrics.document.way import UNUSED, WayKey
from electrics.errors import FactError
from electrics.job.cures.registry import cure_of
from electrics.job.file.names import Names
from electrics.reference.conductor import WireStandard, conductors
from electrics.reference.functions import Tap, kind_of

__all__ = ["Runs", "read_choice", "read_cure", "read_run", "write_choices", "write_cure", "write_runs"]

RUN_NAMES = tuple(field.name for field in fields(RunDecision) if field.name != "overrides")
OF_ONE_LEAD = ("out_m", "back_m")
"""What no other lead follows the first in."""


def read_choice(entry: Mapping[str, Any], names: Names) -> tuple[str, str]:
    """A lead's key and that of its hook-up."""
    sources = [names.source_key(each) for each in entry["from"]]
    way = WayKey(entry["way"], tuple(sources))
    if str(way) != UNUSED:
        _check_way(way, entry["from"], names)
    return names.lead_key(entry), str(way)


def write_choices(decided: HookUpDecisions, names: Names) -> Iterator[dict[str, Any]]:
    """The chosen hook-ups whose lead and wires are there."""
    for lead, key in decided.ways.items():
        way = WayKey.read(key)
        if lead not in names.leads or not way.form:
            continue
        sources = [names.source(each) for each in way.sources]
        if way.is_unused or (sources and all(sources)):
            yield {**names.lead(lead), "way": way.form, "from": sources}


def _check_way(way: WayKey, listed: Sequence[Mapping[str, str]], names: Names) -> None:
    """Refuse a hook-up that there is none of, one with too few sources, and a source that feeds nothing."""
    known = {form.id: len(form.takes) for form in FORMS}
    parts = [part for part in way.form.split("-") if not part.isdecimal()]
    if not all(part in known for part in parts):
        raise FactError("way", f"there is no hook-up “{way.form}”. Known: {', '.join(known)}, unused.")
    needs = sum(known[part] for part in parts) - (len(parts) - 1)
    if len(way.sources) != needs:
        raise FactError("from", f"“{way.form}” needs {needs} sources; the file lists {len(way.sources)}.")
    for each in listed:
        place = names.places.get(each.get("place", "").strip())
        said = {pin: function for pin, function, _ in place.said} if place else {}
        function = said.get(each.get("pin", "").strip())
        if function is not None and kind_of(function).tap is Tap.NEVER:
            raise FactError(
                "from", f"{each['place']} pin {each['pin']} is {function}: it feeds nothing. Use another."
            )


class Runs:
    """Runs as they are read: what is said of all leads, of a unit, of a lead, and numbers typed in."""

    def __init__(self, of_all: RunDecision, names: Names, system_v: int) -> None:
        self.of_all, self.by_lead = of_all, dict[str, RunDecision]()
        self._names, self._system_v = names, system_v

    def read(self, entry: Mapping[str, Any]) -> None:
        """What is said of one lead, or of all leads of a unit."""
        if "unit" not in entry:
            return
        unit = self._names.unit_named(entry["unit"])
        keys = [self._names.lead_key(entry)] if "lead" in entry else [lead.id for lead in unit.leads]
        for key in keys:
            self.by_lead[key] = read_run(entry, self.of_all)

    def override(self, entry: Mapping[str, Any]) -> None:
        """A number typed in for one lead."""
        key, value = self._names.lead_key(entry), float(entry["value"])
        run = self.by_lead.get(key, replace(self.of_all, out_m=None, back_m=None))
        assume(1.0, self._system_v, {entry["input"]: value})
        self.by_lead[key] = replace(run, overrides={**run.overrides, entry["input"]: value})


def read_run(entry: Mapping[str, Any], usual: RunDecision) -> RunDecision:
    """A run as it is said; what is not said is as usual."""
    facts = {name: entry[name] for name in entry if name not in ("unit", "lead")}
    if "wire_standard" in facts:
        facts["wire_standard"] = WireStandard(facts["wire_standard"])
    if facts.get("wire_size"):
        standard = facts.get("wire_standard", usual.wire_standard)
        sold = [each.size for each in conductors(standard)]
        if facts["wire_size"] not in sold:
            raise FactError("wire_size", f"{facts['wire_size']} is not sold. Sizes: {', '.join(sold)}.")
    return replace(usual, **{"out_m": None, "back_m": None, "overrides": {}, **facts})


def write_runs(decided: HookUpDecisions, names: Names) -> tuple[list[dict[str, Any]], list[dict[str, Any]]]:
    """`runs` and `overrides`: of all leads first, then where a lead differs."""
    first = next(iter(names.leads), "")
    usual = _written(decided.run)
    found = [{name: value for name, value in usual.items() if name not in OF_ONE_LEAD}]
    own = {lead: run for lead, run in decided.runs.items() if lead in names.leads}
    if first and first not in decided.runs:
        if usual.keys() & {*OF_ONE_LEAD}:
            found.append({**names.lead(first), **usual})
        typed_in = {first: decided.run, **own}
    else:
        typed_in = own
    found += [{**names.lead(lead), **_written(run)} for lead, run in own.items()]
    overrides = [
        {**names.lead(lead), "input": id, "value": value}
        for lead, run in typed_in.items()
        for id, value in run.overrides.items()
    ]
    return found, overrides


def _written(run: RunDecision) -> dict[str, Any]:
    found = {name: getattr(run, name) for name in RUN_NAMES}
    found["wire_standard"] = str(run.wire_standard)
    return {name: value for name, value in found.items() if value is not None and value != ""}


def read_cure(entry: Mapping[str, Any], names: Names) -> CureDecision:
    """A fix that was used, with its values."""
    cure = cure_of(entry["cure"])
    leads = tuple(names.lead_key(each) for each in entry.get("leads", ())) if cure.at_leads else ()
    decision = CureDecision(
        cure.id,
        leads,
        float(entry.get("ohm", 0.0)),
        float(entry.get("case_w", 50 if cure.id.endswith("_resistor") and cure.id != "ghost_resistor" else 0)),
        entry.get("mount", "metal"),
        entry.get("part", ""),
        float(entry.get("microfarad", 0.0)),
        float(entry.get("series_ohm", 0.0)),
        float(entry.get("bleed_ohm", 0.0)),
    )
    cure.check(decision)
    return decision


def write_cure(cure: CureDecision, names: Names) -> dict[str, Any]:
    """A fix as `read_cure` reads it."""
    found: dict[str, Any] = {
        "cure": cure.cure,
        "leads": [names.lead(lead) for lead in cure.leads if lead in names.leads],
        "ohm": cure.ohm,
        "case_w": cure.case_w,
        "mount": cure.mount if cure.case_w else "",
        "part": cure.part,
        "microfarad": cure.microfarad,
        "series_ohm": cure.series_ohm,
        "bleed_ohm": cure.bleed_ohm,
    }
    return {name: value for name, value in found.items() if value}
