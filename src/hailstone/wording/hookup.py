"""Sentences about hook-ups: why a way is or is not right, what is missing, what forbids it."""

from __future__ import annotations

import re
from collections.abc import Mapping, Sequence

from electrics.design.accessories import Accessory
from electrics.design.forms import Form
from electrics.design.run import SHOP_RANGE_MM2, WireOption
from electrics.design.units import Lead
from electrics.design.wanted import Wanted
from electrics.document.circuits import FedBy
from electrics.identify.belief import WireBelief
from electrics.job.assumptions import About, Assumption
from electrics.job.hookup_plan import HookUpPlan
from electrics.job.own_side import OwnSideWire
from electrics.job.ways import PlaceWire
from electrics.signals import Scenario
from electrics.vocabulary import BrakeWithHazard, Function, Polarity, State
from electrics.ways.chains import Chain
from electrics.ways.ranking import Judged
from electrics.ways.search import Candidate
from hailstone.wording.habits import HABITS
from hailstone.wording.words import (
    amps_text,
    at_pin,
    capital,
    counted,
    function_name,
    listed,
    percent,
    signal_name,
    state_name,
)

INPUT_NAMES = {
    "load_a": "Load",
    "voltage_v": "Running voltage",
    "hot_c": "Copper at",
    "aim_percent": "Drop to aim at",
    "most_drop_v": "Drop at most",
    "fuse_factor": "Fuse ÷ load",
    "fuse_a": "Branch fuse",
    "diode_margin": "Diode ÷ current",
    "reverse_v": "Diode reverse rating",
    "sleeve_k_per_w": "Temperature rise in heat-shrink",
    "contact_factor": "Relay contact ÷ load",
    "coil_ohm": "Relay coil",
    "sleeve_factor": "Sleeve ÷ joint",
}
"""Inputs of the sizes that can be overridden, by id."""

FORMS = {
    "direct": "Direct from {0}",
    "diode_or": "{0} or {1}, a diode each",
    "three_diodes": "{0}, {1} or {2}, each through a diode",
    "joined": "{0} and {1} tied together",
    "relay": "Relay from the battery, coil on {0}",
    "relay_or": "Relay from the battery, coil on {0} or {1}, each through a diode",
    "and": "{1} through a relay's NO contact (87), coil on {0}",
    "and_not": "{1} through a relay's NC contact (87a), coil on {0}",
    "held_open": "{0}, and {1} through a contact that opens while it flashes",
    "self_switching": "{0} and {1} to a self-switching bulb",
    "to_ground": "Relay to ground (30 ground, 87 lamp), coil on {0}",
    "direct_ground": "Lamp fed from the battery, its ground lead on {0}",
    "from_ground": "Relay from the battery, coil between battery and {0}",
    "converter": "Powered combining converter: {0} as stop, {1} as turn",
    "pulse_module": "Battery-powered module rated for pulsed (PWM) inputs, its input on {0}",
    "separate_turn": "Powered separating converter: turn signal from {0}",
    "separate_stop": "Powered separating converter: brake from {0} and {1}",
}

OWN_SOURCES = {"@battery": "the battery", "@switch": "an added switch", "@ignition": "a key-on fuse"}
"""Sources that are no wire of the vehicle, by key."""

