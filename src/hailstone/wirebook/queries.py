"""Reads the wire book: by words, and for one kind of vehicle."""

from __future__ import annotations

from django.db.models import Q, QuerySet

from hailstone.layers.wirebook import in_years
from hailstone.wirebook.models import Finding
from hailstone.wording.words import FUNCTIONS


def search(text: str) -> QuerySet[Finding]:
    """Findings with every word in vehicle, market, place, colour or function."""
    found = Finding.objects.all()
    for word in text.split()[:8]:
        functions = [str(f) for f, name in FUNCTIONS.items() if word.lower() in name.lower()]
        about = Q(function__in=functions)
        for field in ("make", "model", "market", "place", "colour"):
            about |= Q(**{f"{field}__icontains": word})
        if word.isdecimal() and len(word) == 4:
            about |= in_years(int(word))
        found = found.filter(about)
    return found
