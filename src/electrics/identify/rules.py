"""Rules about wires: what somebody said they do, against what was measured on them."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from dataclasses import dataclass

from electrics.document.places import Evidence, PlaceFacts
from electrics.identify.belief import Belief
from electrics.judge.finding import Finding, Severity
from electrics.judge.rule import Rule
from electrics.vocabulary import Function

__all__ = ["PLACE_RULES", "Odd", "PlaceCase"]


@dataclass(frozen=True)
class Odd:
    """A wire that a person decided on and that does not measure like that.

    Attributes
    ----------
    said, reads_as : Function
        What was decided, and what the readings look like.
    readings : tuple of Evidence
        Those that speak against it.
    """

    place: str
    pin: str
    said: Function
    reads_as: Function
    readings: tuple[Evidence, ...]


@dataclass(frozen=True)
class PlaceCase:
    """One access point with what is believed of its wires, and those that do not measure as somebody said."""

    place: PlaceFacts
    belief: Belief
    odd: tuple[Odd, ...] = ()


class SaidAgainstReadings(Rule[PlaceCase]):
    """A function that somebody decided on and that the wire's own readings speak against."""

    id = "said_against_readings"

    def look(self, case: PlaceCase) -> Iterator[Finding]:
        for odd in case.odd:
            states = tuple(str(each.setup.state) for each in odd.readings)
            yield self.found(function=odd.said, place=odd.place, pin=odd.pin, states=states, detail=str(odd.reads_as))


class ClaimDisputed(Rule[PlaceCase]):
    """A wire that a chart, a wire book or another said to be one thing and that is settled as another by readings."""

    id, severity = "claim_disputed", Severity.DOUBT

    def look(self, case: PlaceCase) -> Iterator[Finding]:
        decided = {pin for pin, *_ in case.place.said}
        for wire in case.belief.wires:
            if wire.pin in decided:
                continue
            for function in dict.fromkeys(claim.function for claim in wire.disputed):
                at = {"place": case.place.point.name, "pin": wire.pin}
                yield self.found(function=wire.function, detail=str(function), **at)


PLACE_RULES: Sequence[Rule[PlaceCase]] = (SaidAgainstReadings(), ClaimDisputed())