NOTES = {
    "relay_or": "Fuse it within 20 cm of the battery. The two diodes keep the feeds apart.",
    "pulse_module": "Its input only senses, and reads pulses as on. The lamp runs from the battery on its own "
    "fuse. The module needs its own ground. Over its limit it shuts off; cycle its power.",
    "separate_turn": "Needs its own supply and ground. Over its limit it shuts off; cycle its power.",
    "separate_stop": "Needs its own supply and ground. It can't see the brake while both sides flash.",
    "relay": "Fuse it within 20 cm of the battery. The coil draws 0.15 A on 12 V (0.08 A on 24 V), enough to "
    "keep a monitored circuit awake.",
    "three_diodes": "Steady light hides the flash. A bulb behind a diode loses about a fifth of its light.",
    "diode_or": "Steady light hides the flash. A bulb behind a diode loses about a fifth of its light.",
    "and": "The contact carries the lamp; the coil draws 0.15 A on 12 V (0.08 A on 24 V).",
    "and_not": "The relay opens the feed. Seal the unused contact. At rest 30 connects to 87a.",
    "held_open": "A timed relay (87a) opens the steady feed while the other one flashes. It must hold for about 1 "
    "s, through the dark half of each flash. Rate the contact for 1.25 × the lamp's current. Put a "
    "diode in each feed.",
    "self_switching": "This LED bulb turns its steady light off while it flashes. Use amber for the front turn "
    "signal. "
    "It draws about 0.4 A, so the flasher or computer may read it as out.",
    "to_ground": "Use 87, not 87a. Check continuity before you close it up.",
    "from_ground": "Fuse it within 20 cm of the battery.",
    "converter": "Needs its own supply and ground. Without the supply its lamps are dead; without the ground they "
    "cross-feed at random. Above 4 to 7 A it shuts off; cycle its power.",
}

CAUTIONS = {
    "own": "Write down what each lead must do in every state before you connect it. Then prove it state by state.",
    "led_bulbs": "LED bulbs draw a tenth of the current, so a flasher or computer may read them as out. Use bulbs "
    "of the lens color, type-approved where local law asks for it.",
    "load": "Over a few amps, use a relay from the battery with its coil on reverse. A switch in parallel "
    "back-feeds the factory circuit unless a diode or a relay keeps them apart.",
    "resting_feed": "At rest a reverse feed looks like ground. Tap the wire you measured in reverse.",
    "comes_off": "The part that carries the lamp comes off or swings. Fit a plug, leave slack, and ground it to "
    "the frame, not to that part. Check LED polarity.",
    "one_side": "Tap one side only, and watch the load.",
    "not_the_trailer_fuse": "Don't use the trailer fuse: on combined signals it lights under braking. Don't use "
    "the marker "
    "wire: it's steady.",
    "combined_socket": "A 4-flat carries combined stop and turn. A dual-plug splitter keeps the tow socket usable.",
    "pigtail": "Cut the replaceable pigtail, not the vehicle's harness. Seal unused leads.",
    "amber_front": "Front turn signals are amber by law. With a diode in each feed, steady light hides the flash.",
    "licence_law": "In many places the law forbids switching license lamps apart from park. Try a shield or another "
    "aim first. Check local code.",
    "contact_87": "Use 87, not 87a. The coil needs its ground.",
    "variable_voltage": "Don't use diodes on a car whose lamps are pulsed (PWM). Fit a separate bulb and socket. "
    "Keep "
    "the two systems from feeding each other.",
    "own_lamps_by_diode": "Only on plain circuits: on pulsed (PWM) ones fit separate bulbs. Cut each lamp's wire "
    "beside "
    "the lamp and fit two diodes, one from the towing vehicle and one from the car, both stripes to "
    "the lamp. Before the first tow, check that the car's other lamps stay dark.",
    "trace_the_switch": "Old and new turn switches differ in their leads. Trace each one; don't trust the colors.",
}

JOINT_ADVICE = {
    "comes_off": "The part that carries the lamp comes off or swings. Put a plug or disconnect there.",
    "lease": "The car goes back as it came. A T-harness or a fuse tap leaves no trace.",
    "single_use": "It comes off after one use. A T-harness, disconnect or fuse tap comes apart again; a "
    "displacement tap is used up once opened.",
    "at_fuse": "The source is a fuse position. A fuse tap leaves the harness alone.",
    "cuts_loom": "A computer monitors this circuit. A T-harness leaves its wires whole.",
    "fuse_wakes": "Fuse tap: put the factory fuse in the slot on the supply side, the branch fuse beside it. The "
    "other way round, both loads run through one fuse.",
}
"""What speaks for another way of joining here."""

