"""The search: every small network of every form over the sources there are, compared in all states and ranked.

Both flash phases count, and both variants of `brake_with_hazard` where the vehicle's is not known. Where no form
alone is right, two of them one behind the other. Ranked by wrong states first (a candidate that is wrong anywhere is
barred), then by what forbids it, parts, cuts in the factory loom, and whether it comes off again without a trace.
"""

from __future__ import annotations

from collections.abc import Iterable, Iterator, Sequence
from dataclasses import dataclass
from functools import lru_cache
from itertools import combinations, compress, permutations

import numpy as np
from numpy.typing import NDArray

from electrics.hookup.accessories import Lead
from electrics.hookup.chains import INNER, OUTER, chain
from electrics.hookup.forms import FORMS, Form
from electrics.hookup.sources import CODES, Levels, Source
from electrics.hookup.states import TABLE_STATES, controls_in, controls_of
from electrics.signals import Scenario, Signal, signal
from electrics.vocabulary import Arrangement, BrakeWithHazard, Control, Function, Polarity, State

__all__ = ["Candidate", "scenarios_of", "search", "source_levels", "wanted_levels"]

MOST_CHAINS = 12
"""Chains of two forms that are worth looking at [-]."""
_LEVELS = {code: level for level, code in CODES.items()}


@dataclass(frozen=True)
class Candidate:
    """One way to give a lead what it wants, judged.

    Attributes
    ----------
    key : str
        Stable: form and sources, `and_not:a,b`.
    got : Levels (n_variants, n_states, 2)
        What the lamp gets.
    wrong : tuple of State
        Where that is not what is wanted, in any variant or phase.
    refusals : tuple of str
        Rule ids that forbid it whatever it gives.
    states : tuple of State
        What it was compared in.
    wanted : Levels (n_variants, n_states, 2)
        What it was compared with.
    """

    form: Form
    sources: tuple[Source, ...]
    got: Levels
    wrong: tuple[State, ...]
    refusals: tuple[str, ...]
    states: tuple[State, ...]
    wanted: Levels

    @property
    def key(self) -> str:
        return f"{self.form.id}:{','.join(source.key for source in self.sources)}"

    @property
    def is_right(self) -> bool:
        return not self.wrong and not self.refusals

    def signal(self, state: State) -> Signal:
        """What the lamp gets in a state, in the vehicle's first variant."""
        return _signal(self.got[0, self.states.index(state)])

    def difference(self, state: State) -> tuple[int, Signal, Signal]:
        """The first variant in which a state is wrong (of all, where none is), and what it gets and wants there."""
        n = self.states.index(state)
        variant = int((self.got[:, n] != self.wanted[:, n]).any(axis=1).argmax())
        return variant, _signal(self.got[variant, n]), _signal(self.wanted[variant, n])

    @property
    def cuts(self) -> int:
        """Factory wires that are opened: of what is one's own none is."""
        opened = zip(self.sources, self.form.loads, strict=True)
        return min(self.form.cuts, sum(load == "lamp" and not source.is_own for source, load in opened))

    @property
    def cost(self) -> tuple[int, ...]:
        """What it is ranked by, least first."""
        wounds = sum(not source.is_at_fuse for source in self.sources)
        return len(self.wrong), len(self.refusals), self.form.parts, self.cuts, wounds


def scenarios_of(
    arrangement: Arrangement, brake_with_hazard: BrakeWithHazard | None = None, drl: str = ""
) -> tuple[Scenario, ...]:
    """The variants of a vehicle that a hook-up must be right in; `drl` is how its daytime lamps burn, if known."""
    if arrangement is Arrangement.SEPARATE:
        return (Scenario(arrangement, drl=drl),)
    known = (brake_with_hazard,) if brake_with_hazard else tuple(BrakeWithHazard)
    return tuple(Scenario(arrangement, who, drl) for who in known)


def source_levels(
    function: Function, variant: str, scenarios: Sequence[Scenario], states: Sequence[State] = TABLE_STATES
) -> Levels:
    """What a circuit carries in every variant, state and phase, (n_variants, n_states, 2)."""
    return _codes([[signal(function, state, scenario, variant) for state in states] for scenario in scenarios])


def wanted_levels(lead: Lead, scenarios: Sequence[Scenario], states: Sequence[State] = TABLE_STATES) -> Levels:
    """What a lead wants in every variant, state and phase, (n_variants, n_states, 2)."""
    return _codes([[lead.wanted.signal(state, scenario) for state in states] for scenario in scenarios])


