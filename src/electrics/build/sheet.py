"""The build sheet's lists, read off the design: wires to cut, joints to make, parts to lay out."""

from __future__ import annotations

from collections import Counter
from collections.abc import Iterable, Sequence
from dataclasses import dataclass
from math import ceil

from electrics.design.accessories import Accessory
from electrics.design.design import Design, End, EndKind, Fitted, Join, Wiring
from electrics.design.joints import BUS
from electrics.design.units import Unit
from electrics.reference.fuses import fuse_name

__all__ = [
    "BuildPlan",
    "Loom",
    "Part",
    "build_of",
    "lamps_of",
    "looms_of",
    "parts_of",
    "spool_length_m",
]


@dataclass(frozen=True)
class Part:
    """A line of the parts list; `labels` are those of the parts on it that wires and joints name."""

    id: str
    count: int
    detail: str
    labels: tuple[str, ...] = ()


@dataclass(frozen=True)
class Loom:
    """Wires that go the same way from one place to the next: their labels."""

    places: tuple[str, str]
    wires: tuple[str, ...]


@dataclass(frozen=True)
class BuildPlan:
    """What is cut, joined and laid out.

    Attributes
    ----------
    sealed, capped : tuple of End
        Terminals that stay without a wire, and factory wires that feed nothing any more: closed.
    unplugged : tuple of str
        Units on parts that come off, each on a plug.
    instead, rewired : tuple of str
        Units whose place another lamp leaves, and lamps that stay and are cut off the feed they had.
    cures : tuple of str
        Ids of the cures that are done while joining.
    fitted : tuple of Fitted
        The parts, each where it sits.
    units : tuple of Unit
        What is fitted or changed; empty where it is on the vehicle already.
    """

    wires: tuple[Wiring, ...]
    joins: tuple[Join, ...]
    parts: tuple[Part, ...]
    looms: tuple[Loom, ...]
    sealed: tuple[End, ...]
    capped: tuple[End, ...]
    unplugged: tuple[str, ...] = ()
    instead: tuple[str, ...] = ()
    rewired: tuple[str, ...] = ()
    cures: tuple[str, ...] = ()
    fitted: tuple[Fitted, ...] = ()
    units: tuple[Unit, ...] = ()


def build_of(design: Design, accessory: Accessory, cures: Iterable[str] = ()) -> BuildPlan:
    """The build sheet of a design; `cures` are their ids."""
    return BuildPlan(
        design.wires,
        design.joins,
        parts_of(design, accessory),
        looms_of(design),
        design.sealed,
        design.capped,
        unplugged=tuple(unit.name for unit in accessory.units if unit.is_removable),
        instead=tuple(unit.name for unit in accessory.units if unit.is_instead and not unit.in_socket),
        rewired=tuple(unit.name for unit in accessory.units if unit.is_there),
        cures=tuple(cures),
        fitted=design.parts,
        units=accessory.units,
    )


def spool_length_m(wires: Iterable[Wiring]) -> int:
    """Wire to have at hand [m], rounded up to whole metres."""
    return ceil(sum(wire.cut_m for wire in wires) - 1e-9)


def looms_of(design: Design) -> tuple[Loom, ...]:
    """What goes the same way, place by place; a wire alone is no loom."""
    found: dict[frozenset[str], list[str]] = {}
    order: dict[frozenset[str], tuple[str, str]] = {}
    for wire in design.wires:
        for first, second in zip(wire.by, wire.by[1:], strict=False):
            pair = frozenset((first, second))
            order.setdefault(pair, (first, second))
            found.setdefault(pair, []).append(wire.label)
    return tuple(Loom(order[pair], tuple(labels)) for pair, labels in found.items() if len(labels) > 1)


