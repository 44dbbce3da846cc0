"""What was done on a job and what was seen: ticks, results and signatures, as the job file keeps them by names.

They change nothing that is planned. A result answers a line of the test sheet only while the line asks what it asked
then; any other is kept and fulfils nothing.
"""

from __future__ import annotations

from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass, field, fields
from typing import Any

from electrics.build.step_kinds import FORMER, step_kinds
from electrics.build.steps import StepKey
from electrics.errors import FactError
from electrics.job.plan import OTHERS_OWN, Plan
from electrics.prove.sheet import Line, Outcome

__all__ = ["RecordedResult", "RecordedSignature", "RecordedTick", "Records", "answered", "line_names", "records_of"]


@dataclass(frozen=True)
class RecordedTick:
    """A step of the build sheet done, or found not needed; `who` and `at` as they were written.

    Attributes
    ----------
    step : StepKey or str
        A step, by its names; or one of the eleven of earlier versions, which stands for all that were part of it.
    """

    step: StepKey | str
    needed: bool = True
    who: str = ""
    at: str = ""


@dataclass(frozen=True)
class RecordedResult:
    """What was seen on a line of the test sheet.

    Attributes
    ----------
    line : mapping of str to str
        Which one, by names: `state` with `unit` and `lead` (and `lamp`, its number in a row), with `factory` or with
        `others`; or `measure`, with `unit` and `lead`, or `on` a part or unit, where there are several.
    asked : str
        What the line asked then, as `Line.asks` has it.
    """

    line: Mapping[str, str]
    asked: str
    outcome: Outcome
    reading: str = ""
    note: str = ""
    who: str = ""
    at: str = ""


@dataclass(frozen=True)
class RecordedSignature:
    """A name under a sheet."""

    revision: int
    who: str
    at: str
    verdict: str
    temporary: str = ""
    look_again_on: str = ""


@dataclass(frozen=True)
class Records:
    """All that was done and seen on a job."""

    ticks: Sequence[RecordedTick] = ()
    results: Sequence[RecordedResult] = ()
    signatures: Sequence[RecordedSignature] = field(default_factory=tuple)

    def document(self) -> dict[str, list[dict[str, Any]]]:
        """`ticks`, `results` and `signatures` of the job file."""
        return {
            "ticks": [_entry(tick) for tick in self.ticks],
            "results": [{**result.line, **_entry(result, "line")} for result in self.results],
            "signatures": [_entry(signed) for signed in self.signatures],
        }


LINE = ("state", "unit", "lead", "lamp", "factory", "others", "measure", "on")
"""Names by which a line of the test sheet is found."""


def records_of(document: Mapping[str, Any]) -> Records:
    """The records of a job file that keeps to its schema.

    Raises
    ------
    FactError
        A step that no build sheet has, one that stands twice, or a result that names no line.
    """
    ticks = tuple(RecordedTick(**{**entry, "step": _step(entry["step"])}) for entry in document.get("ticks", ()))
    steps = [tick.step for tick in ticks]
    for n, step in enumerate(steps, start=1):
        name, known = (step.kind, step_kinds().rows) if isinstance(step, StepKey) else (step, FORMER)
        if name not in known:
            raise FactError("ticks", f"ticks {n}: there is no step “{name}”. Steps: {', '.join(known)}.")
        if steps.index(step) < n - 1:
            raise FactError("ticks", f"ticks {n}: the step “{_step_text(step)}” stands twice.")
    results = []
    for n, entry in enumerate(document.get("results", ()), start=1):
        line = {name: entry[name] for name in LINE if name in entry}
        if set(line) not in WAYS_TO_NAME:
            raise FactError(
                "results",
                f"results {n}: which line is it? Expected measure, or state with unit and lead, factory or others.",
            )
        rest = {name: value for name, value in entry.items() if name not in LINE}
        results.append(RecordedResult(line, **{**rest, "outcome": Outcome(rest["outcome"])}))
    return Records(
        ticks, tuple(results), tuple(RecordedSignature(**entry) for entry in document.get("signatures", ()))
    )


WAYS_TO_NAME = (
    {"measure"},
    {"measure", "unit", "lead"},
    {"measure", "on"},
    {"state", "unit", "lead"},
    {"state", "unit", "lead", "lamp"},
    {"state", "factory"},
    {"state", "others"},
)


def line_names(found: Plan) -> dict[str, dict[str, str]]:
    """Each line of a plan's test sheet by the names that a person would know; by its key."""
    accessory = found.hookup.accessory
    units = {unit.id: unit.name for unit in accessory.units}
    leads = {lead.id: {"unit": units[lead.unit], "lead": lead.label or lead.id} for lead in accessory.leads}
    if found.hookup.is_single:
        leads[""] = leads[found.hookup.leads[0].lead.id]
    return {line.key: _names(line, leads, units) for line in (found.sheet.lines if found.sheet else ())}


def answered(found: Plan, results: Iterable[RecordedResult]) -> dict[str, RecordedResult]:
    """The results that answer what a line asks now, by the line's key."""
    if found.sheet is None:
        return {}
    names = line_names(found)
    lines = {(frozenset(names[line.key].items()), line.asks): line.key for line in found.sheet.lines}
    return {
        lines[key]: result for result in results if (key := (frozenset(result.line.items()), result.asked)) in lines
    }


def _names(line: Line, leads: Mapping[str, dict[str, str]], units: Mapping[str, str]) -> dict[str, str]:
    if line.measure is not None:
        measure, about = {"measure": line.measure.kind}, line.measure.about
        return measure | (
            leads[about] if about in leads and about else {"on": units.get(about, about)} if about else {}
        )
    assert line.lamp is not None
    state, (kind, _, id) = {"state": str(line.state)}, line.lamp.id.partition(":")
    if kind == "factory":
        return state | {"factory": id}
    if line.lamp.lead == OTHERS_OWN:
        return state | {"others": "own"}
    number = {"lamp": str(line.lamp.number)} if line.lamp.number else {}
    return state | leads[line.lamp.lead] | number


def _step(entry: str | Mapping[str, str]) -> StepKey | str:
    return entry if isinstance(entry, str) else StepKey(*(entry.get(name, "") for name in StepKey._fields))


def _step_text(step: StepKey | str) -> str:
    return step if isinstance(step, str) else " ".join(filter(None, step))


def _plain(value: Any) -> Any:
    if isinstance(value, StepKey):
        return {name: text for name, text in value._asdict().items() if text}
    return str(value) if isinstance(value, Outcome) else value


def _entry(record: RecordedTick | RecordedResult | RecordedSignature, *but: str) -> dict[str, Any]:
    found = {each.name: getattr(record, each.name) for each in fields(record) if each.name not in but}
    return {name: _plain(value) for name, value in found.items() if value != ""}
