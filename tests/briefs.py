"""A brief and a hook-up that several test modules start from."""

from __future__ import annotations

BRIEF = {
    "title": "Reverse lamps",
    "make": "Merrow",
    "model": "Skua",
    "year": 2014,
    "market": "",
    "system_v": 12,
    "computer": "no",
    "addition": "reverse_lamps",
    "added_count": 1,
    "added_each_a": 2.4,
    "supply_v": 12.6,
    "arrangement": "",
    "has_helper": True,
}

CIRCUIT = {"fed_by": "plain", "host_bulb": "P21W", "host_count": "2", "host_fuse_a": "10", "host_wire": "18"}
"""What is noted of a tapped circuit."""

SECOND_CIRCUIT = {f"{name}_2": value for name, value in CIRCUIT.items()}
"""The same of the second one, where a way taps two."""

CHOICE = {
    **CIRCUIT,
    "keeps": "for_good",
    "ground_wire": "18",
    "out_m": "3,4",
    "back_m": "0.6",
    "ground": "wire",
    "wire_standard": "awg",
    "wire_size": "",
    "joint": "crimp_butt",
    "is_exposed": "on",
    "version": "1",
}
