"""Sentences of the build sheet and the test sheet."""

from __future__ import annotations

from collections.abc import Mapping, Sequence

from electrics.design.accessories import Accessory, mid_sentence
from electrics.job.plan import OTHERS_OWN
from electrics.judge.finding import Finding
from electrics.prove.measures import Measure
from electrics.prove.sheet import CheckKind, Line, Outcome, Sheet, SheetLamp, SheetVerdict
from electrics.prove.swapped import swapped_lamps
from hailstone.wording.words import capital, counted, function_name, listed, signal_name

MEASURES = {
    "feed_drop": "Feed drop at {about}: battery positive to its feed, lamp on",
    "ground_drop": "Ground drop at {about}: its ground to battery negative, lamp on",
    "share_of_light": "Light of {about} on the computer's pulses, compared with full: note the share",
    "resistor_warm": "{about} after 20 minutes: contact probe on its body, or infrared on a blackened patch",
    "relay": "{about} clicks with its signal, and again when it ends; not hot",
    "timed_relay": "{about} lets go with the flasher and holds about a second after it; not hot",
    "diode": "{about} measured both ways: a reading one way, open the other",
    "decoder": "{about} dry and firm, its load on bare metal; lamp dark for a minute with everything off",
    "separator": "{about} dry, no more than warm after five minutes",
    "converter": "{about} dry, no more than warm after five minutes",
    "switch": "{about} works, and stays where it is set",
    "plug": "{about} unplugged and plugged back: the same as before",
    "tow_socket": "Trailer or its tester on the tow socket: every lamp of it right, and right again with it off",
    "fuse_and_wire_cool": "Fuse, holder and joints not hot after five minutes on",
    "no_warning": "No warning on the dash after a key cycle",
    "flash_rate_left": "Left flash rate",
    "flash_rate_right": "Right flash rate",
    "coded": "Computer coded for LED lamps: no bulb-out warning, normal flash rate, after a key cycle",
    "seen_at_night": "Reversing light or camera picture judged in the dark",
}
"""What is measured; `{about}` is the lamp, unit or part."""

AGAINST = {
    "step_early": "Finish Hook up first: a splice made too early may have to come out, or do harm.",
    "sign_hookup_open": "the hook-up isn't complete. Finish it first.",
    "sign_again": "it's signed already, and nothing that is printed has changed since.",
    "sign_steps_open": "{build step} open or done before the plan changed. Check off each, or mark it not needed.",
    "sign_untested": "{line} not tested. Test them first.",
    "sign_failed": "{line} failed. Find out why, fix it, then test again.",
}
"""What stands against checking off a step and signing, by rule; a count with its noun in braces."""

VERDICTS = {
    SheetVerdict.PASSED: "Passed",
    SheetVerdict.FAILED: "Failed",
    SheetVerdict.UNFINISHED: "Not finished",
}

OUTCOMES = {"pass": "passed", "fail": "failed", "untested": "not tested"}


def swapped_sentence(sheet: Sheet, outcomes: Mapping[str, Outcome], accessory: Accessory) -> str:
    """What failed lines look like where two leads are swapped; empty where they don't."""
    units = {f"added:{lead.id}": lead.unit for lead in accessory.leads}
    pairs = swapped_lamps(sheet, outcomes, units)
    names = [[lamp_name(lamp, accessory) for lamp in pair] for pair in pairs]
    said = [f"{one} and {mid_sentence(other)} look swapped." for one, other in names]
    return " ".join([*said, "Each does what the other should: check their two joints."]) if said else ""


def lamp_name(lamp: SheetLamp, accessory: Accessory) -> str:
    """`Left tail lamp, tail`, `Light bar, left`, `Factory stop lamp`."""
    if lamp.is_added:
        id = lamp.lead
        if id == OTHERS_OWN:
            keeps_feed = any(unit.keeps_feed for unit in accessory.units)
            return "The towed car's other lamps" if keeps_feed else "The towed car's own lamps"
        lead = next((each for each in accessory.leads if each.id == id), accessory.leads[0])
        unit = next(unit for unit in accessory.units if unit.id == lead.unit)
        name = lead.name or unit.name
        if lamp.number:
            name = f"{name}, lamp {lamp.number} of {unit.lamps}"
        return capital(name)
    function = lamp.does.functions[0]
    every = ", front, side and rear" if "turn" in function else ""
    return f"Factory {function_name(function, mid_sentence=True)}{every}"


def measure_name(measure: Measure, accessory: Accessory) -> str:
    """What is measured, and on which lamp, unit or part."""
    names = {unit.id: unit.name for unit in accessory.units}
    names |= {lead.id: lead.name or names[lead.unit] for lead in accessory.leads}
    about = names.get(measure.about, measure.about) or "the added lamp"
    return capital(MEASURES[measure.kind].replace("{about}", about))


def added_name(accessory: Accessory) -> str:
    """`Left tail lamp and right tail lamp`, `4 × left grille lamp and 4 × right grille lamp`."""
    names = [f"{unit.lamps} × {unit.name}" if unit.lamps > 1 else unit.name for unit in accessory.units]
    text = listed(names)
    return text[0].upper() + text[1:]


def line_asks(line: Line) -> str:
    """What a line asks: `lit`, `must stay dark`, `at most 0.50 V`."""
    if line.measure is None:
        return "must stay dark" if line.kind is CheckKind.MUST_NOT else signal_name(line.expected)
    measure = line.measure
    if measure.instrument is None:
        return "judged by eye and hand"
    if measure.low <= 0:
        return f"at most {measure.high:.2f} {measure.unit}"
    unit = "°C" if measure.unit == "C" else measure.unit
    return f"{measure.low:g} to {measure.high:g} {unit}"


def held_against(findings: Sequence[Finding]) -> str:
    """Why a step is not checked off or a sheet not signed, a sentence each."""
    return " ".join(
        capital(_counted(AGAINST[each.rule], each)) if n else _counted(AGAINST[each.rule], each)
        for n, each in enumerate(findings)
    )


def _counted(text: str, finding: Finding) -> str:
    number = int(finding.value or 0)
    return text.replace("{build step}", counted(number, "build step")).replace("{line}", counted(number, "line"))
