"""What was ticked, seen and signed on a job as the core's records, for the job file."""

from __future__ import annotations

from electrics.job.records import RecordedResult, RecordedSignature, RecordedTick, Records, line_names
from electrics.prove.sheet import Outcome
from hailstone.layers.progress import Overview
from hailstone.layers.ticks import step_names

__all__ = ["job_records"]


def job_records(view: Overview) -> Records:
    """The records of a job; of the results those that answer what their line asks now."""
    proof = view.proof
    names = line_names(view.derived) if proof else {}
    keys = step_names(view.job, view.derived)
    return Records(
        [
            RecordedTick(keys.key(each.step), each.is_needed, str(each.who), each.at.isoformat())
            for each in view.job.ticks.all()
        ],
        [
            RecordedResult(
                names[key],
                each.expected,
                Outcome(each.outcome),
                each.reading,
                each.note,
                str(each.who),
                each.at.isoformat(),
            )
            for key, each in (proof.results.items() if proof else ())
        ],
        [
            RecordedSignature(
                each.number,
                str(each.who),
                each.at.isoformat(),
                each.verdict,
                each.temporary,
                each.look_again_on.isoformat() if each.look_again_on else "",
            )
            for each in view.job.signatures.all()
        ],
    )
