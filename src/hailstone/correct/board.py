"""The lamp board: a vehicle from behind and in front, its lamps as the solved circuit lights them in one state."""

from __future__ import annotations

from collections.abc import Iterator, Mapping
from dataclasses import dataclass, replace

from electrics.circuit.simulate import GLOWS, Simulation
from electrics.design.design import OTHER_LAMPS
from electrics.reference.zones import zone_of
from electrics.vocabulary import State

__all__ = ["Board", "BoardGlow", "board_of"]

COLOURS = {
    "tail": "red",
    "stop": "red",
    "turn": "amber",
    "signal": "amber",
    "marker": "amber",
    "reverse": "white",
    "license": "white",
    "position": "white",
    "beam": "white",
    "daytime": "white",
    "fog": "red",
}
ORDER = ("stop", "tail", "turn", "signal", "reverse", "fog", "position", "marker", "daytime", "beam", "license")
"""Lamps of a cluster from above."""
REAR, FRONT = "rear", "front"
LEFT_X, RIGHT_X, MIDDLE_X, TOP_Y, STEP_Y = 22, 98, 60, 62, 15
LONG, END_X, SIDE_Y, SIDE_STEP_Y = 240, 14, 28, 13
TOWED = "towed "


@dataclass(frozen=True)
class BoardGlow:
    """One lamp on the board.

    Attributes
    ----------
    opacity : float
        Its light, drawn [-].
    beat_s : float
        Of a flash, lit and dark together [s]; 0 where it does not flash.
    said : str
        `left rear turn lamp: 98 % of its light, flashing 90 a minute`.
    href : str
        Where what is wrong with it is drawn.
    """

    x: int
    y: int
    colour: str
    opacity: float
    beat_s: float
    is_wrong: bool
    is_added: bool
    said: str
    href: str = ""


@dataclass(frozen=True)
class Board:
    """A vehicle in a state: from behind, from in front, and the side of which something is on.

    Attributes
    ----------
    rear_body : str
        What is seen from behind: of a towing vehicle the one that it tows.
    is_right : bool
        The side is the right one.
    """

    title: str
    rear: tuple[BoardGlow, ...]
    front: tuple[BoardGlow, ...]
    rates: tuple[str, ...]
    side: tuple[BoardGlow, ...] = ()
    rear_body: str = "car"
    is_right: bool = False

    @property
    def lit(self) -> tuple[str, ...]:
        """Every lamp that gives light, in words."""
        return tuple(glow.said for glow in (*self.rear, *self.front) if glow.opacity > GLOWS)


def board_of(
    title: str,
    simulation: Simulation,
    state: State,
    added: Mapping[str, str],
    wrong: Mapping[str, str],
    body: str = "car",
) -> Board:
    """A board.

    Parameters
    ----------
    title : str
    simulation : Simulation
        That was solved in this state.
    state : State
    added : mapping of str to str
        Zone of each added lamp, by the name of its element.
    wrong : mapping of str to str
        Where to look, by the names of lamps and flashers that something is wrong with.
    body : str
        Of `electrics.reference.zones.bodies`.
    """
    rates = simulation.flash(state)
    faces: dict[str, list[BoardGlow]] = {REAR: [], FRONT: []}
    taken: dict[tuple[str, int], int] = {}
    is_rate_wrong = any(name in wrong for name in rates)
    is_towed = any(zone.startswith(TOWED) for zone in added.values())
    is_right = "right" in str(state).split("+")
    side: list[BoardGlow] = []
    for name, lit, dark in _lamps(simulation, state):
        zone = (added.get(name) or _zone(name)).removeprefix(TOWED)
        face = REAR if "rear" in zone else FRONT
        x = LEFT_X if "left" in zone else RIGHT_X if "right" in zone else MIDDLE_X
        at = taken[face, x] = taken.get((face, x), -1) + 1
        kind = _kind(name)
        flashes = abs(lit - dark) > GLOWS
        beats = [60 / rhythm.per_minute for rhythm in rates.values() if rhythm.per_minute]
        beat_s = beats[0] if flashes and beats else 0.0
        share = f"{max(lit, dark):.0%} of its light" if max(lit, dark) < 0.9 or max(lit, dark) > 1.1 else "lit"
        how = f", flashing {60 / beat_s:.0f} a minute" if beat_s else ""
        glow = BoardGlow(
            x,
            TOP_Y + STEP_Y * at,
            COLOURS[kind],
            min(max(lit, dark), 1.0),
            beat_s,
            name in wrong or (is_rate_wrong and flashes),
            name in added,
            f"{name}: {share if max(lit, dark) > GLOWS else 'dark'}{how}",
            wrong.get(name) or next((wrong[rate] for rate in rates if rate in wrong), ""),
        )
        faces[face].append(glow)
        if ("right" if is_right else "left") in zone and not (is_towed and face == REAR):
            at_end = LONG - END_X if (face == REAR) != is_right else END_X
            side.append(replace(glow, x=at_end, y=SIDE_Y + SIDE_STEP_Y * at))
    said = tuple(
        f"{rhythm.per_minute:.0f} a minute" if rhythm.per_minute else f"does not flash: {rhythm.word}"
        for rhythm in rates.values()
    )
    rear_body = "trailer" if is_towed else body
    shown = tuple(dict.fromkeys(said))
    return Board(title, tuple(faces[REAR]), tuple(faces[FRONT]), shown, tuple(side), rear_body, is_right)


def _lamps(simulation: Simulation, state: State) -> Iterator[tuple[str, float, float]]:
    """Every lamp that a board shows, with its light in both phases, clusters from above."""
    lit, dark = simulation.at(state), simulation.at(state, lit=False)
    names = [name for name, _ in simulation.light if not _is_hidden(name)]
    for name in sorted(dict.fromkeys(names), key=lambda name: ORDER.index(_kind(name))):
        yield name, lit.light(name), dark.light(name)


def _is_hidden(name: str) -> bool:
    return name.startswith(("dead lamp", "turn pilot", "trailer", "extra", OTHER_LAMPS))


def _kind(name: str) -> str:
    lead = name.rpartition(",")[2] if "," in name else name
    return next((kind for kind in ORDER if kind in lead), next((kind for kind in ORDER if kind in name), "tail"))


def _zone(name: str) -> str:
    """Where a factory lamp is, by its name: `left rear turn lamp`."""
    side = next((side for side in ("left", "right") if side in name), "")
    is_front = any(word in name for word in ("front", "position", "beam", "daytime", "side marker"))
    return zone_of("front" if is_front else "rear", side)
