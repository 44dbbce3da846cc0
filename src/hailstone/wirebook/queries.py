"""Reads the wire book: by words, and for one kind of vehicle."""

from __future__ import annotations

import re
from collections import Counter
from dataclasses import dataclass

from django.db.models import Q, QuerySet

from electrics.identify.belief import Origin
from electrics.vocabulary import Function
from hailstone.identify.services import Place, Wire
from hailstone.jobs.models import Vehicle
from hailstone.wirebook.models import Finding
from hailstone.wording.words import FUNCTIONS


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
    wires: tuple[Wire, ...]

    def as_place(self) -> Place:
        """Ready to be laid out: the findings are expectations, not verdicts."""
        seen = f"seen {self.times} times" if self.times > 1 else "seen once"
        return Place(self.name, self.kind, self.side, self.wires, seen, str(Origin.WIRE_BOOK))


def search(text: str) -> QuerySet[Finding]:
    """Findings with every word in vehicle, market, place, colour or function."""
    found = Finding.objects.all()
    for word in text.split()[:8]:
        functions = [str(f) for f, name in FUNCTIONS.items() if word.lower() in name.lower()]
        about = Q(function__in=functions)
        for field in ("make", "model", "market", "place", "colour"):
            about |= Q(**{f"{field}__icontains": word})
        if word.isdecimal() and len(word) == 4:
            about |= _in_years(int(word))
        found = found.filter(about)
    return found


def known_places(vehicle: Vehicle) -> list[KnownPlace]:
    """What the book knows of this kind of vehicle: same make and model, year and market where both are known."""
    found = Finding.objects.filter(make__iexact=vehicle.make, model__iexact=vehicle.model)
    if vehicle.year:
        found = found.filter(_in_years(vehicle.year) | Q(year_from=None, year_to=None))
    if vehicle.market:
        found = found.filter(Q(market="") | Q(market__iexact=vehicle.market))
    places: dict[tuple[str, str, str], list[Finding]] = {}
    for finding in found:
        places.setdefault((finding.place.lower(), finding.kind, finding.side), []).append(finding)
    return [_known(findings) for findings in places.values()]


def _in_years(year: int) -> Q:
    return (
        (Q(year_from=None) | Q(year_from__lte=year))
        & (Q(year_to=None) | Q(year_to__gte=year))
        & ~Q(year_from=None, year_to=None)
    )


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
        wires.append(Wire(pin, colours.pop() if len(colours) == 1 else "", str(Function(function))))
    key = re.sub(r"[^a-z0-9]+", "-", f"{first.place.lower()} {first.kind} {first.side}").strip("-")
    return KnownPlace(
        key, first.place, first.kind, first.side, max(len(own) for own in by_pin.values()), tuple(wires)
    )


def _natural(pin: str) -> tuple[int, str]:
    digits = re.match(r"\d+", pin)
    return (int(digits[0]) if digits else 10**6, pin)
