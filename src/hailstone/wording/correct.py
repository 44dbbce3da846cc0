"""Sentences about what a change upsets, and about cures."""

from __future__ import annotations

from collections.abc import Mapping, Sequence

from electrics.correct.cures import Proposal, Side
from electrics.correct.effects import Effect
from electrics.correct.flasher import FlasherBelief
from electrics.job.correction import Tried
from electrics.lighting.vehicle import FlasherKind
from electrics.reference.mounts import mounts
from electrics.vocabulary import parse_state
from hailstone.wording.circuit import finding_sentence
from hailstone.wording.words import counted, listed, state_name

__all__ = [
    "ANSWERS",
    "COSTS",
    "CURE_NAMES",
    "FLASHERS",
    "LOOKS",
    "belief_sentence",
    "cure_title",
    "effect_states",
    "effect_title",
    "proposal_sentence",
    "verdict_words",
    "what_next",
    "why",
]

FLASHERS: Mapping[str, str] = {
    "": "Not found out yet",
    FlasherKind.ELECTRONIC: "Load-sensing flasher: twice as fast with a bulb out",
    FlasherKind.BIMETAL: "Bimetal flasher: slow or steady with a bulb out",
    FlasherKind.FIXED: "Fixed-rate flasher: the same rate with a bulb out",
    FlasherKind.COMPUTER: "Body computer: no can that clicks",
}

LOOKS = {
    "clicks": "Where it clicks",
    "prongs": "Its prongs",
    "one_out": "One main bulb pulled, that side on",
    "message": "A message in the dash with that bulb out",
    "hazard_out": "Hazards with that bulb out",
    "volts": "Rate idling against revving, all bulbs in",
}
ANSWERS = {
    ("clicks", "can"): "a can or small relay by the dash or fuse box",
    ("clicks", "board"): "a loudspeaker, or a relay on a board",
    ("clicks", "soft"): "a soft tick from a can",
    ("prongs", "two"): "two: X and L",
    ("prongs", "three"): "three: X, L and P or ground",
    ("prongs", "ground"): "as the old one, with a ground lead",
    ("prongs", "none"): "no can to be found",
    ("one_out", "twice"): "about twice as fast",
    ("one_out", "same"): "unchanged",
    ("one_out", "slower"): "slower",
    ("one_out", "steady"): "stays lit, or dark",
    ("message", "yes"): "yes",
    ("message", "no"): "no",
    ("hazard_out", "twice"): "twice as fast",
    ("hazard_out", "same"): "normal",
    ("volts", "faster"): "faster with more volts",
    ("volts", "same"): "the same",
}
CURE_NAMES = {
    "flasher": "Flasher that needs no load",
    "load_resistor": "Load resistor",
    "series_resistor": "Resistor in series",
    "decoder": "Decoder made for this vehicle",
    "coding": "Coding the computer for LED lamps",
    "diode": "Blocking diode",
    "other_way": "Another way of hooking up",
    "better_road": "Thicker wire, better ground, joint made again",
}

NAMED = {
    "decoder": "Where the computer tests its lamps cold. It must match the computer; not computed here. After "
    "fitting, watch the lamp with everything off, then the dash.",
    "coding": "By someone with the maker's tool: no part and no heat. Not computed here.",
    "diode": "In the road that must be one-way, plain end to the source, stripe to the lamp. Rated for one and a "
    "half times the current; check it with the meter before and after: a reading one way, open the other.",
    "other_way": "Take the next way that fits on the hook-up page: a relay whose coil rests, or less on this fuse.",
    "better_road": "Type a thicker wire or a nearer ground on the hook-up page, and make the joint again.",
}

REFUSALS = {
    "no_flasher": "There is no flasher to change: the computer does the flashing.",
    "in_series": "Never: the lamp starves, and what watches sees even less. A load resistor goes across feed and "
    "ground.",
    "free_air": "Never in free air: flashing hazards bring it past 200 °C, braking sooner. Bolt it to bare metal.",
    "too_hot": "No case survives it on this mount. Bare metal, or change the flasher.",
    "no_window": "No value passes: what makes up the load is more than the fuse allows. Change the flasher, or "
    "have the computer coded.",
}

