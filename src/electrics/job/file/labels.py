"""Numbers of wires and joints that stay, in the job file: `labels`."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Any

__all__ = ["read_label", "write_label"]

Label = tuple[str, str, str, str]


def read_label(entry: Mapping[str, Any]) -> Label:
    """What a number stands on, and the number."""
    on = entry["of"]
    return on["kind"], on.get("place", ""), on.get("subject", ""), entry["label"]


def write_label(label: Label) -> dict[str, Any]:
    """The same as `read_label` reads it."""
    kind, place, subject, number = label
    return {"of": {"kind": kind, "place": place, "subject": subject}, "label": number}
