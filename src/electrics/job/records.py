"""What was done on a job and what was seen: ticks, results and signatures, as the job file keeps them by names.

They change nothing that is planned. A result answers a line of the test sheet only while the line asks what it asked
then; any other is kept and fulfils nothing.
"""

from __future__ import annotations

from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass, field, fields
from typing import Any

from electrics.build.sheet import STEPS
from electrics.errors import FactError
from electrics.job.plan import OTHERS_OWN, Plan
from electrics.prove.sheet import Line, Outcome

__all__ = ["RecordedResult", "RecordedSignature", "RecordedTick", "Records", "answered", "line_names", "records_of"]


@dataclass(frozen=True)
class RecordedTick:
    """A step of the build sheet done, or found not needed; `who` and `at` as they were written."""

    step: str
    needed: bool = True
    who: str = ""
    at: str = ""


@dataclass(frozen=True)
class RecordedResult:
    """What was seen on a line of the test sheet.

    Attributes
    ----------
    line : mapping of str to str
        Which one, by names: `state` with `unit` and `lead`, with `factory` or with `others`; or `measure`.
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


LINE = ("state", "unit", "lead", "factory", "others", "measure")
"""Names by which a line of the test sheet is found."""


def records_of(document: Mapping[str, Any]) -> Records:
    """The records of a job file that keeps to its schema.

    Raises
    ------
    FactError
        A step that no build sheet has, one that stands twice, or a result that names no line.
    """
    ticks = tuple(RecordedTick(**entry) for entry in document.get("ticks", ()))
    steps = [tick.step for tick in ticks]
    for n, step in enumerate(steps, start=1):
        if step not in STEPS:
            raise FactError("ticks", f"ticks {n}: there is no step “{step}”. Steps: {', '.join(STEPS)}.")
        if steps.index(step) < n - 1:
            raise FactError("ticks", f"ticks {n}: the step “{step}” stands twice.")
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


WAYS_TO_NAME = ({"measure"}, {"state", "unit", "lead"}, {"state", "factory"}, {"state", "others"})


def line_names(found: Plan) -> dict[str, dict[str, str]]:
    """Each line of a plan's test sheet by the names that a person would know; by its key."""
    accessory = found.hookup.accessory
    units = {unit.id: unit.name for unit in accessory.units}
    leads = {lead.id: {"unit": units[lead.unit], "lead": lead.label or lead.id} for lead in accessory.leads}
    if found.hookup.is_single:
        leads[""] = leads[found.hookup.leads[0].lead.id]
    return {line.key: _names(line, leads) for line in (found.sheet.lines if found.sheet else ())}


def answered(found: Plan, results: Iterable[RecordedResult]) -> dict[str, RecordedResult]:
    """The results that answer what a line asks now, by the line's key."""
    if found.sheet is None:
        return {}
    names = line_names(found)
    lines = {(frozenset(names[line.key].items()), line.asks): line.key for line in found.sheet.lines}
    return {
        lines[key]: result for result in results if (key := (frozenset(result.line.items()), result.asked)) in lines
    }


def _names(line: Line, leads: Mapping[str, dict[str, str]]) -> dict[str, str]:
    if line.measure is not None:
        return {"measure": line.measure.id}
    assert line.lamp is not None
    state, (kind, _, id) = {"state": str(line.state)}, line.lamp.id.partition(":")
    if kind == "factory":
        return state | {"factory": id}
    return state | ({"others": "own"} if id == OTHERS_OWN else leads[id])


def _entry(record: RecordedTick | RecordedResult | RecordedSignature, *but: str) -> dict[str, Any]:
    found = {each.name: getattr(record, each.name) for each in fields(record) if each.name not in but}
    return {name: str(value) if isinstance(value, Outcome) else value for name, value in found.items() if value != ""}
