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
    "fast_flash": "Pull one bulb of each side and count: a side that does not change has the lamp that is taken "
    "for dead.",
    "slow_flash": "Measure the flasher's supply while it flashes, then count the bulbs on it against its label.",
    "warning": "Clamp the feed with the lamp on, and put the old bulb back. If the warning stays, cycle the key.",
    "wrong_lamp": "Volts at the lamp that must be dark, then pull the lamps of its own ground one by one: a bad "
    "ground glows through its neighbours.",
    "dash": "Look whether one pilot lamp lies between left and right: with LED lamps current goes through it.",
    "glow": "Volts at the lamp with everything off: some volts that fall to nothing under a test lamp are leakage, "
    "short pulses are the computer's test.",
    "dead": "Feed pin and ground pin with the state on: 0 and 0 is the feed, battery and battery the ground, "
    "battery and 0 the lamp itself, or an LED turned round.",
}
"""What to measure where the circuit does not show it (common practice)."""


CANNOT: Mapping[tuple[str, FlasherKind | None], str] = {
    ("fast_flash", FlasherKind.FIXED): "A fixed-rate flasher can't do that. Check which flasher it is.",
    ("slow_flash", FlasherKind.FIXED): "A fixed-rate flasher can't do that. Check which flasher it is.",
    (
        "fast_flash",
        FlasherKind.BIMETAL,
    ): "A bimetal flasher slows or stays lit with too little load, and hurries only "
    "with a bulb too many. Check which flasher it is.",
    (
        "slow_flash",
        FlasherKind.ELECTRONIC,
    ): "A load-sensing flasher hurries, it doesn't slow. Check which flasher it is.",
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