_OPTION_FAULTS = {
    "drop": "over the voltage drop limit",
    "aim": "over the voltage drop target",
    "fuse": "no fuse carries the load and protects this wire",
}

_REFUSALS = {
    "never": "never tap a data line",
    "pulsed": "the feed is pulsed (PWM): the lamp would dim or flicker",
    "pulsed_coil": "the coil is on a pulsed feed: it chatters, or holds when it should drop out",
    "computer": "a computer powers or monitors this circuit: don't add this much load",
    "back_feed": "the circuits back-feed each other and disturb what shares the stop feed (cruise, ABS, shift lock, "
    "trailer brakes). Separate them with diodes or a relay",
    "unsettled": "not settled yet: keep measuring",
    "part": "no diode, relay or module carries this current on this system. Use another hook-up, or split the load",
    "host_load": "overloads this circuit's fuse or wire. Feed the lamps from the battery through a relay",
    "switch_load": "overloads the added switch. Let it move a relay's coil",
    "never_lit": "this would never come on. Change what it comes on with",
    "hidden": "one filament stays lit for both, so the other function doesn't show. Use a lamp with two filaments or "
    "brightnesses, or a second lamp",
}


GROUND_ADVICE = {"corrodes": "Ring terminal on bare metal, tight, then coat it. A screw in the open corrodes."}


BY_THE_BRIEF = {FedBy.PLAIN: "no computer (from the brief)", FedBy.COMPUTER: "computer-fed (from the brief)"}


def assumed_sentence(function: Function, assumed: Mapping[str, object]) -> str:
    """What is assumed of a factory circuit: `Reverse: 2 × P21W, 10 A fuse, 18 AWG.`; empty for nothing."""
    parts = [
        _bulbs(assumed),
        f"{assumed['host_fuse_a']:g} A fuse, {assumed['host_wire']} AWG" if "host_fuse_a" in assumed else "",
        BY_THE_BRIEF[FedBy(str(assumed["fed_by"]))] if "fed_by" in assumed else "",
    ]
    text = ", ".join(filter(None, parts))
    return f"{function_name(function)}: {text}." if text else ""


def _bulbs(assumed: Mapping[str, object]) -> str:
    """`2 × P21W`, `P21W`, `2 lamps`; empty for nothing."""
    count, bulb = assumed.get("host_count"), assumed.get("host_bulb")
    if bulb is None:
        return "" if count is None else counted(int(str(count)), "lamp")
    return f"{bulb}" if count is None else f"{count} × {bulb}"


def assumption_sentence(each: Assumption) -> str:
    """What was assumed and where the plan changes: `Stop: 15 A fuse (assumed). The plan changes at 10 A or less.`"""
    if each.about is About.HABIT:
        return _habit_sentence(each)
    where = each.where if each.about is About.LENGTH else function_name(Function(each.where))
    if each.about is About.COMPUTER:
        return f"{where}: not known whether a computer feeds it. Find out before you splice."
    if each.about is About.LED:
        return (
            f"{where}: bulbs (assumed). With factory LEDs the plan {'changes' if each.changes_at else 'is the same'}."
        )
    unit = {About.LENGTH: " m", About.FUSE: " A", About.BULBS: ""}[each.about]
    what = {About.FUSE: " fuse", About.BULBS: " lamp" if each.value == 1 else " lamps"}.get(each.about, "")
    said = f"{where[0].upper()}{where[1:]}: {each.value:g}{unit}{what}"
    if each.changes_at is None:
        return f"{said} (assumed). Nothing changes from {each.low:.3g} to {each.high:.3g}{unit}."
    further = "less" if each.changes_at < each.value else "more"
    return f"{said} (assumed). The plan changes at {each.changes_at:g}{unit} or {further}."


MORE = "If it watches stop and tail too, there are more problems"
OR_MORE = "Nothing changes if it watches stop and tail too"


