"""The lamp to be fitted, as it lies on the bench: its leads, and what was tried on them."""

from __future__ import annotations

from django.conf import settings
from django.db import models

from electrics.identify import leads as core
from hailstone.jobs.models import Job


class FittedLamp(models.Model):
    """The lamp of one job; `leads` is a list of [label, colour]."""

    job = models.OneToOneField(Job, on_delete=models.CASCADE, related_name="lamp")
    leads = models.JSONField()
    kind = models.CharField(max_length=40, blank=True)
    """Which kind of the job's things it is; empty for the first."""

    def __str__(self) -> str:
        return f"lamp of {self.job}"


class LeadTrial(models.Model):
    """One pair tried on the bench."""

    lamp = models.ForeignKey(FittedLamp, on_delete=models.CASCADE, related_name="trials")
    plus = models.CharField(max_length=30)
    minus = models.CharField(max_length=30)
    seen = models.CharField(max_length=5, choices=[(str(seen), str(seen)) for seen in core.Seen])
    light = models.CharField(max_length=6, blank=True, choices=[(str(light), str(light)) for light in core.Light])
    amps_a = models.FloatField(null=True, blank=True)
    fuse_a = models.FloatField(default=core.FIRST_FUSE_A)
    who = models.ForeignKey(settings.AUTH_USER_MODEL, on_delete=models.PROTECT, related_name="+")
    at = models.DateTimeField()

    class Meta:
        ordering = ["at", "id"]

    def __str__(self) -> str:
        return f"{self.plus} to plus, {self.minus} to minus: {self.seen}"
