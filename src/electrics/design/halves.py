"""One module that does the work of two halves."""

from __future__ import annotations

from collections.abc import Callable

from electrics.circuit.elements import Element
from electrics.design.dead_ends import is_unused

__all__ = ["combined"]


def combined(first: Element, other: Element, key: str, root: Callable[[str], str]) -> dict[str, str] | None:
    """The terminals of one module that does the work of two; None where it cannot."""
    mine, its = dict(first.nodes), dict(other.nodes)
    if key:
        tail = {name: node for name, node in its.items() if name.startswith("tail_")}
        if tail and "tail_in" not in mine:
            return {**mine, **tail}
        if key not in mine or key not in its:
            return None
        if root(mine[key]) != root(its[key]) or not is_unused(mine["right_out"]):
            return None
        return {**mine, "right_in": its["left_in"], "right_out": its["left_out"]}
    outs = {name for name in ("left_out", "right_out", "stop_out") if name in mine and name in its}
    sides = {root(mine[name]): name.removesuffix("_in") for name in ("left_in", "right_in") if name in mine}
    found = dict(mine)
    moved: dict[str, str] = {}
    for name in ("left_in", "right_in"):
        if name not in its:
            continue
        side = sides.get(root(its[name]))
        if side is None:
            side = next((free for free in ("left", "right") if free not in (*sides.values(), *moved.values())), None)
            if side is None:
                return None
            found[f"{side}_in"] = its[name]
        moved[name.removesuffix("_in")] = side
    for name in ("left_out", "right_out"):
        if name in its:
            to = f"{moved[name.removesuffix('_out')]}_out"
            if to in found:
                return None
            found[to] = its[name]
    if "stop_out" in its:
        if "stop_out" in outs:
            return None
        found["stop_out"] = its["stop_out"]
    return found
