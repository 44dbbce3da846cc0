"""What each step of the build sheet says: one sentence for what to do, then how, with its one caution."""

from __future__ import annotations

from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass
from datetime import datetime, timedelta
from typing import Any

from electrics.build.sheet import BuildPlan
from electrics.build.steps import Step, minutes_of
from electrics.build.ticks import Stand
from electrics.design.design import End, EndKind, Wiring
from electrics.document.vehicle import VehicleFacts
from electrics.vocabulary import Control
from hailstone.wording.build import TERMINALS, end_name, lost_sentence
from hailstone.wording.step_joints import joint_text
from hailstone.wording.step_words import StepText, here, wires_text
from hailstone.wording.words import capital, listed, mid_state

__all__ = ["Vehicle", "left_text", "step_name", "step_text", "vehicle_of"]


@dataclass(frozen=True)
class Vehicle:
    """What the wording of a step depends on besides the step.

    Attributes
    ----------
    has_airbags : bool
        A motorcycle hardly ever has any.
    """

    system_v: int = 12
    has_computer: bool = False
    has_airbags: bool = True


def vehicle_of(facts: VehicleFacts) -> Vehicle:
    """What steps say of a vehicle, from its facts."""
    return Vehicle(facts.system_v, facts.has_computer, facts.body != "motorcycle")


def step_text(step: Step, plan: BuildPlan, vehicle: Vehicle) -> StepText:
    """A step of a build sheet in words."""
    return TEXTS[step.kind.id](step, plan, vehicle)


NAMES = {
    "make_safe": "Make safe",
    "open_up": "Open up",
    "measure": "Measure",
    "route": "Route",
    "ground": "Ground",
    "join": "Join",
    "fuse": "Fuse",
    "test_loose": "Test loose",
    "secure": "Tie down",
    "close": "Close",
    "test_again": "Test again",
    "prove_tap": "Prove the wire",
    "prove_ground": "Prove the ground",
    "check_part": "Check parts",
    "cut_wires": "Cut the wires",
    "take_out": "Take the old lamp out",
    "drill": "Drill",
    "mount_part": "Mount parts",
    "mount_lamp": "Fit the lamp",
    "pull": "Pull wires",
    "connect": "Connect",
    "plug_in": "Plug in",
    "terminals": "Wire the terminals",
    "cap": "Cap",
    "seal": "Seal",
    "tow_plug": "Plug between the vehicles",
    "plug_half": "Fit a plug",
    "fix": "Fix",
    "battery_post": "Battery post",
    "battery_on": "Battery on",
    "fit_fuse": "Fit the fuses",
}
"""Each kind of step in two or three words, and the eleven of earlier versions."""


def step_name(kind: str) -> str:
    """A kind of step in two or three words."""
    return NAMES[kind]


def left_text(stands: Sequence[Stand[Any]], now: datetime | None = None) -> str:
    """How long the open steps take, and when that would be: `about 1 h 35 left`; empty for none."""
    open_steps = [stand.step for stand in stands if not stand.is_done]
    if not open_steps:
        return ""
    minutes = 5 * max(1, round(minutes_of(open_steps) / 5))
    hours, rest = divmod(minutes, 60)
    text = f"about {hours} h {rest:02d} left" if hours else f"about {rest} min left"
    return f"{text}, done about {now + timedelta(minutes=minutes):%H:%M}" if now else text


LICENSED = "Local code decides; when in doubt, a licensed auto electrician."
HANDS_OFF = "Leave yellow airbag plugs, orange high-voltage cables and xenon ballasts alone."
NEVER_ONE = "24 V: never take 12 V off one of the two batteries."
CHOCKS = "Chocks, park brake on, foot on the brake, nobody in front of or behind the vehicle."
BURNS = "It gets too hot to touch. Keep it 15 cm from loom, plastic and tank."
LOAD_TEXT = "a 21 W bulb"
"""The test load for a ground (common practice)."""


def _open_up(step: Step, plan: BuildPlan, vehicle: Vehicle) -> StepText:
    return StepText(
        f"Open up the {step.place}.",
        ("Keep each fastener where it came out, and note which goes where.",),
        tools="trim tool, screwdrivers",
    )


