"""Which controls feed a circuit that is added to a vehicle."""

from __future__ import annotations

from dataclasses import dataclass

from electrics.vocabulary import Function

SIDES = ("left", "right")


@dataclass(frozen=True)
class Feed:
    """Controls with which a circuit is on, in pulses, flashing."""

    full: tuple[str, ...] = ()
    dims: tuple[str, ...] = ()
    flashes: tuple[str, ...] = ()


EXTRA_FEEDS: dict[Function, Feed] = {
    Function.TAIL: Feed(full=("park",)),
    Function.STOP: Feed(full=("brake",)),
    Function.REVERSE: Feed(full=("reverse",)),
    Function.TAIL_STOP_DIMMED: Feed(full=("brake",), dims=("park",)),
    Function.LOW_BEAM: Feed(full=("low",)),
    Function.HIGH_BEAM: Feed(full=("high",)),
    Function.FOG_FRONT: Feed(full=("fog_front",)),
    Function.FOG_REAR: Feed(full=("fog_rear",)),
    **{
        Function(name.format(side)): feed
        for side in SIDES
        for name, feed in {
            "tail_{}": Feed(full=("park", f"park_{side}")),
            "turn_{}": Feed(flashes=(side, "hazard")),
            "stop_turn_{}": Feed(full=("brake",), flashes=(side, "hazard")),
            "tail_stop_turn_dimmed_{}": Feed(full=("brake",), dims=("park",), flashes=(side, "hazard")),
            "turn_park_dimmed_{}": Feed(dims=("park",), flashes=(side, "hazard")),
        }.items()
    },
}
"""What can be added to any vehicle as a circuit of its own."""
