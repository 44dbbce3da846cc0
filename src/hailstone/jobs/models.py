"""Facts about a vehicle and the job on it. Everything else about a job is derived."""

from __future__ import annotations

from typing import Any

from django.conf import settings
from django.db import models

from electrics.document import vehicle as core
from electrics.document.written import revised, typed, written
from electrics.identify.tools import EVERY_TOOL


class Vehicle(models.Model):
    """A customer's vehicle."""

    class Computer(models.TextChoices):
        UNKNOWN = str(core.Computer.UNKNOWN), "Not known"
        YES = str(core.Computer.YES), "Yes, powers or monitors"
        NO = str(core.Computer.NO), "No, just switches and relays"

    make = models.CharField(max_length=40)
    model = models.CharField(max_length=40)
    year = models.PositiveSmallIntegerField(null=True, blank=True)
    market = models.CharField(max_length=40, blank=True)
    facts = models.JSONField(default=dict)
    """What is known of it, as `said` has it: a new fact is a field there and nothing here."""
    flasher_looks = models.JSONField(default=dict)
    """What looks and tests of it showed, by `electrics.correct.flasher` test."""
    registration = models.CharField(max_length=20, blank=True)
    vin = models.CharField(max_length=20, blank=True)
    odometer_km = models.PositiveIntegerField(null=True, blank=True)

    def __str__(self) -> str:
        return " ".join(str(part) for part in (self.make, self.model, self.year) if part)

    @property
    def said(self) -> core.VehicleFacts:
        """What people said of it; what its flasher's looks come to is for `layers.job_facts.vehicle_facts` to say."""
        return typed(core.VehicleFacts, self.facts)

    def say(self, **said: Any) -> None:
        """Note some facts by the names of `VehicleFacts`, as they are written; an empty one is not known any more."""
        self.facts = written(revised(self.said, said))


class Job(models.Model):
    """One job on a vehicle, from brief to signed sheet; a vehicle may have many."""

    vehicle = models.ForeignKey(Vehicle, on_delete=models.PROTECT, related_name="jobs")
    title = models.CharField(max_length=80)
    customer = models.CharField(max_length=80, blank=True)
    order_number = models.CharField(max_length=40, blank=True)
    complaint = models.CharField(max_length=12, blank=True)
    """What is wrong, by `electrics.correct.complaints`; empty for a job that adds something."""
    addition = models.CharField(max_length=30)
    own_leads = models.TextField(blank=True)
    also = models.CharField(max_length=300, blank=True)
    """Ids of further accessories, separated by commas."""
    added_count = models.PositiveSmallIntegerField()
    added_each_a = models.FloatField()
    supply_v = models.FloatField()
    has_helper = models.BooleanField(default=True)
    tools = models.CharField(max_length=100, blank=True)
    """What is at hand, by `electrics.identify.tools`, separated by commas; empty for everything."""
    charts_all = models.BooleanField(default=False)
    """Whether readings are asked for every wire, not only for those that the job taps."""
    as_found = models.JSONField(default=dict, blank=True)
    """What was noted before the work, as `AsFound` is written."""
    version = models.PositiveIntegerField(default=1)
    created_by = models.ForeignKey(settings.AUTH_USER_MODEL, on_delete=models.PROTECT, related_name="+")
    created_at = models.DateTimeField(auto_now_add=True)
    changed_by = models.ForeignKey(settings.AUTH_USER_MODEL, on_delete=models.PROTECT, related_name="+")
    changed_at = models.DateTimeField(auto_now=True)

    class Meta:
        ordering = ["-changed_at", "-id"]
        indexes = [models.Index(fields=["-changed_at", "-id"])]

    def __str__(self) -> str:
        return self.title

    @property
    def at_hand(self) -> frozenset[str]:
        """The instruments that readings can be asked for with."""
        return frozenset(self.tools.split(",")) if self.tools else EVERY_TOOL


class Before(models.Model):
    """How the decisions of a job stood before a change, so that it can be taken back."""

    job = models.ForeignKey(Job, on_delete=models.CASCADE, related_name="befores")
    what = models.CharField(max_length=120)
    """The change, as one is told what would be taken back."""
    state = models.JSONField()
    who = models.ForeignKey(settings.AUTH_USER_MODEL, on_delete=models.PROTECT, related_name="+")
    at = models.DateTimeField(auto_now_add=True)

    class Meta:
        ordering = ["-id"]

    def __str__(self) -> str:
        return self.what
