"""Sentences about belief: the next step, contradictions, warnings and safety."""

from __future__ import annotations

from collections.abc import Sequence
from math import inf

from electrics.document.places import Evidence, Origin, Setup
from electrics.formats.colour import parse_colour
from electrics.formats.reading_text import Word
from electrics.identify.belief import Belief, Contradiction, Lack, WireBelief
from electrics.identify.change import WhatChanges
from electrics.identify.explain import BackFeed
from electrics.identify.families import Family, Slip
from electrics.identify.grounds import good_for_a
from electrics.identify.kinds import access_kinds
from electrics.identify.needed import Need
from electrics.identify.plan import Step
from electrics.identify.settle import MOST_DATA
from electrics.vocabulary import Control, Function, Instrument, Load, Polarity, make_state
from hailstone.wording.words import (
    capital,
    function_name,
    listed,
    natural,
    pins_text,
    setup_name,
    state_action,
    state_name,
)

LIVE_SHARE = 0.6
"""Share of the battery voltage from which a wire counts as live [-]."""

_HOW = {
    Instrument.DMM: "Read volts on {pins}.",
    Instrument.LED_PROBE: "Touch {pins} with the LED probe: red, green, red/green if it flashes, both or none.",
    Instrument.TEST_LAMP: "Touch {pins} with the test lamp, its clip on ground: on, off, flashing or dim.",
    Instrument.OHMS: "Measure ohms from {pins} to ground, circuit dead.",
    Instrument.LOADED_DROP: "Clip a test light from battery positive to {pins}{each}. Read volts there.",
    Instrument.HERTZ: "Read the frequency on {pins}.",
    Instrument.CLAMP: "Clamp the wire at {pins}, or watch its lamp. Enter flash if it goes out whenever "
    "the turn lamp lights.",
}

_SAFETY = {
    Control.REVERSE: "Chock the wheels. Park brake on. Engine off if the transmission allows; if not, foot on the "
    "brake. Nobody in front of or behind the vehicle.",
    Control.ENGINE: "Engine running: ventilate, chock the wheels, park brake on, hands and leads clear of belts.",
    Control.BRAKE: "Foot on the pedal or a prop that cannot slip; nobody under the vehicle.",
}
ALWAYS = "Leave yellow airbag plugs, orange high-voltage cables and xenon ballasts alone."
_INSTRUMENT_SAFETY = {
    Instrument.OHMS: "Ohms only on a pin that has read under 0.3 V.",
    Instrument.LOADED_DROP: "A filament test lamp is not for airbag, data, pedal-switch or computer-fed wires.",
    Instrument.TEST_LAMP: "A filament test lamp is not for airbag, data, pedal-switch or computer-fed wires.",
    Instrument.TEST_LAMP_PLUS: "A filament test lamp is not for airbag, data, pedal-switch or computer-fed wires.",
}


def do_sentence(step: Step, kind: str = "") -> str:
    """What to do, as a person would call it out; pins in the order of the plug, slots at a place of kind fuse box."""
    pins = pins_text(sorted(step.pins, key=natural), pin_word(kind))
    pull = {Load.OUT: " and pull the lamp", Load.LED: " and fit the LED lamp", Load.TEST: " and clip on a test load"}
    if step.is_repeat:
        controls = " Switch off and on again." if not step.setup.state.is_dead else ""
        action = f"{state_action(step.setup.state)}{pull.get(step.setup.load, '')}"
        return f"{action}.{controls} Move the clip and measure {pins} again."
    how = _HOW[step.setup.instrument].format(pins=pins, each=", one at a time" if len(step.pins) > 1 else "")
    return f"{state_action(step.setup.state)}{pull.get(step.setup.load, '')}. {how}"


def pin_word(kind: str) -> str:
    """What a wire's place is called at a kind of access point: `pin`, or `slot` in a fuse box."""
    return access_kinds()[kind].pin_word if kind else "pin"


def why_sentence(step: Step) -> str:
    """What the step is good for, and who is needed."""
    if step.is_repeat and step.tells:
        text = f"One reading may be a slip: confirms {function_name(step.tells[0], mid_sentence=True)}."
    elif step.is_repeat:
        text = f"{'Those readings disagree' if len(step.pins) > 1 else 'That reading disagrees'} with all else."
    else:
        first, second = (function_name(function, mid_sentence=True) for function in step.tells)
        text = f"Tells {first} from {second}."
    if step.needs_helper:
        text += " Two people, or prop the pedal."
    return text


