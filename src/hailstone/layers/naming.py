"""Places of a document by their names, or by reference to their rows: what is planned, and what is kept."""

from __future__ import annotations

from collections.abc import Callable, Iterable, Mapping
from dataclasses import replace
from functools import partial

from electrics.document.job import JobFacts
from electrics.document.units import UnitFacts
from hailstone.layers.refs import name_of, ref_of

__all__ = ["named", "named_units", "referring"]

Spoken = Callable[[str], str]


def named(facts: JobFacts, names: Mapping[str, str]) -> JobFacts:
    """A document with the names of today in place of references.

    Parameters
    ----------
    names : mapping of str to str
        By reference, as `refs.names_by_ref` has them.
    """
    return _spoken(facts, partial(name_of, names=names))


def referring(facts: JobFacts, names: Mapping[str, str]) -> JobFacts:
    """A document with references in place of the names that have rows; what has none stays a name."""
    return _spoken(facts, partial(ref_of, names=names))


def named_units(units: Iterable[UnitFacts], names: Mapping[str, str]) -> tuple[UnitFacts, ...]:
    """Lamps and parts with the names of today of where they are."""
    return _units(units, partial(name_of, names=names))


def _spoken(facts: JobFacts, say: Spoken) -> JobFacts:
    labels = facts.hookup.labels
    return replace(
        facts,
        units=_units(facts.units, say),
        distances={frozenset(map(say, pair)): m for pair, m in facts.distances.items()},
        hookup=replace(
            facts.hookup, labels=tuple((kind, say(place), say(what), label) for kind, place, what, label in labels)
        ),
    )


def _units(units: Iterable[UnitFacts], say: Spoken) -> tuple[UnitFacts, ...]:
    return tuple(replace(unit, place=say(unit.place), instead_of=say(unit.instead_of)) for unit in units)
