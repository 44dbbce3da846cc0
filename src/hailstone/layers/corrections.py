"""What a job's plan upsets and what its cures do, kept as long as the plan is."""

from __future__ import annotations

from dataclasses import replace
from weakref import WeakKeyDictionary

from electrics.circuit.simulate import Simulation, simulate
from electrics.job.correction import Correction, Tried, correct, try_proposal
from electrics.job.cures.base import Proposal
from electrics.job.hookup_plan import HookUpPlan
from electrics.job.plan import Plan
from electrics.job.sets import FixSet, all_at_once, first_set
from electrics.vocabulary import State

__all__ = ["all_of", "as_it_was", "correction_of", "first_of", "tried_of"]


class _Key:
    """Stands for one plan object, and dies with it."""


def _key(plan: Plan) -> _Key:
    key = plan.__dict__.get("_key")
    if key is None:
        key = _Key()
        plan.__dict__["_key"] = key
    assert isinstance(key, _Key)
    return key


_corrections: WeakKeyDictionary[_Key, tuple[tuple[float, ...], Correction]] = WeakKeyDictionary()
_was: WeakKeyDictionary[_Key, Simulation] = WeakKeyDictionary()
_first: WeakKeyDictionary[_Key, FixSet | None] = WeakKeyDictionary()
_all: WeakKeyDictionary[_Key, FixSet | None] = WeakKeyDictionary()
_tried: WeakKeyDictionary[_Key, dict[Proposal, Tried | None]] = WeakKeyDictionary()


def correction_of(plan: Plan, stock_ohm: tuple[float, ...] = ()) -> Correction | None:
    """Effects and proposals of a plan; None while there is no design, or the circuit that it taps is not modelled."""
    if not _has_design(plan.hookup) or plan.hookup.together is None:
        return None
    key = _key(plan)
    if key not in _corrections or _corrections[key][0] != stock_ohm:
        _corrections[key] = stock_ohm, correct(plan, stock_ohm=stock_ohm)
        for kept in (_tried, _first, _all):
            kept.pop(key, None)
    return _corrections[key][1]


def tried_of(plan: Plan, correction: Correction) -> dict[Proposal, Tried | None]:
    """What each proposal does when it is put into the design; mounts of one resistor do the same on the circuit.

    Those of `more` are tried beside what was taken.
    """
    key = _key(plan)
    if key not in _tried:
        found: dict[Proposal, Tried | None] = {}
        alike: dict[tuple[object, ...], Tried | None] = {}
        first = first_of(plan, correction)
        known = {first[0][0]: first[1]} if first is not None and len(first[0]) == 1 else {}
        for proposal in (*correction.open, *correction.more):
            beside = proposal in correction.more
            decision = proposal.decision
            same = (beside, decision and replace(decision, case_w=0.0, mount=""))
            if same not in alike:
                before = correction.now if beside else correction.before
                done = known.get(proposal)
                alike[same] = done or try_proposal(plan, proposal, before, is_beside=beside)
            found[proposal] = alike[same] if decision else None
        _tried[key] = found
    return _tried[key]


def first_of(plan: Plan, correction: Correction) -> FixSet | None:
    """The first fix or set that ends everything, before all are tried; kept with the plan."""
    key = _key(plan)
    if key not in _first:
        _first[key] = first_set(plan, correction)
    return _first[key]


def all_of(plan: Plan, correction: Correction) -> FixSet | None:
    """Several cures at once, where no single one cures everything; kept with the plan."""
    key = _key(plan)
    if key not in _all:
        _all[key] = all_at_once(plan, correction, tried_of(plan, correction), first_of(plan, correction))
    return _all[key]


def _has_design(plan: HookUpPlan) -> bool:
    return plan.can_be_tried


def as_it_was(plan: Plan, states: tuple[State, ...]) -> Simulation:
    """The vehicle without anything added, in some states; kept with its plan."""
    key = _key(plan)
    if key not in _was or _was[key].states != states:
        factory = plan.hookup.bench.factories()[0]
        _was[key] = simulate(factory.network, states)
    return _was[key]
