"""Sentences about what a change upsets, and about cures."""

from __future__ import annotations

from collections.abc import Iterable, Mapping, Sequence

from electrics.correct.effects import Effect, causes_of
from electrics.correct.flasher import FlasherBelief
from electrics.design.accessories import mid_sentence
from electrics.design.joints import ground_methods
from electrics.document.vehicle import FlasherKind
from electrics.job.correction import Tried
from electrics.job.cures.base import Fix, Proposal, WatchedSide
from electrics.job.cures.registry import CURABLE, CURES
from electrics.reference.mounts import mounts
from electrics.vocabulary import parse_state
from hailstone.wording.circuit import finding_sentence
from hailstone.wording.cures import CURE_NAMES, REFUSAL_WORDS
from hailstone.wording.words import capital, counted, listed, state_name

__all__ = [
    "ANSWERS",
    "COSTS",
    "FLASHERS",
    "LOOKS",
    "also_about",
    "belief_sentence",
    "cure_title",
    "effect_groups",
    "effect_states",
    "effect_title",
    "proposal_sentence",
    "tried_sentences",
    "verdict_words",
    "what_next",
    "why",
]

FLASHERS: Mapping[str, str] = {
    "": "Not known yet",
    FlasherKind.ELECTRONIC: "Load-sensing flasher: twice as fast with a bulb out",
    FlasherKind.BIMETAL: "Bimetal flasher: slow or steady with a bulb out",
    FlasherKind.FIXED: "Fixed-rate flasher: the same rate with a bulb out",
    FlasherKind.COMPUTER: "Computer: no flasher can that clicks",
}

LOOKS = {
    "clicks": "Where it clicks",
    "prongs": "Its prongs",
    "one_out": "One main bulb pulled, that side on",
    "message": "A message in the dash with that bulb out",
    "hazard_out": "Hazards with that bulb out",
    "volts": "Rate idling against revving, all bulbs in",
    "off": "Everything off, an LED at the lamp, in the dark",
    "pilot": "Turn pilots on the dash",
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
    ("off", "dark"): "dark",
    ("off", "blinks"): "blinks faintly, about once a second",
    ("off", "glows"): "glows faintly all the time",
    ("pilot", "one"): "one for both sides",
    ("pilot", "two"): "one for each side",
}
NAMED = {
    "joint_again": "Cut it back to bright copper and make it again. Then measure its drop under load.",
}

DOES = {
    "coding": "Someone with the maker's tool tells the computer that LEDs are fitted. No part, no heat.",
    "plug_turned": "An LED works one way only. Take it out, turn it around and put it back.",
    "decoder": "A load for the computer, and a capacitor behind a diode so its test pulses don't light the "
    "lamp. Connect feed, lamp and ground as marked.",
    "diode": "In the lead where current must go one way: plain end to the source, stripe to the lamp. Check "
    "it with the meter before and after: a reading one way, open the other.",
    "diode_or": "One in each source, stripes to the lamp, so neither feeds the other's lamps. Steady light hides "
    "the flash.",
    "pilot_diodes": "One in each of its two wires, stripes together at the lamp, its other terminal to ground. It "
    "flashes with either side, and neither side feeds the other through it.",
    "ghost_resistor": "From the lamp's feed to its ground. It takes the monitor's leakage, so the lamp stays dark.",
    "module": "Its inputs handle pulses and only sense; the lamp runs from the battery on its own fuse.",
    "relay": "The factory circuit only moves the coil; the lamp runs from the battery on its own fuse.",
    "other_way": "The next hook-up that fits.",
    "separate_bulb": "The car's own wires stay as they are; the bulb gets its own socket, feed and ground.",
    "other_bulb": "It's the load the vehicle expects. No other parts needed.",
}
"""What a fix does, by its id."""

