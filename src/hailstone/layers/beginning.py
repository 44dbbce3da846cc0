"""How a hook-up begins: from the shop's ways."""

from __future__ import annotations

from django.contrib.auth.models import User

from electrics.design.accessories import OWN, accessories
from hailstone.hookup.models import HookUp, the_school
from hailstone.jobs.models import Job

__all__ = ["begin_hookup"]


def begin_hookup(job: Job, who: User) -> None:
    """An open hook-up that starts from the shop's ways."""
    school = the_school()
    HookUp.objects.create(
        job=job,
        joint=school.joint,
        ground=school.ground,
        wire_standard=school.wire_standard,
        is_exposed=job.addition == OWN or accessories()[job.addition].is_wet,
        changed_by=who,
        version=0,
    )