def search(
    lead: Lead, sources: Sequence[Source], wanted: Levels, states: tuple[State, ...] = TABLE_STATES
) -> tuple[Candidate, ...]:
    """Every candidate for a lead, best first.

    Parameters
    ----------
    lead : Lead
    sources : sequence of Source
    wanted : Levels (n_variants, n_states, 2)
    states : tuple of State
        What all levels are of.

    Returns
    -------
    tuple of Candidate
        All of them, the barred ones too: what a person picks by hand is judged by the same rules. Networks of several
        sources only where all of these are settled.
    """
    networks = [each for each in _networks(lead.polarity, tuple(sources)) if each.form.suits(lead)]
    if not networks:
        return ()
    differs = (np.stack([each.got for each in networks]) != wanted).any(axis=(1, 3))
    found = [
        Candidate(each.form, each.sources, each.got, tuple(compress(states, wrong)), each.refusals, states, wanted)
        for each, wrong in zip(networks, differs, strict=True)
    ]
    if not any(candidate.is_right for candidate in found):
        found += _chained(lead, tuple(sources), wanted, states)
    return tuple(sorted(found, key=lambda candidate: (*candidate.cost, candidate.key)))


def _chained(lead: Lead, sources: tuple[Source, ...], wanted: Levels, states: tuple[State, ...]) -> list[Candidate]:
    """The best of two forms, one behind the other, that give just what is wanted."""
    allowed = controls_in(lead.wanted)
    fitting = tuple(each for each in sources if each.is_settled and _hangs_on(each, allowed))
    fronts = [each for each in _networks(Polarity.POSITIVE, fitting) if each.form in INNER and not each.refusals]
    outers = [form for form in OUTER if form.gives is lead.polarity and form.suits(lead)]
    if not fronts:
        return []
    given = np.stack([each.got for each in fronts])
    found: dict[str, Candidate] = {}
    for outer, before, after in _beside(outers, fitting):
        got = outer.got([*(each.levels for each in before), given, *(each.levels for each in after)])
        for n in np.flatnonzero((got == wanted).all(axis=(1, 2, 3))):
            form = chain(outer, fronts[n].form, len(before))
            chosen = (*before, *fronts[n].sources, *after)
            if form.is_symmetric:
                chosen = tuple(sorted(chosen, key=lambda source: source.key))
            if len(set(chosen)) == len(chosen) and form.fits(chosen):
                one = Candidate(form, chosen, got[n], (), form.refusals(chosen), states, wanted)
                found.setdefault(one.key, one)
    return sorted(found.values(), key=lambda candidate: (*candidate.cost, candidate.key))[:MOST_CHAINS]


def _hangs_on(source: Source, controls: frozenset[Control]) -> bool:
    """Whether a source does nothing but by these controls: else some state that is not compared might show it."""
    return source.is_own or (source.function is not None and controls_of(source.function) <= controls)


@dataclass(frozen=True)
class _Network:
    """A form on its sources, whatever is wanted of it."""

    form: Form
    sources: tuple[Source, ...]
    got: Levels
    refusals: tuple[str, ...]


@lru_cache(maxsize=16)
def _networks(gives: Polarity, sources: tuple[Source, ...]) -> tuple[_Network, ...]:
    """Every network of some sources: the same for all leads, so made once for them."""
    found = []
    for form in FORMS:
        if form.gives is gives:
            for chosen in _choices(form, sources):
                got = form.got([source.levels for source in chosen])
                if not _is_idle(got, chosen):
                    found.append(_Network(form, chosen, got, form.refusals(chosen)))
    return tuple(found)


def _choices(form: Form, sources: Sequence[Source]) -> list[tuple[Source, ...]]:
    """What a form may stand on; networks of several are built only on circuits that are known."""
    if len(form.takes) > 1:
        sources = [source for source in sources if source.is_settled]
    pick = combinations if form.is_symmetric else permutations
    return [chosen for chosen in pick(sources, len(form.takes)) if _takes(form.takes, chosen) and form.fits(chosen)]


def _beside(
    forms: Iterable[Form], sources: Sequence[Source]
) -> Iterator[tuple[Form, tuple[Source, ...], tuple[Source, ...]]]:
    """What stands before and behind each place of each form that another form can give."""
    for form in forms:
        for place, taken in enumerate(form.takes):
            if taken is Polarity.POSITIVE and not (place and form.is_symmetric):
                takes = (*form.takes[:place], *form.takes[place + 1 :])
                beside = (others for others in permutations(sources, len(takes)) if _takes(takes, others))
                yield from ((form, others[:place], others[place:]) for others in beside)


def _takes(takes: Sequence[Polarity], sources: Sequence[Source]) -> bool:
    return all(source.polarity is polarity for source, polarity in zip(sources, takes, strict=True))


def _is_idle(got: Levels, sources: Sequence[Source]) -> bool:
    """Whether a network of two sources gives just what one of them gives, or nothing at all: parts for nothing."""
    if len(sources) == 1:
        return False
    return not got.any() or any(np.array_equal(got, source.levels) for source in sources)


def _signal(phases: NDArray[np.int8]) -> Signal:
    lit, dark = phases
    return Signal(_LEVELS[int(lit)], _LEVELS[int(dark)])


def _codes(signals: list[list[Signal]]) -> Levels:
    return np.array([[[CODES[found.lit], CODES[found.dark]] for found in row] for row in signals], dtype=np.int8)
