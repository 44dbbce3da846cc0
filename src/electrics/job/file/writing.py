"""Writes the job file: facts, decisions and records by names, nothing that follows from them.

What is read back makes the same plan. Lamps tried on the bench are not in it.
"""

from __future__ import annotations

from typing import Any

from electrics.design.units_of_facts import unit_facts_of
from electrics.document.job import JobFacts
from electrics.document.papers import Papers
from electrics.job.added import accessory_of
from electrics.job.file.as_found import write_as_found
from electrics.job.file.circuits import write_circuit
from electrics.job.file.decisions import write_choices, write_cure, write_runs
from electrics.job.file.labels import write_label
from electrics.job.file.names import Names
from electrics.job.file.places import write_place
from electrics.job.file.units import write_unit
from electrics.job.file.vehicle import write_vehicle
from electrics.job.records import Records

__all__ = ["job_document"]


def job_document(facts: JobFacts, papers: Papers | None = None, records: Records | None = None) -> dict[str, Any]:
    """A job as its file.

    Parameters
    ----------
    facts : JobFacts
    papers : mapping, optional
        What the core plans without; see `electrics.document.papers`.
    records : Records, optional
        What was done and seen.

    Returns
    -------
    dict
        In the form of docs/formats/job.schema.json.
    """
    units, decided = accessory_of(facts).units, facts.hookup
    names = Names(units, facts.places)
    said, known = ((papers or {}).get(each, {}) for each in ("job", "vehicle"))
    runs, overrides = write_runs(decided, names)
    parts: dict[str, Any] = {
        **said,
        "vehicle": {**known, **write_vehicle(facts.vehicle)},
        "places": [*map(write_place, facts.places), *({"name": n, "zone": zone} for n, zone in facts.zones.items())],
        "distances": [{"between": sorted(pair), "m": m} for pair, m in facts.distances.items()],
        "units": [write_unit(unit_facts_of(unit)) for unit in units],
        "circuits": [write_circuit(facts, name) for name in decided.circuits if name],
        "runs": runs,
        "choices": list(write_choices(decided, names)),
        "cures": [write_cure(cure, names) for cure in decided.cures],
        "labels": list(map(write_label, decided.labels)),
        "overrides": overrides,
        "keeps": str(decided.keeps),
        "override": decided.override,
        "complaint": facts.complaint,
        "before": write_as_found(facts.as_found),
    }
    head = {"format": "hailstone-job", "version": 1}
    written = {**head, **{name: part for name, part in parts.items() if part not in (None, "", [], {})}}
    return written | {name: part for name, part in (records or Records()).document().items() if part}
