"""Sentences about the lamp to be fitted and its leads."""

from __future__ import annotations

from collections.abc import Sequence
from typing import Protocol

from electrics.document.lamp import FIRST_FUSE_A, Seen, Trial
from electrics.identify.leads import LampBelief, LeadBelief, Role, Technology, TrialStep
from electrics.identify.leads_needed import leads_for
from electrics.vocabulary import Function
from hailstone.wording.words import capital, function_name, listed, percent


class HasClaim(Protocol):
    """A lead as it is stored."""

    label: str
    claim: str


ROLES = {
    Role.COMMON: "Common",
    Role.TAIL: "Tail",
    Role.RED: "Stop or turn, red light",
    Role.AMBER: "Turn, amber light",
    Role.WHITE: "Reverse or other white",
    Role.UNUSED: "Unused",
}

TECHNOLOGIES = {
    Technology.FILAMENT: "filament lamp, works either way round",
    Technology.LED_COMMON_MINUS: "LED, works one way: the common lead is negative",
    Technology.LED_COMMON_PLUS: "LED, works one way: the common lead is positive",
    Technology.LED_BRIDGE: "LED behind a bridge, works either way round",
}

SEEN = {Seen.DARK: "Dark", Seen.DIM: "Dim", Seen.LIT: "Lit", Seen.BLEW: "Fuse blew"}

CAUTION = (
    "Fuse the positive lead at 1 A or less. Limit the first tests to 50 mA: reversed "
    "polarity kills some LEDs. Unclip before the next pair. Never try ballasts, xenon or high-voltage parts this "
    "way; a filament gets hot."
)


def end_sentences(belief: LampBelief) -> tuple[str, str]:
    """What to do where no pair tells more and a lead is still open: measure what was not, else decide."""
    unsettled = [lead for lead in belief.leads if not lead.is_settled]
    unmeasured = [lead.lead for lead in unsettled if lead.amps_a is None and lead.role is not Role.COMMON]
    if unmeasured:
        again = "Test each again and enter its current. Current tells tail from stop and reverse."
        return f"Measure the current of {listed(unmeasured)}.", f"More tests won't help. {again}"
    likely = listed([f"{lead.lead} {ROLES[lead.role].lower()} ({percent(lead.probability)})" for lead in unsettled])
    return "More tests won't help.", f"Most likely {likely}. Look at its lens and label, and choose in Hook up."


def enough_sentences(belief: LampBelief, wanted: Sequence[Function]) -> tuple[str, str]:
    """That testing may stop; and what is found for the job, and what stays open."""
    if belief.is_settled or belief.common is None:
        return "Every lead is known. Stop testing.", ""
    found = zip(leads_for(belief, wanted), wanted, strict=True)
    known = [f"{lead} is for {function_name(function, mid_sentence=True)}" for lead, function in found]
    sentence = capital(listed([*known, f"{belief.common.lead} is common"])) + "."
    still = [lead.lead for lead in belief.leads if not lead.is_settled]
    if len(still) == 1:
        sentence += f" {capital(still[0])} stays open: not needed, cap its end."
    elif still:
        sentence += f" {capital(listed(still))} stay open: not needed, cap their ends."
    return "Enough for this job. Stop testing.", sentence


def do_sentence(step: TrialStep) -> str:
    """`White to positive, black to negative, through 1 A.`"""
    return f"{step.plus} to positive, {step.minus} to negative, through a {step.fuse_a:g} A fuse."


def why_sentence(belief: LampBelief, step: TrialStep) -> str:
    if step.bits == 0:
        return "That trial disagrees with all others: try it again."
    if step.fuse_a > FIRST_FUSE_A:
        return "It's a bulb. A 5 A fuse will hold, and polarity doesn't matter."
    again = [trial for trial in belief.trials if (trial.plus, trial.minus) == (step.plus, step.minus)]
    if any(trial.seen in (Seen.DIM, Seen.LIT) and trial.amps_a is None for trial in again):
        return "Again, and enter its current this time: current tells tail from stop and reverse."
    if again:
        return "Once more, with the clips moved: one test alone could be a bad clip."
    if not belief.trials:
        return "Any pair will do to begin with. The pair that lights gives feed and common."
    return "Tells most of what is still open."


def lead_name(lead: LeadBelief, belief: LampBelief) -> str:
    """What a lead is, with its polarity where that is known."""
    name = ROLES[lead.role]
    if lead.role is Role.COMMON:
        way, chance = belief.way_round
        if chance >= 0.5:
            name += {"either": ", either way round", "common_minus": ", negative", "common_plus": ", positive"}[way]
    return name


def lead_line(lead: HasClaim) -> str:
    """A lead as its form has it: `white`, or `white = ground` where a chart says so."""
    return f"{lead.label} = {function_name(Function(lead.claim), mid_sentence=True)}" if lead.claim else lead.label


def chart_sentence(lead: LeadBelief) -> str:
    """What the chart says of a lead; empty where it says nothing."""
    if lead.claim is None:
        return ""
    name = function_name(lead.claim, mid_sentence=True)
    return f"≠ The chart says {name}. The tests win." if lead.is_disputed else f"Chart: {name}"


def summary(belief: LampBelief) -> str:
    """What the whole lamp is, once it is known."""
    technology, chance = belief.technology[0]
    if belief.way_round[1] < 0.9:
        return "Filament or LED, and which way round: not known yet."
    text = TECHNOLOGIES[technology] if chance >= 0.8 else "works either way round, filament or LED behind a bridge"
    return text[0].upper() + text[1:] + "."


def trial_sentence(trial: Trial) -> str:
    """`white +, black -: lit, red, 0.31 A`."""
    words = [SEEN[trial.seen].lower()]
    if trial.light:
        words.append(str(trial.light))
    if trial.amps_a is not None:
        words.append(f"{trial.amps_a:.3g} A")
    if trial.fuse_a > FIRST_FUSE_A:
        words.append(f"{trial.fuse_a:g} A fuse")
    return f"{trial.plus} +, {trial.minus} −: " + ", ".join(words)
