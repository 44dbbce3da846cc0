"""How much one import may bring: as much as the pages take, and no more."""

from __future__ import annotations

__all__ = ["MOST_PINS", "MOST_PLACES", "MOST_ROWS"]

MOST_PLACES, MOST_PINS, MOST_ROWS = 40, 60, 5000
"""Places of a job, pins of a place, rows of a file [-]."""
