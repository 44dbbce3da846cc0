"""Complaints in words, and what to say of one when the circuit shows it, or does not."""

from __future__ import annotations

from collections.abc import Mapping, Sequence

from electrics.correct.complaints import shown_by
from electrics.correct.effects import Effect
from electrics.document.vehicle import FlasherKind

__all__ = ["CANNOT", "COMPLAINTS", "LOOK_AT", "complaint_sentence"]

COMPLAINTS = {
    "fast_flash": "It flashes too fast",
    "slow_flash": "It flashes slowly, or stays lit",
    "warning": "The dash warns, or a circuit shuts off",
    "wrong_lamp": "A lamp comes on when it shouldn't",
    "dash": "The dash lights pulse with the turn signal",
    "glow": "A lamp glows when it is off",
    "dead": "A lamp is dead since the change",
}

LOOK_AT = {
    "fast_flash": "Pull one bulb on each side and count the flashes. The side that doesn't change has the lamp "
    "that reads as out.",
    "slow_flash": "Measure the flasher's supply while it flashes, then count the bulbs on it against its label.",
    "warning": "Clamp the feed with the lamp on, and put the old bulb back. If the warning stays, cycle the key.",
    "wrong_lamp": "Read the volts at the lamp that should be dark. Then pull the lamps on the same ground one by "
    "one: a bad ground glows through its neighbors.",
    "dash": "See whether one dash turn light sits between left and right. With LEDs, current goes through it.",
    "glow": "Read the volts at the lamp with everything off. Volts that vanish under a test light are "
    "leakage; short pulses are the computer's test.",
    "dead": "Read feed pin and ground pin with it switched on. 0 V on both: the feed is open. Battery on "
    "both: the ground is open. Battery and 0 V: the lamp is dead, or an LED is in backward.",
}
"""What to measure where the circuit does not show it (common practice)."""


CANNOT: Mapping[tuple[str, FlasherKind | None], str] = {
    ("fast_flash", FlasherKind.FIXED): "A fixed-rate flasher can't do that. Check which flasher it is.",
    ("slow_flash", FlasherKind.FIXED): "A fixed-rate flasher can't do that. Check which flasher it is.",
    (
        "fast_flash",
        FlasherKind.BIMETAL,
    ): "A bimetal flasher slows or stays lit with too little load. It speeds up only with a bulb too "
    "many. Check which flasher it is.",
    (
        "slow_flash",
        FlasherKind.ELECTRONIC,
    ): "A load-sensing flasher speeds up; it doesn't slow down. Check which flasher it is.",
}
"""What is complained of and what flashes the lamps, where the two contradict each other (common practice)."""


def complaint_sentence(complaint: str, effects: Sequence[Effect], flasher: FlasherKind | None = None) -> str:
    """Whether the circuit as it is said shows what is complained of, and what to look at where it does not."""
    if not complaint:
        return ""
    said = f"Complaint: {COMPLAINTS[complaint][0].lower()}{COMPLAINTS[complaint][1:]}."
    if (complaint, flasher) in CANNOT:
        return f"{said} {CANNOT[complaint, flasher]}"
    if shown_by(complaint, effects):
        return f"{said} The circuit shows that."
    return f"{said} The circuit entered here doesn't show it. {LOOK_AT[complaint]}"
