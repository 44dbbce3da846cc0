"""`hailstone plan`: everything that follows from a job file, as a document and as text. No database."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from typing import Any

from electrics.design.design import Design, End
from electrics.document.job import JobFacts
from electrics.errors import FactError
from electrics.formats.json_file import FileError
from electrics.job.assumptions import About, Assumption, assumptions
from electrics.job.better import best_plan
from electrics.job.file.reading import read_whole
from electrics.job.hookup_plan import HookUpPlan, LeadPlan
from electrics.job.judging import findings_of
from electrics.job.plan import Plan, plan
from electrics.job.records import RecordedResult, RecordedTick, answered
from electrics.job.ways import Way
from electrics.judge.finding import Finding
from electrics.prove.sheet import Line, Outcome
from electrics.reference.habits import habits
from hailstone.wording import hookup as wording
from hailstone.wording import proof
from hailstone.wording.build import join_row, part_row, wire_row
from hailstone.wording.circuit import finding_sentence
from hailstone.wording.findings import finding_document, finding_text
from hailstone.wording.steps import step_text, vehicle_of
from hailstone.wording.words import signal_name

__all__ = ["plan_document", "plan_text"]

SHOWN_WAYS = 6
"""Right ways of a lead that are listed [-]; and as many of the others."""


def plan_document(text: str) -> dict[str, Any]:
    """What `hailstone plan --json` prints (docs/formats/plan.schema.json).

    Raises
    ------
    FileError
        The job cannot be understood.
    """
    try:
        file = read_whole(text)
        found = best_plan(plan(file.facts))
    except FactError as error:
        raise FileError([str(error)]) from error
    hookup = found.hookup
    build = found.build
    facts, records = file.facts, file.records
    seen = answered(found, records.results)
    return {
        "units": [_unit(hookup, unit.id) for unit in hookup.accessory.units],
        "design": _design(hookup.design) if hookup.design else None,
        "joints": [join_row(join) for join in build.joins] if build else [],
        "cut_list": [wire_row(wire, build.joins) for wire in build.wires] if build else [],
        "parts_list": [_part(part_row(part)) for part in build.parts] if build else [],
        "steps": _steps(found, records.ticks),
        "test_lines": [_line(line, hookup, seen.get(line.key)) for line in found.sheet.lines] if found.sheet else [],
        "unanswering": len(records.results) - len(seen),
        "signatures": records.document()["signatures"],
        "upsets": [finding_sentence(finding) for finding in hookup.upsets],
        "assumptions": _assumptions(facts),
        "open": [_open(item, hookup) for item in hookup.missing],
        "faults": [_open(item, hookup) for item in hookup.faults],
        "findings": [finding_document(item, hookup) for item in findings_of(found)],
    }


def plan_text(document: Mapping[str, Any]) -> str:
    """The same for people."""
    lines = []
    for unit in document["units"]:
        lines.append(
            f"{unit['name']}" + (f", in place of the lamp at {unit['instead_of']}" if unit["instead_of"] else "")
        )
        for lead in unit["leads"]:
            way = lead["chosen"]["text"] if lead["chosen"] else "nothing here gives this"
            lines.append(f"  {lead['lead']} ({lead['wants']}, {lead['amps']:g} A): {way}")
    for title, part in (("Cut list", "cut_list"), ("Connections", "joints"), ("Parts", "parts_list")):
        lines.append(f"{title}:")
        lines += [f"  {'; '.join(str(value) for value in row.values() if value != '')}" for row in document[part]]
    for title, part in (
        ("Upsets", "upsets"),
        ("Assumed", "assumptions"),
        ("Open", "open"),
        ("Don’t build this", "faults"),
    ):
        texts = [item if isinstance(item, str) else item["text"] for item in document[part]]
        lines += [f"{title}: {text}" for text in texts]
    return "\n".join(lines)


def _unit(hookup: HookUpPlan, id: str) -> dict[str, Any]:
    unit = next(unit for unit in hookup.accessory.units if unit.id == id)
    return {
        "name": unit.name,
        "kind": unit.kind.id if unit.kind else "",
        "side": unit.side,
        "place": unit.place,
        "instead_of": unit.instead_of,
        "lamps": unit.lamps,
        "leads": [_lead(hookup, lead) for lead in hookup.leads if lead.lead.unit == id],
    }


def _lead(hookup: HookUpPlan, lead: LeadPlan) -> dict[str, Any]:
    right = [way for way in lead.ways if way.is_right][:SHOWN_WAYS]
    wrong = [way for way in lead.ways if not way.is_right][:SHOWN_WAYS]
    return {
        "lead": lead.lead.label or lead.lead.id,
        "wants": lead.lead.wanted.text,
        "polarity": str(lead.lead.polarity),
        "technology": lead.lead.technology,
        "amps": round(lead.amps_a, 4),
        "chosen": {**_way(lead.chosen), "truth": _truth(hookup, lead)} if lead.chosen else None,
        "ways": [_way(way) for way in (*right, *wrong)],
        "out_m": round(lead.out_m, 2),
        "back_m": round(lead.back_m, 2),
        "fuses_a": list(hookup.fuses_a(lead.lead.id)),
    }


def _way(way: Way) -> dict[str, Any]:
    name = wording.way_name(way.candidate, way.wires)
    return {
        "way": way.candidate.form.id,
        "from": [
            {"own": place.key.removeprefix("@")} if place.is_own else {"place": place.place, "pin": place.wire.pin}
            for place in way.wires
        ],
        "text": name[0].upper() + name[1:],
        "right": way.is_right,
        "wrong": [str(state) for state in way.candidate.wrong],
        "refusals": list(way.candidate.refusals),
    }


def _truth(hookup: HookUpPlan, lead: LeadPlan) -> list[dict[str, str]]:
    """What is wanted and what the designed circuit shows, in every state; by logic where it is not modelled."""
    assert lead.chosen is not None
    n = next(n for n, each in enumerate(hookup.leads) if each is lead)
    usual = hookup.scenarios[0]
    if hookup.together is None:
        candidate = lead.chosen.candidate
        found = {state: candidate.signal(state) for state in candidate.states}
        where = dict.fromkeys(found, usual)
    else:
        found, where = dict(hookup.together.shows[n]), dict(hookup.together.seen_on[n])
    return [
        {
            "state": str(state),
            "wanted": signal_name(lead.lead.wanted.signal(state, where[state])),
            "got": signal_name(signal),
        }
        for state, signal in found.items()
    ]


def _end(end: End) -> dict[str, str]:
    return {"kind": str(end.kind), "what": end.what, "terminal": end.terminal, "place": end.spot.name}


def _design(design: Design) -> dict[str, Any]:
    return {
        "parts": [
            {
                "label": part.label,
                "part": part.part,
                "value": part.value,
                "role": part.role,
                "place": part.spot.name,
                "terminals": list(part.ends),
            }
            for part in design.parts
        ],
        "wires": [
            {
                "label": wire.label,
                "role": wire.role,
                "ends": [_end(end) for end in wire.ends],
                "wire": wire.conductor.name,
                "load_a": round(wire.load_a, 4),
                "routed_m": wire.routed_m,
                "cut_m": wire.cut_m,
                "by": list(wire.by),
                "assumed": wire.is_assumed,
            }
            for wire in design.wires
        ],
        "joints": [
            {
                "label": join.label,
                "method": join.method,
                "place": join.spot.name,
                "members": [_end(end) for end in join.members],
                "is_tap": join.is_tap,
            }
            for join in design.joins
        ],
        "sealed": [_end(end) for end in design.sealed],
        "capped": [_end(end) for end in design.capped],
    }


def _part(row: tuple[int, str, str]) -> dict[str, Any]:
    count, name, detail = row
    return {"count": count, "part": name, "detail": detail}


def _steps(found: Plan, ticks: Sequence[RecordedTick]) -> list[dict[str, Any]]:
    if found.build is None:
        return []
    vehicle = vehicle_of(found.facts.vehicle)
    done = {tick.step: tick for tick in ticks}
    listed = []
    for step in found.steps:
        text, tick = step_text(step, found.build, vehicle), done.get(step.key) or done.get(step.kind.former)
        stands = "open" if tick is None else "done" if tick.needed else "not needed"
        listed.append(
            {
                "step": text.title,
                "text": text.caution,
                "details": list(text.lines),
                "key": {name: value for name, value in step.key._asdict().items() if value},
                "minutes": round(step.minutes, 1),
                "stands": stands,
            }
        )
    return listed


def _line(line: Line, hookup: HookUpPlan, seen: RecordedResult | None) -> dict[str, str]:
    name = (
        proof.lamp_name(line.lamp, hookup.accessory)
        if line.lamp
        else proof.measure_name(line.measure, hookup.accessory)
        if line.measure
        else ""
    )
    found = {"state": str(line.state), "lamp": name, "asks": proof.line_asks(line)}
    return found | {
        "outcome": str(seen.outcome if seen else Outcome.UNTESTED),
        "reading": seen.reading if seen else "",
    }


UNITS = {About.LENGTH: "m", About.FUSE: "A", About.BULBS: "bulbs", About.COMPUTER: "", About.LED: ""}


def _unit_of_value(each: Assumption) -> str:
    return habits()[each.where].unit if each.about is About.HABIT else UNITS[each.about]


def _assumptions(facts: JobFacts) -> list[dict[str, Any]]:
    """What was taken as usual, with the value that would change the plan; then what was only said."""
    listed = [
        {
            "about": str(each.about),
            "where": each.where,
            "value": each.value,
            "low": each.low,
            "high": each.high,
            "unit": _unit_of_value(each),
            "changes_at": each.changes_at,
            "is_dangerous": each.is_dangerous,
            "text": wording.assumption_sentence(each),
        }
        for each in assumptions(facts)
    ]
    for place in facts.places:
        for pin, function, _ in place.said:
            text = f"{place.point.name}, pin {pin} is {function.replace('_', ' ')}: said, not measured."
            listed.append(
                {"about": "said", "where": f"{place.point.name} pin {pin}", "value": str(function), "text": text}
            )
    return listed


def _open(item: Finding, hookup: HookUpPlan) -> dict[str, str]:
    return {"id": item.rule, "text": finding_text(item, hookup)}
