"""The same vehicle comes back: what earlier jobs measured on it, dated, to start a place from; never evidence."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import date

from django.utils.formats import date_format

from electrics.document.places import Origin
from hailstone.identify.models import AccessPoint
from hailstone.jobs.models import Job
from hailstone.layers.beliefs import beliefs
from hailstone.layers.facts import jobs_with_readings
from hailstone.layers.places import SaidPlace, SaidWire

__all__ = ["MOST_JOBS", "EarlierPlace", "earlier_places"]

MOST_JOBS = 5
"""Earlier jobs that are looked into, the latest first [-]."""


@dataclass(frozen=True)
class EarlierPlace:
    """A place of the same vehicle with the wires that an earlier job settled by readings.

    Attributes
    ----------
    key : int
        Its row.
    on : date
        Of its last reading.
    """

    key: int
    point: AccessPoint
    on: date
    wires: tuple[SaidWire, ...]

    @property
    def settled(self) -> int:
        return sum(bool(wire.claim) for wire in self.wires)

    def as_place(self) -> SaidPlace:
        """Ready to be laid out again, each verdict as a claim with its date."""
        point = self.point
        return SaidPlace(
            point.name,
            point.kind,
            point.side,
            self.wires,
            date_format(self.on, "j M Y"),
            str(Origin.EARLIER),
            point.face_rows,
            point.seen_from,
            point.all_wires,
            point.zone,
        )


def earlier_places(job: Job) -> list[EarlierPlace]:
    """The places that earlier jobs on this vehicle measured and this one has not, each as it was measured last."""
    taken = {point.name for point in job.points.all()}
    found = dict[str, EarlierPlace]()
    before = jobs_with_readings().filter(vehicle_id=job.vehicle_id, pk__lt=job.pk).order_by("-pk")[:MOST_JOBS]
    for earlier in before:
        known = beliefs(earlier)
        for point in earlier.points.all():
            pins = list(point.pins.all())
            read = [reading.taken_at for pin in pins for reading in pin.readings.all()]
            if not read or point.name in taken or point.name in found:
                continue
            wires = tuple(
                SaidWire(pin.label, pin.colour, str(wire.function) if wire.is_settled and wire.weights else "")
                for pin, wire in zip(pins, known[point.id].wires, strict=True)
            )
            place = EarlierPlace(point.id, point, max(read).date(), wires)
            if place.settled:
                found[point.name] = place
    return list(found.values())