def cautions(*setups: Setup) -> list[str]:
    """The cautions that belong to what is set or is to be set, each once; none for harmless states."""
    found: list[str] = []
    for setup in setups:
        found += [_SAFETY[control] for control in setup.state.controls if control in _SAFETY]
        if setup.instrument is Instrument.OHMS and not setup.state.is_dead:
            found.append("Ohms need a dead circuit: switch everything off first.")
        if setup.instrument in _INSTRUMENT_SAFETY:
            found.append(_INSTRUMENT_SAFETY[setup.instrument])
    return list(dict.fromkeys(found))


def contradiction_sentence(contradiction: Contradiction, word: str = "pin") -> str:
    """Names the odd reading: `pin 2 read 0 V in park, but every other reading says tail. Measure again.`."""
    evidence, twice = contradiction.evidence, " twice" if contradiction.was_repeated else ""
    then = "Check the clip, the range and the control" if twice else "Measure again"
    where = setup_name(evidence.setup).lower()
    return (
        f"{capital(word)} {evidence.pin} read {evidence.reading}{twice} in {where}, but every other "
        f"reading says {function_name(contradiction.function, mid_sentence=True)}. {then}."
    )


def slip_sentence(family: Family, word: str = "pin") -> str:
    """One mistake that spoilt several readings: `In brake, it looks like “brake” wasn't on.`"""
    where, pins = setup_name(family.setup).lower(), pins_text(family.pins, word)
    if family.slip is Slip.SWAPPED:
        return f"{pins[0].upper()}{pins[1:]} look swapped in {where}. Measure both again."
    if family.slip is Slip.CLIP_ON_PLUS:
        return f"In {where}, the clip looks to be on battery positive. Move it to ground and repeat."
    control = f"“{state_name(make_state([family.control])).lower()}”" if family.control else "nothing"
    was = "wasn't on" if family.control else "was on"
    return (
        f"In {where}, it looks like {control} {was}, or the clip wasn't grounded. Check both, then measure {pins} "
        "again."
    )


def road_sentence(road: BackFeed) -> str:
    """`Pin 2 is tail and reads 7.9 V in brake: another circuit feeds it.`"""
    evidence, name = road.evidence, function_name(road.function, mid_sentence=True)
    where = setup_name(evidence.setup).lower()
    return (
        f"Pin {evidence.pin} is {name} and reads {evidence.reading} in {where}, where it is off: another circuit "
        "feeds it back. Set the complaint in Brief to “A lamp comes on when it shouldn't” to trace the path."
    )


def missing_sentence(function: Function) -> str:
    """That a wire which the job needs is not here, although it was looked for."""
    return (
        f"None of these wires is {function_name(function, mid_sentence=True)}, which this job needs. Was it really "
        "on, with the key on? If it was, open another lamp."
    )


def running_sentence(belief: Belief) -> str:
    """That the battery was higher than what was typed: the engine runs. Empty for none."""
    high = next((item for item in belief.point.evidence if _is_high(item)), None)
    if high is None:
        return ""
    return (
        f"Pin {high.pin} read {high.reading}, more than the supply of {high.supply_v:g} V: is the engine running? "
        "Enter the battery voltage now."
    )


ABOVE_SUPPLY = 1.06
"""From how much above the typed supply a reading says that the engine runs [-] (estimate)."""


def _is_high(item: Evidence) -> bool:
    return (
        item.is_volts and item.reading.high > ABOVE_SUPPLY * item.supply_v and not item.setup.state.on(Control.ENGINE)
    )


def odd_sentences(belief: Belief) -> list[str]:
    """What is odd at a place: slips, readings against all else, wrong roads, a supply that is too low."""
    word = pin_word(belief.point.kind)
    found = [slip_sentence(family, word) for family in belief.families]
    found += dict.fromkeys(contradiction_sentence(item, word) for item in belief.contradictions)
    found += [road_sentence(road) for road in belief.back_feeds[:MOST_ROADS]]
    return [*found, *filter(None, [running_sentence(belief)])]


MOST_ROADS = 2


def evidence_sentence(evidence: Evidence) -> str:
    """`12.2 V with brake`."""
    where = setup_name(evidence.setup)
    return f"{evidence.reading} · {where.lower()}" + (f" against pin {evidence.against}" if evidence.against else "")


def ground_sentence(wire: WireBelief) -> str:
    """What a ground that was tried under load carries; empty of any other wire."""
    carries = good_for_a(wire.evidence) if wire.function is Function.GROUND else None
    if carries is None:
        return ""
    limit = f"{carries:.0f} A" if carries >= 3 else f"{carries:.1f} A"
    return f"Good for about {limit} as a ground, by its drop under the test lamp." if carries < MOST_SAID_A else ""


MOST_SAID_A = 10.0
"""A ground that carries more than any lamp draws needs no figure [A]."""


