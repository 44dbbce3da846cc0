"""Writes the decisions of layer three."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import replace
from typing import Any

from django.contrib.auth.models import User
from django.db import transaction

from hailstone.hookup.models import RUN_FIELDS, HookUp, the_school
from hailstone.jobs.models import Job
from hailstone.layers.decision_rows import keep
from hailstone.layers.decisions import Decisions, decisions_of
from hailstone.layers.undo import remember
from hailstone.layers.versions import check_version, touch

OF_ONE_SIDE = ("out_m", "back_m", "overrides")
"""What of a run is measured or typed for one side."""
WAY = "way_"
"""What the field of a lead's way begins with."""


@transaction.atomic
def keep_school(facts: dict[str, Any]) -> None:
    """Store the shop's ways; jobs that have begun keep theirs."""
    school = the_school()
    for name, value in facts.items():
        setattr(school, name, value)
    school.save()


@transaction.atomic
def decide(
    job: Job,
    who: User,
    facts: dict[str, Any],
    *,
    lead: str = "",
    mates: Sequence[str] = (),
    circuits: Mapping[str, dict[str, Any]] | None = None,
) -> None:
    """Store the decisions that are valid; fields that are missing from `facts` stay as they were.

    Facts of a run are those of `lead`; empty, or the first lead's name, for the ones that all leads follow. They hold
    for its `mates` of the other side as well, named likewise, but for what is the side's own or differs already.
    `circuits` has what was noted of factory circuits, by function. `StaleError` when somebody else decided
    meanwhile, unless what is sent says just what is stored: the same form may come twice, after a reload.
    """
    stored = HookUp.objects.select_related("changed_by").filter(job=job).first()
    if stored is None:
        stored = HookUp(job=job, version=0)
    decided = decisions_of(Job.objects.get(pk=job.pk))
    before = _decisions(stored, decided)
    if "wire_standard" in facts and facts["wire_standard"] != stored.run_of(lead, decided.runs)["wire_standard"]:
        facts = {**facts, "wire_size": ""}
    for name in ("override", "keeps"):
        if name in facts:
            setattr(stored, name, facts[name])
    own = {name: facts[name] for name in RUN_FIELDS if name in facts}
    runs = decided.runs
    for mate in mates:
        shared = {name: value for name, value in own.items() if name not in OF_ONE_SIDE}
        as_one = {name for name in shared if stored.run_of(mate, runs)[name] == stored.run_of(lead, runs)[name]}
        runs = _with_run(stored, runs, {name: shared[name] for name in as_one}, mate)
    runs = _with_run(stored, runs, own, lead)
    for function, noted in (circuits or {}).items():
        others = {name: value for name, value in stored.circuits.items() if name}
        stored.circuits = {**others, function: stored.circuit_of(function) | noted}
    chosen = {name.removeprefix(WAY): key for name, key in facts.items() if name.startswith(WAY)}
    ways = {name: key for name, key in {**decided.ways, **chosen}.items() if key}
    decided = replace(decided, ways=ways, runs=runs)
    if stored.version and _decisions(stored, decided) == before:
        return
    if stored.version:  # nothing was decided yet: nothing to be stale against
        check_version(HookUp.objects.select_related("changed_by").get(pk=stored.pk), facts.get("version"))
    if stored.pk:
        remember(job.id, who, _said(before, _decisions(stored, decided)))
    stored.changed_by = who
    stored.version += 1
    stored.save()
    keep(job, decided)
    touch(job.id, who)


def _decisions(stored: HookUp, decided: Decisions) -> dict[str, Any]:
    """All that is stored as decided, whoever did it and however often."""
    fields = {field.attname: getattr(stored, field.attname) for field in stored._meta.concrete_fields}
    own = {name: value for name, value in fields.items() if name not in ("changed_by_id", "changed_at", "version")}
    return {**own, "ways": decided.ways, "runs": decided.runs}


_CHANGES = {
    "ways": "the choice of a way",
    "circuits": "what was noted of a circuit",
    "override": "the reason for a way that does not fit",
    "keeps": "how long it stays",
    "overrides": "a number that sizes are worked out from",
}


def _said(before: Mapping[str, Any], after: Mapping[str, Any]) -> str:
    """What was decided, as one is told what would be taken back."""
    changed = [name for name in after if after[name] != before.get(name)]
    return next((_CHANGES[name] for name in _CHANGES if name in changed), "how it is run and joined")


def _with_run(
    stored: HookUp, runs: Mapping[str, dict[str, Any]], facts: dict[str, Any], lead: str
) -> dict[str, dict[str, Any]]:
    """The first lead's run is everybody's, but for numbers typed in; another lead keeps only where it differs."""
    if not lead:
        for name, value in facts.items():
            setattr(stored, name, value)
        return dict(runs)
    own = {**runs.get(lead, {}), **facts}
    differing = {name: value for name, value in own.items() if value != stored.followed[name]}
    others = {name: each for name, each in runs.items() if name != lead}
    return {**others, lead: differing} if differing else others
