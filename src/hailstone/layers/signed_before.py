"""Signatures of earlier versions, which stored a list of named facts under keys `family:name`.

Such a signature is held against the same list as it would be stored now. Nothing is signed this way any more: see
`hailstone.layers.signed`.
"""

from __future__ import annotations

import re
from collections.abc import Mapping
from contextlib import suppress

from electrics.document.decisions import CureDecision
from electrics.document.difference import Change
from electrics.document.papers import PAPERS
from electrics.document.units import SPACING_M, UnitFacts
from hailstone.hookup.models import RUN_FIELDS, HookUp
from hailstone.jobs.models import Job
from hailstone.layers.beliefs import beliefs
from hailstone.layers.decisions import decisions_of, named_distances
from hailstone.layers.refs import names_by_ref

__all__ = ["changes_between", "printed_facts"]

_JOB = ("title", "addition", "also", "own_leads", "added_count", "added_each_a", "customer", "order_number")
READINGS, WIRE, UNIT, CURE = "readings", "wire", "unit", "cure"


def changes_between(before: Mapping[str, str], after: Mapping[str, str]) -> tuple[Change, ...]:
    """What differs, of the families of facts that were stored: an older program knew fewer."""
    families = {key.partition(":")[0] for key in before} | {UNIT, CURE}  # before they could be said there were none
    keys = [key for key in dict.fromkeys((*before, *after)) if key.partition(":")[0] in families]
    found = (Change(key, before.get(key, ""), after.get(key, "")) for key in keys)
    return tuple(each for each in found if _differs(each) and _counts(each, before, after))


def _differs(change: Change) -> bool:
    """Whether it says something else; of a unit, what is as usual was not always written."""
    if not change.key.startswith(f"{UNIT}:"):
        return change.before != change.after
    before, after = (
        [part for part in text.split("; ") if part not in USUAL] for text in (change.before, change.after)
    )
    return [re.sub(r"\.0 A", " A", part) for part in before] != [re.sub(r"\.0 A", " A", part) for part in after]


USUAL = ("1", f"{SPACING_M:g}")
"""One lamp, and the usual spacing."""


def _counts(change: Change, before: Mapping[str, str], after: Mapping[str, str]) -> bool:
    family, _, name = change.key.partition(":")
    if family == READINGS:
        return False
    readings = f"{READINGS}:{name}"
    return family != WIRE or before.get(readings) != after.get(readings)


def printed_facts(job: Job) -> dict[str, str]:
    """Everything that people entered and that the sheets print, or rest on, by name."""
    facts = {f"job:{name}": _text(getattr(job, name)) for name in _JOB}
    said = job.vehicle.said
    facts |= {f"vehicle:{name}": _text(getattr(job.vehicle, name)) for name in PAPERS["vehicle"]}
    facts["vehicle:system_v"] = _text(said.system_v)
    facts["vehicle:body"] = "" if said.body == "car" else said.body  # what it was before it was asked
    units = decisions_of(job).units
    names = names_by_ref(job.points.all(), units)
    facts |= {f"{UNIT}:{unit.name}": _unit_text(unit, names) for unit in units}
    with suppress(HookUp.DoesNotExist):
        facts |= _hookup_facts(job, job.hookup)
    facts |= {f"step:{tick.step}": "done" if tick.is_needed else "not needed" for tick in job.ticks.all()}
    for result in job.results.all():
        facts[f"result:{result.line}"] = " ".join(filter(None, (result.outcome, result.reading, result.note)))
    lamp = getattr(job, "lamp", None)
    if lamp is not None:
        for trial in lamp.trials.all():
            amps = "" if trial.amps_a is None else f"{trial.amps_a:g} A"
            seen = " ".join(filter(None, (trial.seen, trial.light, amps)))
            facts[f"trial:{trial.plus} to {trial.minus}"] = seen
    return facts


def _hookup_facts(job: Job, choice: HookUp) -> dict[str, str]:
    pins = {str(pin.id): (point, pin) for point in job.points.all() for pin in point.pins.all()}
    facts = {"hookup:override": choice.override.strip(), "distance:": ""}
    decided = decisions_of(job)
    facts |= {f"distance:{first} to {second}": f"{m:g} m" for first, second, m in named_distances(job)}
    facts |= {f"{CURE}:{each.cure}": _cure_text(each) for each in decided.cures}
    tapped: set[str] = set()
    for lead, key in decided.ways.items():
        form, _, sources = key.partition(":")
        tapped |= {source for source in sources.split(",") if source in pins}
        facts[f"way:{lead}"] = f"{form}: " + ", ".join(_place(pins, source) for source in sources.split(","))
    for lead, run in {"": choice.first_run, **decided.runs}.items():
        facts |= {f"run:{lead}:{name}": _text(value) for name, value in run.items() if name in RUN_FIELDS}
    for function, noted in choice.circuits.items():
        facts |= {f"circuit:{function}:{name}": _text(value) for name, value in noted.items()}
    for id in sorted(tapped):
        point, pin = pins[id]
        place = _place(pins, id)
        facts[f"colour:{place}"] = pin.colour
        facts[f"{WIRE}:{place}"] = str(beliefs(job)[point.id].wire(pin.label).function)
        readings = sorted(
            f"{each.state} {each.instrument} {each.load} {each.against_label} {each.text}"
            for each in pin.readings.all()
        )
        facts[f"{READINGS}:{place}"] = "; ".join(readings)
    return facts


def _unit_text(unit: UnitFacts, places: Mapping[str, str]) -> str:
    """A unit in a line, its places by their names."""
    leads = [
        f"{each.lead} {each.wants} {'' if each.amps is None else f'{each.amps:g}'} A {each.technology}"
        for each in unit.leads
    ]
    values = (unit.kind, unit.side, unit.place, unit.instead_of, unit.lamps, f"{unit.spacing_m:g}")
    facts = [places.get(str(value), str(value)) for value in values if value]
    return "; ".join([*facts, *leads])


def _cure_text(cure: CureDecision) -> str:
    """`taken`, `6 ohm 50 W metal at left-turn, right-turn`, `1N5404 at left-tail`."""
    if not cure.leads:
        return "taken"
    values = [f"{cure.ohm:g} ohm" if cure.ohm else ""]
    values += [f"{cure.case_w:g} W {cure.mount}" if cure.case_w else ""]
    values += [cure.part, f"{cure.microfarad:g} microfarad" if cure.microfarad else ""]
    return " ".join([*filter(None, values), f"at {', '.join(cure.leads)}"])


def _place(pins: Mapping[str, tuple[object, object]], source: str) -> str:
    """A wire by its place and pin; one that is gone, or one's own, by its key."""
    if source not in pins:
        return source
    point, pin = pins[source]
    return f"{point} pin {pin}"


def _text(value: object) -> str:
    if isinstance(value, float):
        return f"{value:g}"
    if isinstance(value, dict):
        return ", ".join(f"{name}={_text(value[name])}" for name in sorted(value))
    return "" if value is None else str(value)
