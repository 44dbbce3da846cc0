"""The decisions of layer three: which wire is tapped, and with what."""

from __future__ import annotations

from dataclasses import asdict, fields
from typing import Any

from django.conf import settings
from django.db import models

from electrics.hookup.joints import Keeps
from electrics.job.facts import CircuitNotes, FedBy, RunDecision
from hailstone.jobs.models import Job

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
    ways = models.JSONField(default=dict)
    """Chosen way by lead: form and pin ids, `and_not:12,14`."""
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
    leads = models.JSONField(default=dict)
    """`RUN_FIELDS` by lead, where a lead differs from the first."""
    distances = models.JSONField(default=list)
    """Stated distances: two places as `hailstone.layers.refs` keeps them, and metres."""
    cures = models.JSONField(default=list)
    """Cures that were taken, as `electrics.job.facts.CureDecision` has them."""
    version = models.PositiveIntegerField(default=1)
    changed_by = models.ForeignKey(settings.AUTH_USER_MODEL, on_delete=models.PROTECT, related_name="+")
    changed_at = models.DateTimeField(auto_now=True)

    def __str__(self) -> str:
        return f"hook-up of {self.job}"

    def run_of(self, lead: str) -> dict[str, Any]:
        """`RUN_FIELDS` as they stand for a lead; for the first where that is empty."""
        if not lead:
            return {name: getattr(self, name) for name in RUN_FIELDS}
        return self.followed | self.leads.get(lead, {})

    @property
    def followed(self) -> dict[str, Any]:
        """The first lead's run as others follow it: numbers and lengths typed in for the first are its own."""
        return self.run_of("") | {"overrides": {}, "out_m": None, "back_m": None}

    def circuit_of(self, function: str) -> dict[str, Any]:
        """`CIRCUIT_FIELDS` as they stand for a factory circuit."""
        return CIRCUIT_FIELDS | self.circuits.get(function, self.circuits.get("", {}))


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
    """The shop's ways; those of common practice until somebody chose."""
    return School.objects.first() or School()