def parts_of(design: Design, accessory: Accessory) -> tuple[Part, ...]:
    """What to lay out before opening the vehicle.

    Parameters
    ----------
    design : Design
    accessory : Accessory
        As fitted.

    Returns
    -------
    tuple of Part
        Every part that is fitted; a connector and a sleeve for each joint, a harness for each plug, a ring terminal
        for each wire that ends on a stud or a post, a grommet for each unit that wires lead to.
    """
    found: Counter[tuple[str, str]] = Counter()
    labels: dict[tuple[str, str], list[str]] = {}
    new = [(unit.name, lamps_of(unit)) for unit in accessory.units if lamps_of(unit)]
    in_themselves = design.brings.get("self_switching_bulb", 0)  # such a bulb is the lamp itself
    bought_for = f"{design.system_v} V"
    found["lamp", bought_for] = max(sum(count for _, count in new) - in_themselves, 0)
    labels["lamp", bought_for] = [f"{name} ({count})" if count > 1 else name for name, count in new]
    for name in dict.fromkeys(wire.conductor.name for wire in design.wires):
        found["wire", name] = spool_length_m(wire for wire in design.wires if wire.conductor.name == name)
    for part in design.parts:
        if part.part in FUSED:
            found["fuse", fuse_name(part.value)] += 1
            found[FUSED[part.part], ""] += 1
            labels.setdefault(("fuse", fuse_name(part.value)), []).append(part.label)
        else:
            found[part.part, part.value] += 1
            labels.setdefault((part.part, part.value), []).append(part.label)
        if part.part == "relay":
            found["relay_socket", ""] += 1
    for id, count in design.brings.items():
        found[id, bought_for] += count
    for join in design.joins:
        if join.method == "t_harness":
            found["t_harness", join.spot.name] = 1
        elif join.method == BUS:
            found["bus", f"{len(join.members)} ways"] += 1
        elif join.method not in ("socket", "stays", "fuse_tap") and join.fit is not None:
            found["joint", join.fit.connector_colour] += 1
            found["sleeve", f"{join.fit.sleeve_mm:g} mm"] += 1
    for unit in accessory.units:
        if unit.is_removable:
            found["plug", f"{len(unit.leads) + 1} poles"] += 1
    for wire in design.wires:
        studs = sum(end.kind in (EndKind.BATTERY, EndKind.GROUND) for end in wire.ends)
        found["ring_terminal", wire.conductor.sleeve_colour] += studs
    found["grommet", ""] += len(_reached(design.wires))
    found["cap", ""] += len(design.capped)
    listed = [Part(*key[:1], count, key[1], tuple(labels.get(key, ()))) for key, count in found.items() if count]
    return tuple(sorted(listed, key=lambda part: _ORDER.index(part.id)))


def lamps_of(unit: Unit) -> int:
    """Lamps of a unit [-]: a set of bulbs has one for each lead, a lamp that is there already none."""
    if unit.is_there:
        return 0
    return sum(lead.lamps for lead in unit.leads if lead.technology == "led") if unit.in_socket else unit.lamps


FUSED = {"fuse": "fuse_holder", "fuse_tap": "fuse_tap"}
"""What holds a fuse, by how it is fitted."""


def _reached(wires: Sequence[Wiring]) -> set[str]:
    """The places of lamps that wires from elsewhere lead to."""
    return {
        end.spot.name
        for wire in wires
        for end in wire.ends
        if wire.role == "feed" and len(wire.by) > 1 and end is wire.ends[1]
    }


_ORDER = (
    "lamp",
    "self_switching_bulb",
    "filament_bulb",
    "switch",
    "wire",
    "fuse",
    "fuse_holder",
    "fuse_tap",
    "relay",
    "relay_socket",
    "bus",
    "timed_relay",
    "diode",
    "load_resistor",
    "dark_resistor",
    "decoder",
    "converter",
    "separator",
    "flasher",
    "t_harness",
    "plug",
    "joint",
    "sleeve",
    "ring_terminal",
    "grommet",
    "cap",
)
"""The order in which parts are laid out."""
