"""Lamps and parts with their leads, and the locations that decisions name.

No page queries these one by one: `hailstone.layers.decisions` loads them together with the job.
"""

from __future__ import annotations

from django.db import models
from django.db.models import F, Q

from hailstone.identify.models import AccessPoint
from hailstone.jobs.models import Job


class Spot(models.Model):
    """A place without wires: a socket at the front, a canopy."""

    job = models.ForeignKey(Job, on_delete=models.CASCADE, related_name="+")
    position = models.PositiveSmallIntegerField()
    name = models.CharField(max_length=40)
    zone = models.CharField(max_length=20)
    """Roughly where on the vehicle, by `electrics.reference.zones` id."""

    class Meta:
        ordering = ["position", "id"]
        constraints = [models.UniqueConstraint(fields=["job", "name"], name="spot_name_once_a_job")]

    def __str__(self) -> str:
        return self.name


class Place(models.Model):
    """A location that a decision names: an access point, a lamp or part, a mounting spot, or a name alone."""

    job = models.ForeignKey(Job, on_delete=models.CASCADE, related_name="+")
    point = models.ForeignKey(AccessPoint, on_delete=models.CASCADE, related_name="+", null=True)
    unit = models.ForeignKey("Unit", on_delete=models.CASCADE, related_name="+", null=True)
    spot = models.ForeignKey(Spot, on_delete=models.CASCADE, related_name="+", null=True)
    rest = models.CharField(max_length=160, blank=True)
    """How the name goes on after that of what it is at; all of it where it is at none of them."""

    class Meta:
        constraints = [
            models.CheckConstraint(
                condition=Q(point=None, unit=None) | Q(point=None, spot=None) | Q(unit=None, spot=None),
                name="place_at_one_thing",
            )
        ]

    def __str__(self) -> str:
        return f"{self.point or self.unit or self.spot or ''}{self.rest}"


class Unit(models.Model):
    """One lamp or part (`electrics.document.units.UnitFacts`). Without rows the brief says it."""

    job = models.ForeignKey(Job, on_delete=models.CASCADE, related_name="+")
    key = models.CharField(max_length=80)
    """Its key in facts and files, whatever its name: `unit 2`."""
    name = models.CharField(max_length=80)
    position = models.PositiveSmallIntegerField()
    kind = models.CharField(max_length=40, blank=True)
    """By `electrics.design.units` id; empty for one's own."""
    side = models.CharField(max_length=5, blank=True)
    place = models.ForeignKey(Place, on_delete=models.SET_NULL, related_name="+", null=True)
    instead_of = models.ForeignKey(AccessPoint, on_delete=models.SET_NULL, related_name="+", null=True)
    facts = models.JSONField(default=dict)
    """What else is said of it: how many lamps, how it is carried, what was found on it."""

    class Meta:
        ordering = ["position", "id"]
        constraints = [models.UniqueConstraint(fields=["job", "key"], name="unit_key_once_a_job")]

    def __str__(self) -> str:
        return self.name


class Lead(models.Model):
    """A lead of a lamp or part; of one from the brief as soon as something is decided for it."""

    job = models.ForeignKey(Job, on_delete=models.CASCADE, related_name="+")
    unit = models.ForeignKey(Unit, on_delete=models.CASCADE, related_name="+", null=True)
    key = models.CharField(max_length=160)
    """Its key in facts and files: `left-turn`, `unit 2: red`."""
    position = models.PositiveSmallIntegerField()
    facts = models.JSONField(default=dict)
    """What was entered for it; empty where the brief says it."""

    class Meta:
        ordering = [F("unit__position").asc(nulls_last=True), "position", "id"]
        constraints = [models.UniqueConstraint(fields=["job", "key"], name="lead_key_once_a_job")]

    def __str__(self) -> str:
        return self.key