def live_sentence(wire: WireBelief) -> str:
    """Every state in which a wire was found live, as a fuse may be by more than one; of a ground what it carries."""
    live = [
        f"{setup_name(item.setup).lower()}{' (flashing)' if item.reading.is_swing or word is Word.FLASH else ''}"
        for item in wire.evidence
        for word in [item.reading.word]
        if item.setup.instrument is Instrument.DMM
        and not item.against
        and (word in (Word.ON, Word.FLASH) or (word is None and item.reading.high >= LIVE_SHARE * item.supply_v))
    ]
    return f"Found live in {listed(live)}." if live else ground_sentence(wire)


_SAYS = {
    Origin.SAID: "{who} says pin {pin} is {function}",
    Origin.PIN_OUT: "The plug's standard puts {function} on {pin}",
    Origin.OTHER_SIDE: "As on the other side ({who}): {function} expected on {pin}",
    Origin.SPLITTER: "{who}, on the same splitter, has {function} on {pin}",
    Origin.EARLIER: "Measured on {who}, pin {pin} was {function}",
    Origin.WIRE_BOOK: "The wire book has {function} on {pin}{proven}",
}


def claim_sentences(wire: WireBelief) -> list[tuple[str, bool]]:
    """Each claim, and whether it is disputed: `The chart says pin 4 is tail; it measures as turn left.`"""
    found = []
    for claim in wire.claims:
        who = claim.who or {Origin.OTHER_SIDE: "mirrored"}.get(claim.origin, "the chart")
        text = _SAYS[claim.origin].format(
            who=who[0].upper() + who[1:] if claim.origin in (Origin.SAID, Origin.SPLITTER) else who,
            pin=wire.pin if claim.origin in (Origin.SAID, Origin.EARLIER) else f"pin {wire.pin}",
            function=function_name(claim.function, mid_sentence=True),
            proven=f" ({claim.who})" if claim.who else "",
        )
        is_disputed = claim in wire.disputed
        if is_disputed:
            text += f"; it measures as {function_name(wire.function, mid_sentence=True)}. Trust the measurement"
        found.append((text + ".", is_disputed))
    return found


def change_sentence(change: WhatChanges, supply_v: float) -> str:
    """The reading that would change a verdict: `Reading about 12.2 V with brake would make it stop.`"""
    where = setup_name(change.setup)
    seen = outcome_text(change, supply_v)
    rival = function_name(change.rival, mid_sentence=True)
    return f"{seen[0].upper()}{seen[1:]} in {where[0].lower()}{where[1:]} would make it {rival}."


def outcome_text(change: WhatChanges, supply_v: float) -> str:
    """What would be read: a range in the instrument's unit, a swing or a word."""
    if change.word is not None:
        return f"“{change.word}”"
    if change.swings:
        return "a display that swings"
    instrument = change.setup.instrument
    low, high = change.low, change.high
    if instrument in (Instrument.DMM, Instrument.DMM_AC):
        low, high, unit = low * supply_v, high * supply_v, "V"
    elif instrument in (Instrument.OHMS, Instrument.LOADED_DROP, Instrument.HERTZ):
        low, high = 10**low, 10**high
        unit = {Instrument.OHMS: "Ω", Instrument.HERTZ: "Hz"}.get(instrument, "V")
    else:
        unit = "A"
    if low <= 0 or low == -inf:
        return f"under {high:.2g} {unit}"
    if high == inf:
        return f"over {low:.2g} {unit}"
    return f"{low:.3g} to {high:.3g} {unit}"


_LACKS = {
    Lack.OWN_READINGS: "expected, not yet measured",
    Lack.GROUND_PROOF: "needs a loaded voltage drop, or ohms with its lamp pulled",
    Lack.CONFIRMATION: "only one reading so far; needs another that agrees",
    Lack.NEVER_ON: "never seen on yet",
    Lack.BUS: "may be a data line",
}


def lack_sentence(wire: WireBelief) -> str:
    """What a verdict that is sure enough still lacks; empty where it is settled, odd or just not sure."""
    if wire.lack is Lack.OWN_READINGS and wire.weights:
        return "sure with the chart only; its readings don't settle it yet"
    return _LACKS.get(wire.lack, "")


def verdict_name(wire: WireBelief) -> str:
    """`Reverse`, or `Stop, or stop and turn left` while two are still close."""
    rival, chance = wire.rival
    name = function_name(wire.function)
    if wire.polarity is Polarity.GROUND:
        name += ", ground-switched"
    if wire.probability < 0.85 and chance > 0.25 * wire.probability:
        return f"{name}, or {function_name(rival, mid_sentence=True)}"
    return name


