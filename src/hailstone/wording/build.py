"""What the build sheet says of wires, joints and parts: both ends by name."""

from __future__ import annotations

from collections.abc import Sequence

from electrics.build.sheet import BuildPlan, Part
from electrics.design.design import End, EndKind, Join, Wiring
from electrics.design.joints import joint_methods
from hailstone.wording.words import at_pin, capital, function_name, listed

__all__ = ["PARTS", "ROLES", "TERMINALS", "end_name", "join_row", "part_row", "step_details", "wire_row"]

ROLES = {
    "feed": "feed",
    "supply": "supply",
    "trigger": "coil",
    "sense": "input",
    "ground": "ground",
}
"""What a wire is for."""

TERMINALS = {
    "from": "in",
    "to": "out",
    "anode": "plain end",
    "cathode": "stripe end",
    "supply": "supply",
    "31": "ground",
    "trigger": "trigger",
    "left_in": "left input",
    "right_in": "right input",
    "stop_in": "stop input",
    "tail_in": "tail input",
    "left_out": "left output",
    "right_out": "right output",
    "stop_out": "stop output",
    "tail_out": "tail output",
    "in": "feed",
    "out": "lamp",
}
"""Terminals of parts that are not called what is stamped on them."""

PARTS = {
    "lamp": "Lamps and other new parts",
    "wire": "Wire, meters",
    "fuse": "Blade fuse",
    "fuse_holder": "Fuse holder, sealed outdoors",
    "fuse_tap": "Fuse tap, its own fuse on the side of the branch",
    "t_harness": "T-harness that fits the plug",
    "plug": "Sealed plug and socket, the live half shrouded",
    "joint": "Connectors or joints",
    "sleeve": "Adhesive-lined heat-shrink, inside diameter before shrinking",
    "ring_terminal": "Ring terminals",
    "grommet": "Grommets for each hole",
    "cap": "Insulated caps for wires that end",
    "relay": "Relay, sealed outdoors, stripe of its diode to 86",
    "relay_socket": "Relay socket",
    "bus": "Bus bar or stud with a cover, ring terminals for its wires",
    "timed_relay": "Timed relay: NC contact, holds about 1 s after its trigger goes",
    "self_switching_bulb": "Bulbs that switch themselves, in place of plain ones",
    "filament_bulb": "Filament bulbs of the factory's kind",
    "diode": "Diodes, stripe to the lamp",
    "load_resistor": "Load resistors, aluminum-housed",
    "dark_resistor": "Resistors across a lamp, against ghost glow",
    "decoder": "Decoders, made of the parts that are named",
    "switch": "Switch of your own",
    "separator": "Powered separating converter with its own fuse and ground",
    "flasher": "Load-independent flasher, supply and load prongs like the old one's",
    "converter": "Powered combining converter rated for pulsed inputs, with its own fuse and ground",
}
"""Lines of the parts list."""

