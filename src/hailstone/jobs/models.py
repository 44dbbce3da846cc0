"""Facts about a vehicle and the job on it. Everything else about a job is derived."""

from __future__ import annotations

from django.conf import settings
from django.db import models

from electrics.document import vehicle as core
from electrics.identify.tools import EVERY_TOOL
from electrics.vocabulary import Arrangement, Control


class Vehicle(models.Model):
    """What stands in the workshop."""

    class Computer(models.TextChoices):
        UNKNOWN = str(core.Computer.UNKNOWN), "Not known"
        YES = str(core.Computer.YES), "Yes, powers or monitors"
        NO = str(core.Computer.NO), "No, just switches and relays"

    make = models.CharField(max_length=40)
    model = models.CharField(max_length=40)
    year = models.PositiveSmallIntegerField(null=True, blank=True)
    market = models.CharField(max_length=40, blank=True)
    system_v = models.PositiveSmallIntegerField(choices=[(6, "6 V"), (12, "12 V"), (24, "24 V")], default=12)
    computer = models.CharField(max_length=8, choices=Computer, default=Computer.UNKNOWN)
    not_fitted = models.CharField(max_length=200, blank=True)
    """Controls that it lacks, by id, separated by commas."""
    body = models.CharField(max_length=12, default="car")
    """For lengths of wire that nobody has measured."""
    flasher = models.CharField(max_length=12, blank=True)
    """What makes its turn lamps flash, as somebody decided; empty while not known."""
    flasher_looks = models.JSONField(default=dict)
    """What looks and tests of it showed, by `electrics.correct.flasher` test."""
    habits = models.JSONField(default=dict)
    """How it watches its lamps, and the air there, as far as measured, by `electrics.reference.habits` id."""
    registration = models.CharField(max_length=20, blank=True)
    vin = models.CharField(max_length=20, blank=True)
    odometer_km = models.PositiveIntegerField(null=True, blank=True)

    def __str__(self) -> str:
        return " ".join(str(part) for part in (self.make, self.model, self.year) if part)

    @property
    def lacks(self) -> frozenset[Control]:
        """What it has not got: neither that nor what hangs on it is asked for."""
        return frozenset(Control(control) for control in self.not_fitted.split(",") if control)


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
    arrangement = models.CharField(
        max_length=10, blank=True, choices=[(str(kind), str(kind).capitalize()) for kind in Arrangement]
    )
    has_helper = models.BooleanField(default=True)
    tools = models.CharField(max_length=100, blank=True)
    """What is at hand, by `electrics.identify.tools`, separated by commas; empty for everything."""
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
