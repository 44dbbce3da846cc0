"""The vehicle that ways are tried on: its circuit as far as its wires were identified."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import replace
from functools import lru_cache

from electrics.hookup.load import running_v
from electrics.lighting.vehicle import FactoryCircuit, FlasherKind, Idle, Lamps, Vehicle, factory_circuit
from electrics.reference.functions import Tap, kind_of
from electrics.signals import DROPS, GROUND_SWITCHED, Scenario, daytime_of
from electrics.vocabulary import Function

__all__ = ["node_of", "vehicle_with", "vehicles_with"]


@lru_cache(maxsize=64)
def vehicle_with(
    functions: frozenset[tuple[Function, str]],
    scenario: Scenario,
    *,
    system_v: int = 12,
    has_computer: bool = False,
    counted: tuple[tuple[Function, str, int], ...] = (),
    flasher: FlasherKind | None = None,
    volts: float | None = None,
    pilot: str = "",
    idle: Idle = Idle.DARK,
    habits: tuple[tuple[str, float], ...] = (),
) -> FactoryCircuit:
    """A vehicle whose circuit has these functions in these variants, at the voltage that loads are judged at.

    Parameters
    ----------
    functions : frozenset of (Function, str)
        What was identified, with its variant.
    scenario : Scenario
    system_v : int
        6, 12 or 24 [V].
    has_computer : bool
        Whether a computer flashes and counts the lamps.
    counted : tuple of (Function, str, int)
        Bulbs that somebody counted on a circuit, by name and number.
    flasher : FlasherKind, optional
        What flashes the turn lamps; a computer where there is one, else a load-sensing flasher.
    volts : float, optional
        Of the supply, engine on or off, in place of the voltage that loads are judged at [V].
    pilot : str
        Turn pilots of the dash: `one` between the sides, `two`, or empty.
    idle : Idle
        What the outputs of a computer do while they are off.
    habits : tuple of (str, float)
        How it watches its lamps, as far as somebody stated it.

    Returns
    -------
    FactoryCircuit
    """
    names = {function for function, _ in functions}
    dropping = [each for each in sorted(functions) if each[0] is Function.DRL and DROPS in each[1]]
    drl = daytime_of(dropping or sorted(functions))
    one_wire = any(function.startswith("tail_stop") for function in names)
    pulsed = (Function.TAIL, "pulsed") in functions
    apart = bool(names & {Function.TAIL_LEFT, Function.TAIL_RIGHT}) and not pulsed and Function.TAIL not in names
    vehicle = Vehicle(
        system_v=system_v,
        resting_v=volts or running_v(system_v),
        charging_v=volts,
        scenario=scenario,
        flasher=flasher or (FlasherKind.COMPUTER if has_computer else FlasherKind.ELECTRONIC),
        counts_bulbs=has_computer,
        one_wire=one_wire,
        pulsed_tail=pulsed and not one_wire,
        sides_apart=apart and not one_wire,
        drl=f"{drl}_drops" if dropping else drl,
        low_stays=(Function.LOW_BEAM, "stays") in functions,
        has_fogs=bool(names & {Function.FOG_FRONT, Function.FOG_REAR}),
        has_trailer_socket=Function.BRAKE_CONTROLLER in names,
        ground_switched_stop=(Function.STOP, GROUND_SWITCHED) in functions,
        rear=Lamps.FILAMENT,
        in_pairs=True,
        bulbs=counted,
        pilot=pilot,
        idle=idle,
        habits=habits,
    )
    factory = factory_circuit(vehicle)
    tappable = (each for each in functions if kind_of(each[0]).tap is not Tap.NEVER)
    extras = tuple(sorted(each for each in tappable if not node_of(factory, *each)))
    return factory_circuit(replace(vehicle, extras=extras)) if extras else factory


def vehicles_with(
    functions: frozenset[tuple[Function, str]],
    scenarios: Sequence[Scenario],
    *,
    system_v: int = 12,
    has_computer: bool = False,
    counted: tuple[tuple[Function, str, int], ...] = (),
    flasher: FlasherKind | None = None,
    volts: float | None = None,
    pilot: str = "",
    idle: Idle = Idle.DARK,
    habits: tuple[tuple[str, float], ...] = (),
) -> tuple[FactoryCircuit, ...]:
    """The same in each variant that a vehicle may be of; see `vehicle_with`, `system_v` and `volts` in [V]."""
    return tuple(
        vehicle_with(
            functions,
            scenario,
            system_v=system_v,
            has_computer=has_computer,
            counted=counted,
            flasher=flasher,
            volts=volts,
            pilot=pilot,
            idle=idle,
            habits=habits,
        )
        for scenario in scenarios
    )


def node_of(factory: FactoryCircuit, function: Function, variant: str = "", places: Sequence[str] = ()) -> str:
    """The first point of the vehicle's circuit with this function (and variant); empty where it has none.

    Points at `places` (`rear left`) go before others.
    """
    found = [
        (place, spot.node)
        for place, spot in factory.spots.items()
        if spot.function is function and variant in ("", spot.variant)
    ]
    found.sort(key=lambda each: each[0].partition(":")[0] not in places)
    return next((node for _, node in found), "")
