"""Access points, their pins, and the readings as they were typed."""

from __future__ import annotations

from django.conf import settings
from django.db import models
from django.db.models import Q

from electrics.document.places import Origin, Side
from electrics.vocabulary import Instrument, Load
from hailstone.jobs.models import Job


class AccessPoint(models.Model):
    """A place where wires are reached: an opened lamp, a plug."""

    job = models.ForeignKey(Job, on_delete=models.CASCADE, related_name="points")
    name = models.CharField(max_length=60)
    kind = models.CharField(max_length=20, default="connector")
    side = models.CharField(
        max_length=5, blank=True, choices=[(Side.NONE, "No side"), (Side.LEFT, "Left"), (Side.RIGHT, "Right")]
    )
    zone = models.CharField(max_length=20, blank=True)
    """Where on the vehicle, by `electrics.reference.zones` id; empty for the usual of its kind."""
    claims_from = models.CharField(max_length=60, blank=True)
    claims_origin = models.CharField(max_length=10, default=Origin.SAID)
    face_rows = models.PositiveSmallIntegerField(default=0)
    seen_from = models.CharField(
        max_length=6, default="mating", choices=[("mating", "Into the contacts"), ("wires", "From the wires")]
    )
    version = models.PositiveIntegerField(default=1)
    all_wires = models.BooleanField(null=True, default=None)
    """Whether every wire of the place is listed; None while nobody has said."""

    class Meta:
        ordering = ["id"]
        constraints = [models.UniqueConstraint(fields=["job", "name"], name="point_name_once_a_job")]

    def __str__(self) -> str:
        return self.name


class Pin(models.Model):
    """One wire of an access point."""

    point = models.ForeignKey(AccessPoint, on_delete=models.CASCADE, related_name="pins")
    label = models.CharField(max_length=60)
    colour = models.CharField(max_length=60, blank=True)
    claim = models.CharField(max_length=40, blank=True)
    claim_from = models.CharField(max_length=60, blank=True)
    position = models.PositiveSmallIntegerField()

    class Meta:
        ordering = ["position", "id"]
        constraints = [models.UniqueConstraint(fields=["point", "label"], name="pin_label_once_a_point")]

    def __str__(self) -> str:
        return self.label


class Cell(models.Model):
    """How a reading was taken; a pin and a cell together are one measurement."""

    pin = models.ForeignKey(Pin, on_delete=models.CASCADE, related_name="%(class)ss")
    state = models.CharField(max_length=120)
    instrument = models.CharField(max_length=16, default=Instrument.DMM)
    load = models.CharField(max_length=4, default=Load.IN)
    against = models.ForeignKey(Pin, on_delete=models.CASCADE, related_name="+", null=True, blank=True)
    """The second pin of the same place, where it was not read against proven ground."""

    class Meta:
        abstract = True

    @property
    def against_label(self) -> str:
        """What the second pin is called, as its place is loaded; empty for ground."""
        pins = self.pin.point.pins.all() if self.against_id else ()
        return next((pin.label for pin in pins if pin.id == self.against_id), "")


class Reading(Cell):
    """What was typed for one cell, readable or not. The latest one counts; `ReadingChange` keeps the rest."""

    text = models.CharField(max_length=60)
    supply_v = models.FloatField()
    note = models.CharField(max_length=200, blank=True)
    is_confirmed = models.BooleanField(default=False)
    """Measured again, with the same result."""
    is_repeated = models.BooleanField(default=False)
    """Measured again because the first reading was odd, and it read otherwise: this is the second."""
    taken_by = models.ForeignKey(settings.AUTH_USER_MODEL, on_delete=models.PROTECT, related_name="+")
    taken_at = models.DateTimeField()

    class Meta:
        ordering = ["taken_at", "id"]
        constraints = [
            models.UniqueConstraint(
                fields=["pin", "state", "instrument", "load"],
                condition=Q(against=None),
                name="reading_once_a_cell",
            ),
            models.UniqueConstraint(
                fields=["pin", "state", "instrument", "load", "against"], name="reading_once_a_pair"
            ),
        ]

    def __str__(self) -> str:
        return f"{self.pin} {self.state}: {self.text}"


class ReadingChange(Cell):
    """One change of a cell: who, when, before and after (empty: no reading)."""

    before = models.CharField(max_length=60, blank=True)
    after = models.CharField(max_length=60, blank=True)
    supply_before_v = models.FloatField(null=True)
    changed_by = models.ForeignKey(settings.AUTH_USER_MODEL, on_delete=models.PROTECT, related_name="+")
    changed_at = models.DateTimeField()
    is_undone = models.BooleanField(default=False)
    overruled = models.ForeignKey(
        settings.AUTH_USER_MODEL, on_delete=models.PROTECT, related_name="+", null=True, blank=True
    )
    is_told = models.BooleanField(default=True)

    class Meta:
        ordering = ["-changed_at", "-id"]

    def __str__(self) -> str:
        return f"{self.pin} {self.state}: {self.before or '-'} to {self.after or '-'}"


class Photo(models.Model):
    """A picture of the connector, re-encoded without anything that the camera added.

    Kept in the database beside the readings: one file to back up, and it goes when its access point goes.
    """

    point = models.OneToOneField(AccessPoint, on_delete=models.CASCADE, related_name="photo")
    jpeg = models.BinaryField()
    width = models.PositiveIntegerField()
    height = models.PositiveIntegerField()
    added_by = models.ForeignKey(settings.AUTH_USER_MODEL, on_delete=models.PROTECT, related_name="+")
    added_at = models.DateTimeField()

    def __str__(self) -> str:
        return f"photo of {self.point}"
