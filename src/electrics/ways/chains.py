"""Two forms in series: the output of one is a source of the next, as with three circuits on one lamp.

Sought only where no single form is right, and kept only where it is: of two forms there are thousands.
"""

from __future__ import annotations

from collections import Counter
from collections.abc import Sequence
from functools import lru_cache
from types import MappingProxyType
from typing import TypeVar

from electrics.circuit.elements import Element
from electrics.design.forms import FORMS, DiodeOr, Form
from electrics.design.sources import Levels, Source
from electrics.design.units import Lead
from electrics.vocabulary import Polarity

__all__ = ["INNER", "OUTER", "Chain", "chain"]

Item = TypeVar("Item")

_BY_ID = {form.id: form for form in FORMS}
INNER = tuple(_BY_ID[id] for id in ("diode_or", "and", "and_not", "held_open", "from_ground"))
"""What may stand in front."""
OUTER = tuple(
    _BY_ID[id]
    for id in ("diode_or", "relay_or", "and", "and_not", "self_switching", "held_open", "converter", "to_ground")
)
"""What may stand behind it."""


class Chain(Form):
    """A form one of whose sources is what another form gives.

    Attributes
    ----------
    outer, inner : Form
    place : int
        Which source of the outer one that is.
    """

    def __init__(self, outer: Form, inner: Form, place: int) -> None:
        self.outer, self.inner, self.place = outer, inner, place
        self.id = f"{outer.id}-{place + 1}-{inner.id}"
        behind = outer.loads[place]
        self.takes = self._spliced(outer.takes, inner.takes)
        self.loads = self._spliced(outer.loads, [behind if load == "lamp" else load for load in inner.loads])
        self.gives = outer.gives
        self.parts, self.cuts = outer.parts + inner.parts, outer.cuts + inner.cuts
        self.brings = Counter(outer.brings) + Counter(inner.brings)
        self.has_own_supply = outer.has_own_supply or inner.has_own_supply
        self.led_a = outer.led_a

    def got(self, sources: Sequence[Levels]) -> Levels:
        return self.outer.got(self.outer_of(sources, self.inner.got(self.inner_of(sources))))

    def fits(self, sources: Sequence[Source]) -> bool:
        inner = self.inner_of(sources)
        if not self.inner.fits(inner):
            return False
        between = Source("", self.inner.got([source.levels for source in inner]), self.inner.gives)
        return self.outer.fits(self.outer_of(sources, between))

    def suits(self, lead: Lead) -> bool:
        return self.outer.suits(lead) and self.inner.suits(lead)

    def build(self, name: str, nodes: Sequence[str], out: str) -> tuple[Element, ...]:
        between = f"{name}_between"
        first = self.inner.build(f"{name} first", self.inner_of(nodes), between)
        return first + self.outer.build(name, self.outer_of(nodes, between), out)

    def parted(
        self, name: str, nodes: Sequence[str], out: str
    ) -> tuple[tuple[Element, ...], tuple[Element, ...], tuple[str, ...]]:
        between = f"{name}_between"
        first = self.inner.build(f"{name} first", self.inner_of(nodes), between)
        outside, inside, feeds = self.outer.parted(name, self.outer_of(nodes, between), out)
        return first + outside, inside, feeds

    def inner_of(self, items: Sequence[Item]) -> Sequence[Item]:
        """Those of some items, one for each source, that are the inner form's."""
        return items[self.place : self.place + len(self.inner.takes)]

    def outer_of(self, items: Sequence[Item], between: Item) -> Sequence[Item]:
        """Those that are the outer form's, with what comes through the inner one in its place."""
        return [*items[: self.place], between, *items[self.place + len(self.inner.takes) :]]

    def _spliced(self, outer: Sequence[Item], inner: Sequence[Item]) -> tuple[Item, ...]:
        return (*outer[: self.place], *inner, *outer[self.place + 1 :])


class ThreeDiodes(Form):
    """Three circuits on one lamp, a diode each."""

    id, parts, brings = "three_diodes", 3, MappingProxyType({"diode": 3})
    takes, loads, is_symmetric = (Polarity.POSITIVE,) * 3, ("lamp",) * 3, True

    def got(self, sources: Sequence[Levels]) -> Levels:
        two = DiodeOr()
        return two.got([two.got(sources[:2]), sources[2]])

    def build(self, name: str, nodes: Sequence[str], out: str) -> tuple[Element, ...]:
        return DiodeOr().build(name, nodes, out)


_THREE_DIODES = ThreeDiodes()


@lru_cache(maxsize=256)
def chain(outer: Form, inner: Form, place: int) -> Form:
    """A form behind another; always the same object for the same chain, so caches by form work.

    Parameters
    ----------
    outer, inner : Form
        Of `OUTER` and `INNER`; one diode-OR behind another is one of three.
    place : int
        Which source of the outer form the inner one gives [-].

    Returns
    -------
    Form
        Its sources are the outer form's, those of the inner one in its place.
    """
    if isinstance(outer, DiodeOr) and isinstance(inner, DiodeOr):
        return _THREE_DIODES
    return Chain(outer, inner, place)
