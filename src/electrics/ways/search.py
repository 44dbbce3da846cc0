"""The search: every small network of every form over the sources there are, compared in all states and ranked.

Most are wrong in some state of the table already. What is not is compared in every possible combination of the
controls that the wish or one of its sources hangs on (see `states`). Both flash phases count, and both variants of
`brake_with_hazard` where the vehicle's is not known. Where no form alone is right, two of them one behind the other.
Ranked by wrong states first (a candidate that is wrong anywhere is barred), then by what forbids it, coils that never
rest, parts, cuts in the factory loom, and whether it comes off again without a trace.
"""

from __future__ import annotations

from collections.abc import Iterable, Iterator, Sequence
from dataclasses import dataclass, replace
from functools import cached_property, lru_cache
from itertools import combinations, compress, permutations
from typing import Any, NamedTuple

import numpy as np
from numpy.typing import NDArray

from electrics.design.forms import FORMS, Form
from electrics.design.sources import CODES, Levels, Source, as_levels, wished
from electrics.design.states import TABLE_STATES, controls_in, every_state, is_hidden, is_never, states_for
from electrics.design.units import Lead
from electrics.design.wanted import Wanted
from electrics.document.way import WayKey
from electrics.signals import Scenario, Signal, daytime_of, low_beam_of, signal
from electrics.vocabulary import Arrangement, BrakeWithHazard, Control, Function, Polarity, State
from electrics.ways.chains import INNER, OUTER, chain

__all__ = ["Candidate", "scenarios_of", "search", "source_levels", "wanted_levels"]

MOST_CHAINS = 12
"""Chains of two forms that are worth looking at [-]."""
_LEVELS = {code: level for level, code in CODES.items()}


@dataclass(frozen=True)
class Candidate:
    """One way to give a lead what it wants, judged.

    Attributes
    ----------
    got : Levels (n_variants, n_states, 2)
        What the lamp gets.
    is_wrong : ndarray (n_states,)
        Where that is not what is wanted, in any variant or phase.
    n_wrong : int
        In how many states that is [-].
    refusals : tuple of str
        Rule ids that forbid it whatever it gives.
    states : tuple of State
        The states of the table, and beyond them the simplest that it is wrong in, if any.
    wanted : Levels (n_variants, n_states, 2)
        What it was compared with.
    """

    form: Form
    sources: tuple[Source, ...]
    got: Levels
    is_wrong: NDArray[np.bool_]
    n_wrong: int
    refusals: tuple[str, ...]
    states: tuple[State, ...]
    wanted: Levels
    wish: Wanted
    merits: Merits

    @property
    def key(self) -> str:
        """Stable: form and sources, `and_not:a,b`."""
        return self.merits.key

    @cached_property
    def wrong(self) -> tuple[State, ...]:
        """The states that it is wrong in."""
        return tuple(compress(self.states, self.is_wrong))

    @property
    def is_right(self) -> bool:
        return not self.refusals and not self.n_wrong

    def signal(self, state: State) -> Signal:
        """What the lamp gets in a state, on the vehicle's likeliest variant."""
        return _signal(self.got[0, self.states.index(state)])

    def difference(self, state: State) -> tuple[int, Signal, Signal]:
        """The first variant in which a state is wrong (of all, where none is), and what it gets and wants there."""
        n = self.states.index(state)
        variant = int((self.got[:, n] != self.wanted[:, n]).any(axis=1).argmax())
        return variant, _signal(self.got[variant, n]), _signal(self.wanted[variant, n])

    @property
    def tapped(self) -> frozenset[Function]:
        """The circuits of the vehicle that it taps, as far as they are known."""
        return frozenset(each.function for each in self.sources if each.function and not each.is_own)

    @property
    def trial_states(self) -> tuple[State, ...]:
        """The states that it is tried in on the circuit; see `states_for`."""
        return states_for([self.wish], [self.tapped])

    @property
    def cuts(self) -> int:
        """Number of factory wires that are cut; added wires do not count."""
        return self.merits.cuts

    @cached_property
    def cost(self) -> tuple[int, ...]:
        """Sort key, lowest first."""
        merits = self.merits
        return self.n_wrong, len(self.refusals), merits.held_coils, merits.parts, merits.cuts, merits.wounds


class Merits(NamedTuple):
    """Merits of a form on its sources that do not depend on the behavior wanted.

    Attributes
    ----------
    held_coils : int
        Coils that have voltage with everything off: they would empty the battery.
    cuts, wounds : int
        Factory wires that are opened, and sources that are not reached at the fuse box.
    """

    held_coils: int
    parts: int
    cuts: int
    wounds: int
    key: str

    @classmethod
    def of(cls, form: Form, sources: Sequence[Source]) -> Merits:
        loads = list(zip(sources, form.loads, strict=True))
        held_coils = sum(load == "coil" and source.is_live_at_rest for source, load in loads)
        cuts = min(form.cuts, sum(load == "lamp" and not source.is_own for source, load in loads))
        wounds = sum(not source.is_at_fuse for source in sources)
        return cls(
            held_coils, form.parts, cuts, wounds, str(WayKey(form.id, tuple(source.key for source in sources)))
        )


