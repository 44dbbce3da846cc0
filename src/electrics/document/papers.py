"""What a job and its vehicle are called, and whose they are: for sheets, search and job file; no plan needs it."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Any

__all__ = ["PAPERS", "Papers"]

Papers = Mapping[str, Mapping[str, Any]]
"""What is known of `PAPERS`, by owner and name."""
PAPERS = {
    "job": ("title", "customer", "order_number"),
    "vehicle": ("make", "model", "year", "market", "registration", "vin", "odometer_km"),
}