CHECKS = {
    "diode": "Each diode, before and after it is sleeved: a reading one way on the meter's diode range, open the "
    "other; plain end to the source, stripe to the lamp.",
    "decoder": "Each decoder: its diode with the stripe to the lamp, plus of the capacitor on the lamp's side, its "
    "load on bare metal. With everything off the lamp stays dark for a minute.",
    "relay": "Each relay, before it is buried: at rest 30 connects to 87a and not to 87; pulled in, the reverse. "
    "If nothing changes when its signal comes on, look at the coil's ground first.",
}
"""What is checked of a part while it is joined, by its line in the parts list."""
CURE_STEPS = {
    "flasher": "The flasher: pull the old one and match its terminals one by one: X or 49 supply, L or 49a load, P "
    "or C pilot, 31 ground. Where the old one had no ground, the new one's ground lead goes to bare metal by the "
    "wire on the cut list. Turn and hazard may have a flasher each.",
    "pilot_diodes": "The pilot on the dash: take its two wires off it. A diode in each, plain end to the wire, "
    "stripes together on one terminal of the pilot; its other terminal to ground on a wire of its own. Check both "
    "diodes with the meter.",
    "plug_turned": "The LEDs that stayed dark: take each out and put it in the other way round; where a plug is "
    "keyed, swap its two wires.",
    "other_bulb": "The filament bulb of the factory's kind goes back into its socket, at both sides.",
    "separate_bulb": "The car's own wires stay untouched: the bulb has a socket, a feed and a ground of its own.",
}
"""What is done for a cure while joining, by its id."""
NO_FUSE = "No added fuse needed: the factory fuse protects it."
FUSED = ("fuse", "fuse_tap", "separator", "converter")
"""Lines of the parts list that bring a fuse."""
BOTH_HALVES = ", both halves"
"""Of a factory wire that is cut for a joint: what it feeds hangs on the other half."""
CUT_FIRST = (
    "Where it says both halves, cut that wire 5 cm behind the plug or lamp: the vehicle's half and the lamp's half "
    "both go into the joint. Leave one out and the factory lamp stays dark."
)
METHODS = {
    "socket": "plugs in",
    "stays": "stays joined as it is",
    "bus": "on a covered bus bar or stud, a ring terminal on each",
}


def end_name(end: End) -> str:
    """`left tail lamp, pin 3 (WH/GN)`, `relay 1, 87`, `ground stud, left rear`."""
    if end.kind is EndKind.PIN:
        is_named = end.terminal.startswith(("ground", "its ", "wire "))
        pin = end.terminal if is_named else at_pin(end.terminal, is_at_fuse=end.is_at_fuse)
        return f"{end.what}, {pin}" + (f" ({end.colour})" if end.colour else "")
    if end.kind is EndKind.UNIT:
        return f"{end.what}, its {end.terminal}{'' if ' wire, ' in end.terminal else ' lead'}"
    terminal = TERMINALS.get(end.terminal, end.terminal)
    return f"{end.what}, {terminal}" if terminal else end.what


def wire_row(wire: Wiring, joins: Sequence[Join]) -> dict[str, str]:
    """A line of the cut list; where an end is joined, what it is joined to."""
    first, second = wire.ends
    return {
        "label": wire.label,
        "role": ROLES[wire.role],
        "from": _joined_name(first, joins),
        "to": _joined_name(second, joins),
        "wire": wire.conductor.name,
        "routed": f"{wire.routed_m:g} m" + (" assumed" if wire.is_assumed else ""),
        "cut": f"{wire.cut_m:g} m",
    }


def _joined_name(end: End, joins: Sequence[Join]) -> str:
    """A joint by what is in it besides wires: `left tail lamp, pin 3 (WH/GN): joint 1`."""
    if end.kind is not EndKind.JOINT:
        return end_name(end)
    join = next(join for join in joins if join.label == end.what)
    lasting = [member for member in join.members if member.kind is not EndKind.WIRE]
    lasting.sort(key=lambda member: member.kind is not EndKind.PIN)
    return f"{end_name(lasting[0])}: {join.label}" if lasting else f"{join.label}, {join.spot.name}"


def join_row(join: Join) -> dict[str, str]:
    """A line of the joint list: what meets, where and how."""
    how = METHODS.get(join.method) or joint_methods()[join.method].name
    colour = f", {join.fit.connector_colour}" if join.fit and join.method == "crimp_butt" else ""
    return {
        "label": join.label,
        "at": join.spot.name,
        "joins": " + ".join(end_name(end) + (BOTH_HALVES if end in join.halved else "") for end in join.members),
        "how": how[0].lower() + how[1:] + colour,
    }


def part_row(part: Part) -> tuple[int, str, str]:
    """A line of the parts list: how many, what, which."""
    return part.count, PARTS[part.id], ", ".join(filter(None, (part.detail, listed(part.labels))))


