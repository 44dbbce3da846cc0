"""The decisions of layer three: which wire is tapped, and with what.

Choices on leads, wires and places are rows too; `hailstone.layers.decisions` loads them together with the job.
"""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import asdict, fields
from typing import Any

from django.conf import settings
from django.db import models

from electrics.document.circuits import CircuitNotes, FedBy
from electrics.document.decisions import OF_ONE_LEAD, Keeps, RunDecision
from hailstone.identify.models import Pin
from hailstone.jobs.models import Job
from hailstone.units.models import Lead, Place

RUN_FIELDS = tuple(field.name for field in fields(RunDecision))
"""What is decided for each lead; leads without a decision of their own follow the first."""

CIRCUIT_FIELDS: dict[str, Any] = {**asdict(CircuitNotes()), "fed_by": str(FedBy.UNKNOWN)}
"""What is noted of each factory circuit that is tapped, and how it stands while nothing is."""


class HookUp(models.Model):
    """What was chosen for one job; empty fields are not decided yet."""

    class FedBy(models.TextChoices):
        UNKNOWN = str(FedBy.UNKNOWN), "Not known yet"
        PLAIN = str(FedBy.PLAIN), "A plain switch or relay"
        COMPUTER = str(FedBy.COMPUTER), "A computer (monitored or pulsed)"

    class Stays(models.TextChoices):
        FOR_GOOD = str(Keeps.FOR_GOOD), "For good"
        SINGLE_USE = str(Keeps.SINGLE_USE), "For one use, then off again"
        LEASE = str(Keeps.LEASE), "On a lease or hire car that goes back as it came"

    job = models.OneToOneField(Job, on_delete=models.CASCADE, related_name="hookup")
    override = models.CharField(max_length=200, blank=True)
    """Why a way that is wrong somewhere is taken all the same."""
    circuits = models.JSONField(default=dict)
    """`CIRCUIT_FIELDS` by function; under an empty one what was noted before circuits were told apart."""
    keeps = models.CharField(max_length=10, choices=Stays, default=Stays.FOR_GOOD)
    out_m = models.FloatField(null=True, blank=True)
    back_m = models.FloatField(null=True, blank=True)
    ground = models.CharField(max_length=5, default="wire")
    ground_wire = models.CharField(max_length=4, default="18")
    wire_standard = models.CharField(max_length=8, default="awg")
    wire_size = models.CharField(max_length=6, blank=True)
    joint = models.CharField(max_length=20, default="crimp_butt")
    is_exposed = models.BooleanField(default=True)
    overrides = models.JSONField(default=dict)
    """Inputs of the sizes set by hand, by input."""
    labels = models.JSONField(default=list, blank=True)
    """Numbers of wires and joints that stay, each as kind, place, subject and number; places by reference."""
    version = models.PositiveIntegerField(default=1)
    changed_by = models.ForeignKey(settings.AUTH_USER_MODEL, on_delete=models.PROTECT, related_name="+")
    changed_at = models.DateTimeField(auto_now=True)

    def __str__(self) -> str:
        return f"hook-up of {self.job}"

    @property
    def first_run(self) -> dict[str, Any]:
        """`RUN_FIELDS` of the first lead."""
        return {name: getattr(self, name) for name in RUN_FIELDS}

    @property
    def followed(self) -> dict[str, Any]:
        """The first lead's run as others follow it: numbers and lengths typed in for the first are its own."""
        return {**self.first_run, **OF_ONE_LEAD}

    def run_of(self, lead: str, runs: Mapping[str, dict[str, Any]]) -> dict[str, Any]:
        """`RUN_FIELDS` of a lead, from what differs by lead; of the first for an empty id."""
        return self.followed | runs.get(lead, {}) if lead else self.first_run

    def circuit_of(self, function: str) -> dict[str, Any]:
        """`CIRCUIT_FIELDS` of a factory circuit."""
        return CIRCUIT_FIELDS | self.circuits.get(function, self.circuits.get("", {}))


class LeadDecision(models.Model):
    """The way that was chosen for a lead, and how it is run where that differs from the first lead."""

    hookup = models.ForeignKey(HookUp, on_delete=models.CASCADE, related_name="+")
    lead = models.OneToOneField(Lead, on_delete=models.CASCADE, related_name="+")
    form = models.CharField(max_length=40, blank=True)
    """The form of the way, `and_not`; empty while none is chosen. Its wires are `WaySource`s."""
    run = models.JSONField(default=dict)
    """`RUN_FIELDS` that differ."""

    def __str__(self) -> str:
        return f"{self.lead}: {self.form or 'open'}"


class WaySource(models.Model):
    """A wire that a way takes, or what one brings oneself."""

    decision = models.ForeignKey(LeadDecision, on_delete=models.CASCADE, related_name="+")
    position = models.PositiveSmallIntegerField()
    pin = models.ForeignKey(Pin, on_delete=models.SET_NULL, related_name="+", null=True)
    own = models.CharField(max_length=40, blank=True)
    """What it is where it is no wire of the vehicle, `@battery`; empty beside a wire, also where that is gone."""

    class Meta:
        ordering = ["position", "id"]

    def __str__(self) -> str:
        return str(self.pin or self.own or "a wire that is gone")


class Cure(models.Model):
    """A cure that was taken, as `electrics.document.decisions.CureDecision` has it."""

    hookup = models.ForeignKey(HookUp, on_delete=models.CASCADE, related_name="+")
    position = models.PositiveSmallIntegerField()
    cure = models.CharField(max_length=20)
    facts = models.JSONField(default=dict)
    """Its values and parts."""

    class Meta:
        ordering = ["position", "id"]

    def __str__(self) -> str:
        return self.cure


class CuredLead(models.Model):
    """A lead that a cure is at."""

    cure = models.ForeignKey(Cure, on_delete=models.CASCADE, related_name="+")
    lead = models.ForeignKey(Lead, on_delete=models.CASCADE, related_name="+")
    position = models.PositiveSmallIntegerField()

    class Meta:
        ordering = ["position", "id"]

    def __str__(self) -> str:
        return f"{self.cure} at {self.lead}"


class Distance(models.Model):
    """How far two places are apart, as somebody stated it."""

    hookup = models.ForeignKey(HookUp, on_delete=models.CASCADE, related_name="+")
    first = models.ForeignKey(Place, on_delete=models.CASCADE, related_name="+")
    second = models.ForeignKey(Place, on_delete=models.CASCADE, related_name="+")
    m = models.FloatField()

    class Meta:
        ordering = ["id"]

    def __str__(self) -> str:
        return f"{self.first} to {self.second}: {self.m:g} m"


class School(models.Model):
    """How this shop joins, grounds and cures, unless a job says otherwise. There is one."""

    joint = models.CharField(max_length=20, default="crimp_butt")
    ground = models.CharField(max_length=5, default="wire")
    wire_standard = models.CharField(max_length=8, default="awg")
    correction = models.CharField(max_length=10, default="flasher")
    stock_ohm = models.JSONField(default=list)
    """Load resistors on the shelf [ohm]; empty for whatever the trade sells."""

    def __str__(self) -> str:
        return "the shop's ways"


def the_school() -> School:
    """Shop defaults; those of common practice until somebody chose."""
    return School.objects.first() or School()