COSTS = {
    "nobody_told": "Nobody is told of a dead lamp any more. The warning is a duty on most vehicles: the customer "
    "is told, and it is written on the sheet.",
    "hot": "The body gets hot: bare metal, 15 cm from loom and plastic, skin burns from 60 °C.",
    "held_hot": "The brake heats it for as long as the pedal is down: bare metal, 15 cm from loom and plastic, "
    "never near the tank; skin burns from 60 °C.",
}

VERDICTS = {
    "cures": "cures it",
    "costs": "cures, at a cost",
    "half": "cures a part",
    "not": "does not help",
    "worse": "makes it worse",
}


def belief_sentence(belief: FlasherBelief) -> str:
    """`Load-sensing flasher 93 %, body computer 5 %.`"""
    parts = [
        f"{FLASHERS[kind].partition(':')[0].lower()} {100 * share:.0f} %"
        for kind, share in belief.chances
        if share >= 0.02
    ]
    text = ", ".join(parts)
    return f"By these looks: {text}."


def effect_title(effect: Effect) -> str:
    """The finding in a sentence, in its worst state."""
    return finding_sentence(effect.finding)


def why(effect: Effect, sides: Sequence[Side]) -> str:
    """What makes a flasher hurry or a computer warn, in figures; empty where the finding says it itself."""
    if effect.rule not in ("flash_rate", "outage_warning"):
        return ""
    subjects = {effect.side, effect.finding.subject}
    side = next((each for each in sides if each.name in subjects and each.leads), None)
    if side is None or side.load_a >= side.threshold_a:
        return ""
    return (
        f"At the lowest running voltage {side.load_a:.2f} A flow where about {side.threshold_a:.2f} A are waited "
        "for, so it takes a lamp for dead."
    )


def effect_states(effect: Effect) -> str:
    """`Also with left and brake; at 11.5 V only.`"""
    others = [state_name(parse_state(state)).lower() for state in effect.states if state != effect.finding.state]
    more = counted(len(others) - 3, "more state") if len(others) > 3 else ""
    parts = [f"also with {listed([*others[:3], *([more] if more else [])])}"] if others else []
    if len(effect.volts) < 3:
        parts.append(f"at {listed([f'{volts:g} V' for volts in effect.volts])} only")
    text = "; ".join(parts)
    return f"{text[0].upper()}{text[1:]}." if text else ""


def cure_title(proposal: Proposal) -> str:
    """`Load resistor 6 Ω, 50 W, bolted to bare metal with paste`."""
    name, fit = CURE_NAMES[proposal.cure], proposal.fit
    if fit is None:
        return name
    case = f", {fit.case_w:g} W" if fit.case_w else ""
    return f"{name} {fit.ohm:g} Ω{case}, {mounts()[fit.mount].name}"


def proposal_sentence(proposal: Proposal, tried: Tried | None) -> str:
    """What it does, in a sentence or two."""
    if proposal.refusal:
        return REFUSALS[proposal.refusal]
    if proposal.is_named:
        return NAMED[proposal.cure]
    parts = []
    if proposal.fit is not None:
        fit = proposal.fit
        each = f"one at each of {counted(len(proposal.leads), 'lead')}" if len(proposal.leads) > 1 else "one"
        parts.append(
            f"{each[0].upper()}{each[1:]}, across feed and ground: {fit.amps_a:.2f} A and {fit.watts_w:.0f} W while "
            f"lit; its body settles near {fit.settled_c:.0f} °C at the highest charging voltage."
        )
    if tried is not None:
        if tried.left:
            parts.append(f"Still upset: {finding_sentence(tried.left[0].finding)}")
        if tried.new:
            parts.append(f"New: {finding_sentence(tried.new[0].finding)}")
        if tried.is_clean:
            parts.append("Nothing else is upset at the lowest, the running and the highest voltage.")
    return " ".join(parts)


def verdict_words(proposal: Proposal, tried: Tried | None) -> str:
    """`cures it`, `refused`, `named only`."""
    if proposal.refusal:
        return "refused"
    if tried is None:
        return "not computed"
    return VERDICTS[tried.verdict]


def what_next(before: Sequence[Effect], now: Sequence[Effect], *, is_taken: bool) -> str:
    """The sentence at the top."""
    if not before:
        return "Nothing to correct."
    if is_taken and not now:
        return "Cured. Build it."
    if is_taken:
        return f"{_things(now)} still upset with this cure."
    return f"{_things(now)} upset. Take a cure."


def _things(effects: Sequence[Effect]) -> str:
    return "One thing is" if len(effects) == 1 else f"{len(effects)} things are"