def scenarios_of(
    arrangement: Arrangement,
    brake_with_hazard: BrakeWithHazard | None = None,
    circuits: Iterable[tuple[Function, str]] = (),
) -> tuple[Scenario, ...]:
    """The variants of a vehicle that a hook-up must be right in; `circuits` are those known, in their variants."""
    known = tuple(circuits)
    drl, low_beam = daytime_of(known), low_beam_of(known)
    if arrangement is Arrangement.SEPARATE:
        return (Scenario(arrangement, drl=drl, low_beam=low_beam),)
    possible = (brake_with_hazard,) if brake_with_hazard else tuple(BrakeWithHazard)
    return tuple(Scenario(arrangement, who, drl, low_beam) for who in possible)


def source_levels(
    function: Function, variant: str, scenarios: Sequence[Scenario], states: Sequence[State] = TABLE_STATES
) -> Levels:
    """What a circuit carries in every variant, state and phase, (n_variants, n_states, 2)."""
    return as_levels([[signal(function, state, scenario, variant) for state in states] for scenario in scenarios])


def wanted_levels(lead: Lead, scenarios: Sequence[Scenario], states: Sequence[State] = TABLE_STATES) -> Levels:
    """What a lead wants in every variant, state and phase, (n_variants, n_states, 2)."""
    return as_levels([[lead.wanted.signal(state, scenario) for state in states] for scenario in scenarios])


def search(
    lead: Lead,
    sources: Sequence[Source],
    scenarios: tuple[Scenario, ...],
    states: tuple[State, ...] = TABLE_STATES,
) -> tuple[Candidate, ...]:
    """Every candidate for a lead, best first.

    Parameters
    ----------
    lead : Lead
    sources : sequence of Source
        Those that may not be tapped for this lead are passed over.
    scenarios : tuple of Scenario
        The variants that the vehicle may be of; of those the sources' levels are.
    states : tuple of State
        The table, `rest` first: what the sources' levels are of.

    Returns
    -------
    tuple of Candidate
        All of them, the barred ones too: what a person picks by hand is judged by the same rules. Networks of several
        sources only where all of these are settled. Right is what is right in every possible state.
    """
    allowed = tuple(source for source in sources if source.may_feed(lead.wanted.functions))
    wish = _Wish(lead, scenarios, states, wanted_levels(lead, scenarios, states))
    networks = [each for each in _networks(lead.polarity, allowed, scenarios) if wish.has_use_for(each)]
    if not networks:
        return ()
    differs = (np.stack([each.got for each in networks]) != wish.levels).any(axis=(1, 3))
    counts = differs.sum(axis=1).tolist()
    found = [wish.candidate(*each) for each in zip(networks, differs, counts, strict=True)]
    if not any(candidate.is_right for candidate in found):
        found += _chained(wish, allowed)
    return tuple(sorted(found, key=_order))


def _order(candidate: Candidate) -> tuple[Any, ...]:
    return (*candidate.cost, candidate.form.id, *(source.order for source in candidate.sources))


@dataclass(frozen=True)
class _Wish:
    """The behavior a lead wants, and the states and variants candidates are compared in."""

    lead: Lead
    scenarios: tuple[Scenario, ...]
    states: tuple[State, ...]
    levels: Levels

    @cached_property
    def refusals(self) -> tuple[str, ...]:
        """What forbids every hook-up for this lead."""
        rules = {"never_lit": is_never, "hidden": is_hidden}
        return tuple(rule for rule, holds in rules.items() if holds(self.lead.wanted))

    def has_use_for(self, network: _Network) -> bool:
        """Whether a network is worth looking at; one whose parts do nothing only where its sources are asked for."""
        if not network.form.suits(self.lead):
            return False
        return not network.is_idle or network.functions <= {*self.lead.wanted.functions}

    def candidate(self, network: _Network, is_wrong: NDArray[np.bool_], n_wrong: int) -> Candidate:
        """A candidate; one that the table finds nothing wrong with is compared in every state there is."""
        refusals = (*network.refusals, *self.refusals)
        one = Candidate(
            network.form,
            network.sources,
            network.got,
            is_wrong,
            n_wrong,
            refusals,
            self.states,
            self.levels,
            self.lead.wanted,
            network.merits,
        )
        return one if n_wrong else self._in_every_state(one)

    def _in_every_state(self, one: Candidate) -> Candidate:
        if any(source.function is None for source in one.sources):
            return one
        controls = controls_in(self.lead.wanted).union(*(source.controls for source in one.sources))
        wanted = wished(self.lead.wanted, self.scenarios, controls)
        got = one.form.got([source.carries(self.scenarios, controls) for source in one.sources])
        wrong = np.flatnonzero((got != wanted).any(axis=(0, 2)))
        if not len(wrong):
            return one
        states = every_state(controls)
        simplest = [n for n in wrong if len(states[n].controls) == len(states[wrong[0]].controls)]
        named = tuple(states[n] for n in simplest)
        return replace(
            one,
            got=np.concatenate([one.got, got[:, simplest]], axis=1),
            wanted=np.concatenate([one.wanted, wanted[:, simplest]], axis=1),
            is_wrong=np.concatenate([one.is_wrong, np.ones(len(named), dtype=bool)]),
            n_wrong=len(named),
            states=(*one.states, *named),
        )


