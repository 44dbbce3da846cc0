"""What the build sheet says of making a joint, by the way of joining."""

from __future__ import annotations

from collections.abc import Callable, Mapping, Sequence

from electrics.build.sheet import BuildPlan
from electrics.build.steps import Step
from electrics.design.design import EndKind, Join
from electrics.design.joints import BUS
from hailstone.wording.build import BOTH_HALVES
from hailstone.wording.step_words import StepText, here
from hailstone.wording.words import capital, listed

__all__ = ["joint_text"]

HOT_WORK = "Ventilate, protect your eyes, keep the heat away from fuel lines, tanks, paint and bumper skins."
STRIP_MM = {"red": 7, "blue": 7, "yellow": 9}
"""Bared length for an insulated butt connector or ring terminal [mm] (common practice)."""


def joint_text(step: Step, plan: BuildPlan) -> StepText:
    """The step that makes a joint: what is cut, what goes in, and how it is closed."""
    (join,) = step.joins
    return CONNECT.get(join.method, _butt)(join, step, plan)


def _members(join: Join, step: Step) -> str:
    return listed(here(end, step.place) + (BOTH_HALVES if end in join.halved else "") for end in join.members)


def _cut(join: Join, step: Step, plan: BuildPlan) -> tuple[str, ...]:
    """What is cut before the joint is made: a factory wire that goes on, or one that a bulb's socket hangs on."""
    pins = [end for end in join.members if end.kind is EndKind.PIN and not end.is_at_fuse]
    if join.halved:
        return (
            f"Cut {listed(here(end, step.place) for end in join.halved)} 5 cm behind the plug or lamp. The vehicle's "
            "half and the lamp's half both go in: leave one out and the factory lamp stays dark.",
        )
    behind = {
        end.spot.name
        for each in plan.joins
        if each.method != "socket"
        for end in each.members
        if end.kind is EndKind.UNIT and end.in_socket
    }
    if pins and step.place in behind and not _is_ground_pin(join):
        return (
            f"Cut {listed(here(end, step.place) for end in pins)} 5 cm behind the socket; this is the vehicle's "
            "half.",
        )
    return ()


def _is_ground_pin(join: Join) -> bool:
    return any(end.kind is EndKind.UNIT and end.terminal == "ground" for end in join.members)


def _butt(join: Join, step: Step, plan: BuildPlan) -> StepText:
    colour = join.fit.connector_colour if join.fit else ""
    sleeve = f"Slide the {join.fit.sleeve_mm:g} mm sleeve on first. " if join.fit else ""
    bare = f"Bare {STRIP_MM[colour]} mm. " if colour in STRIP_MM else ""
    lines = (*_cut(join, step, plan), f"{sleeve}{bare}Crimp, tug, shrink until the glue shows.")
    return _joined(join, step, f"{colour} butt connector" if colour else "butt connector", lines, "crimper, heat gun")


def _solder(join: Join, step: Step, plan: BuildPlan) -> StepText:
    size = f"{join.fit.sleeve_mm:g} mm " if join.fit else ""
    taps = [end for end in join.members if end.kind in (EndKind.PIN, EndKind.SUPPLY) and not end.is_cut]
    if taps:
        bare = f"Bare 15 mm of {listed(here(end, step.place) for end in taps)} without cutting it."
        how = (
            f"{size}sleeve from the plug end with its terminal out, or self-fusing tape. Wrap, solder, shrink; tie "
            "the "
            "wire 3 cm on, where it gets stiff."
        )
        return _joined(join, step, "solder", (bare, capital(how)), "soldering iron, heat gun", HOT_WORK)
    how = f"Slide the {size}sleeve on first. Twist, solder, shrink; tie the wire 3 cm on, where it gets stiff."
    return _joined(join, step, "solder", (*_cut(join, step, plan), how), "soldering iron, heat gun", HOT_WORK)


def _tap(join: Join, step: Step, plan: BuildPlan) -> StepText:
    lines = ("Don't strip anything: close the tap over both wires until it latches, then tug.",)
    return _joined(join, step, "insulation-displacement tap", lines, "pliers")


def _disconnect(join: Join, step: Step, plan: BuildPlan) -> StepText:
    lines = (*_cut(join, step, plan), "The shrouded half goes on the live side. Crimp, tug, push together.")
    return _joined(join, step, "bullet or blade disconnect", lines, "crimper")


def _harness(join: Join, step: Step, plan: BuildPlan) -> StepText:
    lines = ("Unplug the factory plug, put the T-harness between, push both halves home until they click.",)
    return _joined(join, step, "T-harness", lines, "")


def _fuse_tap(join: Join, step: Step, plan: BuildPlan) -> StepText:
    pins = listed(here(end, step.place) for end in join.members if end.kind in (EndKind.PIN, EndKind.SUPPLY))
    lines = (
        f"Pull the fuse of {pins}. Meter both contacts with the circuit on: the live one is the hot side.",
        "The leg that feeds both fuses goes into the hot side. The factory fuse goes back in the tap; the new one "
        "stays out for now.",
    )
    return _joined(join, step, "fuse tap", lines, "multimeter, fuse puller")


def _bus(join: Join, step: Step, plan: BuildPlan) -> StepText:
    lines = (*_cut(join, step, plan), "A ring terminal on each, all on one covered bus bar or stud, tight.")
    return _joined(join, step, "bus bar or stud", lines, "crimper, wrench")


CONNECT: Mapping[str, Callable[[Join, Step, BuildPlan], StepText]] = {
    "solder": _solder,
    "displacement_tap": _tap,
    "disconnect": _disconnect,
    "t_harness": _harness,
    "fuse_tap": _fuse_tap,
    BUS: _bus,
}
"""How each way of joining is worded; all others are butt connectors."""


def _joined(join: Join, step: Step, how: str, lines: Sequence[str], tools: str, caution: str = "") -> StepText:
    title = f"At the {step.place}: {join.label}, {how}: {_members(join, step)}."
    return StepText(title, tuple(lines), caution, tools)
