"""Writes the decisions of layer three."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Any

from django.contrib.auth.models import AbstractBaseUser
from django.db import transaction

from electrics.hookup.routes import check_distance
from hailstone.hookup.models import RUN_FIELDS, HookUp, the_school
from hailstone.jobs.models import Job
from hailstone.layers.refs import names_by_ref, ref_of
from hailstone.layers.undo import remember
from hailstone.layers.versions import check_version, touch

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
    who: AbstractBaseUser,
    facts: dict[str, Any],
    *,
    lead: str = "",
    circuits: Mapping[str, dict[str, Any]] | None = None,
) -> None:
    """Store the decisions that are valid; fields that are missing from `facts` stay as they were.

    Facts of a run are those of `lead`; empty, or the first lead's name, for the ones that all leads follow.
    `circuits` has what was noted of factory circuits, by function. `StaleError` when somebody else decided
    meanwhile, unless what is sent says just what is stored: the same form may come twice, after a reload.
    """
    stored = HookUp.objects.select_related("changed_by").filter(job=job).first()
    if stored is None:
        stored = HookUp(job=job, version=0)
    before = _decisions(stored)
    if "wire_standard" in facts and facts["wire_standard"] != stored.run_of(lead)["wire_standard"]:
        facts = {**facts, "wire_size": ""}
    for name in ("override", "keeps"):
        if name in facts:
            setattr(stored, name, facts[name])
    _keep_run(stored, {name: facts[name] for name in RUN_FIELDS if name in facts}, lead)
    for function, noted in (circuits or {}).items():
        others = {name: value for name, value in stored.circuits.items() if name}
        stored.circuits = {**others, function: stored.circuit_of(function) | noted}
    for name, key in facts.items():
        if name.startswith(WAY):
            stored.ways = {**stored.ways, name.removeprefix(WAY): key}
    if stored.version and _decisions(stored) == before:
        return
    if stored.version:  # nothing was decided yet: nothing to be stale against
        check_version(HookUp.objects.select_related("changed_by").get(pk=stored.pk), facts.get("version"))
    if stored.pk:
        remember(job.id, who, _said(before, _decisions(stored)))
    stored.changed_by = who
    stored.version += 1
    stored.save()
    touch(job.id, who)


@transaction.atomic
def state_distance(job: Job, who: AbstractBaseUser, first: str, second: str, m: float | None) -> None:
    """Store how far two places are apart [m]; None takes it back. FactError for what cannot be."""
    if m is not None:
        check_distance(first, second, m)
    remember(job.id, who, f"how far {first} and {second} are apart")
    stored = HookUp.objects.get(job=job)
    names = names_by_ref(job)
    pair = sorted((ref_of(first, names), ref_of(second, names)))
    others = [each for each in stored.distances if sorted(each[:2]) != pair]
    stored.distances = others if m is None else [*others, [*pair, m]]
    stored.changed_by = who
    stored.version += 1
    stored.save()
    touch(job.id, who)


def _decisions(stored: HookUp) -> dict[str, Any]:
    """All that is stored as decided, whoever did it and however often."""
    fields = {field.attname: getattr(stored, field.attname) for field in stored._meta.concrete_fields}
    return {name: value for name, value in fields.items() if name not in ("changed_by_id", "changed_at", "version")}


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


def _keep_run(stored: HookUp, facts: dict[str, Any], lead: str) -> None:
    """The first lead's run is everybody's, but for numbers typed in; another lead keeps only where it differs."""
    if not lead:
        for name, value in facts.items():
            setattr(stored, name, value)
        return
    own = {**stored.leads.get(lead, {}), **facts}
    differing = {name: value for name, value in own.items() if value != stored.followed[name]}
    stored.leads = {name: each for name, each in stored.leads.items() if name != lead}
    if differing:
        stored.leads = {**stored.leads, lead: differing}