def lost_sentence(capped: Sequence[End]) -> str:
    """What goes dark with lamps that were taken out, and nothing shows in their place; empty for nothing."""
    lost = list(dict.fromkeys(function_name(end.lost, mid_sentence=True) for end in capped if end.lost))
    if not lost:
        return ""
    places = list(dict.fromkeys(end.what for end in capped if end.lost))
    shows = "shows" if len(lost) == 1 else "show"
    return (
        f"{capital(listed(lost))} no longer {shows} at {listed(places)}. If no other lamp shows it, add one; the law "
        "requires it."
    )


def step_details(plan: BuildPlan) -> dict[str, Sequence[str]]:
    """What each step means on this job, by step."""
    grounds = [wire for wire in plan.wires if wire.role == "ground"]
    fused = [part for part in plan.parts if part.id == "fuse"]
    looms = [f"{loom.places[0]} to {loom.places[1]}: wires {listed(loom.wires)} in one loom." for loom in plan.looms]
    joins = [
        f"{row['label']}: {row['joins']}, at {row['at']}" + (f": {row['how']}." if join.method in METHODS else ".")
        for join, row in zip(plan.joins, map(join_row, plan.joins), strict=True)
    ]
    join_first = [line for line, join in zip(joins, plan.joins, strict=True) if not _is_ground(join, grounds)]
    return {
        "route": looms,
        "ground": [
            f"Wire {w.label}: {_joined_name(w.ends[0], plan.joins)} to {_joined_name(w.ends[1], plan.joins)}."
            for w in grounds
        ]
        + [line for line, join in zip(joins, plan.joins, strict=True) if _is_ground(join, grounds)],
        "join": [
            f"{capital(name)} replaces the factory lamp. Unplug the old one, or cut its wires beside it and "
            f"insulate the lamp side. Connect to the vehicle side."
            for name in plan.instead
        ]
        + [
            f"{capital(name)} stays where it is: cut its feed beside it. The vehicle's half and the half at the "
            "lamp, “its lead”, go as the joints below say, and nothing else joins them again."
            for name in plan.rewired
        ]
        + ([CUT_FIRST] if any(join.halved for join in plan.joins) else [])
        + join_first
        + [
            f"{capital(name)} comes off: its leads go through a plug there, the shrouded half on the vehicle's side, "
            "which is live; drip loop below it, and slack to lift it away."
            for name in plan.unplugged
        ]
        + [f"{end_name(end)} stays empty: seal it." for end in plan.sealed]
        + [
            f"{end_name(end)}: {'not used' if end.kind is EndKind.UNIT else 'off the lamp'}, and capped."
            + (f" {lost_sentence([end])}" if end.lost else "")
            for end in plan.capped
        ]
        + [CHECKS[id] for id in CHECKS if any(part.id == id for part in plan.parts)]
        + [CURE_STEPS[cure] for cure in plan.cures if cure in CURE_STEPS],
        "fuse": [f"{listed(part.labels)}: {part.detail}." for part in fused] or _no_fuse(plan.parts),
        "secure": [
            f"{listed(part.labels)}: {part.detail}. Bare metal to bare metal, 15 cm from loom, plastic and tank, its "
            "wires slack. It gets too hot to touch."
            for part in plan.parts
            if part.id == "load_resistor" or (part.id == "decoder" and part.detail.startswith("load"))
        ],
    }


def _no_fuse(parts: Sequence[Part]) -> list[str]:
    """That there is no fuse to fit, where nothing brings one."""
    return [] if any(part.id in FUSED for part in parts) else [NO_FUSE]


def _is_ground(join: Join, grounds: Sequence[Wiring]) -> bool:
    wires = {(EndKind.WIRE, f"wire {wire.label}") for wire in grounds}
    return any(
        (end.kind, end.what) in wires or (end.kind is EndKind.UNIT and end.terminal == "ground")
        for end in join.members
    )
