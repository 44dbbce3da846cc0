"""Sentences about what a circuit does: findings, and a table for the command line."""

from __future__ import annotations

from electrics.circuit.cases import is_flashing
from electrics.circuit.findings import CircuitFinding
from electrics.circuit.simulate import Simulation
from electrics.vocabulary import parse_state
from hailstone.wording.words import state_name

FINDINGS = {
    "not_solved": "The circuit can't be solved{where}. Look for two sources against each other, or values far apart.",
    "chatter": "{subject} chatters{where}, about {value:.0f} times a second: it switches its own coil off. Feed "
    "the coil from ahead of its contact.",
    "floating_node": "Nothing ties node {subject} to ground. Connect it or leave it out.",
    "reversed_battery": "{subject} is in backward. Turn it around before anything burns.",
    "shorted_source": "{subject} is shorted{where}: only {value:.1f} V left. Find the short before a wire burns.",
    "blown_fuse": "{subject} blows{where}: {value:.1f} A through {limit:g} A.",
    "fuse_load": "{subject} carries {value:.1f} A{where}; {limit:.1f} A is its continuous limit.",
    "shut_off": "{subject} shuts off{where}: more than {limit:g} A. It comes back with the next key cycle.",
    "outage_warning": "{subject} reads a bulb as out{where}: {value:.2f} A, and it expects {limit:.2f} A.",
    "overload_warning": "{subject} warns of too much load{where}: {value:.2f} A, limit "
    "{limit:.2f} A. Remove what draws too much.",
    "given_up": "{subject} reads its lamp as out{where} and has shut it off: it expects {limit:.2f} A. It comes "
    "back with the next key cycle.",
    "test_pulse_glow": "{subject} blinks with the computer's test pulses{where}. A resistor won't help; a decoder or "
    "coding will.",
    "feed_drop": "{subject} loses {value:.2f} V on its feed{where}; limit {limit:.2f} V.",
    "ground_drop": "{subject} loses {value:.2f} V on its ground{where}; limit {limit:.2f} V.",
    "never_dark": "{subject} is lit {value:.0%} of the time{where}; limit {limit:.0%}. Its capacitor keeps it lit "
    "through the dark half. Use a smaller one, or none.",
    "pulses_filled": "{subject} gives {value:.0%} of its light{where}; the pulses alone give {limit:.0%}. The "
    "capacitor makes dim as bright as full. Don't use it on a dimmed feed.",
    "dark_by_fault": "{subject} gives {value:.0%} of its light{where} and should give {limit:.0%}: {by} is faulty.",
    "flash_rate": "{subject} flashes {value:.0f} times a minute{where}; {limit:.0f} is normal (60 to 120 allowed).",
    "no_flash": "{subject} doesn't flash{where}: its lamps stay lit or dark. Normal is {limit:.0f} a minute.",
    "back_feed": "{subject}: {milli:.0f} mA flows backward{where}. Where two feeds meet, add a diode, stripe to "
    "the lamp. Fix an open ground or a wrong bulb.",
    "wrong_road": "{subject} glows at {value:.0%}{where} with none of its feeds on{road}. Add a diode, stripe to "
    "the lamp, where current must go one way only.",
    "wrong_road_part": "{subject} glows at {value:.0%}{where} with none of its feeds on: {by} is faulty. Fix or "
    "replace "
    "it.",
    "wrong_road_ground": "{subject} glows at {value:.0%}{where} with none of its feeds on: {by} lost its ground and "
    "back-feeds. Fix its ground.",
    "grounds_at_odds": "{subject} drops {value:.2f} V{where}; a ground should drop {limit:.2f} "
    "V or less. Clean or replace it.",
    "fuse_for_wire": "{by} is {value:g} A; {subject} needs {limit:g} A or less. In a short the wire burns before the "
    "fuse blows. Fit a smaller fuse or a thicker wire.",
    "no_fuse": "There's no fuse between the battery and {subject}. Fuse it within {limit:g} m of the battery.",
    "flashers_in_series": "{by} feeds {subject}: two flashers in a row, so neither keeps its rate. Take one out.",
    "wrong_system": "{subject} is a {limit:g} V part and gets {value:.1f} V at most. Fit one for this system.",
    "lost_on_the_way": "{subject} loses {value:.2f} V on its way{where}, mostly in {by}; limit {limit:.2f} V. Use a "
    "thicker or shorter wire, or a better contact.",
    "sneak_feed": "{subject} is off, but what it feeds is live{where} at {value:.1f} V: current gets in through "
    "{by}. Give {by} its own feed or ground, or put a diode in that lead, stripe to {by}.",
    "sneak_feed_part": "{subject} is off, but what it feeds is live{where} at {value:.1f} V: {by} is faulty. Fix or "
    "replace it.",
    "sneak_feed_ground": "{subject} is off, but what it feeds is live{where} at {value:.1f} V: {by} lost its "
    "ground and "
    "back-feeds. Fix its ground.",
    "joint_loss": "{subject} drops {value:.2f} V{where}; a connection should drop {limit:.2f} V or less. Make it "
    "again.",
    "wire_load": "{subject} carries {value:.1f} A{where}; fuse this wire at {limit:g} A or less. Use thicker wire "
    "or a smaller fuse.",
    "resistor_heat": "{subject} makes {value:.0f} W of heat{where}; this mount handles {limit:.0f} "
    "W. It will burn up. Mount it on bare metal, use a bigger case, or another fix.",
    "over_volts": "{subject} gets {value:.1f} V{where} and is a {limit:g} V bulb. Fit the bulb for this system.",
    "short_circuit": "{subject} delivers {value:.0f} A{where}: a short that no fuse stops. Find it, and fuse the "
    "feed.",
    "turned_round": "{subject} is in backward ({value:.1f} V reversed) and never conducts. Turn it around.",
    "coil_open": "{subject} has {value:.1f} V on its coil and never moves: the coil's other end goes nowhere. "
    "Ground it.",
    "pulsed_coil": "{subject} gets {value:.1f} V of pulses on its coil{where} and pulls in by {limit:g} V. It may "
    "chatter or stay in. Don't put a relay on a pulsed feed.",
    "overloaded_diode": "{subject} carries {value:.1f} A{where}; it's rated {limit:g} A. Use a larger one.",
    "order_matters": "{subject} stays in{where} if it was in just before: {value:.1f} V hold it, and it drops out at "
    "{limit:g} V. The lamp then depends on what you switch first.",
    "coil_at_rest": "{subject} is pulled in with everything off. Its coil draws {milli:.0f} mA day and night and "
    "empties the battery. Use a hook-up whose relay is at rest.",
    "factory_lamp": "{subject} gives {value:.0%} of its light{where}; before it gave {limit:.0%}.",
    "ghost_glow": "{subject} glows faintly with everything off: {milli:.2g} mA leak into it, and 0.1 mA shows in "
    "the dark. Put a resistor across the lamp.",
    "lit_amiss": "{subject} is lit{where}, and should be off.",
    "dim_amiss": "{subject} gives {value:.0%} of its light{where}: dim when it should be bright.",
    "dark_amiss": "{subject} stays dark{where} and should be lit.",
    "linked_leads": "{subject}: its leads feed each other inside, {value:.2g} V across 1 kΩ. A diode in the dimmer "
    "lead keeps them apart.",
    "drain": "Draws {milli:.0f} mA with everything off, mostly {by}. Find what stays awake.",
}


