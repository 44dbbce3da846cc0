"""What the judge finds, in words: one sentence for each rule, beside its id."""

from __future__ import annotations

from typing import Any

from electrics.circuit.findings import CircuitFinding as Upset
from electrics.design.accessories import mid_sentence
from electrics.document.vehicle import FlasherKind
from electrics.job.hookup_plan import HookUpPlan
from electrics.judge.finding import Finding, Severity
from electrics.vocabulary import Function, parse_state
from hailstone.wording.circuit import finding_sentence
from hailstone.wording.complaints import complaint_sentence
from hailstone.wording.cures import CURE_NAMES, REFUSALS
from hailstone.wording.hookup import way_name
from hailstone.wording.words import amps_text, capital, function_name, listed, state_name

__all__ = [
    "ENDS",
    "RULES",
    "fault_sentences",
    "finding_document",
    "finding_text",
    "open_sentences",
    "subject_text",
]

RULES = {
    "complaint_cannot": "{complaint}",
    "complaint_unshown": "{complaint}",
    "better_way": "There's a better hook-up now: {better}.",
    "sides_differ": "Differs from {about} in {how}. Keep it only if that is meant.",
    "tap": "Choose the wire to tap.",
    "host": "Enter what this circuit feeds now, and its fuse.",
    "fed_by": "Find out whether a computer feeds this circuit.",
    "way_gone": "The chosen hook-up no longer works: a reading, a wire or the behavior changed. Choose again.",
    "way_never": "Chosen as a source, and now it reads as {function}: never tap that. Choose another hook-up.",
    "not_wanted": "The chosen hook-up doesn't do what you want. The reason is beside it.",
    "never": "Never tap a data line, whatever the reason.",
    "computer": "A computer powers or monitors this circuit: {value}, limit {limit}. Use a relay: the lamp on its "
    "own fuse from the battery, only the coil on this wire, a diode across the coil.",
    "computer_small": "Adds {value} to a computer's output; up to {limit} is usual. Its real limit is the maker's "
    "secret: watch for warnings.",
    "computer_masks": "Adds {value} to a computer's output; above {limit} (10 % of what it carries) a dead bulb may "
    "go unnoticed.",
    "tow_load": "Overloads the tow socket's module: {value}, limit {limit}. Read the limit off the module, or use a "
    "relay from the battery.",
    "fuse_load": "Overloads the fuse: {value}, limit {limit} ({share} % of the {fuse:g} A fuse). Never fit a bigger "
    "fuse. Use a relay from the battery, or lamps that draw less.",
    "wire_load": "Overloads the factory wire: {value}, limit {limit}. Use a relay from the battery, or tap closer to "
    "the fuse.",
    "fuse_noted_small": "The bulbs here draw {value} on a {limit} fuse. One of them is wrong: check both.",
    "switch_load": "Overloads the added switch: {value}, limit {limit}. Let the switch move a relay's coil.",
    "no_wire": "No size of this wire meets both the drop limit and the fuse rule. Shorten the run or split the lamps."
    "{detail}",
    "drop": "Voltage drop is {value}; limit {limit}. Use thicker wire.",
    "no_fuse": "No standard fuse is at least {factor:g} × the load and still protects this wire. Use thicker wire.",
    "together": "With all leads connected, it's wrong with {detail}. Change one hook-up, or pick a fix in Correct.",
    "joint": "Don't connect it this way: {detail}.",
    "ground": "Don't ground it this way: {detail}.",
    "ground_share": "By its drop under the test lamp this ground is good for {limit}; all that's grounded here "
    "draws {value}. Clean the connection and measure again, or run a wire to a stud.",
    "control_lacking": "Never lights: you said this vehicle has no {detail}. Change that in Brief, or what you add.",
    "part": "{detail}",
    "said_against_readings": "You said {function}, but the readings with {states} say {reads_as}. Measure again, "
    "or change "
    "one of them.",
    "claim_disputed": "Expected {detail}, measured {function}. The readings win; check that you're on the right pin.",
    "lead_chart": "{source} says {about} is {detail}, but the job uses it for something else. Test it on the bench "
    "first.",
    "lead_chart_disputed": "{source} says {about} is {detail}; the bench shows otherwise. The bench wins.",
    "computer_contradicted": "You said no computer, yet a computer flashes the turn lamps. Correct one of them.",
    "computer_assumed": "A computer flashes the turn lamps, so we treat every circuit as computer-fed. If that's "
    "wrong, "
    "change it in Brief.",
    **REFUSALS,
}
"""By rule. Limits and values come from the finding; nothing here states a figure."""

