"""What people complain of, and which effects of a design would be just that."""

from __future__ import annotations

from collections.abc import Callable, Iterable, Mapping

from electrics.correct.effects import Effect
from electrics.document.vehicle import FlasherKind
from electrics.reference.functions import kind_of
from electrics.vocabulary import Function

__all__ = ["CANNOT", "COMPLAINTS", "concerns", "shown_by"]

SLOWEST, FASTEST = 60.0, 120.0
"""Legal flash rate (SAE J590, UN R48) [/min]."""
LIGHTS = (
    "wrong_road",
    "factory_lamp",
    "back_feed",
    "test_pulse_glow",
    "ghost_glow",
    "lit_amiss",
    "never_dark",
    "pulses_filled",
)

DARK = (
    "blown_fuse",
    "shut_off",
    "given_up",
    "turned_round",
    "coil_open",
    "factory_lamp",
    "dark_amiss",
    "dark_by_fault",
)

COMPLAINTS: Mapping[str, Callable[[Effect], bool]] = {
    "fast_flash": lambda effect: effect.rule == "flash_rate" and effect.finding.value > FASTEST,
    "slow_flash": lambda effect: effect.rule == "flash_rate" and effect.finding.value < SLOWEST,
    "warning": lambda effect: effect.rule in ("outage_warning", "overload_warning", "given_up", "shut_off"),
    "wrong_lamp": lambda effect: effect.rule in LIGHTS,
    "dash": lambda effect: effect.rule in LIGHTS,
    "glow": lambda effect: effect.rule in LIGHTS,
    "dead": lambda effect: effect.rule in DARK or (effect.rule == "flash_rate" and effect.finding.value < 1),
}
"""By id: whether an effect is what is complained of."""


FLASHING = ("fast_flash", "slow_flash", "dash")
"""What only circuits that flash can have to do with."""


def concerns(complaint: str, functions: Iterable[Function]) -> bool:
    """Whether a lead that wants some functions can have to do with a complaint."""
    return complaint not in FLASHING or any(kind_of(function).flashes_with for function in functions)


def shown_by(complaint: str, effects: Iterable[Effect]) -> tuple[Effect, ...]:
    """The effects that are what is complained of; KeyError for no complaint of ours."""
    return tuple(effect for effect in effects if COMPLAINTS[complaint](effect))


CANNOT: frozenset[tuple[str, FlasherKind | None]] = frozenset(
    {
        ("fast_flash", FlasherKind.FIXED),
        ("slow_flash", FlasherKind.FIXED),
        ("fast_flash", FlasherKind.BIMETAL),
        ("slow_flash", FlasherKind.ELECTRONIC),
    }
)
"""What is complained of and what flashes the lamps, where the two contradict each other (common practice)."""
