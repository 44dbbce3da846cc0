"""What was noted before the work, in the job file: `before`."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Any

from electrics.document.as_found import AsFound

__all__ = ["read_as_found", "write_as_found"]


def read_as_found(entry: Mapping[str, Any]) -> AsFound:
    """What was noted before the work."""
    rates = entry.get("rate_per_min", {})
    return AsFound(rates.get("left"), rates.get("right"), entry.get("warnings", ""), entry.get("dead", ""))


def write_as_found(found: AsFound) -> dict[str, Any]:
    """The same as `read_as_found` reads it."""
    said = {"rate_per_min": dict(found.rates), "warnings": found.warnings, "dead": found.dead}
    return {name: value for name, value in said.items() if value}
