"""The lamp to be fitted, as it lies on the bench: its leads, and what was tried on them."""

from __future__ import annotations

from django.conf import settings
from django.db import models

from electrics.document import lamp as core
from hailstone.jobs.models import Job


class FittedLamp(models.Model):
    """The lamp of one job."""

    job = models.OneToOneField(Job, on_delete=models.CASCADE, related_name="lamp")
    kind = models.CharField(max_length=40, blank=True)
    """Which kind of the job's things it is; empty for the first."""

    def __str__(self) -> str:
        return f"lamp of {self.job}"


class BenchLead(models.Model):
    """One lead of the lamp, by its colour or by a mark that was put on it."""

    lamp = models.ForeignKey(FittedLamp, on_delete=models.CASCADE, related_name="leads")
    position = models.PositiveSmallIntegerField()
    label = models.CharField(max_length=30)
    colour = models.CharField(max_length=30, blank=True)
    claim = models.CharField(max_length=40, blank=True)
    """The function that its seller's chart says it is for."""

    class Meta:
        ordering = ["position", "id"]
        constraints = [models.UniqueConstraint(fields=["lamp", "label"], name="bench_lead_label_once_a_lamp")]

    def __str__(self) -> str:
        return self.label


class LeadTrial(models.Model):
    """One pair tried on the bench."""

    lamp = models.ForeignKey(FittedLamp, on_delete=models.CASCADE, related_name="trials")
    plus = models.ForeignKey(BenchLead, on_delete=models.CASCADE, related_name="+")
    minus = models.ForeignKey(BenchLead, on_delete=models.CASCADE, related_name="+")
    seen = models.CharField(max_length=5, choices=[(str(seen), str(seen)) for seen in core.Seen])
    light = models.CharField(max_length=6, blank=True, choices=[(str(light), str(light)) for light in core.Light])
    amps_a = models.FloatField(null=True, blank=True)
    fuse_a = models.FloatField(default=core.FIRST_FUSE_A)
    who = models.ForeignKey(settings.AUTH_USER_MODEL, on_delete=models.PROTECT, related_name="+")
    at = models.DateTimeField()

    class Meta:
        ordering = ["at", "id"]

    def __str__(self) -> str:
        return f"{self.plus} to positive, {self.minus} to negative: {self.seen}"
