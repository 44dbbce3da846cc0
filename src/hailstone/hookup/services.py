"""Writes the decisions of layer three."""

from __future__ import annotations

from typing import Any

from django.contrib.auth.models import AbstractBaseUser
from django.db import transaction

from hailstone.hookup.models import HookUp, the_school
from hailstone.jobs.models import Job
from hailstone.jobs.services import check_version, touch

FIELDS = (
    "load_override_a",
    "hot_override_c",
    "override",
    "fed_by",
    "host_bulb",
    "host_count",
    "host_fuse_a",
    "host_wire",
    "out_m",
    "back_m",
    "ground",
    "wire_standard",
    "wire_size",
    "joint",
    "is_exposed",
)


WAY = "way_"
"""What the field of a lead's way begins with."""


def begin_hookup(job: Job, who: AbstractBaseUser) -> None:
    """An open hook-up that starts from the shop's ways."""
    school = the_school()
    HookUp.objects.create(
        job=job,
        joint=school.joint,
        ground=school.ground,
        wire_standard=school.wire_standard,
        changed_by=who,
        version=0,
    )


@transaction.atomic
def keep_school(facts: dict[str, str]) -> None:
    """Store the shop's ways; jobs that have begun keep theirs."""
    school = the_school()
    for name, value in facts.items():
        setattr(school, name, value)
    school.save()


@transaction.atomic
def decide(job: Job, who: AbstractBaseUser, facts: dict[str, Any]) -> None:
    """Store the decisions that are valid; fields that are missing from `facts` stay as they were."""
    stored = HookUp.objects.select_related("changed_by").filter(job=job).first()
    if stored is None:
        stored = HookUp(job=job, version=0)
    elif stored.version:  # nothing was decided yet: nothing to be stale against
        check_version(stored, facts.get("version"))
    if "wire_standard" in facts and facts["wire_standard"] != stored.wire_standard:
        facts = {**facts, "wire_size": ""}
    for name in FIELDS:
        if name in facts:
            setattr(stored, name, facts[name])
    for name, key in facts.items():
        if name.startswith(WAY):
            stored.ways = {**stored.ways, name.removeprefix(WAY): key}
    stored.changed_by = who
    stored.version += 1
    stored.save()
    touch(job.id, who)
