"""Wire lengths: distances between places are said once; a wire takes the shortest chain of them."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, field
from heapq import heappop, heappush

from electrics.errors import FactError
from electrics.reference.zones import NEAR_M, usual_m

__all__ = ["LONGEST_M", "SHORTEST_M", "Route", "Routes", "Spot", "check_distance"]

SHORTEST_M, LONGEST_M = 0.05, 60.0
"""What a distance between two places of a vehicle, or of two in tow, can be [m]."""


@dataclass(frozen=True)
class Spot:
    """A place that wires go to.

    Attributes
    ----------
    name : str
        As a person would say it.
    zone : str
        Where on the vehicle it is, roughly; see `electrics.reference.zones`.
    row : int
        The how many-eth of lamps in a row it is, counted from 0 [-].
    spacing_m : float
        From one lamp of a row to the next [m].
    near : str
        The place that it is beside, `NEAR_M` away; empty where it is known by itself.
    """

    name: str
    zone: str
    row: int = 0
    spacing_m: float = field(default=0.0, compare=False)
    near: str = ""


@dataclass(frozen=True)
class Route:
    """A way from place to place: its length [m], the places it goes by, and whether any of it is assumed."""

    m: float
    by: tuple[str, ...]
    is_assumed: bool


@dataclass(frozen=True)
class Routes:
    """Distances between places.

    Attributes
    ----------
    stated : mapping of frozenset of str to float
        By the names of two places [m].
    body : str
        Kind of vehicle, for what nobody has stated.
    """

    stated: Mapping[frozenset[str], float] = field(default_factory=dict)
    body: str = "car"

    def between(self, first: Spot, second: Spot) -> Route:
        """The shortest chain of stated distances; where none leads there, a usual length."""
        if first.name == second.name:
            spacing_m = max(first.spacing_m, second.spacing_m)
            return Route(abs(first.row - second.row) * spacing_m, (first.name,), False)
        in_row = first.row * first.spacing_m + second.row * second.spacing_m
        direct = self.stated.get(frozenset((first.name, second.name)))
        if direct is not None and (first.near or second.near):
            return Route(direct + in_row, (first.name, second.name), False)
        beside = self._beside(first, second)
        if beside is not None:
            length, by = beside
            return Route(round(length + in_row, 3), by, True)
        chain = self._chain(first.name, second.name)
        if chain is not None:
            length, by = chain
            return Route(length + in_row, by, False)
        usual = usual_m(self.body, first.zone, second.zone)
        return Route(usual + in_row, (first.name, second.name), usual > 0)

    def _beside(self, first: Spot, second: Spot) -> tuple[float, tuple[str, ...]] | None:
        """The chain to the neighboring place, and the last step from there."""
        names = [spot.near or spot.name for spot in (first, second)]
        steps = [NEAR_M if spot.near else 0.0 for spot in (first, second)]
        if not any(steps):
            return None
        chain = (0.0, (names[0],)) if names[0] == names[1] else self._chain(*names)
        if chain is None:
            return None
        length, by = chain
        ends = [(spot.name,) if spot.near else () for spot in (first, second)]
        return length + sum(steps), (*ends[0], *by, *ends[1])

    def _chain(self, first: str, second: str) -> tuple[float, tuple[str, ...]] | None:
        queue: list[tuple[float, tuple[str, ...]]] = [(0.0, (first,))]
        done: set[str] = set()
        while queue:
            length, by = heappop(queue)
            if by[-1] == second:
                return round(length, 3), by
            if by[-1] in done:
                continue
            done.add(by[-1])
            for pair, m in self.stated.items():
                if by[-1] in pair:
                    (other,) = pair - {by[-1]}
                    heappush(queue, (length + m, (*by, other)))
        return None


def check_distance(first: str, second: str, m: float) -> None:
    """Refuse a distance that cannot be: FactError."""
    if first == second:
        raise FactError("distances", f"“{first}” is said to be {m:g} m from itself. Expected two places.")
    if not SHORTEST_M <= m <= LONGEST_M:
        raise FactError(
            "distances",
            f"{m:g} m from {first} to {second} cannot be. Expected {SHORTEST_M:g} to {LONGEST_M:g} m; "
            "is it in metres?",
        )
