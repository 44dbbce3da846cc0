"""The build sheet's lists, read off the design: wires to cut, joints to make, parts to lay out."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass

from electrics.build.parts import Part, lamps_of, parts_of, spool_length_m
from electrics.design.accessories import Accessory
from electrics.design.design import Design, End, Fitted, Join, Wiring
from electrics.design.units import Unit

__all__ = [
    "BuildPlan",
    "Part",
    "build_of",
    "lamps_of",
    "parts_of",
    "spool_length_m",
]


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
        design.sealed,
        design.capped,
        unplugged=tuple(unit.name for unit in accessory.units if unit.is_removable),
        instead=tuple(unit.name for unit in accessory.units if unit.is_instead and not unit.in_socket),
        rewired=tuple(unit.name for unit in accessory.units if unit.is_there),
        cures=tuple(cures),
        fitted=design.parts,
        units=accessory.units,
    )
