"""Writes the wire book: findings of a job, findings of a file, and one taken out again."""

from __future__ import annotations

from collections.abc import Sequence

from django.contrib.auth.models import User
from django.db import transaction

from electrics.formats.wire_book_csv import FindingRow
from hailstone.wirebook.models import Finding

FIELDS = (
    *("make", "model", "year_from", "year_to", "market", "place", "kind", "side", "pin", "colour", "function"),
    *("polarity", "how", "measured_on"),
)
"""What makes two findings of a file the same."""


@transaction.atomic
def take_in(rows: Sequence[FindingRow], who: User) -> int:
    """Add the findings of a file that are not in the book yet; returns how many were new."""
    known = set(Finding.objects.values_list(*FIELDS))
    new: dict[tuple[object, ...], Finding] = {}
    for row in rows:
        values = {
            "make": row.make,
            "model": row.model,
            "year_from": row.year_from,
            "year_to": row.year_to,
            "market": row.market,
            "place": row.access_point,
            "kind": row.kind,
            "side": row.side,
            "pin": row.pin,
            "colour": row.colour,
            "function": str(row.function),
            "polarity": str(row.polarity),
            "how": row.how,
            "measured_on": row.measured_on,
        }
        key = tuple(values[name] for name in FIELDS)
        if key not in known:
            new.setdefault(key, Finding(**values, who=who))
    Finding.objects.bulk_create(new.values())
    return len(new)
