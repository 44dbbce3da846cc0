"""Whether a job's signature still stands: everything people entered, then and now.

Every column of every row of a job counts, unless it is named here with the reason why it is printed nowhere: a new
fact is compared without anybody thinking of it. What the program derives may come out otherwise in a newer version,
which un-signs nothing; it counts only where readings or claims changed as well.
"""

from __future__ import annotations

import json
from collections.abc import Iterable, Mapping
from dataclasses import asdict, dataclass, fields
from hashlib import sha256
from typing import Any

from django.db.models import Model

from electrics.document.decisions import CureDecision, RunDecision
from electrics.document.difference import Change, changes_of
from electrics.document.units import SPACING_M, UnitFacts
from electrics.document.vehicle import VehicleFacts
from electrics.document.written import written
from electrics.job.plan import Plan
from electrics.job.rests import whole
from electrics.prove.sheet import Outcome
from hailstone.hookup.models import CIRCUIT_FIELDS, RUN_FIELDS, HookUp
from hailstone.identify.models import AccessPoint, Pin
from hailstone.jobs.models import Job, Vehicle
from hailstone.lamp.models import BenchLead, FittedLamp
from hailstone.layers import signed_before
from hailstone.layers.beliefs import beliefs
from hailstone.layers.decisions import decisions_of
from hailstone.layers.proof import Proof
from hailstone.prove.models import Signature

__all__ = ["FORMAT", "UNPRINTED", "Change", "SignedState", "changes_between", "signed", "signed_facts", "token_of"]

FORMAT = "2"
"""Of the facts as they are stored; without one they are an earlier version's list."""
UNPRINTED: Mapping[type[Model], Mapping[str, str]] = {
    Job: {
        "version": "counts saves",
        "created_by": "who began it",
        "created_at": "when it was begun",
        "changed_by": "who worked on it last",
        "changed_at": "when that was",
        "vehicle": "its facts are listed",
        "supply_v": "each reading has its own supply",
        "has_helper": "changes what is asked for, not what is found",
        "tools": "changes what is asked for, not what is found",
        "charts_all": "changes what is asked for, not what is found",
    },
    Vehicle: {"facts": "listed fact by fact"},
    AccessPoint: {
        "job": "its owner",
        "version": "counts saves",
        "face_rows": "how its face is drawn on the screen",
        "seen_from": "how its face is drawn on the screen",
        "claims_from": "weighed with the readings",
        "claims_origin": "weighed with the readings",
    },
    Pin: {
        "point": "its owner",
        "position": "the order on the screen",
        "claim": "weighed with the readings",
        "claim_from": "weighed with the readings",
    },
    HookUp: {
        "job": "its owner",
        "version": "counts saves",
        "changed_by": "who worked on it last",
        "changed_at": "when that was",
        "circuits": "listed circuit by circuit",
        "labels": "numbers that stay as they were printed",
        **dict.fromkeys(RUN_FIELDS, "listed with the runs"),
    },
    FittedLamp: {"job": "its owner"},
    BenchLead: {"lamp": "its owner", "position": "the order on the screen"},
}
"""Columns that are compared elsewhere or printed nowhere, each with the reason."""
DERIVED, READINGS = "derived", "readings"
USUAL_RUN = asdict(RunDecision())
USUAL_UNIT = {"lamps": 1, "spacing_m": SPACING_M}
USUAL_CURE = {**asdict(CureDecision("")), "cure": None, "leads": "", "ways": []}


@dataclass(frozen=True)
class SignedState:
    """The last revision that was signed, all of them, and what was changed since."""

    last: Signature
    revisions: tuple[Signature, ...]
    changes: tuple[Change, ...]

    @property
    def stands(self) -> bool:
        return not self.changes

    @property
    def next_number(self) -> int:
        return self.last.number + 1


def signed(job: Job, plan: Plan, proof: Proof | None) -> SignedState | None:
    """The signatures of a job with its facts; None where it was never signed."""
    revisions = tuple(job.signatures.all())
    if not revisions:
        return None
    last = revisions[-1]
    if last.fallen:
        changes: tuple[Change, ...] = (Change("fallen", "", last.fallen),)
    elif _is_new(last.facts):
        changes = changes_between(last.facts, signed_facts(job, plan, proof))
    else:
        changes = signed_before.changes_between(last.facts, signed_before.printed_facts(job))
    return SignedState(last, revisions, changes)


def changes_between(before: Mapping[str, Any], after: Mapping[str, Any]) -> tuple[Change, ...]:
    """What differs between the facts of two signatures, or of one and of now."""
    if not _is_new(before) or not _is_new(after):
        return () if _is_new(before) or _is_new(after) else signed_before.changes_between(before, after)
    found = list(changes_of(_completed(before), _completed(after)))
    is_measured_anew = any(each.key.startswith(f"{READINGS}:") for each in found)
    return tuple(
        each
        for each in found
        if not each.key.startswith(f"{READINGS}:") and (is_measured_anew or not each.key.startswith(f"{DERIVED}:"))
    )


def token_of(facts: Mapping[str, Any]) -> str:
    """Short for some facts: a form that was made from others is told apart."""
    return sha256(json.dumps(facts, sort_keys=True).encode()).hexdigest()[:16]


