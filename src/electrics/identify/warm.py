"""What is worked out once for every vehicle, before the first reading is typed."""

from __future__ import annotations

from electrics.document.places import AccessPoint, Evidence, Setup, Side, Wire
from electrics.formats.reading_text import parse_reading
from electrics.identify.belief import identify
from electrics.identify.kinds import access_kinds, count_prior
from electrics.identify.plan import next_steps
from electrics.vocabulary import Arrangement, parse_state

__all__ = ["warm_up"]

SUPPLY_V = 12.6
MOST_WIRES = 12


def warm_up() -> None:
    """Weigh and plan a place of every kind: priors, displays and what they are worth asking for are kept.

    A server calls it before it forks, so that all its workers share them.
    """
    for kind in access_kinds():
        sides = (Side.LEFT, Side.RIGHT) if kind.is_sided else (Side.NONE,)
        for side in sides:
            for arrangement in Arrangement:
                for wires in range(1, MOST_WIRES + 1):
                    count_prior(kind.id, side, arrangement, wires)
            read = Evidence("1", Setup(parse_state("rest")), parse_reading("0.0"), SUPPLY_V)
            (belief,) = identify([AccessPoint("", (Wire("1"),), (read,), kind.id, side)])
            next_steps(belief, computer_fed=False)
