"""How a vehicle watches its lamps, and how warm it gets there, in words and in the units that people use."""

from __future__ import annotations

from dataclasses import dataclass

__all__ = ["HABITS", "HabitWords"]


@dataclass(frozen=True)
class HabitWords:
    """A habit as people speak of it.

    Attributes
    ----------
    label, unit : str
        `Bulb reads as out below, % of normal current`, `%`.
    sentence : str
        With a place for the value.
    factor : float
        From the value that is kept to the one that is shown [-].
    """

    label: str
    unit: str
    sentence: str
    factor: float = 1.0

    def shown(self, value: float) -> str:
        """A value as it is typed: `50`."""
        return f"{round(self.factor * value, 2):g}"

    def told(self, value: float) -> str:
        """A value with its unit: `50 %`."""
        return f"{self.shown(value)} {self.unit}"


HABITS = {
    "warns_share": HabitWords(
        "Bulb reads as out below, % of normal current",
        "%",
        "A bulb reads as out below {} of its normal current",
        100.0,
    ),
    "most_share": HabitWords(
        "Too much load above, % of a full set's current",
        "%",
        "An output warns above {} of a full set's current",
        100.0,
    ),
    "watches_all": HabitWords(
        "Lamps that the computer watches", "", "We assume the computer monitors turn lamps only"
    ),
    "leak_ohm": HabitWords(
        "Pull-up resistor of an output that is off", "Ω", "An output that is off is pulled up through {}"
    ),
    "test_ms": HabitWords("A test pulse with everything off lasts", "ms", "A test pulse lasts {}"),
    "test_hz": HabitWords("Test pulses in a second", "/s", "Test pulses come at {}"),
    "air_c": HabitWords("Warmest air around a load resistor", "°C", "The air around hot parts is at {}"),
    "tow_side_a": HabitWords("Tow module limit, each side", "A", "The tow socket's module carries {} each side"),
    "tow_tail_a": HabitWords(
        "Tow module limit, all tail lamps", "A", "The tow socket's module carries {} for tail lamps"
    ),
}
"""By the id of the habit."""
