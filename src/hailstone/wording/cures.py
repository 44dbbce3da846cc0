"""Names of fixes, and why one is refused."""

from __future__ import annotations

__all__ = ["CURE_NAMES", "REFUSALS", "REFUSAL_WORDS"]

CURE_NAMES = {
    "flasher": "Load-independent flasher",
    "plug_turned": "Plug or bulb turned around",
    "load_resistor": "Load resistor",
    "stop_resistor": "Load resistor on the stop feed",
    "tail_resistor": "Load resistor on the tail feed",
    "series_resistor": "Resistor in series",
    "decoder": "Decoder",
    "diode": "Blocking diode",
    "diode_or": "A diode for each source",
    "pilot_diodes": "Two diodes at the dash turn light",
    "ghost_resistor": "Resistor across the lamp",
    "module": "Battery-powered module",
    "relay": "Relay from the battery",
    "other_way": "Another hook-up",
    "better_ground": "Another ground",
    "thicker_wire": "Thicker wire",
    "joint_again": "Connection made again",
    "separate_bulb": "Separate bulb on its own wires",
    "other_bulb": "Filament bulb back in its socket",
    "coding": "Code the computer for LED lamps",
}

REFUSALS = {
    "no_flasher": "There's no flasher to change: the computer does the flashing. Use a load resistor or have the "
    "computer coded.",
    "flasher_tows": "A trailer has no flasher: the towing vehicle flashes its lamps. Fix it there.",
    "in_series": "Never in series: the lamp dims and the flasher or computer sees even less load. Put a load "
    "resistor across feed and ground.",
    "free_air": "Never leave it hanging in free air: flashing hazards heat it past 200 °C, braking sooner. Bolt it "
    "to bare metal.",
    "too_hot": "It would reach {value}; {limit} is the most it survives. Use bare metal, a bigger case, or another "
    "fix.",
    "paint_too_hot": "It would reach {value} on a painted mount; paint stands {limit}. Grind it bare, or mount it "
    "elsewhere.",
    "bright_as_stop": "Never on a pulsed feed: the capacitor fills the gaps, and tail looks like stop.",
    "diode_on_pulses": "Never put plain diodes on a pulsed feed. Use a battery-powered module rated for pulsed "
    "inputs.",
    "diode_too_small": "The diode is rated {value}; this lead needs {limit}. Use a bigger one.",
    "diode_breaks_down": "The diode is rated {value} in reverse; surges here need {limit}. Use a higher voltage.",
    "not_sold": "Nobody sells {value} load resistors. Use one from the shelf or of E12 or E24.",
    "no_computer": "There's no computer to code.",
    "full_pulses": "No resistor helps: the test pulses are full battery voltage. Use a decoder or have it coded.",
}
"""Why a fix that is proposed or used must not be fitted; figures come from the finding."""

WHY_NONE = {
    "no_window": "No value works: enough load for the flasher is too much for the fuse. Change the flasher, or have "
    "the computer coded.",
    "not_in_stock": "None of the resistors in stock works. Shop defaults lists them.",
    "no_diode": "No listed diode carries this current. Split the load, or use a relay.",
}
"""Why there is nothing to propose."""

REFUSAL_WORDS = {
    **REFUSALS,
    **WHY_NONE,
    "too_hot": "No case survives it on this mount. Use bare metal, or change the flasher.",
    "paint_too_hot": "Every case gets too hot for paint. Grind it bare, or mount it elsewhere.",
    "diode_too_small": WHY_NONE["no_diode"],
    "diode_breaks_down": WHY_NONE["no_diode"],
}
"""The same beside a proposal, for which every value was tried."""