NEAREST = {
    "out_m": " The thickest works up to {:.1f} m.",
    "load_a": " One wire carries up to {:.1f} A; put the rest on another.",
}
"""The nearest run that a wire can be found for, by what changes."""

JOINT_WARNINGS = {
    "exposed": "it won't last in spray, under the body or on a vibrating part",
    "unlike_gauges": "the wires differ in gauge, and this tap fits one gauge",
    "monitored": "don't nick wires on a monitored circuit",
    "thick_ground": "not on a thick ground wire",
    "no_fuse_here": "this source isn't in a fuse box",
}

GROUND_WARNINGS = {
    "comes_off": "the part that carries the lamp comes off or swings, so it can't be the ground; run a wire to "
    "the frame, or use the factory lamp's ground wire",
    "ground_wire": "that ground wire can't carry this much; run a separate wire",
}

HOW = {"hook_up": "hook-up", "joint": "connection", "ground": "ground", "wire_standard": "kind of wire"}

ENDS = {
    "": "",
    "relay": "a relay from the battery",
    "thicker_wire": "thicker wire",
    "better_way": "the better hook-up",
    "better_ground": "another ground",
}
"""What would end a finding, by its id."""


def finding_text(item: Finding, plan: HookUpPlan) -> str:
    """A finding in a sentence or two, with what it is about in front where that isn't plain."""
    if item.severity is Severity.UPSET:
        return finding_sentence(_upset(item))
    rule = "way_never" if item.rule == "way_gone" and item.function else item.rule
    text = RULES[rule].format(**_figures(item, plan))
    if item.rule == "tap" and not plan.lead(item.lead).right:
        text = "No wire here does this yet. Keep measuring, or add a location."
    if item.reason:
        text += f" Used anyway: {item.reason}"
    about = subject_text(item, plan) if _is_named(item, plan) else ""
    return f"{about}: {text[0].lower() + text[1:]}" if about else text


def _is_named(item: Finding, plan: HookUpPlan) -> bool:
    """Whether a sentence says what it is about: not where there is only one of its kind."""
    if item.pin or item.cure:
        return True
    return len(plan.circuits) > 1 if item.function else not plan.is_single


def subject_text(item: Finding, plan: HookUpPlan) -> str:
    """What a finding is about, by a name a person knows; empty for the job as a whole."""
    if item.cure:
        return CURE_NAMES[item.cure]
    if item.pin:
        return f"{item.place}, pin {item.pin}"
    if item.function:
        return function_name(item.function)
    if item.lead:
        return f"Lead {plan.lead(item.lead).lead.title}"
    return item.about


def finding_document(item: Finding, plan: HookUpPlan) -> dict[str, Any]:
    """A finding as the command line prints it (docs/formats/plan.md)."""
    return {
        "rule": item.rule,
        "severity": str(item.severity),
        "subject": subject_text(item, plan),
        "states": list(item.states),
        "value": _tidy(item.value),
        "limit": _tidy(item.limit),
        "unit": item.unit,
        "source": item.source,
        "why": finding_text(item, plan),
        "ends": ENDS[item.ends],
        "reason": item.reason,
    }


MOST_OPEN = 4


def fault_sentences(plan: HookUpPlan) -> list[str]:
    """Why nothing may be built as it is chosen now; empty where nothing forbids it."""
    return [finding_text(item, plan) for item in plan.faults]


