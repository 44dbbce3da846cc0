"""What was ticked, seen, measured and signed."""

from __future__ import annotations

from django.conf import settings
from django.db import models

from hailstone.jobs.models import Job


class Record(models.Model):
    """Something a person did on a job, and when."""

    who = models.ForeignKey(settings.AUTH_USER_MODEL, on_delete=models.PROTECT, related_name="+")
    at = models.DateTimeField()

    class Meta:
        abstract = True


class BuildTick(Record):
    """One step of the build sheet done, or found not needed on this job."""

    job = models.ForeignKey(Job, on_delete=models.CASCADE, related_name="ticks")
    step = models.CharField(max_length=20)
    is_needed = models.BooleanField(default=True)

    class Meta:
        constraints = [models.UniqueConstraint(fields=["job", "step"], name="step_ticked_once")]

    def __str__(self) -> str:
        return self.step


class Result(Record):
    """What was seen on one line of the test sheet.

    `expected` is what the line asked for at that time: when the plan changes, the line is untested again.
    """

    job = models.ForeignKey(Job, on_delete=models.CASCADE, related_name="results")
    line = models.CharField(max_length=120)
    expected = models.CharField(max_length=40)
    outcome = models.CharField(max_length=8)
    reading = models.CharField(max_length=60, blank=True)
    note = models.CharField(max_length=200, blank=True)

    class Meta:
        constraints = [models.UniqueConstraint(fields=["job", "line"], name="line_judged_once")]

    def __str__(self) -> str:
        return f"{self.line}: {self.outcome}"


class Signature(Record):
    """A person's name under a sheet: one revision, stored as it was printed.

    Whether it still stands hangs on `facts` alone, which are the facts and decisions that were printed; never on
    anything derived, so that a newer program does not un-sign a job.
    """

    job = models.ForeignKey(Job, on_delete=models.CASCADE, related_name="signatures")
    number = models.PositiveSmallIntegerField(default=1)
    sheet = models.JSONField(default=dict)
    """The sheet as printed; see `hailstone.prove.content`."""
    facts = models.JSONField(default=dict)
    """What was printed of facts and decisions; see `hailstone.layers.signed`."""
    verdict = models.CharField(max_length=12)
    temporary = models.CharField(max_length=200, blank=True)
    look_again_on = models.DateField(null=True, blank=True)

    class Meta:
        ordering = ["number"]
        constraints = [models.UniqueConstraint(fields=["job", "number"], name="revision_once_a_job")]

    def __str__(self) -> str:
        return f"{self.who} {self.at:%Y-%m-%d}, revision {self.number}"
