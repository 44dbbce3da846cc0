"""The build and test sheets as plain values for their pages."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass

from electrics.build.sheet import BuildPlan
from electrics.prove.sheet import Line, Outcome, read_measure
from electrics.vocabulary import Control
from hailstone.jobs.models import Before
from hailstone.layers.decisions import named_distances
from hailstone.layers.progress import Overview
from hailstone.layers.proof import Proof
from hailstone.layers.signed import Change, changes_between
from hailstone.layers.ticks import step_names
from hailstone.layers.undo import plan_change
from hailstone.prove.joint_picture import JointPicture, joint_picture
from hailstone.prove.models import BuildTick, Result, Signature
from hailstone.wording import proof as wording
from hailstone.wording.changes import change_sentence
from hailstone.wording.step_words import StepText
from hailstone.wording.steps import step_text, vehicle_of
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
    seen: str = ""
    """Number of its last result, whatever it was; empty for none."""
    before: str = ""
    """Its last result, where that counts no more."""
    in_reverse: bool = False
    lamp: str = ""
    """The lamp that it is about, all of a row under one name; empty for what is measured."""


@dataclass(frozen=True)
class LineGroup:
    """The lines of one state, or the measured ones."""

    id: str
    name: str
    action: str
    lines: tuple[ShownLine, ...]

    @property
    def has_reverse(self) -> bool:
        """Whether something is measured with reverse selected."""
        return any(line.in_reverse for line in self.lines)

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

    number: int
    key: str
    kind: str
    place: str
    text: StepText
    minutes: float
    tick: BuildTick | None
    is_stale: bool = False
    """What it handles was changed since it was done."""
    changed: Before | None = None
    """The last change of the plan, where it is known."""
    joint: JointPicture | None = None

    @property
    def state(self) -> str:
        """`open`, `done` or `not needed`."""
        if self.tick is None:
            return "open"
        return "done" if self.tick.is_needed else "not needed"

    @property
    def look(self) -> str:
        """How it is shown: `stale`, `done`, `skipped` or `open`."""
        if self.is_stale:
            return "stale"
        return {"done": "done", "not needed": "skipped"}.get(self.state, "open")

    @property
    def mark(self) -> str:
        return {"stale": "≠", "done": "✓", "skipped": "–", "open": "○"}[self.look]

    @property
    def is_test(self) -> bool:
        """Whether it is done on the test sheet."""
        return self.kind in ("test_loose", "test_again")

    @property
    def is_open(self) -> bool:
        return self.tick is None or self.is_stale


MEASURED = "measured"


def groups(view: Overview, proof: Proof) -> tuple[LineGroup, ...]:
    """The sheet state by state, the measured lines last."""
    found = [
        LineGroup(
            str(state),
            state_name(state),
            state_action(state) + ".",
            tuple(_line(view, proof, line) for line in proof.sheet.lines if line.lamp and line.state == state),
        )
        for state in proof.sheet.states
    ]
    measured = tuple(_line(view, proof, line) for line in proof.sheet.lines if line.measure)
    return (*found, LineGroup(MEASURED, "Measured", "Measure and judge these.", measured))


def steps(view: Overview, change: Before | None) -> tuple[ShownStep, ...]:
    """The build steps in words, with their ticks; `change` is the last one of the plan."""
    if view.build is None:
        return ()
    vehicle, names = vehicle_of(view.derived.facts.vehicle), step_names(view.job, view.derived)
    return tuple(
        ShownStep(
            n,
            names.stored(stand.step),
            stand.step.kind.id,
            stand.step.place,
            step_text(stand.step, view.build, vehicle),
            stand.step.minutes,
            stand.tick,
            stand.is_stale,
            change if stand.is_stale else None,
            joint_picture(stand.step),
        )
        for n, stand in enumerate(view.stands, start=1)
    )


def older(view: Overview, proof: Proof) -> str:
    """What was ticked and tested before the plan was changed and counts no more; empty for nothing."""
    change = plan_change(view.job)
    found = (
        (sum(stand.is_stale for stand in view.stands), "build step", "checked off"),
        (len(proof.fallen), "line", "tested"),
    )
    said = [f"{counted(number, what)} {done}" for number, what, done in found if number]
    why = f" ({change.what})" if change else ""
    return f"{capital(listed(said))} before the plan changed{why}. Do them again." if said else ""


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


def changes(view: Overview) -> list[str]:
    """What was changed since the last signature, a sentence each."""
    found = view.signed.changes if view.signed else ()
    return sentences(view, found)


def sentences(view: Overview, changes: Iterable[Change]) -> list[str]:
    """Changes of signed facts in words, each said once."""
    names = names_for(view)
    return list(dict.fromkeys(change_sentence(each.key, each.before, each.after, names) for each in changes))


def names_for(view: Overview) -> dict[str, str]:
    """What the rows and leads that changes speak of are called now."""
    found = {}
    for point in view.job.points.all():
        found[str(point.id)] = point.name
        found |= {f"pin {pin.id}": f"{point.name} pin {pin.label}" for pin in point.pins.all()}
    found |= {lead.id: lead.title for lead in view.plan.accessory.leads}
    return found | {f"unit {unit.id}": unit.name for unit in view.plan.accessory.units}


def revisions(view: Overview) -> list[tuple[Signature, list[str]]]:
    """Every signed revision, the latest first, with what it changed of the one before."""
    found = view.signed.revisions if view.signed else ()
    pairs = zip((None, *found), found, strict=False)
    return [(each, [] if before is None else _between(view, before, each)) for before, each in pairs][::-1]


def _between(view: Overview, before: Signature, after: Signature) -> list[str]:
    return sentences(view, changes_between(before.facts, after.facts))


def _line(view: Overview, proof: Proof, line: Line) -> ShownLine:
    name = wording.measure_name(line.measure, view.plan.accessory) if line.measure else ""
    if line.lamp:
        name = wording.lamp_name(line.lamp, view.plan.accessory)
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
        str(proof.last[line.key].id) if line.key in proof.last else "",
        _before(line, proof.fallen.get(line.key)),
        line.state.on(Control.REVERSE),
        line.lamp.of_row.id if line.lamp else "",
    )


def _before(line: Line, result: Result | None) -> str:
    """`passed before the plan changed, 0.31 V`."""
    if result is None:
        return ""
    reading = f", {_with_unit(line, result)}" if result.reading else ""
    return f"{wording.OUTCOMES[result.outcome]} before the plan changed{reading}"


def _with_unit(line: Line, result: Result) -> str:
    """A stored reading with its unit, whether or not one was typed."""
    if line.measure is None or line.measure.instrument is None or not result.reading:
        return result.reading
    return str(read_measure(line.measure, result.reading))