ANYHOW = ""
LIVE_READS = {
    "on": "battery voltage",
    "flash": "battery voltage, coming and going with the flasher",
    "part": "part of battery voltage, steady: the meter averages pulses. On hertz, some 100 to 250 Hz",
    ANYHOW: "battery voltage, steady or flashing",
}
"""What a meter shows of a live wire, by how it is live (common practice); a switched ground is read to positive."""


def _prove_tap(step: Step, plan: BuildPlan, vehicle: Vehicle) -> StepText:
    assert step.proof is not None
    (end,), proof = step.ends, step.proof
    lead = "Red lead on battery positive" if proof.is_switched_ground else "Black lead on battery negative"
    live = listed(map(mid_state, proof.live))
    lines = [f"{lead}, the other on {here(end, step.place)}."]
    if live:
        lines.append(f"With {live}: {LIVE_READS.get(proof.looks, LIVE_READS[''])}.")
    if proof.dead:
        lines.append(f"With {_either(proof.dead)}: 0 V.")
    lines.append("Reads otherwise? Stop, cut nothing, and go back to Identify.")
    reverses = any(state.on(Control.REVERSE) for state in (*proof.live, *proof.dead))
    caution = CHOCKS if reverses else ""
    tools = "multimeter only, no test lamp" if vehicle.has_computer else "multimeter"
    return StepText(
        f"At the {step.place}: prove {here(end, step.place)} before you cut it.", tuple(lines), caution, tools
    )


def _either(states: Sequence[object]) -> str:
    return " or ".join(map(mid_state, states))  # type: ignore[arg-type]


def _prove_ground(step: Step, plan: BuildPlan, vehicle: Vehicle) -> StepText:
    (end,) = step.ends
    name = here(end, step.place) if end.kind is EndKind.PIN else "it"
    title = (
        f"At the {step.place}: prove {name} as a ground." if end.kind is EndKind.PIN else f"Prove the {step.place}."
    )
    lines = (
        f"{capital(LOAD_TEXT)} from battery positive to {name}.",
        f"Lit, with at most {step.loss_v:.2f} V from {name} to battery negative.",
        "More? Clean it to bare metal or take another one.",
    )
    return StepText(title, lines, tools="multimeter, 21 W bulb on two leads")


def _make_safe(step: Step, plan: BuildPlan, vehicle: Vehicle) -> StepText:
    wait = (
        " Wait for the vehicle to sleep and the airbag reserve to drain (maker's time; at least 3 minutes, some 10)."
        if vehicle.has_airbags
        else ""
    )
    lines = [f"First note the radio code and window settings. Key off.{wait} Then battery negative off."]
    has_bench_work = bool(plan.wires) or any(part.part in CHECKS for part in plan.fitted)
    if vehicle.has_airbags and has_bench_work:
        lines.append("The bench work in the next steps fills the wait.")
    cautions = [HANDS_OFF] if vehicle.has_airbags else []
    cautions += [NEVER_ONE] if vehicle.system_v == 24 else []
    return StepText("Make safe: battery negative off.", tuple(lines), " ".join([*cautions, LICENSED]))


CHECKS: Mapping[str, tuple[str, ...]] = {
    "relay": (
        "At rest 30 connects to 87a and not to 87.",
        "With battery on 86 (plus, the stripe of its diode) and 85 it clicks: 30 connects to 87 and not to 87a.",
    ),
    "timed_relay": (
        "At rest 30 connects to 87a.",
        "With supply and ground on and the trigger at plus 30 lets go of 87a, and holds off about 1 s after the "
        "trigger goes.",
    ),
    "diode": (
        "Diode range: a reading from the plain end to the stripe, open the other way. Again after it is sleeved.",
    ),
    "decoder": (
        "Its diode with the stripe to the lamp, plus of the capacitor on the lamp's side.",
        "Its load goes on bare metal. With everything off its lamp stays dark for a minute.",
    ),
    "load_resistor": ("Ohms across its leads, nothing else connected: its value within 5 %.",),
    "dark_resistor": ("Ohms across its leads, nothing else connected: its value within 5 %.",),
}
"""How a part is measured before it is joined, by its line in the parts list."""


