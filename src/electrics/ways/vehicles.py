"""The vehicle that hook-ups are tried on: its circuit as far as its wires are identified."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, field, replace
from functools import lru_cache

from electrics.document.vehicle import VehicleFacts
from electrics.lighting.vehicle import FactoryCircuit, Lamps, VehicleDescription, factory_circuit
from electrics.reference.functions import Tap, kind_of
from electrics.reference.usual import running_v
from electrics.signals import DROPS, GROUND_SWITCHED, Scenario, daytime_of
from electrics.vocabulary import Function

__all__ = ["KnownVehicle", "node_of", "vehicle_with"]

PLAIN_12_V = VehicleFacts()


@dataclass(frozen=True)
class KnownVehicle:
    """A vehicle as far as it is known: what was identified on it, what is said of it, the variants it may be of.

    Attributes
    ----------
    found : frozenset of (Function, str)
        The circuits that were identified, each with its variant.
    scenarios : tuple of Scenario
        The variants that it may be of, the likeliest first.
    facts : VehicleFacts
    counted : tuple of (Function, str, int)
        Bulbs that somebody counted on a circuit, by name and number.
    fuses : tuple of (Function, float)
        Ratings that somebody read off a circuit's fuse [A].
    tow : tuple of (Function, str)
        What a module feeds at the tow socket, each in its variant.
    volts : float or None
        Of the supply, key off and engine on [V]; None for the voltage that loads are judged at.
    """

    found: frozenset[tuple[Function, str]]
    scenarios: tuple[Scenario, ...]
    facts: VehicleFacts = field(default_factory=VehicleFacts)
    counted: tuple[tuple[Function, str, int], ...] = ()
    fuses: tuple[tuple[Function, float], ...] = ()
    tow: tuple[tuple[Function, str], ...] = ()
    volts: float | None = None

    @property
    def system_v(self) -> int:
        return self.facts.system_v

    def factories(self) -> tuple[FactoryCircuit, ...]:
        """The circuit that the factory built, in each variant, the likeliest first."""
        return _factories(self)


@lru_cache(maxsize=64)
def _factories(known: KnownVehicle) -> tuple[FactoryCircuit, ...]:
    return tuple(
        vehicle_with(
            known.found,
            scenario,
            known.facts,
            counted=known.counted,
            fuses=known.fuses,
            tow=known.tow,
            volts=known.volts,
        )
        for scenario in known.scenarios
    )


@lru_cache(maxsize=64)
def vehicle_with(
    functions: frozenset[tuple[Function, str]],
    scenario: Scenario,
    facts: VehicleFacts = PLAIN_12_V,
    *,
    counted: tuple[tuple[Function, str, int], ...] = (),
    fuses: tuple[tuple[Function, float], ...] = (),
    tow: tuple[tuple[Function, str], ...] = (),
    volts: float | None = None,
) -> FactoryCircuit:
    """A vehicle whose circuit has these functions in these variants, at the voltage that loads are judged at.

    Parameters
    ----------
    functions : frozenset of (Function, str)
        What was identified, with its variant.
    scenario : Scenario
    facts : VehicleFacts
    counted : tuple of (Function, str, int)
        Bulbs that somebody counted on a circuit, by name and number.
    fuses : tuple of (Function, float)
        Ratings that somebody read off a circuit's fuse [A].
    tow : tuple of (Function, str)
        What a module feeds at the tow socket, each in its variant.
    volts : float, optional
        Of the supply, engine on or off, in place of the voltage that loads are judged at [V].

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
    vehicle = VehicleDescription(
        system_v=facts.system_v,
        resting_v=volts or running_v(facts.system_v),
        charging_v=volts,
        scenario=scenario,
        flasher=facts.usual_flasher,
        counts_bulbs=facts.counts_bulbs,
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
        pilot=facts.pilot,
        idle=facts.idle,
        habits=facts.habits,
        fuses=fuses,
        tow=tow,
    )
    factory = factory_circuit(vehicle)
    tappable = (each for each in functions if kind_of(each[0]).tap is not Tap.NEVER)
    extras = tuple(sorted(each for each in tappable if not node_of(factory, *each)))
    return factory_circuit(replace(vehicle, extras=extras)) if extras else factory


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
