"""Numbers of wires and joints that stay: what is taped to a wire holds whatever else is changed.

A wire is known by its role and its two ends, a joint by its place and the first lasting end in it. Numbers that were
kept stay with what they stand on and are given to nothing else; what is new takes the next ones.
"""

from __future__ import annotations

from collections import Counter
from collections.abc import Mapping, Sequence
from dataclasses import replace
from typing import NamedTuple

from electrics.design.design import Design, End, EndKind, Join, Wiring

__all__ = ["LabelKey", "anchor_of", "label_keys", "labelled"]

ANCHORS = (EndKind.PIN, EndKind.SUPPLY, EndKind.UNIT, EndKind.PART)
JOINT, WIRE = "joint", "wire"


class LabelKey(NamedTuple):
    """What a number stands on, by names: of a wire its two ends, of a joint its place and what it is about."""

    kind: str
    place: str
    subject: str


def anchor_of(join: Join, wires: Sequence[Wiring]) -> End:
    """The end that a joint is known by: a factory wire, a lead, a part's; else where one of its wires ends."""
    by_name = {f"{WIRE} {wire.label}": wire for wire in wires}
    far = [
        end
        for member in join.members
        if member.kind is EndKind.WIRE and member.what in by_name
        for end in by_name[member.what].ends
        if end.kind is not EndKind.JOINT
    ]
    lasting = [end for kind in ANCHORS for end in join.members if end.kind is kind]
    return next(iter((*lasting, *far)), join.end)


def label_keys(design: Design) -> dict[LabelKey, str]:
    """The numbers of a design by what they stand on."""
    joins = {join.label: _text(anchor_of(join, design.wires)) for join in design.joins}
    found: dict[LabelKey, str] = {}
    seen: Counter[LabelKey] = Counter()

    def add(key: LabelKey, label: str) -> None:
        seen[key] += 1
        found[key if seen[key] == 1 else key._replace(kind=f"{key.kind} {seen[key]}")] = label

    for wire in design.wires:
        first, second = (joins[end.what] if end.kind is EndKind.JOINT else _text(end) for end in wire.ends)
        add(LabelKey(f"{WIRE} {wire.role}", first, second), wire.label)
    for join in design.joins:
        add(LabelKey(JOINT, join.spot.name, joins[join.label]), join.label.removeprefix(f"{JOINT} "))
    return found


def labelled(design: Design, kept: Mapping[LabelKey, str]) -> Design:
    """A design with the numbers that were kept.

    Parameters
    ----------
    design : Design
        Numbered as it was laid out.
    kept : mapping of LabelKey to str

    Returns
    -------
    Design
        The same where nothing was kept. Wires and joints stand in the order of their numbers.
    """
    if not kept:
        return design
    own = label_keys(design)
    wires = _numbered({key: label for key, label in own.items() if key.kind.startswith(WIRE)}, kept, WIRE)
    joints = _numbered({key: label for key, label in own.items() if key.kind.startswith(JOINT)}, kept, JOINT)

    def end(each: End) -> End:
        if each.kind is EndKind.JOINT:
            return replace(each, what=f"{JOINT} {joints[each.what.removeprefix(f'{JOINT} ')]}")
        if each.kind is EndKind.WIRE:
            return replace(each, what=f"{WIRE} {wires[each.what.removeprefix(f'{WIRE} ')]}")
        return each

    renamed = [
        replace(wire, label=wires[wire.label], ends=(end(wire.ends[0]), end(wire.ends[1]))) for wire in design.wires
    ]
    rejoined = [
        replace(join, label=end(join.end).what, members=tuple(map(end, join.members))) for join in design.joins
    ]
    return replace(
        design,
        wires=tuple(sorted(renamed, key=lambda wire: int(wire.label))),
        joins=tuple(sorted(rejoined, key=lambda join: int(join.label.removeprefix(f"{JOINT} ")))),
    )


def _numbered(own: Mapping[LabelKey, str], kept: Mapping[LabelKey, str], kind: str) -> dict[str, str]:
    """The number of each by its number as laid out."""
    taken = {int(label) for key, label in kept.items() if key.kind.startswith(kind) and label.isdecimal()}
    following = iter(range(max(taken, default=0) + 1, max(taken, default=0) + len(own) + 1))
    found: dict[str, str] = {}
    for key, label in sorted(own.items(), key=lambda item: int(item[1])):
        number = kept.get(key, "")
        is_free = number.isdecimal() and number not in found.values()
        found[label] = number if is_free else str(next(following))
    return found


def _text(end: End) -> str:
    return " ".join(filter(None, (end.what, end.terminal)))