def _check_part(step: Step, plan: BuildPlan, vehicle: Vehicle) -> StepText:
    names = [f"{part.label} ({part.value})" for part in step.parts]
    return StepText(
        f"On the bench: check {listed(part.label for part in step.parts)}.",
        (f"{capital(listed(names))}.", *CHECKS[step.subject]),
        tools="multimeter",
    )


def _cut_wires(step: Step, plan: BuildPlan, vehicle: Vehicle) -> StepText:
    lines = []
    for wire in step.wires:
        assumed = "; not measured, lay a string along its path first" if wire.is_assumed else ""
        lines.append(f"Wire {wire.label}: {wire.conductor.name}, {wire.cut_m:g} m{assumed}.")
    return StepText("Cut the wires and label both ends of each.", tuple(lines), tools="cutter, tape measure, labels")


def _take_out(step: Step, plan: BuildPlan, vehicle: Vehicle) -> StepText:
    (unit,) = step.units
    if unit.is_there:
        return StepText(
            f"At the {step.place}: cut the feed of the {unit.name} beside it.",
            (
                "The vehicle's half and the half at the lamp, “its lead”, go as the joints below say. Nothing else "
                "joins them again.",
            ),
            tools="cutter",
        )
    return StepText(
        f"At the {step.place}: take the old lamp out.",
        (
            "Unplug it, or cut its wires beside it and insulate the lamp's side.",
            f"The {unit.name} connects to the vehicle's side.",
        ),
        tools="cutter, screwdrivers",
    )


def _drill(step: Step, plan: BuildPlan, vehicle: Vehicle) -> StepText:
    (unit,) = step.units
    return StepText(
        f"At the {unit.name}: {step.hole_mm:g} mm hole for {wires_text(step.wires)}, if none is there.",
        (
            "Look behind the panel first; drill stop on.",
            f"Deburr, paint the edge, push the grommet in ({step.hole_mm:g} mm hole), then pull the wires through.",
        ),
        tools=f"drill with stop, {step.hole_mm:g} mm bit, touch-up paint",
    )


MOUNTS: Mapping[str, tuple[tuple[str, ...], str]] = {
    "relay": (("Socket screwed down where it stays dry, terminals facing down.",), ""),
    "timed_relay": (("Screwed down where it stays dry, terminals facing down.",), ""),
    "load_resistor": (
        ("Two screws into bare metal, heat paste beneath, wires slack. Before anything is switched on.",),
        BURNS,
    ),
    "decoder": (("Its load on bare metal with two screws and heat paste, its board dry beside it.",), BURNS),
    "separator": (("Screwed down where it stays dry; its own fuse where you can reach it.",), ""),
    "converter": (("Screwed down where it stays dry; its own fuse where you can reach it.",), ""),
    "switch": (("Where the driver reaches it and nobody's knee does.",), ""),
}
"""How a part is fitted, and what to watch for."""


def _mount_part(step: Step, plan: BuildPlan, vehicle: Vehicle) -> StepText:
    lines, caution = MOUNTS[step.subject]
    rated = tuple(f"{capital(part.label)}: {part.value}." for part in step.parts if part.value)
    return StepText(
        f"At the {step.place}: mount {listed(part.label for part in step.parts)}.",
        (*rated, *lines),
        caution,
        "drill, screws, screwdriver",
    )


def _mount_lamp(step: Step, plan: BuildPlan, vehicle: Vehicle) -> StepText:
    (unit,) = step.units
    lines = ["Its wires through the grommet or the old lamp's opening first."]
    if unit.lamps > 1:
        lines.insert(0, f"{unit.lamps} lamps, {unit.spacing_m:g} m from one to the next: {listed(unit.names)}.")
    return StepText(f"Fit the {unit.name}.", tuple(lines), tools="screwdriver")


def _pull(step: Step, plan: BuildPlan, vehicle: Vehicle) -> StepText:
    lines = [
        "Tie them to the factory loom, 15 cm from the exhaust or behind a shield; never to brake lines or cables "
        "that move."
    ]
    lines += [
        f"The {unit.name} comes off or swings: through the flexible boot there, with slack for its whole travel, "
        "and a "
        "drip loop below the joint."
        for unit in step.units
    ]
    what = wires_text(step.wires) + (" in one loom" if len(step.wires) > 1 else "")
    return StepText(f"Pull {what}: {step.place} to {step.subject}.", tuple(lines), tools="pull wire, ties")


