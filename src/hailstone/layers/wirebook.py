"""The wire book as jobs use it: what it knows of a kind of vehicle, and what a job puts into it."""

from __future__ import annotations

import re
from collections import Counter
from dataclasses import dataclass

from django.contrib.auth.models import User
from django.db import transaction
from django.db.models import Q
from django.utils import timezone

from electrics.document.places import Origin
from electrics.identify.belief import Belief, WireBelief
from electrics.vocabulary import Function
from hailstone.identify.models import AccessPoint
from hailstone.jobs.models import Job, Vehicle
from hailstone.layers.beliefs import beliefs
from hailstone.layers.places import SaidPlace, SaidWire
from hailstone.wirebook.models import Finding
from hailstone.wording.words import INSTRUMENTS, listed

__all__ = ["KnownPlace", "in_years", "keep_job", "keep_point", "known_places"]


@dataclass(frozen=True)
class KnownPlace:
    """A place of this kind of vehicle that the shop has measured out before.

    Attributes
    ----------
    key : str
        Stands in an address.
    times : int
        On how many vehicles.
    wires : tuple of Wire
        With the function most often found, and the colour where all agree.
    """

    key: str
    name: str
    kind: str
    side: str
    times: int
    wires: tuple[SaidWire, ...]

    def as_place(self) -> SaidPlace:
        """Ready to be laid out: the findings are expectations, not verdicts."""
        seen = f"seen {self.times} times" if self.times > 1 else "seen once"
        return SaidPlace(self.name, self.kind, self.side, self.wires, seen, str(Origin.WIRE_BOOK))


def known_places(vehicle: Vehicle) -> list[KnownPlace]:
    """What the book knows of this kind of vehicle: same make and model, year and market where both are known."""
    found = Finding.objects.filter(make__iexact=vehicle.make, model__iexact=vehicle.model)
    if vehicle.year:
        found = found.filter(in_years(vehicle.year) | Q(year_from=None, year_to=None))
    if vehicle.market:
        found = found.filter(Q(market="") | Q(market__iexact=vehicle.market))
    places: dict[tuple[str, str, str], list[Finding]] = {}
    for finding in found:
        places.setdefault((finding.place.lower(), finding.kind, finding.side), []).append(finding)
    return [_known(findings) for findings in places.values()]


def in_years(year: int) -> Q:
    """Findings of a model year."""
    return (
        (Q(year_from=None) | Q(year_from__lte=year))
        & (Q(year_to=None) | Q(year_to__gte=year))
        & ~Q(year_from=None, year_to=None)
    )


@transaction.atomic
def keep_job(job: Job, who: User) -> int:
    """Put every settled wire of a job into the book; returns how many. Kept again, it replaces what it kept."""
    believed = beliefs(job)
    return sum(keep_point(job, point, believed[point.id], who) for point in job.points.all())


@transaction.atomic
def keep_point(job: Job, point: AccessPoint, belief: Belief, who: User) -> int:
    """Put the settled wires of one access point into the book; returns how many.

    Only what was measured counts as proven: a wire settled without a reading of its own stays out.
    """
    vehicle = job.vehicle
    Finding.objects.filter(point=point).delete()
    proven = [wire for wire in belief.wires if wire.is_settled and _how(belief, wire)]
    Finding.objects.bulk_create(
        Finding(
            make=vehicle.make,
            model=vehicle.model,
            year_from=vehicle.year,
            year_to=vehicle.year,
            market=vehicle.market,
            place=point.name,
            kind=point.kind,
            side=point.side,
            pin=wire.pin,
            colour=wire.colour,
            function=str(wire.function),
            polarity=str(wire.polarity),
            how=_how(belief, wire),
            measured_on=timezone.localdate(),
            job=job,
            point=point,
            who=who,
        )
        for wire in proven
    )
    return len(proven)


def _known(findings: list[Finding]) -> KnownPlace:
    first = findings[0]
    by_pin: dict[str, list[Finding]] = {}
    for finding in findings:
        by_pin.setdefault(finding.pin, []).append(finding)
    wires = []
    for pin in sorted(by_pin, key=_natural):
        own = by_pin[pin]
        function = Counter(finding.function for finding in own).most_common(1)[0][0]
        colours = {finding.colour for finding in own if finding.function == function}
        wires.append(SaidWire(pin, colours.pop() if len(colours) == 1 else "", str(Function(function))))
    key = re.sub(r"[^a-z0-9]+", "-", f"{first.place.lower()} {first.kind} {first.side}").strip("-")
    return KnownPlace(
        key, first.place, first.kind, first.side, max(len(own) for own in by_pin.values()), tuple(wires)
    )


def _natural(pin: str) -> tuple[int, str]:
    digits = re.match(r"\d+", pin)
    return (int(digits[0]) if digits else 10**6, pin)


def _mid_sentence(name: str) -> str:
    return name[0].lower() + name[1:]


def _how(belief: Belief, wire: WireBelief) -> str:
    """`4 readings: volts DC, ohms`; empty when this wire was never read."""
    own = [evidence for evidence in belief.point.evidence if evidence.pin == wire.pin]
    if not own:
        return ""
    instruments = dict.fromkeys(_mid_sentence(INSTRUMENTS[evidence.setup.instrument]) for evidence in own)
    return f"{len(own)} reading{'s' if len(own) > 1 else ''}: {listed(instruments)}"