COSTS = {
    "nobody_told": "The dash can no longer warn of a dead bulb. Most vehicles must have that warning. Tell the "
    "customer; the sheet says so too.",
    "bulb_told": "The dash still warns when a bulb that stays dies, but not of a dead LED. Tell the customer; the "
    "sheet "
    "says so too.",
    "hot": "The resistor gets hot. Mount it on bare metal, 15 cm from the harness and plastic. Skin burns "
    "from 60 °C.",
    "held_hot": "It heats as long as the pedal is down. Mount it on bare metal, 15 cm from the harness and "
    "plastic, never near the tank. Skin burns from 60 °C.",
    "dimmer": "The lamp is dimmer: the diode that keeps the test pulses out costs volts. Check that it's "
    "bright enough by day.",
    "light_lost": "A bulb behind a diode loses about a fifth of its light.",
    "no_led": "The LED bulb stays out.",
    "not_computed": "We take your word for it: a line of the test sheet must confirm it before anyone signs.",
}
"""What stays or becomes worse with a fix."""


def cost_sentences(proposal: Proposal, tried: Tried | None) -> list[str]:
    """What a fix costs, as solved; nothing of one that is refused."""
    if proposal.refusal:
        return []
    told = {"nobody_told": "bulb_told"} if tried is not None and tried.tells else {}
    return [COSTS[told.get(cost, cost)] for cost in proposal.costs]


