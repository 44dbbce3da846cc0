"""Places as decisions keep them: by the row or the entry that stands there, so that a new name changes nothing."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from typing import Any

from hailstone.jobs.models import Job

__all__ = ["POINT", "UNIT", "name_of", "named_distances", "names_by_ref", "ref_of"]

POINT, UNIT = "#", "="
"""What the reference of an access point and of a thing begins with: `#12`, `=unit 2`."""
BESIDE = ">"
"""Stands between the reference of what a place is named after and the rest of its name."""


def names_by_ref(job: Job, units: Sequence[Mapping[str, Any]] | None = None) -> dict[str, str]:
    """Access points and things by their references; `units` where they are not those that are stored."""
    names = {f"{POINT}{point.id}": point.name for point in job.points.all()}
    return names | {f"{UNIT}{entry['id']}": entry["name"] for entry in (job.units if units is None else units)}


def ref_of(name: str, names: Mapping[str, str]) -> str:
    """How a place is kept; what is named after nothing that can be renamed stays a name."""
    after = [(known, ref) for ref, known in names.items() if name == known or name.startswith(f"{known} ")]
    if not after:
        return name
    known, ref = max(after, key=lambda each: len(each[0]))
    rest = name.removeprefix(known)
    return f"{ref}{BESIDE}{rest}" if rest else ref


def name_of(ref: str, names: Mapping[str, str]) -> str:
    """The name of a place now; empty where what it is named after is gone."""
    if not ref.startswith((POINT, UNIT)):
        return ref
    own, _, rest = ref.partition(BESIDE)
    return names[own] + rest if own in names else ""


def named_distances(job: Job, stored: Sequence[tuple[str, str, float]]) -> list[tuple[str, str, float]]:
    """Stated distances by the names of today [m]; those of a place that is gone are gone."""
    names = names_by_ref(job)
    found = [(name_of(first, names), name_of(second, names), m) for first, second, m in stored]
    return [each for each in found if each[0] and each[1]]
