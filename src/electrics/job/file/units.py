"""Units in the job file: every field of `UnitFacts` by its own name, without the ids that pages keep."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import replace
from typing import Any

from electrics.document.units import UnitFacts
from electrics.document.written import typed, written
from electrics.job.file.places import function_named

__all__ = ["read_unit", "write_unit"]


def read_unit(entry: Mapping[str, Any]) -> UnitFacts:
    """One unit as it is said; whether it can be is for `units_of_facts.unit_of` to say.

    FactError names a claim that is no function.
    """
    found = typed(UnitFacts, entry)
    leads = tuple(replace(each, lead=each.lead.strip(), wants=each.wants.strip(), id="") for each in found.leads)
    for each in leads:
        if each.claim:
            function_named(each.claim)
    names = {name: getattr(found, name).strip() for name in ("name", "place", "instead_of")}
    return replace(found, leads=leads, id="", **names)


def write_unit(unit: UnitFacts) -> dict[str, Any]:
    """One unit as `read_unit` reads it."""
    return written(replace(unit, id="", leads=tuple(replace(each, id="") for each in unit.leads)))