def _ground(step: Step, plan: BuildPlan, vehicle: Vehicle) -> StepText:
    lines = [f"Wire {wire.label}: {wire.conductor.sleeve_colour} ring terminal." for wire in step.wires]
    lines.append("Bare metal under it, tight, then coat it. Pull at each ring.")
    return StepText(
        f"At the {step.place}: bolt down {wires_text(step.wires)}.", tuple(lines), tools="crimper, wrench"
    )


def _battery_post(step: Step, plan: BuildPlan, vehicle: Vehicle) -> StepText:
    lines = [f"Wire {wire.label}: {wire.conductor.sleeve_colour} ring terminal." for wire in step.wires]
    lines += ["Fuse holders within 20 cm of the post. Every fuse stays out for now."]
    return StepText(
        f"At the battery: {wires_text(step.wires)} to the positive post.", tuple(lines), tools="crimper, wrench"
    )


def _plug_in(step: Step, plan: BuildPlan, vehicle: Vehicle) -> StepText:
    (unit,) = step.units
    return StepText(
        f"At the {step.place}: plug the {unit.name} into its socket.",
        ("An LED that stays dark sits the wrong way round: turn it. Clean contacts, grease outdoors.",),
    )


def _terminals(step: Step, plan: BuildPlan, vehicle: Vehicle) -> StepText:
    (part,) = step.parts
    lines = []
    for wire in step.wires:
        for end, far in (wire.ends, wire.ends[::-1]):
            if end.kind is EndKind.PART and end.what == part.label and not end.is_flying:
                name = capital(TERMINALS.get(end.terminal, end.terminal))
                lines.append(f"{name}: wire {wire.label}, {_goes(wire, far)}.")
    return StepText(
        f"At the {step.place}: wire {part.label}.",
        (*sorted(lines), "Crimp, push in until it clicks, tug."),
        tools="crimper",
    )


def _goes(wire: Wiring, far: End) -> str:
    """Where a wire comes from or goes to, seen from its other end."""
    word = "from" if far is wire.ends[0] else "to"
    if far.kind is EndKind.JOINT:
        return f"{word} {far.what} ({far.spot.name})"
    return f"{word} {end_name(far)}"


def _cap(step: Step, plan: BuildPlan, vehicle: Vehicle) -> StepText:
    (end,) = step.ends
    why = "isn't used" if end.kind is EndKind.UNIT else "feeds no lamp any more"
    lost = lost_sentence([end]) if end.lost else ""
    return StepText(
        f"At the {step.place}: cap {here(end, step.place)}.",
        tuple(filter(None, (f"It {why}. Insulated cap, crimped or glued; tie it back.", lost))),
        tools="crimper",
    )


def _seal(step: Step, plan: BuildPlan, vehicle: Vehicle) -> StepText:
    (end,) = step.ends
    return StepText(f"At the {step.place}: {end_name(end)} stays empty. Seal it.", ("Blind plug, or tape it shut.",))


def _tow_plug(step: Step, plan: BuildPlan, vehicle: Vehicle) -> StepText:
    return StepText(
        f"At the {step.place}: put a plug and socket of {len(step.wires)} poles into {wires_text(step.wires)}.",
        (
            "The socket goes on the towing vehicle: it is the live half, with a cover. The same pole for the same "
            "wire on both halves; write it on the sheet.",
            "Cord long enough to turn, too short to touch the road.",
        ),
        "Ground pole first on, last off.",
        "crimper",
    )


def _plug_half(step: Step, plan: BuildPlan, vehicle: Vehicle) -> StepText:
    (unit,) = step.units
    return StepText(
        f"At the {step.place}: put a plug in the leads of the {unit.name}, which comes off.",
        (
            "The shrouded half goes on the vehicle's side, which is live. Drip loop below it, slack to lift the "
            "part away.",
            "Unplug it and plug it back once: every lamp the same as before.",
        ),
        tools="crimper",
    )


