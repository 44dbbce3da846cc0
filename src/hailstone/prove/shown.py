"""The build and test sheets as plain values for their pages."""

from __future__ import annotations

from dataclasses import dataclass

from electrics.build.sheet import STEPS, BuildPlan
from electrics.prove.sheet import Line, Outcome, read_measure
from hailstone.jobs.models import Before
from hailstone.layers.decided import named_distances
from hailstone.layers.progress import Overview
from hailstone.layers.proof import Proof
from hailstone.layers.signed import changes_between
from hailstone.layers.undo import plan_change
from hailstone.prove.models import BuildTick, Result, Signature
from hailstone.wording import proof as wording
from hailstone.wording.build import step_details
from hailstone.wording.words import capital, counted, listed, signal_name, state_action, state_name


@dataclass(frozen=True)
class ShownLine:
    """One line of the sheet."""

    key: str
    name: str
    asks: str
    needs_reading: bool
    signal: str
    outcome: str
    result: Result | None
    reading: str


@dataclass(frozen=True)
class Group:
    """The lines of one state, or the measured ones."""

    id: str
    name: str
    action: str
    lines: tuple[ShownLine, ...]

    @property
    def tested(self) -> int:
        return sum(line.outcome != Outcome.UNTESTED for line in self.lines)

    @property
    def failed(self) -> int:
        return sum(line.outcome == Outcome.FAIL for line in self.lines)

    @property
    def latest(self) -> Result | None:
        """The last result in the group: who tested this state, and when."""
        return max((line.result for line in self.lines if line.result), key=lambda item: item.at, default=None)

    @property
    def is_done(self) -> bool:
        return self.tested == len(self.lines)


@dataclass(frozen=True)
class ShownStep:
    """One step of the build sheet."""

    id: str
    name: str
    text: str
    tick: BuildTick | None
    details: tuple[str, ...] = ()
    changed: Before | None = None
    """The last change of the plan, where it came after the tick."""

    @property
    def state(self) -> str:
        """`open`, `done` or `not needed`."""
        if self.tick is None:
            return "open"
        return "done" if self.tick.is_needed else "not needed"


MEASURED = "measured"


def groups(view: Overview, proof: Proof) -> tuple[Group, ...]:
    """The sheet state by state, the measured lines last."""
    found = [
        Group(
            str(state),
            state_name(state),
            state_action(state) + ".",
            tuple(_line(view, proof, line) for line in proof.sheet.lines if line.lamp and line.state == state),
        )
        for state in proof.sheet.states
    ]
    measured = tuple(_line(view, proof, line) for line in proof.sheet.lines if line.measure)
    return (*found, Group(MEASURED, "Measured", "Measure and judge these.", measured))


def steps(view: Overview, change: Before | None) -> tuple[ShownStep, ...]:
    """The build steps with their ticks, and what each means on this job; `change` is the last one of the plan."""
    ticks = {tick.step: tick for tick in view.job.ticks.all()}
    details = step_details(view.build) if view.build else {}
    return tuple(
        ShownStep(
            step,
            *wording.STEPS[step],
            ticks.get(step),
            tuple(details.get(step, ())),
            change if change and details.get(step) and step in ticks and ticks[step].at < change.at else None,
        )
        for step in STEPS
    )


def older(view: Overview, proof: Proof) -> str:
    """What was ticked and passed before the last change of the plan; empty for nothing."""
    change = plan_change(view.job)
    if change is None:
        return ""
    ticked = sum(step.changed is not None for step in steps(view, change))
    passed = sum(result.at < change.at for result in proof.results.values())
    found = ((ticked, "step", "ticked"), (passed, "line", "passed"))
    said = [f"{counted(number, what)} {done}" for number, what, done in found if number]
    return f"{capital(listed(said))} before the plan was changed ({change.what})." if said else ""


def lengths(view: Overview, plan: BuildPlan) -> list[tuple[str, str, float, bool]]:
    """Distances that the cut list rests on: two names, metres, whether it is stated; assumed ones first."""
    stated = [(*each, True) for each in named_distances(view.job)]
    known = {frozenset(each[:2]) for each in stated}
    assumed: dict[frozenset[str], tuple[str, str, float, bool]] = {}
    for wire in plan.wires:
        first, second = wire.by[0], wire.by[-1]
        pair = frozenset((first, second))
        if (
            wire.is_assumed
            and len(pair) == 2
            and pair not in known
            and not any("ground stud" in name for name in pair)
        ):
            assumed.setdefault(pair, (first, second, wire.routed_m, False))
    return [*assumed.values(), *stated]


def open_steps(view: Overview) -> int:
    """Steps of the build sheet that are neither done nor marked as not needed."""
    return len(set(STEPS) - {tick.step for tick in view.job.ticks.all()})


def changes(view: Overview) -> list[str]:
    """What was changed since the last signature, a sentence each."""
    found = view.signed.changes if view.signed else ()
    return [wording.change_sentence(each.key, each.before, each.after) for each in found]


def revisions(view: Overview) -> list[tuple[Signature, list[str]]]:
    """Every signed revision, the latest first, with what it changed of the one before."""
    found = view.signed.revisions if view.signed else ()
    pairs = zip((None, *found), found, strict=False)
    return [(each, [] if before is None else _between(before, each)) for before, each in pairs][::-1]


def _between(before: Signature, after: Signature) -> list[str]:
    found = changes_between(before.facts, after.facts)
    return [wording.change_sentence(each.key, each.before, each.after) for each in found]


def _line(view: Overview, proof: Proof, line: Line) -> ShownLine:
    name = wording.lamp_name(line.lamp, view.plan.accessory) if line.lamp else wording.MEASURES[line.measure.id]
    result = proof.results.get(line.key)
    return ShownLine(
        line.key,
        name,
        wording.line_asks(line),
        bool(line.measure and line.measure.instrument),
        signal_name(line.expected) if line.lamp else "measure",
        str(proof.outcome(line)),
        result,
        _with_unit(line, result) if result else "",
    )


def _with_unit(line: Line, result: Result) -> str:
    """A stored reading with its unit, whether or not one was typed."""
    if line.measure is None or line.measure.instrument is None or not result.reading:
        return result.reading
    return str(read_measure(line.measure, result.reading))
