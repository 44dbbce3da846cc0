"""The decisions of layer three: which wire is tapped, and with what."""

from __future__ import annotations

from django.conf import settings
from django.db import models

from hailstone.jobs.models import Job


class HookUp(models.Model):
    """What was chosen for one job; empty fields are not decided yet."""

    class FedBy(models.TextChoices):
        UNKNOWN = "unknown", "Not known yet"
        PLAIN = "plain", "A plain switch or relay"
        COMPUTER = "computer", "A computer (monitored or pulsed)"

    class Ground(models.TextChoices):
        WIRE = "wire", "Own wire back to a factory ground stud"
        BODY = "body", "Body screw beside the lamp, bare metal"
        LAMP = "lamp", "The factory lamp's ground wire"

    job = models.OneToOneField(Job, on_delete=models.CASCADE, related_name="hookup")
    ways = models.JSONField(default=dict)
    """Chosen way by lead: form and pin ids, `and_not:12,14`."""
    override = models.CharField(max_length=200, blank=True)
    """Why a way that is wrong somewhere is taken all the same."""
    fed_by = models.CharField(max_length=8, choices=FedBy, default=FedBy.UNKNOWN)
    load_override_a = models.FloatField(null=True, blank=True)
    hot_override_c = models.FloatField(null=True, blank=True)
    host_bulb = models.CharField(max_length=20, blank=True)
    host_count = models.PositiveSmallIntegerField(null=True, blank=True)
    host_fuse_a = models.FloatField(null=True, blank=True)
    host_wire = models.CharField(max_length=4, default="20")
    out_m = models.FloatField(null=True, blank=True)
    back_m = models.FloatField(null=True, blank=True)
    ground = models.CharField(max_length=5, choices=Ground, default=Ground.WIRE)
    wire_standard = models.CharField(max_length=8, default="awg")
    wire_size = models.CharField(max_length=6, blank=True)
    joint = models.CharField(max_length=20, default="crimp_butt")
    is_exposed = models.BooleanField(default=True)
    version = models.PositiveIntegerField(default=1)
    changed_by = models.ForeignKey(settings.AUTH_USER_MODEL, on_delete=models.PROTECT, related_name="+")
    changed_at = models.DateTimeField(auto_now=True)

    def __str__(self) -> str:
        return f"hook-up of {self.job}"


class School(models.Model):
    """How this shop joins and grounds, unless a job says otherwise. There is one."""

    joint = models.CharField(max_length=20, default="crimp_butt")
    ground = models.CharField(max_length=5, choices=HookUp.Ground, default=HookUp.Ground.WIRE)
    wire_standard = models.CharField(max_length=8, default="awg")

    def __str__(self) -> str:
        return "the shop's ways"


def the_school() -> School:
    """The shop's ways; those of common practice until somebody chose."""
    return School.objects.first() or School()
