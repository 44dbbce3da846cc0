"""What is noted of factory circuits in the job file."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Any

from electrics.document.circuits import CircuitNotes, FedBy
from electrics.document.job import JobFacts
from electrics.errors import FactError, InputError
from electrics.job.file.places import function_named
from electrics.reference.bulbs import bulbs
from electrics.reference.conductor import WireStandard, conductor

__all__ = ["read_circuit", "write_circuit"]


def read_circuit(entry: Mapping[str, Any], system_v: int) -> tuple[str, CircuitNotes]:
    """A circuit's function and its notes; FactError for a function, bulb or wire that there is not."""
    function = function_named(entry["function"])
    bulb: Mapping[str, Any] = next(iter(entry.get("bulbs", ())), {})
    kinds = [each.name for each in bulbs() if each.system_v == system_v]
    if bulb and bulb["bulb"] not in kinds:
        raise FactError("bulbs", f"there is no bulb “{bulb['bulb']}” for {system_v} V. Known: {', '.join(kinds)}.")
    wire = entry.get("wire", "20 AWG").removesuffix("AWG").strip()
    try:
        conductor(WireStandard.AWG, wire)
    except InputError:
        raise FactError("wire", f"there is no wire “{entry['wire']}”. Expected an AWG size, like 18 AWG.") from None
    return str(function), CircuitNotes(
        FedBy(entry.get("fed_by", FedBy.UNKNOWN)),
        bulb.get("bulb", ""),
        bulb.get("count"),
        entry.get("fuse_a"),
        wire,
        entry.get("measured_a"),
        entry.get("most_percent"),
    )


def write_circuit(facts: JobFacts, function: str) -> dict[str, Any]:
    """The notes as `read_circuit` reads them; with bulbs without a number, or a number alone, what is assumed of the
    other."""
    notes = facts.hookup.circuit_of(function)
    found: dict[str, Any] = {
        "function": function,
        "fed_by": str(notes.fed_by),
        "fuse_a": notes.host_fuse_a,
        "wire": f"{notes.host_wire} AWG",
        "measured_a": notes.measured_a,
        "most_percent": notes.most_percent,
    }
    there = facts.circuit(function)
    if notes.names_lamps and there.host_bulb and there.host_count is not None:
        found["bulbs"] = [{"bulb": there.host_bulb, "count": there.host_count}]
    return {name: value for name, value in found.items() if value is not None}