def open_sentences(plan: HookUpPlan) -> list[str]:
    """What is still open before anything is joined; a few of many."""
    found = [finding_text(item, plan) for item in plan.missing]
    rest = len(found) - MOST_OPEN
    return found if rest <= 1 else [*found[:MOST_OPEN], f"And {rest} more."]


def _figures(item: Finding, plan: HookUpPlan) -> dict[str, Any]:
    """What a sentence can be filled in with."""
    found: dict[str, Any] = {
        "value": _with_unit(item.value, item.unit, item.limit),
        "limit": _with_unit(item.limit, item.unit, item.value),
        "detail": item.detail or _detail(item, plan),
        "function": function_name(item.function, mid_sentence=True) if item.function else "",
        "states": listed(state_name(parse_state(state)).lower() for state in item.states),
    }
    if item.rule == "said_against_readings":
        found["reads_as"] = function_name(Function(item.detail), mid_sentence=True)
    if item.rule in ("lead_chart", "lead_chart_disputed"):
        found |= {"about": item.about, "source": capital(item.source)}
    if item.rule in ("claim_disputed", "lead_chart", "lead_chart_disputed"):
        found["detail"] = function_name(Function(item.detail), mid_sentence=True)
    if item.rule == "control_lacking":
        found["detail"] = listed(state_name(parse_state(each)).lower() for each in item.detail.split())
    if item.rule == "together":
        found["detail"] = state_name(parse_state(item.detail)).lower()
    if item.rule.startswith("complaint_"):
        found["complaint"] = complaint_sentence(item.detail, (), FlasherKind(item.about) if item.about else None)
    if item.rule == "better_way":
        way = next(way for way in plan.lead(item.lead).ways if way.key == item.detail)
        found["better"] = mid_sentence(way_name(way.candidate, way.wires))
    if item.rule == "sides_differ":
        found |= {"about": item.about, "how": listed(HOW[each] for each in item.detail.split())}
    circuit = next((each for each in plan.circuits if each.function is item.function), None)
    if circuit is not None and circuit.load is not None:
        found |= {"share": f"{100 * circuit.load.share:g}", "fuse": circuit.load.fuse_a}
    if item.rule == "no_fuse":
        found["factor"] = plan.lead(item.lead).sized.assumed["fuse_factor"]
    return found


def _detail(item: Finding, plan: HookUpPlan) -> str:
    """What a size, a connection or a ground fails by."""
    if not item.lead:
        return ""
    sized = plan.lead(item.lead).sized
    if item.rule == "joint" and sized.joint:
        better = f". Use {mid_sentence(sized.better.method.name)} here" if sized.better else ""
        return listed(JOINT_WARNINGS[rule] for rule in sized.joint.warnings) + better
    if item.rule == "ground":
        return listed(GROUND_WARNINGS[rule] for rule in sized.ground.warnings)
    if item.rule == "no_wire" and sized.nearest:
        return NEAREST[sized.nearest[0]].format(sized.nearest[1])
    return ""


def _with_unit(value: float | None, unit: str, other: float | None) -> str:
    """A figure with its unit, with digits enough to tell it from the one it is held against."""
    if value is None:
        return ""
    if unit == "A":
        text, beside = amps_text(value), amps_text(other) if other is not None else ""
        return text if text != beside or value == other else f"{value:.3f} A"
    word = {"C": "°C", "ohm": "Ω"}.get(unit, unit)
    digits = next((n for n in (0, 1, 2, 3) if other is None or f"{value:.{n}f}" != f"{other:.{n}f}"), 3)
    if unit == "V":
        digits = max(digits, 2)
    return f"{value:.{digits}f} {word}".strip()


def _upset(item: Finding) -> Upset:
    state = item.states[0] if item.states else ""
    values = (item.value or 0.0, item.limit or 0.0, item.unit)
    return Upset(item.rule, "warning", item.about, state, "lit", *values, by=item.detail)


def _tidy(value: float | None) -> float | None:
    return None if value is None else float(f"{value:.4g}")
