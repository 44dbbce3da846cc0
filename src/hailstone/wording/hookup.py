"""Sentences about hook-ups: why a wire is or is not the tap, what is missing, what forbids it."""

from __future__ import annotations

from electrics.hookup.run import SHOP_RANGE_MM2, WireOption
from electrics.hookup.taps import Addition, Tap
from electrics.vocabulary import Function
from hailstone.wording.words import function_name, listed, percent, signal_name, state_name

MISSING = {
    "tap": "Choose the wire to tap.",
    "host": "Say what this circuit feeds now and what fuse it has.",
    "run": "Measure the run: how far out, how far back.",
    "fed_by": "Find out whether a computer feeds this circuit.",
}

FAULTS = {
    "tap": "The chosen wire cannot be tapped for this: see its reason.",
    "computer": "A circuit fed or watched by a computer must not carry more. Use a relay fed from the battery: 30 "
    "on a fuse of its own, 87 to the lamps, coil with a diode across it on this wire.",
    "fuse_load": "Too much for this circuit's fuse: over 80 % of its rating. Never fit a larger fuse; use a relay "
    "fed from the battery, or lamps that draw less.",
    "wire_load": "Too much for the factory wire. Use a relay fed from the battery, or tap nearer to the fuse.",
    "no_wire": "No size of this kind of wire keeps the drop and the fuse rule. Shorten the run or split the lamps.",
    "drop": "This wire loses more than the 0.5 V (on 12 V) that a lamp run may lose. Take a thicker one.",
    "no_fuse": "No standard fuse both carries this load and protects this wire. Take a thicker one.",
    "common_plus": "This lamp has a common plus: its feeds are switched to ground, and no feed here does that. Use a "
    "relay, its contact to ground, or a lamp with a common minus.",
    "joint": "This way of joining does not fit here: it is not for spray, vibration or unlike gauges.",
}

_OPTION_FAULTS = {
    "drop": "loses over 0.5 V (on 12 V)",
    "aim": "loses over 3 %",
    "fuse": "no fuse both carries the load and protects it",
}


def tap_reason(tap: Tap, addition: Addition) -> str:
    """Why a wire is right, or why it lost."""
    function = function_name(tap.wire.function)
    if tap.is_right:
        return (
            f"{function}, {percent(tap.wire.probability)} sure: as wanted in all {len(tap.rows)} states, "
            "key on and off, flash lit and dark."
        )
    if "never" in tap.refusals:
        return f"{function}: {_NEVER.get(tap.wire.function, 'never a tap')}."
    reasons = []
    if "differs" in tap.refusals:
        rows = [row for row in tap.rows if row.state in tap.wrong] or list(tap.rows[:1])
        row = rows[0]
        more = f", and wrong in {len(tap.wrong) - 1} more states" if len(tap.wrong) > 1 else ""
        reasons.append(
            f"{function}: {signal_name(row.got)} in {state_name(row.state).lower()}, "
            f"where the {addition.lamp} must be {signal_name(row.wanted)}{more}"
        )
    if "ground_switched" in tap.refusals:
        reasons.append(f"{function.lower()} is switched to ground here: a lamp on it takes its feed from battery")
    if "pulsed" in tap.refusals:
        reasons.append("carries part voltage in pulses")
    if "unsettled" in tap.refusals:
        likely = "" if "differs" in tap.refusals else f"{function.lower()} is likely but "
        reasons.append(f"{likely}not settled yet ({percent(tap.wire.probability)}): measure on")
    return "; ".join(reasons) + "."


def option_reason(option: WireOption) -> str:
    """Why a size of wire is wrong or passed over; empty when it is right."""
    if option.is_right and option.conductor.area_mm2 < SHOP_RANGE_MM2:
        return "thinner than shops use for added lamps"
    faults = [fault for fault in option.faults if not (fault == "aim" and "drop" in option.faults)]
    return listed(_OPTION_FAULTS[fault] for fault in faults)


_NEVER = {
    Function.DATA: "a data line is never tapped",
    Function.GROUND: "return to battery, feeds nothing",
    Function.SPARE: "connected to nothing",
    Function.MARKER_BETWEEN: "it lights through the turn lamp's filament",
    Function.DEAD_FEED: "its circuit is not working; find out why first",
}