def finding_sentence(finding: CircuitFinding) -> str:
    """`Turn fuse carries 13.1 A with hazard (lit); for long it should carry no more than 12.0 A.`"""
    where = f" with {state_name(parse_state(finding.state)).lower()}" if finding.state else ""
    rule = "no_flash" if finding.rule == "flash_rate" and finding.value < 1 else finding.rule
    text = FINDINGS[f"{rule}_{finding.mends}" if finding.mends else rule].format(
        subject=finding.subject,
        where=where,
        value=finding.value,
        milli=1e3 * finding.value,
        limit=finding.limit,
        by=finding.by,
        road=f", through {finding.by}" if finding.by else "",
    )
    return text[0].upper() + text[1:]


def ohms_sentence(first: str, second: str, ohm: float) -> str:
    """`Between a and b with the battery off: 0.41 ohm.`"""
    shown = "OL (open)" if ohm == float("inf") else f"{ohm / 1000:.3g} kohm" if ohm >= 1000 else f"{ohm:.3g} ohm"
    return f"Between {first} and {second} with the battery off: {shown}."


def simulation_text(simulation: Simulation, found: tuple[CircuitFinding, ...]) -> str:
    """Light of every lamp in every state and phase, flash rates, and what was found."""
    lamps = sorted({name for name, _ in simulation.light})
    width = max([len(name) for name in lamps] or [4])
    lines = []
    for point in simulation.points:
        state = point.case.state
        flash = simulation.flash(state)
        phase = "" if not is_flashing(state) else ", lit" if point.case.lit else ", dark"
        lines.append(f"{state}{phase}")
        for (element, branch), light in sorted(simulation.light.items()):
            share = float(light[point.row])
            if share >= 0.005:
                name = f"{element} {branch}".strip()
                # a lamp of two leads and one string is listed once, by what runs through the string
                amps = max(abs(point.amps(element, each)) for each in (branch, "string"))
                lines.append(f"  {name:<{width}}  {share:5.0%} light  {amps:6.2f} A")
        if point.case.lit:
            for name, rhythm in flash.items():
                lines.append(f"  {name}: {rhythm.per_minute:.0f} a minute, {rhythm.word}")
    lines += ["", *(f"{each.severity}: {finding_sentence(each)}" for each in found)] if found else []
    return "\n".join(lines)