def _habit_sentence(each: Assumption) -> str:
    words = HABITS[each.where]
    said = words.sentence.format(words.told(each.value))
    if not words.unit:
        return f"{said} (assumed). {MORE if each.changes_at else OR_MORE}."
    if each.changes_at is None:
        return f"{said} (assumed). Nothing changes from {words.shown(each.low)} to {words.told(each.high)}."
    return f"{said} (assumed). A new problem starts at {words.told(each.changes_at)}."


def planned_sentence(plan: HookUpPlan) -> str:
    """`Pin 3, 18 AWG. Build it.`, where nothing is open any more; what is upset is cured first."""
    (first, *others) = plan.leads
    if others:
        said = f"{len(plan.leads)} leads are planned."
    else:
        way, conductor = first.chosen, first.sized.option.conductor if first.sized.option else None
        tapped = f"Pin {way.main.wire.pin}" if way and way.tapped else "From the battery"
        said = f"{tapped}, {conductor.name}." if conductor else f"{tapped}."
    return f"{said} {'Now fix the problems it causes.' if plan.upsets else 'Build it.'}"


def nearer_sentence(item: OwnSideWire) -> str:
    """That a wire on the unit's own side would do, once it is settled."""
    likely = f"{percent(item.probability)} {function_name(item.function, mid_sentence=True)}"
    return (
        f"{capital(item.lead.title)}: pin {item.pin} of {item.place} is on its own side and {likely}. Measured on "
        f"until it is settled, it saves the wire from {item.far}."
    )


def added_sentence(plan: HookUpPlan) -> str:
    """What is added, and of a single lead what is lost on its way."""
    option = plan.leads[0].sized.option
    lost = f", {option.drop_v:.2f} V lost on the way" if plan.is_single and option else ""
    return f"{amps_text(plan.added_a)} added{lost}."


def wakes_sentence(states: Sequence[State]) -> str:
    """What else wakes a fuse position that is tapped."""
    return f"This fuse is live in: {', '.join(state_name(state).lower() for state in states)}. So is the lamp's feed."


def source_name(wire: WireBelief, *, is_at_fuse: bool = False) -> str:
    """`pin 3 (reverse)`, `slot F7 (tail)`."""
    return f"{at_pin(wire.pin, is_at_fuse=is_at_fuse)} ({function_name(wire.function, mid_sentence=True)})"


def way_name(candidate: Candidate, wires: Sequence[PlaceWire]) -> str:
    """`Relay from the battery, coil on pin 3 (reverse)`."""
    names = (
        OWN_SOURCES.get(source.key) or source_name(place.wire, is_at_fuse=place.is_at_fuse)
        for source, place in zip(candidate.sources, wires, strict=True)
    )
    text = form_text(candidate.form, list(names))
    return text[0].upper() + text[1:]


def form_text(form: Form, names: Sequence[str]) -> str:
    """A form on its sources in words; of two forms, the one in front first."""
    if not isinstance(form, Chain):
        return FORMS[form.id].format(*names)
    inner = FORMS[form.inner.id].format(*form.inner_of(names))
    outer = FORMS[form.outer.id].format(*form.outer_of(names, "that"))
    return f"first {inner}; then {outer[0].lower() + outer[1:]}"


def form_note(form: Form) -> str:
    """What to watch for with a form."""
    if isinstance(form, Chain):
        return " ".join(dict.fromkeys(filter(None, (form_note(form.outer), form_note(form.inner)))))
    return NOTES.get(form.id, "")


