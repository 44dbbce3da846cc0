"""The parts list: everything that is fitted or used up, counted from the design's own lines."""

from __future__ import annotations

from collections import Counter
from collections.abc import Iterable, Iterator, Sequence
from dataclasses import dataclass
from math import ceil

from electrics.build.legs import legs_of
from electrics.design.accessories import Accessory
from electrics.design.design import Design, EndKind, Fitted, Wiring
from electrics.design.joints import BUS
from electrics.design.units import Unit
from electrics.reference.fuses import fuse_name
from electrics.reference.zones import zones

__all__ = ["Part", "between_vehicles", "lamps_of", "parts_of", "spool_length_m"]

SWITCH_MARGIN = 1.25
"""What a switch must carry over what it does carry [-] (common practice)."""
TIE_M = 0.2
"""From one cable tie to the next along a loom [m] (common practice)."""
TOWED_FROM = 2.0
"""Zones from here on are on a towed car, in lengths of the first vehicle from its front [-]."""


@dataclass(frozen=True)
class Part:
    """A line of the parts list; `labels` are those of the parts on it that wires and joints name."""

    id: str
    count: int
    detail: str
    labels: tuple[str, ...] = ()


@dataclass(frozen=True)
class _Found:
    """A line of the list before it is put in order."""

    id: str
    count: int
    detail: str = ""
    label: str = ""


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
        Every part that is fitted, and what its wires, joints and screws use up.
    """
    found: Counter[tuple[str, str]] = Counter()
    labels: dict[tuple[str, str], list[str]] = {}
    for make in (_lamps, _wires, _fitted, _joints, _ends):
        for each in make(design, accessory):
            found[each.id, each.detail] += each.count
            if each.label:
                labels.setdefault((each.id, each.detail), []).append(each.label)
    listed = [Part(*key[:1], count, key[1], tuple(labels.get(key, ()))) for key, count in found.items() if count]
    return tuple(sorted(listed, key=lambda part: _ORDER.index(part.id)))


def lamps_of(unit: Unit) -> int:
    """Lamps of a unit [-]: a set of bulbs has one for each lead, a lamp that is there already none."""
    if unit.is_there:
        return 0
    return sum(lead.lamps for lead in unit.leads if lead.technology == "led") if unit.in_socket else unit.lamps


def spool_length_m(wires: Iterable[Wiring]) -> int:
    """Wire to have at hand [m], rounded up to whole metres."""
    return ceil(sum(wire.cut_m for wire in wires) - 1e-9)


def between_vehicles(wires: Iterable[Wiring]) -> tuple[Wiring, ...]:
    """The wires that go from one vehicle to a towed one: they meet in a plug and a socket between the two."""

    def is_towed(zone: str) -> bool:
        return zones()[zone].along >= TOWED_FROM

    return tuple(wire for wire in wires if len({is_towed(end.spot.zone) for end in wire.ends}) > 1)


def _lamps(design: Design, accessory: Accessory) -> Iterator[_Found]:
    new = [(unit.name, lamps_of(unit)) for unit in accessory.units if lamps_of(unit)]
    in_themselves = design.brings.get("self_switching_bulb", 0)  # such a bulb is the lamp itself
    bought_for = f"{design.system_v} V"
    for name, count in new:
        yield _Found("lamp", count, bought_for, f"{name} ({count})" if count > 1 else name)
    yield _Found("lamp", -min(in_themselves, sum(count for _, count in new)), bought_for)
    for id, count in design.brings.items():
        yield _Found(id, count, bought_for)
    for unit in accessory.units:
        if unit.is_removable:
            yield _Found("plug", 1, f"{len(unit.leads) + 1} poles")


def _wires(design: Design, accessory: Accessory) -> Iterator[_Found]:
    for name in dict.fromkeys(wire.conductor.name for wire in design.wires):
        yield _Found("wire", spool_length_m(wire for wire in design.wires if wire.conductor.name == name), name)
    yield _Found("tie", ceil(sum(leg.length_m for leg in legs_of(design.wires)) / TIE_M))
    poles = len(between_vehicles(design.wires))
    if poles:
        yield _Found("tow_plug", 1, f"{poles} poles")


def _fitted(design: Design, accessory: Accessory) -> Iterator[_Found]:
    ends = [(end.what, end.terminal, wire) for wire in design.wires for end in wire.ends if not end.is_flying]
    for part in design.parts:
        if part.part in FUSED:
            yield _Found("fuse", 1, fuse_name(part.value), part.label)
            yield _Found(FUSED[part.part], 1)
        else:
            own = [(terminal, wire) for what, terminal, wire in ends if what == part.label]
            most_a = max((wire.load_a for _, wire in own), default=0.0)
            yield _Found(part.part, 1, _detail(part, {terminal for terminal, _ in own}, most_a), part.label)
        if part.part == "relay":
            yield _Found("relay_socket", 1)
        if part.part in SCREWS:
            yield _Found("screw", SCREWS[part.part])
        if part.part in HOT:
            yield _Found("heat_paste", 1)
        for what, _, wire in ends:
            if what == part.label:
                yield _Found("terminal", 1, wire.conductor.sleeve_colour)
    yield _Found("blind_plug", len(design.sealed))


def _detail(part: Fitted, used: set[str], most_a: float) -> str:
    """Its value; of a relay also which contact form it must have, of a switch what it must carry."""
    if part.part == "switch":
        return f"carries at least {ceil(SWITCH_MARGIN * most_a)} A DC"
    if part.part != "relay":
        return part.value
    form = "changeover (30, 87, 87a)" if "87a" in used else "make contact (30, 87) or changeover"
    return f"{part.value}, {form}"


def _joints(design: Design, accessory: Accessory) -> Iterator[_Found]:
    for name in dict.fromkeys(join.spot.name for join in design.joins if join.method == "t_harness"):
        yield _Found("t_harness", 1, name)
    for join in design.joins:
        if join.method == BUS:
            yield _Found("bus", 1, f"{len(join.members)} ways")
            yield _Found("ring_terminal", len(join.members), "for the bus")
        elif join.fit is None or join.method in ("socket", "stays", "fuse_tap", "t_harness"):
            continue
        elif join.method == "solder":
            yield _Found("solder", 1)
            yield _Found("fusing_tape", 1) if join.is_tap else _Found("sleeve", 1, f"{join.fit.sleeve_mm:g} mm")
        elif join.method == "displacement_tap":
            yield _Found("displacement_tap", 1, join.fit.connector_colour)
        else:
            yield _Found("disconnect" if join.method == "disconnect" else "joint", 1, join.fit.connector_colour)
            yield _Found("sleeve", 1, f"{join.fit.sleeve_mm:g} mm")


def _ends(design: Design, accessory: Accessory) -> Iterator[_Found]:
    for wire in design.wires:
        studs = sum(end.kind in (EndKind.BATTERY, EndKind.GROUND) for end in wire.ends)
        yield _Found("ring_terminal", studs, wire.conductor.sleeve_colour)
    yield _Found("grommet", len(_reached(design.wires)))
    yield _Found("cap", len(design.capped))


SCREWS = {"relay": 1, "timed_relay": 1, "load_resistor": 2, "decoder": 2, "separator": 2, "converter": 2}
"""Self-tapping screws that a part is fitted with, by its line [-] (common practice)."""
HOT = ("load_resistor", "decoder")
"""Parts that sit on metal with heat paste."""
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
    "tow_plug",
    "joint",
    "disconnect",
    "displacement_tap",
    "solder",
    "sleeve",
    "fusing_tape",
    "terminal",
    "ring_terminal",
    "screw",
    "heat_paste",
    "grommet",
    "blind_plug",
    "cap",
    "tie",
)
"""The order in which parts are laid out."""
