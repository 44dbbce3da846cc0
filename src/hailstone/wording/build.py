"""What the build sheet says of wires, joints and parts: both ends by name."""

from __future__ import annotations

from collections.abc import Sequence

from electrics.build.sheet import Part
from electrics.design.design import End, EndKind, Join, Wiring
from electrics.design.joints import joint_methods
from hailstone.wording.words import at_pin, capital, function_name, listed

__all__ = ["PARTS", "ROLES", "TERMINALS", "end_name", "fuse_note", "join_row", "part_row", "wire_row"]

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
    "tow_plug": "Plug and socket between the two vehicles, with cord, weatherproof",
    "disconnect": "Bullet or blade disconnects, in pairs",
    "displacement_tap": "Insulation-displacement taps",
    "solder": "Solder joints, rosin-core solder",
    "fusing_tape": "Self-fusing tape for joints on uncut wires",
    "terminal": "Terminals for sockets and switches, 6.3 mm unless the part says otherwise",
    "screw": "Self-tapping screws",
    "heat_paste": "Heat paste, one dab each",
    "blind_plug": "Blind plugs for empty terminals",
    "tie": "Cable ties",
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

NO_FUSE = "No added fuse needed: the factory fuse protects it."
FUSED = ("fuse", "fuse_tap", "separator", "converter")
"""Lines of the parts list that bring a fuse."""
BOTH_HALVES = ", both halves"
"""Of a factory wire that is cut for a joint: what it feeds hangs on the other half."""
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
        colour = f" ({end.colour})" if end.colour else ""
        name = f"new {end.what}" if end.is_new else end.what
        if " wire, " in end.terminal:
            return f"{name}, its {end.terminal}{colour}"
        if end.in_socket:
            return f"{name}, the {end.terminal} wire at its socket"
        return f"{name}, its {end.terminal} lead{colour}"
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


def fuse_note(parts: Sequence[Part]) -> str:
    """That there is no fuse to fit, where nothing brings one; empty where something does."""
    return "" if any(part.id in FUSED for part in parts) else NO_FUSE


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
