"""References as forms and drafts carry them: to the row of an access point or a unit, so that a new name changes
nothing. Rows refer by foreign key (`hailstone.units.models.Place`)."""

from __future__ import annotations

from collections.abc import Iterable, Mapping, Sequence
from typing import NamedTuple

from electrics.document.units import UnitFacts
from hailstone.identify.models import AccessPoint

__all__ = ["POINT", "UNIT", "Ref", "name_of", "names_by_ref", "ref_of"]

POINT, UNIT = "#", "="
"""What the reference of an access point and of a unit begins with: `#12`, `=unit 2`."""
BESIDE = ">"
"""Separator between a row reference and a name suffix, as in `#12> (new)`."""


NO_ROW = -1
"""The row of what refers to none."""


class Ref(NamedTuple):
    """A place's reference taken apart: what it is at, or neither, and its name or how that goes on."""

    point: int | None
    unit: str | None
    rest: str

    @classmethod
    def read(cls, text: str) -> Ref:
        """From `#12`, `=unit 2> (new)`, `battery`."""
        own, _, rest = text.partition(BESIDE) if text.startswith((POINT, UNIT)) else ("", "", text)
        if own.startswith(POINT):
            return cls(int(own[1:]) if own[1:].isdecimal() else NO_ROW, None, rest)
        return cls(None, own[1:] or None, rest)

    def __str__(self) -> str:
        own = f"{POINT}{self.point}" if self.point else f"{UNIT}{self.unit}" if self.unit else ""
        return f"{own}{BESIDE}{self.rest}" if own and self.rest else own or self.rest


def names_by_ref(points: Iterable[AccessPoint], units: Sequence[UnitFacts]) -> dict[str, str]:
    """Names of access points and units by their references."""
    names = {f"{POINT}{point.id}": point.name for point in points}
    return names | {f"{UNIT}{unit.key}": unit.name for unit in units}


def ref_of(name: str, names: Mapping[str, str]) -> str:
    """How a place is kept; what is named after nothing that can be renamed stays a name."""
    after = [(known, ref) for ref, known in names.items() if name == known or name.startswith(f"{known} ")]
    if not after:
        return name
    known, ref = max(after, key=lambda each: len(each[0]))
    return str(Ref.read(ref)._replace(rest=name.removeprefix(known)))


def name_of(ref: str, names: Mapping[str, str]) -> str:
    """The name of a place now; empty where what it is named after is gone."""
    read = Ref.read(ref)
    own = str(read._replace(rest=""))
    return names[own] + read.rest if own in names else "" if own else read.rest
