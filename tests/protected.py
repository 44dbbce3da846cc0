"""Follows every feed of a build sheet as far as a fuse: no wire on the way may be thinner than the fuse before it asks."""

from __future__ import annotations

from collections import defaultdict

from electrics.design.design import EndKind

THROUGH = {
    "diode": [("anode", "cathode")],
    "relay": [("30", "87"), ("30", "87a"), ("86", "85")],
    "switch": [("from", "to")],
    "timed_relay": [("30", "87a")],
    "converter": [("supply", "left_out"), ("supply", "right_out")],
    "separator": [("supply", f"{name}_out") for name in ("stop", "left", "right", "tail")],
}
"""Where a part leads on; a fuse does, at its own rating."""
CLOSE_M = 0.2
"""From the battery to the fuse (common practice)."""
BATTERY_A = 1e6


def unprotected(found, build):
    """Wires behind a fuse that is larger than they bear (common practice by gauge), each with its source."""
    leads = _paths(build)
    ratings = {
        label: float(part.detail.split()[0]) for part in build.parts if part.id == "fuse" for label in part.labels
    }
    for end, rating_a in _sources(found, build):
        behind, queue = {}, [((end.what, end.terminal), rating_a)]
        while queue:
            at, fuse_a = queue.pop()
            if behind.get(at, 0.0) >= fuse_a:
                continue
            behind[at] = fuse_a
            what, terminal = at
            if what in ratings and terminal == "from":
                queue.append(((what, "to"), min(fuse_a, ratings[what])))
                continue
            for on, wire in leads[at]:
                if wire is not None and wire.routed_m > CLOSE_M and fuse_a > wire.conductor.largest_fuse_a:
                    yield end.what, wire.label, wire.conductor.name, fuse_a
                queue.append((on, fuse_a))


def _paths(build):
    """From each terminal on, with the wire that leads there; a way to ground bears what its load draws."""
    leads = defaultdict(list)

    def join(first, second, wire=None):
        leads[first].append((second, wire))
        leads[second].append((first, wire))

    for wire in build.wires:
        if wire.role != "ground":
            join(*((end.what, end.terminal) for end in wire.ends), wire)
    for each in build.joins:
        for member in each.members:
            if member.kind is not EndKind.WIRE:
                join((each.label, ""), (member.what, member.terminal))
    for part in build.parts:
        for label in part.labels:
            for first, second in THROUGH.get(part.id, ()):
                join((label, first), (label, second))
    return leads


def _sources(found, build):
    """Ends that are live from the vehicle, and the fuse before each [A]."""
    noted_a = {circuit.function: circuit.notes.host_fuse_a for circuit in found.hookup.circuits}
    functions = {tap.key: tap.wire.function for lead in found.hookup.leads for tap in lead.chosen.tapped}
    ends = [end for wire in build.wires for end in wire.ends]
    ends += [member for join in build.joins for member in join.members]
    for end in ends:
        if end.kind in (EndKind.BATTERY, EndKind.SUPPLY):
            yield end, BATTERY_A
        elif end.kind is EndKind.PIN and functions.get(end.key) in noted_a:
            yield end, noted_a[functions[end.key]]
