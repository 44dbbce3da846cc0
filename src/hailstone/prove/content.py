"""The sheets as they are printed, as plain values: what a signature stores, and what the paper page shows.

A signed sheet is printed from what was stored and from nothing else. `FORMAT` counts the shapes there have been.
"""

from __future__ import annotations

from collections.abc import Sequence
from typing import Any

from django.conf import settings
from django.utils import timezone

from electrics.job.correction import tells_of_dead_bulb
from electrics.job.cures.registry import cure_of
from electrics.job.own_side import own_side_wires
from electrics.job.ways import PlaceWire
from electrics.prove.sheet import Outcome
from hailstone.jobs.models import Job
from hailstone.layers.distances import where_is
from hailstone.layers.progress import Overview
from hailstone.layers.proof import Proof
from hailstone.prove import shown
from hailstone.prove.models import Record
from hailstone.wording import proof as wording
from hailstone.wording.build import join_row, part_row, wire_row
from hailstone.wording.circuit import finding_sentence
from hailstone.wording.findings import finding_text
from hailstone.wording.hookup import assumed_sentence, nearer_sentence, way_name
from hailstone.wording.words import at_pin, counted, function_name, listed

__all__ = ["FORMAT", "assumed_lines", "lead_lines", "papers", "sheet_content", "told_lines", "unfixed_lines"]

FORMAT = 2
"""1: runs by role and lead, no joints; 2: wires and joints with both ends."""


def sheet_content(view: Overview, proof: Proof) -> dict[str, Any]:
    """Test sheet and build sheet of a job as they would be printed now."""
    found = shown.groups(view, proof)
    untested = proof.counts[Outcome.UNTESTED]
    verdict = wording.VERDICTS[proof.verdict]
    all_lamps = (line.lamp.of_row for line in proof.sheet.lines if line.lamp)
    lamps = {lamp.id: wording.lamp_name(lamp, view.plan.accessory) for lamp in all_lamps}
    return {
        "format": FORMAT,
        "workshop": settings.WORKSHOP,
        "vehicle": str(view.job.vehicle),
        "papers": papers(view.job),
        "title": view.job.title,
        "added": f"{wording.added_name(view.plan.accessory)}, {view.plan.added_a:.2f} A",
        "leads": lead_lines(view),
        "assumed": assumed_lines(view),
        "told": told_lines(view),
        "unfixed": unfixed_lines(view),
        "override": view.plan.overridden,
        "verdict_id": str(proof.verdict),
        "verdict": f"{verdict}: {counted(untested, 'line')} not tested" if proof.verdict == "unfinished" else verdict,
        "lamps": list(lamps.values()),
        "states": [
            {"name": group.name, "by": _by(group.latest), "lines": [_cell(group, lamp) for lamp in lamps]}
            for group in found[:-1]
        ],
        "measured": [
            {**_line(line), "name": line.name, "asks": line.asks, "reading": line.reading, "by": _by(line.result)}
            for line in found[-1].lines
        ],
        "build": _build(view),
    }


def papers(job: Job) -> str:
    """Whose vehicle it is: `Registration ABC 123, 84000 km, for A. Customer, order 17`; empty without any."""
    vehicle = job.vehicle
    car = [
        f"registration {vehicle.registration}" if vehicle.registration else "",
        f"VIN {vehicle.vin}" if vehicle.vin else "",
        f"{vehicle.odometer_km} km" if vehicle.odometer_km is not None else "",
    ]
    order = [f"for {job.customer}" if job.customer else "", f"order {job.order_number}" if job.order_number else ""]
    text = ", ".join(filter(None, (*car, *order)))
    return text[:1].upper() + text[1:]


def assumed_lines(view: Overview) -> list[str]:
    """What is to be confirmed: assumptions on tapped circuits, how many lengths, and the judge's doubts."""
    found = [assumed_sentence(circuit.function, circuit.assumed) for circuit in view.plan.circuits]
    wires = [wire.label for wire in view.build.wires if wire.is_assumed] if view.build else []
    if wires:
        found.append(f"Length of {'wire' if len(wires) == 1 else 'wires'} {listed(wires)}: usual for such a vehicle.")
    found += [nearer_sentence(each) for each in own_side_wires(view.derived)]
    found += [finding_text(each, view.plan) for each in view.plan.doubts if not each.reason]
    return [line for line in found if line]


def told_lines(view: Overview) -> list[str]:
    """What the customer is told of the fixes that are used."""
    if not any(cure_of(cure.cure).hides_outage for cure in view.derived.facts.hookup.cures):
        return []
    if tells_of_dead_bulb(view.derived):
        return ["The dash warns of a dead bulb that stayed, not of a dead LED: check the lamps yourself."]
    return ["The dash can no longer warn of a dead bulb: check the lamps yourself."]


