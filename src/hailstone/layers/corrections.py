"""What a job's plan upsets and what its cures do, kept as long as the plan is."""

from __future__ import annotations

from weakref import WeakKeyDictionary

from electrics.circuit.simulate import Simulation, simulate
from electrics.correct.cures import Proposal
from electrics.job.correction import Correction, Tried, correct, try_proposal
from electrics.job.hookup_plan import HookUpPlan
from electrics.job.plan import Plan
from electrics.vocabulary import State

__all__ = ["as_it_was", "correction_of", "tried_of"]


class _Key:
    """Stands for one plan object, and dies with it."""


def _key(plan: Plan) -> _Key:
    key = plan.__dict__.get("_key")
    if key is None:
        key = _Key()
        plan.__dict__["_key"] = key
    assert isinstance(key, _Key)
    return key


_corrections: WeakKeyDictionary[_Key, Correction] = WeakKeyDictionary()
_was: WeakKeyDictionary[_Key, Simulation] = WeakKeyDictionary()
_tried: WeakKeyDictionary[_Key, dict[Proposal, Tried | None]] = WeakKeyDictionary()


def correction_of(plan: Plan) -> Correction | None:
    """Effects and proposals of a plan; None while there is no design, or the circuit that it taps is not modelled."""
    if not _has_design(plan.hookup) or plan.hookup.together is None:
        return None
    key = _key(plan)
    if key not in _corrections:
        _corrections[key] = correct(plan)
    return _corrections[key]


def tried_of(plan: Plan, correction: Correction) -> dict[Proposal, Tried | None]:
    """What each proposal does when it is put into the design; mounts of one resistor do the same on the circuit."""
    key = _key(plan)
    if key not in _tried:
        found: dict[Proposal, Tried | None] = {}
        alike: dict[tuple[str, tuple[str, ...], float], Tried | None] = {}
        for proposal in correction.open:
            same = proposal.cure, proposal.leads, proposal.fit.ohm if proposal.fit else 0.0
            if same not in alike or proposal.refusal:
                alike[same] = try_proposal(plan, proposal, correction.before)
            found[proposal] = None if proposal.refusal else alike[same]
        _tried[key] = found
    return _tried[key]


def _has_design(plan: HookUpPlan) -> bool:
    return plan.is_begun and plan.design is not None


def as_it_was(plan: Plan, states: tuple[State, ...]) -> Simulation:
    """The vehicle without anything added, in some states; kept with its plan."""
    key = _key(plan)
    if key not in _was or _was[key].states != states:
        factory = plan.hookup.bench.factories()[0]
        _was[key] = simulate(factory.network, states)
    return _was[key]
