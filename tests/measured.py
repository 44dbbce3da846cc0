"""A vehicle's circuits measured out: a whole grid as the instruments read its solved circuit."""

from __future__ import annotations

from functools import cache

from django.utils import timezone

from electrics.document.places import Setup
from electrics.instruments.every import meter_for
from electrics.instruments.meter import Probe
from electrics.lighting.vehicle import VehicleDescription, factory_circuit
from electrics.prove.sheet import Outcome
from electrics.vocabulary import Function, Instrument, Load, parse_state
from hailstone.identify.models import Reading
from hailstone.identify.services import add_point
from hailstone.layers.places import SaidPlace, SaidWire
from hailstone.layers.versions import touch
from hailstone.prove.services import record

F = Function
SEPARATE = (F.GROUND, F.TAIL, F.STOP, F.TURN_LEFT, F.TURN_RIGHT, F.REVERSE)
COMBINED = (F.GROUND, F.TAIL, F.STOP, F.STOP_TURN_LEFT, F.STOP_TURN_RIGHT, F.REVERSE)
STATES = (
    *("rest", "park", "brake", "left", "right", "hazard", "reverse", "low", "key"),
    *("brake+left", "brake+right", "park+left", "brake+hazard", "park_left", "park_right", "brake+reverse"),
)


def keep(rows, supply_v, who):
    """Store readings `(pin, setup, text)` as if they had been typed, in one go."""
    Reading.objects.bulk_create(
        Reading(
            pin=pin,
            state=str(setup.state),
            instrument=str(setup.instrument),
            load=str(setup.load),
            text=text,
            supply_v=supply_v,
            taken_by=who,
            taken_at=timezone.now(),
        )
        for pin, setup, text in rows
    )
    touch(rows[0][0].point.job_id, who)


@cache
def _read(functions, scenario, scale, states):
    """Each function's volts in every state and its ohms at rest, as they are written down."""
    extras = ((F.DRL, scenario.drl or "key"),) if F.DRL in functions else ()
    found = factory_circuit(VehicleDescription(system_v=12 * scale, scenario=scenario, extras=extras))
    nodes = {spot.function: spot.node for spot in reversed(found.spots.values())}
    volts, ohms = {}, {}
    for function in functions:
        probe = Probe(found.network, nodes[function])
        volts[function] = [str(reading) for reading in meter_for(Instrument.DMM).read(probe, states)]
        (ohms[function],) = map(str, meter_for(Instrument.OHMS).read(probe, ["rest"]))
    return volts, ohms


def measured(job, who, functions, scenario, scale, more=()):
    """A whole grid as a meter would show it."""
    states = tuple(map(parse_state, (*STATES, *more)))
    volts, ohms = _read(functions, scenario, scale, states)
    wires = [SaidWire(str(n), "") for n, _ in enumerate(functions, start=1)]
    point = add_point(job, SaidPlace("loom", "connector", "", wires), who)
    pins = {pin.label: pin for pin in point.pins.all()}
    rows = []
    for n, function in enumerate(functions, start=1):
        for state, shown in zip(states, volts[function], strict=True):
            rows.append((pins[str(n)], Setup(state, Instrument.DMM, Load.IN), shown))
        load = Load.OUT if function is F.GROUND else Load.IN
        rows.append((pins[str(n)], Setup(parse_state("rest"), Instrument.OHMS, load), ohms[function]))
    keep(rows, 12.6 * scale, who)


def all_pass(job, lines, who):
    """Pass lines as a person would who finds everything right: those of one unit together."""
    readings = {"V": "0.05 V", "/min": "90 /min"}
    units = {line.key: line.measure.unit if line.measure and line.measure.instrument else "" for line in lines}
    for unit in dict.fromkeys(units.values()):
        alike = [line for line in lines if units[line.key] == unit]
        record(job, alike, Outcome.PASS, who, reading=readings.get(unit, ""))