def _chained(wish: _Wish, sources: tuple[Source, ...]) -> list[Candidate]:
    """The best chains of two forms that give exactly the behavior wanted."""
    lead, wanted = wish.lead, wish.levels
    allowed = controls_in(lead.wanted)
    fitting = tuple(each for each in sources if each.is_settled and each.controls <= allowed)
    inner = _networks(Polarity.POSITIVE, fitting, wish.scenarios)
    fronts = [each for each in inner if each.form in INNER and not each.refusals and not each.is_idle]
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
                chosen = tuple(sorted(chosen, key=lambda source: source.order))
            if len(set(chosen)) == len(chosen) and form.fits(chosen):
                network = _Network.of(form, chosen, got[n], is_idle=False)
                one = wish.candidate(network, np.zeros(len(wish.states), dtype=bool), 0)
                if not one.wrong:
                    found.setdefault(one.key, one)
    return sorted(found.values(), key=_order)[:MOST_CHAINS]


@dataclass(frozen=True)
class _Network:
    """A form on its sources, before any behavior is wanted of it.

    Attributes
    ----------
    is_idle : bool
        Of two sources or more it gives just what one of them gives, or nothing at all, in every state: parts for
        nothing.
    """

    form: Form
    sources: tuple[Source, ...]
    got: Levels
    refusals: tuple[str, ...]
    is_idle: bool
    merits: Merits
    functions: frozenset[Function | None]

    @classmethod
    def of(cls, form: Form, sources: tuple[Source, ...], got: Levels, *, is_idle: bool) -> _Network:
        functions = frozenset(each.function for each in sources)
        return cls(form, sources, got, form.refusals(sources), is_idle, Merits.of(form, sources), functions)


@lru_cache(maxsize=32)
def _networks(gives: Polarity, sources: tuple[Source, ...], scenarios: tuple[Scenario, ...]) -> tuple[_Network, ...]:
    """Every network of some sources: the same for all leads, so made once for them."""
    found = []
    for form in FORMS:
        if form.gives is gives:
            for chosen in _choices(form, sources):
                got = form.got([source.levels for source in chosen])
                is_idle = _is_idle(form, got, chosen, scenarios)
                if not (is_idle and _says_one_thing_twice(chosen)):
                    found.append(_Network.of(form, chosen, got, is_idle=is_idle))
    return tuple(found)


def _choices(form: Form, sources: Sequence[Source]) -> list[tuple[Source, ...]]:
    """The sets of sources a form may use; forms with several sources use known circuits only."""
    if len(form.takes) > 1:
        sources = [source for source in sources if source.is_settled]
    pick = combinations if form.is_symmetric else permutations
    return [chosen for chosen in pick(sources, len(form.takes)) if _takes(form.takes, chosen) and form.fits(chosen)]


def _beside(
    forms: Iterable[Form], sources: Sequence[Source]
) -> Iterator[tuple[Form, tuple[Source, ...], tuple[Source, ...]]]:
    """For each form and input, the sources left and right of the input that another form feeds."""
    for form in forms:
        for place, taken in enumerate(form.takes):
            if taken is Polarity.POSITIVE and not (place and form.is_symmetric):
                takes = (*form.takes[:place], *form.takes[place + 1 :])
                beside = (others for others in permutations(sources, len(takes)) if _takes(takes, others))
                yield from ((form, others[:place], others[place:]) for others in beside)


def _takes(takes: Sequence[Polarity], sources: Sequence[Source]) -> bool:
    return all(source.polarity is polarity for source, polarity in zip(sources, takes, strict=True))


def _says_one_thing_twice(sources: Sequence[Source]) -> bool:
    """Whether two of the sources are one circuit, as found at the left and at the right lamp."""
    taps = [(source.function, source.variant) for source in sources if not source.is_own]
    return len(set(taps)) < len(taps)


def _is_idle(form: Form, got: Levels, sources: Sequence[Source], scenarios: tuple[Scenario, ...]) -> bool:
    """See `_Network.is_idle`; the table is looked at first, which shows of most that they are not."""
    if len(sources) == 1 or not _gives_nothing_more(got, [source.levels for source in sources]):
        return False
    if any(source.function is None for source in sources):
        return True
    controls = frozenset[Control]().union(*(source.controls for source in sources))
    levels = [source.carries(scenarios, controls) for source in sources]
    return _gives_nothing_more(form.got(levels), levels)


def _gives_nothing_more(got: Levels, sources: Sequence[Levels]) -> bool:
    return not got.any() or any(np.array_equal(got, levels) for levels in sources)


def _signal(phases: NDArray[np.int8]) -> Signal:
    lit, dark = phases
    return Signal(_LEVELS[int(lit)], _LEVELS[int(dark)])