FIXES: Mapping[str, tuple[str, tuple[str, ...]]] = {
    "flasher": (
        "Change the flasher.",
        (
            "Pull the old one and match its terminals one by one: X or 49 supply, L or 49a load, P or C pilot, 31 "
            "ground.",
            "Where the old one had no ground, the new one's ground lead goes to bare metal by the wire on the cut "
            "list.",
            "Turn and hazard may have a flasher each.",
        ),
    ),
    "pilot_diodes": (
        "Take the two wires off the turn pilot on the dash.",
        (
            "A diode in each, plain end to the wire, stripes together on one terminal of the pilot.",
            "Its other terminal to ground on a wire of its own.",
        ),
    ),
    "plug_turned": (
        "Turn the LEDs that stayed dark.",
        ("Take each out and put it in the other way round; where a plug is keyed, swap its two wires.",),
    ),
    "other_bulb": (
        "Put the filament bulb of the factory's kind back into its socket.",
        ("At both sides.",),
    ),
    "separate_bulb": (
        "Leave the car's own wires alone.",
        ("The added bulb has a socket, a feed and a ground of its own.",),
    ),
}
"""What is done for a fix besides its parts, by its id."""


def _fix(step: Step, plan: BuildPlan, vehicle: Vehicle) -> StepText:
    title, lines = FIXES[step.cure]
    return StepText(title, lines)


def _battery_on(step: Step, plan: BuildPlan, vehicle: Vehicle) -> StepText:
    fuses = "The new fuses stay out. " if any(part.part in ("fuse", "fuse_tap") for part in plan.fitted) else ""
    line = (
        f"{fuses}Then the radio code and the windows. Key off, everything off: nothing that was added is lit or warm."
    )
    return StepText("Battery negative back on.", (line,), tools="wrench")


def _fit_fuse(step: Step, plan: BuildPlan, vehicle: Vehicle) -> StepText:
    lines = [f"{capital(part.label)}: {part.value}, at the {part.spot.name}." for part in step.parts]
    return StepText(
        "Fit the new fuses, one at a time.",
        (*lines, "One that blows at once stays out until the short is found: never a bigger one."),
    )


def _test_loose(step: Step, plan: BuildPlan, vehicle: Vehicle) -> StepText:
    return StepText("Test loose: run the test sheet before any trim goes on.", ("It stands under Prove.",))


def _secure(step: Step, plan: BuildPlan, vehicle: Vehicle) -> StepText:
    return StepText(
        "Tie everything down.",
        (
            "Joints 4 cm apart along the loom, so that the bundle lies flat; each above the low point of its wire.",
            "No sharp edges, slack at everything that moves or comes off.",
        ),
        tools="ties, tape",
    )


def _close(step: Step, plan: BuildPlan, vehicle: Vehicle) -> StepText:
    return StepText(f"Close the {step.place}.", ("Covers and boots back on, every fastener where it was.",))


def _test_again(step: Step, plan: BuildPlan, vehicle: Vehicle) -> StepText:
    return StepText("Test again, closed.", ("The whole test sheet once more.",))


TEXTS: Mapping[str, Callable[[Step, BuildPlan, Vehicle], StepText]] = {
    "open_up": _open_up,
    "prove_tap": _prove_tap,
    "prove_ground": _prove_ground,
    "make_safe": _make_safe,
    "check_part": _check_part,
    "cut_wires": _cut_wires,
    "take_out": _take_out,
    "drill": _drill,
    "mount_part": _mount_part,
    "mount_lamp": _mount_lamp,
    "pull": _pull,
    "ground": _ground,
    "connect": lambda step, plan, vehicle: joint_text(step, plan),
    "plug_in": _plug_in,
    "terminals": _terminals,
    "cap": _cap,
    "seal": _seal,
    "tow_plug": _tow_plug,
    "plug_half": _plug_half,
    "fix": _fix,
    "battery_post": _battery_post,
    "battery_on": _battery_on,
    "fit_fuse": _fit_fuse,
    "test_loose": _test_loose,
    "secure": _secure,
    "close": _close,
    "test_again": _test_again,
}
"""What is said of each kind of step."""