def signed_facts(job: Job, plan: Plan | None, proof: Proof | None) -> dict[str, Any]:
    """Everything people entered for a job, by row and column; keys are those of rows, so that a name is one fact."""
    decided = decisions_of(job)
    points = {str(point.id): point for point in job.points.all()}
    lamp: FittedLamp | None = getattr(job, "lamp", None)
    hookup: HookUp | None = getattr(job, "hookup", None)
    runs = ({"": hookup.first_run} if hookup else {}) | decided.runs
    return {
        "format": FORMAT,
        "job": _columns(job) | {"arrangement": str(job.vehicle.said.arrangement or "")},
        "vehicle": _columns(job.vehicle) | _said(job.vehicle.said),
        "place": {id: _columns(point) | {"pin": _pins(point)} for id, point in points.items()},
        "unit": {unit.key: _unit(unit) for unit in decided.units},
        "spot": decided.spots,
        "distance": {f"{first} to {second}": m for first, second, m in decided.distances},
        "hookup": _columns(hookup) if hookup else {},
        "circuit": dict(hookup.circuits) if hookup else {},
        "run": runs,
        "way": dict(decided.ways),
        "cure": {
            cure.cure: {**written(cure), "cure": None, "leads": ", ".join(cure.leads)} for cure in decided.cures
        },
        "lamp": _columns(lamp) | {"lead": _bench(lamp), "trial": _trials(lamp)} if lamp else {},
        "step": {tick.step: "done" if tick.is_needed else "not needed" for tick in job.ticks.all()},
        "result": _results(job),
        READINGS: {str(pin.id): _readings(point, pin) for point in points.values() for pin in point.pins.all()},
        DERIVED: _derived(job, plan, proof),
    }


def _completed(facts: Mapping[str, Any]) -> dict[str, Any]:
    """Facts with every value of runs, circuits, fixes and units, as it stands while nobody has said it."""
    usual = {"run": USUAL_RUN, "circuit": CIRCUIT_FIELDS, "cure": USUAL_CURE, "unit": USUAL_UNIT}
    whole = {
        name: {key: each | values for key, values in facts.get(name, {}).items()} for name, each in usual.items()
    }
    return {**facts, **whole}


def _is_new(facts: Mapping[str, Any]) -> bool:
    return facts.get("format") == FORMAT


def _columns(row: Model) -> dict[str, Any]:
    """A row's own columns, but for those that are named with a reason; one that says nothing says so by its absence.

    So a column that a later version adds changes no signature until somebody fills it in.
    """
    without = {"id", *UNPRINTED[type(row)]}
    fields = (field for field in row._meta.concrete_fields if field.name not in without)
    found = {field.name: (field.get_default(), getattr(row, field.attname)) for field in fields}
    return {name: _plain(value) for name, (default, value) in found.items() if value != default}


def _said(vehicle: VehicleFacts) -> dict[str, Any]:
    """What is said of a vehicle and is not as usual; its arrangement stands with the job, where it was kept once."""
    usual = type(vehicle)()
    names = (field.name for field in fields(vehicle) if field.name != "arrangement")
    found = {name: getattr(vehicle, name) for name in names if getattr(vehicle, name) != getattr(usual, name)}
    return {name: _listed(value) for name, value in found.items()}


def _listed(value: Any) -> Any:
    if isinstance(value, frozenset):
        return ",".join(sorted(map(str, value)))
    if isinstance(value, tuple):
        is_paired = all(isinstance(each, tuple) for each in value)
        return dict(value) if is_paired else "; ".join(map(str, value))
    return _plain(value)


def _plain(value: Any) -> Any:
    return value if value is None or isinstance(value, bool | int | float | str | dict) else str(value)


def _pins(point: AccessPoint) -> dict[str, Any]:
    return {str(pin.id): _columns(pin) for pin in point.pins.all()}


def _unit(unit: UnitFacts) -> dict[str, Any]:
    leads = {each.id or each.lead: {**written(each), "id": None} for each in unit.leads}
    return {**written(unit), "id": None, "leads": leads}


def _bench(lamp: FittedLamp) -> dict[str, Any]:
    return {str(lead.id): _columns(lead) for lead in lamp.leads.all()}


def _trials(lamp: FittedLamp) -> dict[str, str]:
    found = {}
    for trial in lamp.trials.all():
        amps = "" if trial.amps_a is None else f"{trial.amps_a:g} A"
        fuse = "" if trial.fuse_a is None else f"fuse {trial.fuse_a:g} A"
        found[f"{trial.plus} to {trial.minus}"] = " ".join(filter(None, (trial.seen, trial.light, amps, fuse)))
    return found


def _results(job: Job) -> dict[str, str]:
    """The last result of each line, whether or not it still answers what the line asks."""
    last = {result.line: result for result in job.results.all()}
    said = {line: " ".join(filter(None, (r.outcome, r.reading, r.note))) for line, r in last.items()}
    return {line: text for line, text in said.items() if last[line].outcome != Outcome.UNTESTED}


def _readings(point: AccessPoint, pin: Pin) -> str:
    claims = filter(None, (pin.claim, point.claims_origin if pin.claim else "", pin.claim_from))
    return "; ".join([*_texts(pin), " ".join(claims)])


def _texts(pin: Pin) -> Iterable[str]:
    return sorted(
        f"{each.state} {each.instrument} {each.load} {each.against_label} {each.supply_v:g} V "
        f"{each.text}{' twice' if each.is_confirmed else ' again' if each.is_repeated else ''}"
        for each in pin.readings.all()
    )


def _derived(job: Job, plan: Plan | None, proof: Proof | None) -> dict[str, Any]:
    """What follows from readings and is printed: what wires are, what is built, what is asked."""
    if plan is None:
        return {}
    wires = {
        f"{point_id} {wire.pin}": f"{wire.function} {wire.variant}{'' if wire.is_settled else ', not settled'}"
        for point_id, belief in beliefs(job).items()
        for wire in belief.wires
    }
    lines = "; ".join(f"{line.key} {line.asks}" for line in proof.sheet.lines) if proof else ""
    return {"wire": wires, "built": whole(plan), "asked": sha256(lines.encode()).hexdigest()[:16]}
