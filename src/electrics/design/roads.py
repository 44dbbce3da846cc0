"""Amp-meters of the shared wires of several lamps, along the tree that joins them."""

from __future__ import annotations

from collections.abc import Callable, Mapping, Sequence

from electrics.design.routes import Spot

__all__ = ["amp_metres", "tree"]


def tree(spots: Sequence[Spot], between: Callable[[Spot, Spot], tuple[bool, float]]) -> list[tuple[Spot, Spot]]:
    """The shortest tree between places (Prim), from the first of them.

    Parameters
    ----------
    spots : sequence of Spot
    between : callable
        Orders the edge of two places, the least first: `(is_secondary, length [m])`.
    """
    joined, edges = [spots[0]], []
    while len(joined) < len(spots):
        first, second = min(
            ((a, b) for a in joined for b in spots if b not in joined), key=lambda pair: between(*pair)
        )
        joined.append(second)
        edges.append((first, second))
    return edges


def amp_metres(
    start: Spot, loads_a: Mapping[Spot, float], between: Callable[[Spot, Spot], float]
) -> dict[Spot, float]:
    """Amps times metres from a start to each of some lamps, along the tree that joins them all.

    Each stretch carries what all lamps behind it draw.

    Parameters
    ----------
    start : Spot
    loads_a : mapping of Spot to float
        What is drawn at each place [A].
    between : callable
        How far two places are apart [m].

    Returns
    -------
    dict of Spot to float
        By place [A m].
    """
    spots = list(dict.fromkeys((start, *sorted(loads_a, key=lambda spot: (spot.name, spot.row)))))
    edges = tree(spots, lambda a, b: (False, between(a, b)))
    parents = {child: parent for parent, child in edges}
    carried = dict(loads_a)
    for parent, child in reversed(edges):  # a child is always joined after its parent
        if parent != start:
            carried[parent] = carried.get(parent, 0.0) + carried[child]
    found = {start: 0.0}
    for parent, child in edges:
        found[child] = found[parent] + carried[child] * between(parents[child], child)
    return {spot: found[spot] for spot in loads_a}
