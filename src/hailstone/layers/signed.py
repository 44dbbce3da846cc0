"""Whether a job's signature still stands: its document and what was done, then and now.

The document is compared fact by fact (`electrics.document.keyed`): a new fact is compared without anybody thinking of
it. What the program derives may come out otherwise in a newer version, which un-signs nothing; it counts only where
readings or claims changed as well.
"""

from __future__ import annotations

import json
from collections.abc import Mapping
from dataclasses import dataclass
from hashlib import sha256
from typing import Any

from electrics.document.difference import Change, changes_of
from electrics.document.keyed import READINGS, keyed
from electrics.document.written import written
from electrics.job.plan import Plan
from electrics.job.rests import whole
from electrics.prove.sheet import Outcome
from hailstone.jobs.models import Job
from hailstone.layers import signed_before, signed_columns
from hailstone.layers.beliefs import beliefs
from hailstone.layers.job_facts import document_of
from hailstone.layers.papers import papers_of
from hailstone.layers.proof import Proof
from hailstone.prove.models import Signature

__all__ = ["FORMAT", "Change", "SignedState", "changes_between", "signed", "signed_facts", "token_of"]

FORMAT = "3"
"""Of the facts as they are stored: the document. Without one they are an earlier version's list."""
DERIVED = "derived"


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
        now = _compared(signed_facts(job, plan, proof))
        if last.facts["format"] == signed_columns.FORMAT:
            now[READINGS] = signed_columns.readings_of(job)
        changes = _changes(_compared(last.facts), now)
    else:
        changes = signed_before.changes_between(last.facts, signed_before.printed_facts(job))
    return SignedState(last, revisions, changes)


def changes_between(before: Mapping[str, Any], after: Mapping[str, Any]) -> tuple[Change, ...]:
    """What differs between the facts of two signatures, or of one and of now."""
    if not _is_new(before) or not _is_new(after):
        return () if _is_new(before) or _is_new(after) else signed_before.changes_between(before, after)
    return _changes(_compared(before), _compared(after))


def _changes(before: Mapping[str, Any], after: Mapping[str, Any]) -> tuple[Change, ...]:
    found = list(changes_of(before, after))
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
    """Everything people entered for a job: its document, places by reference, so that a name is one fact."""
    return {
        "format": FORMAT,
        "document": written(document_of(job)),
        "papers": papers_of(job),
        "step": {tick.step: "done" if tick.is_needed else "not needed" for tick in job.ticks.all()},
        "result": _results(job),
        DERIVED: _derived(job, plan, proof),
    }


def _compared(facts: Mapping[str, Any]) -> dict[str, Any]:
    """Stored facts with every fact under its key, whichever version stored them."""
    if facts.get("format") == signed_columns.FORMAT:
        return signed_columns.keyed_of(facts)
    found = keyed(facts["document"])
    for family, own in facts["papers"].items():
        found[family] = {**found.get(family, {}), **own}
    return {**found, **{name: facts[name] for name in ("step", "result", DERIVED)}}


def _is_new(facts: Mapping[str, Any]) -> bool:
    return "format" in facts


def _results(job: Job) -> dict[str, str]:
    """The last result of each line, whether or not it still answers what the line asks."""
    last = {result.line: result for result in job.results.all()}
    said = {line: " ".join(filter(None, (r.outcome, r.reading, r.note))) for line, r in last.items()}
    return {line: text for line, text in said.items() if last[line].outcome != Outcome.UNTESTED}


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
