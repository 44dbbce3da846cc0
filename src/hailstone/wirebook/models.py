"""The shop's memory: what single wires of single vehicles were proven to do."""

from __future__ import annotations

from django.conf import settings
from django.db import models

from electrics.vocabulary import Polarity
from hailstone.identify.models import AccessPoint
from hailstone.jobs.models import Job


class Finding(models.Model):
    """One wire at one place of one kind of vehicle, as it was measured."""

    make = models.CharField(max_length=60)
    model = models.CharField(max_length=60)
    year_from = models.PositiveSmallIntegerField(null=True, blank=True)
    year_to = models.PositiveSmallIntegerField(null=True, blank=True)
    market = models.CharField(max_length=60, blank=True)
    place = models.CharField(max_length=60)
    kind = models.CharField(max_length=20, default="connector")
    side = models.CharField(max_length=5, blank=True)
    pin = models.CharField(max_length=60)
    colour = models.CharField(max_length=60, blank=True)
    function = models.CharField(max_length=40)
    polarity = models.CharField(max_length=10, default=Polarity.POSITIVE)
    how = models.CharField(max_length=120, blank=True)
    measured_on = models.DateField(null=True, blank=True)
    job = models.ForeignKey(Job, on_delete=models.SET_NULL, null=True, blank=True, related_name="+")
    point = models.ForeignKey(AccessPoint, on_delete=models.SET_NULL, null=True, blank=True, related_name="+")
    """Where it was found, whatever that is called by now; kept again, its wires replace what was kept of it."""
    who = models.ForeignKey(settings.AUTH_USER_MODEL, on_delete=models.PROTECT, related_name="+")

    class Meta:
        ordering = ["make", "model", "place", "year_from", "id"]
        indexes = [models.Index(fields=["make", "model", "place"])]

    def __str__(self) -> str:
        return f"{self.make} {self.model}, {self.place}, pin {self.pin}: {self.function}"
