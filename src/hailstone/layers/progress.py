"""How far each of the six layers of a job is: the rings of the hailstone, innermost first."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from enum import StrEnum

from django.urls import reverse

from electrics.build.sheet import BuildPlan
from electrics.build.ticks import Stand
from electrics.identify.leads_needed import enough_for
from electrics.job.hookup_plan import KINDS_OF_DECISION, HookUpPlan
from electrics.job.plan import Plan, tried_for, tried_kind
from electrics.judge.finding import Finding
from electrics.judge.rule import look_at
from electrics.prove.rules import SIGNING_RULES, SigningCase
from electrics.prove.sheet import Outcome, SheetVerdict
from electrics.vocabulary import Function
from hailstone.jobs.models import Job
from hailstone.layers.beliefs import beliefs, known_at
from hailstone.layers.job_facts import job_facts
from hailstone.layers.plans import plan_of
from hailstone.layers.proof import Proof, prove
from hailstone.layers.signed import SignedState, signed
from hailstone.layers.ticks import step_stands
from hailstone.prove.models import BuildTick


class LayerStatus(StrEnum):
    """How a layer stands."""

    DONE = "done"
    OPEN = "open"
    WAITS = "waits"
    FAULT = "fault"


@dataclass(frozen=True)
class Layer:
    """One layer of a job."""

    id: str
    name: str
    url: str
    share: float
    status: LayerStatus
    note: str


@dataclass(frozen=True)
class Overview:
    """A job with everything derived that its pages and its tile show."""

    job: Job
    derived: Plan
    proof: Proof | None
    signed: SignedState | None
    stands: tuple[Stand[BuildTick], ...]
    layers: tuple[Layer, ...]
    is_broken: bool = False

    @property
    def plan(self) -> HookUpPlan:
        """How what is added is hooked up."""
        return self.derived.hookup

    @property
    def lamp_wanted(self) -> tuple[Function, ...]:
        """What the leads of the lamp on the bench are to show on this job; none where every lead is asked for."""
        kind = tried_kind(self.plan.accessory, self.derived.facts.lamp)
        return () if self.job.charts_all else tried_for(self.plan.accessory, kind)

    @property
    def is_lamp_known(self) -> bool:
        """Whether as much is known of the lamp on the bench as this job needs."""
        return self.plan.lamp is not None and enough_for(self.plan.lamp, self.lamp_wanted)

    @property
    def build(self) -> BuildPlan | None:
        """What is cut and laid out, once the hook-up stands."""
        return self.derived.build

    @property
    def is_signed(self) -> bool:
        """Whether the last signature stands."""
        return self.signed is not None and self.signed.stands

    @property
    def open_steps(self) -> int:
        """Build steps that are neither done nor marked not needed, or that the plan has changed since [-]."""
        return sum(not stand.is_done for stand in self.stands)

    @property
    def against_signing(self) -> tuple[Finding, ...]:
        """What stands against a signature: page and service read the same list."""
        proof = self.proof
        counts = proof.counts if proof is not None else {}
        case = SigningCase(
            proof is not None and self.plan.is_complete,
            self.is_signed,
            self.open_steps,
            counts.get(Outcome.UNTESTED, 0),
            counts.get(Outcome.FAIL, 0),
        )
        return look_at(case, SIGNING_RULES)

    @property
    def current(self) -> Layer:
        """The layer to work on: the first that is not done; of a signed job the last."""
        if self.is_signed:
            return self.layers[-1]
        if self.plan.faults and self.plan.can_be_tried:
            return next(layer for layer in self.layers if layer.id == "correct")
        return next((layer for layer in self.layers if layer.status is not LayerStatus.DONE), self.layers[-1])


def overview(job: Job) -> Overview:
    """Derive the state of every layer of a job with its facts."""
    derived = plan_of(job.pk, job_facts(job))
    proof = prove(job, derived)
    signature = signed(job, derived, proof)
    stands = step_stands(job, derived)
    layers = (
        _layer(job, "brief", "Brief", 1.0, LayerStatus.DONE, "done"),
        _identify(job),
        _hookup(job, derived.hookup),
        _correct(job, derived.hookup),
        _build(job, derived.hookup, stands),
        _prove(job, derived.hookup, proof, signature),
    )
    return Overview(job, derived, proof, signature, stands, layers)


def waiting_layers(job: Job, status: LayerStatus, note: str) -> tuple[Layer, ...]:
    """The layers of a job of which nothing is derived: the brief as given, the rest waits."""
    names = ("Identify", "Hook up", "Correct", "Build", "Prove")
    ids = ("identify", "hookup", "correct", "build", "prove")
    rest = (_layer(job, id, name, 0.0, LayerStatus.WAITS, "not ready") for id, name in zip(ids, names, strict=True))
    return (_layer(job, "brief", "Brief", 0.0, status, note), *rest)


def _layer(job: Job, id: str, name: str, share: float, status: LayerStatus, note: str) -> Layer:
    return Layer(id, name, reverse(id, args=[job.id]), share, status, note)


def _identify(job: Job) -> Layer:
    if not any(belief.wires for belief in beliefs(job).values()):
        return _layer(job, "identify", "Identify", 0.0, LayerStatus.OPEN, "no wires")
    done = [is_known for point_id in beliefs(job) for is_known in known_at(job, point_id)]
    status = LayerStatus.DONE if all(done) else LayerStatus.OPEN
    odd = sum(len(belief.contradictions) + len(belief.families) for belief in beliefs(job).values())
    note = f"{sum(done)} of {len(done)}" + (f", {odd} odd" if odd else "")
    return _layer(job, "identify", "Identify", sum(done) / len(done), status, note)


def _hookup(job: Job, plan: HookUpPlan) -> Layer:
    if not plan.has_ways or any(lead.chosen is None and not lead.right for lead in plan.leads):
        return _layer(job, "hookup", "Hook up", 0.0, LayerStatus.WAITS, "not ready")
    if plan.faults:
        return _layer(job, "hookup", "Hook up", plan.decided_share, LayerStatus.FAULT, "not allowed")
    status = LayerStatus.DONE if plan.is_complete else LayerStatus.OPEN
    note = "done" if plan.is_complete else f"{KINDS_OF_DECISION - len(plan.open_kinds)} of {KINDS_OF_DECISION}"
    return _layer(job, "hookup", "Hook up", plan.decided_share, status, note)


def _correct(job: Job, plan: HookUpPlan) -> Layer:
    if not plan.is_begun and plan.can_be_tried:
        return _layer(job, "correct", "Correct", 0.0, LayerStatus.OPEN, "find a fix")
    if not plan.is_begun:
        return _layer(job, "correct", "Correct", 0.0, LayerStatus.WAITS, "not ready")
    if plan.upsets:
        return _layer(job, "correct", "Correct", 0.5, LayerStatus.OPEN, "needs a fix")
    if not plan.is_complete:
        return _layer(job, "correct", "Correct", 0.5, LayerStatus.OPEN, "OK so far")
    return _layer(job, "correct", "Correct", 1.0, LayerStatus.DONE, "nothing")


def _build(job: Job, plan: HookUpPlan, stands: Sequence[Stand[BuildTick]]) -> Layer:
    if not plan.is_begun or not stands:
        return _layer(job, "build", "Build", 0.0, LayerStatus.WAITS, "not ready")
    done = sum(stand.is_done for stand in stands)
    status = LayerStatus.DONE if done == len(stands) else LayerStatus.OPEN
    return _layer(job, "build", "Build", done / len(stands), status, f"{done} of {len(stands)}")


def _prove(job: Job, plan: HookUpPlan, proof: Proof | None, signature: SignedState | None) -> Layer:
    if signature is not None and signature.stands:
        return _layer(job, "prove", "Prove", 1.0, LayerStatus.DONE, "signed")
    if proof is None or not plan.is_begun:
        return _layer(job, "prove", "Prove", 0.0, LayerStatus.WAITS, "not ready")
    tested = len(proof.sheet.lines) - proof.counts[Outcome.UNTESTED]
    share = tested / len(proof.sheet.lines)
    if proof.verdict is SheetVerdict.FAILED:
        return _layer(job, "prove", "Prove", share, LayerStatus.FAULT, f"{proof.counts[Outcome.FAIL]} failed")
    note = "sign it" if proof.verdict is SheetVerdict.PASSED else f"{tested} of {len(proof.sheet.lines)}"
    return _layer(job, "prove", "Prove", min(share, 0.97), LayerStatus.OPEN, note)
