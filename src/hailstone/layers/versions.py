"""Two people at one thing: a form made from another version is refused; a job that was worked on comes first."""

from __future__ import annotations

from typing import Any

from django.contrib.auth.models import User
from django.utils import timezone

from hailstone.jobs.models import Job

__all__ = ["StaleError", "check_version", "touch"]


class StaleError(Exception):
    """Somebody else changed it since the form was opened.

    Attributes
    ----------
    version : int
        What it is now.
    """

    def __init__(self, who: str, when: str, version: int) -> None:
        self.version = version
        super().__init__(
            f"{who} changed this at {when} while you had it open. Your entries below aren't saved. Check them, "
            f"then save again to overwrite."
        )


def check_version(stored: Any, version: int | None) -> None:
    """Raise `StaleError` unless the form was made from the version that is stored."""
    if version != stored.version:
        when = timezone.localtime(stored.changed_at).strftime("%H:%M")
        raise StaleError(str(stored.changed_by), when, stored.version)


def touch(job_id: int, who: User) -> None:
    """Move a job to the top of the board, because something in it was worked on."""
    Job.objects.filter(pk=job_id).update(changed_at=timezone.now(), changed_by=who)
