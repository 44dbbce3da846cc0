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
    """One step of the build sheet done, or found not needed on this job.

    `step` is its key as `hailstone.layers.ticks` keeps it; or one of the eleven steps of earlier versions, which
    counts for all that were part of it.
    """

    job = models.ForeignKey(Job, on_delete=models.CASCADE, related_name="ticks")
    step = models.CharField(max_length=400)
    is_needed = models.BooleanField(default=True)
    rests_on = models.CharField(max_length=16, blank=True)
    """What was to be built then, as `electrics.job.rests` has it; empty where an earlier version did not keep it."""

    class Meta:
        constraints = [models.UniqueConstraint(fields=["job", "step"], name="step_ticked_once")]

    def __str__(self) -> str:
        return self.step


class Result(Record):
    """What was seen on one line of the test sheet. Every one is kept, oldest first; the last of a line counts.

    `expected` is what the line asked for at that time, `rests_on` what was built between supply and ground of its
    lamp: when either changes, the line is untested again. One that was taken away is followed by `untested`.
    """

    job = models.ForeignKey(Job, on_delete=models.CASCADE, related_name="results")
    line = models.CharField(max_length=120)
    expected = models.CharField(max_length=40)
    outcome = models.CharField(max_length=8)
    reading = models.CharField(max_length=60, blank=True)
    note = models.CharField(max_length=200, blank=True)
    rests_on = models.CharField(max_length=16, blank=True)

    class Meta:
        ordering = ["id"]
        indexes = [models.Index(fields=["job", "line"], name="prove_resul_job_id_line")]

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
    fallen = models.CharField(max_length=200, blank=True)
    """Why it does not stand whatever the facts say: an upgrade could not know whether it still did."""

    class Meta:
        ordering = ["number"]
        constraints = [models.UniqueConstraint(fields=["job", "number"], name="revision_once_a_job")]

    def __str__(self) -> str:
        return f"{self.who} {self.at:%Y-%m-%d}, revision {self.number}"