REFUSED, NOT_COMPUTED = "refused", "not computed"
VERDICTS = {
    "cures": "fixes it",
    "costs": "fixes it, with a drawback",
    "half": "fixes part of it",
    "not": "doesn't help",
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


def effect_groups(effects: Sequence[Effect]) -> list[tuple[Effect, ...]]:
    """Effects of one rule together, so that eight lamps turned round are one line; flash rates a line each."""
    found: dict[tuple[str, ...], list[Effect]] = {}
    for effect in effects:
        sided = any(side in effect.finding.subject for side in ("left", "right"))
        alone = () if effect.rule != "flash_rate" else effect.key[1:2] if sided else effect.key
        found.setdefault((effect.rule, *alone), []).append(effect)
    return [tuple(each) for each in found.values()]


def why(effect: Effect, sides: Sequence[WatchedSide]) -> str:
    """What makes a flasher hurry or a computer warn, in figures; empty where the finding says it itself."""
    if effect.rule not in ("flash_rate", "outage_warning"):
        return ""
    subjects = {effect.side, effect.finding.subject}
    side = next((each for each in sides if each.name in subjects and each.leads), None)
    if side is None or side.load_a >= side.threshold_a:
        return ""
    watcher = "computer" if side.name not in ("left", "right") else "flasher"
    return (
        f"At the lowest running voltage the {watcher} sees {side.load_a:.2f} A. It expects about "
        f"{side.threshold_a:.2f} A with some margin, so it reads a bulb as out."
    )


def also_about(subjects: Sequence[str]) -> str:
    """`So do left tail lamp, stop and 6 more.`"""
    if not subjects:
        return ""
    more = [f"{len(subjects) - 3} more"] if len(subjects) > 4 else []
    return f"Same for {listed([*subjects[: 3 if more else 4], *more])}."


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
    name, fit, decision = CURE_NAMES[proposal.cure], proposal.fit, proposal.decision
    if proposal.cure == "decoder" and decision is not None:
        load = f", load {decision.ohm:g} Ω, {decision.case_w:g} W" if decision.ohm else ""
        return f"{name}{load}, {decision.microfarad:g} µF"
    if fit is not None:
        case = f", {fit.case_w:g} W" if fit.case_w else ""
        return f"{name} {fit.ohm:g} Ω{case}, {mounts()[fit.mount].name}"
    if decision is None or proposal.cure == "other_way":
        return name
    if decision.ohm:
        return f"{name}, {decision.ohm:g} Ω"
    if proposal.diode is not None:
        return f"Blocking diodes, {len(proposal.leads)} × {decision.part}"
    ground = ground_methods()[decision.part].name if proposal.cure == "better_ground" else ""
    detail = ground[:1].lower() + ground[1:] or decision.part
    return f"{name}: {detail}" if detail else name


def together_title(proposals: Sequence[Proposal]) -> str:
    """`Together: load-independent flasher; plug or bulb turned around`."""
    titles = [cure_title(proposal) for proposal in proposals]
    return "Together: " + "; ".join(title[0].lower() + title[1:] for title in titles)


def proposal_sentence(proposal: Proposal, tried: Tried | None) -> str:
    """What it does, in a sentence or two."""
    if proposal.refusal:
        return REFUSAL_WORDS[proposal.refusal]
    if proposal.is_named:
        return NAMED[proposal.cure]
    parts = [DOES[proposal.cure]] if proposal.cure in DOES else []
    if proposal.fit is not None:
        fit = proposal.fit
        each = f"one at each of {counted(len(proposal.leads), 'lead')}" if len(proposal.leads) > 1 else "one"
        parts.append(
            f"{each[0].upper()}{each[1:]}, across feed and ground: {fit.amps_a:.2f} A and {fit.watts_w:.0f} W while "
            f"lit; its case reaches {fit.settled_c:.0f} °C at the highest charging voltage. Afterwards clamp the "
            f"feed: "
            f"{fit.amps_a:.2f} A more than before on each, lamp lit, engine running."
        )
    if proposal.diode is not None:
        diode = proposal.diode
        number = counted(len(proposal.leads), "diode")
        parts.append(
            f"{number[0].upper()}{number[1:]} {diode.diode.part}: {diode.drop_v:.2f} V lost, {diode.heat_w:.2g} W of "
            f"heat, {diode.rise_k:.0f} K warmer in heat-shrink."
        )
    if tried is not None:
        parts += tried_sentences(tried)
    return " ".join(parts)


def tried_sentences(tried: Tried) -> list[str]:
    """What is upset still, and what is new, on the circuit with it."""
    parts = []
    for word, effects in (("Still a problem", tried.left), ("New", tried.new)):
        if effects:
            more = f" And {len(effects) - 1} more." if len(effects) > 1 else ""
            parts.append(f"{word}: {finding_sentence(effects[0].finding)}{more}")
    if tried.is_clean:
        parts.append("No other problem at the lowest, running and highest voltage.")
    return parts


def verdict_words(proposal: Proposal, tried: Tried | None) -> str:
    """`cures it`, `refused`, `named only`."""
    if proposal.refusal:
        return REFUSED
    if tried is None:
        return NOT_COMPUTED
    return VERDICTS[tried.verdict]


def what_next(
    before: Sequence[Effect],
    now: Sequence[Effect],
    *,
    is_taken: bool,
    forbidden: Sequence[str] = (),
    complaint: str = "",
    has_fix: bool = True,
) -> str:
    """The sentence at the top.

    `forbidden` says why it must not be built as it stands; `complaint` answers one that the circuit does not show;
    without `has_fix` everything that could be tried is refused.
    """
    if forbidden:
        return f"Don't build this. {forbidden[0]}"
    if not now:
        return complaint or ("Fixed. Build it." if is_taken and before else "No problems found.")
    if is_taken:
        return f"{_problems(now)} left with this fix."
    if not has_fix:
        return f"{_headline(now)} None of the fixes tried here works: change the hook-up or shorten the run."
    return f"{_headline(now)} Choose a fix."


def _headline(effects: Sequence[Effect]) -> str:
    """`Both sides flash 180 times a minute.`, where that is all; else how many things are upset."""
    groups = effect_groups(effects)
    rates = {round(effect.finding.value) for effect in effects}
    if all(effect.rule == "flash_rate" for effect in effects) and len(rates) == 1 and len(groups) > 1:
        (rate,) = rates
        return f"Both sides flash {rate} times a minute." if rate else "Neither side flashes."
    return f"{_problems(effects)}."


def _problems(effects: Sequence[Effect]) -> str:
    return capital(counted(len(effect_groups(causes_of(effects))), "problem"))


def cured_sentence(rules: Iterable[str]) -> str:
    """What usually ends some upsets, the simplest first; empty where nothing does or nothing is upset."""
    rules = list(dict.fromkeys(rules))
    ends = [cure for cure in CURES if any(rule in cure.ends for rule in rules)]
    named = [mid_sentence(CURE_NAMES[cure.id]) for cure in sorted(ends, key=lambda cure: _parts_for(cure, rules))]
    left = [rule for rule in rules if rule not in CURABLE]
    if not named:
        return ""
    text = f"Correct can fix {'some of this' if left else 'this'}: {named[0]}"
    return text + (f", or {named[1]}." if len(named) > 1 else ".")


def _parts_for(cure: Fix, rules: Iterable[str]) -> int:
    return min(cure.ends[rule] for rule in rules if rule in cure.ends)