def way_reason(
    judged: Judged, wires: Sequence[WireBelief], lead: Lead, accessory: Accessory, scenarios: Sequence[Scenario]
) -> str:
    """Why a way is right, or the first state in which it is wrong and what would be seen there."""
    candidate = judged.candidate
    sure = min(wire.probability for wire in wires)
    if judged.is_right:
        note = form_note(candidate.form)
        states = "every state: key on or off, flash on or off"
        text = f"{percent(sure)} sure: as wanted in {states}."
        return f"{text} {note}".strip()
    reasons = []
    if judged.wrong:
        rest = counted(len(judged.wrong) - 1, "more state")
        more = f", and wrong in {rest}" if len(judged.wrong) > 1 else ""
        reasons.append(f"{first_wrong(judged, lead, accessory.lamp, scenarios)}{more}")
    reasons += [_REFUSALS[rule] for rule in candidate.refusals]
    if any(wire.polarity is Polarity.GROUND for wire in wires) and candidate.form.id == "direct_ground":
        reasons.append("it is switched to ground here")
    text = "; ".join(reasons)
    return text[0].upper() + text[1:] + "."


def first_wrong(judged: Judged, lead: Lead, lamp: str, scenarios: Sequence[Scenario]) -> str:
    """`lit in brake, where the added lamp must be dark`: the first wrong state and what would be seen there.

    `scenarios` are the variants that the vehicle may be of, the likeliest first.
    """
    state, candidate = judged.wrong[0], judged.candidate
    variant, seen, wished = candidate.difference(state)
    scenario = scenarios[variant]
    if judged.trial and state in judged.trial.wrong:
        scenario = judged.trial.seen_on[state]
        seen, wished = judged.trial.shows[state], lead.wanted.signal(state, scenario)
    where = "" if scenario == scenarios[0] else f" on a vehicle whose {_WINS[scenario.brake_with_hazard]}"
    return (
        f"{signal_name(seen)} in {state_name(state).lower()}{where}, where the {lamp} must be {signal_name(wished)}"
    )


_WINS = {
    BrakeWithHazard.BRAKE_WINS: "brake wins over the hazards",
    BrakeWithHazard.FLASH_WINS: "hazards win over the brake",
}


def never_reason(wire: WireBelief) -> str:
    """Why a wire is no source at all."""
    return f"{function_name(wire.function)}: {_NEVER.get(wire.function, 'never a tap')}."


def lead_wish(lead: Lead) -> str:
    """What a lead wants, in words: `Flashes with turn left` or the expression as it is."""
    return wish_text(lead.wanted) + (", by ground" if lead.polarity is Polarity.GROUND else "")


def wish_text(wanted: Wanted) -> str:
    """An expression in words."""
    words = [function_name(function, mid_sentence=True) for function in wanted.functions]
    text = wanted.text
    for function, word in zip(wanted.functions, words, strict=True):
        text = re.sub(rf"\b{function}\b", word, text)
    text = text.replace("own_switch", "by the added switch")
    if text.startswith("over("):
        front, _, back = text.removeprefix("over(").removesuffix(")").partition(", ")
        text = f"{front} while on or flashing, otherwise {back}"
    return text


def option_reason(option: WireOption) -> str:
    """Why a size of wire is wrong or passed over; empty when it is right."""
    if option.is_right and option.conductor.area_mm2 < SHOP_RANGE_MM2:
        return "thinner than shops use for added lamps"
    faults = [fault for fault in option.faults if not (fault == "aim" and "drop" in option.faults)]
    return listed(_OPTION_FAULTS[fault] for fault in faults)


_NEVER = {
    Function.DATA: "never tap a data line",
    Function.GROUND: "it's the return to the battery and feeds nothing",
    Function.SPARE: "connected to nothing",
    Function.MARKER_BETWEEN: "it lights through the turn bulb's filament",
    Function.DEAD_FEED: "its circuit doesn't work; find out why first",
    Function.FLASHER_OUT: "it feeds every turn lamp: both sides would flash",
    Function.PILOT: "it's the small lamp in the dash",
    Function.PILOT_LEFT: "it's the small lamp in the dash",
    Function.PILOT_RIGHT: "it's the small lamp in the dash",
    Function.HAZARD_FEED: "it supplies the flasher; use the battery with its own fuse",
    Function.STOP_SWITCH: "it may carry signals for cruise and shift lock; use the high stop lamp's feed",
}