def warnings(belief: Belief, wire: WireBelief) -> list[str]:
    """What to be careful about with this wire."""
    found = []
    if wire.function is Function.DATA:
        found.append("A data line: leave it alone, never tap it.")
    elif wire.probability_of(Function.DATA) > MOST_DATA or wire.lack is Lack.BUS:
        found.append("May be a data line: do not tap it.")
    if wire.function is Function.DEAD_FEED:
        found.append("Looks like a feed that is dead now: check its fuse, pull the lamp and measure ohms.")
    grounds = [other for other in belief.wires if other.function is Function.GROUND]
    if wire.function is Function.GROUND and len(grounds) > 1 and not wire.is_settled:
        pins = listed(other.pin for other in grounds)
        found.append(f"Pins {pins} look like ground. One may be a dead feed. Pull the lamp and measure ohms.")
    if wire.polarity is Polarity.GROUND:
        found.append(
            "Ground-switched: the lamp has battery voltage always and this wire is pulled to ground when on. "
            "A lamp added here takes its feed from battery and its ground from this wire."
        )
    if wire.function is Function.MARKER_BETWEEN:
        found.append("This marker returns through the turn lamp: it needs that filament. Do not tap it.")
    if "dimmed" in wire.function:
        found.append("Pulsed feed. LEDs flicker and relays chatter on it. Don't use plain diodes.")
    if parse_colour(wire.colour).question:
        found.append(parse_colour(wire.colour).question)
    for other in _swapped_with(belief, wire):
        pins = capital(pins_text(sorted((wire.pin, other.pin), key=natural)))
        found.append(f"{pins} are swapped against what was said of them.")
    return found


def _swapped_with(belief: Belief, wire: WireBelief) -> list[WireBelief]:
    """The wires that are settled as what was said of this one, while this one is what was said of them."""
    return [
        other
        for other in belief.wires
        if wire.function in {claim.function for claim in other.disputed}
        and other.function in {claim.function for claim in wire.disputed}
    ]


def summary_sentence(belief: Belief) -> str:
    """What to say when there is no next step."""
    if not belief.wires:
        return "Add the pins of this connector to begin."
    open_wires = [wire.pin for wire in belief.wires if not wire.is_settled]
    if not open_wires:
        return "Every wire is settled. Stop measuring."
    pins = pins_text(open_wires, pin_word(belief.point.kind))
    return f"More readings won't settle {pins}. Trace the wire, or look at its lamp."


INSTEAD = "Trace the wire, look at its lamp, or get the maker's chart."


def for_sentence(step: Step, kind: str = "") -> str:
    """What to do and for which tap: `For the reverse tap: shift into reverse. Measure pins 1 and 2.`"""
    do = do_sentence(step, kind)
    return f"For {_tap(step.tells[0])}: {do[0].lower()}{do[1:]}" if step.tells else do


def needs_sentence(belief: Belief, needs: Sequence[Need]) -> str:
    """Whether it is enough for the job, and what stays open; or that nothing would settle what is still open."""
    word = pin_word(belief.point.kind)
    found = [
        f"{word} {need.pin} is {function_name(need.function, mid_sentence=True)}"
        if need.is_here
        else f"no wire here is {function_name(need.function, mid_sentence=True)}"
        for need in needs
        if need.is_met
    ]
    still = [need for need in needs if not need.is_met]
    if still:
        taps = listed(_tap(need.function) for need in still)
        return f"More readings won't settle {taps}. {INSTEAD}"
    rest = [wire.pin for wire in belief.wires if not wire.is_settled and wire.pin not in {need.pin for need in needs}]
    left = f" {capital(pins_text(rest, word))} stay{'s' if len(rest) == 1 else ''} open: not needed." if rest else ""
    enough = f"Enough for this job: {listed(dict.fromkeys(found))}."
    return f"{enough}{left}" if found else "This job needs nothing from here."


def beyond_sentence(belief: Belief, need: Need) -> str:
    """That nothing at hand can settle what the job needs here, and what to do then."""
    if need.function is Function.GROUND:
        return (
            "Nothing you have with you can prove a ground here. It takes a multimeter, and a test lamp where no "
            "computer feeds the lamps. Bring them, or ground the lamp at a stud you've proven."
        )
    rival = next(each for each, _ in belief.wire(need.pin).ranked if each is not need.function)
    name, other = (function_name(each, mid_sentence=True) for each in (need.function, rival))
    return f"No reading here can tell {name} from {other}. {INSTEAD}"


def _tap(function: Function) -> str:
    name = function_name(function, mid_sentence=True)
    return "the ground" if function is Function.GROUND else f"the {name} tap"


def arrangement_note(belief: Belief) -> str:
    """How sure the arrangement is, in words."""
    arrangement, chance = max(belief.arrangement.items(), key=lambda item: item[1])
    if chance < 0.9:
        return "Separate or combined signals: not known yet"
    kind = "brake and turn on separate wires" if arrangement == "separate" else "brake and turn on one wire"
    return f"{arrangement.capitalize()} signals: {kind}"