def unfixed_lines(view: Overview) -> list[str]:
    """The problems that the hook-up still causes, each part's once."""
    found = {(each.rule, each.subject): each for each in reversed(view.plan.upsets)}
    return [finding_sentence(each) for each in reversed(found.values())]


def lead_lines(view: Overview) -> list[str]:
    """What each lead is tapped to and built of, a line each; the best way of a lead that has none yet."""
    lines = []
    if view.job.complaint:
        has_cure = bool(view.derived.facts.hookup.cures)
        only = "only its fix is listed below" if has_cure else "nothing is built until a fix is chosen"
        lines.append(f"On the vehicle already: {only}.")
    sites = {point.name: where_is(view.job, point) for point in view.job.points.all()}
    at = {name: f" ({site})" for name, site in sites.items() if site}
    plugged = {unit.id for unit in view.plan.accessory.units if unit.in_socket}
    for lead in view.plan.leads:
        shown_way = lead.shown
        if shown_way is None:
            continue
        if lead.lead.unit in plugged and shown_way.candidate.form.id == "direct":
            circuit = function_name(shown_way.host.wire.function, mid_sentence=True)
            lines.append(f"{lead.lead.title}: plugs into its socket, on the {circuit} circuit.")
            continue
        taps = "".join(
            f"tapped at {_tap(place)}, {place.place}{at.get(place.place, '')} · " for place in shown_way.tapped
        )
        sized = lead.sized
        wire = listed(each.name for each in view.plan.feed_wires(lead.lead.id)) or "wire still open"
        fuses = view.plan.fuses_a(lead.lead.id)
        fuse = f", fused at {listed(f'{amps_a:g} A' for amps_a in fuses)}" if fuses else ", on the factory fuse"
        joint = f", {sized.joint.method.name[0].lower()}{sized.joint.method.name[1:]}" if sized.joint else ""
        way = way_name(shown_way.candidate, shown_way.wires)
        way += "" if lead.chosen else "; not chosen yet"
        name = "" if view.plan.is_single else f"{lead.lead.title}: "
        lines.append(f"{name}{taps}{wire}{fuse}{joint}. {way}.")
    return lines


def _tap(place: PlaceWire) -> str:
    pin = at_pin(place.wire.pin, is_at_fuse=place.is_at_fuse)
    return f"{pin} ({place.wire.colour})" if place.wire.colour else pin


def _line(line: shown.ShownLine) -> dict[str, str]:
    return {"signal": line.signal, "outcome": line.outcome}


def _cell(group: shown.LineGroup, lamp: str) -> dict[str, str]:
    """What is printed of a lamp in a state: of a row of lamps the worst, with a note of which."""
    lines = [line for line in group.lines if line.lamp == lamp]
    if not lines:
        return {"signal": "not asked", "outcome": "", "note": ""}
    worst = next(
        (line for outcome in (Outcome.FAIL, Outcome.UNTESTED) for line in lines if line.outcome == outcome), lines[0]
    )
    notes = [
        f"{line.name}: {line.result.note}" if len(lines) > 1 else line.result.note for line in lines if line.result
    ]
    failed = [line.name for line in lines if line.outcome == Outcome.FAIL] if len(lines) > 1 else []
    return {**_line(worst), "note": "; ".join(filter(None, (*notes, listed(failed))))}


def _build(view: Overview) -> dict[str, Any]:
    plan, steps = view.build, shown.steps(view, None)
    return {
        "wires": [wire_row(wire, plan.joins) for wire in plan.wires] if plan else [],
        "joins": [join_row(join) for join in (plan.joins if plan else ())],
        "parts": [part_row(part) for part in (plan.parts if plan else ())],
        "steps": [[step.text.title, step.state, _by(step.tick)] for step in steps],
        "steps_said": _steps_said(steps),
    }


def _steps_said(steps: Sequence[shown.ShownStep]) -> list[str]:
    """How many steps are done and by whom, and which were not needed or are open, a sentence each."""
    done = [step for step in steps if not step.is_open and step.state == "done"]
    who = listed(dict.fromkeys(str(step.tick.who) for step in done if step.tick))
    said = [f"{len(done)} of {counted(len(steps), 'build step')} done" + (f" by {who}." if who else ".")]
    for word, found in (
        ("Not needed", [step for step in steps if not step.is_open and step.state == "not needed"]),
        ("Open", [step for step in steps if step.is_open]),
    ):
        if found and len(found) < len(steps):
            said.append(f"{word}: " + " ".join(step.text.title for step in found))
    return said


def _by(record: Record | None) -> str:
    if record is None:
        return ""
    return f"{record.who}, {timezone.localtime(record.at):%-d %b %Y, %H:%M}"
